"""The hands: controls arranged by the finger that reaches them, as this player has them."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDropEvent, QPainter, QPen
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from nubshift.app.map.stick_tile import StickTile
from nubshift.app.map.tile import Tile
from nubshift.app.map.tiles import ButtonTile, CellTile, HubTile, LineTile, MotionTile
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.painting.caps import cap_height
from nubshift.app.painting.theme import SMALL, Look, font
from nubshift.app.stage import CONTROL_MIME, Stage
from nubshift.model.changes import Changes
from nubshift.model.controls import DPAD, FACE, REACH_NAMES, Finger, Kind, kind_of
from nubshift.model.profile import BASE
from nubshift.texts import _

CELL_PLACES = ((0, 1), (1, 2), (2, 1), (1, 0))
"""Row and column of four cells in a diamond, clockwise from up."""

ROWS: tuple[tuple[Finger, ...], ...] = (
    (Finger.LEFT_INDEX, Finger.RIGHT_INDEX),
    (Finger.LEFT_THUMB, Finger.RIGHT_THUMB),
    (Finger.LEFT_GRIP, Finger.RIGHT_GRIP),
    (Finger.WHOLE_PAD,),
)
OTHERS = (Finger.FREE_HAND, Finger.MOUTH, Finger.BREATH, Finger.LEFT_FOOT, Finger.RIGHT_FOOT)
"""What most players use for nothing; shown where it has a control, and while one is being dragged."""
THUMBS = (Finger.LEFT_THUMB, Finger.RIGHT_THUMB)
RIGHT = frozenset({Finger.RIGHT_INDEX, Finger.RIGHT_THUMB, Finger.RIGHT_GRIP})


class FingerLane(Canvas):
    """What one finger reaches: a soft ground with the finger's name. Controls are dropped here."""

    control_dropped = pyqtSignal(str, object)

    def __init__(self, look: Look, reach: Finger, parent: QWidget) -> None:
        super().__init__(look, parent)
        self.reach = reach
        self.layer = ""
        self._over = False
        self.setAcceptDrops(True)
        self.setAccessibleName(_("Reached by: {reach}").format(reach=REACH_NAMES[reach]))
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(9, round(line_height(SMALL)) + 7, 9, 9)
        self.row.setSpacing(8)

    def draw(self, painter: QPainter) -> None:
        """Ground and caption; the caption stands on the outer side of the hand."""
        strong = self._over or bool(self.layer)
        painter.setPen(QPen(self.theme.input if self._over else self.theme.line, 1) if strong else Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.surface)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 12, 12)
        painter.setPen(self.theme.quiet)
        painter.setFont(font(SMALL))
        side = Qt.AlignmentFlag.AlignRight if self.reach in RIGHT else Qt.AlignmentFlag.AlignLeft
        where = QRectF(14, 4, self.width() - 28, line_height(SMALL))
        painter.drawText(where, side, REACH_NAMES[self.reach])
        if self.layer:
            other = Qt.AlignmentFlag.AlignLeft if self.reach in RIGHT else Qt.AlignmentFlag.AlignRight
            painter.setPen(self.theme.input)
            painter.setFont(font(SMALL, bold=True))
            painter.drawText(where, other, _("Layer {layer}").format(layer=self.layer))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A control may be given to this finger."""
        data = event.mimeData() if event else None
        if event and data and data.hasFormat(CONTROL_MIME):
            self._over = True
            event.acceptProposedAction()
            self.update()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        """It went elsewhere."""
        self._over = False
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """This finger has the control from now on."""
        self._over = False
        data = event.mimeData() if event else None
        if event and data:
            self.control_dropped.emit(bytes(data.data(CONTROL_MIME).data()).decode(), self.reach)
            event.acceptProposedAction()
        self.update()


TOUCH_BUTTONS = ("touch_pad_touched", "touch_pad_click")
"""What belongs to a touch pad lies below it, as a stick's click does."""
FEWEST_FACES = 3
"""Fewer face buttons than this make no diamond; each is a tile like any other."""


