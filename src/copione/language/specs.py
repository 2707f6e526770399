"""The specs of all actions, relations and facts that come with the language; see `registry`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from ..model import action as a
from ..model import fact as f
from ..model import relation as r
from ..model.condition import Condition
from ..model.reading import State
from ..model.words import InvalidValue
from .quoting import number, quoted, target, typed, value
from .registry import CARET, Form, Origin, Spec, register, words_of


def _from(*origins: Origin) -> frozenset[Origin]:
    return frozenset(origins)


def _on_target(kind: type[Any], **more: Any) -> Spec:
    """An action that has a target and nothing else."""
    return Spec(kind, (Form(f'"{kind.verb}" target', kind),), lambda meant: f"{kind.verb} {target(meant.target)}", **more)


def _number(token: str) -> float:
    return float(token)


def _whole(token: str) -> int:
    if not float(token).is_integer():
        raise InvalidValue(f"{token} is not a whole number.", str(token), "a whole number")
    return int(float(token))


def _switch(meant: a.Switch) -> str:
    """A switch that is called one needs no role."""
    shown = replace(meant.target, role="") if meant.target.role == "switch" else meant.target
    return f"switch {'on' if meant.on else 'off'} {target(shown)}"


def _wait(meant: a.Wait) -> str:
    if isinstance(meant.relation, r.IsShown):
        return f"wait for {target(meant.target)}"
    return f"wait until {target(meant.target)} {words_of(meant.relation)}"


def _have(meant: a.Have) -> str:
    if meant.condition is Condition.LANGUAGE:
        return f"turn language to {quoted(meant.value)}"
    if meant.condition is Condition.TEXT_SIZE:
        return f"turn text size to {meant.value}"
    return f"turn {meant.condition.value} {meant.value}"


def _check(meant: a.Check) -> str:
    lasting = f" for {number(meant.lasting)} s" if meant.lasting is not None else ""
    return f"check {target(meant.target)} {words_of(meant.relation)}{lasting}"


def _several(values: Sequence[object]) -> tuple[str, ...]:
    return tuple(str(each) for each in values if each is not None)


def _perform(meant: a.Perform) -> str:
    values = f" with {' '.join(map(value, meant.values))}" if meant.values else ""
    return f"perform {quoted(meant.scene)}{values}"


def _looks(meant: r.LooksAsRecorded) -> str:
    if meant.tolerance is None:
        return "looks as recorded"
    return f"looks as recorded allowing {number(meant.tolerance.reach_dp)} dp {number(round(meant.tolerance.colour * 100, 9))} %"


def _tolerated(reach: str | None = None, colour: str | None = None) -> r.LooksAsRecorded:
    if reach is None or colour is None:
        return r.LooksAsRecorded()
    return r.LooksAsRecorded(r.Tolerance(_number(reach), _number(colour) / 100))


FINGERS = '["using" NUMBER "fingers"]'


def _count(token: str | None) -> int:
    """A whole number; one where the line gives none."""
    return _whole(token) if token is not None else 1


def _words(*parts: str) -> str:
    """Those parts of a line that are there."""
    return " ".join(filter(None, parts))


def _using(fingers: int) -> str:
    return f" using {fingers} fingers" if fingers != 1 else ""


register(
    Spec(
        a.Launch,
        (Form('"launch" [NAME] [START]', lambda app, start: a.Launch(a.Start(" ".join((start or "").split())), str(app or ""))),),
        lambda meant: _words("launch", meant.app, meant.start.value),
        origins=_from(Origin.BEGINNING),
    ),
    Spec(a.SwitchTo, (Form('"switch" "to" NAME', lambda app: a.SwitchTo(str(app))),), lambda meant: f"switch to {meant.app}"),
    Spec(a.Quit, (Form('"quit" [NAME]', lambda app: a.Quit(str(app or ""))),), lambda meant: _words("quit", meant.app)),
    Spec(
        a.Install,
        (Form('"install" [NAME "from"] value', lambda app, file: a.Install(str(file), str(app or ""))),),
        lambda meant: _words("install", meant.app and f"{meant.app} from", typed(meant.file)),
    ),
    Spec(a.Uninstall, (Form('"uninstall" [NAME]', lambda app: a.Uninstall(str(app or ""))),), lambda meant: _words("uninstall", meant.app)),
    Spec(
        a.ClearData,
        (Form('"clear" "data" ["of" NAME]', lambda app: a.ClearData(str(app or ""))),),
        lambda meant: _words("clear data", meant.app and f"of {meant.app}"),
    ),
    Spec(
        a.Tap,
        (Form(f'"tap" target [NUMBER "times"] {FINGERS}', lambda on, times, fingers: a.Tap(on, _count(times), _count(fingers))),),
        lambda meant: f"tap {target(meant.target)}" + (f" {meant.times} times" if meant.times != 1 else "") + _using(meant.fingers),
        origins=_from(Origin.GESTURE),
        may_be_idle=True,
    ),
    _on_target(a.DoubleTap, origins=_from(Origin.GESTURE), may_be_idle=True),
    Spec(
        a.Hold,
        (Form(f'"hold" target {FINGERS}', lambda on, fingers: a.Hold(on, _count(fingers))),),
        lambda meant: f"hold {target(meant.target)}{_using(meant.fingers)}",
        origins=_from(Origin.GESTURE),
        may_be_idle=True,
    ),
    Spec(
        a.Swipe,
        (Form('"swipe" DIRECTION "on" target', lambda way, on: a.Swipe(a.Direction(way), on)),),
        lambda meant: f"swipe {meant.direction.value} on {target(meant.target)}",
        origins=_from(Origin.GESTURE),
        may_be_idle=True,
    ),
    Spec(
        a.Fling,
        (Form('"fling" DIRECTION "on" target', lambda way, on: a.Fling(a.Direction(way), on)),),
        lambda meant: f"fling {meant.direction.value} on {target(meant.target)}",
        origins=_from(Origin.GESTURE),
        may_be_idle=True,
    ),
    Spec(
        a.DragTo,
        (Form('"drag" target PLACE target', lambda on, place, other: a.DragTo(on, a.Placement(place), other)),),
        lambda meant: f"drag {target(meant.target)} {meant.placement.value} {target(meant.other)}",
        origins=_from(Origin.GESTURE),
    ),
    Spec(
        a.DragBy,
        (
            Form(
                f'"drag" target "by" NUMBER NUMBER {FINGERS}',
                lambda on, dx, dy, fingers: a.DragBy(on, _number(dx), _number(dy), _count(fingers)),
            ),
        ),
        lambda meant: f"drag {target(meant.target)} by {number(meant.dx)} {number(meant.dy)}{_using(meant.fingers)}",
        origins=_from(Origin.GESTURE),
    ),
    Spec(
        a.Pinch,
        (Form('"pinch" target "by" NUMBER', lambda on, factor: a.Pinch(on, _number(factor))),),
        lambda meant: f"pinch {target(meant.target)} by {number(meant.factor)}",
        origins=_from(Origin.GESTURE),
    ),
    Spec(
        a.Twist,
        (Form('"twist" target "by" NUMBER', lambda on, degrees: a.Twist(on, _number(degrees))),),
        lambda meant: f"twist {target(meant.target)} by {number(meant.degrees)}",
        origins=_from(Origin.GESTURE),
    ),
    Spec(
        a.Draw,
        (Form('"draw" "on" target "path" STRING', lambda on, path: a.Draw(on, str(path))),),
        lambda meant: f"draw on {target(meant.target)} path {quoted(meant.path)}",
        origins=_from(Origin.GESTURE),
        roles=frozenset({"canvas"}),
    ),
    Spec(
        a.Type,
        (Form('"type" value "into" target', lambda words, on: a.Type(on, str(words))),),
        lambda meant: f"type {typed(meant.text)} into {target(meant.target)}",
        origins=_from(Origin.KEYS, Origin.GESTURE),
        roles=frozenset({"textbox"}),
    ),
    Spec(
        a.Append,
        (Form('"append" value "to" target', lambda words, on: a.Append(on, str(words))),),
        lambda meant: f"append {typed(meant.text)} to {target(meant.target)}",
        origins=_from(Origin.KEYS, Origin.GESTURE, Origin.MENU),
        roles=frozenset({"textbox"}),
    ),
    _on_target(a.Clear, roles=frozenset({"textbox"})),
    Spec(
        a.SetTo,
        (Form('"set" target "to" value', lambda on, amount: a.SetTo(on, str(amount))),),
        lambda meant: f"set {target(meant.target)} to {value(meant.amount)}",
        origins=_from(Origin.GESTURE),
        roles=frozenset({"slider", "spinbutton"}),
    ),
    Spec(
        a.Choose,
        (Form('"choose" STRING "in" target', lambda option, on: a.Choose(on, str(option))),),
        lambda meant: f"choose {quoted(meant.option)} in {target(meant.target)}",
        origins=_from(Origin.GESTURE),
        roles=frozenset({"radiogroup", "combobox"}),
    ),
    Spec(
        a.Switch,
        (Form('"switch" STATE target', lambda state, on: a.Switch(str(state) == "on", on.called("switch"))),),
        _switch,
        origins=_from(Origin.GESTURE),
        roles=frozenset({"switch", "checkbox"}),
    ),
    _on_target(a.Find, origins=_from(Origin.GESTURE)),
    Spec(
        a.Press,
        (Form('"press" KEY', lambda key: a.Press(a.Key(" ".join(key.split())))),),
        lambda meant: f"press {meant.key.value}",
        origins=_from(Origin.KEYS, Origin.GESTURE),
    ),
    Spec(a.HideKeyboard, (Form('"hide" "keyboard"', a.HideKeyboard),), lambda meant: "hide keyboard"),
    Spec(
        a.Turn,
        (Form('"turn" ORIENTATION', lambda way: a.Turn(a.Orientation(way))),),
        lambda meant: f"turn {meant.orientation.value}",
        origins=_from(Origin.KEYS),
    ),
    Spec(
        a.Have,
        (
            Form('"turn" "network" LINK_STATE', lambda state: a.Have(Condition.NETWORK, str(state))),
            Form('"turn" CONDITION_OF STATE', lambda of, state: a.Have(Condition(" ".join(of.split())), str(state))),
            Form('"turn" "text" "size" "to" NUMBER', lambda size: a.Have(Condition.TEXT_SIZE, Condition.TEXT_SIZE.checked(str(size)))),
            Form('"turn" "language" "to" STRING', lambda words: a.Have(Condition.LANGUAGE, str(words))),
        ),
        _have,
    ),
    Spec(
        a.Ring,
        (Form('"receive" "call" "from" STRING', lambda who: a.Ring(str(who))),),
        lambda meant: f"receive call from {quoted(meant.caller)}",
    ),
    Spec(
        a.Open,
        (Form('"open" value', lambda address: a.Open(str(address))),),
        lambda meant: f"open {typed(meant.address)}",
    ),
    Spec(a.Reload, (Form('"reload"', a.Reload),), lambda meant: "reload"),
    Spec(
        a.Wait,
        (Form('"wait" "for" target', lambda on: a.Wait(on, r.IsShown())), Form('"wait" "until" target relation', a.Wait)),
        _wait,
        origins=_from(Origin.MENU),
    ),
    Spec(
        a.Whenever,
        (Form('"whenever" target "tap" target', a.Whenever),),
        lambda meant: f"whenever {target(meant.target)} tap {target(meant.answer)}",
        origins=_from(Origin.SYSTEM),
    ),
    Spec(
        a.Pause,
        (Form('"pause" NUMBER "s"', lambda seconds: a.Pause(_number(seconds))),),
        lambda meant: f"pause {number(meant.seconds)} s",
        origins=_from(Origin.KEYS),
    ),
    Spec(
        a.Note,
        (Form('"note" STRING', lambda words: a.Note(str(words))),),
        lambda meant: f"note {quoted(meant.text)}",
        origins=_from(Origin.KEYS),
    ),
    Spec(
        a.Snap,
        (Form('"snap" STRING', lambda title: a.Snap(str(title))),),
        lambda meant: f"snap {quoted(meant.title)}",
        origins=_from(Origin.KEYS),
    ),
    Spec(
        a.Keep,
        (Form('"keep" target "as" VARIABLE', lambda on, name: a.Keep(on, str(name).strip("{}"))),),
        lambda meant: f"keep {target(meant.target)} as {{{meant.variable}}}",
        origins=_from(Origin.CHECKS),
    ),
    Spec(
        a.Check,
        (
            Form('"check" target relation', a.Check),
            Form('"check" target relation "for" NUMBER "s"', lambda on, what, lasting: a.Check(on, what, _number(lasting))),
        ),
        _check,
        origins=_from(Origin.CHECKS, Origin.MENU),
    ),
    Spec(
        a.Perform,
        (Form('"perform" STRING ["with" value+]', lambda scene, *values: a.Perform(str(scene), _several(values))),),
        _perform,
    ),
    Spec(
        a.When,
        (Form('"when" target relation', a.When),),
        lambda meant: f"when {target(meant.target)} {words_of(meant.relation)}",
        blocks={
            "when something is shown": f'when text "{CARET}" is shown\n    \nend',
            "when ... otherwise": f'when text "{CARET}" is shown\n    \notherwise\n    \nend',
        },
    ),
    Spec(
        a.WhenValue,
        (Form('"when" sum relation', lambda words, relation: a.WhenValue(relation, str(words))),),
        lambda meant: f"when {value(meant.value)} {words_of(meant.relation)}",
    ),
    Spec(
        a.WhenDevice,
        (Form('"when" "device" fact', a.WhenDevice),),
        lambda meant: f"when device {words_of(meant.fact)}",
        blocks={"when the device is": f"when device {CARET}\n    \nend"},
    ),
    Spec(
        a.Repeat,
        (Form('"repeat" (NUMBER | sum) "times"', lambda times: a.Repeat(str(times))),),
        lambda meant: f"repeat {value(meant.times)} times",
        blocks={"repeat so often": f"repeat {CARET}2 times\n    \nend"},
    ),
    Spec(
        a.RepeatUntil,
        (
            Form(
                '"repeat" "until" target relation "at" "most" NUMBER "times"',
                lambda on, what, most: a.RepeatUntil(on, what, _whole(most)),
            ),
        ),
        lambda meant: f"repeat until {target(meant.target)} {words_of(meant.relation)} at most {meant.most} times",
        blocks={"repeat until": f'repeat until text "{CARET}" is shown at most 20 times\n    \nend'},
    ),
    Spec(
        a.ForEach,
        (Form('"for" "each" "row" "of" STRING', lambda table: a.ForEach(str(table))),),
        lambda meant: f"for each row of {quoted(meant.table)}",
        blocks={"for each row of a table": f'for each row of "{CARET}"\n    \nend'},
    ),
    Spec(a.Otherwise, (Form('"otherwise"', a.Otherwise),), lambda meant: "otherwise"),
    Spec(a.End, (Form('"end"', a.End),), lambda meant: "end"),
)

register(
    Spec(r.IsShown, (Form('"is" "shown"', r.IsShown),), lambda meant: "is shown", samples=(r.IsShown(),)),
    Spec(r.IsNotShown, (Form('"is" "not" "shown"', r.IsNotShown),), lambda meant: "is not shown", samples=(r.IsNotShown(),)),
    Spec(
        r.IsState,
        (
            Form('"is" STATE', lambda state: r.IsState(State(state))),
            Form('"is" CONDITION', lambda state: r.IsState(State(state))),
        ),
        lambda meant: f"is {meant.state.value}",
        samples=tuple(r.IsState(s) for s in (State.ON, State.OFF, State.ENABLED, State.DISABLED, State.SELECTED)),
    ),
    Spec(
        r.Reads,
        (Form('"reads" value', lambda words: r.Reads(str(words))),),
        lambda meant: f"reads {value(meant.text)}",
        samples=(r.Reads(CARET),),
    ),
    Spec(
        r.ReadsLike,
        (Form('"reads" "like" value', lambda words: r.ReadsLike(str(words))),),
        lambda meant: f"reads like {value(meant.text)}",
        samples=(r.ReadsLike(f"* {CARET}"),),
    ),
    Spec(
        r.Contains,
        (Form('"contains" value', lambda words: r.Contains(str(words))),),
        lambda meant: f"contains {value(meant.text)}",
        samples=(r.Contains(CARET),),
    ),
    Spec(
        r.Matches,
        (Form('"matches" STRING', lambda words: r.Matches(str(words))),),
        lambda meant: f"matches {quoted(meant.pattern)}",
        samples=(r.Matches(CARET),),
    ),
    Spec(
        r.Between,
        (Form('"is" "between" NUMBER "and" NUMBER', lambda low, high: r.Between(_number(low), _number(high))),),
        lambda meant: f"is between {number(meant.low)} and {number(meant.high)}",
        samples=(r.Between(0, 1),),
    ),
    Spec(
        r.Compares,
        (
            Form('"is" MORE value', lambda than, amount: r.Compares(r.Than(" ".join(than.split())), str(amount))),
            Form('"is" BOUND value', lambda than, amount: r.Compares(r.Than(" ".join(than.split())), str(amount))),
        ),
        lambda meant: f"is {meant.than.value} {value(meant.amount)}",
        samples=tuple(r.Compares(than, "0") for than in (r.Than.MORE, r.Than.LESS, r.Than.AT_LEAST, r.Than.AT_MOST)),
    ),
    Spec(
        r.IsDay,
        (Form('"is" "the" "day" value', lambda day: r.IsDay(str(day))),),
        lambda meant: f"is the day {typed(meant.day)}",
        samples=(r.IsDay("{today}"),),
    ),
    Spec(
        r.HasItems,
        (
            Form(
                '"has" [BOUND] NUMBER "items"',
                lambda bound, count: r.HasItems(_whole(count), r.CountBound(" ".join((bound or "").split()))),
            ),
        ),
        lambda meant: " ".join(filter(None, ("has", meant.bound.value, str(meant.count), "items"))),
        samples=(r.HasItems(1), r.HasItems(1, r.CountBound.AT_LEAST)),
    ),
    Spec(
        r.IsInOrder,
        (
            Form(
                '"is" "in" [WAY] "order" ["by" STRING]',
                lambda way, by: r.IsInOrder(r.SortOrder(str(way or "")), str(by or "")),
            ),
        ),
        lambda meant: " ".join(filter(None, ("is in", meant.way.value, "order", f"by {quoted(meant.by)}" if meant.by else ""))),
        samples=(r.IsInOrder(), r.IsInOrder(r.SortOrder.FALLING)),
    ),
    Spec(
        r.IsMoved,
        (Form('"is" MOVING "by" NUMBER', lambda how, by: r.IsMoved(r.Moving(str(how)), _number(by))),),
        lambda meant: f"is {meant.how.value} by {number(meant.by)}",
        samples=(r.IsMoved(r.Moving.TURNED, 90), r.IsMoved(r.Moving.SCALED, 2)),
    ),
    Spec(
        r.LooksAsRecorded,
        (Form('"looks" "as" "recorded" ["allowing" NUMBER "dp" NUMBER "%"]', _tolerated),),
        _looks,
        samples=(r.LooksAsRecorded(),),
    ),
    Spec(
        r.SameEverywhere,
        (Form('"reads" "the" "same" "on" "every" "device"', r.SameEverywhere),),
        lambda meant: "reads the same on every device",
        samples=(r.SameEverywhere(),),
    ),
)

register(
    Spec(
        f.Width,
        (Form('"is" SIDE "than" NUMBER "dp"', lambda side, dp: f.Width(f.Side(str(side)), _number(dp))),),
        lambda meant: f"is {meant.side.value} than {number(meant.dp)} dp",
        samples=(f.Width(f.Side.NARROWER, 360), f.Width(f.Side.WIDER, 600)),
    ),
    Spec(
        f.Size,
        (Form('"is" BUILD', lambda build: f.Size(f.Build(" ".join(build.split())))),),
        lambda meant: f"is {meant.build.value}",
        samples=(f.Size(f.Build.TABLET), f.Size(f.Build.PHONE)),
    ),
    Spec(
        f.RunsPlatform,
        (
            Form(
                '"runs" NAME [SINCE NUMBER]',
                lambda name, since, release: f.RunsPlatform(str(name), f.Since(str(since or "")), str(release or "")),
            ),
        ),
        lambda meant: " ".join(filter(None, ("runs", meant.platform, meant.since.value, meant.release))),
        samples=(
            f.RunsPlatform("android"),
            f.RunsPlatform("ios"),
            *(f.RunsPlatform("android", since, "12") for since in (f.Since.BEFORE, f.Since.FROM)),
        ),
    ),
    Spec(
        f.Speaks,
        (Form('"speaks" STRING', lambda words: f.Speaks(str(words))),),
        lambda meant: f"speaks {quoted(meant.locale)}",
        samples=(f.Speaks("de"),),
    ),
    Spec(
        f.LargeText,
        (Form('"has" "text" "larger" "than" NUMBER', lambda scale: f.LargeText(_number(scale))),),
        lambda meant: f"has text larger than {number(meant.scale)}",
        samples=(f.LargeText(1.2),),
    ),
)
