"""The commands of ``nubshift``: parsed here, done in a module each, which is imported only when it is asked for."""

from __future__ import annotations

import argparse
import importlib
import logging
import sys
from collections.abc import Sequence
from contextlib import redirect_stderr, redirect_stdout, suppress

from nubshift import __version__
from nubshift.cli.built import is_compiled
from nubshift.cli.later import loaded
from nubshift.cli.plain import PlainStream
from nubshift.errors import NubShiftError
from nubshift.texts import _

COMMANDS: dict[str, str] = {
    "run": _("read controllers and send keys, in the foreground, until Ctrl+C"),
    "play": _("start a game with its profile, ended with it"),
    "status": _("what is live, and why"),
    "pause": _("send nothing until resumed"),
    "resume": _("send again after a pause"),
    "stop": _("release everything and quit Nub Shift"),
    "use": _("stay on a profile until told otherwise"),
    "import": _("take in a profile from elsewhere, after saying what it can do"),
    "card": _("write the printable card of a profile"),
    "replay": _("put a take through a profile and print what it sends"),
    "take": _("write a take in the text format of evemu, or one of those as a take"),
    "bench": _("measure the program against a bare loop on this machine"),
    "check": _("validate profiles and say where something is wrong"),
    "devices": _("what is connected and how it is understood"),
    "doctor": _("what works on this machine, and what to run to fix the rest"),
    "install-access": _("install the rule that gives you access to controllers; asks before it acts"),
}


MODULES = {"import": "import_profile"}
"""Modules that can't have the name of their command."""
TAKES_COMMAND = "play"
"""After two dashes it has words that are not its own."""


def _split(words: list[str]) -> tuple[list[str], list[str]]:
    """What stands before the first two dashes, and what stands behind."""
    at = words.index("--") if "--" in words else len(words)
    return words[:at], words[at + 1 :]


def _module(command: str) -> str:
    return f"nubshift.cli.{MODULES.get(command, command.replace('-', '_'))}"


def whole_parser() -> argparse.ArgumentParser:
    """All commands with their words. The man page and the completions of shells are made from it."""
    parser = argparse.ArgumentParser(
        prog="nubshift",
        description=_("A gamepad for games that know only keyboard and mouse."),
        epilog=_("Without a command, the window:\n{window_help}").format(window_help=_window_help()),
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--version", action="version", version=_version())
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    for name, about in COMMANDS.items():
        module = importlib.import_module(_module(name))
        module.arguments(commands.add_parser(name, help=about, description=about[0].upper() + about[1:] + "."))
    return parser


def _version() -> str:
    """Which one this is, and how it was built."""
    words = _("Nub Shift {version} (compiled)") if is_compiled() else _("Nub Shift {version} (pure Python)")
    return words.format(version=__version__)


def _window_help() -> str:
    """The usage and options of the window."""
    from nubshift.cli import window

    parser = argparse.ArgumentParser(prog="nubshift", add_help=False)
    window.arguments(parser)
    return parser.format_help().removeprefix("usage: ")


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; returns its exit code: 0 well, 1 errors found, 2 not understood."""
    words = list(sys.argv[1:] if argv is None else argv)
    out, err = PlainStream(sys.stdout), PlainStream(sys.stderr)
    with redirect_stdout(out), redirect_stderr(err):
        try:
            code = _main(words)
            sys.stdout.flush()
        except BrokenPipeError:
            out.give_up()
            code = 1
        except OSError as error:
            if error.filename is not None:
                raise
            out.give_up()
            code = 1
            with suppress(OSError):
                print(
                    _("nubshift: the output can't be written: {strerror}").format(strerror=error.strerror),
                    file=sys.stderr,
                )
    return code


def _main(words: list[str]) -> int:
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    name = next((word for word in words if not word.startswith("-")), None)
    try:
        if name not in COMMANDS and not (words and words[0] in ("-h", "--help", "--version")):
            window = loaded("nubshift.cli.window")
            return int(window.open_window(words, [*COMMANDS]))
        if words and words[0] in COMMANDS:
            module = loaded(_module(words[0]))
            parser = argparse.ArgumentParser(prog=f"nubshift {words[0]}", description=COMMANDS[words[0]] + ".")
            module.arguments(parser)
            own, after = _split(words[1:]) if words[0] == TAKES_COMMAND else (words[1:], [])
            return int(module.main(parser.parse_args(own, argparse.Namespace(words=after))))
        whole_parser().parse_args(words)
    except NubShiftError as error:
        print(f"nubshift: {error}", file=sys.stderr)
        return 1
    return 2
