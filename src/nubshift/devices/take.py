"""Takes: recorded input in our own text format (docs/formats.md). One report a line, in normal form.

nubshift-take 1
# pad Moss pad
0 left_stick=0.012,-0.004 left_trigger=0
4000 left_stick=0.013,-0.41 south=1
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Set
from pathlib import Path

from nubshift.devices.evemu import looks_like_evemu, parse_evemu
from nubshift.devices.port import Timed
from nubshift.devices.simulation import Simulation
from nubshift.devices.take_limits import MOST_BYTES, MOST_TIME_DIGITS, MOST_VALUE, check_time
from nubshift.errors import StorageError, TakeError, did_you_mean
from nubshift.events import Change, Report
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import CHANNELS, CONTROLS
from nubshift.model.files import read_text
from nubshift.texts import _
from nubshift.units import Micros

HEADER = "nubshift-take 1"


def take_text(reports: Iterable[Report]) -> str:
    """The text of a take."""
    return "\n".join([HEADER, *(_line(report) for report in reports)]) + "\n"


def _line(report: Report) -> str:
    seat = "" if report.seat == "1" else f"{report.seat}:"
    words = (f"{seat}{name}={x:g},{y:g}" if y else f"{seat}{name}={x:g}" for name, x, y in report.changes)
    return " ".join([str(report.t), *words])


def read_take(path: Path) -> list[Report]:
    """The reports of a take file, in our own format or that of evemu. Raises TakeError, which names the line."""
    try:
        text = read_text(path, MOST_BYTES)
    except StorageError as error:
        raise TakeError(str(error)) from error
    if looks_like_evemu(text):
        return parse_evemu(text, str(path))
    return list(parse_take(text, str(path)))


def parse_take(text: str, file: str) -> Iterator[Report]:
    """The reports in the text of a take; `file` names it in messages. Times must not fall."""
    lines = text.splitlines()
    if not lines or lines[0].strip() != HEADER:
        found = lines[0][:40] if lines else "nothing"
        raise TakeError(
            _('{file}, line 1: expected "{header}", found "{found}"; this is not a take').format(
                file=file, header=HEADER, found=found
            )
        )
    last = -1
    for number, line in enumerate(lines[1:], 2):
        if not line.strip() or line.startswith("#"):
            continue
        place = _("{file}, line {number}").format(file=file, number=number)
        time, *words = line.split()
        if not time.isascii() or not time.isdigit() or len(time) > MOST_TIME_DIGITS:
            raise TakeError(
                _('{place}: expected a time in whole microseconds, found "{time}"').format(place=place, time=time[:40])
            )
        t = int(time)
        if t < last:
            raise TakeError(
                _("{place}: the time {t} lies before {last} of the line above").format(place=place, t=t, last=last)
            )
        check_time(t, max(last, 0), place)
        last = t
        yield from _reports(t, words, place)


def _reports(t: Micros, words: list[str], place: str) -> Iterator[Report]:
    by_seat: dict[str, list[Change]] = {}
    for word in words:
        name, equals, value = word.partition("=")
        seat, colon, control = name.rpartition(":")
        if not equals:
            raise TakeError(_('{place}: expected control=value, found "{word}"').format(place=place, word=word[:40]))
        if control not in CONTROLS and control not in CHANNELS:
            raise TakeError(
                _('{place}: there is no control "{control}".{did_you_mean}').format(
                    place=place, control=control, did_you_mean=did_you_mean(control, list(CONTROLS))
                )
            )
        by_seat.setdefault(seat if colon else "1", []).append((control, *_numbers(value, place)))
    for seat, changes in by_seat.items():
        yield Report(t, tuple(changes), seat)


def _numbers(value: str, place: str) -> tuple[float, float]:
    try:
        x, _unused, y = value.partition(",")
        numbers = float(x), float(y or 0)
    except (ValueError, OverflowError):
        numbers = math.nan, math.nan
    if not all(math.isfinite(number) and abs(number) <= MOST_VALUE for number in numbers):
        raise TakeError(_('{place}: expected a number or two, found "{value}"').format(place=place, value=value[:40]))
    return numbers


class TakeSource(Simulation):
    """A take played as if its controller were there, from the moment it is opened."""

    def __init__(self, path: Path, now: Micros) -> None:
        self._reports = [report for report in read_take(path) if report.seat == "1"]
        self._start = now
        self._at = 0
        controls = dict.fromkeys(name for report in self._reports for name, _unused, _unused in report.changes)
        self._info = ControllerInfo(f"take:{path}", path.name, tuple(controls), simulated=True)

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        return self._info

    @property
    def next_deadline(self) -> Micros | None:
        """When the next report is due."""
        return self._start + self._reports[self._at].t if self._at < len(self._reports) else None

    def state(self) -> tuple[Change, ...]:
        """Everything at rest: a take begins there."""
        return tuple((name, 0.0, 0.0) for name in self._info.controls)

    def read(self, now: Micros, ready: Set[int] | None = None) -> list[Timed]:
        """The reports due up to `now`."""
        found = []
        while (due := self.next_deadline) is not None and due <= now:
            found.append((due, self._reports[self._at].changes))
            self._at += 1
        return found
