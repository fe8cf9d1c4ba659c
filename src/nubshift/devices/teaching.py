"""Learning a controller by doing: which key or axis answers each request (need N02).

Events of the kernel go in, findings come out; there is no clock but the time of what comes in. The rules, in order:

1. For `REST` nobody touches anything: where each axis rests and how it trembles is measured, and what is down stays
   out of account until it was let go of.
2. A request is answered by what moves furthest from rest and comes back. An axis counts from `LEAST` of its way, or
   six times its noise if that is more. Slow drift moves the rest along.
3. What was taught already is no answer: it is told, so that a wrong press does no harm. Held for `HOLD`, it goes back.
4. Two new things at once are no answer either, unless one is the depth of the other: a button with a pressure axis.
5. Nothing for `PATIENCE`: the thing is not there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import TypeAlias

from nubshift.devices.codes import ABS_HAT0X, EV_ABS, EV_KEY, AxisRange, is_hat
from nubshift.devices.learned import Discovery, both_ways, inputs_for
from nubshift.devices.port import Raw
from nubshift.devices.taught_axis import TaughtAxis
from nubshift.model.controller_setup import ControllerSetup, InputMapping
from nubshift.model.controls import Kind, kind_of
from nubshift.model.shapes import FREE, SHAPES, Shape, ShapeLesson
from nubshift.texts import _
from nubshift.units import MILLISECOND, SECOND, Micros

REST: Micros = 1500 * MILLISECOND
SETTLED: Micros = 150 * MILLISECOND
"""A press is over when everything has been at rest for so long."""
HOLD: Micros = 1000 * MILLISECOND
STAYS: Micros = 1500 * MILLISECOND
"""An axis that is out and still for so long stays where it is put."""
PATIENCE: Micros = 12 * SECOND
CLEARLY = 1.6
"""Of two axes that moved, one is meant if it moved so many times as far."""


Known: TypeAlias = Mapping[tuple[str, int, int], int]
"""Which request took each part of the hardware."""


class Phase(StrEnum):
    """How far the lesson is."""

    REST = "rest"
    ASK = "ask"
    REVIEW = "review"
    STORED = "stored"


class Teacher:
    """One walk through a shape with one piece of hardware.

    `said` is a sentence about the last thing that happened, empty when all is well; `lit` are the taught controls that
    are out now, for the review.
    """

    def __init__(self, keys: tuple[int, ...], axes: Mapping[int, AxisRange], shape: str, now: Micros) -> None:
        self.shape: Shape = SHAPES[shape]
        self.phase = Phase.REST
        self.place = 0
        self.found: dict[int, Discovery | None] = {}
        self.said = ""
        self._lessons: list[ShapeLesson] = list(self.shape.lessons)
        self._keys = set(keys)
        self._axes = {
            code: TaughtAxis(entry, float(entry.value), value=float(entry.value)) for code, entry in axes.items()
        }
        self._down: dict[int, Micros] = {}
        self._stuck: set[int] = set()
        self._pressed: dict[int, Micros] = {}
        self._since = now
        self._busy_since: Micros | None = None
        self._quiet_since: Micros | None = now
        self._now = now
        self._alone = False
        self._held_back = False

    # What is asked

    @property
    def lessons(self) -> tuple[ShapeLesson, ...]:
        """All that is asked; on a free walk, what was added so far."""
        return tuple(self._lessons)

    @property
    def lesson(self) -> ShapeLesson | None:
        """What is asked now."""
        if self.phase is not Phase.ASK or self.place >= len(self._lessons):
            return None
        return self._lessons[self.place]

    @property
    def left(self) -> float:
        """What is left of the time for the present request or the rest, as a share."""
        whole = REST if self.phase is Phase.REST else PATIENCE
        return max(0.0, 1.0 - (self._now - self._since) / whole)

    @property
    def taught(self) -> tuple[str, ...]:
        """The controls that were found, each once."""
        return tuple(dict.fromkeys(self._lessons[n].control for n, f in sorted(self.found.items()) if f is not None))

    @property
    def lit(self) -> tuple[str, ...]:
        """The taught controls that are pressed or out now."""
        down = {("key", code, 0) for code in self._down}
        down |= {("axis", code, axis.side) for code, axis in self._axes.items() if axis.side}
        found = []
        for number, finding in self.found.items():
            if finding is None:
                continue
            raw_inputs = finding.raw_inputs
            if self._lessons[number].way in ("right", "down"):
                raw_inputs |= {("axis", code, -way) for kind, code, way in raw_inputs if kind == "axis"}
            if raw_inputs & down:
                found.append(self._lessons[number].control)
        return tuple(dict.fromkeys(found))

    # What happens

    def hear(self, events: list[Raw]) -> None:
        """Events of the pad's node, in the order of time."""
        for t, use, kind, code, value in events:
            if use not in ("pad", "other"):
                continue
            self.advance(t)
            if kind == EV_KEY and value != 2 and code in self._keys:
                self._key(code, bool(value), t)
            elif kind == EV_ABS and code in self._axes:
                self._axis(code, value, t)
        self._judge()

    def _key(self, code: int, down: bool, t: Micros) -> None:
        if not down:
            self._down.pop(code, None)
            self._stuck.discard(code)
            return
        if self.phase is Phase.REST:
            self._stuck.add(code)
            self._begin_rest(t, _("Release everything for a moment."))
            return
        self._down[code] = t
        self._pressed.setdefault(code, t)
        self._busy(t)

    def _axis(self, code: int, value: int, t: Micros) -> None:
        axis = self._axes[code]
        if self.phase is Phase.REST:
            if not axis.rests(value):
                self._begin_rest(t, _("Release everything for a moment."))
        elif axis.move(value, t, is_hat(code)):
            self._moved_out(code, axis, t)

    def _moved_out(self, code: int, axis: TaughtAxis, t: Micros) -> None:
        """An axis is far enough out, for long enough to be no spike."""
        share = axis.share()
        if abs(share) > abs(axis.out):
            axis.out = share
            self._pressed.setdefault(-1 - code, t)
            self._busy(t)

    def _busy(self, t: Micros) -> None:
        self._busy_since = self._busy_since or t
        self._quiet_since = None
        self._since = t

    def advance(self, now: Micros) -> None:
        """Let time pass."""
        self._now = max(self._now, now)
        self._judge()

    def _judge(self) -> None:
        now = self._now
        for code, axis in self._axes.items():
            if axis.has_lasted(now) and self.phase is not Phase.REST:
                self._moved_out(code, axis, now)
        if self.phase is Phase.REST:
            if now - self._since >= REST:
                self._rested()
            return
        if self.phase is Phase.STORED:
            return
        if self._pressed:
            self._follow_press(now)
        elif self.phase is Phase.ASK and now - self._since >= PATIENCE:
            self._next(None)

    def _follow_press(self, now: Micros) -> None:
        if self._held_known(now):
            return
        out = [code for code, axis in self._axes.items() if abs(axis.share()) >= axis.counts_from / 2]
        if not (set(self._down) - self._stuck) and not out:
            if self._quiet_since is None:
                self._quiet_since = now
            if now - self._quiet_since >= SETTLED:
                self._decide(stays=False)
            return
        self._quiet_since = None
        still = [code for code in out if now - self._axes[code].still_since >= STAYS]
        if out and still == out and not self._down and self._asks_for_depth():
            self._decide(stays=True)

    def _asks_for_depth(self) -> bool:
        lesson = self.lesson
        return lesson is not None and kind_of(lesson.control) in (Kind.AXIS, Kind.TRIGGER)

    def _held_known(self, now: Micros) -> bool:
        """Something taught that is held goes back, and in the review it keeps everything; once for each hold."""
        known = _known_by(self.found)
        held = [code for code, since in self._down.items() if ("key", code, 0) in known and now - since >= HOLD]
        if not held:
            return False
        if not self._held_back:
            self._held_back = True
            if self.phase is Phase.REVIEW:
                self.keep()
            elif self.phase is Phase.ASK:
                self.back(now)
        return True

    # Deciding

    def _decide(self, *, stays: bool) -> None:
        keys = {code for code in self._pressed if code >= 0} - self._stuck
        axes = {code: axis.out for code, axis in self._axes.items() if axis.out}
        held_back, now = self._held_back, self._now
        self._clear(now)
        if held_back or self.phase is not Phase.ASK:
            return
        known = {
            raw_input: n for raw_input, n in _known_by(self.found).items() if self.lesson is None or n != self.place
        }
        new_keys = {code for code in keys if ("key", code, 0) not in known}
        new_axes = {c: out for c, out in axes.items() if ("axis", c, 1 if out > 0 else -1) not in known}
        new_axes = {c: out for c, out in new_axes.items() if not _turned_stick(c, known, self._lessons)}
        if not new_keys and not new_axes:
            if keys or axes:
                number = _known_as(keys, axes, known)
                name = self.shape.name_of(self._lessons[number].control).lower() if number is not None else "known"
                self.said = _("That is already {names_of}.").format(names_of=name)
            return
        finding = _one_of(new_keys, new_axes, self._axes, stays)
        if finding is None:
            self.said = _("More than one control moved at once. Move only one.")
            return
        self.said = ""
        self._next(finding)

    def _next(self, finding: Discovery | None) -> None:
        if self.shape is FREE and finding is not None and self.place >= len(self._lessons):
            self._lessons.append(_named(finding, self._lessons))
        if finding is None and self.shape is FREE and self.place >= len(self._lessons):
            self._review()
            return
        self.found[self.place] = finding
        if self._alone:
            self._alone = False
            self._review()
            return
        self.place += 1
        self._since = self._now
        if self.place >= len(self._lessons) and self.shape is not FREE:
            self._review()

    def _review(self) -> None:
        self.phase = Phase.REVIEW
        self._since = self._now

    def _clear(self, now: Micros) -> None:
        self._pressed.clear()
        self._busy_since, self._held_back = None, False
        self._quiet_since = now
        self._since = now
        for axis in self._axes.values():
            axis.out = 0.0

    # The rest

    def _begin_rest(self, now: Micros, said: str = "") -> None:
        self._since, self.said = now, said
        for axis in self._axes.values():
            axis.begin_rest()

    def _rested(self) -> None:
        for axis in self._axes.values():
            axis.end_rest(self._now)
        self.said = _("Something is held down. It is ignored until it is released.") if self._stuck else ""
        self.phase = Phase.ASK
        self._clear(self._now)

    # What a person may do at any time

    def skip(self, now: Micros) -> None:
        """The thing that is asked for is not there."""
        self._now = max(self._now, now)
        if self.phase is Phase.ASK:
            self.said = ""
            self._clear(self._now)
            self._next(None)

    def back(self, now: Micros) -> None:
        """Ask for the thing before this one again."""
        self._now = max(self._now, now)
        if self.phase is Phase.REVIEW:
            self.phase = Phase.ASK
            self.place = len(self._lessons)
        if self.phase is Phase.ASK and self.place > 0:
            self.place -= 1
            self.found.pop(self.place, None)
            if self.shape is FREE:
                self._lessons = self._lessons[: self.place]
        self._alone = False
        self.said = ""
        self._since = self._now

    def correct(self, control: str, now: Micros) -> None:
        """Ask for one control again, then come back to the review."""
        number = next((n for n, lesson in enumerate(self._lessons) if lesson.control == control), None)
        if number is None or self.phase is Phase.REST:
            return
        self._now = max(self._now, now)
        self._alone = self.phase is Phase.REVIEW
        self.phase, self.place, self.said = Phase.ASK, number, ""
        self.found.pop(number, None)
        self._clear(self._now)

    def review(self, now: Micros) -> None:
        """That is all there is: the rest is left out."""
        self._now = max(self._now, now)
        if self.phase is Phase.ASK:
            self._review()

    def keep(self) -> None:
        """It is right as it is."""
        self.phase = Phase.STORED

    # What was learned

    def setup(self, model: str) -> ControllerSetup:
        """What was taught, as it is kept."""
        inputs: list[InputMapping] = []
        for number, finding in sorted(self.found.items()):
            if finding is not None:
                entry = self._axes[finding.axis].range if finding.axis is not None else None
                inputs += inputs_for(self._lessons[number], finding, entry)
        merged = both_ways(inputs)
        names = {c: n for c, n in self.shape.names.items() if any(input_.control == c for input_ in merged)}
        return ControllerSetup(model, tuple(merged), shape=self.shape.id, names=names)


