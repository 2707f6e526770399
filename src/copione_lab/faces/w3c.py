"""Errors as the W3C WebDriver Recommendation words them, with their HTTP status."""

from __future__ import annotations

ERRORS = {
    "invalid argument": 400,
    "invalid selector": 400,
    "invalid session id": 404,
    "no such element": 404,
    "stale element reference": 404,
    "element not interactable": 400,
    "unknown command": 404,
    "unknown method": 405,
    "session not created": 500,
    "unknown error": 500,
}


class WireFault(Exception):
    """An error as the standard words it."""

    def __init__(self, error: str, message: str) -> None:
        super().__init__(message)
        self.error, self.message = error, message
