"""What a control says when nobody touches it: centre, noise, drift, spectrum, and how the spring brings it back.

The bound is the distance from zero within which every reading of an hour at rest lies. Two seconds hold too few
readings to have seen the farthest, so it is reckoned: the farthest place that the stick may rest at, plus so many
standard deviations that a reading of normal noise gets beyond with a chance of `MISS` in the whole hour. About zero
that is the tail of the Rayleigh distribution, exp(-k²/2); far off zero only the noise outwards counts, the tail of the
normal one.
"""

from __future__ import annotations

from math import hypot, log, sqrt

import numpy as np
from scipy.special import ndtri

from nubshift.analysis.trace import EVEN, Floats, Trace, evenly
from nubshift.records import Record

ENOUGH = 2.0
"""Seconds at rest that a measurement needs."""
HOUR = 3600.0
MISS = 0.01
OUT = 0.4
"""Beyond this the stick was moved on purpose."""
NEAR = 0.35
"""A stick that is let go of is within this, however worn."""
CALM_SPAN = 0.1
"""Seconds of which the spread is looked at."""
CALM_SPREAD = 0.12
"""Largest spread of these, on each axis, for the stick to count as let go of."""
TRIM = 0.06
"""Seconds left out at both ends of a rest."""
SHORTEST = 0.25
"""Seconds that a rest must last to count."""
RETURNS = 4
"""So many returns from different sides tell how the spring brings the stick back."""


class Return(Record, frozen=True):
    """One rest: its mean place, its seconds, and the angle from which the stick came (radians, None: not seen)."""

    place: tuple[float, float]
    seconds: float
    came_from: float | None


class Rest(Record, frozen=True):
    """A control at rest, in shares of its reach.

    `noise` is the standard deviation along each axis, `within` the radius about zero that holds 99.9 % of the readings,
    `drift` how far the mean moves in a minute, `spread` how far from its centre the spring may leave the stick (0 while
    fewer than `RETURNS` returns were seen). `frequencies` (Hz) and `amplitudes` are the spectrum of the larger axis.
    """

    seconds: float
    readings: int
    every: float
    centre: tuple[float, float]
    noise: tuple[float, float]
    within: float
    drift: float
    spread: float
    returns: tuple[Return, ...]
    frequencies: Floats
    amplitudes: Floats

    @property
    def offset(self) -> float:
        """How far from zero it rests."""
        return hypot(*self.centre)

    @property
    def bound(self) -> float:
        """The distance from zero that no reading of an hour at rest exceeds; see the module."""
        missed = MISS * self.every / HOUR
        far_off = self.offset + self.spread > 4.0 * max(self.noise)
        k = float(-ndtri(missed)) if far_off else sqrt(-2.0 * log(missed))
        angles = np.linspace(0.0, 2.0 * np.pi, 72, endpoint=False)
        along = np.stack((np.cos(angles), np.sin(angles)))
        sigma = np.sqrt((np.asarray(self.noise)[:, None] ** 2 * along**2).sum(axis=0))
        reach = np.asarray(self.centre) @ along + k * sigma
        farthest = max((hypot(*r.place) for r in self.returns), default=0.0)
        return float(max(reach.max() + self.spread, farthest + k * max(self.noise) if self.spread == 0.0 else 0.0))

    @property
    def peak(self) -> tuple[float, float] | None:
        """The frequency that stands out of the noise (Hz) and its amplitude, or None where none does."""
        if len(self.amplitudes) < 8:
            return None
        at = int(np.argmax(self.amplitudes))
        usual = float(np.median(self.amplitudes))
        if self.amplitudes[at] < 6.0 * max(usual, 1e-9) or self.amplitudes[at] < 0.002:
            return None
        return float(self.frequencies[at]), float(self.amplitudes[at])


def rests(trace: Trace, until: float | None = None) -> list[tuple[Trace, float | None]]:
    """The stretches in which the control was let go of, trimmed, each with the angle from which it came."""
    if len(trace) == 0:
        return []
    even = evenly(trace, until)
    size = np.hypot(even.values[:, 0], even.values[:, -1] if even.values.shape[1] > 1 else 0.0)
    span = max(2, round(CALM_SPAN / EVEN))
    if len(even) < span:
        return []
    windows = np.lib.stride_tricks.sliding_window_view(even.values, span, axis=0)
    calm_here = (windows.max(axis=2) - windows.min(axis=2) < CALM_SPREAD).all(axis=1)
    calm = np.zeros(len(even), dtype=bool)
    for shift in range(span):
        calm[shift : shift + len(calm_here)] |= calm_here
    calm &= size < NEAR
    edges = np.flatnonzero(np.diff(np.concatenate(([0], calm.astype(np.int8), [0]))))
    found = []
    trim = round(TRIM / EVEN)
    for begin, end in zip(edges[::2], edges[1::2], strict=True):
        first, last = begin + (trim if begin else 0), end - trim  # what is counted once stays counted
        if (last - first) * EVEN >= SHORTEST:
            out = np.flatnonzero(size[:begin] > OUT)
            came = (
                float(np.arctan2(even.values[out[-1], 1], even.values[out[-1], 0])) if len(out) and _two(even) else None
            )
            found.append((Trace(even.t[first:last], even.values[first:last]), came))
    return found


