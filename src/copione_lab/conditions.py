"""What of a stand-in phone its user, or its shell, can turn."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass
class Conditions:
    """`app_locales` are the languages of apps that have one of their own; `free_to_turn`: does the screen turn with the phone?"""

    airplane: bool = False
    connected: dict[str, bool] = field(default_factory=lambda: {"wifi": True, "data": True})
    dark: bool = False
    saver: bool = False
    free_to_turn: bool = False
    stays_on: int = 0
    app_locales: dict[str, str] = field(default_factory=dict)

    @property
    def online(self) -> bool:
        """By any of its ways."""
        return not self.airplane and any(self.connected.values())
