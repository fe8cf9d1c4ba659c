"""Pictures whose parts are slots: a click selects a part, a double click lets it listen, a command is dropped on it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDragMoveEvent, QDropEvent, QKeyEvent, QMouseEvent, QPainter

from nubshift.app.painting.canvas import Canvas, elided, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.theme import SMALL, font
from nubshift.app.stage import COMMAND_MIME, Stage
from nubshift.model.falling_through import shown_sends
from nubshift.model.sends import SendCommand, SendKey, Sends
from nubshift.model.sentences import keys_of, sends_name, slot_name
from nubshift.model.slots import Slot

STEPS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


class PartPicture(Canvas):
    """A picture of a control, belt or macro. Subclasses say which parts there are and where, and paint them."""

    def __init__(self, stage: Stage, control: str, layer: str | None = None) -> None:
        super().__init__(stage.look)
        self.stage = stage
        self.control = control
        self._layer = layer
        self._over = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        stage.assigning.armed_changed.connect(self.update)
        stage.selection.changed.connect(self.refresh)
        stage.live.held_changed.connect(self.update)

    # To be said by subclasses

    def parts(self) -> Sequence[str]:
        """The parts, in their order."""
        return ()

    def place(self, part: str) -> QRectF:
        """Where a part is drawn."""
        return QRectF()

    def part_at(self, position: QPointF) -> str:
        """The part at a position, empty for none."""
        return next((part for part in self.parts() if self.place(part).contains(position)), "")

    # What they share

    def slot(self, part: str) -> Slot:
        """The slot that a part is."""
        studio = self.stage.studio
        return Slot(
            studio.selection.layer if self._layer is None else self._layer, self.control, part, studio.selection.seat
        )

    def sends(self, part: str) -> Sends:
        """What a part sends."""
        return shown_sends(self.stage.studio.profile, self.slot(part))

    @property
    def current(self) -> str:
        """The part that is edited: the one selected, else the first."""
        parts = self.parts()
        part = self.stage.selection.part
        return part if part in parts else parts[0] if parts else ""

    def listening(self, part: str) -> bool:
        """Whether a part waits for a key."""
        armed = self.stage.assigning.armed
        return armed is not None and armed.slot == self.slot(part)

    def refresh(self) -> None:
        """The profile or the selection changed."""
        part = self.current
        if part:
            profile = self.stage.studio.profile
            name = slot_name(profile, self.slot(part), self.stage.selection.names)
            self.setAccessibleName(f"{name}: {sends_name(profile, self.sends(part))}")
        self.update()

    def choose(self, part: str) -> None:
        """Select a part."""
        self.stage.selection.select(self.control, part)
        self.refresh()

    def arm(self, part: str) -> None:
        """Let a part listen for a key."""
        self.choose(part)
        self.stage.assigning.arm(self.slot(part), 0 if self.sends(part) else None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select."""
        if event is None:
            return
        part = self.part_at(event.position())
        if part and event.button() == Qt.MouseButton.LeftButton:
            self.choose(part)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Let it listen."""
        if event is not None and (part := self.part_at(event.position())):
            self.arm(part)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go from part to part, Enter lets one listen, Delete empties it."""
        if event is None:
            return
        key = event.key()
        plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier)
        if key in STEPS and plain and self._step(*STEPS[Qt.Key(key)]):
            return
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current:
            self.arm(self.current)
        elif key == Qt.Key.Key_Delete and self.current:
            self.stage.assigning.set_sends(self.slot(self.current), ())
        else:
            super().keyPressEvent(event)

    def _step(self, dx: int, dy: int) -> bool:
        parts = [part for part in self.parts() if part != self.current]
        here = self.place(self.current).center()

        def cost(part: str) -> float:
            way = self.place(part).center() - here
            along, across = (way.x() * dx, abs(way.y())) if dx else (way.y() * dy, abs(way.x()))
            return along + 2.0 * across if along > 1 else 1e9

        nearest = min(parts, key=cost, default="")
        if not nearest or cost(nearest) >= 1e9:
            return False
        self.choose(nearest)
        return True

    # A command dragged here

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A command may be dropped."""
        data = event.mimeData() if event else None
        if event and data and data.hasFormat(COMMAND_MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        """Show where it would go."""
        if event is not None:
            self._over = self.part_at(event.position())
            event.setAccepted(bool(self._over))
            self.update()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        """It went elsewhere."""
        self._over = ""
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Let this part send the command."""
        self._over = ""
        data = event.mimeData() if event else None
        part = self.part_at(event.position()) if event else ""
        if event and data and part:
            command = bytes(data.data(COMMAND_MIME).data()).decode()
            self.choose(part)
            self.stage.assigning.set_sends(self.slot(part), (SendCommand(command),))
            event.acceptProposedAction()
        self.update()

    # Painting

    def draw_sends(self, painter: QPainter, rect: QRectF, sends: Sends, empty: str = "", faint: bool = False) -> None:
        """Caps and the name of what is sent, in the middle of a place; the name goes below where there is room."""
        theme = self.theme
        profile = self.stage.studio.profile
        keys = keys_of(profile, sends)[:2]
        height = line_height(SMALL)
        named = not all(isinstance(send, SendKey) for send in sends)  # a bare key says all on its cap
        both = keys and named and rect.height() >= cap_height() + height + 2
        top = rect.center().y() - ((cap_height() + height + 2) / 2 if both else cap_height() / 2)
        if keys:
            width = sum(cap_width(key, self.stage.label_of(key)) + 5 for key in keys) - 5
            left = max(rect.left() + 2, rect.center().x() - width / 2)
            draw_caps(painter, left, top, self.stage.caps(keys, faint), theme, rect.right())
        if both or not keys:
            text = sends_name(profile, sends) if sends else empty
            painter.setPen(theme.ink if sends and not faint else theme.quiet)
            painter.setFont(font(SMALL))
            room = rect.width() - 6
            if not keys and text_width(text, SMALL) > room and rect.height() > 2 * height:
                flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
                painter.drawText(rect.adjusted(3, 2, -3, -2), flags, text)
                return
            where = (
                QRectF(rect.left() + 3, top + cap_height() + 2, room, height) if keys else rect.adjusted(3, 0, -3, 0)
            )
            painter.drawText(where, Qt.AlignmentFlag.AlignCenter, elided(text, room, SMALL))
