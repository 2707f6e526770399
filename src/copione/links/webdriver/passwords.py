"""Passwords of remote ends: in the desktop's keyring, else in a file that only its owner may read. Never in an address or in settings."""

from __future__ import annotations

import contextlib
import json
import logging
import os
from pathlib import Path

from ...files.reading import FileKind, read_bytes
from ...files.writing import write_whole
from ...model.errors import FileTrouble

LOG = logging.getLogger(__name__)
SERVICE = "copione"


def _file() -> Path:
    from platformdirs import user_state_path

    return user_state_path("copione") / "passwords.json"


def keep(url: str, user: str, password: str) -> str:
    """Keep a password, in place of what was kept; an empty one is forgotten. Returns where it is kept, for people. Raises FileTrouble."""
    import keyring
    from keyring.errors import KeyringError

    key = f"{user} at {url}"
    with contextlib.suppress(KeyringError, RuntimeError):
        if password:
            keyring.set_password(SERVICE, key, password)
        elif keyring.get_password(SERVICE, key) is not None:
            keyring.delete_password(SERVICE, key)
        _change(key, "")
        return "the desktop's keyring"
    _change(key, password)
    return str(_file())


def password_of(url: str, user: str) -> str:
    """The password that is kept; empty where there is none. Raises FileTrouble."""
    import keyring
    from keyring.errors import KeyringError

    key = f"{user} at {url}"
    with contextlib.suppress(KeyringError, RuntimeError):
        found = keyring.get_password(SERVICE, key)
        if found:
            return found
    return _kept().get(key, "")


def _kept() -> dict[str, str]:
    path = _file()
    if not path.exists():
        return {}
    if path.stat().st_mode & 0o077:
        raise FileTrouble(f"{path} can be read by others: `chmod 600` it, and change the passwords in it.", path=path)
    try:
        found = json.loads(read_bytes(path, FileKind.SETTINGS))
    except ValueError as error:
        raise FileTrouble(f"{path} is damaged: delete it, and give the passwords again.", path=path) from error
    return {str(key): str(value) for key, value in found.items()} if isinstance(found, dict) else {}


def _change(key: str, password: str) -> None:
    path, kept = _file(), _kept()
    after = {name: value for name, value in kept.items() if name != key} | ({key: password} if password else {})
    if after == kept:
        return
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    if not path.exists():
        os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600))
    write_whole(path, json.dumps(after).encode())
