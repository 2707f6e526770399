"""The command line. Exit codes: 0 all held or adapted, 1 could not run, 2 used wrongly, 3 outcomes differ or are stuck."""

from .main import main

__all__ = ["main"]
