"""The rows of the key list: drawn, chosen, dragged and walked by keys."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPoint, QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QAbstractItemView, QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from nubshift.app.document import subject
from nubshift.app.map.command_model import ROW_ROLE, CommandModel, CommandRow, RowKind
from nubshift.app.painting.canvas import draw_focus, elided, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.nubs import draw_empty, draw_nub
from nubshift.app.painting.theme import BODY, SMALL, font
from nubshift.app.stage import Stage
from nubshift.model.profile import BASE
from nubshift.texts import _

ROW_NUB = 9.0
MOST_NUBS = 3


class CommandView(QListView):
    """The rows. Enter lets a command listen for a touch; Alt and the arrows move it."""

    menu_wanted = pyqtSignal(str, object)
    chosen = pyqtSignal(str)

    def __init__(self, stage: Stage, model: CommandModel) -> None:
        super().__init__()
        self._stage = stage
        self._model = model
        self.setModel(model)
        self.setItemDelegate(RowPainter(stage, model, self))
        self.setAccessibleName(_("The game's keys"))
        self.setFrameShape(QListView.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setDragEnabled(True)
        self.setAcceptDrops(True)
        self.setDropIndicatorShown(True)
        self.setDragDropMode(QAbstractItemView.DragDropMode.DragDrop)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setMouseTracking(True)
        stage.live.held_changed.connect(self.update_rows)
        stage.look.changed.connect(self.update_rows)
        model.moved.connect(self.mark)

    @property
    def present(self) -> CommandRow | None:
        """The row that is marked."""
        row = self.currentIndex().data(ROW_ROLE)
        return row if isinstance(row, CommandRow) else None

    def place(self, row_id: str) -> QRect:
        """Where a row is, in the viewport; it is scrolled there."""
        index = self._model.index(self._model.row_of(row_id))
        self.scrollTo(index)
        return self.visualRect(index)

    def mark(self, row_id: str) -> None:
        """Mark a row without selecting its control."""
        index = self._model.index(self._model.row_of(row_id))
        if index.isValid() and index != self.currentIndex():
            self.setCurrentIndex(index)
            self.scrollTo(index)

    def follow(self) -> None:
        """Another control is selected: the rows show who sends them."""
        self.update_rows()

    def update_rows(self) -> None:
        """Paint again: what is held, selected or listening changed."""
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Select the control that sends the command. A drag has no release here: what it is dropped on stays open."""
        super().mouseReleaseEvent(event)
        row = self.present
        if event is None or row is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if self.indexAt(event.position().toPoint()) == self.currentIndex():
            self.chosen.emit(row.id)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Listen for a touch of the control that shall send this."""
        row = self.present
        if row is not None and row.kind is RowKind.COMMAND:
            self._stage.assigning.arm_command(row.id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go to the next command; the rest is in the menu too."""
        if event is None:
            return
        row, key = self.present, event.key()
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(key), 0)
        command = row is not None and row.kind is RowKind.COMMAND
        if row is not None and step and command and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self._model.step(row.id, step)
        elif step:
            self._go(step)
        elif row is not None and command and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._stage.assigning.arm_command(row.id)
        elif row is not None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(row.id)
        elif row is not None and command and key == Qt.Key.Key_F4:
            self._stage.selection.look_at(subject.command(row.id))
        elif row is not None and key == Qt.Key.Key_Menu:
            self.menu_wanted.emit(row.id, self._corner())
        else:
            QWidget.keyPressEvent(self, event)

    def _go(self, step: int) -> None:
        """To the next row that is no heading."""
        at = self.currentIndex().row()
        order = range(at + step, len(self._model.rows) if step > 0 else -1, step)
        for to in order:
            if self._model.rows[to].kind is not RowKind.GROUP:
                self.setCurrentIndex(self._model.index(to))
                self.chosen.emit(self._model.rows[to].id)
                return

    def _corner(self) -> QPoint:
        viewport = self.viewport()
        rect = self.visualRect(self.currentIndex())
        return viewport.mapToGlobal(rect.bottomLeft()) if viewport is not None else QPoint()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What else can be done with this row."""
        if event is not None:
            index = self.indexAt(event.pos())
            row = index.data(ROW_ROLE)
            if isinstance(row, CommandRow):
                name = f"group:{row.group}" if row.kind is RowKind.GROUP else row.id
                self.menu_wanted.emit(name, event.globalPos())


class RowPainter(QStyledItemDelegate):
    """Paints a row: caps, name, and the marks of the controls that send it."""

    def __init__(self, stage: Stage, model: CommandModel, view: CommandView) -> None:
        super().__init__(view)
        self._stage = stage
        self._model = model
        self._view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """Headings have room above them."""
        row = index.data(ROW_ROLE)
        if isinstance(row, CommandRow) and row.kind is RowKind.GROUP:
            return QSize(200, round(line_height(BODY) + 12))
        return QSize(200, round(cap_height() + 5))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """The row."""
        row = index.data(ROW_ROLE)
        if painter is None or not isinstance(row, CommandRow):
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(option.rect)
        if row.kind is RowKind.GROUP:
            painter.setFont(font(BODY, bold=True))
            painter.setPen(self._stage.look.theme.quiet)
            painter.drawText(rect.adjusted(14, 8, -6, 0), Qt.AlignmentFlag.AlignVCenter, row.text)
        else:
            self._ground(painter, rect, option, row)
            if row.kind is RowKind.COMMAND:
                self._command(painter, rect, row)
            else:
                self._part(painter, rect, row)
        painter.restore()

    def _ground(self, painter: QPainter, rect: QRectF, option: QStyleOptionViewItem, row: CommandRow) -> None:
        theme = self._stage.look.theme
        inner = rect.adjusted(5, 0, -5, 0)
        marked = bool(option.state & QStyle.StateFlag.State_Selected)
        over = bool(option.state & QStyle.StateFlag.State_MouseOver)
        if marked or over:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.raised if marked else theme.surface)
            painter.drawRoundedRect(inner, 6, 6)
        if self._listening(row) or (marked and self._view.hasFocus()):
            draw_focus(painter, inner, theme, 6)

    def _listening(self, row: CommandRow) -> str:
        studio = self._stage.studio
        if studio.assigning.armed_command == row.id:
            return _("Press a control…")
        return _("Press its key…") if studio.assigning.armed_key == row.id else ""

    def _command(self, painter: QPainter, rect: QRectF, row: CommandRow) -> None:
        command = self._model.command(row.id)
        if command is None:
            return
        theme = self._stage.look.theme
        top = rect.center().y() - cap_height() / 2
        x = rect.left() + 14
        if command.keys:
            x = draw_caps(painter, x, top, self._stage.caps(command.keys), theme, rect.left() + 110)
        else:
            painter.setPen(QPen(theme.quiet, 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(x, top, cap_width("", ""), cap_height()), 4, 4)
            x += cap_width("", "") + 5
        right = self._controls(painter, rect, row)
        mark = _mark(self._model.warnings.get(row.id, ""))
        if mark:
            painter.setFont(font(SMALL))
            painter.setPen(theme.output)
            right -= text_width(mark, SMALL) + 6
            painter.drawText(QRectF(right, rect.top(), 80, rect.height()), Qt.AlignmentFlag.AlignVCenter, mark)
        listening = self._listening(row)
        painter.setFont(font(BODY))
        sent = bool(self._model.slots.get(row.id))
        painter.setPen(theme.input if listening else theme.ink if sent else theme.quiet)
        room = right - x - 8
        text = elided(listening or command.name, room)
        painter.drawText(QRectF(x + 3, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, text)

    def _controls(self, painter: QPainter, rect: QRectF, row: CommandRow) -> float:
        """Marks at the right edge, those of other layers fainter; returns where they begin."""
        theme, studio = self._stage.look.theme, self._stage.studio
        middle = rect.center().y()
        x = rect.right() - 14 - ROW_NUB
        controls: dict[str, bool] = {}
        for slot in self._model.slots.get(row.id, []):
            controls[slot.control] = controls.get(slot.control, False) or slot.layer in (studio.selection.layer, BASE)
        if not controls:
            draw_empty(painter, QPointF(x, middle), theme, ROW_NUB)
            return x - ROW_NUB
        there = {*self._stage.grasp.controls, "dpad"}
        for control, here in list(controls.items())[:MOST_NUBS]:
            depth = self._stage.live.depth(control)
            draw_nub(
                painter,
                QPointF(x, middle),
                control,
                depth,
                theme,
                radius=ROW_NUB,
                faint=not here or control not in there,
                mark=studio.selection.names.mark(control),
            )
            x -= 2 * ROW_NUB + 4
        return x + ROW_NUB

    def _part(self, painter: QPainter, rect: QRectF, row: CommandRow) -> None:
        """A belt as a few caps in a row, a macro as a small timeline."""
        theme = self._stage.look.theme
        left, middle = rect.left() + 14, rect.center().y()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.cap)
        if row.id.startswith("belt"):
            for step in range(3):
                painter.drawRoundedRect(QRectF(left + step * 8, middle - 5, 6, 9), 1.5, 1.5)
        else:
            for step, width in enumerate((9, 5, 7)):
                painter.drawRoundedRect(QRectF(left + (0, 8, 15)[step], middle - 6 + 4 * step, width, 3), 1, 1)
        painter.setFont(font(BODY))
        painter.setPen(theme.ink)
        room = rect.width() - 60
        text = elided(row.text, room)
        painter.drawText(QRectF(left + 32, rect.top(), room, rect.height()), Qt.AlignmentFlag.AlignVCenter, text)


def _mark(warning: str) -> str:
    """What is wrong with a command in a word or two; that nothing sends it is shown by its empty ring."""
    if "same key" in warning:
        return "twice"
    return _("nothing enters it") if "nothing leads to" in warning else ""
