"""Finding a step's target on the device, with patience: look, wait, scroll, look again; then its picture, then its place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import cast

from ..model.outcome import Cause, Reason
from ..model.portrait import NotFound, Portrait, Sighting
from ..model.roles import role_word, roles_of
from ..model.screen import Element, Flag, Moment
from ..model.target import AREA, Target
from ..model.wording import listed
from ..recognition.evidence import lasting_id
from ..recognition.reach import Reach, clear_area, in_sight, reach, scroller_of
from ..recognition.sighting import ANY_WORDS, ITEMS, sight
from .by_picture import WHOLE, at_place, look_by_picture, read_ahead, whole_page
from .displacement import LOW, containers
from .evidence import RecordedEvidence, WantedTarget
from .found import Found, Lost, part_of, sight_on
from .presence import key_of
from .scrolling import MOST_STROKES, NO_END, OUT, across, bring_inwards, put_back, scroll_towards, through
from .watch import ScreenWatch

CALM_S = 0.6  # a screen without the target must stay the same so long before it is scrolled in search of it
LARGE = 0.3  # of the screen
CLOSES = frozenset({"dialog", "menu", "menuitem", "listbox", "option"})  # roles of what closes once it has been used
NOTICED_S = 1.0  # seconds, beyond what a look takes, that something closing may cover a target before that counts
MESSAGE_S = 6.0  # no message stays longer unless it is to be answered
ROOM_DP = 200.0  # above the keyboard: in less there is nothing to be found
SURROUNDINGS = 6  # things that tell where a target stands
NOTHING_LIKE_IT = Reason(Cause.NOT_HERE, "nothing on the screen looks like it")


class TargetFinder:
    """Finds the targets of one take."""

    def __init__(self, watch: ScreenWatch, recorded: RecordedEvidence) -> None:
        self.watch, self.recorded = watch, recorded
        self.staying: set[Reason] = set()  # what lies over something in this take, and has been waited for in vain

    def now(self, wanted: WantedTarget) -> Sighting | NotFound:
        """One look at the newest moment."""
        return self._now(self.watch.moment, wanted)

    @staticmethod
    def _now(moment: Moment, wanted: WantedTarget) -> Sighting | NotFound:
        if moment.screen is None:
            return NotFound(Reason(Cause.NO_TREE, moment.trouble))
        return sight_on(moment.screen, wanted)

    def find(
        self,
        wanted: WantedTarget,
        patience: float,
        *,
        eager: bool = False,
        place: bool = False,
        calm: float = CALM_S,
        reachable: Callable[[Element], Reach] = reach,
        still: bool = False,
        ends: bool = False,
    ) -> Found | Lost:
        """Look until the target can be touched or patience (seconds) ends. `eager`: scroll at once, for a step that says to; else once
        the screen has stayed the same for `calm` seconds.

        `place`: where nothing else finds it, its recorded place will do. `still`: nothing is scrolled. `ends`: the take ends without the
        target, so that no time is kept for bringing back what was scrolled for it.
        """
        if wanted.target.part is not None:
            found = self.find_element(wanted, patience, eager=eager, calm=calm, reachable=in_sight, ends=ends)
        elif wanted.target.role == AREA:
            found = self._find_area(wanted, patience, read=not place)
        else:
            found = self.find_element(wanted, patience, eager=eager, calm=calm, reachable=reachable, still=still, ends=ends)
        if isinstance(found, Lost) and place:
            placed = at_place(self.watch, wanted.portraits)
            return placed if isinstance(placed, Found) else found
        return found

    def find_element(
        self,
        wanted: WantedTarget,
        patience: float,
        *,
        eager: bool = False,
        calm: float = CALM_S,
        reachable: Callable[[Element], Reach] = reach,
        still: bool = False,
        ends: bool = False,
    ) -> Found | Lost:
        """As `find`, for what is no area.

        A target that is out of reach is scrolled to where its container scrolls; one that is not there is searched in its container.
        """
        search = _Search(self, wanted, 0.0 if eager else calm, reachable, still, ends)
        return cast("Found | Lost", self.watch.until(patience, search.attempt))

    def _find_area(self, wanted: WantedTarget, patience: float, *, read: bool) -> Found | Lost:
        """An area: within its element where it has one; else by the words that name it, by its picture, by what is written on it."""
        portraits = wanted.portraits
        if not portraits:
            return Lost(Reason(Cause.NO_RECORD, "there is no record of this area: record it again"))
        if not whole_page(portraits[0]):
            return self._find_within(portraits[0], patience)
        if portraits[0].part == WHOLE:
            return at_place(self.watch, portraits)

        def attempt(last: bool) -> Found | Lost | None:
            screen = self.watch.moment.screen
            if screen is not None:
                seen = sight(screen, Target("", wanted.target.name), ())
                if isinstance(seen, Sighting) and (there := reach(seen.element)).point is not None:
                    return Found(replace(seen, weaker="by its words"), there.point)
            found = look_by_picture(self.watch, self.recorded, wanted, read=read and last)
            return found or (Lost(NOTHING_LIKE_IT) if last else None)

        return cast("Found | Lost", self.watch.until(patience, attempt))

    def _find_within(self, portrait: Portrait, patience: float) -> Found | Lost:
        """The part of an element that an area is."""
        assert portrait.part is not None
        found = self.find_element(WantedTarget(Target("", ""), (replace(portrait, part=None),)), patience, reachable=in_sight)
        if isinstance(found, Lost):
            return found
        holder = found.element
        here = part_of(holder, portrait.part)
        return Found(replace(found.sighting, element=here), here.box.centre, found.scrolled)


class _Search:
    """One search with patience: what it has tried so far."""

    def __init__(
        self, finder: TargetFinder, wanted: WantedTarget, calm: float, reachable: Callable[[Element], Reach], still: bool, ends: bool
    ) -> None:
        self.finder, self.watch, self.wanted = finder, finder.watch, wanted
        self.calm, self.reachable, self.still, self.ends = calm, reachable, still, ends
        self._calm_since, self._signature = self.watch.clock.now(), self.watch.signature()
        self._scrolled = False
        self._searched = False
        self._strokes = 0
        self._covered, self._covered_since, self._noticed_after = "", 0.0, 0.0  # what lay over it, where nothing but waiting helped
        self._as_it_is = False  # what is cut off by its container's edge does not come further in

    def attempt(self, last: bool) -> Found | Lost | None:
        """One attempt on the newest moment, scrolling as far as it helps."""
        if self.watch.signature() != self._signature:
            self._calm_since, self._signature, self._searched = self.watch.clock.now(), self.watch.signature(), False
        while True:
            if self.watch.mistakes:
                return Lost(Reason(Cause.TOUCHED, f"the search for it turned {listed(self.watch.mistakes)}", "the search"))
            found = self.finder.now(self.wanted)
            if isinstance(found, Sighting):
                there = self.reachable(found.element)
                if there.point is not None and (there.why is None or self._as_it_is):
                    return Found(found, there.point, self._scrolled, self._lay_over)
                assert there.why is not None
                if there.why.cause is Cause.COVERED and there.point is not None:
                    if not self._as_recorded(there.why) and self._may_go(there):
                        return Found(found, there.point, self._scrolled, self._lay_over) if last else None
                    self.finder.staying.add(there.why)
                    return Found(found, there.point, self._scrolled, self._lay_over)
                if self._brought_in(found.element, there):
                    self._scrolled = True
                    continue
                if there.point is not None:
                    self._as_it_is = True
                    continue
                if there.why.cause is Cause.COVERED:
                    self._note_cover(there)
                return Lost(there.why, found.element) if last else None
            calm = self.watch.clock.now() - self._calm_since >= self.calm
            if not found.ambiguous and calm and (not self._searched or self.wanted.target.inside is not None):
                seen = look_by_picture(self.watch, self.finder.recorded, self.wanted, read=False)
                if seen is not None:
                    return replace(seen, scrolled=self._scrolled)
            if not found.ambiguous and not self._searched and calm and not self.still:
                if self._made_room():
                    continue
                came = self._scroll_through()
                self._searched, self._signature = True, self.watch.signature()
                if came:
                    self._scrolled = True
                    again = self.finder.now(self.wanted)
                    if isinstance(again, Sighting):
                        bring_inwards(self.watch, again.element)
                continue
            if not last:
                if calm:
                    read_ahead(self.watch, self.wanted)
                return None
            row = None if found.ambiguous else self._unmarked_row()
            if row is not None:
                return row
            seen = None if found.ambiguous else look_by_picture(self.watch, self.finder.recorded, self.wanted, read=True)
            hindered = f"; it could not be scrolled to: {self.watch.hindered}" if self.watch.hindered else ""
            return seen or Lost(replace(found.why, words=f"{found.why.words}{hindered}"))

    def _unmarked_row(self) -> Found | None:
        """The only text with the name of the row that is looked for, on a screen that does not mark its rows; not for a recorded target."""
        target, screen = self.wanted.target, self.watch.moment.screen
        if screen is None or self.wanted.portraits or not set(roles_of(target.role)) <= ITEMS or not target.name or not target.role:
            return None
        seen = sight_on(screen, replace(self.wanted, target=replace(target, role=ANY_WORDS)))
        there = self.reachable(seen.element) if isinstance(seen, Sighting) else None
        if not isinstance(seen, Sighting) or seen.element.role != "text" or there is None or there.point is None or there.why is not None:
            return None
        return Found(replace(seen, weaker=f"it is {role_word(seen.element.role)} here"), there.point, self._scrolled)

    @property
    def _lay_over(self) -> str:
        """What lay over it for so long that a person would have noticed."""
        return self._covered if self.watch.clock.now() - self._covered_since >= self._noticed_after else ""

    def _note_cover(self, there: Reach) -> None:
        assert there.why is not None
        if not self._covered:
            self._covered, self._covered_since = there.why.about or there.why.words, self.watch.clock.now()
        self._noticed_after = NOTICED_S + self.watch.bare if _closes(there.cover) else 0.0

    def _as_recorded(self, why: Reason) -> bool:
        """Did it lie over the target when that was recorded, or has it been there all the time?"""
        return why in self.finder.staying or any(reach(portrait.element).why == why for portrait in self.wanted.portraits)

    def _may_go(self, there: Reach) -> bool:
        """May what lies over it go by itself, and is it waited for?"""
        self._note_cover(there)
        return self.watch.clock.now() - self._covered_since < MESSAGE_S

    def _brought_in(self, element: Element, there: Reach) -> bool:
        """Has a stroke moved what a finger cannot reach as it stands?"""
        if there.scroller is None or self._strokes >= MOST_STROKES or self.still:
            return False
        self._strokes += 1
        return scroll_towards(self.watch, element, there.scroller)

    def _made_room(self) -> bool:
        """Did the keyboard leave no room to search in, and is it closed now?"""
        screen = self.watch.moment.screen
        if screen is None:
            return False
        low = clear_area(screen).height < ROOM_DP or any(e.has(Flag.SCROLLABLE) and e.box.height < LOW for e in screen)
        return low and self.watch.close_keyboard()

    def _scroll_through(self) -> bool:
        """Scroll one container after the other until the target is in sight; those where it is not are put back as they were."""
        target = self.wanted.target
        words = [said for said in (target.inside.name if target.inside else "", target.under, target.name) if said]
        holders, more = self._holders(), not self.ends or any(e.has(Flag.ACROSS) for e in self.watch.moment.screen or ())
        for number, holder in enumerate(holders, 1):
            above, last = self.watch.displacement.above(holder), number == len(holders) and not more
            for _ in through(self.watch, holder, words, 1.0 if last else OUT):
                if isinstance(self.finder.now(self.wanted), Sighting) or self._looks_so_in_its_row():
                    return True
            hindered = self.watch.hindered
            if not last or hindered != NO_END:  # else there is no time left, and the take ends here
                put_back(self.watch, holder, above)
            self.watch.hindered = hindered
        for holder in [e for e in self.watch.moment.screen or () if e.has(Flag.ACROSS)]:
            for _ in across(self.watch, holder):
                if isinstance(self.finder.now(self.wanted), Sighting):
                    return True
        return False

    def _looks_so_in_its_row(self) -> bool:
        """Is what the target stands in there, and in it what the target looked like?"""
        inside = self.wanted.target.inside
        return inside is not None and look_by_picture(self.watch, self.finder.recorded, self.wanted, read=False) is not None

    def _holders(self) -> list[Element]:
        """The containers to search, in this order: the one the script names, and no other, unless it names an item, which is searched
        for itself; the one it was recorded in; what holds most of what stood round it there; the largest.
        """
        screen = self.watch.moment.screen
        if screen is None:
            return []
        inside = self.wanted.target.inside
        if inside is not None:
            holder = sight(screen, inside, roles_of(inside.role), self.wanted.holders)
            if isinstance(holder, Sighting):
                around = holder.element if holder.element.has(Flag.SCROLLABLE) else scroller_of(holder.element)
                return [around] if around is not None else []
            if "listitem" not in roles_of(inside.role):
                return []
        portrait = self.wanted.portraits[0] if self.wanted.portraits else None
        recorded = scroller_of(portrait.element) if portrait is not None else None
        round_it = _surroundings(portrait.element) if portrait is not None else frozenset()

        def rank(holder: Element) -> tuple[bool, int, float]:
            like = recorded is not None and (holder.role, lasting_id(holder)) == (recorded.role, lasting_id(recorded))
            held = len(round_it & {key_of(e)[1:] for e in holder.descendants()})
            return not like, -held, -holder.box.area

        return sorted(containers(screen), key=rank)


def _surroundings(element: Element) -> frozenset[tuple[str, ...]]:
    """What stands round an element: the ids and words of the smallest thing round it that holds some."""
    for holder in element.ancestors():
        found = frozenset(key_of(e)[1:] for e in holder.descendants() if e.row != element.row and any(key_of(e)[1:]))
        if len(found) >= SURROUNDINGS:
            return found
    return frozenset()


def _closes(cover: Element | None) -> bool:
    """Is it something that closes once it has been used: a list of choices, a dialog, a sheet? Messages are not."""
    if cover is None:
        return False
    opened = any(e.role in CLOSES for e in (cover, *cover.ancestors()))
    return opened or cover.box.area > LARGE * cover.screen.width * cover.screen.height
