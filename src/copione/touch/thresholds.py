"""The lines between one gesture and another, each with its reason. Lengths in dp, times in seconds, speeds in dp/s."""

from __future__ import annotations

#: The platform's own slop is 8 dp; a mouse or a shaky finger drifts a little more without meaning a stroke, and the shortest strokes
#: people make are about 24 dp: the line is drawn between.
SLOP = 12.0
#: The platforms' long press is 0.4-0.5 s; taps end before 0.3 s.
HOLD_S = 0.42
#: Between the lift of one tap and the touch of the next: the platform's double-tap time is 0.3 s; a little more for a slow panel.
DOUBLE_S = 0.32
#: The platform takes a second tap within 100 dp (a finger's width either way) for the same place; twins stand farther apart than 48 dp.
DOUBLE_NEAR = 56.0
#: A finger that is lost for less than this and comes back near by never lifted: hands need 30 ms and more.
FLICKER_S, FLICKER_NEAR = 0.018, 24.0
#: A finger has left its place for good at this distance; below it panels jitter.
AWAY = 6.0
#: Slower than this over longer than that a stroke is a drag: strokes that scroll go faster, carried things slower.
DRAG_SPEED, DRAG_S = 330.0, 0.6
#: Strokes that the hand lets fly still move at their lift: this speed for a steady one; one that gathers speed needs less.
FLING_SPEED, FLING_GATHERING = 1250.0, 700.0
#: The last part of a path from which the speed at the lift is read, and how long a finger rests at most before a lift that flies.
RELEASE_S, RESTED_S = 0.07, 0.06
#: How wide a path is across its chord, as a share of the chord, before it is a drawing; thumbs swing by up to a sixth, and one way.
BOW = 0.21
#: A drawing is larger than this in some direction; smaller curls are a shaky tap's.
DRAWN = 30.0
#: Fingers that are down together for less than this share of the shorter one did not act together.
TOGETHER = 0.35
#: A palm rests: it is down this long before and after the fingers that act, and goes nowhere.
PALM_S, PALM_SLOP = 0.12, 16.0
#: A contact so much wider than the others is a palm too.
PALM_TIMES = 2.2
