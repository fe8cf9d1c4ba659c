"""Asking the doctor: a process of its own, so that looking at devices and servers never holds the window up."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QProcess

from nubshift.protocol.findings import Finding
from nubshift.texts import _

COMMAND = ("-m", "nubshift", "doctor", "--json", "--machine")
Then = Callable[[list[Finding]], None]


class Doctor(QObject):
    """Runs ``nubshift doctor`` and tells what it found, once for all who asked meanwhile."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: list[Then] = []
        self._process = QProcess(self)
        self._process.finished.connect(self._finished)
        self._process.errorOccurred.connect(self._broken)

    def ask(self, then: Then) -> None:
        """Look at everything now; `then` is called with the findings."""
        self._waiting.append(then)
        if self._process.state() == QProcess.ProcessState.NotRunning:
            self._process.start(sys.executable, [*COMMAND])

    def report(self, path: Path, then: Callable[[str], None]) -> None:
        """Write what there is for a bug report into a file; `then` is told what went wrong, nothing if all is well."""
        process = QProcess(self)

        def finished() -> None:
            said = bytes(process.readAllStandardError().data()).decode(errors="replace").strip()
            failed = process.exitStatus() is not QProcess.ExitStatus.NormalExit or process.exitCode()
            process.deleteLater()
            then(said.removeprefix("nubshift: ") or _("The report could not be written.") if failed else "")

        process.finished.connect(finished)
        process.start(sys.executable, [*COMMAND, "--report", str(path)])

    def close(self) -> None:
        """Nobody asks any more."""
        self._waiting.clear()
        for process in self.findChildren(QProcess):
            process.finished.disconnect()
            if process.state() != QProcess.ProcessState.NotRunning:
                process.kill()
                process.waitForFinished(2_000)

    def _finished(self) -> None:
        said = bytes(self._process.readAllStandardOutput().data())
        try:
            found = msgspec.json.Decoder(Finding).decode_lines(said)
        except msgspec.DecodeError as error:
            found = [_failed(str(error))]
        self._tell(
            found or [_failed(bytes(self._process.readAllStandardError().data()).decode(errors="replace")[-500:])]
        )

    def _broken(self, error: QProcess.ProcessError) -> None:
        if error is QProcess.ProcessError.FailedToStart:
            self._tell([_failed(self._process.errorString())])

    def _tell(self, found: list[Finding]) -> None:
        waiting, self._waiting = self._waiting, []
        for then in waiting:
            then(found)


def _failed(why: str) -> Finding:
    return Finding(
        _("doctor"), "look", _("it could not be asked: {why}").format(why=why.strip()), run="nubshift doctor"
    )
