"""The workspace Controllers: the list at the left, one controller (or a lesson, or the doctor) in the middle."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QPalette, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from nubshift.app.client.link import Link
from nubshift.app.controllers.detail import Detail
from nubshift.app.controllers.doctor import DoctorPage
from nubshift.app.controllers.lesson import LessonPage
from nubshift.app.controllers.listing import ControllerList
from nubshift.app.controllers.pairing import PairingPage
from nubshift.app.controllers.radio import Radio
from nubshift.app.controllers.side import Side
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.timing import once
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.app.widgets.side_width import fit_sides
from nubshift.model.controller_info import ControllerInfo
from nubshift.protocol.messages import Health, Lesson, Reread, Status
from nubshift.protocol.play_in_words import findings
from nubshift.texts import _, ngettext

LEFT_WIDTH, RIGHT_WIDTH = (0.18, 232, 300), (0.25, 304, 400)
HOLD_MS = 2000
"""A button of an untaught controller held so long here begins its lesson, with no hand on the mouse."""


class ControllersWorkspace(QWidget):
    """Controllers."""

    noticed = pyqtSignal(str, str)

    def __init__(self, stage: Stage, link_: Link, store: ControllerStore) -> None:
        super().__init__()
        self._stage, self._link, self.store = stage, link_, store
        self.present = ""
        self._unfolded = False
        self._others_shown: object = None
        self.list = ControllerList(store, stage.look)
        self.list.chosen.connect(self.choose)
        self.detail = Detail(stage, store)
        self.side = Side(stage, store)
        self.lesson = LessonPage(stage)
        self.doctor = DoctorPage(stage.look)
        self.pairing = PairingPage(Radio(parent=self))
        self._holding = once(self, HOLD_MS, self._held)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        head = Label(_("Controllers"))
        head.setObjectName("heading")
        self._others = QVBoxLayout()
        self._others.setSpacing(2)
        self.doctor_tab = QPushButton(_("Doctor"))
        self.doctor_tab.setObjectName("variant")
        self.doctor_tab.setCheckable(True)
        self.doctor_tab.clicked.connect(self.show_doctor)
        self.pairing_tab = QPushButton(_("Pair controller…"))
        self.pairing_tab.setObjectName("variant")
        self.pairing_tab.setCheckable(True)
        self.pairing_tab.clicked.connect(self.show_pairing)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.list)
        column.addLayout(self._others)
        column.addStretch(1)
        area = scrolled(inside)
        left = QVBoxLayout()
        left.setContentsMargins(10, 12, 8, 10)
        left.setSpacing(6)
        left.addWidget(head)
        left.addWidget(area, 1)
        left.addWidget(self.pairing_tab)
        left.addWidget(self.doctor_tab)
        self._left = QWidget()
        self._left.setLayout(left)
        self.pages = QStackedWidget()
        for page in (self.detail, self.lesson, self.doctor, self.pairing):
            self.pages.addWidget(page)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left)
        row.addWidget(self.pages, 1)
        row.addWidget(self.side)
        self.side.setAutoFillBackground(True)
        self.side.setBackgroundRole(QPalette.ColorRole.Base)

    def _connect(self) -> None:
        self._link.status_changed.connect(self.show_status)
        self._link.lessoned.connect(self.lesson.follow)
        self.store.changed.connect(lambda: self.show_status(self._link.status))
        self.side.noticed.connect(self.noticed)
        self.detail.said.connect(self._link.send)
        self.detail.teach.connect(self.teach)
        self.lesson.said.connect(self._link.send)
        self.lesson.learned.connect(self._learned)
        self.lesson.left.connect(self._lesson_left)
        self.doctor.healed.connect(lambda: self._link.send(Reread()))
        self.doctor.counted.connect(self._count)
        self.doctor.noticed.connect(self.noticed)
        self._link.felt.connect(self._felt)
        self._stage.live.controls_changed.connect(self._moved)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sides take their part of a wide window."""
        fit_sides(self.width(), (self._left, LEFT_WIDTH), (self.side, RIGHT_WIDTH))

    def showEvent(self, event: QShowEvent | None) -> None:
        """Look at the machine anew."""
        self.show_status(self._link.status)
        self.doctor.examine()
        self.list.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody teaches a controller that is not looked at."""
        self._holding.stop()
        if self.lesson.info is not None:
            self.lesson.stop.click()

    # What is shown

    @property
    def info(self) -> ControllerInfo | None:
        """The controller that is looked at."""
        status = self._link.status
        return next((c for c in status.controllers if c.id == self.present), None) if status is not None else None

    def show_status(self, status: Status | None) -> None:
        """Another state of things."""
        if not self.isVisible():
            return
        ids = [info.id for info in status.controllers] if status is not None else []
        if self.present not in ids:
            self.present = status.controller if status is not None and status.controller else (ids[0] if ids else "")
        apart = self.pages.currentWidget() in (self.doctor, self.pairing)
        self.list.show_status(status, "" if apart else self.present)
        self.pairing.show_status(status)
        self.detail.show_info(self.info, status)
        self.side.show_info(self.info, status)
        self._show_others(status)

    def _show_others(self, status: Status | None) -> None:
        """Hardware that is no controller, to be brought in; and what was brought in, to be left out again."""
        others = status.others if status is not None else ()
        brought = [info for info in (status.controllers if status is not None else ()) if not info.is_controller]
        shown = (others, brought, self._unfolded, self.list.folded, self.list.with_simulated)
        if shown == self._others_shown:
            return
        self._others_shown = shown
        emptied(self._others)
        if self.list.folded or self.list.with_simulated:
            text = (
                _("Hide simulated controllers")
                if self.list.with_simulated
                else _("Show simulated controllers ({folded})").format(folded=self.list.folded)
            )
            self._others.addWidget(link(text, self._fold_simulated))
        for info in brought:
            self._others.addWidget(
                link(_("Ignore {name}").format(name=info.name), partial(self.store.bring_in, info, False))
            )
        if others:
            text = (
                _("Other devices ({count})").format(count=len(others))
                if not self._unfolded
                else _("Hide other devices")
            )
            self._others.addWidget(link(text, self._unfold))
        for info in others if self._unfolded else ():
            self._others.addWidget(
                link(_("Use {name} as a controller").format(name=info.name), partial(self.store.bring_in, info, True))
            )

    def _fold_simulated(self) -> None:
        """List simulated controllers beside real ones, or no longer."""
        self.list.with_simulated = not self.list.with_simulated
        self.show_status(self._link.status)

    def _unfold(self) -> None:
        """Show other hardware, or no longer."""
        self._unfolded = not self._unfolded
        self._show_others(self._link.status)

    def choose(self, controller: str) -> None:
        """Look at another controller."""
        if self.lesson.info is not None:
            self.lesson.stop.click()
        self.present = controller
        self._open(self.detail)
        self.show_status(self._link.status)

    def show_doctor(self) -> None:
        """Look at the machine."""
        if self.lesson.info is not None:
            self.lesson.stop.click()
        self.doctor.examine()
        self._open(self.doctor)
        self.show_status(self._link.status)

    def show_pairing(self) -> None:
        """Lead through pairing."""
        if self.lesson.info is not None:
            self.lesson.stop.click()
        self._open(self.pairing)
        self.show_status(self._link.status)

    def _open(self, page: QWidget) -> None:
        self.pages.setCurrentWidget(page)
        self.doctor_tab.setChecked(page is self.doctor)
        self.pairing_tab.setChecked(page is self.pairing)
        self.side.setVisible(page is self.detail)

    def _felt(self, health: Health) -> None:
        """How play goes, told once a second."""
        status = self._link.status
        if self.doctor.isVisible() and status is not None:
            infos = {info.id: info for info in status.controllers}
            used = dict.fromkeys(part.controller for parts in status.fills.values() for part in parts)
            names = {id_: self.store.name(infos[id_]) for id_ in used if id_ in infos}
            self.doctor.show_play(findings(health, names))

    def _count(self, count: int) -> None:
        self.doctor_tab.setText(
            ngettext("Doctor: {count} problem", "Doctor: {count} problems", count).format(count=count)
            if count
            else _("Doctor: no problems")
        )

    # Teaching

    def teach(self) -> None:
        """Teach the controller that is looked at."""
        if self.info is not None:
            self.lesson.open(self.info, self.store.name(self.info))
            self._open(self.lesson)

    def _learned(self, lesson: Lesson) -> None:
        if lesson.setup is not None and self.store.learn(lesson.setup):
            self.noticed.emit(
                "info",
                _("Saved. Every {partition} uses this setup now.").format(
                    partition=lesson.setup.model.partition(" ")[2]
                ),
            )
        self._lesson_left()

    def _lesson_left(self) -> None:
        self.lesson.end()
        self._open(self.detail)
        self.show_status(self._link.status)

    def _moved(self, controls: set[str]) -> None:
        """An untaught controller asks for its lesson by itself."""
        status = self._link.status
        if not self.isVisible() or self.lesson.info is not None or status is None:
            return
        playing = next((info for info in status.controllers if info.id == status.controller), None)
        if playing is None or playing.how != "guess":
            return
        held = any(
            control.startswith("button_") and self._stage.live.depth(control) > 0.6 for control in playing.controls
        )
        if held and not self._holding.isActive():
            self._holding.start()
        elif not held:
            self._holding.stop()

    def _held(self) -> None:
        status = self._link.status
        if status is not None and self.isVisible() and self.lesson.info is None:
            self.choose(status.controller)
            self.teach()
