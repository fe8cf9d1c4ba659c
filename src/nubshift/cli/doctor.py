"""``nubshift doctor``: what works on this machine, and what to run to fix the rest."""

from __future__ import annotations

import argparse
from pathlib import Path

import msgspec

from nubshift.errors import SinkError
from nubshift.protocol.findings import Finding
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
    parser.add_argument("--machine", action="store_true", help=_("only look at this machine, without trying to send"))


def main(options: argparse.Namespace) -> int:
    """Print the findings; 1 if nothing could be sent."""
    sending = None if options.machine else _sending()
    found = [*([sending] if sending else []), *examine()]
    if options.report is not None:
        _write_report(options.report, found)
    for finding in found:
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


def _sending() -> Finding:
    try:
        chosen = open_sink("auto")
    except SinkError as error:
        return Finding(_("sending"), "look", str(error).removesuffix(". Run: nubshift doctor"))
    chosen.sink.close()
    return Finding(
        _("sending"), "well", _("through {name}: {reason}").format(name=chosen.sink.name, reason=chosen.reason)
    )
