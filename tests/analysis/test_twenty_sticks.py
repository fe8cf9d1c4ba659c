"""Twenty simulated sticks with known faults: the proposed dead zone leaves no drift and wastes hardly any travel."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, hypot, pi, sin
from random import Random

import numpy as np
import pytest

from nubshift.analysis.proposals import Proposal, dead_zone, outer_edge
from nubshift.analysis.reach import reach_of
from nubshift.analysis.rest import rest_of
from nubshift.analysis.trace import trace_of
from nubshift.devices.faults import Faults
from nubshift.feel.response import response
from nubshift.feel.zone import zone
from nubshift.model.profile import Feel, merged_feel

EVERY = 4000
"""µs between reports."""
HOUR = 3_600_000_000 // EVERY
MOST = 0.02
"""Travel that a proposal may cost beyond the best possible dead zone, as a share of the reach."""

STICKS: dict[str, Faults] = {
    "as new": Faults(noise=0.001),
    "quiet and true": Faults(),
    "some noise": Faults(noise=0.004),
    "more noise": Faults(noise=0.008),
    "much noise": Faults(noise=0.014),
    "off to the right": Faults(noise=0.002, offset=(0.05, 0.0)),
    "off to a corner": Faults(noise=0.003, offset=(-0.06, 0.08)),
    "far off": Faults(noise=0.002, offset=(0.0, -0.16)),
    "off, without noise": Faults(offset=(0.03, 0.02)),
    "spring a little stuck": Faults(noise=0.002, stuck=0.02),
    "spring stuck": Faults(noise=0.003, stuck=0.06),
    "spring badly stuck": Faults(noise=0.004, stuck=0.12),
    "square gate": Faults(noise=0.003, gate="square"),
    "square gate, off": Faults(noise=0.003, offset=(0.04, 0.03), gate="square"),
    "short reach": Faults(noise=0.003, reach=(0.8, 0.8, 0.8, 0.8)),
    "short to one side": Faults(noise=0.003, reach=(0.95, 0.93, 0.72, 0.94)),
    "noise and offset": Faults(noise=0.01, offset=(0.05, -0.04)),
    "stuck and off": Faults(noise=0.004, offset=(-0.05, 0.02), stuck=0.05),
    "short, noisy, stuck": Faults(noise=0.008, stuck=0.04, reach=(0.85, 0.9, 0.82, 0.88)),
    "all at once": Faults(noise=0.009, offset=(0.04, 0.05), stuck=0.05, reach=(0.9, 0.8, 0.85, 0.86), gate="square"),
}


class Bench:
    """A stick in a hand: reports every 4 ms of where the hand holds it."""

    def __init__(self, faults: Faults, seed: int) -> None:
        self.faults = faults
        self.random = Random(seed)
        self.t = 0
        self.reports: list[tuple[float, ...]] = []
        self._came_from: float | None = None

    def hold(self, x: float, y: float, ms: float) -> None:
        for _ in range(round(ms * 1000 / EVERY)):
            self.t += EVERY
            self.reports.append((self.t, *self.faults.sensed(x, y, self._came_from, self.random)))

    def flick(self, angle: float) -> None:
        """Out and let go of, as the window asks for it."""
        for share in (0.3, 0.7, 1.0, 1.0, 0.6, 0.2):
            self.hold(share * cos(angle), share * sin(angle), 8)
        self._came_from = angle
        self.hold(0.0, 0.0, 500)

    def circle(self, times: int) -> None:
        steps = 400
        for step in range(times * steps):
            angle = 2 * pi * step / steps
            self.hold(cos(angle), sin(angle), 8)


def measured(faults: Faults, seed: int) -> tuple[Proposal, Proposal]:
    bench = Bench(faults, seed)
    bench.hold(0.0, 0.0, 2200)
    for angle in (0.1, 1.7, 3.3, 4.6, 0.9, 2.5, 4.0, 5.5):
        bench.flick(angle)
    rest = rest_of(trace_of(bench.reports))
    assert rest is not None
    bench.reports.clear()
    bench.circle(2)
    return dead_zone(rest), outer_edge(reach_of(trace_of(bench.reports)))


def hour_of_rest(faults: Faults, seed: int) -> np.ndarray:
    """Readings of an hour at rest, in which the stick was let go of every twenty seconds from another side."""
    chance = np.random.default_rng(seed)
    angles = np.repeat(chance.uniform(0, 2 * pi, 180), HOUR // 180)
    rest = np.asarray(faults.offset) + faults.stuck * np.column_stack((np.cos(angles), np.sin(angles)))
    return np.round(rest + chance.normal(0, faults.noise or 1e-12, rest.shape), 4)


@dataclass(frozen=True)
class Row:
    name: str
    inner: float
    best: float
    beyond: int
    outer: float
    shortest: float


def row_of(name: str, number: int) -> tuple[Row, np.ndarray]:
    inner, outer = measured(STICKS[name], number)
    readings = hour_of_rest(STICKS[name], 1000 + number)
    sizes = np.hypot(*readings.T)
    edge = [hypot(*STICKS[name].place(cos(a), sin(a), None)) for a in np.linspace(0, 2 * pi, 720)]
    beyond = int((sizes > inner.value).sum())
    return Row(name, inner.value, float(sizes.max()), beyond, outer.value, min(edge)), readings


@pytest.mark.parametrize(("number", "name"), list(enumerate(STICKS)), ids=list(STICKS))
def test_the_accepted_proposal_leaves_no_drift_and_wastes_no_travel(
    number: int, name: str, record_property: pytest.FixtureRequest, capsys: pytest.CaptureFixture[str]
) -> None:
    row, readings = row_of(name, number)
    with capsys.disabled():
        print(
            f"\n{row.name:24} proposed {row.inner:.3f}  best {row.best:.4f}  costs {row.inner - row.best:+.4f}  "
            f"beyond it {row.beyond} of {HOUR:,}  edge {row.outer:.3f} of {row.shortest:.3f}",
            end="",
        )
    assert row.beyond == 0
    assert row.inner - row.best <= MOST
    assert row.shortest * 0.95 <= row.outer <= row.shortest
    # and in the engine's own words: the farthest readings move nothing, and full tilt is full speed
    respond = response(merged_feel((Feel("right_stick", inner=row.inner, outer=row.outer),)))
    farthest = readings[np.argsort(np.hypot(*readings.T))[-1000:]]
    assert all(respond(float(x), float(y)) == (0.0, 0.0, False) for x, y in farthest)
    assert zone(row.shortest, row.inner, row.outer) == 1.0


def test_a_dead_zone_that_is_too_small_would_be_caught() -> None:
    """The hour of rest is no formality: a little less than the best, and readings get out."""
    row, readings = row_of("noise and offset", 16)
    assert (np.hypot(*readings.T) > row.best - 0.01).any()