def _one_of(
    keys: set[int], axes: Mapping[int, float], known: Mapping[int, TaughtAxis], stays: bool
) -> Discovery | None:
    """The one thing that is meant, or None."""
    if len(keys) > 1:
        return None
    key = next(iter(keys), None)
    ranked = sorted(axes.items(), key=lambda entry: -abs(entry[1]))
    if len(ranked) > 1 and abs(ranked[0][1]) < CLEARLY * abs(ranked[1][1]):
        return None
    if not ranked:
        return Discovery(key=key)
    code, out = ranked[0]
    axis = known[code]
    if key is not None and (is_hat(code) or not axis.rests_at_an_end):
        return None  # no depth of a button
    finding = Discovery(key, code, 1 if out > 0 else -1, axis.rest)
    if stays:
        axis.rest = axis.value
    return finding


def _named(finding: Discovery, lessons: Sequence[ShapeLesson]) -> ShapeLesson:
    """On a free walk: the next free name for what was found."""
    there = {lesson.control for lesson in lessons}
    if finding.axis is not None and is_hat(finding.axis):
        pair = ("dpad_left", "dpad_right") if not finding.axis % 2 else ("dpad_up", "dpad_down")
        name = pair[finding.way > 0]
        if finding.axis <= ABS_HAT0X + 1 and name not in there:
            return ShapeLesson(name, "", "")
    stem, most, way = ("axis", 8, "more") if finding.axis is not None and finding.key is None else ("button", 32, "")
    number = next((n for n in range(1, most + 1) if f"{stem}_{n}" not in there), most)
    return ShapeLesson(f"{stem}_{number}", way, "")  # type: ignore[arg-type]


def _turned_stick(code: int, known: Known, lessons: Sequence[ShapeLesson]) -> bool:
    """Whether the other side of an axis is a stick's, so that this side is the same stick."""
    numbers = [known[raw_input] for raw_input in (("axis", code, 1), ("axis", code, -1)) if raw_input in known]
    return any(lessons[n].way in ("right", "down") for n in numbers)


def _known_as(keys: set[int], axes: Mapping[int, float], known: Known) -> int | None:
    """Which request took one of these, if one did."""
    raw_inputs = [("key", code, 0) for code in keys] + [("axis", c, 1 if out > 0 else -1) for c, out in axes.items()]
    raw_inputs += [(kind, code, -way) for kind, code, way in raw_inputs if kind == "axis"]
    return next((known[raw_input] for raw_input in raw_inputs if raw_input in known), None)


def _known_by(found: Mapping[int, Discovery | None]) -> Known:
    """What has been found, by its parts."""
    return {
        raw_input: number
        for number, discovery in found.items()
        if discovery is not None
        for raw_input in discovery.raw_inputs
    }
