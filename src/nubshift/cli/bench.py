"""``nubshift bench``: what the program costs on this machine, beside a bare loop measured in the same run."""

from __future__ import annotations

import argparse
import statistics
import time
from collections.abc import Callable, Iterator
from functools import partial
from random import Random

import msgspec

from nubshift.cli import bench_edits, bench_focus
from nubshift.cli.bench_profile import BUTTONS, bench_profile
from nubshift.cli.built import is_compiled
from nubshift.devices.take import read_take
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.program import Program
from nubshift.errors import NubShiftError
from nubshift.events import Change, Motion, Output, Report
from nubshift.model.store import read_profile
from nubshift.protocol.paths import demo_folder
from nubshift.texts import _

RUNS = 5
"""Each thing is measured so often, in turns, and the best counts: these are not quiet machines."""
REPORTS = 20_000
SECONDS = 3.0

DEMO = "ferrow-deep"
RICHEST = "quillgate"


class BenchRow(msgspec.Struct, frozen=True):
    """One measurement. `floor` is the bare loop's figure in the same unit (0 where there is none), `ratio` the cost."""

    name: str
    value: float
    unit: str
    floor: float
    ratio: float
    bar: str
    met: bool


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("rows", metavar="ROW", nargs="*", help=_("only these: {rows}").format(rows=", ".join(ROWS)))
    parser.add_argument("--json", action="store_true", help=_("one JSON object a row"))


def main(options: argparse.Namespace) -> int:
    """Print the rows; 1 if one misses its bar."""
    unknown = [name for name in options.rows if name not in ROWS]
    if unknown:
        raise NubShiftError(
            _('there is no row "{unknown}"; there are {rows}').format(unknown=unknown[0], rows=", ".join(ROWS))
        )
    missed = 0
    for name in options.rows or ROWS:
        for row in ROWS[name]():
            missed += not row.met
            print(msgspec.json.encode(row).decode() if options.json else _sentence(row), flush=True)
    return int(missed > 0)


def _sentence(row: BenchRow) -> str:
    floor = (
        _(", bare loop {floor:,.0f}, {ratio:.1f} times its cost").format(floor=row.floor, ratio=row.ratio)
        if row.floor
        else ""
    )
    return _("{more} {name}: {value:,.2f} {unit} (bar {bar}){floor}").format(
        more="met   " if row.met else "MISSED", name=row.name, value=row.value, unit=row.unit, bar=row.bar, floor=floor
    )


def _engine() -> Iterator[BenchRow]:
    """Reports a second with few and with many bindings, and the cost of the many."""
    reports = list(_played())
    few, many = (compile_profile(bench_profile(layers)) for layers in (0, 90))
    takes: dict[str, list[float]] = {"floor": [], "few": [], "many": []}
    for _unused in range(RUNS):
        takes["floor"].append(_seconds(partial(_bare, reports)))
        takes["few"].append(_seconds(partial(_feed, few, reports)))
        takes["many"].append(_seconds(partial(_feed, many, reports)))
    best = {name: min(times) for name, times in takes.items()}
    floor = REPORTS / best["floor"]
    least = 300_000 if is_compiled() else 100_000
    for name, said in (("few", _("engine, 10 bindings")), ("many", _("engine, 2,000 bindings"))):
        value = REPORTS / best[name]
        yield BenchRow(said, value, _("input events/s"), floor, floor / value, f"≥ {least:,}", value >= least)
    cost = best["many"] / best["few"]
    yield BenchRow(_("cost of 2,000 bindings to that of 10"), cost, "times", 0.0, cost, "≤ 1.2", cost <= 1.2)


def _replay() -> Iterator[BenchRow]:
    """The demo's take through the demo's profile, as often as real time goes into it."""
    reports = read_take(demo_folder() / f"{DEMO}.take")
    program = compile_profile(read_profile(demo_folder() / f"{DEMO}.nubshift.json"))
    real = reports[-1].t / 1e6
    times = [(_seconds(partial(_feed, program, reports)), _seconds(partial(_bare, reports))) for _unused in range(RUNS)]
    value, floor = real / min(t for t, _unused in times), real / min(f for _unused, f in times)
    yield BenchRow(_("replay of a take"), value, _("times real time"), floor, floor / value, "≥ 200", value >= 200)


def _edits() -> Iterator[BenchRow]:
    """A slider dragged at 1000 reports a second: what reports wait for it, and how soon it is live."""
    rich = bench_edits.measure(read_profile(demo_folder() / f"{RICHEST}.nubshift.json"))
    more = rich.dragging - rich.still
    ratio = rich.dragging / rich.still if rich.still else 0.0
    yield BenchRow(
        _("reports wait longer while a slider is dragged"), more, "ms", rich.still, ratio, "≤ 2", more <= 2.0
    )
    yield BenchRow(_("edit to live, demo"), rich.slowest, "ms", 0.0, 0.0, "≤ 20", rich.slowest <= 20.0)
    large = bench_edits.measure(bench_profile(90), rounds=1)
    yield BenchRow(_("edit to live, 2,000 bindings"), large.slowest, "ms", 0.0, 0.0, "≤ 60", large.slowest <= 60.0)


def _focus() -> Iterator[BenchRow]:
    """How soon the right profile is there, and what looking for it costs."""
    found = bench_focus.measure()
    if found.window is not None:
        yield BenchRow(_("window in front to its profile"), found.window, "ms", 0.0, 0.0, "≤ 200", found.window <= 200)
    late = found.program
    yield BenchRow(_("program started to its profile"), late, "ms", 0.0, 0.0, "≤ 1,500", late <= 1500)
    yield BenchRow(_("runner at rest, of a core"), found.idle, "%", 0.0, 0.0, "≤ 0.5", found.idle <= 0.5)


