"""The demo's three games (docs/architecture.md): complete, and between them with every kind of binding there is."""

from __future__ import annotations

from typing import get_args

import pytest

from nubshift.app.main import DEMOS
from nubshift.devices.player import read_script
from nubshift.devices.take import read_take
from nubshift.engine.compile import compile_profile
from nubshift.model.checks import Setting, findings
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.profile import GESTURES, Binding, Profile
from nubshift.model.roles import Role
from nubshift.model.sends import ChangeLayer, Send
from nubshift.model.store import read_profile
from nubshift.model.walk import each_send, places
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import demo_folder

PROFILES = {name: read_profile(demo_folder() / f"{name}.nubshift.json") for name in DEMOS}
BINDINGS: list[Binding] = [b for profile in PROFILES.values() for layer in profile.layers for b in layer.bindings]
SENDS: list[Send] = [s for p in PROFILES.values() for place in places(p) for _, s in each_send(place.sends)]


@pytest.mark.parametrize("kind", get_args(Send))
def test_every_kind_of_send_is_in_one_of_them(kind: type) -> None:
    assert any(isinstance(send, kind) for send in SENDS)


@pytest.mark.parametrize("kind", get_args(Role))
def test_every_role_is_in_one_of_them(kind: type) -> None:
    assert any(isinstance(binding.role, kind) for binding in BINDINGS)


def test_every_gesture_way_and_form_is_in_one_of_them() -> None:
    profiles: list[Profile] = list(PROFILES.values())
    layers = [layer for profile in profiles for layer in profile.layers]
    assert {name for binding in BINDINGS for name in binding.gestures} == set(GESTURES)
    assert {send.how for send in SENDS if isinstance(send, ChangeLayer)} == {"toggle", "once", "enter", "leave", "only"}
    assert {macro.runs for p in profiles for macro in p.macros} == {"once", "while-held", "until-pressed"}
    assert {macro.again for p in profiles for macro in p.macros} == {"ignore", "restart", "queue", "overlap"}
    assert {belt.wraps for p in profiles for belt in p.belts} == {True, False}
    assert any(entry.skip for p in profiles for belt in p.belts for entry in belt.entries)
    assert any(belt.pause for p in profiles for belt in p.belts)
    for found in (
        any(layer.together for layer in layers),
        any(layer.hides for layer in layers),
        any(layer.form == "pad" for layer in layers),
        any(layer.counts_per_turn for layer in layers),
        any(binding.blocked for binding in BINDINGS),
        any(binding.out for binding in BINDINGS),
        any(band.adds for binding in BINDINGS for band in binding.bands),
        any(band.wait for binding in BINDINGS for band in binding.bands),
        any(len(p.seats) > 1 for p in profiles),
        any(p.needed for p in profiles),
        any(command.toggles for p in profiles for command in p.commands),
        any(command.pad for p in profiles for command in p.commands),
    ):
        assert found


@pytest.mark.parametrize("name", DEMOS)
def test_each_is_whole(name: str) -> None:
    """Written as the window writes it; every control does something; what looks forgotten is meant to."""
    profile = PROFILES[name]
    assert (demo_folder() / f"{name}.nubshift.json").read_bytes() == profile_text(profile)
    assert compile_profile(profile, PROFILES).refused == ()
    said = [problem.text for problem in findings(profile, Setting(PROFILES, controls=PAD_CONTROLS))]
    assert said == (["no control sends “Sing”"] if name == "ferrow-deep" else [])
    script = read_script(demo_folder() / f"{name}.player.json")
    assert {track.control for track in script.tracks} == set(PAD_CONTROLS)
    assert len(read_take(demo_folder() / f"{name}.take")) > 500
