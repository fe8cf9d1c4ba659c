"""A belt as a strip of its entries, with the present position live (N27)."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QSizePolicy

from nubshift.app.bench.picture import BenchPicture
from nubshift.app.document import subject
from nubshift.app.painting.canvas import draw_focus, elided, line_height
from nubshift.app.painting.caps import cap_height, draw_caps
from nubshift.app.painting.theme import BODY, SMALL, font
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.profile import Belt, BeltEntry
from nubshift.model.sentences import keys_of, sends_name
from nubshift.model.slots import index_of
from nubshift.texts import _

CARD = 104.0
GAP = 8.0
LEFT = 4.0


class BeltStrip(BenchPicture):
    """Entries side by side, on further lines where there are many. A card is dragged to another place."""

    def __init__(self, stage: Stage, belt: str) -> None:
        super().__init__(stage, subject.belt(belt))
        self._id = belt
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        stage.live.belts_changed.connect(self.update)
        self.refresh()

    @property
    def belt(self) -> Belt:
        """The belt, or an empty one while it is being taken out."""
        return self.stage.studio.profile.belt(self._id) or Belt(self._id, "", (BeltEntry(()),))

    @property
    def _height(self) -> float:
        return line_height(SMALL) + cap_height() + line_height(BODY) + 26

    def parts(self) -> Sequence[str]:
        """The entries."""
        return [f"entries[{index}].what" for index in range(len(self.belt.entries))]

    @property
    def _columns(self) -> int:
        return max(1, int((self.width() - 2 * LEFT + GAP) // (CARD + GAP)))

    def card(self, index: int) -> QRectF:
        """Where an entry is drawn."""
        row, column = divmod(index, self._columns)
        return QRectF(LEFT + column * (CARD + GAP), 4 + row * (self._height + GAP), CARD, self._height)

    def place(self, part: str) -> QRectF:
        """Where an entry is drawn."""
        return self.card(index_of(part))

    def refresh(self) -> None:
        """The profile or the selection changed."""
        self._fit()
        super().refresh()

    def _fit(self) -> None:
        rows = (len(self.belt.entries) + self._columns) // self._columns  # with the free place
        self.setFixedHeight(round(rows * (self._height + GAP) + 6))

    def resizeEvent(self, event: object) -> None:
        """Another width has other lines."""
        self._fit()

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(600, self.height())

    def draw(self, painter: QPainter) -> None:
        """The cards, the belt that runs under them, and the free place."""
        theme = self.theme
        belt, now = self.belt, self.stage.live.belts.get(self._id)
        self._draw_run(painter)
        profile = self.stage.studio.profile
        for index, entry in enumerate(belt.entries):
            rect = self.card(index)
            current = index == self.at
            painter.setPen(QPen(theme.line, 1, Qt.PenStyle.DashLine) if entry.skip else Qt.PenStyle.NoPen)
            painter.setBrush(theme.ground if entry.skip else theme.raised if not current else theme.raised.lighter(112))
            painter.drawRoundedRect(rect, 8, 8)
            if index == now:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.output)
                painter.drawRoundedRect(QRectF(rect.left() + 8, rect.bottom() - 5, rect.width() - 16, 3), 1.5, 1.5)
            painter.setFont(font(SMALL))
            painter.setPen(theme.output if index == now else theme.quiet)
            state = _("{number} · now") if index == now else _("{number} · skipped") if entry.skip else "{number}"
            words = state.format(number=index + 1)
            painter.drawText(QRectF(rect.left() + 10, rect.top() + 6, CARD - 20, line_height(SMALL)), 0, words)
            keys = keys_of(profile, entry.what)[:3]
            y = rect.top() + 10 + line_height(SMALL)
            if self.listening(f"entries[{index}].what"):
                painter.setPen(theme.input)
                painter.drawText(
                    QRectF(rect.left() + 10, y, CARD - 20, cap_height()),
                    Qt.AlignmentFlag.AlignVCenter,
                    _("Press a key"),
                )
            elif keys:
                draw_caps(painter, rect.left() + 10, y, self.stage.caps(keys, entry.skip), theme, rect.right() - 4)
            name = sends_name(profile, entry.what) if entry.what else _("Unassigned")
            painter.setFont(font(BODY))
            painter.setPen(theme.quiet if entry.skip or not entry.what else theme.ink)
            where = QRectF(rect.left() + 10, y + cap_height() + 4, CARD - 16, line_height(BODY))
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, elided(name, CARD - 16, BODY))
            if current or f"entries[{index}].what" == self._over:
                draw_focus(painter, rect, theme, 8)
        self._draw_free(painter)

    def _draw_run(self, painter: QPainter) -> None:
        """The belt itself, as a line behind the cards; open at its end if it stops."""
        count = len(self.belt.entries)
        for row in range((count - 1) // self._columns + 1):
            first = self.card(row * self._columns)
            last = self.card(min(count - 1, (row + 1) * self._columns - 1))
            painter.setPen(QPen(self.theme.line, 1))
            painter.drawLine(QPointF(first.left(), first.center().y()), QPointF(last.right(), last.center().y()))

    def _draw_free(self, painter: QPainter) -> None:
        rect = self.card(len(self.belt.entries))
        painter.setPen(QPen(self.theme.line, 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
        painter.setPen(self.theme.quiet)
        painter.setFont(font(SMALL))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, _("Add\nentry"))

    # Handling

    def put(self, title: str, entries: tuple[BeltEntry, ...], at: int | None = None) -> None:
        """Give the belt these entries and choose one of them."""
        belt = self.belt
        if at is not None:
            self.stage.selection.part = f"entries[{max(0, min(len(entries) - 1, at))}].what"
        changed = replace(belt, entries=entries)
        self.stage.document.edit(f"{title}, {belt.name}", lambda profile: edits.with_belt(profile, changed))
        self.refresh()

    def add(self) -> None:
        """One more entry after the one chosen, which then listens."""
        entries, at = self.belt.entries, len(self.belt.entries)
        self.put(_("Add entry"), (*entries, BeltEntry(())), at)
        self.arm(f"entries[{at}].what")

    def remove(self) -> None:
        """Take the entry chosen out; a belt keeps at least one."""
        entries, at = self.belt.entries, self.at
        if len(entries) > 1:
            self.put(_("Remove entry"), (*entries[:at], *entries[at + 1 :]), at)

    def skip(self, on: bool) -> None:
        """Pass over the entry chosen, or not."""
        entries, at = self.belt.entries, self.at
        self.put(
            _("Skip") if on else _("Don't skip"), (*entries[:at], replace(entries[at], skip=on), *entries[at + 1 :])
        )

    def shift(self, at: int, to: int) -> None:
        """Put an entry in another place."""
        entries = list(self.belt.entries)
        if 0 <= to < len(entries) and to != at:
            entries.insert(to, entries.pop(at))
            self.put(_("Move entry"), tuple(entries), to)

    def _index_at(self, at: QPointF) -> int:
        return next((i for i in range(len(self.belt.entries) + 1) if self.card(i).contains(at)), -1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Select a card, or add one at the free place."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        index = self._index_at(event.position())
        if index == len(self.belt.entries):
            self.add()
        elif index >= 0:
            self.choose(f"entries[{index}].what")
            self._pressed = (index, event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag the card along."""
        if event is not None:
            self.drag_to(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let it go."""
        self._pressed = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """With Alt, left and right move the entry; Insert adds one, Shift+Delete takes it out."""
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.shift(self.at, self.at + step)
        elif event.key() == Qt.Key.Key_Insert:
            self.add()
        elif event.key() == Qt.Key.Key_Delete and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.remove()
        else:
            super().keyPressEvent(event)