def _runner() -> Iterator[BenchRow]:
    """What the runner costs at play: pad and gyro at 1000 reports a second each, a rich profile, pipes for nodes."""
    from nubshift.cli import bench_runner

    costs = [
        (bench_runner.measure("runner", SECONDS), bench_runner.measure("bare", SECONDS)) for _unused in range(RUNS)
    ]
    delay, floor = (statistics.median(cost[n].median for cost in costs) for n in range(2))
    late, floor_late = (statistics.median(cost[n].p99 for cost in costs) for n in range(2))
    spent, floor_spent = (statistics.median(cost[n].processor for cost in costs) for n in range(2))
    most_delay, most_spent = (3.0, 4.5) if is_compiled() else (5.0, 6.0)
    ratios = [delay / floor, late / floor_late, spent / floor_spent]
    said = _("added delay"), _("added delay, one in a hundred"), _("processor time for a ms of play")
    yield BenchRow(said[0], delay, "µs", floor, ratios[0], f"≤ {most_delay:g} ×", ratios[0] <= most_delay)
    yield BenchRow(said[1], late, "µs", floor_late, ratios[1], "≤ 2 ×", ratios[1] <= 2.0)
    yield BenchRow(said[2], spent, "µs", floor_spent, ratios[2], f"≤ {most_spent:g} ×", ratios[2] <= most_spent)
    memory = max(cost.memory for cost, _bare in costs)
    yield BenchRow(_("memory of the runner"), memory, "MB", 0.0, 0.0, "≤ 45", memory <= 45)


def _growth() -> Iterator[BenchRow]:
    """How the processor time for a ms of play grows with bindings, controllers and rate, beside the bare loop's."""
    from nubshift.cli import bench_runner

    for play in (
        *(bench_runner.PlayLoad(layers=layers) for layers in (0, 20, 90)),
        *(bench_runner.PlayLoad(controllers=count) for count in (2, 4)),
        *(bench_runner.PlayLoad(rate=rate) for rate in (125, 250, 500)),
    ):
        cost, bare = bench_runner.measure("runner", SECONDS, play), bench_runner.measure("bare", SECONDS, play)
        name = _("a ms of play: {bindings} bindings, {controllers} × {rate} Hz").format(
            bindings=10 + 22 * play.layers, controllers=play.controllers, rate=play.rate
        )
        ratio = cost.processor / bare.processor
        yield BenchRow(name, cost.processor, "µs", bare.processor, ratio, "–", True)


def _start() -> Iterator[BenchRow]:
    """From the start of a runner to the first key that it sends, beside a start of Python alone."""
    from nubshift.cli import bench_start

    took, floor = bench_start.measure(RUNS)
    yield BenchRow(_("start to the first key"), took, "ms", floor, took / floor, "≤ 300", took <= 300)


def _window() -> Iterator[BenchRow]:
    """How soon the window can be used, and a large profile is there; without a real screen."""
    from nubshift.cli import bench_window

    found = bench_window.measure(RUNS)
    ratio = found.usable / found.bare
    yield BenchRow(
        _("start to a usable window"), found.usable, "ms", found.bare, ratio, "≤ 1,000", found.usable <= 1000
    )
    yield BenchRow(_("2,000 bindings read"), found.read, "ms", 0.0, 0.0, "≤ 50", found.read <= 50)
    yield BenchRow(_("2,000 bindings on screen"), found.opened, "ms", 0.0, 0.0, "≤ 300", found.opened <= 300)


ROWS: dict[str, Callable[[], Iterator[BenchRow]]] = {
    "engine": _engine,
    "runner": _runner,
    "growth": _growth,
    "start": _start,
    "window": _window,
    "replay": _replay,
    "edits": _edits,
    "focus": _focus,
}


def _seconds(work: Callable[[], object]) -> float:
    before = time.perf_counter()
    work()
    return time.perf_counter() - before


def _feed(program: Program, reports: list[Report]) -> int:
    engine = Engine(program)
    count = 0
    for report in reports:
        count += len(engine.feed(report))
    return count


def _bare(reports: list[Report]) -> int:
    """The floor: the same reports read, an output made for each, nothing between."""
    values: dict[str, tuple[float, float]] = {}
    out: list[Output] = []
    for report in reports:
        for name, x, y in report.changes:
            values[name] = (x, y)
        out.append(Motion(report.t, 1, 1))
    return len(out)


def _played() -> Iterator[Report]:
    """Twenty seconds of play at 1000 reports a second: sticks and motion in turns, a button every 20 ms."""
    random = Random(7)
    down: dict[str, float] = {}
    x = y = 0.0
    for k in range(REPORTS):
        changes: list[Change] = []
        if k % 2:
            changes.append(("motion", random.gauss(0, 40), random.gauss(0, 30)))
            changes += [("motion_lean", random.gauss(0, 5), 0.0), ("gravity", 0.0, 1.0)]
        else:
            x, y = max(-1.0, min(1.0, x + random.gauss(0, 0.1))), max(-1.0, min(1.0, y + random.gauss(0, 0.1)))
            changes.append(("left_stick" if k % 4 else "right_stick", x, y))
        if k % 20 == 0:
            name = random.choice(BUTTONS)
            down[name] = 1.0 - down.get(name, 0.0)
            changes.append((name, down[name], 0.0))
        yield Report(k * 1000, tuple(changes))
