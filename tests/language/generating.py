"""Scripts made up at random from the types of what they hold: every action, relation and fact, with any words."""

from __future__ import annotations

import random
import types
from dataclasses import fields
from enum import Enum
from typing import Any, Union, get_args, get_origin, get_type_hints

from copione.language.registry import kinds_of
from copione.model import action as a
from copione.model import fact as f
from copione.model import relation as r
from copione.model.condition import Condition
from copione.model.geometry import Box
from copione.model.roles import ROLES
from copione.model.step import Need, Scene, Script, Step
from copione.model.target import AREA, Naming, Target
from copione.model.words import InvalidValue

WORDS = (
    "Hive 7",
    "Brood frames",
    'say "hm"',
    "a \\ b",
    "{hive}",
    "{frames + 1}",
    "{today + 7 days} or so",
    "two\nlines",
    "ü# no comment",
    "6",
    "",
)
APPS = ("contacts", "hive-diary", "afresh-app", "within2", "from", "of")
NAMES = ("hive", "frames", "note_2", "x")


class Maker:
    """`InvalidValue` values are made again."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)

    def script(self) -> Script:
        """A whole script; blocks are closed."""
        pick = self.chance
        return Script(
            name=pick.choice(WORDS[:4]),
            app=pick.choice(("", "hive-diary")),
            patience=pick.choice((8.0, 2.5, 0.0)),
            data=pick.choice(("", "hives.csv")),
            scenes=tuple(self.scene() for _ in range(pick.randrange(1, 3))),
            uses=tuple(pick.sample(("common.copione", "more.copione"), pick.randrange(3))),
            covers=tuple(pick.sample(("HD-112", "HD-113"), pick.randrange(3))),
            needs=tuple(
                Need(name, pick.choice((None, "Hive 17", "6", "")), False) if pick.random() < 0.7 else Need(name, None, True)
                for name in pick.sample(NAMES, pick.randrange(3))
            ),
        )

    def scene(self) -> Scene:
        """A scene with blocks in blocks."""
        values = tuple(self.chance.sample(NAMES, self.chance.choice((0, 0, 2))))
        return Scene(self.chance.choice(WORDS[:4]), tuple(self.steps(0)), values)

    def steps(self, depth: int) -> list[Step]:
        """Some steps, those of blocks among them."""
        found: list[Step] = []
        for _ in range(self.chance.randrange(0, 4)):
            step = self.step(self.chance.choice(kinds_of(a.Action)))
            if isinstance(step.action, a.Otherwise | a.End):
                continue
            found.append(step)
            if isinstance(step.action, a.Opening):
                found += self.steps(depth + 1) if depth < 3 else []
                if isinstance(step.action, a.When | a.WhenValue | a.WhenDevice) and self.chance.random() < 0.4:
                    found += [Step(a.Otherwise()), *(self.steps(depth + 1) if depth < 3 else [])]
                found.append(Step(a.End()))
        return found

    def step(self, kind: type[a.Action]) -> Step:
        """A step of that kind."""
        acts = kind not in (a.Otherwise, a.End)
        within = self.chance.choice((None, None, 3.0, 0.5)) if acts else None
        return Step(self.value(kind), within, place=acts and self.chance.random() < 0.1)

    def value(self, kind: Any) -> Any:
        """Something of a type, as the language can say it."""
        while True:
            try:
                return self._value(kind)
            except InvalidValue:
                continue

    def _value(self, kind: Any) -> Any:
        pick = self.chance
        if kind is Target:
            return self.target(2)
        if kind is r.Relation:
            return self.value(pick.choice(kinds_of(r.Relation)))
        if kind is f.Fact:
            return self.value(pick.choice(kinds_of(f.Fact)))
        if isinstance(kind, type) and issubclass(kind, Enum):
            return pick.choice([each for each in kind if each not in (Condition.ORIENTATION, Condition.AWAKE)])
        if get_origin(kind) in (Union, types.UnionType):
            return self._value(pick.choice(get_args(kind))) if pick.random() < 0.6 else None
        if kind is type(None):
            return None
        if kind in (int, float, bool):
            return {int: pick.randrange(0, 30), float: round(pick.uniform(-3, 40), pick.randrange(3)), bool: pick.random() < 0.5}[kind]
        if get_origin(kind) is tuple:
            return tuple(pick.choice(WORDS) for _ in range(pick.randrange(3)))
        hints = get_type_hints(kind)
        made = {field.name: self._field(kind, field.name, hints[field.name]) for field in fields(kind)}
        if kind is a.Switch:  # a switch without a role is one
            made["target"] = made["target"].called("switch")
        return kind(**made)

    def _field(self, kind: Any, name: str, hint: Any) -> Any:
        pick = self.chance
        special = {
            (a.Keep, "variable"): NAMES,
            (a.Draw, "path"): ("M .2 .2 L .8 .6",),
            (a.Have, "value"): ("on", "off", "slow", "1.3", "de"),
            (a.WhenValue, "value"): ("{hive}", "{frames + 1}"),
            (a.Repeat, "times"): ("3", "{frames}", "{frames + 1}"),
            (f.RunsPlatform, "platform"): ("android", "ios"),
            (f.RunsPlatform, "release"): ("12", "8.1"),
            (f.Speaks, "locale"): ("de", "pt-BR"),
            (r.IsDay, "day"): ("2026-02-28", "{today + 7 days}", "{visit}"),
            (r.Matches, "pattern"): ("^\\d{4}$", "a|{hive}"),
        }
        if (kind, name) in special:
            return pick.choice(special[kind, name])
        if hint is str and name == "app":
            return pick.choice(APPS if kind is a.SwitchTo else ("", *APPS))
        if hint is str:
            return pick.choice(("6", "-.5", "{frames}", "{frames - 2}")) if name == "amount" else pick.choice(WORDS)
        return self._value(hint)

    def target(self, depth: int) -> Target:
        """A target, perhaps in another."""
        pick = self.chance
        inside = self.target(depth - 1) if depth and pick.random() < 0.3 else None
        if inside is not None and pick.random() < 0.2:
            return Target(AREA, "", inside, part=Box(0.1, 0.2, 0.5, 1.0))
        under = pick.choice(("", "", "Hive 7"))
        return Target(pick.choice(("", *ROLES)), pick.choice(WORDS), inside, under, pick.choice([*Naming]))
