"""The layer rail: the stack as it is now, and which layer is being edited."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QWidget

from nubshift.app.client.mirror import Mirror
from nubshift.app.document.studio import Studio
from nubshift.app.document.subject import LAYER
from nubshift.app.painting.canvas import Canvas, draw_focus, line_height, text_width
from nubshift.app.painting.nubs import draw_nub
from nubshift.app.painting.theme import BODY, SMALL, Look, font
from nubshift.model.changes import Changes
from nubshift.model.profile import BASE
from nubshift.texts import _

NODE = 5.5
SMALL_NUB = 8.5
EDGE = 20


class Rail(QScrollArea):
    """A node for each layer, from the base up; long rails are scrolled. `players` stand beside it, where there are
    several, and are not: whose hands are shown is always seen.
    """

    add_wanted = pyqtSignal()
    menu_wanted = pyqtSignal(str, object)

    def __init__(self, studio: Studio, live: Mirror, look: Look) -> None:
        super().__init__()
        self.setAccessibleName(_("Layers"))
        self._studio = studio
        self._live = live
        self._look = look
        self.nodes: dict[str, LayerNode] = {}
        self.seats: dict[str, QPushButton] = {}
        inside = QWidget()
        self._row = QHBoxLayout(inside)
        self._row.setContentsMargins(2, 6, 2, 4)
        self._row.setSpacing(6)
        self.setWidget(inside)
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        for policy in (self.setHorizontalScrollBarPolicy, self.setVerticalScrollBarPolicy):
            policy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.players = QWidget(self)
        self._players_row = QHBoxLayout(self.players)
        self._players_row.setContentsMargins(0, 6, 0, 4)
        self._players_row.setSpacing(6)
        self.add = QPushButton(_("Add layer…"))
        self.add.setObjectName("plain")
        self.add.clicked.connect(self.add_wanted)
        self.edges = {-1: self._edge("‹", _("Earlier layers"), -1), 1: self._edge("›", _("Further layers"), 1)}
        bar = self.horizontalScrollBar()
        if bar is not None:
            bar.valueChanged.connect(self._show_edges)
            bar.rangeChanged.connect(self._show_here)
        studio.document.opened.connect(self._rebuild)
        studio.document.edited.connect(self._edited)
        studio.selection.layer_changed.connect(self._refresh)
        studio.selection.seat_changed.connect(self._refresh)
        live.layers_changed.connect(self._refresh)
        self._rebuild()

    def _edited(self, changes: Changes) -> None:
        if changes.layers or changes.game:
            self._rebuild()
        elif changes.bindings:
            self._refresh()

    def _rebuild(self) -> None:
        for row in (self._row, self._players_row):
            while (item := row.takeAt(0)) is not None:
                widget = item.widget()
                if widget is not None:
                    widget.hide()
                    widget.deleteLater()
        self.nodes, self.seats = {}, {}
        for layer in self._studio.profile.layers:
            node = LayerNode(layer.id, self._studio, self._live, self._look)
            node.menu_wanted.connect(self.menu_wanted)
            self.nodes[layer.id] = node
            self._row.addWidget(node)
        self._row.addStretch(1)
        several = len(self._studio.profile.seats) > 1
        self.players.setVisible(several)
        if several:
            for number, seat in enumerate(self._studio.profile.seats, 1):
                name = seat.name or _("player {number}").format(number=number)
                button = QPushButton(name)
                button.setObjectName("choice")
                button.setCheckable(True)
                button.setAccessibleName(_("Hands of {name}").format(name=name))
                button.clicked.connect(lambda _=False, which=seat.id: self._studio.selection.show_seat(which))
                self.seats[seat.id] = button
                self._players_row.addWidget(button)
        self._refresh()

    def _refresh(self) -> None:
        for node in self.nodes.values():
            node.refresh()
        for seat, button in self.seats.items():
            button.setChecked(seat == self._studio.selection.seat)
        self._show_here()
        self.setFixedHeight(max((node.sizeHint().height() for node in self.nodes.values()), default=30) + 12)

    def _edge(self, text: str, name: str, way: int) -> QPushButton:
        """Stands at an edge beyond which there is more, and goes there."""
        button = QPushButton(text, self)
        button.setObjectName("edge")
        button.setAccessibleName(name)
        button.setToolTip(name)
        button.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # with the keyboard, the layers themselves are gone through
        button.clicked.connect(lambda: self._go_along(way * self.width() // 2))
        button.hide()
        return button

    def _go_along(self, by: int) -> None:
        bar = self.horizontalScrollBar()
        if bar is not None:
            bar.setValue(bar.value() + by)

    def _show_here(self) -> None:
        """Bring the layer that is edited into view."""
        here = self.nodes.get(self._studio.selection.layer)
        if here is not None:
            self.ensureWidgetVisible(here, 2 * EDGE, 0)
        self._show_edges()

    def _show_edges(self) -> None:
        bar = self.horizontalScrollBar()
        if bar is None:
            return
        self.edges[-1].setVisible(bar.value() > bar.minimum())
        self.edges[1].setVisible(bar.value() < bar.maximum())
        for way, button in self.edges.items():
            button.setGeometry(0 if way < 0 else self.width() - EDGE, 0, EDGE, self.height())
            button.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The edges stay at the edges."""
        super().resizeEvent(event)
        self._show_edges()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel goes along the rail."""
        if event is not None:
            self._go_along(-event.angleDelta().y() // 2)
            event.accept()


class LayerNode(Canvas):
    """One layer: filled while active; the one being edited says so."""

    menu_wanted = pyqtSignal(str, object)

    def __init__(self, layer: str, studio: Studio, live: Mirror, look: Look) -> None:
        super().__init__(look)
        self.layer = layer
        self._studio = studio
        self._live = live
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.refresh()

    @property
    def active(self) -> bool:
        """Whether the layer is active now."""
        return self.layer == BASE or self.layer in self._live.layers

    @property
    def edited(self) -> bool:
        """Whether this is the layer being edited."""
        return self._studio.selection.layer == self.layer

    def refresh(self) -> None:
        """Something about the layer changed."""
        layer = self._studio.profile.layer(self.layer)
        self._name = layer.name if layer else self.layer
        entries = self._studio.document.entries(self.layer)
        self._entered_by = list(dict.fromkeys(slot.control for slot in entries.slots))[:3]
        self._how = _("while") if entries.only_held else _("by")
        parts = [_("Layer {name}").format(name=self._name)]
        parts += [_("active")] if self.active else []
        parts += [_("editing")] if self.edited else []
        self.setAccessibleName(", ".join(parts))
        self.updateGeometry()
        self.update()

    def _tail(self) -> str:
        if self.edited:
            return _("· editing")
        return "" if self._entered_by or self.layer == BASE else _("nothing enters it")

    def sizeHint(self) -> QSize:
        """As wide as what it says."""
        width = 12 + 2 * NODE + 8 + text_width(self._name, BODY, True) + 10
        if self._entered_by:
            width += text_width(self._how, SMALL) + 5 + len(self._entered_by) * (2 * SMALL_NUB + 4) + 4
        if tail := self._tail():
            width += text_width(tail, SMALL) + 6
        return QSize(round(width + 4), round(max(line_height() + 10, 2 * SMALL_NUB + 10)))

    def minimumSizeHint(self) -> QSize:
        """Names may not be cut."""
        return self.sizeHint()

    def draw(self, painter: QPainter) -> None:
        """Node, name, how it is entered, and whether it is edited."""
        theme = self.theme
        rect = QRectF(self.rect())
        if self.edited:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.raised)
            painter.drawRoundedRect(rect, 7, 7)
        middle = rect.center().y()
        painter.setPen(QPen(theme.input if self.active else theme.quiet, 1.0))
        painter.setBrush(theme.input if self.active else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(12 + NODE, middle), NODE, NODE)
        x = 12 + 2 * NODE + 8
        x = self._text(painter, x, self._name, BODY, self.edited or self.active) + 4
        if self._entered_by:
            x = self._text(painter, x, self._how, SMALL, False) + 4
            for control in self._entered_by:
                draw_nub(painter, QPointF(x + SMALL_NUB, middle), control, 0.0, theme, radius=SMALL_NUB)
                x += 2 * SMALL_NUB + 4
        self._text(painter, x + 2, self._tail(), SMALL, False)
        if self.hasFocus():
            draw_focus(painter, rect, theme, 7)

    def _text(self, painter: QPainter, x: float, text: str, factor: float, strong: bool) -> float:
        painter.setFont(font(factor, strong))
        painter.setPen(self.theme.ink if strong or self.edited else self.theme.quiet)
        painter.drawText(QRectF(x, 0, self.width() - x, self.height()), Qt.AlignmentFlag.AlignVCenter, text)
        return x + text_width(text, factor, strong)

    def _go(self) -> None:
        """Edit this layer; if it is edited already, show what can be set of it."""
        if self.edited:
            self._studio.selection.look_at(LAYER)
        self._studio.selection.show_layer(self.layer)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Edit this layer, or ask what else can be done with it."""
        if event is None:
            return
        self._go()
        if event.button() == Qt.MouseButton.RightButton:
            self.menu_wanted.emit(self.layer, event.globalPosition().toPoint())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter or Space edits this layer, the menu key asks what else can be done."""
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._go()
        elif event.key() == Qt.Key.Key_Menu:
            self._studio.selection.show_layer(self.layer)
            self.menu_wanted.emit(self.layer, self.mapToGlobal(self.rect().bottomLeft()))
        else:
            super().keyPressEvent(event)
