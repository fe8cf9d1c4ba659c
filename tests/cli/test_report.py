"""The report of the doctor for a bug: it says what there is, and nothing of whose it is."""

from __future__ import annotations

import getpass
import socket
from pathlib import Path

import pytest

from nubshift import __version__
from nubshift.cli.main import main
from nubshift.cli.report import report_text, without_names
from nubshift.protocol.findings import Finding


def test_names_folders_hosts_serials_and_addresses_are_left_out(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(getpass, "getuser", lambda: "mira")
    monkeypatch.setattr(socket, "gethostname", lambda: "lantern")
    monkeypatch.setattr(Path, "home", lambda: Path("/home/mira"))
    told = "/home/mira/pads of mira at lantern: PAD-77-XY, a4:5E:60:c8:11:02; admiral and lanterns stay"
    assert (
        without_names(told, ["PAD-77-XY"])
        == "~/pads of [user] at [host]: [serial number], [address]; admiral and lanterns stay"
    )


def test_what_was_found_stands_in_it_with_program_and_machine() -> None:
    text = report_text([Finding("sending", "look", "no", "Nothing arrives.", "Do this:", "that")], [])
    assert f"Nub Shift {__version__}" in text
    assert "[look] sending: no\n    Nothing arrives.\n    Do this:\n    that\n" in text


def test_the_command_writes_it_beside_what_it_prints(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(socket, "gethostname", lambda: "lantern")
    path = tmp_path / "report.txt"
    assert main(["doctor", "--machine", "--report", str(path)]) == 0
    printed = capsys.readouterr().out.splitlines()
    written = path.read_text()
    assert sum(line.startswith("[") for line in written.splitlines()) == sum(
        ": " in line[:60] and line[0] != " " for line in printed
    )
    assert main(["doctor", "--machine", "--report", "/dev/null/no"]) == 1
    assert "could not be saved" in capsys.readouterr().err
