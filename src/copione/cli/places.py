"""Where Copione keeps what is the user's, by the platform's custom (XDG on Linux)."""

from __future__ import annotations

from pathlib import Path


def demo_folder() -> Path:
    """The demo project, once it is made."""
    from platformdirs import user_documents_path

    return user_documents_path() / "Copione" / "hive-diary"


def log_file() -> Path:
    """The program's log."""
    from platformdirs import user_state_path

    return user_state_path("copione") / "copione.log"
