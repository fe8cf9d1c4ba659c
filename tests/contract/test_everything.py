"""Properties of the whole engine, over random profiles with every kind of binding and random input (R1, R3, R9, R12)."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import msgspec
from hypothesis import HealthCheck, given, settings

from nubshift.events import Button, Key, LayerChange, Output, Pad, Rumble, Wheel
from nubshift.model.profile import Profile
from nubshift.model.sends import PAD_BUTTONS
from tests.support.anything import Play, happenings, profiles

FEW = settings(max_examples=120, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])


def well_ordered(log: list[Output]) -> tuple[set[str], set[str]]:
    """Nothing is sent twice and no up comes without its down. Returns what is held and which layers are on."""
    held: set[str] = set()
    layers: set[str] = set()
    for output in log:
        match output:
            case Key(_, code, value) | Button(_, code, value):
                assert (code in held) != bool(value), output
                held ^= {code}
            case Pad(_, code, value) if code in PAD_BUTTONS:
                assert (f"pad:{code}" in held) != bool(value), output
                held ^= {f"pad:{code}"}
            case LayerChange(_, code, value):
                assert (code in layers) != bool(value), output
                layers ^= {code}
            case _:
                pass
    return held, layers


def said_why(play: Play, steps: list[Any]) -> None:
    """Play it. The log can say of every key, wheel notch and layer why it was sent, except of what a stop released."""
    for what, gap, seat, values in steps:
        before = len(play.sent)
        play.t += gap
        play.do(what, seat, values)
        if what in ("report", "plug"):
            for output, by in play.sent[before:]:
                if isinstance(output, Key | Button | Wheel | LayerChange):
                    assert by is not None, output


def nothing_is_sent_twice_and_no_up_without_its_down(play: Play) -> None:
    held, layers = well_ordered(play.log)
    assert held == {*play.engine.held, *(f"pad:{c}" for c in play.engine.pad if c in PAD_BUTTONS)}
    assert layers == set(play.engine.active_layers)
    assert all(earlier.t <= later.t for earlier, later in pairwise(play.log))


def after_everything_is_released_and_stopped_nothing_is_held(play: Play) -> None:
    play.let_go()
    play.do("stop", "1", ())
    held, layers = well_ordered(play.log)
    assert not held
    assert not layers
    assert play.engine.pad == {}
    assert play.engine.next_deadline is None
    assert play.engine.surfaces == ()
    assert [output.value for output in play.log if isinstance(output, Rumble)][-1:] in ([], [0.0])
    before = len(play.log)
    play.keep(play.engine.advance(play.t + 10_000_000))
    assert len(play.log) == before


def while_stopped_nothing_at_all_is_sent(play: Play, steps: list[Any]) -> None:
    play.do("stop", "1", ())
    play.log.clear()
    play.run([step for step in steps if step[0] not in ("resume", "focus", "switch")])
    assert play.log == []


@FEW
@given(profiles(), profiles(), happenings, happenings)
def test_what_holds_for_every_profile_and_every_input(
    profile: Profile, other: Profile, steps: list[Any], later: list[Any]
) -> None:
    """All properties on one play, for to make up a profile takes longer than to play it."""
    first, again, cut = (Play(profile, other) for _ in range(3))
    said_why(first, steps)
    nothing_is_sent_twice_and_no_up_without_its_down(first)
    again.run(steps)
    assert msgspec.json.encode(again.log) == msgspec.json.encode(first.log), "the same input gives the same bytes"
    cut.run(steps, cuts=3)
    assert cut.log == again.log, "dividing time into other steps changes nothing"
    after_everything_is_released_and_stopped_nothing_is_held(again)
    while_stopped_nothing_at_all_is_sent(first, later)
