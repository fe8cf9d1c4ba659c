"""One table for each union of kinds: what must know a kind that is added. mypy names the matches, this the rest."""

from __future__ import annotations

from typing import Any, get_args

import pytest
from msgspec.structs import fields

from nubshift.engine.compile import compile_profile
from nubshift.engine.program import GestureSet
from nubshift.model.fair_play import fair_play
from nubshift.model.profile import BASE, GESTURES, Binding, Profile
from nubshift.model.reading import parse_profile
from nubshift.model.roles import Role
from nubshift.model.sends import ChangeLayer, Send, SendNothing
from nubshift.model.sentences import GESTURE_NAMES, role_name, send_name
from nubshift.model.slots import Slot
from nubshift.model.usage import entered_by
from nubshift.model.walk import each_send, places
from nubshift.model.writing import profile_text
from tests.model.test_demo import BINDINGS, PROFILES

BY_KIND: dict[type, tuple[Profile, Any]] = {
    type(send): (profile, send)
    for profile in PROFILES.values()
    for place in places(profile)
    for _, send in each_send(place.sends)
}


@pytest.mark.parametrize("kind", get_args(Send))
def test_every_kind_of_output_is_named_compiled_stored_and_judged(kind: type) -> None:
    from nubshift.model import edits

    profile, send = BY_KIND[kind]
    assert send_name(profile, send).strip()
    alone = edits.with_sends(profile, Slot(BASE, "start"), (send,))
    assert parse_profile(profile_text(alone), "file") == alone
    list(fair_play(alone))
    entry = compile_profile(alone).buttons["1", "start"].presses[0]
    assert isinstance(entry, GestureSet)
    steps = entry.press.keys if entry.press is not None else ()
    assert bool(steps) != isinstance(send, SendNothing), "an unknown output is never nothing"
    names = {field.name for field in fields(kind)}
    if names & {"layer", "layers"} and not (isinstance(send, ChangeLayer) and send.how == "leave"):
        assert entered_by(send)


@pytest.mark.parametrize("kind", get_args(Role))
def test_every_kind_of_role_is_named_and_acts(kind: type) -> None:
    binding: Binding = next(b for b in BINDINGS if isinstance(b.role, kind))
    profile = next(p for p in PROFILES.values() if any(binding in layer.bindings for layer in p.layers))
    assert binding.role is not None
    assert role_name(profile, binding.role).strip()
    positions = compile_profile(profile).positions[binding.seat, binding.control].positions
    assert any(isinstance(getattr(position, "role", None), kind) for position in positions) or binding.control == "dpad"


def test_every_gesture_has_a_name_and_a_place() -> None:
    assert set(GESTURE_NAMES) == set(GESTURES) == {f for f in GestureSet.__struct_fields__ if f in GESTURE_NAMES}
