"""What all tiles share: one control each, selected, steered, armed, dragged, and dropped on."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QDrag,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDropEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
)
from PyQt6.QtWidgets import QApplication

from nubshift.app.map.words import Words, spoken, words_for
from nubshift.app.painting.canvas import Canvas, draw_focus
from nubshift.app.painting.caps import Cap
from nubshift.app.painting.nubs import RADIUS, draw_clash
from nubshift.app.stage import COMMAND_MIME, CONTROL_MIME, Stage
from nubshift.app.widgets.plain import tip
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import BASE
from nubshift.model.sends import SendCommand

PAD = 10.0


class Tile(Canvas):
    """A control's tile: selected with a click, steered on its round mark if the pad is simulated.

    With Ctrl several are selected; dragged by its body it goes to another finger.
    """

    stepped = pyqtSignal(str, int, int, bool)
    menu_wanted = pyqtSignal(str, object)
    dragged = pyqtSignal(bool)
    control_dropped = pyqtSignal(str, str)

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage.look)
        self.stage = stage
        self.control = control
        self._steering = False
        self._dropping = False
        self._pressed_at: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        self.refresh()

    # What is said

    def refresh(self) -> None:
        """The profile or the layer changed."""
        studio = self.stage.studio
        self.words: Words = words_for(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        self.clash = self.stage.grasp.clash_of(self.control)
        labels = {key: self.stage.label_of(key) for key in self.words.keys}
        reason = f"{self.clash.reason} {self.clash.suggestion}".strip() if self.clash else ""
        self.setAccessibleName(
            spoken(studio.selection.names.title(self.control), self.control, self.words, labels, reason)
        )
        self.setToolTip(tip(reason or self.words.in_full()))
        self.update()

    @property
    def mark(self) -> str:
        """What stands in its round mark."""
        return self.stage.selection.names.mark(self.control)

    @property
    def selected(self) -> bool:
        """Whether this is among the controls that are edited."""
        return self.control in self.stage.selection.chosen

    @property
    def moved(self) -> float:
        """How far the control is moved now, 0 to 1."""
        return self.stage.live.depth(self.control)

    def follow(self) -> None:
        """The control moved; nothing else did."""
        self.update()

    def caps(self, keys: tuple[str, ...], faint: bool) -> list[Cap]:
        """Caps for keys, in the output colour while they are down."""
        return self.stage.caps(keys, faint)

    # What is painted

    def draw_ground(self, painter: QPainter) -> None:
        """The tile itself: solid with an edge where this layer sets it, dashed where it is inherited or empty."""
        theme = self.theme
        rect = QRectF(1.5, 1.5, self.width() - 3, self.height() - 3)
        own = self.words.own
        painter.setPen(Qt.PenStyle.NoPen if own else QPen(theme.line, 1, Qt.PenStyle.DashLine))
        painter.setBrush(theme.raised if own else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect, 8, 8)
        if own and self.stage.selection.layer != BASE:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.input)
            painter.drawRoundedRect(QRectF(rect.left(), rect.top() + 6, 3.5, rect.height() - 12), 1.5, 1.5)
        if self._dropping:
            draw_focus(painter, QRectF(self.rect()), theme)

    def draw_selection(self, painter: QPainter) -> None:
        """A ring on the selected control; a finer one where only the keyboard is; a mark where fingers clash."""
        if self.clash is not None:
            draw_clash(painter, self.clash_centre(), self.theme)
        if self.selected:
            draw_focus(painter, QRectF(self.rect()), self.theme)
        elif self.hasFocus():
            painter.setPen(QPen(self.theme.quiet, 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5), 8, 8)

    def clash_centre(self) -> QPointF:
        """Where the mark of a clash is."""
        return QPointF(self.width() - 14, 14)

    def nub_centre(self) -> QPointF:
        """Where the round mark is."""
        return QPointF(PAD + RADIUS, PAD + RADIUS)

    # What is done with it

    @property
    def _can_steer(self) -> bool:
        return self.stage.steering.possible_in(self.stage.selection.seat)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select (with Ctrl: also); on the round mark of a simulated pad, press it too."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        studio = self.stage.studio
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            kept = tuple(c for c in studio.selection.chosen if c != self.control)
            studio.selection.select_all(kept if self.selected and kept else (*kept, self.control))
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            return
        answers = studio.assigning.awaits_touch and self._can_steer and self.on_hand(event.position())
        if not answers:  # the touch of the mark is what is waited for, and selects nothing
            studio.selection.select(self.control)
            self.setFocus(Qt.FocusReason.MouseFocusReason)
        if self._can_steer and self.on_hand(event.position()):
            self._steering = True
            self.steer(event.position())
        else:
            self._pressed_at = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Go on steering, or drag the control to another finger."""
        if event is None:
            return
        if self._steering:
            self.steer(event.position())
        elif self._pressed_at is not None and _far(event.position() - self._pressed_at):
            self._pressed_at = None
            self._drag()

    def _drag(self) -> None:
        data = QMimeData()
        data.setData(CONTROL_MIME, self.control.encode())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.setPixmap(self.grab())
        self.dragged.emit(True)
        drag.exec(Qt.DropAction.MoveAction)
        self.dragged.emit(False)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let the control go."""
        self._pressed_at = None
        self.let_go()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Let the slot of this control listen, except on the round mark, which is only pressed again."""
        if event is None:
            return
        if self._can_steer and self.on_hand(event.position()):
            self.mousePressEvent(event)
        else:
            self.arm()

    def arm(self) -> None:
        """Let the slot of this control listen for a key: of the part selected, or of the one that comes first."""
        if kind_of(self.control) not in (Kind.BUTTON, Kind.TRIGGER):
            return
        studio = self.stage.studio
        there = self.words.binding.gestures if self.words.binding is not None else {}
        studio.assigning.arm_control(self.control, studio.selection.part if studio.selection.part in there else "")

    def on_hand(self, position: QPointF) -> bool:
        """Whether a position lies on the round part."""
        centre = self.nub_centre()
        return (position - centre).manhattanLength() <= RADIUS * 1.6

    def steer(self, position: QPointF) -> None:
        """Move the control by the mouse."""
        self.put(1.0)

    def put(self, x: float, y: float = 0.0) -> None:
        """Put the simulated control somewhere."""
        self.stage.steering.put(self.control, x, y, self.stage.selection.seat)

    def let_go(self) -> None:
        """The hand leaves the control."""
        if self._steering:
            self._steering = False
            self.put(0.0)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """What was held by the keyboard or the mouse is let go of."""
        self.let_go()
        self.update()

    STEPS: ClassVar[dict[int, tuple[int, int]]] = {
        Qt.Key.Key_Left: (-1, 0),
        Qt.Key.Key_Right: (1, 0),
        Qt.Key.Key_Up: (0, -1),
        Qt.Key.Key_Down: (0, 1),
    }

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go to the next tile (with Ctrl: select it too), Enter arms the slot, Space presses a simulated
        control."""
        if event is None:
            return
        key = event.key()
        if key in self.STEPS and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            also = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            self.stepped.emit(self.control, *self.STEPS[key], also)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.arm()
        elif key == Qt.Key.Key_Menu:
            self.menu_wanted.emit(self.control, self.mapToGlobal(self.rect().center()))
        elif not self.steer_key(event, True):
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """The end of a press by keyboard."""
        if event is not None and not self.steer_key(event, False):
            super().keyReleaseEvent(event)

    def steer_key(self, event: QKeyEvent, down: bool) -> bool:
        """Whether the key steers this control; then do so."""
        if event.key() != Qt.Key.Key_Space or not self._can_steer:
            return False
        if not event.isAutoRepeat():
            self._steering = down
            self.put(float(down))
        return True

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What else can be done with this control."""
        if event is not None:
            if not self.selected:
                self.stage.selection.select(self.control)
            self.menu_wanted.emit(self.control, event.globalPos())

    # A command dragged here, or a control dragged to this finger

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A command may be dropped on a button, another control beside it."""
        data = event.mimeData() if event else None
        if event and data and (data.hasFormat(COMMAND_MIME) or data.hasFormat(CONTROL_MIME)):
            self._dropping = data.hasFormat(COMMAND_MIME)
            event.acceptProposedAction()
            self.update()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        """It went elsewhere."""
        self._dropping = False
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Let this control send the command, or take the other control to this finger."""
        self._dropping = False
        data = event.mimeData() if event else None
        if event and data and data.hasFormat(CONTROL_MIME):
            self.control_dropped.emit(bytes(data.data(CONTROL_MIME).data()).decode(), self.control)
            event.acceptProposedAction()
        elif event and data:
            command = bytes(data.data(COMMAND_MIME).data()).decode()
            self.drop_command(command, event.position())
            event.acceptProposedAction()
        self.update()

    def drop_command(self, command: str, position: QPointF) -> None:
        """Let the control send `command`."""
        studio = self.stage.studio
        studio.selection.select(self.control)
        studio.assigning.set_sends(
            studio.selection.slot(self.control, studio.assigning.main_part(self.control)), (SendCommand(command),)
        )


def _far(way: QPointF) -> bool:
    return way.manhattanLength() >= QApplication.startDragDistance()
