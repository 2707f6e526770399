"""Why a phone does not take a package, and what can be done: by the words that Android's package manager answers with."""

from __future__ import annotations

ADVICE = {
    "INSUFFICIENT_STORAGE": "Free some room on the phone.",
    "UPDATE_INCOMPATIBLE": "The app that is there was signed by somebody else: uninstall it first, which deletes its data.",
    "VERSION_DOWNGRADE": "A newer build is there: uninstall it first, which deletes its data.",
    "OLDER_SDK": "The app asks for a newer release of Android.",
    "NO_MATCHING_ABIS": "The package is built for another kind of processor.",
    "NOT_APK": "The file is no package for Android.",
    "USER_RESTRICTED": "Allow installing over USB in the phone's developer options, and confirm on its screen.",
    "VERIFICATION": "The phone checks packages that come over USB: turn that off in its developer options.",
    "TEST_ONLY": "The package was built for tests only.",
    "MISSING_SPLIT": "The package is one part of several: build one that holds all.",
}


def what_to_do(said: str) -> str:
    """What can be done about an answer of the package manager, with a blank before it; empty where nothing is known."""
    return next((f" {advice}" for code, advice in ADVICE.items() if code in said), "")
