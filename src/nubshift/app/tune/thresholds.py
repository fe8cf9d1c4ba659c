"""Where something begins on the way of a trigger or lone axis, and what each part of the way sends (N20, N30, N40)."""

from __future__ import annotations

from collections.abc import Sequence

from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import Binding, Feel
from nubshift.model.roles import KeysRole
from nubshift.model.sends import Sends
from nubshift.records import Record
from nubshift.texts import _


class Threshold(Record, frozen=True):
    """A depth at which something begins, on both sides where there are two. `until` is where it ends, a little below.

    `field` is the feel's, or ``band:N`` for the N-th depth of the binding.
    """

    field: str
    depth: float
    until: float
    word: str
    parameter: p.Parameter

    def text(self) -> str:
        """``presses at 30 %``."""
        return f"{self.word} {self.parameter.text(self.depth)}"


def thresholds_of(control: str, feel: Feel, binding: Binding | None, tuned: bool) -> list[Threshold]:
    """What can be taken hold of, by depth; nothing where nothing begins."""
    role = binding.role if binding is not None else None
    if binding is not None and binding.bands:
        return [
            Threshold(f"band:{index}", band.start, band.start - p.BAND_HYSTERESIS, _("from"), p.BAND_FROM)
            for index, band in enumerate(binding.bands)
        ]
    if tuned:
        return [
            Threshold("inner", number(feel.inner), number(feel.inner), _("dead zone"), p.INNER),
            Threshold("outer", number(feel.outer), number(feel.outer), _("full output at"), p.OUTER),
        ]
    if isinstance(role, KeysRole):
        at = number(feel.key_radius)
        return [Threshold("key_radius", at, at - p.KEY_HYSTERESIS, _("presses at"), p.KEY_RADIUS)]
    if role is None and kind_of(control) is Kind.TRIGGER:
        at = number(feel.press_at)
        return [Threshold("press_at", at, at - p.PRESS_HYSTERESIS, _("presses at"), p.PRESS_AT)]
    return []


def parts_of(
    binding: Binding | None, thresholds: Sequence[Threshold], two_sided: bool
) -> list[tuple[float, float, Sends]]:
    """The parts of the way that send something: from, to (shares of the reach, below 0 on the lower side), and what."""
    if binding is None or not thresholds or thresholds[0].field == "inner":
        return []
    role = binding.role
    edges = [*(t.depth for t in thresholds), 1.0]
    if binding.bands:
        above = [(edges[i], edges[i + 1], band.what) for i, band in enumerate(binding.bands)]
        below = [(-high, -low, what) for low, high, what in above] if two_sided else []
        return [*reversed(below), *above]
    if isinstance(role, KeysRole):
        below = [(-1.0, -edges[0], role.left)] if two_sided else []
        return [*below, (edges[0], 1.0, role.right)]
    pressed = binding.press or binding.hold or binding.tap
    return [(edges[0], 1.0, pressed)]
