"""The inspector's panel for motion: what the gyro is used as, about which axes, and when it acts (N35)."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QCheckBox

from nubshift.app.editors.panel import Choices, Panel
from nubshift.app.editors.roles.role_panel import INVERTS
from nubshift.app.editors.rows.by_row import ByRow
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.painting.theme import SMALL, faded, font
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.roles import GyroRole
from nubshift.texts import _, switched

USES = {"nothing": _("Unassigned"), "mouse": _("Mouse"), "pointer": _("Pointer"), "stick": _("Virtual stick")}
AXES = {"turn": _("Yaw"), "lean": _("Roll"), "gravity": _("Gravity")}
AXES_TOLD = {
    "turn": _("Yaw: turn the controller flat, like a plate on a table, to look sideways."),
    "lean": _("Roll: tilt the controller to a side to look sideways."),
    "gravity": _("Gravity: sideways stays level whichever way the controller is held."),
}
ACTIVE = {"always": _("Always"), "while": _("While held"), "unless": _("Paused while held"), "toggled": _("Toggle")}


class MotionPanel(Panel):
    """Motion, alive, and its role."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading(_("Used as"))
        self.used = Choices(_("Used as"), USES, self._use)
        self.add(self.used)
        self.figures = MotionFigures(stage)
        self.add(self.figures)
        self.axes: Choices | None = None
        self.active: Choices | None = None
        self._by: ByRow | None = None
        self._told = self.quiet("")
        self._boxes: dict[str, QCheckBox] = {}
        if self.role is not None:
            self._make()
        self.refresh()

    @property
    def role(self) -> GyroRole | None:
        """What motion is used as."""
        binding = self.binding
        return binding.role if binding is not None and isinstance(binding.role, GyroRole) else None

    def _make(self) -> None:
        role = self.role
        assert role is not None
        self.heading(_("Look sideways by"))
        self.axes = Choices(
            _("Look sideways by"),
            AXES,
            lambda value: self.change_role(_("Look sideways by {axes}").format(axes=AXES[value]), axes=value),
        )
        self.add(self.axes)
        self.column.removeWidget(self._told)
        self.add(self._told)
        self.heading(_("Active"))
        self.active = Choices(_("Active"), ACTIVE, self._activate)
        self.add(self.active)
        self._by = ByRow(self, _("Control"), lambda gyro: gyro.active != "always")
        self.add(self._by)
        self.heading(_("Speed"))
        if role.to == "mouse":
            self.add_rows((p.GYRO_RATIO, p.RATIO, p.GYRO_THRESHOLD, p.MIN_CUTOFF, p.BETA))
        else:
            self.edge = self.number(
                p.GYRO_EDGE, lambda rate: self.change_role(_("Edge"), "edge", stick_rate=rate), square=True
            )
            self.add_rows((p.GYRO_THRESHOLD, p.MIN_CUTOFF))
        for field, text in INVERTS:
            self._boxes[field] = self.check(text, partial(self._invert, field, text))

    def _invert(self, field: str, text: str, on: bool) -> None:
        title = switched(text, on)
        self.set_feel(title, "", self.stage.selection.layer, **{field: on})

    def change_role(self, title: str, merge: str = "", **values: object) -> None:
        """Change fields of the role."""
        role = self.role
        if role is not None:
            changed = replace(role, **values)
            self.change_binding(title, lambda binding: replace(binding, role=changed), merge)

    def _use(self, use: str) -> None:
        studio, control = self.stage.studio, self.control
        layer, seat = studio.selection.layer, studio.selection.seat
        if use == "nothing":
            gone = Binding(control, seat, blocked=layer != BASE)
            studio.document.edit(_("Clear motion"), lambda profile: edits.with_binding(profile, layer, gone))
            return
        role = replace(self.role or GyroRole(), to=use)

        def change(profile: Profile) -> Profile:
            return edits.with_role(profile, layer, control, role, seat)

        studio.document.edit(_("Use motion as {use}").format(use=USES[use]), change)

    def _activate(self, value: str) -> None:
        role = self.role
        by = role.by if role is not None and role.by else "left_trigger"
        self.change_role(
            _("Gyro active: {when}").format(when=ACTIVE[value]), active=value, by="" if value == "always" else by
        )

    def refresh(self) -> None:
        """The profile changed."""
        role = self.role
        self.used.show_choice(role.to if role else "nothing")
        self.refresh_rows()
        if role is None:
            self._told.setText(_("How the controller turns. Choose above what it moves."))
            return
        self._told.setText(AXES_TOLD[role.axes])
        if self.axes is not None and self.active is not None and self._by is not None:
            self.axes.show_choice(role.axes)
            self.active.show_choice(role.active)
            self._by.show_role(role)
        if role.to != "mouse":
            self.edge.show_value(role.stick_rate)
        for field, box in self._boxes.items():
            box.setChecked(bool(getattr(self.feel, field)))


class MotionFigures(Canvas):
    """Turn and nod as two needles from the middle, with what they are worth now."""

    FULL = 200.0

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.setFixedHeight(round(2 * line_height(SMALL) + 40))
        stage.live.controls_changed.connect(self._moved)

    def _moved(self, controls: set[str]) -> None:
        if "motion" in controls:
            self.update()

    def sizeHint(self) -> QSize:
        """As wide as the inspector."""
        return QSize(240, self.height())

    def draw(self, painter: QPainter) -> None:
        """A line each way from the middle."""
        theme = self.theme
        painter.setFont(font(SMALL))
        height = line_height(SMALL)
        names = zip((_("Yaw"), _("Pitch")), self._stage.live.value("motion"), strict=True)
        for index, (name, value) in enumerate(names):
            y = height + 6 + index * (height + 18)
            painter.setPen(theme.quiet)
            painter.drawText(QRectF(0, y - height - 4, self.width(), height), Qt.AlignmentFlag.AlignLeft, name)
            painter.setPen(theme.ink)
            where = QRectF(0, y - height - 4, self.width(), height)
            painter.drawText(where, Qt.AlignmentFlag.AlignRight, f"{round(value) + 0:d} °/s")
            middle = self.width() / 2
            painter.setPen(QPen(theme.line, 1))
            painter.drawLine(QPointF(0, y + 4), QPointF(self.width(), y + 4))
            length = max(-1.0, min(1.0, value / self.FULL)) * (middle - 6)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(faded(theme.input, 0.55))
            painter.drawRoundedRect(QRectF(min(middle, middle + length), y + 2, abs(length), 4), 2, 2)
            painter.setBrush(theme.input)
            painter.drawEllipse(QPointF(middle + length, y + 4), 4.5, 4.5)
