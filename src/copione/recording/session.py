"""A recording that is going on: acts on the lead, reads what it meant, journals it. Runs on the lead's own thread."""

from __future__ import annotations

import contextlib
import math
import time
from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from pathlib import Path

from ..files.writing import write_whole
from ..language.registry import spec_of
from ..links.bare import ObservationOverhead
from ..links.drawn import DrawnPages
from ..links.finger import HeldFinger
from ..links.holding import awake, held
from ..links.link import HasConditions, HasKeys, KeepsLog, Link, RunsApps
from ..model.action import Action, Key, Launch, Note, Orientation, Press, Quit, Snap, Start, SwitchTo, Turn, Type
from ..model.doubt import Doubt
from ..model.errors import CopioneError, DeviceTaken
from ..model.gesture import Contact, Gesture
from ..model.screen import Element, Flag, Moment, Screen
from ..model.step import Step
from ..project.journal import Journal, JournalStep, Unfinished
from ..project.project import Project
from ..recognition.system import SYSTEM_DIALOGS
from ..screens.drawn import tells_nothing
from ..touch.reading import read_contacts
from .checks import check_of_page
from .insertion import Insertion, insert
from .intent import Meaning, answered, focused_field, hides, interpret, meant_by_hit, nearby, on_keyboard, plain, typed
from .opened import OpenedChoice
from .recording import PATIENCE_S, RecordedStep, Recording, RecordingState
from .saving import write_script
from .secrets import TypedSecrets
from .spots import by_place_only, on_picture, page_of
from .targets import target_of

UNSEEN = "Something was typed here that the picture does not show"
#: What a script begins with that starts no app.
AS_IT_WAS = "Starts with the app as it is: open it on this page first"


