"""What a step acts on, as the script words it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from .words import Text, Worded, text

AREA = "area"  # the role of a part of the picture


@dataclass(frozen=True)
class Target(Worded):
    """The element a step acts on: role and name, and where. An empty role means any that fits the verb."""

    role: str
    name: str = text(Text.NAME)
    inside: Target | None = None

    def words(self) -> str:
        """As the script says it; the key of its portraits."""
        own = f'{self.role} "{self.name}"' if self.role else f'"{self.name}"'
        return f"{own} in {self.inside.words()}" if self.inside else own

    def called(self, role: str) -> Target:
        """The same with that role, where it has none of its own."""
        return self if self.role else replace(self, role=role)
