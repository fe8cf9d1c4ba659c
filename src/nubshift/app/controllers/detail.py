"""One controller: what it is called, how it is understood, what it has, and whether the open profile fits it."""

from __future__ import annotations

from functools import partial
from math import hypot

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.controllers.chips import Chips
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.editors.panel import FlowLayout, emptied, link
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.model.changes import Changes
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.fitting import Misfit, misfits, with_fitted
from nubshift.model.profile import Profile
from nubshift.model.sharing import seat_info
from nubshift.protocol.messages import Request, Show, Status
from nubshift.texts import _

UNDERSTOOD: dict[str, str] = {
    "taught": _("Uses your setup."),
    "corrected": _("A known kind of pad, with a correction: {}. Every button is where your thumb finds it."),
    "conventions": _("Follows the kernel's conventions for gamepads, so everything has its place."),
    "line": _("Uses a mapping line that you imported."),
    "table": _("SDL, a library for games, knows this model. Its built-in mapping is used."),
    "guess": _("This model is unknown. Its buttons and axes have numbers until you set it up."),
    "built-in": _("A simulated controller. Press and drag its round marks on Map with the mouse."),
}

LEAST_RATE, FULL_RATE = 12.0, 90.0
"""Degrees a second from which motion is lit, and at which it is lit fully."""


