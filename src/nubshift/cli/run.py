"""``nubshift run``: the runner, in the foreground."""

from __future__ import annotations

import argparse
import gc
import signal
import sys
from pathlib import Path

from nubshift.errors import NubShiftError, SinkError
from nubshift.model.neighbours import read_neighbours
from nubshift.model.profile import new_profile
from nubshift.model.store import read_profile
from nubshift.runner.build import SINK_KINDS, SOURCE_KINDS, Chosen, layout_here, nowhere, open_sink
from nubshift.runner.loop import Runner, Settings
from nubshift.runner.server import Server
from nubshift.runner.session import Session


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("profile", metavar="PROFILE", help="a profile file; - for an empty one")
    parser.add_argument("--source", metavar="S", action="append", default=[],
                        help=f"where input comes from: {SOURCE_KINDS}; the first that can be had")  # fmt: skip
    parser.add_argument("--sink", metavar="K", default="auto", help=f"where output goes: {SINK_KINDS}")
    parser.add_argument("--for", metavar="SECONDS", type=float, dest="seconds", help="end after this time")
    parser.add_argument("--socket", metavar="PATH", type=Path, help="listen here for a window")
    parser.add_argument("--owned", action="store_true", help="a window started this: without it, rest")


def main(options: argparse.Namespace) -> int:
    """Run until the time is over, a signal comes or the window says so."""
    profile = new_profile("") if options.profile == "-" else read_profile(Path(options.profile))
    wanted = tuple(_spec(word) for word in options.source) or ("auto",)
    settings = Settings(wanted, options.sink, options.owned, options.seconds)
    chosen = _sink(options)
    others = {} if options.profile == "-" else read_neighbours(profile, Path(options.profile).parent)
    try:
        session = Session(profile, chosen.sink, others, layout_here())
    except SinkError:
        chosen.sink.close()
        raise
    runner = _runner(session, chosen, settings, options.socket)
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, lambda *_: runner.end())
    gc.collect()
    gc.freeze()
    runner.run()
    return 0


def _spec(word: str) -> str:
    """A source without its seat; profiles of one seat have no other."""
    seat, equals, spec = word.partition("=")
    if equals and ":" not in seat:
        if seat != "1":
            raise NubShiftError(f'--source {word}: there is no seat "{seat}"; this version plays the seat "1"')
        return spec
    return word


def _sink(options: argparse.Namespace) -> Chosen:
    try:
        return open_sink(options.sink)
    except SinkError as error:
        if options.owned:
            return nowhere(str(error))
        raise


def _runner(session: Session, chosen: Chosen, settings: Settings, socket: Path | None) -> Runner:
    _say("info", f"sending through {chosen.sink.name}: {chosen.reason}")
    try:
        server = Server(socket) if socket else None
    except OSError as error:
        chosen.sink.close()
        raise NubShiftError(f"no window can connect: {error.strerror or error}") from error
    return Runner(session, chosen, settings, server, _say)


def _say(severity: str, text: str) -> None:
    mark = "" if severity == "info" else f"{severity}: "
    print(f"nubshift run: {mark}{text}", file=sys.stderr, flush=True)
