"""A row for a tunable number: name, value in the units a person pictures, a slider, and the number to type."""

from __future__ import annotations

from math import log

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QVBoxLayout, QWidget

from nubshift.app.painting.theme import Look, faded
from nubshift.app.widgets.calm_wheel import passes_by
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.model.parameters import Parameter

HANDLE = 6.0
WIDE_STEPS = 160
"""Positions of a slider whose parameter spans several powers of ten."""


class NumberSlider(QSlider):
    """A slider painted by us: round handle for a setting of the input, square for one of the output."""

    def __init__(self, look: Look, parameter: Parameter, square: bool) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._look = look
        self._square = square
        self.mark: float | None = None
        self._parameter = parameter
        self.setRange(0, WIDE_STEPS if parameter.wide else round((parameter.high - parameter.low) / parameter.step))
        self.setSingleStep(1)
        self.setPageStep(max(1, self.maximum() // 10))
        self.setFixedHeight(18)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.describe(parameter)
        look.changed.connect(self.update)

    def describe(self, parameter: Parameter) -> None:
        """Say to a screen reader what it sets."""
        self.setAccessibleName(parameter.label)
        self.setAccessibleDescription(parameter.help)

    def show_value(self, value: float) -> None:
        """Put the handle where `value` is, without saying that it changed."""
        p = self._parameter
        share = log(value / p.low) / log(p.high / p.low) if p.wide else (value - p.low) / (p.high - p.low)
        self.blockSignals(True)
        self.setValue(round(share * self.maximum()))
        self.blockSignals(False)
        self.update()

    def parameter_value(self) -> float:
        """The value where the handle is, in whole steps."""
        p, share = self._parameter, self.value() / max(1, self.maximum())
        value = p.low * (p.high / p.low) ** share if p.wide else p.low + share * (p.high - p.low)
        return p.clamp(round(value / p.step) * p.step)

    def _x(self, share: float) -> float:
        return HANDLE + share * (self.width() - 2 * HANDLE)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Track, live value and handle."""
        theme = self._look.theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = self.height() / 2
        share = self.value() / max(1, self.maximum())
        colour = theme.output if self._square else theme.input
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.line)
        painter.drawRoundedRect(QRectF(HANDLE, middle - 1.5, self.width() - 2 * HANDLE, 3), 1.5, 1.5)
        painter.setBrush(faded(colour, 0.6))
        painter.drawRoundedRect(QRectF(HANDLE, middle - 1.5, self._x(share) - HANDLE, 3), 1.5, 1.5)
        if self.mark is not None:
            painter.setBrush(theme.input)
            painter.drawRect(QRectF(self._x(min(1.0, self.mark)) - 1, middle - 7, 2, 14))
        painter.setBrush(colour if self.isEnabled() else theme.line)
        painter.setPen(QPen(theme.ink, 2) if self.hasFocus() else Qt.PenStyle.NoPen)
        rect = QRectF(self._x(share) - HANDLE, middle - HANDLE, 2 * HANDLE, 2 * HANDLE)
        if self._square:
            painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 2, 2)
        else:
            painter.drawEllipse(rect)
        painter.end()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """A step up or down, where the keyboard is."""
        if not passes_by(self, event):
            super().wheelEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take the handle where the mouse is."""
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setSliderDown(True)
            self._drag(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag it along."""
        if event is not None and self.isSliderDown():
            self._drag(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let it go; the drag is one edit."""
        self.setSliderDown(False)

    def _drag(self, event: QMouseEvent) -> None:
        share = (event.position().x() - HANDLE) / max(1.0, self.width() - 2 * HANDLE)
        self.setValue(round(max(0.0, min(1.0, share)) * self.maximum()))


class NumberRow(QWidget):
    """One parameter. `changed` carries the new value while it moves, `settled` says that a drag has ended."""

    changed = pyqtSignal(float)
    settled = pyqtSignal()

    def __init__(self, look: Look, parameter: Parameter, square: bool = False) -> None:
        super().__init__()
        self.parameter = parameter
        self._value = parameter.default
        self.slider = NumberSlider(look, parameter, square)
        self.slider.valueChanged.connect(self._slid)
        self.slider.sliderReleased.connect(self.settled)
        self._name = Label(parameter.label)
        self._name.setWordWrap(True)
        self.field = LineField()
        self.field.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._make_room()
        self.field.setFrame(False)
        self.field.setAccessibleName(parameter.label)
        self.field.editingFinished.connect(self._typed)
        self.setToolTip(parameter.help)
        head = QHBoxLayout()
        head.setSpacing(4)
        head.addWidget(self._name, 1)
        head.addWidget(self.field)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 1, 0, 1)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self.slider)
        self.show_value(parameter.default)

    def show_parameter(self, parameter: Parameter) -> None:
        """Show the same parameter as it reads elsewhere: another label, unit and help; what is stored stays."""
        if parameter == self.parameter:
            return
        self.parameter = parameter
        self._name.setText(parameter.label)
        self.slider.describe(parameter)
        self.field.setAccessibleName(parameter.label)
        self.setToolTip(parameter.help)
        self._make_room()
        self.show_value(self._value)

    def _make_room(self) -> None:
        widest = QFontMetricsF(self.field.font()).horizontalAdvance(self.parameter.text(self.parameter.high))
        self.field.setFixedWidth(max(92, round(widest) + 30))

    def show_value(self, value: float, inherited: bool = False) -> None:
        """Show a value without saying that it changed; one that falls through is quiet."""
        self._value = value
        parameter = self.parameter
        self.slider.show_value(value)
        self._name.setObjectName("quiet" if inherited else "")
        style = self._name.style()
        if style is not None:
            style.unpolish(self._name)
            style.polish(self._name)
        if not self.field.hasFocus() or not self.field.isModified():
            self.field.setText(parameter.text(value))
            self.field.setModified(False)

    def _slid(self, position: int) -> None:
        parameter = self.parameter
        self._value = self.slider.parameter_value()
        self.field.setText(parameter.text(self._value))
        self.changed.emit(self._value)
        if not self.slider.isSliderDown():
            self.settled.emit()

    def _typed(self) -> None:
        """A number typed, with or without its unit; what can't be read is put back."""
        if not self.field.isModified():
            return
        self.field.setModified(False)
        parameter = self.parameter
        number = _number(self.field.text())
        if number is not None:
            self._value = parameter.clamp(number / parameter.shown)
            self.changed.emit(self._value)
            self.settled.emit()
        self.show_value(self._value)


def _number(text: str) -> float | None:
    kept = "".join(char for char in text.replace(",", ".") if char.isdigit() or char in ".-")
    try:
        return float(kept)
    except ValueError:
        return None
