"""Kiln Book: a potter's book of firings, as an app of the stand-in phones and as a web page."""

from .app import KilnBook

__all__ = ["KilnBook"]
