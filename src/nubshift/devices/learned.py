"""What a lesson has found, as the inputs that are kept of it."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from nubshift.devices.codes import AxisRange, is_hat
from nubshift.devices.conventions import PRESS
from nubshift.model.controller_setup import InputMapping, Side
from nubshift.model.controls import Kind, kind_of
from nubshift.model.shapes import ShapeLesson


class Discovery(Struct, frozen=True):
    """What answered: a key, or an axis with the way it went (+1 or -1) from its rest; both for a button with depth."""

    key: int | None = None
    axis: int | None = None
    way: int = 0
    rest: float = 0.0

    @property
    def raw_inputs(self) -> set[tuple[str, int, int]]:
        """The parts of the hardware that it takes. A side of an axis is a part of its own."""
        found = {("key", self.key, 0)} if self.key is not None else set()
        if self.axis is not None:
            found.add(("axis", self.axis, self.way))
        return found


def inputs_for(lesson: ShapeLesson, finding: Discovery, entry: AxisRange | None) -> list[InputMapping]:
    """The inputs of what answered a lesson. `entry` is the range of its axis, if it has one."""
    kind = kind_of(lesson.control)
    if finding.axis is None or entry is None or (finding.key is not None and kind is Kind.BUTTON):
        return [InputMapping(_digital(lesson), "key", finding.key)] if finding.key is not None else []
    near = (entry.high - entry.low) / 8
    rest = round(finding.rest)
    rest = entry.low if rest - entry.low < near else entry.high if entry.high - rest < near else rest
    input_ = InputMapping(lesson.control, "axis", finding.axis, low=entry.low, rest=rest, high=entry.high)
    side: Side = "above" if finding.way > 0 else "below"
    if lesson.way in ("right", "down"):
        if is_hat(finding.axis):
            return _hat(lesson, finding.axis, entry)
        component = "x" if lesson.way == "right" else "y"
        return [replace(input_, component=component, flip=finding.way < 0)]
    if kind is Kind.BUTTON:
        return [replace(input_, side=side, press=PRESS)]
    if entry.low < rest < entry.high or finding.way < 0:
        return [replace(input_, side=side)]
    return [input_]


def _digital(lesson: ShapeLesson) -> str:
    """A stick that answers with a button is a d-pad."""
    return f"dpad_{lesson.way}" if lesson.way in ("right", "down") else lesson.control


def _hat(lesson: ShapeLesson, code: int, entry: AxisRange) -> list[InputMapping]:
    """A stick that answers with a hat is a d-pad, both ways at once."""
    pair = ("dpad_left", "dpad_right") if lesson.way == "right" else ("dpad_up", "dpad_down")
    sides: tuple[Side, Side] = ("below", "above")
    return [
        InputMapping(name, "axis", code, low=entry.low, rest=entry.middle, high=entry.high, side=side, press=PRESS)
        for name, side in zip(pair, sides, strict=True)
    ]


def both_ways(inputs: list[InputMapping]) -> list[InputMapping]:
    """Two inputs of one lone axis that are the two sides of one sensor become one (a hole to puff and sip)."""
    found: list[InputMapping] = []
    for input_ in inputs:
        twin = next(
            (
                w
                for w in found
                if (w.control, w.source, w.code) == (input_.control, input_.source, input_.code)
                and w.source == "axis"
                and w.press is None
                and w.component == input_.component
            ),
            None,
        )
        if twin is None or {twin.side, input_.side} != {"above", "below"}:
            found.append(input_)
        else:
            found[found.index(twin)] = replace(twin, side="both", flip=twin.side == "below")
    return found
