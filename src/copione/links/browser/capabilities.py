"""What a session is asked for, so that a browser is the device that is wanted: private, of its size, nothing of the user in it."""

from __future__ import annotations

import os
from typing import Any

from .engines import Installed
from .kept import BrowserSpec

LETTERS_PX = 16  # of a page's letters, as usual


def capabilities(wanted: BrowserSpec, found: Installed) -> dict[str, Any]:
    """For W3C *New Session*. Dialogs of the page are left open, and a page that loads is not waited for: both are watched."""
    asked: dict[str, Any] = {"unhandledPromptBehavior": "ignore", "pageLoadStrategy": "none"}
    if wanted.engine == "webkit":
        letters = [f"--default-font-size={round(LETTERS_PX * wanted.text)}"] if wanted.text != 1.0 else []
        arguments = ["--automation", *letters, *(["--dark-mode"] if wanted.dark else [])]
        return asked | {"webkitgtk:browserOptions": {"binary": found.browser, "args": arguments}}
    arguments = [
        *(["--no-sandbox"] if os.geteuid() == 0 else []),  # it does not start as root with one
        "--disable-gpu",
        "--hide-scrollbars",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-dev-shm-usage",
        f"--lang={wanted.language}",
        *([] if wanted.shown else ["--headless=new"]),
    ]
    preferences = {
        "intl": {"accept_languages": ",".join(dict.fromkeys((wanted.language, wanted.language.split("-")[0])))},
        "webkit": {"webprefs": {"default_font_size": round(LETTERS_PX * wanted.text)}},
        "credentials_enable_service": False,
        "translate": {"enabled": False},
    }
    metrics = {
        "width": wanted.width,
        "height": wanted.height,
        "pixelRatio": wanted.density,
        "touch": wanted.touch,
        "mobile": True,
    }
    return asked | {
        "goog:chromeOptions": {
            "binary": found.browser,
            "args": arguments,
            "prefs": preferences,
            "mobileEmulation": {"deviceMetrics": metrics},
        },
        "goog:loggingPrefs": {"browser": "ALL"},
    }
