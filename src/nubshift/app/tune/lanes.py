"""The lanes of the last seconds in Tune: what a control said in each of its ways, and what came of that."""

from __future__ import annotations

from nubshift.app.tune.past import PastLane
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.response import number
from nubshift.model.controls import Kind
from nubshift.model.roles import GyroRole, KeysRole
from nubshift.texts import _

GYRO_FULL = 180.0
"""Degrees a second at the top of a lane."""


def lanes_of(tuner: Tuner, kind: Kind) -> tuple[PastLane, ...]:
    """Those of the control that is tuned: its parts, with the depths at which something begins."""
    feel = tuner.feel
    match kind:
        case Kind.MOTION:
            acts = isinstance(tuner.role, GyroRole)
            return (
                PastLane(
                    _("Yaw left"), _("right"), GYRO_FULL, lambda s: s.raw[0], (lambda s: s.out[0]) if acts else None
                ),
                PastLane(
                    _("Pitch up"), _("down"), GYRO_FULL, lambda s: s.raw[1], (lambda s: s.out[1]) if acts else None
                ),
                PastLane(_("Roll left"), _("right"), GYRO_FULL, lambda s: s.raw[2]),
            )
        case Kind.TRIGGER | Kind.AXIS:
            marks = tuple((t.depth, t.text()) for t in tuner.thresholds)
            marks += tuple((t.until, "") for t in tuner.thresholds if t.until < t.depth)
            if tuner.two_sided:
                marks += tuple((-depth, "") for depth, _unused in marks)
            return (
                PastLane(
                    "",
                    "",
                    1.0,
                    lambda s: s.raw[0],
                    (lambda s: s.out[0]) if tuner.answers else None,
                    marks,
                    one_side=not tuner.two_sided,
                    rises=True,
                ),
            )
        case _:
            out = tuner.answers
            edge = number(feel.key_radius) if isinstance(tuner.role, KeysRole) else 0.0
            marks = ((edge, ""), (-edge, "")) if edge else ()
            return (
                PastLane(_("left"), _("right"), 1.0, lambda s: s.raw[0], (lambda s: s.out[0]) if out else None, marks),
                PastLane(_("up"), _("down"), 1.0, lambda s: s.raw[1], (lambda s: s.out[1]) if out else None, marks),
            )
