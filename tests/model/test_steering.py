"""What the mouse moves decides in which unit its speeds are read (N45)."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.profile import BASE, Game
from nubshift.model.reading import parse_profile
from nubshift.model.steering import as_read, counts_per_degree, moves
from nubshift.model.writing import profile_text
from tests.support.profiles import made


def test_a_cursors_speeds_read_in_pixels_and_a_views_in_degrees() -> None:
    view = made({"base": {}}, game={"counts_per_turn": 3600.0})
    cursor = edits.with_game(view, moves="cursor")
    assert as_read(p.SPEED, view, BASE) is p.SPEED
    assert as_read(p.SPEED, cursor, BASE).text(180) == "1\u202f800\u202fpx/s"
    assert as_read(p.GYRO_RATIO, cursor, BASE).text(2.5) == "25\u202fpx"
    assert as_read(p.POINTER_SPEED, cursor, BASE).unit == "px"
    assert as_read(p.INNER, cursor, BASE) is p.INNER


def test_a_layer_may_move_something_else() -> None:
    profile = made({"base": {}, "map": {}}, game={"counts_per_turn": 3600.0})
    profile = edits.with_layer_set(profile, "map", moves="cursor", counts_per_turn=7200.0)
    assert (moves(profile, BASE), moves(profile, "map")) == ("view", "cursor")
    assert counts_per_degree(profile, "map") == pytest.approx(20)
    assert parse_profile(profile_text(profile), "file") == profile
    assert moves(replace(profile, game=Game("T", moves="cursor")), BASE) == "cursor"
