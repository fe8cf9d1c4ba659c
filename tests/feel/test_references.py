"""Numbers of `feel` against references that others wrote: SciPy's interpolation and rotations."""

from __future__ import annotations

from itertools import pairwise
from math import degrees

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.spatial.transform import Rotation

from nubshift.feel.curve import SHAPES, curve
from nubshift.feel.gravity import Gravity, about_gravity, turned


@st.composite
def point_lists(draw: st.DrawFn) -> tuple[tuple[float, float], ...]:
    inner = sorted(draw(st.sets(st.integers(1, 99), max_size=6)))
    heights = sorted(draw(st.lists(st.integers(0, 100), min_size=len(inner) + 2, max_size=len(inner) + 2)))
    return tuple((x / 100, y / 100) for x, y in zip((0, *inner, 100), heights, strict=True))


@given(point_lists())
def test_the_curve_is_that_of_pchip(points: tuple[tuple[float, float], ...]) -> None:
    if len(points) == 2 and points[0][1] != 0.0:
        points = ((0.0, 0.0), points[1])
    xs = np.linspace(0, 1, 301)
    reference = PchipInterpolator([x for x, _ in points], [y for _, y in points])(xs)
    ours = curve(points)
    assert np.max(np.abs(reference - [ours(float(x)) for x in xs])) < 1e-12


@pytest.mark.parametrize("shape", SHAPES)
def test_named_shapes_rise_all_the_way(shape: str) -> None:
    ours = curve(SHAPES[shape])
    values = [ours(k / 1000) for k in range(1001)]
    assert all(later >= earlier for earlier, later in pairwise(values))
    assert (values[0], values[-1]) == (0.0, 1.0)


# Gravity: a rigid body in SciPy's rotations. Axes of the pad: x right, y down, z away from the player.

DOWN = np.array([0.0, 1.0, 0.0])


def rates_of(omega: np.ndarray) -> tuple[float, float, float]:
    """Turn, nod and lean of a rotation about x, y, z in radians a second."""
    return degrees(omega[1]), -degrees(omega[0]), degrees(omega[2])


@given(st.tuples(*[st.floats(-400, 400)] * 3), st.floats(0.0005, 0.02))
def test_one_step_turns_the_direction_as_a_rigid_body_does(rates: tuple[float, float, float], step: float) -> None:
    start = np.array([0.36, 0.48, 0.8])
    body = Rotation.from_rotvec(np.radians(rates) * step)
    assert turned(tuple(start), rates, step) == pytest.approx(body.inv().apply(start), abs=1e-12)  # type: ignore[arg-type]


def play(seconds: float, shake: float, noise: float, seed: int = 2) -> tuple[float, Gravity]:
    """A pad waved about by a hand; returns the worst error of its gravity after the first second, in degrees."""
    random = np.random.default_rng(seed)
    rate, worst = 250, 0.0
    attitude = Rotation.from_euler("xyz", [20, 40, -15], degrees=True)  # from the pad's axes to the world's
    gravity = Gravity()
    for k in range(round(seconds * rate)):
        t = k / rate
        omega = np.array([1.2 * np.sin(2 * t), 1.5 * np.sin(1.3 * t + 1), 0.8 * np.sin(2.7 * t)])
        attitude = attitude * Rotation.from_rotvec(omega / rate)
        truth = attitude.inv().apply(DOWN)
        reading = truth + shake * np.sin(11 * t) * np.array([1, 0.5, -0.3]) + random.normal(0, noise, 3)
        found = gravity.step(*rates_of(omega), tuple(reading), 1 / rate)
        if t > 1:
            error = degrees(float(np.arccos(np.clip(np.dot(found, truth), -1, 1))))
            worst = max(worst, error)
    return worst, gravity


def test_gravity_is_tracked_through_turning() -> None:
    worst, _ = play(20, shake=0.0, noise=0.01)
    assert worst < 0.6


def test_shaking_does_not_fool_it() -> None:
    worst, _ = play(20, shake=0.2, noise=0.02)
    assert worst < 3.0  # the accelerometer alone is wrong by up to 13 degrees here


def test_a_wrong_start_heals() -> None:
    gravity = Gravity()
    gravity.step(0, 0, 0, (1.0, 0.0, 0.0), 0.004)  # shaken sideways at the first report
    for _ in range(int(3 / 0.004)):
        gravity.step(0, 0, 0, (0.0, 1.0, 0.0), 0.004)
    assert gravity.down == pytest.approx((0.0, 1.0, 0.0), abs=0.02)


@given(st.floats(-80, 80), st.floats(-50, 50), st.floats(-200, 200))
def test_a_turn_about_the_vertical_is_that_turn_in_any_grip(pitch: float, lean: float, rate: float) -> None:
    attitude = Rotation.from_euler("xz", [pitch, lean], degrees=True)
    omega = attitude.inv().apply(DOWN * np.radians(rate))
    down = tuple(attitude.inv().apply(DOWN))
    turn, nod = about_gravity(*rates_of(omega), down)  # type: ignore[arg-type]
    assert turn == pytest.approx(rate, abs=1e-9)
    assert nod == pytest.approx(0.0, abs=1e-9)
