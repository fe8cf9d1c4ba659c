"""``nubshift run``: the runner, in the foreground."""

from __future__ import annotations

import argparse
import logging
import math
import signal
import sys
from pathlib import Path

from nubshift.cli.plain import PlainStream
from nubshift.errors import NubShiftError, SinkError, StorageError
from nubshift.model.layouts import US, Layout
from nubshift.model.neighbours import read_neighbours
from nubshift.model.player_settings import read_settings
from nubshift.model.profile import Profile
from nubshift.model.store import name_of, read_profile
from nubshift.protocol.paths import automatic_path, profile_folder, settings_path
from nubshift.runner.automatic import Places, idle
from nubshift.runner.build import SINK_KINDS, SOURCE_KINDS, Chosen, check_source, layout_here, nowhere, open_sink
from nubshift.runner.compiling import Compiling, compiled
from nubshift.runner.frames import FIRST
from nubshift.runner.loop import Runner, Settings
from nubshift.runner.server import Server
from nubshift.runner.session import Session
from nubshift.runner.urgency import Urging
from nubshift.texts import _

log = logging.getLogger("nubshift.runner")

AUTO = "auto"
LONGEST = 1e9
"""Seconds; longer than anything runs."""


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument(
        "profile",
        metavar="PROFILE",
        help=_("a profile file; auto for whichever goes with the game that runs; - for an empty one"),
    )
    source = _(
        "where input comes from: {source_kinds}; the first that can be had. SEAT= before it for another seat"
    ).format(source_kinds=SOURCE_KINDS)
    parser.add_argument("--source", metavar="[SEAT=]S", action="append", default=[], help=source)
    parser.add_argument(
        "--sink", metavar="K", default="auto", help=_("where output goes: {sink_kinds}").format(sink_kinds=SINK_KINDS)
    )
    parser.add_argument("--for", metavar="SECONDS", type=seconds, dest="seconds", help=_("end after this time"))
    parser.add_argument("--socket", metavar="PATH", type=Path, help=_("listen here for a window"))
    parser.add_argument("--until-alone", action="store_true", help=_("end when nobody talks to this any more"))
    parser.add_argument(
        "--owned", metavar="PID", nargs="?", type=int, const=0, help=_("a window started this: without it, rest")
    )


def main(options: argparse.Namespace) -> int:
    """Run until the time is over, a signal comes or the window says so."""
    log.setLevel(logging.INFO)
    log.addHandler(_Terminal())
    log.propagate = False
    fixed = options.profile not in ("-", AUTO)
    profile = read_profile(Path(options.profile)) if fixed else idle().profile
    wanted = _wanted(options.source, profile)
    owned = options.owned is not None
    if not owned:
        for specs in wanted.values():
            for spec in specs:
                check_source(spec)
    places = Places(profile_folder(), automatic_path(), settings_path())
    more = (options.seconds, options.until_alone, options.owned or 0)
    settings = Settings(wanted, places, fixed, options.sink, owned, *more)
    chosen = _sink(options)
    path = Path(options.profile)
    others = read_neighbours(profile, path.parent) if fixed else {}
    layout = _layout() if fixed else US
    name = name_of(path, places.profiles) if fixed else ""
    try:
        session = Session(compiled(profile, others, layout, name), chosen.sink)
    except SinkError:
        chosen.sink.close()
        raise
    runner = _runner(session, chosen, settings, options.socket)
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: runner.end())
    runner.run()
    if runner.unfilled and not owned:
        log.error(
            _("{unfilled}: was not there at any time, so nothing was played from it.").format(
                unfilled=", ".join(runner.unfilled)
            )
        )
        return 1
    return 0


def seconds(text: str) -> float:
    """A time for the command line. Raises ArgumentTypeError."""
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not 0.0 <= value <= LONGEST:
        raise argparse.ArgumentTypeError(_("expected a time in seconds, found {text!r}").format(text=text))
    return value


def _wanted(words: list[str], profile: Profile) -> dict[str, tuple[str, ...]]:
    """For each seat its sources, in the order in which they were given. Without any: what is plugged in, in seat 1."""
    found: dict[str, tuple[str, ...]] = {}
    seats = [seat.id for seat in profile.seats]
    for word in words:
        seat, equals, spec = word.partition("=")
        if not equals or ":" in seat:
            seat, spec = FIRST, word
        if seat not in seats:
            raise NubShiftError(
                _('--source {word}: the profile has no seat "{seat}"; it has {seats}').format(
                    word=word, seat=seat, seats=", ".join(seats)
                )
            )
        found[seat] = (*found.get(seat, ()), spec)
    return {FIRST: found.get(FIRST, () if found else ("auto",)), **found}


def _layout() -> Layout:
    """The layout in use, or the one that the player chose where nobody tells."""
    try:
        return layout_here(read_settings(settings_path()).layout_group)
    except StorageError:  # it is told elsewhere
        return layout_here()


def _sink(options: argparse.Namespace) -> Chosen:
    try:
        return open_sink(options.sink)
    except SinkError as error:
        if options.owned is not None:
            return nowhere(str(error))
        raise


def _runner(session: Session, chosen: Chosen, settings: Settings, socket: Path | None) -> Runner:
    log.info(_("sending through {name}: {reason}").format(name=chosen.sink.name, reason=chosen.reason))
    try:
        server = Server(socket) if socket else None
    except OSError as error:
        chosen.sink.close()
        raise NubShiftError(_("no window can connect: {strerror}").format(strerror=error.strerror or error)) from error
    return Runner(session, chosen, settings, server, Compiling(_layout), Urging())


class _Terminal(logging.Handler):
    """Says what the runner has to say, a line each; a terminal that is gone, or a full disk, does not stop play."""

    def emit(self, record: logging.LogRecord) -> None:
        """Say it."""
        mark = "" if record.levelno <= logging.INFO else f"{record.levelname.lower()}: "
        try:
            print(f"nubshift run: {mark}{record.getMessage()}", file=sys.stderr, flush=True)
        except (OSError, ValueError):
            if isinstance(sys.stderr, PlainStream):
                sys.stderr.give_up()
