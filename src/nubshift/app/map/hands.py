"""The hands: controls arranged by the finger that reaches them."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from nubshift.app.map.stick_tile import StickTile
from nubshift.app.map.tiles import ButtonTile, CellTile, LineTile, MotionTile, Stage, Tile
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.theme import SMALL, Look, font
from nubshift.model.changes import Changes
from nubshift.model.controls import CONTROLS, DPAD, FACE, PAD_CONTROLS, Reach

CELL_PLACES = ((0, 1), (1, 2), (2, 1), (1, 0))
"""Row and column of four cells in a diamond, clockwise from up."""


class Lane(Canvas):
    """The part of the hands that one finger reaches: a soft ground with the finger's name."""

    def __init__(self, look: Look, caption: str, right: bool) -> None:
        super().__init__(look)
        self._caption = caption
        self._right = right
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(9, round(line_height(SMALL)) + 7, 9, 9)
        self.row.setSpacing(8)

    def draw(self, painter: QPainter) -> None:
        """Ground and caption; the caption stands on the outer side of the hand."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.surface)
        painter.drawRoundedRect(QRectF(self.rect()), 12, 12)
        painter.setPen(self.theme.quiet)
        painter.setFont(font(SMALL))
        side = Qt.AlignmentFlag.AlignRight if self._right else Qt.AlignmentFlag.AlignLeft
        painter.drawText(QRectF(14, 4, self.width() - 28, line_height(SMALL)), side, self._caption)


class Diamond(Canvas):
    """Four cells as they lie under the thumb."""

    def __init__(self, stage: Stage, controls: tuple[str, ...]) -> None:
        super().__init__(stage.look)
        self._stage = stage
        grid = QGridLayout(self)
        grid.setContentsMargins(6, 6, 6, 6)
        grid.setSpacing(2)
        self.tiles = [CellTile(stage, control) for control in controls]
        for tile, (row, column) in zip(self.tiles, CELL_PLACES, strict=True):
            if column == 1:
                tile.setMinimumWidth(112)
                grid.addWidget(tile, row, 0, 1, 4, Qt.AlignmentFlag.AlignHCenter)
            else:
                grid.addWidget(tile, row, 0 if column == 0 else 2, 1, 2)
        for index in range(4):
            grid.setColumnStretch(index, 1)
        for index in range(3):
            grid.setRowStretch(index, 1)

    def draw(self, painter: QPainter) -> None:
        """The ground."""
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
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        grid.addWidget(self._plain(Reach.LEFT_INDEX), 0, 0)
        grid.addWidget(self._plain(Reach.RIGHT_INDEX), 0, 1)
        grid.addWidget(self._thumb(Reach.LEFT_THUMB, "left_stick", DPAD), 1, 0)
        grid.addWidget(self._thumb(Reach.RIGHT_THUMB, "right_stick", FACE), 1, 1)
        grid.addWidget(self._plain(Reach.LEFT_GRIP), 2, 0)
        grid.addWidget(self._plain(Reach.RIGHT_GRIP), 2, 1)
        whole = Lane(stage.look, Reach.WHOLE_PAD.value, False)
        whole.row.addWidget(self._tile(MotionTile(stage, "motion")))
        grid.addWidget(whole, 3, 0, 1, 2)
        grid.setRowStretch(1, 1)
        for column in (0, 1):
            grid.setColumnStretch(column, 1)
            grid.setColumnMinimumWidth(column, 300)
        stage.studio.edited.connect(self._edited)
        stage.studio.opened.connect(self.refresh)
        stage.studio.layer_changed.connect(self.refresh)
        stage.studio.selected_changed.connect(self._selected)
        stage.live.controls_changed.connect(self._moved)
        stage.live.output_changed.connect(self._output)
        self._held: tuple[str, ...] = ()

    def _tile(self, tile: Tile) -> Tile:
        self.tiles[tile.control] = tile
        tile.stepped.connect(self._step)
        tile.menu_wanted.connect(self.menu_wanted)
        return tile

    def _plain(self, reach: Reach) -> Lane:
        lane = Lane(self._stage.look, reach.value, reach in (Reach.RIGHT_INDEX, Reach.RIGHT_GRIP))
        for info in (CONTROLS[name] for name in PAD_CONTROLS):
            if info.reach is reach:
                lane.row.addWidget(self._tile(ButtonTile(self._stage, info.name)), 1)
        return lane

    def _thumb(self, reach: Reach, stick: str, four: tuple[str, ...]) -> Lane:
        right = reach is Reach.RIGHT_THUMB
        lane = Lane(self._stage.look, reach.value, right)
        column = QVBoxLayout()
        column.setSpacing(7)
        column.addWidget(self._tile(StickTile(self._stage, stick)), 1)
        column.addWidget(self._tile(LineTile(self._stage, f"{stick}_click")))
        diamond = Diamond(self._stage, four)
        for tile in diamond.tiles:
            self._tile(tile)
        if right:
            lane.row.addWidget(diamond, 1)
            lane.row.addLayout(column, 1)
        else:
            lane.row.addLayout(column, 1)
            lane.row.addWidget(diamond, 1)
        return lane

    def refresh(self) -> None:
        """Everything anew."""
        for tile in self.tiles.values():
            tile.refresh()

    def _edited(self, changes: Changes) -> None:
        if changes.commands or changes.layers or changes.game:
            self.refresh()
            return
        for _, _, control in changes.bindings | changes.feel:
            if control in self.tiles:
                self.tiles[control].refresh()

    def _selected(self) -> None:
        """The ring moves; where the keyboard was on a tile, it goes along."""
        if any(tile.hasFocus() for tile in self.tiles.values()):
            self.tiles[self._stage.studio.control].setFocus(Qt.FocusReason.OtherFocusReason)
        for tile in self.tiles.values():
            tile.update()

    def _moved(self, controls: set[str]) -> None:
        for control in controls:
            if control in self.tiles:
                self.tiles[control].update()

    def _output(self) -> None:
        """Caps that went down or up, wherever they are shown."""
        live = self._stage.live
        if live.held != self._held:
            changed = set(live.held) ^ set(self._held)
            self._held = live.held
            for tile in self.tiles.values():
                if isinstance(tile, StickTile) or changed & set(tile.words.keys):
                    tile.update()

    def _step(self, control: str, dx: int, dy: int) -> None:
        """Select the nearest tile in the direction of an arrow key."""
        nearest = self._neighbour(control, dx, dy)
        if nearest is not None:
            self._stage.studio.select(nearest)
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
