"""``nubshift doctor``: what works on this machine, and what to run to fix the rest."""

from __future__ import annotations

import argparse
from pathlib import Path

import msgspec

from nubshift.errors import NubShiftError, SinkError
from nubshift.protocol.asking import Asking, NotRunning
from nubshift.protocol.findings import Finding
from nubshift.protocol.messages import Ask, Health, Status
from nubshift.protocol.paths import socket_path
from nubshift.protocol.play_in_words import findings
from nubshift.runner.build import open_sink
from nubshift.runner.doctor import examine
from nubshift.texts import _

MARKS = {"well": "well ", "look": "LOOK ", "note": "note "}


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("--json", action="store_true", help=_("one JSON object a finding"))
    parser.add_argument(
        "--report",
        metavar="FILE",
        type=Path,
        help=_("also write it to a file for a bug report, without names and serial numbers"),
    )
    parser.add_argument(
        "--machine",
        action="store_true",
        help=_("only look at this machine, without trying to send or asking how play goes"),
    )


def main(options: argparse.Namespace) -> int:
    """Print the findings; 1 if nothing could be sent."""
    sending = None if options.machine else _sending()
    found = [*([sending] if sending else []), *examine()]
    whole = options.report is not None or not options.machine
    play = _play() if whole else []
    if options.report is not None:
        _write_report(options.report, [*found, *play])
    for finding in found if options.machine else [*found, *play]:
        if options.json:
            print(msgspec.json.encode(finding).decode())
            continue
        print(f"{MARKS[finding.state]} {finding.what}: {finding.found}")
        for line in (finding.means, finding.do):
            if line:
                print(f"       {line}")
        if finding.run:
            print(f"       run: {finding.run}")
    return 0 if sending is None or sending.state == "well" else 1


def _write_report(path: Path, found: list[Finding]) -> None:
    """Raises StorageError."""
    from nubshift.cli.report import report_text
    from nubshift.devices.discovery import devices
    from nubshift.model.store import write_atomically

    serials = [node.uniq for device in devices() for node in device.nodes if node.uniq]
    write_atomically(path, report_text(found, serials).encode())


def _play() -> list[Finding]:
    """How play goes in the runner that is at work, if there is one that answers."""
    try:
        with Asking(socket_path()) as runner:
            status, health = runner.ask(Ask("status")), runner.ask(Ask("health"))
    except NotRunning:
        return []
    except NubShiftError as error:
        return [Finding(_("delay"), "note", str(error).removesuffix("."))]
    assert isinstance(status, Status), "that is what answers it"
    assert isinstance(health, Health), "that is what answers it"
    return findings(health, {info.id: info.name for info in status.controllers})


def _sending() -> Finding:
    try:
        chosen = open_sink("auto")
    except SinkError as error:
        return Finding(_("sending"), "look", str(error).removesuffix(". Run: nubshift doctor"))
    chosen.sink.close()
    return Finding(
        _("sending"), "well", _("through {name}: {reason}").format(name=chosen.sink.name, reason=chosen.reason)
    )