def _two(trace: Trace) -> bool:
    return bool(trace.values.shape[1] > 1)


def rest_of(trace: Trace, until: float | None = None, every: float | None = None) -> Rest | None:
    """What the rests of a trace say, or None while they last less than `ENOUGH` altogether.

    `until` is the time (s) up to which a silent control is known to have stayed as it was, `every` the seconds between
    reports if they are known better than from this trace.
    """
    parts = rests(trace, until)
    seconds = sum(len(part) * EVEN for part, _ in parts)
    if seconds < ENOUGH:
        return None
    values = [_as_pairs(part.values) for part, _ in parts]
    means = [part.mean(axis=0) for part in values]
    everything = np.concatenate(values)
    spare = np.concatenate([part - mean for part, mean in zip(values, means, strict=True)])
    sigma = np.sqrt((spare**2).sum(axis=0) / max(1, len(spare) - len(parts)))
    returns = tuple(
        Return((float(mean[0]), float(mean[1])), len(part) * EVEN, came)
        for (part, came), mean in zip(parts, means, strict=True)
    )
    centre, spread = _spring(returns, float(sigma.max()))
    longest = max(range(len(values)), key=lambda index: len(values[index]))
    frequencies, amplitudes = _spectrum(values[longest])
    every = every or (float(np.median(np.diff(trace.t))) if len(trace) > 10 else EVEN)
    return Rest(
        seconds=seconds,
        readings=len(everything),
        every=max(every, 0.0005),
        centre=centre,
        noise=(float(sigma[0]), float(sigma[1])),
        within=float(np.quantile(np.hypot(everything[:, 0], everything[:, 1]), 0.999)),
        drift=_drift(values[longest]),
        spread=spread,
        returns=returns,
        frequencies=frequencies,
        amplitudes=amplitudes,
    )


def _as_pairs(values: Floats) -> Floats:
    return values[:, :2] if values.shape[1] > 1 else np.column_stack((values[:, 0], np.zeros(len(values))))


def _spring(returns: tuple[Return, ...], noise: float) -> tuple[tuple[float, float], float]:
    """The centre of all rests and how far from it the spring leaves the stick, towards where it came from.

    Least squares of place = centre + spread · direction. Too few returns, or all from one side, tell the centre alone.
    """
    weights = np.asarray([r.seconds for r in returns])
    places = np.asarray([r.place for r in returns])
    mean = (places * weights[:, None]).sum(axis=0) / weights.sum()
    known = [r for r in returns if r.came_from is not None]
    angles = np.asarray([r.came_from for r in known], dtype=np.float64)
    if len(known) < RETURNS or abs(np.exp(1j * angles).mean()) > 0.7:
        return (float(mean[0]), float(mean[1])), 0.0
    rows, wanted = [], []
    for angle, found in zip(angles, known, strict=True):
        rows += [[1.0, 0.0, np.cos(angle)], [0.0, 1.0, np.sin(angle)]]
        wanted += [found.place[0], found.place[1]]
    (x, y, spread), *_ = np.linalg.lstsq(np.asarray(rows), np.asarray(wanted), rcond=None)
    blur = noise / np.sqrt(min(r.seconds for r in known) / EVEN)  # what chance does to the mean of a rest
    spread = spread if spread > 3.0 * blur * np.sqrt(2.0 / len(known)) else 0.0
    off = [
        hypot(r.place[0] - x - spread * np.cos(a), r.place[1] - y - spread * np.sin(a))
        for r, a in zip(known, angles, strict=True)
    ]
    return (float(x), float(y)), float(spread + max(0.0, max(off) - 3.0 * blur))


def _drift(values: Floats) -> float:
    """How far the mean moves in a minute, from the slope over this stretch; 0 where the noise hides it."""
    t = np.arange(len(values)) * EVEN
    if t[-1] < 1.0:
        return 0.0
    centred = t - t.mean()
    slopes = centred @ values / (centred @ centred)
    left = values - values.mean(axis=0) - centred[:, None] * slopes
    error = np.sqrt((left**2).sum(axis=0) / (len(t) - 2) / (centred @ centred))
    sure = np.abs(slopes) > 4.0 * error
    return float(hypot(*(slopes * sure)) * 60.0)


def _spectrum(values: Floats) -> tuple[Floats, Floats]:
    """Frequencies (Hz) and amplitudes of the noisier axis, with a Hann window; the mean is taken out."""
    axis = int(np.argmax(values.std(axis=0)))
    spare = values[:, axis] - values[:, axis].mean()
    window = np.hanning(len(spare))
    amplitudes: Floats = np.asarray(2.0 * np.abs(np.fft.rfft(spare * window)) / window.sum(), dtype=np.float64)
    return np.asarray(np.fft.rfftfreq(len(spare), EVEN), dtype=np.float64)[1:], amplitudes[1:]
