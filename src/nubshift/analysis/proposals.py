"""What follows from measurements: values for the feel of a control, each with the figure that it rests on.

The thresholds at which a stick is called worn rest on taste: what a player feels as a stick that is no longer true.
"""

from __future__ import annotations

from math import ceil, floor, pi, sqrt

from nubshift.analysis.compass import compass, share
from nubshift.analysis.reach import MeasuredReach
from nubshift.analysis.rest import RETURNS, Rest
from nubshift.model import parameters as p
from nubshift.records import Record
from nubshift.texts import _

STEP = 0.001
"""Proposals are whole multiples of this."""
WORN_OFFSET, WORN_SPREAD, WORN_NOISE, WORN_REACH = 0.06, 0.04, 0.015, 0.8
SHAKE = 0.005
"""Noise of a held stick that is not felt, as a share of full speed."""
EDGE_SPARE = 0.985
"""The edge lies this far within the shortest reach, so that full tilt is there without pressing hard."""
TICK_RATE = 250.0
"""Hz at which a stick's smoothing steps."""


class Proposal(Record, frozen=True):
    """A value for a field of the feel, and why. `value` is in the unit of the parameter."""

    field: str
    value: float
    reason: str

    @property
    def text(self) -> str:
        """``Dead zone 6 %``."""
        parameter = p.BY_NAME[self.field]
        return f"{parameter.label} {parameter.text(self.value)}"


def dead_zone(rest: Rest) -> Proposal:
    """The smallest dead zone in which nothing drifts for an hour."""
    value = p.INNER.clamp(round(ceil(rest.bound / STEP - 1e-9) * STEP, 6))
    seen = (
        _("99.9\u202f% of {readings:,} readings at rest lie within {share}")
        .format(readings=rest.readings, share=share(rest.within))
        .replace(",", "\u202f")
    )
    if rest.spread:
        seen = _("{seen}; it returns up to {share} off centre").format(seen=seen, share=share(rest.spread))
    elif sum(r.came_from is not None for r in rest.returns) < RETURNS:
        seen = _("{seen}; its return after release has not been measured yet").format(seen=seen)
    return Proposal("inner", value, seen)


def outer_edge(reach: MeasuredReach) -> Proposal:
    """The edge that is reached in every direction."""
    value = p.OUTER.clamp(round(floor(min(1.0, reach.shortest) * EDGE_SPARE / STEP) * STEP, 6))
    where = compass(reach.shortest_at)
    return Proposal(
        "outer", value, _("it reaches {share} at least, {where}").format(share=share(reach.shortest), where=where)
    )


def smoothing(rest: Rest, inner: float, outer: float) -> Proposal | None:
    """The least smoothing under which a held stick does not shake, or None where its noise is not felt.

    A first-order low-pass with factor a leaves sqrt(a / (2 - a)) of white noise; its cut-off is
    a / (1 - a) · rate / 2π.
    """
    shake = max(rest.noise) / max(0.05, outer - inner)
    if shake <= SHAKE:
        return None
    left = (SHAKE / shake) ** 2
    alpha = 2.0 * left / (1.0 + left)
    cutoff = alpha / (1.0 - alpha) * TICK_RATE / (2.0 * pi)
    value = p.MIN_CUTOFF.clamp(max(2.0, round(cutoff * 2.0) / 2.0))
    kept = shake * sqrt(_factor(value) / (2.0 - _factor(value)))
    return Proposal(
        "min_cutoff",
        value,
        _(
            "noise makes a held stick shake by {shake:.1f}\u202f% of full speed; smoothed like this it is "
            "{kept:.1f}\u202f%, {lag:.0f} ms late at slow aim"
        ).format(shake=shake * 100, kept=kept * 100, lag=lag(value) * 1000),
    )


def _factor(cutoff: float) -> float:
    turns = 2.0 * pi * cutoff / TICK_RATE
    return turns / (turns + 1.0)


def lag(cutoff: float) -> float:
    """How late a first-order low-pass of this cut-off (Hz) is for slow movements, in seconds; 0 for none."""
    return 1.0 / (2.0 * pi * cutoff) if cutoff > 0 else 0.0


def press_depth(rest: Rest) -> Proposal | None:
    """Where a trigger should press at least, or None if its rest is no trouble for any setting."""
    needed = rest.bound + p.PRESS_HYSTERESIS
    value = p.PRESS_AT.clamp(round(ceil(needed / 0.01) * 0.01, 2))
    if value <= p.PRESS_AT.low:
        return None
    return Proposal("press_at", value, _("released, it still reads up to {share}").format(share=share(rest.within)))


def gyro_threshold(within: float) -> Proposal:
    """Below which turning is calmed, from 99.9 % of the rates of a controller at rest (°/s)."""
    value = p.GYRO_THRESHOLD.clamp(ceil(within * 1.2 * 2.0) / 2.0)
    return Proposal(
        "gyro_threshold", value, _("at rest 99.9\u202f% of the rates are below {within:.2f} °/s").format(within=within)
    )


def wear(rest: Rest | None, reach: MeasuredReach | None) -> list[str]:
    """What is worn, in sentences; empty for a stick that is true."""
    found = []
    if rest is not None:
        if rest.offset > WORN_OFFSET:
            found.append(_("it rests {share} off centre").format(share=share(rest.offset)))
        if rest.spread > WORN_SPREAD:
            found.append(_("the spring returns it up to {share} short of its rest").format(share=share(rest.spread)))
        if max(rest.noise) > WORN_NOISE:
            found.append(_("its noise is {share}, more than that of a good stick").format(share=share(max(rest.noise))))
    if reach is not None and reach.complete and reach.shortest < WORN_REACH:
        where = compass(reach.shortest_at)
        found.append(_("it reaches only {share} {where}").format(share=share(reach.shortest), where=where))
    return found
