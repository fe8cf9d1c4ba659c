"""``nubshift status``: what is live, and why."""

from __future__ import annotations

import argparse
import json

import msgspec

from nubshift.protocol.asking import Asking, NotRunning
from nubshift.protocol.messages import Ask, Status
from nubshift.protocol.paths import socket_path
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--json", action="store_true", help=_("as one JSON object"))


def main(options: argparse.Namespace) -> int:
    """Print it; 1 where nothing is at work."""
    try:
        with Asking(socket_path()) as runner:
            status = runner.ask(Ask("status"))
    except NotRunning as error:
        if options.json:
            print(json.dumps({"running": False}))
            return 1
        raise error
    assert isinstance(status, Status)
    print(json.dumps(as_json(status)) if options.json else "\n".join(in_words(status)))
    return 0


def as_json(status: Status) -> dict[str, object]:
    """What scripts are told."""
    return {
        "running": True,
        "profile": status.profile,
        "title": status.title,
        "sending": status.live and not status.withheld and status.profile is not None,
        "paused": not status.live,
        "waiting_for_focus": status.waiting,
        "why": status.why,
        "cause": status.cause,
        "kept": status.kept,
        "output": status.sink,
        "output_reason": status.reason,
        "controller": next((info.name for info in status.controllers if info.id == status.controller), ""),
        "controllers": [{"id": info.id, "name": info.name} for info in status.controllers],
        "launched": msgspec.to_builtins(status.launched) if status.launched.pid else None,
    }


def in_words(status: Status) -> list[str]:
    """The same for a person."""
    controller = next((info.name for info in status.controllers if info.id == status.controller), _("none"))
    if not status.live:
        state = _("Paused. Resume with: nubshift resume")
    elif status.profile is None:
        state = _("Live, nothing to send")
    elif status.withheld:
        state = _("Live, waiting")
    else:
        state = _("Live, sending")
    return [
        state,
        _("Profile: {title}").format(title=status.title or status.profile or _("none")),
        status.why,
        _("Controller: {controller}").format(controller=controller),
        _("Output: {sink} ({reason})").format(sink=status.sink, reason=status.reason),
    ]
