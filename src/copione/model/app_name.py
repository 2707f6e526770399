"""What an app is called, by its package: where the device itself tells no name."""

from __future__ import annotations

#: Last parts of packages that say what an app runs on or how it was built, and not which app it is.
GENERAL = frozenset({"android", "ios", "app", "apps", "mobile", "phone", "client", "main", "debug", "release", "dev", "beta", "prod"})


def telling_parts(package: str) -> list[str]:
    """The parts of a package up to the last that says which app it is; one at least."""
    parts = [part for part in package.split(".") if part] or ["app"]
    while len(parts) > 1 and parts[-1].casefold() in GENERAL:
        parts.pop()
    return parts


def app_name(package: str) -> str:
    """Words for an app: `org.example.hive_diary` is Hive diary."""
    words = telling_parts(package)[-1].replace("_", " ").replace("-", " ").strip()
    return words[:1].upper() + words[1:]