class Detail(QWidget):
    """The middle of the workspace. `teach` asks for a lesson; `said` goes to the runner."""

    teach = pyqtSignal()
    said = pyqtSignal(object)

    def __init__(self, stage: Stage, store: ControllerStore) -> None:
        super().__init__()
        self._stage, self._store = stage, store
        self.info: ControllerInfo | None = None
        self._seats: tuple[str, ...] = ()
        self._status: Status | None = None
        self.name = Label()
        self.name.setFont(font(TITLE))
        self.how = Label()
        self.how.setWordWrap(True)
        self.doubts = Label()
        self.doubts.setObjectName("quiet")
        self.doubts.setWordWrap(True)
        self.chips = Chips(stage.look, _("What it has"))
        self.chips.chosen.connect(self._rename_control)
        self.lesson = QPushButton(_("Set up controls…"))
        self.lesson.clicked.connect(self.teach)
        self.rename = link(_("Rename…"), self._rename)
        self.show_it = link(_("Identify"), self._show)
        self.forget = link(_("Delete setup"), self._forget)
        self.fits = QVBoxLayout()
        self.fits.setSpacing(2)
        self._lay_out()
        stage.live.controls_changed.connect(self._moved)
        stage.document.edited.connect(self._edited)
        stage.document.opened.connect(self._show_fits)

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self.name, 1)
        head.addWidget(self.show_it)
        head.addWidget(self.rename)
        actions = QWidget()
        row = FlowLayout(8)
        actions.setLayout(row)
        row.addWidget(self.lesson)
        row.addWidget(self.forget)
        self._has = Label(_("Controls, lit while you move them. Click one to rename it as it is printed"))
        self._has.setObjectName("heading")
        self._has.setWordWrap(True)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(26, 18, 26, 12)
        column.setSpacing(8)
        column.addLayout(head)
        column.addWidget(self.how)
        column.addWidget(self.doubts)
        column.addWidget(actions)
        column.addSpacing(6)
        column.addWidget(self._has)
        column.addWidget(self.chips)
        column.addSpacing(6)
        column.addLayout(self.fits)
        column.addStretch(1)
        area = scrolled(inside)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(area)

    def show_info(self, info: ControllerInfo | None, status: Status | None) -> None:
        """Another controller, or another state of it."""
        self.info = info
        self._status = status
        self._seats = (
            ()
            if info is None or status is None
            else tuple(
                seat for seat, parts in status.fills.items() if any(part.controller == info.id for part in parts)
            )
        )
        there = info is not None
        for widget in (
            self.how,
            self.doubts,
            self.chips,
            self.lesson,
            self.rename,
            self.show_it,
            self.forget,
            self._has,
        ):
            widget.setVisible(there)
        if info is None:
            self.name.setText(_("No controller connected"))
            self._show_fits()
            return
        names = self._store.names(info)
        self.name.setText(self._store.name(info))
        self.how.setText(info.trouble + "." if info.trouble else UNDERSTOOD[info.how].format(info.correction))
        worn = [names.inside(c) for c, kept in self._store.own(info).calibration.items() if kept.is_worn]
        doubts = [*info.uncertain] if info.how != "guess" else []
        doubts += [_("Stick drift: {worn} rests far off centre.").format(worn=", ".join(worn))] if worn else []
        self.doubts.setText("\n".join(doubts))
        self.doubts.setVisible(bool(doubts))
        teachable = info.how != "built-in" and not info.trouble
        self.lesson.setVisible(teachable)
        self.lesson.setText(_("Set up again…") if info.how == "taught" else _("Set up controls…"))
        self.forget.setVisible(info.how == "taught")
        self.show_it.setVisible(bool(info.rumbles or info.lights) and bool(self._seats) and not info.simulated)
        self.chips.show_controls(info.controls, names)
        self._has.setVisible(bool(info.controls))
        self._moved(set(info.controls))
        self._show_fits()

    def _moved(self, controls: set[str]) -> None:
        if self.info is not None and self.isVisible():
            here = self._stage.selection.seat in self._seats
            depths = {c: depth for c in self.info.controls if (depth := self._lit(c)) >= 0.08} if here else {}
            self.chips.show_depths(depths)

    def _lit(self, control: str) -> float:
        """How strongly a control is lit. Motion is told in degrees a second, and a sensor at rest says a few."""
        live = self._stage.live
        if control != "motion":
            return live.depth(control)
        rate = hypot(*live.value(control))
        return min(1.0, rate / FULL_RATE) if rate >= LEAST_RATE else 0.0

    # What can be done

    def _rename(self) -> None:
        info = self.info
        if info is not None:
            self._stage.wishes.name(
                _("Name of this controller"), self._store.name(info), lambda text: self._store.set_own(info, name=text)
            )

    def _rename_control(self, control: str) -> None:
        info = self.info
        if info is not None:
            title = self._store.names(info).title(control)
            self._stage.wishes.name(
                _("Name printed on it"),
                title,
                lambda text: self._store.call(info, control, text if text != title else ""),
            )

    def _show(self) -> None:
        if self.info is not None:
            request: Request = Show(self.info.id, self._store.own(self.info).light or "#ffffff")
            self.said.emit(request)

    def _forget(self) -> None:
        if self.info is not None:
            self._store.forget(self.info)

    # Whether the profile fits

    def _edited(self, changes: Changes) -> None:
        """What fits depends on which controls the profile uses."""
        if changes.beyond_feel:
            self._show_fits()

    def _show_fits(self) -> None:
        emptied(self.fits)
        info, studio = self.info, self._stage.studio
        if info is None or not self._seats or not info.controls:
            return
        seat = self._seats[0]
        infos = {there.id: there for there in self._status.controllers} if self._status is not None else {}
        parts = self._status.fills.get(seat, ()) if self._status is not None else ()
        whole = seat_info(parts, infos) or info
        sides = whole.two_sided if whole.shape != "mouth" else ()  # holes for the breath make no stick
        found = misfits(studio.profile, whole.controls, seat, sides)
        one = len(parts) == 1 and parts[0].controls is None
        head = Label(
            (_("{title} on this controller") if one else _("{title} on the controllers of this seat")).format(
                title=studio.profile.game.title
            )
        )
        head.setObjectName("heading")
        self.fits.addWidget(head)
        if not found:
            text = Label(_("Everything in the profile has a control here."))
            text.setObjectName("quiet")
            self.fits.addWidget(text)
            return
        can = [misfit for misfit in found if misfit.instead]
        for misfit in can:
            self.fits.addWidget(self._misfit(misfit, seat))
        if len(can) > 1:
            self.fits.addWidget(
                link(_("Apply all suggestions"), partial(self._fit, can, seat)), 0, Qt.AlignmentFlag.AlignLeft
            )

        left = [misfit for misfit in found if not misfit.instead]
        if left:
            head = Label(_("Not on this controller ({count})").format(count=len(left)))
            head.setObjectName("heading")
            head.setContentsMargins(0, 8, 0, 0)
            self.fits.addWidget(head)
            for misfit in left:
                text = Label(f"{self._stage.selection.names.title(misfit.control)}: {misfit.does}")
                text.setObjectName("quiet")
                text.setWordWrap(True)
                self.fits.addWidget(text)

    def _misfit(self, misfit: Misfit, seat: str) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        names = self._stage.selection.names
        text = Label(f"{names.title(misfit.control)}: {misfit.does}")
        text.setWordWrap(True)
        row.addWidget(text, 1)
        joined = [names.inside(axis) for axis in misfit.joined or ()]
        place = (
            _("{joined} and {joined_2} as one stick").format(joined=joined[0], joined_2=joined[1])
            if joined
            else names.inside(misfit.instead)
        )
        row.addWidget(link(_("Move to {place}").format(place=place), partial(self._fit, [misfit], seat)))
        return line

    def _fit(self, found: list[Misfit], seat: str) -> None:
        def change(profile: Profile) -> Profile:
            for misfit in found:
                profile = with_fitted(profile, misfit, seat)
            return profile

        names = self._stage.selection.names
        title = (
            _("{control} moved to {instead}").format(
                control=names.title(found[0].control), instead=names.inside(found[0].instead)
            )
            if len(found) == 1
            else _("Move {count} assignments to this controller").format(count=len(found))
        )
        self._stage.document.edit(title, change)
