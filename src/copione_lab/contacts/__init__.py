"""Contacts: a small app that the stand-in phones come with, so that a script has a second one to go to."""

from .app import Contacts

__all__ = ["Contacts"]
