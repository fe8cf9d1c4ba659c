"""The response curve."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.feel.curve import SHAPES, curve, slopes
from nubshift.feel.edge import edge_gain, edge_integral

points = st.lists(st.tuples(st.integers(1, 99), st.integers(0, 100)), max_size=6, unique_by=lambda p: p[0]).map(
    lambda inner: [
        (0.0, 0.0),
        *((x / 100, y) for (x, _), y in zip(sorted(inner), sorted(p[1] / 100 for p in inner), strict=True)),
        (1.0, 1.0),
    ]
)


@given(points)
def test_goes_through_its_points_and_never_falls(given_points: list[tuple[float, float]]) -> None:
    value = curve(given_points)
    for x, y in given_points:
        assert value(x) == pytest.approx(y, abs=1e-12)
    steps = [value(i / 500) for i in range(501)]
    assert all(b >= a - 1e-12 for a, b in pairwise(steps))
    assert min(steps) >= 0.0
    assert max(steps) <= 1.0 + 1e-12


def test_against_published_values() -> None:
    """Slopes of Fritsch and Butland for (0,0) (1,1) (3,2) (4,8), worked out by hand from the formula."""
    found = slopes([(0.0, 0.0), (1.0, 1.0), (3.0, 2.0), (4.0, 8.0)])
    first_inner = (5 + 4) / (5 / 1 + 4 / 0.5)
    second_inner = (4 + 5) / (4 / 0.5 + 5 / 6)
    assert found[1:3] == [pytest.approx(first_inner), pytest.approx(second_inner)]
    assert found[0] == pytest.approx(((2 * 1 + 2) * 1 - 1 * 0.5) / 3)
    assert found[3] == pytest.approx(((2 * 1 + 2) * 6 - 1 * 0.5) / 3)


def test_named_shapes_are_valid_and_differ() -> None:
    middles = {name: curve(shape)(0.4) for name, shape in SHAPES.items()}
    assert len(set(middles.values())) == len(SHAPES)
    assert middles["even"] == 0.4


def test_edge_integral_is_the_integral_of_the_gain() -> None:
    rise, boost = 400_000, 0.8
    for start, end in ((0, 100_000), (100_000, 600_000), (500_000, 900_000)):
        n = 20_000
        step = (end - start) / n
        sums = sum(edge_gain(round(start + (i + 0.5) * step), boost, rise) * step for i in range(n))
        assert edge_integral(start, end, boost, rise) == pytest.approx(sums, rel=1e-6)
