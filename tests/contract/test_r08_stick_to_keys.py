"""Contract R8: stick to keys."""

from __future__ import annotations

from math import cos, radians, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.feel.directions import angle_of, held_sector, plain_sector
from nubshift.model.roles import KeysRole
from tests.support.playing import Desk
from tests.support.profiles import four, made, sends


def at(angle: float, radius: float = 1.0) -> tuple[float, float]:
    return radius * sin(radians(angle)), -radius * cos(radians(angle))


def test_pressed_at_the_radius_released_two_hundredths_below() -> None:
    desk = Desk(made({"base": {"left_stick": four()}}))
    assert desk.at(1, left_stick=(0, -0.4999)) == []
    assert desk.at(2, left_stick=(0, -0.5)) == ["+W"]
    assert desk.at(3, left_stick=(0, -0.48)) == []
    assert desk.at(4, left_stick=(0, -0.4799)) == ["-W"]


def test_no_dead_zone_or_curve_is_applied() -> None:
    feel = {"inner": 0.4, "curve": ((0.0, 0.0), (0.5, 0.1), (1.0, 1.0))}
    desk = Desk(made({"base": {"left_stick": four()}}, {"base": {"left_stick": feel}}))
    assert desk.at(1, left_stick=(0, -0.5)) == ["+W"]


def test_the_sector_held_reaches_three_degrees_further() -> None:
    desk = Desk(made({"base": {"left_stick": four()}}))
    desk.at(1, left_stick=at(0))
    assert desk.at(2, left_stick=at(25.4)) == []
    assert desk.at(3, left_stick=at(25.6)) == ["+D"]
    assert desk.at(4, left_stick=at(19.6)) == []
    assert desk.at(5, left_stick=at(19.4)) == ["-D"]


def test_rest_forgets_the_sector() -> None:
    desk = Desk(made({"base": {"left_stick": four()}}))
    desk.at(1, left_stick=at(0))
    desk.at(2, left_stick=(0, 0))
    assert desk.at(3, left_stick=at(24)) == ["+W", "+D"]


@pytest.mark.parametrize(
    ("width", "angle", "keys"),
    [
        (0, 44.9, ["+W"]),
        (0, 45.0, ["+D"]),
        (90, 0.0, ["+W", "+D"]),
        (90, 89.9, ["+W", "+D"]),
        (45, 22.5, ["+W", "+D"]),
        (45, 67.5, ["+D"]),
        (45, 337.5, ["+W"]),
        (20, 40.0, ["+W", "+D"]),
    ],
)
def test_width_of_the_diagonals(width: float, angle: float, keys: list[str]) -> None:
    desk = Desk(made({"base": {"left_stick": four()}}, {"base": {"left_stick": {"diagonal": float(width)}}}))
    x, y = at(angle)
    assert desk.at(1, left_stick=(x, y)) == keys


def test_eight_directions_have_outputs_of_their_own() -> None:
    role = KeysRole(directions=8, up=sends("KP8"), up_right=sends("KP9"), right=sends("KP6"))
    desk = Desk(made({"base": {"left_stick": role}}))
    assert desk.at(1, left_stick=at(0)) == ["+KP8"]
    assert desk.at(2, left_stick=at(45)) == ["-KP8", "+KP9"]
    assert desk.at(3, left_stick=at(135)) == ["-KP9"]
    assert desk.at(4, left_stick=at(90)) == ["+KP6"]


def brute_sector(angle: float, width: float) -> int:
    """The sector whose half-open interval [centre - half, centre + half) holds the angle, by looking at all eight."""
    for index in range(8):
        half = (width if index % 2 else 90 - width) / 2
        if half > 0 and (angle - (45 * index - half)) % 360 < 2 * half:
            return index
    raise AssertionError("the sectors leave a gap")


@given(st.integers(0, 3599), st.integers(0, 90))
def test_plain_sectors_against_brute_force(tenths: int, width: int) -> None:
    angle = tenths / 10 + 0.013  # off the edges, where rounding decides
    assert plain_sector(angle, float(width)) == brute_sector(angle, width)


@given(st.floats(0, 359.99), st.floats(0, 90), st.integers(0, 7))
def test_a_held_sector_is_kept_only_near_its_edges(angle: float, width: float, held: int) -> None:
    half = (width if held % 2 else 90 - width) / 2
    off = abs((angle - 45 * held + 180) % 360 - 180)
    kept = half > 0 and off <= half + 3
    assert held_sector(angle, width, held, 3.0) == (held if kept else plain_sector(angle, width))


@given(st.floats(0, 359.9))
def test_angles_run_clockwise_from_up(angle: float) -> None:
    x, y = at(angle)
    assert abs((angle_of(x, y) - angle + 180) % 360 - 180) < 1e-6