class Diamond(Canvas):
    """Four cells as they lie under the thumb, and for the d-pad the whole in a corner."""

    def __init__(self, look: Look, cells: list[Tile | None], hub: Tile | None) -> None:
        super().__init__(look)
        self._lowest: Tile | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(4, 3, 4, 3)
        grid.setSpacing(1)
        for tile, (row, column) in zip(cells, CELL_PLACES, strict=True):
            if tile is None:
                continue
            if row == 2:
                self._lowest = tile
            if column == 1:
                tile.setMinimumWidth(112)
                grid.addWidget(tile, row, 0, 1, 4, Qt.AlignmentFlag.AlignHCenter)
            else:
                grid.addWidget(tile, row, 0 if column == 0 else 2, 1, 2)
        for index in range(4):
            grid.setColumnStretch(index, 1)
        for index in range(3):
            grid.setRowStretch(index, 1)
        self.layered = False
        self._hub = hub
        cell = cap_height() + line_height() + line_height(SMALL) + 4
        self.setMinimumHeight(round(3 * cell) + 8)
        if hub is not None:
            hub.setParent(self)

    def resizeEvent(self, event: object) -> None:
        """The whole lies in a corner, where no cell is; in a narrow diamond the lowest one leaves it room."""
        if self._hub is not None:
            size = self._hub.sizeHint()
            self._hub.setGeometry(1, self.height() - size.height() - 4, size.width(), size.height())
            if isinstance(self._lowest, CellTile):
                self._lowest.spared = max(0, self._hub.geometry().right() - self._lowest.x())

    def draw(self, painter: QPainter) -> None:
        """The ground; in a layer the cells that it changes have their own."""
        if self.layered:
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.raised)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5), 8, 8)


