"""The workspace Try: exercises at the left, the range in the middle, results and the log at the right."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QPalette, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from nubshift.app.client.link import Link
from nubshift.app.client.watching import Watching
from nubshift.app.painting.key_labels import KeyLabels
from nubshift.app.stage import Stage
from nubshift.app.trying.aim import Aim
from nubshift.app.trying.arena import Arena
from nubshift.app.trying.log import LogModel, LogView
from nubshift.app.trying.ranges import EightPicture, ExercisePicture, HorizonPicture, TargetsPicture
from nubshift.app.trying.standings import Results, Standings
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.side_width import fit_sides
from nubshift.model import variants
from nubshift.model.results import Exercise
from nubshift.protocol.messages import Frame, Status
from nubshift.texts import _

LEFT_WIDTH, RIGHT_WIDTH = (0.15, 196, 250), (0.27, 344, 460)
PAGES: dict[str, tuple[str, str]] = {
    "typing": (_("Typing"), _("What really arrives")),
    "eight": (_("Figure of eight"), _("Follow the mark")),
    "targets": (_("Targets"), _("Reach them quickly")),
    "horizon": (_("Horizon"), _("Turn in real degrees")),
}
NOTHING_ARRIVES = {
    "record": _("Keys are only written to a file here, so nothing will arrive."),
    "nowhere": _("Nothing can be sent here, so nothing will arrive. The doctor tells why: nubshift doctor"),
}


class TryWorkspace(QWidget):
    """Try. `letting_through` says whether output shall reach this window; `results` belongs to Tune as well."""

    letting_through = pyqtSignal(bool)

    def __init__(self, stage: Stage, link: Link, watching: Watching, label_of: KeyLabels, results: Results) -> None:
        super().__init__()
        self._stage, self._link, self.results = stage, link, results
        self._watching = watching
        self.aim = Aim(stage, self)
        self.arena = Arena(stage.look, label_of)
        self.eight, self.targets = EightPicture(stage, self.aim), TargetsPicture(stage, self.aim)
        self.horizon = HorizonPicture(stage, self.aim)
        self.log_model = LogModel(stage.studio, stage.live, label_of, self)
        self.log = LogView(self.log_model, stage.look)
        self.standings = Standings(stage, results, self._use)
        self.pages: dict[str, QWidget] = {
            "typing": self.arena,
            "eight": self.eight,
            "targets": self.targets,
            "horizon": self.horizon,
        }
        self.present = "typing"
        self._sent = 0
        self._lay_out()
        self._connect()
        self.show_page("typing")

    def _connect(self) -> None:
        stage = self._stage
        self.arena.entered.connect(self._arena_entered)
        self.arena.came.connect(lambda _: self._refresh())
        stage.live.framed.connect(self._framed)
        stage.live.touched.connect(self._touched)
        self._link.status_changed.connect(self._status)
        for name, picture in (("eight", self.eight), ("targets", self.targets)):
            picture.finished.connect(self._keeper(name, picture))  # type: ignore[arg-type]
            picture.changed.connect(self._refresh)

    def _keeper(self, name: Exercise, picture: ExercisePicture) -> Callable[[dict[str, float]], None]:
        def keep(values: dict[str, float]) -> None:
            self.results.add(name, values, picture.aim)

        return keep

    def _lay_out(self) -> None:
        self._lay_out_left()
        self._lay_out_right()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left)
        row.addLayout(self._lay_out_middle(), 1)
        row.addWidget(self._right)

    def _lay_out_left(self) -> None:
        left = QVBoxLayout()
        left.setContentsMargins(10, 12, 8, 10)
        left.setSpacing(4)
        head = Label(_("Try"))
        head.setObjectName("heading")
        left.addWidget(head)
        self.choices: dict[str, QPushButton] = {}
        for name, (title, words) in PAGES.items():
            button = QPushButton(title)
            button.setToolTip(words.capitalize())
            button.setObjectName("variant")
            button.setCheckable(True)
            button.setAccessibleName(title)
            button.clicked.connect(lambda _=False, to=name: self.show_page(to))
            self.choices[name] = button
            left.addWidget(button)
        self.told = Label()
        self.told.setObjectName("quiet")
        self.told.setWordWrap(True)
        left.addSpacing(10)
        left.addWidget(self.told)
        left.addStretch(1)
        self._left = QWidget()
        self._left.setLayout(left)

    def _lay_out_middle(self) -> QVBoxLayout:
        self._stack = QStackedWidget()
        for page in self.pages.values():
            self._stack.addWidget(page)
        self.begin = QPushButton(_("Start round"))
        self.begin.clicked.connect(self._begin)
        self.settings = Label()
        self.settings.setObjectName("quiet")
        foot = QHBoxLayout()
        foot.addWidget(self.settings, 1)
        foot.addWidget(self.begin)
        middle = QVBoxLayout()
        middle.setContentsMargins(10, 12, 10, 10)
        middle.setSpacing(8)
        middle.addWidget(self._stack, 1)
        middle.addLayout(foot)
        return middle

    def _lay_out_right(self) -> None:
        right = QVBoxLayout()
        right.setContentsMargins(16, 12, 14, 10)
        right.setSpacing(10)
        right.addWidget(self.standings)
        right.addWidget(self.log, 100)
        right.addStretch(1)
        self._right = QWidget()
        self._right.setLayout(right)
        self._right.setAutoFillBackground(True)
        self._right.setBackgroundRole(QPalette.ColorRole.Base)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sides take their part of a wide window."""
        fit_sides(self.width(), (self._left, LEFT_WIDTH), (self._right, RIGHT_WIDTH))

    # What is open

    def showEvent(self, event: QShowEvent | None) -> None:
        """Somebody looks: every mouse motion is told with its time. The range gets the keyboard by a click only."""
        self._watch(True)
        self.choices[self.present].setFocus()
        self.standings.refresh()
        self._refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody looks."""
        self._watch(False)

    def _watch(self, on: bool) -> None:
        self._watching.want(self, "right_stick" if on else "", self._stage.selection.seat)

    def show_page(self, name: str) -> None:
        """Open an exercise."""
        self.present = name
        self._stack.setCurrentWidget(self.pages[name])
        for other, button in self.choices.items():
            button.setChecked(other == name)
        exercise: dict[str, Exercise] = {"eight": "eight", "targets": "targets"}
        self.standings.show_exercise(exercise.get(name))
        self.log.setVisible(name not in exercise)
        self._refresh()

    def _begin(self) -> None:
        page = self.pages[self.present]
        if isinstance(page, ExercisePicture):
            page.begin()
        elif isinstance(page, HorizonPicture):
            page.level()
        else:
            self.arena.clear()
            self._sent = 0
        self._refresh()

    def _touched(self, control: str) -> None:
        """The bottom button begins a round, so that the hands can stay on the controller."""
        page = self.pages[self.present]
        if control == "south" and self.isVisible() and isinstance(page, ExercisePicture) and not page.on:
            page.begin()

    def _refresh(self) -> None:
        page = self.pages[self.present]
        status = self._link.status
        if isinstance(page, ExercisePicture):
            self.begin.setText(_("Stop") if page.on else _("Start round"))
            self.told.setText(_("Move the view as in the game. Every round counts for the settings in use."))
        elif isinstance(page, HorizonPicture):
            self.begin.setText(_("Reset"))
            counts = self.aim.counts_per_degree * 360
            self.told.setText(
                _("Degrees by the turn gauge: {counts:,.0f} counts a turn.")
                .format(counts=counts)
                .replace(",", "\u202f")
            )
        else:
            self.begin.setText(_("Clear"))
            nothing = NOTHING_ARRIVES.get(status.sink, "") if status is not None else ""
            self.told.setText(
                nothing
                or _("Keys are sent here only while the range has the focus. Ctrl+Tab or a click outside ends that.")
            )
        self.settings.setText(self._settings_words())

    def _settings_words(self) -> str:
        studio = self._stage.studio
        if self.present == "typing":
            return _("sent {sent} · arrived {arrived}").format(sent=self._sent, arrived=self.arena.arrived)
        used = [v for v in studio.profile.variants if studio.profile.variant_in_use(*v.place) is v]
        names = ", ".join(f"{v.name} ({studio.selection.names.inside(v.feel.control)})" for v in used)
        return _("In use: {names}").format(names=names or _("Current settings"))

    def _status(self, status: Status) -> None:
        if self.isVisible():
            self._refresh()

    def _framed(self, frame: Frame) -> None:
        """What is sent while the range has the keyboard should arrive there."""
        if frame.real and self.arena.hasFocus() and frame.sent:
            self._sent += sum(1 for s in frame.sent if s.value and ":" not in s.code)
            self._refresh()

    def _arena_entered(self, on: bool) -> None:
        if on:
            self._sent = 0
        self.letting_through.emit(on)
        self._refresh()

    def _use(self, control: str, name: str) -> None:
        """Take the variant of a name."""
        studio = self._stage.studio
        found = next((v for v in studio.profile.variants if v.name == name and v.feel.control == control), None)
        if found is not None:
            studio.document.edit(
                f"{studio.selection.names.title(control)}: {name}",
                lambda profile: variants.with_used(profile, found.id),
            )
            self._refresh()


def results_path(folder: Path) -> Path:
    """Where results are kept: beside the folder of the profiles."""
    return folder.parent / "results.json"
