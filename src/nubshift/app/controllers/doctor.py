"""The doctor in the window: what works on this machine, what does not, and the remedy ready to copy."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QPainter, QPen
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.client.doctor import Doctor
from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.theme import STRONG, TITLE, Look, font
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.protocol.findings import Finding, problems
from nubshift.protocol.paths import with_tilde
from nubshift.texts import _, ngettext

ORDER = {"look": 0, "note": 1, "well": 2}


class StateMark(Canvas):
    """Well is a filled nub, to be healed a square, and good to know an open nub: never by colour alone."""

    def __init__(self, look: Look, state: str) -> None:
        super().__init__(look)
        self.state = state
        self.setFixedSize(20, 20)

    def draw(self, painter: QPainter) -> None:
        """One of the three."""
        rect = QRectF(4, 4, 12, 12)
        if self.state == "look":
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.output)
            painter.drawRoundedRect(rect, 3, 3)
            return
        painter.setPen(QPen(self.theme.input if self.state == "well" else self.theme.quiet, 1))
        painter.setBrush(self.theme.input if self.state == "well" else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(rect)


class FindingRow(QWidget):
    """One finding: what, how it is, what that means, and the remedy with its command to copy."""

    def __init__(self, look: Look, finding: Finding) -> None:
        super().__init__()
        self.finding = finding
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 7, 0, 7)
        row.setSpacing(10)
        row.addWidget(StateMark(look, finding.state), 0, Qt.AlignmentFlag.AlignTop)
        words = QVBoxLayout()
        words.setSpacing(2)
        self.head = Label()
        self.head.setTextFormat(Qt.TextFormat.PlainText)
        self.head.setFont(font(STRONG if finding.state == "look" else 1.0, bold=finding.state == "look"))
        self.head.setWordWrap(True)
        words.addWidget(self.head)
        self.means = Label()
        for label, text in ((self.means, finding.means), (Label(finding.do), finding.do)):
            if text:
                label.setObjectName("quiet")
                label.setWordWrap(True)
                words.addWidget(label)
        self.read(finding)
        self.copy: QPushButton | None = None
        if finding.run:
            line = QHBoxLayout()
            line.setSpacing(8)
            command = Label(finding.run)
            command.setObjectName("command")
            command.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            command.setWordWrap(True)
            line.addWidget(command, 1)
            self.copy = QPushButton(_("Copy"))
            self.copy.setAccessibleName(_("Copy: {run}").format(run=finding.run))
            self.copy.clicked.connect(self._copy)
            line.addWidget(self.copy, 0, Qt.AlignmentFlag.AlignTop)
            words.addLayout(line)
        row.addLayout(words, 1)

    def read(self, finding: Finding) -> None:
        """Say how it is by now."""
        self.finding = finding
        self.head.setText(f"{finding.what[0].upper()}{finding.what[1:]}: {finding.found}")
        self.means.setText(finding.means)

    def _copy(self) -> None:
        board = QGuiApplication.clipboard()
        if board is not None and self.copy is not None:
            board.setText(self.finding.run)
            self.copy.setText(_("Copied"))


class DoctorPage(QWidget):
    """All findings, those to be healed first. `healed` asks the runner to look again as well."""

    healed = pyqtSignal()
    counted = pyqtSignal(int)
    noticed = pyqtSignal(str, str)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._doctor = Doctor(self)
        self.rows: list[FindingRow] = []
        self.findings: list[Finding] = []
        title = Label(_("Doctor"))
        title.setFont(font(TITLE))
        self.verdict = Label()
        self.verdict.setObjectName("quiet")
        self.again = QPushButton(_("Check again"))
        self.again.clicked.connect(self._again)
        self.report = QPushButton(_("Save report…"))
        self.report.setToolTip(_("All of this in a file for a bug report, without names and serial numbers."))
        self.report.clicked.connect(self._save_report)
        head = QHBoxLayout()
        head.addWidget(title)
        head.addSpacing(14)
        head.addWidget(self.verdict, 1)
        head.addWidget(self.report)
        head.addWidget(self.again)
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        self.play_rows: list[FindingRow] = []
        self._play = QVBoxLayout()
        self._play.setSpacing(2)
        both = QVBoxLayout()
        both.setSpacing(2)
        both.addLayout(self._list)
        both.addLayout(self._play)
        both.addStretch(1)
        inside = QWidget()
        inside.setLayout(both)
        area = scrolled(inside)
        column = QVBoxLayout(self)
        column.setContentsMargins(26, 18, 26, 12)
        column.setSpacing(10)
        column.addLayout(head)
        column.addWidget(area, 1)

    def _again(self) -> None:
        self.healed.emit()
        self.examine()

    def _save_report(self) -> None:
        chosen, _unused = QFileDialog.getSaveFileName(
            self, _("Save report"), str(Path.home() / "nubshift-report.txt"), _("Text (*.txt)")
        )
        if chosen:
            self._doctor.report(Path(chosen), lambda trouble: self._reported(trouble, Path(chosen)))

    def _reported(self, trouble: str, path: Path) -> None:
        """It is written, or not."""
        if trouble:
            self.noticed.emit("error", trouble)
        else:
            told = _("Report saved: {path}. Read it before you pass it on.").format(path=with_tilde(path))
            self.noticed.emit("info", told)

    def show_play(self, findings: list[Finding]) -> None:
        """How play goes by now; what only reads otherwise stays where it is."""
        if [*map(_about, findings)] == [_about(row.finding) for row in self.play_rows]:
            for row, finding in zip(self.play_rows, findings, strict=True):
                row.read(finding)
        else:
            self.play_rows = self._filled(self._play, self.play_rows, findings)

    def _filled(self, column: QVBoxLayout, old: list[FindingRow], findings: list[Finding]) -> list[FindingRow]:
        """Rows for these in place of the old ones."""
        for row in old:
            column.removeWidget(row)
            row.hide()
            row.deleteLater()
        rows = [FindingRow(self._look, finding) for finding in findings]
        for row in rows:
            column.addWidget(row)
        return rows

    def examine(self) -> None:
        """Look at everything now; what was found stands here a moment later."""
        self.verdict.setText(_("Checking…"))
        self._doctor.ask(self.show_findings)

    def close_doctor(self) -> None:
        """The window closes."""
        self._doctor.close()

    def show_findings(self, findings: list[Finding]) -> None:
        """What the doctor found."""
        self.findings = sorted(findings, key=lambda finding: ORDER[finding.state])
        self.rows = self._filled(self._list, self.rows, self.findings)
        count = problems(self.findings)
        words = ngettext("{count} problem.", "{count} problems.", count).format(count=count)
        self.verdict.setText(words if count else _("Everything works."))
        self.counted.emit(count)


def _about(finding: Finding) -> tuple[str, str, bool, str]:
    """What makes a finding another one, beside how it reads."""
    return finding.what, finding.state, bool(finding.means), finding.do
