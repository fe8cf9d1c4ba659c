"""Is one tuning better than another? Scores of several rounds compared, with "can't tell yet" as an answer.

Welch's t-test (B. L. Welch, Biometrika 34 (1947) 28-35), on the logarithm of the scores, since errors and times vary by
factors. Lower is better for every score.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import exp, sqrt

import numpy as np
from scipy.special import stdtr, stdtrit

from nubshift.analysis.trace import Floats
from nubshift.records import Record

ENOUGH = 3
"""Rounds of each that are needed before anything is said."""
SURE = 0.95
LEAST = 1e-6


class Standing(Record, frozen=True):
    """The scores of one tuning: their geometric mean, and the range that holds it at 95 %; no range for one round."""

    rounds: int
    mean: float
    low: float | None
    high: float | None


class Verdict(Record, frozen=True):
    """Which of two is better: ``first``, ``second``, or ``open``.

    `share` is how much lower the better one's scores are, `more` about how many more rounds of each would tell if they
    go on like this; 0 if none are needed, or twenty would not do.
    """

    better: str
    share: float
    more: int = 0


def standing(scores: Sequence[float]) -> Standing | None:
    """Where a tuning stands, or None without a round."""
    if not scores:
        return None
    logs = np.log(np.maximum(scores, LEAST))
    mean = float(logs.mean())
    if len(logs) < 2:
        return Standing(1, exp(mean), None, None)
    half = float(stdtrit(len(logs) - 1, 0.5 + SURE / 2.0) * logs.std(ddof=1) / sqrt(len(logs)))
    return Standing(len(logs), exp(mean), exp(mean - half), exp(mean + half))


def compared(first: Sequence[float], second: Sequence[float]) -> Verdict:
    """Whether the scores of two tunings differ by more than chance."""
    if min(len(first), len(second)) < ENOUGH:
        return Verdict("open", 0.0, ENOUGH - min(len(first), len(second)))
    one, two = np.log(np.maximum(first, LEAST)), np.log(np.maximum(second, LEAST))
    difference = float(one.mean() - two.mean())
    spread = float(one.var(ddof=1) / len(one) + two.var(ddof=1) / len(two))
    chance = _chance(one, two, difference, spread)
    if chance > 1.0 - SURE:
        return Verdict("open", 1.0 - exp(-abs(difference)), _more(difference, spread, min(len(one), len(two))))
    return Verdict("first" if difference < 0 else "second", 1.0 - exp(-abs(difference)))


def _chance(one: Floats, two: Floats, difference: float, spread: float) -> float:
    """The chance of a difference this large if the two are alike (two-sided)."""
    if spread <= 0.0:
        return 0.0 if difference else 1.0
    parts = one.var(ddof=1) / len(one), two.var(ddof=1) / len(two)
    freedom = spread**2 / (parts[0] ** 2 / (len(one) - 1) + parts[1] ** 2 / (len(two) - 1))
    return float(2.0 * stdtr(freedom, -abs(difference) / sqrt(spread)))


def _more(difference: float, spread: float, rounds: int) -> int:
    """Rounds of each that would tell a difference as large as the present one, at most twenty, else 0."""
    if difference == 0.0 or spread <= 0.0:
        return 0
    needed = rounds * (2.5 * sqrt(spread) / abs(difference)) ** 2
    return max(1, int(needed) + 1 - rounds) if needed - rounds <= 20 else 0


def ranked(by_name: Mapping[str, Sequence[float]]) -> list[str]:
    """Names from the best mean to the worst; those without a round are left out."""
    found = {name: place for name, scores in by_name.items() if (place := standing(scores)) is not None}
    return sorted(found, key=lambda name: found[name].mean)
