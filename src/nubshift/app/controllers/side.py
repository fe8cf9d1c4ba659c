"""What is kept of one controller: its seat, what is printed on it, its colour and light, calibration, other formats."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from nubshift.app.controllers.store import ControllerStore
from nubshift.app.editors.panel import Choices, FlowLayout, emptied, link
from nubshift.app.editors.pictures.pickers import Swatches
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.same_place import same_place
from nubshift.app.widgets.scrolling import scrolled
from nubshift.errors import StorageError
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import SETUP_SUFFIX
from nubshift.model.files import read_text
from nubshift.model.names import COLOUR_NAMES, PRINTS
from nubshift.model.profile import Colour
from nubshift.model.sharing import Side as Half
from nubshift.model.sharing import has_halves, joined, other_half, side_of, taken, with_one_motion
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import Status
from nubshift.texts import _, listed

COLOURS: dict[str, str] = {"none": _("None"), **COLOUR_NAMES}
HOLDING = {"upright": _("Upright"), "sideways": _("Sideways")}
HALVES: dict[Half, str] = {"all": _("All of it"), "left": _("Left half"), "right": _("Right half")}


class Side(QWidget):
    """The right of the workspace."""

    noticed = pyqtSignal(str, str)

    def __init__(self, stage: Stage, store: ControllerStore) -> None:
        super().__init__()
        self._stage, self._store = stage, store
        self.info: ControllerInfo | None = None
        self._status: Status | None = None
        self._column = QVBoxLayout()
        self._column.setContentsMargins(16, 12, 14, 10)
        self._column.setSpacing(6)
        inside = QWidget()
        inside.setLayout(self._column)
        area = scrolled(inside)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(area)
        self._shown: object = None

    def show_info(self, info: ControllerInfo | None, status: Status | None) -> None:
        """Another controller, or another state of it."""
        self.info, self._status = info, status
        fills = status.fills if status is not None else {}
        there = tuple(c.id for c in status.controllers) if status is not None else ()
        shown = (info, fills, there, self._store.file, self._stage.studio.profile.seats)
        if shown == self._shown:
            return
        self._shown = shown
        with same_place(self):
            self._build(info, fills)

    def _build(self, info: ControllerInfo | None, fills: dict[str, tuple[PartOf, ...]]) -> None:
        emptied(self._column)
        if info is not None and not info.trouble:
            self._half(info, fills)
            self._seats(info, fills)
            self._prints(info)
            self._colours(info)
            self._calibration(info)
            self._formats(info)
        self._column.addStretch(1)

    def _heading(self, text: str) -> None:
        label = Label(text)
        label.setObjectName("heading")
        label.setContentsMargins(0, 8, 0, 0)
        self._column.addWidget(label)

    def _quiet(self, text: str) -> None:
        label = Label(text)
        label.setObjectName("quiet")
        label.setWordWrap(True)
        self._column.addWidget(label)

    def _link(self, text: str, run: partial[None]) -> None:
        self._column.addWidget(link(text, run), 0, Qt.AlignmentFlag.AlignLeft)

    # Halves

    def _half(self, info: ControllerInfo, fills: dict[str, tuple[PartOf, ...]]) -> None:
        """How a half is held, and the pair it could be."""
        if not info.half:
            return
        self._heading(_("The {half} half of a pair. Held").format(half=info.half))
        other = other_half(info, self._infos.values())
        seat = next((seat for seat, parts in fills.items() if any(part.controller == info.id for part in parts)), "1")
        if len(fills.get(seat, ())) < 2:
            choices = Choices(_("Held"), HOLDING, lambda held: self._hold(info, held))
            choices.show_choice("sideways" if info.sideways else "upright")
            self._column.addWidget(choices)
            self._quiet(_("Held sideways, in both hands, its stick, buttons and motion are rotated to match."))
            if other is not None:
                run = partial(self._store.join_pair, seat, info, other)
                self._link(_("Join with {name}").format(name=self._store.name(other)), run)

    def _hold(self, info: ControllerInfo, held: str) -> None:
        self._store.set_own(info, sideways=held == "sideways")

    # Seats

    def _seats(self, info: ControllerInfo, fills: dict[str, tuple[PartOf, ...]]) -> None:
        self._heading(_("Player"))
        for number, seat in enumerate(self._stage.studio.profile.seats, 1):
            name = seat.name or (
                _("player {number}").format(number=number) if len(self._stage.studio.profile.seats) > 1 else _("you")
            )
            parts = fills.get(seat.id, ())
            mine = next((part for part in parts if part.controller == info.id), None)
            if mine is None:
                self._link(_("Use for {name}").format(name=name), partial(self._give, seat.id, info))
                if parts:
                    text = _("Add to the controllers of {name}").format(name=name)
                    self._link(text, partial(self._join, seat.id, parts, info))
                continue
            self._quiet(_("Seat {id}: {name}").format(id=seat.id, name=name))
            if has_halves(info):
                choices = Choices(
                    _("Part used by seat {id}").format(id=seat.id),
                    HALVES,
                    partial(self._take_part, seat.id, parts, info),
                )
                choices.show_choice(side_of(info, mine))
                self._column.addWidget(choices)
            if len(parts) > 1:
                self._joined(seat.id, parts)
            if seat.id != self._stage.studio.profile.seats[0].id:
                self._link(_("Not used by this seat"), partial(self._fill, seat.id, ()))

    def _give(self, seat: str, info: ControllerInfo) -> None:
        """Fill a seat with it; if another seat has all of it already, the two share it by halves."""
        fills = self._status.fills if self._status is not None else {}
        for other, parts in fills.items() if has_halves(info) else ():
            if len(parts) == 1 and parts[0].controller == info.id and parts[0].controls is None:
                self._fill(other, (taken(info, parts[0], "left"),))
                self._fill(seat, (taken(info, PartOf(info.key), "right"),))
                return
        self._fill(seat, (PartOf(info.key),))

    def _joined(self, seat: str, parts: tuple[PartOf, ...]) -> None:
        """Halves that are one controller: whose motion counts, and taking them apart."""
        names = {part.controller: self._name(part.controller) for part in parts}
        self._quiet(_("Joined: {values}. Motion from").format(values=listed(list(names.values()))))
        moving = next((part.controller for part in parts if part.motion), "")
        choices = Choices(_("Motion from"), names, partial(self._motion_from, seat, parts))
        choices.show_choice(moving)
        self._column.addWidget(choices)
        self._link(_("Separate"), partial(self._fill, seat, (PartOf(parts[0].controller),)))

    def _name(self, controller: str) -> str:
        info = self._known(controller)
        return self._store.name(info) if info is not None else controller

    def _known(self, controller: str) -> ControllerInfo | None:
        infos = self._status.controllers if self._status is not None else ()
        return next((info for info in infos if controller in (info.id, info.key)), None)

    def _fill(self, seat: str, parts: tuple[PartOf, ...]) -> None:
        by_key = []
        for part in parts:
            info = self._known(part.controller)
            by_key.append(replace(part, controller=info.key) if info is not None and info.key else part)
        self._store.fill(seat, tuple(by_key))

    def _join(self, seat: str, parts: tuple[PartOf, ...], info: ControllerInfo) -> None:
        self._fill(seat, joined(parts, self._infos, info))

    def _motion_from(self, seat: str, parts: tuple[PartOf, ...], controller: str) -> None:
        self._fill(seat, with_one_motion(parts, self._infos, controller))

    @property
    def _infos(self) -> dict[str, ControllerInfo]:
        infos = self._status.controllers if self._status is not None else ()
        return {info.id: info for info in infos}

    def _take_part(self, seat: str, parts: tuple[PartOf, ...], info: ControllerInfo, side: Half) -> None:
        self._fill(seat, tuple(taken(info, part, side) if part.controller == info.id else part for part in parts))

    # What is printed, colour and light

    def _prints(self, info: ControllerInfo) -> None:
        if not {"north", "east", "south", "west"} & set(info.controls):
            return
        self._heading(_("Face button labels"))
        choices = Choices(_("Face button labels"), PRINTS, partial(self._store.set_print, info))
        choices.show_choice(self._store.labels(info).print)
        self._column.addWidget(choices)

    def _colours(self, info: ControllerInfo) -> None:
        own = self._store.own(info)
        self._heading(_("Colour in this window"))
        choices = Choices(_("Colour"), COLOURS, partial(self._set_colour, info))
        choices.show_choice(own.colour or "none")
        self._column.addWidget(choices)
        if info.lights:
            self._heading(_("Light"))
            picker = Swatches(self._stage)
            picker.show_colour(own.light)
            picker.chosen.connect(lambda colour: self._store.set_own(info, light=colour))
            self._column.addWidget(picker)
            if own.light:
                self._link(_("Leave unchanged"), partial(self._set_light, info, ""))

    def _set_light(self, info: ControllerInfo, light: str) -> None:
        self._store.set_own(info, light=light)

    def _set_colour(self, info: ControllerInfo, colour: str) -> None:
        chosen: Colour | None = None if colour == "none" else colour  # type: ignore[assignment]
        self._store.set_own(info, colour=chosen)

    # Calibration

    def _calibration(self, info: ControllerInfo) -> None:
        self._heading(_("Calibration"))
        own = self._store.own(info).calibration
        names = self._store.names(info)
        if not own:
            self._quiet(_("None. Measure the rest and reach of a stick in Tune, and save them there."))
        for control, kept in own.items():
            x, y = kept.rest
            reach = ", ".join(f"{value:.2f}" for value in kept.reach)
            self._quiet(
                _("{control}: rests at {x:+.3f}, {y:+.3f}; reaches {reach}").format(
                    control=names.title(control), x=x, y=y, reach=reach
                )
            )
            self._link(
                _("Forget for {control}").format(control=names.inside(control)),
                partial(self._store.calibrate, info, control, None),
            )

    # Formats

    def _formats(self, info: ControllerInfo) -> None:
        if info.how == "built-in":
            return
        self._heading(_("Share the setup"))
        line = QWidget()
        row = FlowLayout(4)
        line.setLayout(row)
        if info.how == "taught":
            row.addWidget(link(_("Export setup…"), partial(self._export, info)))
        row.addWidget(link(_("Import setup…"), self._bring))
        if info.line:
            row.addWidget(link(_("Copy as mapping line"), partial(self._copy_line, info)))
        row.addWidget(link(_("Paste mapping line"), self._paste_line))
        self._column.addWidget(line)

    def _export(self, info: ControllerInfo) -> None:
        path, _unused = QFileDialog.getSaveFileName(self, _("Export setup"), f"controller{SETUP_SUFFIX}")
        if path:
            self._store.export(info, Path(path))

    def _bring(self) -> None:
        path, _unused = QFileDialog.getOpenFileName(
            self,
            _("Import setup or mapping lines"),
            "",
            _("Controllers (*{wiring_suffix} *.txt)").format(wiring_suffix=SETUP_SUFFIX),
        )
        if path.endswith(".txt"):
            try:
                self._store.add_lines(read_text(Path(path)))
            except StorageError as error:
                self.noticed.emit("error", f"{error}.")
        elif path:
            self._store.bring_setup(Path(path))

    def _copy_line(self, info: ControllerInfo) -> None:
        board = QGuiApplication.clipboard()
        if board is not None:
            board.setText(info.line)
            self.noticed.emit("info", _("The mapping line is on the clipboard."))

    def _paste_line(self) -> None:
        board = QGuiApplication.clipboard()
        text = board.text().strip() if board is not None else ""
        if "," not in text or ":" not in text:
            self.noticed.emit("warning", _("There is no mapping line on the clipboard. Copy one first."))
            return
        self._store.add_lines(text)