class Session:
    """`shown` is told of every new moment, `changed` of every change of what is recorded; by then it is on the disk.

    Every method talks to the lead, so all are called on the thread that owns its link.
    """

    def __init__(
        self,
        link: Link,
        project: Project,
        package: str,
        shown: Callable[[Moment], None] = lambda moment: None,
        changed: Callable[[RecordingState], None] = lambda state: None,
        recovered: Unfinished | None = None,
        into: Insertion | None = None,
    ) -> None:
        self.link, self.project, self.package, self._shown, self._publish = link, project, package, shown, changed
        app = project.learn_app(package, link.profile().platform) if package else ""
        if recovered is not None and recovered.into is not None:
            into = Insertion.from_record(dict(recovered.into))
        link.files = project.data_folder
        self._claim = contextlib.ExitStack()
        self._claim.enter_context(held(link, "recording"))
        self._claim.enter_context(awake(link))
        self._taken = ""  # by whom, in a sentence, once another Copione has the device
        self.into = into  # the script that the recording goes into; None for a script of its own
        record = into.record() if into is not None else None
        self.journal = Journal(project.recordings_folder, app, recovered.folder if recovered else None, record, project.redactor)
        self.recording = Recording(app, into.scene if into is not None else "Scene 1", changed=self._changed)
        self._moment: Moment | None = None
        self._shot = ""  # under which stem the journal keeps the newest moment
        self._acted = time.time()  # when something was last done on the device
        self._changing_s = 0.0  # for how long the screen has gone on changing since
        self._changed_before_s = 0.0  # and for how long after the act before
        self._opened = OpenedChoice()
        self._finger = HeldFinger(link)
        self._drawn, self._bare = DrawnPages(), ObservationOverhead()
        self.since = time.time()  # from when on the device's log belongs to it
        self._late: list[tuple[int, Gesture, Screen]] = []  # touches in doubt since the last look
        self.began_at = 0  # the first new line of a script that it went into
        self._plainly = False
        self._secrets = TypedSecrets(project.redactor, self.journal)
        if recovered is not None:
            self.recording.app = recovered.app or app
            self.recording.restore(RecordingState(tuple(map(_again, recovered.steps)), recovered.scene, recovered.values))

    @property
    def folder(self) -> Path:
        """Where its pictures and its journal are."""
        return self.journal.folder

    def record_plainly(self, plainly: bool) -> None:
        """From now on write gestures down as they are, whatever they mean; or what they mean again."""
        self._plainly = plainly

    def edit(self, change: Callable[[Recording], object]) -> None:
        """Change what is recorded: delete, rename, undo ..."""
        change(self.recording)

    def stop_journal(self) -> None:
        """Leave the recording as it is: it is offered again."""
        self._secrets.left()
        self.journal.close()
        self._claim.close()

    def _still_mine(self) -> None:
        """Raises DeviceTaken once another Copione has asked for the device; what is recorded stays, and can be saved."""
        try:
            self.link.claim.check()
        except DeviceTaken as error:
            self._taken = error.sentence
            self._claim.close()
        if self._taken:
            raise DeviceTaken(self._taken)

    @property
    def moment(self) -> Moment:
        """The newest moment; the screen a gesture is read against."""
        return self._moment if self._moment is not None else self.look()

    def look(self) -> Moment:
        """A fresh moment, kept in the journal. Raises DeviceTaken when another Copione has asked for the device."""
        self._still_mine()
        since = time.time()
        return self._keep(self._drawn.seen(self.link.moment), since)

    def _keep(self, moment: Moment, since: float) -> Moment:
        """Keep a moment by a look from `since`. How long the app went on changing is not what looking takes."""
        last, there = self._moment.screen if self._moment is not None else None, moment.at - moment.lag
        if moment.screen is None or last is None or moment.screen.signature != last.signature:
            self._changing_s = self._bare.own(since, there, self._acted)
        else:
            self._bare.add(there - since)
        self._moment = moment
        self._shot = self.journal.moment(moment)
        self._shown(moment)
        return moment

    def moment_of(self, png: bytes) -> Moment:
        """The moment of a picture that is shown: the newest one, or a fresh one when the picture is newer.

        Holds a gesture back until then.
        """
        return self.moment if self.moment.png == png else self.look()

    def launch(self, start: Start) -> None:
        """Start the app, as the script will."""
        self.link.able(RunsApps).launch(self.package, start)
        self._done()
        self.look()
        self.recording.add(Meaning(Step(Launch(start))), self._shot)

    def open_app(self, package: str, start: Start = Start.FRONT) -> RecordedStep:
        """Bring an app to the front: the one that is recorded, or another one that the script then names."""
        shot, word = self._shot, self._word(package)
        self.link.able(RunsApps).launch(package, start)
        self._done()
        self.look()
        return self.recording.add(Meaning(Step(brought(word, start))), shot)

    def stop_app(self, package: str) -> RecordedStep:
        """End an app."""
        shot, word = self._shot, self._word(package)
        self.link.able(RunsApps).stop(package)
        self._done()
        self.look()
        return self.recording.add(Meaning(Step(Quit(word))), shot)

    def _word(self, package: str) -> str:
        """By which the script names an app; empty for the one that is recorded."""
        return "" if package == self.package else self.project.learn_app(package, self.link.profile().platform)

    def _came_from_outside(self, before: Screen, after: Screen | None) -> Action | None:
        """What brings the app to the front that a touch outside of all apps has brought there: one on the home screen, say."""
        if after is None or not self.package or after.app in (before.app, "") or self._is_system(before) or before.app == self.package:
            return None
        apps = self.link.able(RunsApps)
        came = before.app in apps.outside() and after.app in apps.packages()
        return brought(self._word(after.app), Start.FRONT) if came else None

    def begin_as_it_is(self) -> None:
        """Begin on the page that is there: nothing is touched, and the script says and checks where it begins."""
        screen = self.look().screen
        self.note(AS_IT_WAS)
        page = check_of_page(screen) if screen is not None else None
        if page is not None:
            self.check(page)

    def touch(self, contacts: Sequence[Contact], png: bytes | None = None) -> RecordedStep | None:
        """Do a gesture on the lead and take its meaning in. `png`: the picture that the hand saw."""
        self._secrets.left()
        before = self.moment_of(png) if png is not None else self.moment
        shot, hit = self._shot, self._hit(*contacts[0].begin) if len(contacts) == 1 else None
        self.link.touch(contacts)
        self._done()
        return self._taken_in(read_contacts(contacts), before, shot, hit)

    def _hit(self, x: float, y: float) -> Element | None:
        return meant_by_hit(self.link.hit(x, y), x, y)

    def finger_down(self, path: Sequence[tuple[float, float]], png: bytes) -> None:
        """A finger is down and goes on: put it down on the lead too, where it began and went so far. Read when it lifts."""
        self._secrets.left()
        self._held = self.moment_of(png), self._shot, self._hit(*path[0])
        self._done()
        self._finger.down(path)

    def finger_moved(self, path: Sequence[tuple[float, float]]) -> None:
        """It went on this way, dp."""
        self._finger.move(path)

    def finger_up(self, contact: Contact) -> RecordedStep | None:
        """It has lifted: what it did all in all is taken in, as `touch` does; done now where the lead did not take it in parts."""
        if not self._finger.is_down:
            return self.touch([contact])
        self._finger.up(contact)
        self._changing_s, self._acted = 0.0, time.time()  # what moved under the finger was no waiting
        return self._taken_in(read_contacts([contact]), *self._held)

    def _taken_in(self, gesture: Gesture, before: Moment, shot: str, hit: Element | None) -> RecordedStep | None:
        """Take in a gesture that was done on the lead just now, against the moment it was made on, or against what was hit."""
        after = self.look()
        if before.screen is None or tells_nothing(before.screen):
            return self._by_picture(gesture, before, shot)
        if on_keyboard(before.screen, gesture):
            return self._typed(after, before.screen)
        if before.screen.read:  # the page's tree tells nothing of what is drawn
            hit = None
        screen = hit.screen if hit is not None else before.screen
        meant = self._meant(gesture, screen, after.screen, shot, same_picture=before.png == after.png, hit=hit)
        if meant is None and (before.screen.read or (hit is not None and _news(screen, after.screen))):  # it was not made out what that was
            return self._by_picture(gesture, before, shot)
        return meant

    def glance(self) -> None:
        """Look; keep the moment only when something has changed."""
        self._still_mine()
        since = time.time()
        moment, last = self._drawn.seen(self.link.moment), self._moment
        if last is None or moment.png != last.png or (moment.screen is None) != (last.screen is None):
            self._keep(moment, since)
        else:
            self._bare.add(moment.at - moment.lag - since)

    def record_performed_gesture(self, gesture: Gesture, doubt: Doubt | None = None, last: bool = True) -> RecordedStep | None:
        """Take in a gesture of the user's own finger on the glass. `last`: nothing was done after it: what is there now followed it."""
        self._secrets.left()
        before, shot = self.moment, self._shot
        self._done()
        after = self.look() if last else None
        if before.screen is None or tells_nothing(before.screen):
            return self._by_picture(gesture, before, shot)
        if on_keyboard(before.screen, gesture):
            return self._typed(after, before.screen) if after is not None else None
        same = after is not None and after.png == before.png
        recorded = self._meant(gesture, before.screen, after.screen if after is not None else None, shot, doubt, same)
        if doubt and recorded is not None:
            self._late.append((recorded.uid, gesture, before.screen))
        if after is not None:
            self._offer_alternatives(after.screen)
        return recorded

    def _offer_alternatives(self, after: Screen | None) -> None:
        """What late touches may have meant instead: on the screen that came, or on what stands next to where they were."""
        late, self._late = self._late, []
        for uid, gesture, before in late:
            meanings = [interpret(gesture, after, None)] if after is not None else []
            meanings += [interpret(gesture, before, None, element) for element in nearby(before, *gesture.begin)]
            self.recording.set_alternatives(uid, [m for m in meanings if m is not None], self._shot)

    def _meant(
        self,
        gesture: Gesture,
        before: Screen,
        after: Screen | None,
        shot: str,
        doubt: Doubt | None = None,
        same_picture: bool = False,
        hit: Element | None = None,
    ) -> RecordedStep | None:
        """Take in what a gesture meant. `doubt` says why it may have been read against the wrong screen."""
        mark = gesture.trace
        if (action := self._came_from_outside(before, after)) is not None:
            return self.recording.add(Meaning(Step(action)), shot)
        if self._is_system(before):
            meaning = answered(gesture, before)
        else:
            meaning = plain(gesture, before, hit) if self._plainly else interpret(gesture, before, after, hit)
        if meaning is None:
            return None
        if doubt is None and same_picture and after is not None and after.signature == before.signature:
            doubt = Doubt.IDLE if spec_of(type(meaning.step.action)).may_be_idle else None
        if doubt is None and by_place_only(meaning):
            doubt = Doubt.ONLY_PLACE
        if doubt is None and meaning.element is not None and meaning.element.has(Flag.GUESSED) and meaning.element.has(Flag.CHECKABLE):
            doubt = Doubt.GUESSED
        meaning = self._patient(meaning)
        recorded = self.recording.add(meaning, shot, mark, doubt)
        if (whole := self._opened.closed(after, self.link.profile().locale)) is not None:
            return self.recording.replace_from(*whole)
        self._opened.note(meaning, recorded.uid, after)
        return recorded

    def _by_picture(self, gesture: Gesture, before: Moment, shot: str) -> RecordedStep:
        """A gesture on a page that gives no tree."""
        profile = self.link.profile()
        page, picture = page_of(before, profile.width, profile.height, self.package)
        known = [entry for step in self.recording.steps for entry in step.portraits]
        return self.recording.add(on_picture(gesture, page, picture, known), shot, gesture.trace, Doubt.ONLY_PLACE)

    def _patient(self, meaning: Meaning) -> Meaning:
        """Where the screen went on changing for long after the last act, the step that waited for it gets more patience."""
        if meaning.step.target is None or 2 * self._changed_before_s <= PATIENCE_S or meaning.scrolled:
            return meaning
        return replace(meaning, step=replace(meaning.step, within=float(math.ceil(2 * self._changed_before_s))))

    def _done(self) -> None:
        """Something was done on the device just now: what the screen does from here on follows it."""
        self._changed_before_s, self._changing_s, self._acted = self._changing_s, 0.0, time.time()

    def _is_system(self, screen: Screen) -> bool:
        return bool(self.package) and screen.app in SYSTEM_DIALOGS

    def turn(self, orientation: Orientation) -> RecordedStep:
        """Turn the device."""
        shot = self._shot
        self.link.able(HasConditions).turn(orientation.value)
        self.look()
        return self.recording.add(Meaning(Step(Turn(orientation))), shot)

    def type(self, words: str) -> RecordedStep | None:
        """Letters for the field that has the focus."""
        screen = self.moment.screen
        field = focused_field(screen) if screen is not None else None
        self._opened.forget()  # choices that are narrowed by what is typed are not there without it
        if field is not None and field.has(Flag.PASSWORD):
            self._secrets.typed(target_of(field).words(), words)
        elif screen is None or not screen.read:
            self._secrets.left()
        self.link.able(HasKeys).type_text(words)
        self._done()  # how long a person types is not the app's time
        after = self.look()
        typed = self._typed(after, screen)
        if after.screen is not None and after.screen.read:
            self._typed_unseen(words, typed)
        return typed

    def _typed_unseen(self, words: str, typed: RecordedStep | None) -> None:
        """On a page that was read from its picture: what hides what is typed is a secret; what shows nothing of it is said."""
        if typed is None:
            self.note(UNSEEN)
        elif isinstance(typed.step.action, Type) and typed.element is not None and hides(typed.element):
            self._secrets.typed(typed.step.key(), words)

    def erase(self) -> RecordedStep | None:
        """Backspace in the field that has the focus."""
        before = self.moment.screen
        field = focused_field(before) if before is not None else None
        if field is not None and hides(field):
            self._secrets.erased(target_of(field).words())
        self.link.able(HasKeys).press(Key.BACKSPACE)
        self._done()
        return self._typed(self.look(), before)

    def press(self, key: Key) -> RecordedStep | None:
        """A key of the device; Enter belongs to what is typed."""
        self._secrets.left()
        shot, before = self._shot, self.moment.screen
        self.link.able(HasKeys).press(key)
        self._done()
        after = self.look()
        if key is Key.ENTER:
            return self._typed(after, before)
        if key is Key.BACK and before is not None and before.keyboard is not None and not self.link.able(HasKeys).back_closes_keyboard:
            self.recording.add(Meaning(Step(Press(key))), shot)  # elsewhere the first one closes the keyboard
        return self.recording.add(Meaning(Step(Press(key))), shot)

    def check(self, meaning: Meaning) -> RecordedStep:
        """Take a check in; nothing is touched."""
        return self.recording.add(meaning, self._shot)

    def _typed(self, after: Moment, before: Screen | None) -> RecordedStep | None:
        meaning = typed(after.screen, before) if after.screen is not None else None
        return self.recording.add(self._secrets.named(meaning), self._shot) if meaning is not None else None

    def _changed(self, state: RecordingState) -> None:
        self.journal.steps(state.steps, state.scene, state.values)
        self._publish(state)

    # ending

    def note(self, words: str) -> RecordedStep:
        """Words for people, at any moment, with the picture of that moment."""
        return self.recording.add(Meaning(Step(Note(words))), self._shot)

    def snap(self) -> RecordedStep:
        """A picture of this moment, by the next number."""
        number = 1 + sum(isinstance(s.step.action, Snap) for s in self.recording.steps)
        return self.recording.add(Meaning(Step(Snap(f"Picture {number}"))), self._shot)

    def _keep_log(self) -> None:
        """The device's log of the whole recording beside its pictures."""
        self._secrets.left()
        try:
            log = self.project.redactor.words(self.link.able(KeepsLog).log(self.since))
            write_whole(self.journal.folder / "device.log", log.encode("utf-8", "replace"))
        except CopioneError:
            return  # a phone that has gone has no log to give; the recording itself is whole

    def save(self, name: str, path: Path | None = None) -> Path:
        """Write the script, its portraits and its frames; the recording need not be offered again.

        One that goes into a script is written there, whatever the name.
        """
        if self.into is not None:
            self.began_at = insert(self.project, self.into, self.recording, self.journal.folder)
            place = self.into.path
        else:
            place = self.save_stretch(name, None, path)
        self._keep_log()
        self.journal.done("saved")
        self._claim.close()
        return place

    def save_stretch(self, name: str, uids: Collection[int] | None, path: Path | None = None) -> Path:
        """Write some of the steps as a script of its own; the recording goes on."""
        self._secrets.left()
        return write_script(self.project, self.recording, name, self.journal.folder, uids, path)

    def discard(self) -> None:
        """Throw the recording away; its files stay."""
        self._keep_log()
        self.journal.done("thrown away")
        self._claim.close()


def brought(word: str, start: Start) -> Action:
    """How an app is brought to the front; without a word it is the one that is recorded."""
    return SwitchTo(word) if word and start is Start.FRONT else Launch(start, word)


def _news(before: Screen, after: Screen | None) -> bool:
    """Does a screen say what was not said before?"""
    said = {(e.role, e.name) for e in before}
    return after is not None and any(e.name and (e.role, e.name) not in said for e in after)


def _again(kept: JournalStep) -> RecordedStep:
    others = tuple(map(_again, kept.others))
    return RecordedStep(kept.uid, kept.scene, kept.step, kept.portraits, kept.shot, kept.mark, kept.scrolled, kept.bars, kept.doubt, others)
