"""What tests of Tune share: a small profile."""

from __future__ import annotations

from nubshift.app.tune.workspace import TuneWorkspace
from nubshift.model.profile import Band, Feel
from nubshift.model.roles import GyroRole, MouseRole
from nubshift.model.sends import HoldLayer
from tests.app.hand import Hand
from tests.support.profiles import four, made, sends

LOOK = made(
    {
        "base": {
            "right_stick": MouseRole(),
            "left_stick": four("W", "D", "S", "A"),
            "right_trigger": {"bands": (Band(0.3, sends("X")), Band(0.7, sends("Y")))},
            "left_trigger": sends("Z")[0],
            "select": HoldLayer("aim"),
        },
        "aim": {"motion": GyroRole()},
    }
)


def tune(hand: Hand) -> TuneWorkspace:
    return hand.window.tune


def feel(hand: Hand, control: str = "right_stick", layer: str = "base") -> Feel:
    return hand.studio.profile.feel_in(layer, "1", control)
