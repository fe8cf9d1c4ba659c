"""``nubshift [PROFILE]``: the window."""

from __future__ import annotations

import argparse
from collections.abc import Callable, Sequence
from pathlib import Path

from nubshift.cli.later import loaded
from nubshift.errors import NubShiftError, did_you_mean
from nubshift.model.profile import SUFFIX
from nubshift.model.store import profile_names
from nubshift.protocol.paths import profile_folder
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of the window."""
    parser.add_argument("profile", metavar="PROFILE", nargs="?", help=_("a profile to open: its file, or its name"))
    parser.add_argument("--source", metavar="S", action="append", default=[], help=_("where input comes from"))
    parser.add_argument("--sink", metavar="K", default="auto", help=_("where output goes"))
    parser.add_argument("--hidden", action="store_true", help=_("start without showing the window, as at login"))
    parser.add_argument("--theme", choices=("dusk", "day"), help=_("instead of the desktop's"))


def open_window(words: Sequence[str], commands: Sequence[str]) -> int:
    """Open the window; returns its exit code. `commands` are what a mistyped word may have meant."""
    parser = argparse.ArgumentParser(prog="nubshift", description=_("The window of Nub Shift."))
    arguments(parser)
    options = parser.parse_args(list(words))
    profile = _profile(options.profile, commands) if options.profile is not None else None
    from nubshift.app.screen import enter_session, why_no_window

    enter_session()
    if trouble := why_no_window():
        raise NubShiftError(trouble)
    run: Callable[..., int] = loaded("nubshift.app.main").run
    return run(profile, options.source, options.sink, options.theme, options.hidden)


def _profile(word: str, commands: Sequence[str]) -> Path:
    """The profile that is meant: a file that is there, or the name of one of this user's. Raises NubShiftError."""
    path = Path(word)
    if path.exists():
        return path
    named = profile_folder() / f"{word}{SUFFIX}"
    if "/" not in word and named.exists():
        return named
    if "/" in word or word.endswith(".json"):
        raise NubShiftError(_("{word}: there is no such file. Nothing was created.").format(word=word))
    names = profile_names(profile_folder())
    meant = did_you_mean(word, [*commands, *names])
    raise NubShiftError(
        _('there is no command, profile or file "{word}".{meant} All commands: nubshift --help').format(
            word=word, meant=meant
        )
    )