class Hands(QWidget):
    """All tiles."""

    menu_wanted = pyqtSignal(str, object)

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.tiles: dict[str, Tile] = {}
        self.lanes: dict[Finger, FingerLane] = {}
        self._dragging = False
        self._held: tuple[str, ...] = ()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(8)
        self._build()
        stage.document.edited.connect(self._edited)
        stage.document.opened.connect(self.refresh)
        stage.selection.layer_changed.connect(self.refresh)
        stage.selection.seat_changed.connect(self.refresh)
        stage.selection.changed.connect(self._selected)
        stage.live.controls_changed.connect(self._moved)
        stage.live.held_changed.connect(self._output)
        stage.grasp.changed.connect(self.refresh)
        stage.grasp.clashes_changed.connect(self._mark_clashes)

    # Building

    def _build(self) -> None:
        self._arranged = self._arrangement()
        for reaches in ROWS:
            for reach in reaches:
                self._lane(reach)
        self._place_rows()
        for column in (0, 1):
            self._grid.setColumnStretch(column, 1)
            self._grid.setColumnMinimumWidth(column, 300)
        self._others = QWidget()
        row_of_others = QHBoxLayout(self._others)
        row_of_others.setContentsMargins(0, 0, 0, 0)
        row_of_others.setSpacing(8)
        for reach in OTHERS:
            row_of_others.addWidget(self._lane(reach), max(1, len(self._stage.grasp.controls_of(reach))))
        self._grid.addWidget(self._others, len(ROWS), 0, 1, 2)
        self._show_others()
        self._name_lanes()

    def _arrangement(self) -> list[list[str]]:
        """The controls that each finger has."""
        return [self._stage.grasp.controls_of(reach) for reach in Finger]

    def _place_rows(self) -> None:
        """Fingers that reach nothing on this controller have no lane, unless a control is being dragged."""
        for row, reaches in enumerate(ROWS):
            shown = [reach for reach in reaches if self._dragging or self._stage.grasp.controls_of(reach)]
            for reach in reaches:
                lane = self.lanes[reach]
                self._grid.removeWidget(lane)
                lane.setVisible(reach in shown)
                if reach in shown:
                    both = len(shown) == 1
                    self._grid.addWidget(lane, row, 0 if both else reaches.index(reach), 1, 2 if both else 1)
            thumbs = Finger.LEFT_THUMB in reaches
            self._grid.setRowStretch(row, int(thumbs and bool(shown)))
        self._grid.setRowStretch(len(ROWS), int(not self._has_thumbs))

    @property
    def _has_thumbs(self) -> bool:
        """Whether the thumbs have anything to do on this controller."""
        return any(self._stage.grasp.controls_of(reach) for reach in THUMBS)

    def _show_others(self) -> None:
        for reach in OTHERS:
            lane = self.lanes[reach]
            lane.setVisible(self._dragging or lane.row.count() > 0)
            lane.setMinimumHeight(0 if lane.row.count() else 48)
        self._others.setVisible(any(not self.lanes[reach].isHidden() for reach in OTHERS))

    def _rebuild(self) -> None:
        """The controls lie under other fingers, or there are others; the keyboard stays where it was, or near."""
        had_keyboard = any(tile.hasFocus() for tile in self.tiles.values())
        for lane in self.lanes.values():
            self._grid.removeWidget(lane)
            lane.hide()
            lane.deleteLater()
        self._grid.removeWidget(self._others)
        self._others.hide()
        self._others.deleteLater()
        self.tiles, self.lanes = {}, {}
        self._build()
        selected = self.tiles.get(self._stage.selection.control)
        near = next(iter(self.tiles.values()), None) if had_keyboard else None
        tile = selected or near
        if tile is not None:
            tile.setFocus(Qt.FocusReason.OtherFocusReason)

    def _lane(self, reach: Finger) -> FingerLane:
        lane = FingerLane(self._stage.look, reach, self)  # without a parent it would be a window once it is shown
        lane.control_dropped.connect(self._stage.grasp.give)
        self.lanes[reach] = lane
        controls = self._stage.grasp.controls_of(reach)
        if reach in THUMBS or (reach in OTHERS and not self._has_thumbs):
            self._fill_thumb(lane, controls, reach is Finger.RIGHT_THUMB)
        else:
            self._fill(lane.row, controls)
        return lane

    def _fill(self, row: QHBoxLayout, controls: list[str]) -> None:
        for control in controls:
            row.addWidget(self._plain(control, small=True), 3 if kind_of(control) is Kind.MOTION else 1)

    def _plain(self, control: str, small: bool = False) -> Tile:
        match kind_of(control):
            case Kind.STICK | Kind.TOUCH | Kind.POINTER:
                return self._tile(StickTile(self._stage, control, small))
            case Kind.MOTION:
                return self._tile(MotionTile(self._stage, control))
            case _:
                return self._tile(ButtonTile(self._stage, control))

    def _fill_thumb(self, lane: FingerLane, controls: list[str], right: bool) -> None:
        """A stick with its click, the four in a diamond, and whatever else this thumb has been given."""
        rest = list(controls)
        parts: list[QWidget | QVBoxLayout] = []
        for stick in [name for name in controls if kind_of(name) is Kind.STICK]:
            column = QVBoxLayout()
            column.setSpacing(7)
            column.addWidget(self._plain(stick), 1)
            rest.remove(stick)
            if f"{stick}_click" in rest:
                column.addWidget(self._tile(LineTile(self._stage, f"{stick}_click")))
                rest.remove(f"{stick}_click")
            parts.append(column)
        for four in (DPAD, FACE):
            there = sum(name in rest for name in four)
            if there >= (FEWEST_FACES if four == FACE else 1):
                cells = [self._tile(CellTile(self._stage, name)) if name in rest else None for name in four]
                hub = self._tile(HubTile(self._stage, "dpad")) if four == DPAD else None
                parts.append(Diamond(self._stage.look, cells, hub))
                rest = [name for name in rest if name not in four]
        if rest:
            column = QVBoxLayout()
            beside_touch = any(kind_of(control) is Kind.TOUCH for control in rest)
            for control in rest:
                line = beside_touch and control in TOUCH_BUTTONS
                column.addWidget(
                    self._tile(LineTile(self._stage, control)) if line else self._plain(control, small=True)
                )
            column.addStretch(1)
            parts.append(column)
        for part in reversed(parts) if right else parts:
            if isinstance(part, QWidget):
                lane.row.addWidget(part, 1)
            else:
                lane.row.addLayout(part, 1)

    def _tile(self, tile: Tile) -> Tile:
        self.tiles[tile.control] = tile
        tile.stepped.connect(self._step)
        tile.menu_wanted.connect(self.menu_wanted)
        tile.dragged.connect(self._drag)
        tile.control_dropped.connect(self._dropped_on)
        return tile

    def _drag(self, on: bool) -> None:
        """While a control is dragged, every place it could go to is there."""
        self._dragging = on
        self._place_rows()
        self._show_others()

    def _dropped_on(self, control: str, beside: str) -> None:
        self._stage.grasp.give(control, self._stage.grasp.finger(beside))

    # Following

    def _name_lanes(self) -> None:
        """Every lane says which layer is being edited, so that none is edited by mistake."""
        studio = self._stage.studio
        layer = studio.profile.layer(studio.selection.layer)
        name = layer.name if layer is not None and layer.id != BASE else ""
        for lane in self.lanes.values():
            lane.layer = name
            lane.update()
            for diamond in lane.findChildren(Diamond):
                diamond.layered = bool(name)
                diamond.update()

    def refresh(self) -> None:
        """Everything anew; other tiles where fingers have other controls (another controller, two axes now a stick)."""
        if self._arrangement() != self._arranged:
            self._rebuild()
            return
        self._name_lanes()
        for tile in self.tiles.values():
            tile.refresh()

    def _edited(self, changes: Changes) -> None:
        if changes.commands or changes.layers or changes.game or changes.rest or len(changes.bindings) > 8:
            self.refresh()
            return
        for _unused, _unused, control in changes.bindings | changes.feel:
            if control in self.tiles:
                self.tiles[control].refresh()

    def _mark_clashes(self) -> None:
        for tile in self.tiles.values():
            if tile.clash != self._stage.grasp.clash_of(tile.control):
                tile.refresh()

    def focus(self, control: str) -> None:
        """Put the keyboard on a tile, if there is one for this control."""
        if control in self.tiles:
            self.tiles[control].setFocus(Qt.FocusReason.OtherFocusReason)

    def _selected(self) -> None:
        """The ring moves; where the keyboard was on a tile, it goes along."""
        if any(tile.hasFocus() for tile in self.tiles.values()):
            self.focus(self._stage.selection.control)
        for tile in self.tiles.values():
            tile.update()

    def _moved(self, controls: set[str]) -> None:
        for control in controls:
            if control in self.tiles:
                self.tiles[control].follow()

    def _output(self) -> None:
        """Caps that went down or up, wherever they are shown."""
        live = self._stage.live
        if live.held != self._held:
            changed = set(live.held) ^ set(self._held)
            self._held = live.held
            for tile in self.tiles.values():
                if isinstance(tile, StickTile) or changed & set(tile.words.keys):
                    tile.update()

    # Going from tile to tile

    def _step(self, control: str, dx: int, dy: int, also: bool) -> None:
        """Select the nearest tile in the direction of an arrow key, alone or beside those selected."""
        nearest = self._neighbour(control, dx, dy)
        if nearest is None:
            return
        studio = self._stage.studio
        if also:
            kept = tuple(name for name in studio.selection.chosen if name != nearest)
            studio.selection.select_all((*kept, nearest))
        else:
            studio.selection.select(nearest)
        self.tiles[nearest].setFocus(Qt.FocusReason.TabFocusReason)

    def _neighbour(self, control: str, dx: int, dy: int) -> str | None:
        here = self._middle(control)
        best, least = None, 0.0
        for name in self.tiles:
            way = self._middle(name) - here
            along, across = (way.x() * dx, abs(way.y())) if dx else (way.y() * dy, abs(way.x()))
            if name != control and along > 4:
                cost = along + 2.5 * across
                if best is None or cost < least:
                    best, least = name, cost
        return best

    def _middle(self, control: str) -> QPointF:
        tile = self.tiles[control]
        return QPointF(tile.mapTo(self, QPoint(tile.width() // 2, tile.height() // 2)))
