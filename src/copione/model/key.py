"""The keys of a device."""

from __future__ import annotations

from enum import Enum


class Key(Enum):
    """A key: the value is the script's word for it, `standard` its `key` value in W3C UI Events. Each link knows its own code for it."""

    BACK = "back", "GoBack"
    HOME = "home", "GoHome"
    ENTER = "enter", "Enter"
    BACKSPACE = "backspace", "Backspace"
    DELETE = "delete", "Delete"
    END = "end", "End"  # moves the caret to the end of the whole text
    ESCAPE = "escape", "Escape"
    TAB = "tab", "Tab"
    LEFT = "arrow left", "ArrowLeft"
    RIGHT = "arrow right", "ArrowRight"
    UP = "arrow up", "ArrowUp"
    DOWN = "arrow down", "ArrowDown"
    VOLUME_UP = "volume up", "AudioVolumeUp"
    VOLUME_DOWN = "volume down", "AudioVolumeDown"
    APP_SWITCH = "app switch", "AppSwitch"
    POWER = "power", "Power"  # puts the screen out, or on again

    standard: str

    def __new__(cls, word: str, standard: str = "") -> Key:
        key = object.__new__(cls)
        key._value_, key.standard = word, standard
        return key
