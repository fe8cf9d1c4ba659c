"""``nubshift play PROFILE -- COMMAND…``: a game with its profile, ended with it."""

from __future__ import annotations

import argparse
import ctypes
import os
import select
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence

from nubshift.cli.use import AUTO, known
from nubshift.errors import NubShiftError
from nubshift.protocol.asking import Asking, NotRunning
from nubshift.protocol.messages import Launch
from nubshift.protocol.paths import socket_path
from nubshift.surroundings.processes import family_of
from nubshift.texts import _

NOT_FOUND, NOT_RUNNABLE = 127, 126
"""Exit codes of a shell for a command that is not there, or can't be run."""
AGAIN_SECONDS = 0.5
"""Between two tries to find a runner again."""
RUNNER_SECONDS = 10.0
"""How long to wait for a runner to listen."""
_SUBREAPER = 36
"""``PR_SET_CHILD_SUBREAPER`` of prctl(2): processes whose parent ends become children of this one."""
_PASSED = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP, signal.SIGQUIT, signal.SIGUSR1, signal.SIGUSR2, signal.SIGCONT)


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command. Those of the game are in `words`, see `cli/main`."""
    parser.usage = _("nubshift play [--source S] [--sink K] PROFILE -- COMMAND…")
    parser.add_argument(
        "profile", metavar="PROFILE", help=_("a profile, or auto for the one that goes with the game by your rules")
    )
    parser.add_argument("--source", metavar="S", action="append", default=[], help=_("where input comes from"))
    parser.add_argument("--sink", metavar="K", default="auto", help=_("where output goes"))


def main(options: argparse.Namespace) -> int:
    """Start the game; returns its exit code, once it and all that it started have ended."""
    words: list[str] = options.words
    if not words:
        raise NubShiftError(_("No game to start. Write its command after two dashes: nubshift play PROFILE -- COMMAND"))
    profile = "" if options.profile == AUTO else known(options.profile)
    runner = _runner(options)
    if runner is not None:
        runner.ask(Launch(profile, os.getpid()))
    attached = Attached(profile, runner)
    try:
        return follow(words, attached.begin)
    finally:
        attached.close()


class Attached:
    """The game known to the runner as started with its profile; to the next runner too, where that one ended."""

    def __init__(self, profile: str, runner: Asking | None) -> None:
        self._launch, self._runner = Launch(profile, os.getpid()), runner
        self._awake, self._wake = os.pipe()
        self._thread = threading.Thread(target=self._stay, name="attached", daemon=True)

    def begin(self) -> None:
        """Look after it from now on."""
        self._thread.start()

    def _stay(self) -> None:
        while True:
            watched = (self._awake,) if self._runner is None else (self._awake, self._runner.fileno())
            ready, _unused, _unused = select.select(watched, (), (), AGAIN_SECONDS if self._runner is None else None)
            if self._awake in ready:
                return
            if self._runner is None:
                self._attach()
            else:
                self._runner.close()
                self._runner = None

    def _attach(self) -> None:
        try:
            runner = Asking(socket_path())
        except NubShiftError:
            return
        try:
            runner.ask(self._launch)
        except NubShiftError:
            runner.close()
        else:
            self._runner = runner

    def close(self) -> None:
        """The game is over."""
        os.close(self._wake)
        if self._thread.is_alive():
            self._thread.join()
        if self._runner is not None:
            self._runner.close()
        os.close(self._awake)


def _runner(options: argparse.Namespace) -> Asking | None:
    """The runner that is at work, else one of our own that ends with us; None, with a warning, where none can be had:
    the game is started all the same."""
    try:
        return Asking(socket_path())
    except NotRunning:
        pass
    _start_runner(options)
    end = time.monotonic() + RUNNER_SECONDS
    while time.monotonic() < end:
        try:
            return Asking(socket_path())
        except NotRunning:
            time.sleep(0.02)
    print(_("nubshift: the runner did not start, so the game runs without its profile"), file=sys.stderr)
    return None


def _start_runner(options: argparse.Namespace) -> None:
    """Start a runner that is no child of ours: it must not keep us from seeing that the game's last one is gone."""
    words = [sys.executable, "-m", "nubshift", "run", AUTO, "--until-alone", "--socket", str(socket_path())]
    words += ["--sink", options.sink]
    for source in options.source:
        words += ["--source", source]
    between = os.fork()
    if not between:
        try:
            subprocess.Popen(words, stdin=subprocess.DEVNULL, start_new_session=True)
        finally:
            os._exit(0)
    os.waitpid(between, 0)


def follow(words: Sequence[str], started: Callable[[], object] = lambda: None) -> int:
    """Run a command, pass signals on to it, and wait until it and everything it started has ended. `started` is called
    once it runs.

    Returns its exit code, 128 and the number of the signal that ended it, or that of a shell for one that can't be run.
    """
    ctypes.CDLL(None).prctl(_SUBREAPER, 1, 0, 0, 0)
    awaited = {signal.SIGCHLD, *_PASSED}
    before = signal.pthread_sigmask(signal.SIG_BLOCK, awaited)
    try:
        game = subprocess.Popen(words, preexec_fn=lambda: signal.pthread_sigmask(signal.SIG_SETMASK, before))  # noqa: PLW1509
    except OSError as error:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)
        print(_("nubshift: {word} can't be started: {why}").format(word=words[0], why=error.strerror), file=sys.stderr)
        return NOT_FOUND if isinstance(error, FileNotFoundError) else NOT_RUNNABLE
    started()
    code: int | None = None
    try:
        while True:
            gone, left = _reap()
            if game.pid in gone:
                game.returncode = code = _as_exit_code(gone[game.pid])
            if not left:
                return code or 0
            told = signal.sigwaitinfo(awaited)
            if (
                told.si_signo != signal.SIGCHLD and told.si_code <= 0
            ):  # sent by a process; the terminal's reach all anyway
                _pass_on(told.si_signo, game.pid if code is None else None)
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


def _reap() -> tuple[dict[int, int], bool]:
    """The processes that have ended, with their states, and whether any is left."""
    gone: dict[int, int] = {}
    while True:
        try:
            pid, state = os.waitpid(-1, os.WNOHANG)
        except ChildProcessError:
            return gone, False
        if not pid:
            return gone, True
        gone[pid] = state


def _as_exit_code(state: int) -> int:
    return 128 + os.WTERMSIG(state) if os.WIFSIGNALED(state) else os.waitstatus_to_exitcode(state)


def _pass_on(number: int, game: int | None) -> None:
    """To the game, or once that has ended to what is left of it."""
    for pid in (game,) if game is not None else family_of(os.getpid()) - {os.getpid()}:
        try:
            os.kill(pid, number)
        except ProcessLookupError:
            continue
