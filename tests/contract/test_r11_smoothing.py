"""Contract R11: smoothing with the one-euro filter, against the paper (Casiez, Roussel, Vogel, CHI 2012)."""

from __future__ import annotations

from math import hypot, pi, sin, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.feel.euro import OneEuro, factor
from nubshift.model.roles import GyroRole, MouseRole
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import made


def by_the_paper(values: list[float], rate: float, mincutoff: float, beta: float, dcutoff: float = 1.0) -> list[float]:
    """The algorithm as printed in the paper's appendix, written out again, value by value."""

    def alpha(cutoff: float) -> float:
        tau = 1.0 / (2 * pi * cutoff)
        te = 1.0 / rate
        return 1.0 / (1.0 + tau / te)

    found: list[float] = []
    xhat = dxhat = 0.0
    for index, x in enumerate(values):
        if index == 0:
            xhat, dxhat = x, 0.0
        else:
            dx = (x - xhat) * rate
            edx = alpha(dcutoff) * dx + (1 - alpha(dcutoff)) * dxhat
            dxhat = edx
            cutoff = mincutoff + beta * abs(edx)
            xhat = alpha(cutoff) * x + (1 - alpha(cutoff)) * xhat
        found.append(xhat)
    return found


@pytest.mark.parametrize(("min_cutoff", "beta"), [(1.0, 0.0), (2.0, 0.5), (0.5, 3.0), (10.0, 0.1)])
def test_it_does_what_the_paper_says(min_cutoff: float, beta: float) -> None:
    values = [sin(k / 7) + 0.2 * sin(k * 1.7) for k in range(400)]
    one = OneEuro(min_cutoff, beta)
    ours = [one.step(value, 1 / 250) for value in values]
    assert ours == pytest.approx(by_the_paper(values, 250, min_cutoff, beta), abs=1e-12)


@given(
    st.lists(st.floats(-1, 1), min_size=1, max_size=60),
    st.floats(0.5, 30),
    st.floats(0, 5),
    st.sampled_from([100, 250, 1000]),
)
def test_any_signal_is_filtered_as_the_paper_says(
    values: list[float], min_cutoff: float, beta: float, rate: int
) -> None:
    one = OneEuro(min_cutoff, beta)
    ours = [one.step(value, 1 / rate) for value in values]
    assert ours == pytest.approx(by_the_paper(values, rate, min_cutoff, beta), abs=1e-9)


@pytest.mark.parametrize("cutoff", [1.0, 3.0, 10.0])
def test_its_step_response_has_the_time_constant_of_the_cut_off(cutoff: float) -> None:
    one = OneEuro(cutoff, 0.0)
    one.step(0.0, 1 / 1000)
    tau = 1 / (2 * pi * cutoff)
    reached = [one.step(1.0, 1 / 1000) for _ in range(round(tau * 1000))]
    assert reached[-1] == pytest.approx(1 - 1 / 2.718281828, abs=0.02)


@pytest.mark.parametrize("cutoff", [2.0, 5.0])
def test_at_the_cut_off_the_amplitude_is_three_decibels_down(cutoff: float) -> None:
    one = OneEuro(cutoff, 0.0)
    out = [one.step(sin(2 * pi * cutoff * k / 2000), 1 / 2000) for k in range(20_000)]
    assert max(out[10_000:]) == pytest.approx(1 / sqrt(2), abs=0.01)


def test_the_smoothing_factor() -> None:
    assert factor(1.0, 0.01) == pytest.approx(1 / (1 + 1 / (2 * pi * 1.0) / 0.01))


# In the engine

SMOOTH = {"inner": 0.0, "outer": 1.0, "min_cutoff": 2.0, "beta": 0.0, "speed": 360.0}


def stick() -> Desk:
    return Desk(made({"base": {"right_stick": MouseRole()}}, {"base": {"right_stick": SMOOTH}}))


def test_a_stick_is_stepped_on_ticks() -> None:
    """Counts over each tick follow the filter's output, stepped once a tick with the value of the moment."""
    desk = stick()
    wanted = [0.2, 0.2, 0.9, 0.9, 0.9, 0.4, 0.4, 0.4]
    one = OneEuro(2.0, 0.0)
    gathered = 0.0
    speed = 0.0
    for k, value in enumerate(wanted):
        t = k * 4 * MS + 1000
        desk.at(t, right_stick=(value, 0.0))
        desk.to((k + 1) * 4 * MS)
        gathered += speed * 4e-3 * (360 * 25)
        speed = one.step(value, 4e-3)
        assert moved(desk.log)[0] == pytest.approx(gathered, abs=0.51)


def test_it_is_zero_at_once_when_the_dead_zone_gives_zero() -> None:
    desk = stick()
    desk.at(0, right_stick=(1.0, 0.0))
    desk.to(100 * MS)
    desk.at(101 * MS, right_stick=(0.0, 0.0))
    desk.to(104 * MS)
    before = moved(desk.log)
    desk.to(900 * MS)
    assert moved(desk.log) == before
    assert desk.engine.next_deadline is None


def test_after_rest_it_begins_anew() -> None:
    desk = stick()
    desk.at(0, right_stick=(1.0, 0.0))
    desk.to(200 * MS)
    desk.at(200 * MS, right_stick=(0.0, 0.0))
    desk.to(300 * MS)
    before = moved(desk.log)[0]
    desk.at(300 * MS, right_stick=(-0.1, 0.0))
    desk.to(340 * MS)
    assert moved(desk.log)[0] - before == pytest.approx(-0.1 * 0.036 * 9000, abs=1.1)


def test_the_gyro_is_stepped_on_reports() -> None:
    feel = {"gyro_ratio": 1.0, "gyro_threshold": 0.0, "min_cutoff": 3.0, "beta": 0.02}
    desk = Desk(made({"base": {"motion": GyroRole()}}, {"base": {"motion": feel}}))
    rates = [100.0 * sin(k / 20) for k in range(200)]
    one = OneEuro(3.0, 0.02)
    total = 0.0
    for k, rate in enumerate(rates):
        desk.at(k * 5 * MS, motion=(rate, 0.0))
        smoothed = one.step(rate, 5e-3 if k else 0.0)
        total += smoothed * (5e-3 if k else 0.0) * 25
        assert moved(desk.log)[0] == pytest.approx(total, abs=0.51)


def test_steadier_is_steadier() -> None:
    noise = [0.05 * sin(k * 2.1) for k in range(300)]
    rough, calm = OneEuro(20.0, 0.0), OneEuro(1.0, 0.0)
    spread = [hypot(*(max(f.step(v, 4e-3) for v in noise[50:]), 0.0)) for f in (rough, calm)]
    assert spread[1] < spread[0] / 3
