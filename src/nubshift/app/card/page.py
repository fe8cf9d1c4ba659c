"""The card drawn on pages: A4 across, at 96 dots an inch, three columns; readable in black and white."""

from __future__ import annotations

from collections.abc import Callable
from itertools import accumulate
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QImage, QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from nubshift.app.card.content import Card, CardBlock, CardRow
from nubshift.app.painting.canvas import elided, fitted, line_height
from nubshift.app.painting.caps import CapState, cap_height, cap_width, draw_caps
from nubshift.app.painting.nubs import draw_logo, draw_nub
from nubshift.app.painting.theme import BODY, SMALL, STRONG, TITLE, Theme, font
from nubshift.model.profile import Colour
from nubshift.model.store import write_atomically
from nubshift.texts import _

WIDTH, HEIGHT = 1123, 794
"""A4 across at 96 dots an inch."""
MARGIN, GAP, COLUMNS = 40.0, 22.0, 3
SHARP = 2
"""Dots of a picture for each of the page."""


TEXT_LEFT, CAPS_APART = 30.0, 5.0


class _Said(NamedTuple):
    """What a row says, in lines: what it does, and below what it is called."""

    does: tuple[str, ...]
    does_font: QFont
    told: tuple[str, ...]
    told_font: QFont

    @property
    def height(self) -> float:
        return len(self.does) * line_height(BODY) + len(self.told) * line_height(SMALL) * 0.9


class CardPages:
    """Lays a card out and draws it. `label_of` says what stands on a key."""

    def __init__(self, card: Card, colour: Colour, theme: Theme, label_of: Callable[[str], str]) -> None:
        self._card, self._colour, self._theme, self._label_of = card, colour, theme, label_of
        self._most_lines = 2
        self._width = (WIDTH - 2 * MARGIN - (COLUMNS - 1) * GAP) / COLUMNS
        self.pages: list[list[tuple[float, float, CardBlock]]] = []
        self._lay_out()

    @property
    def _top(self) -> float:
        return MARGIN + line_height(TITLE) + (line_height(SMALL) if self._card.note else 0) + 18

    def _said(self, row: CardRow) -> _Said:
        """What a row says, in the room beside its keys."""
        keys = sum(cap_width(key, self._label_of(key)) + CAPS_APART for key in row.keys)
        room = self._width - TEXT_LEFT - keys - 3
        does, size, bold = fitted(row.does, room, BODY, True, self._most_lines)
        told = f"{row.called} · {row.hint}" if row.hint else row.called
        small, small_size, _bold = fitted(told, room, SMALL * 0.95, False, self._most_lines)
        return _Said(does, font(size, bold), small, font(small_size))

    def _row_height(self, row: CardRow) -> float:
        return max(cap_height(), self._said(row).height) + 6

    def _height(self, block: CardBlock) -> float:
        head = line_height(STRONG) + (line_height(SMALL) if block.about else 0) + 6
        return head + sum(map(self._row_height, block.rows)) + 12

    def _lay_out(self) -> None:
        """Left hand, right hand, then everything else in the columns that are left, on as many pages as it takes."""
        self.pages = [[]]
        card = self._card
        hands = max(sum(map(self._height, blocks)) for blocks in (card.left, card.right))
        if self._top + hands > HEIGHT - MARGIN + 12:  # a hand keeps to its column
            self._most_lines = 1
        self._column(0, 0, list(card.left))
        self._column(0, 1, list(card.right))
        self._flow(0, 2, [*card.others, *card.layers])

    def _column(self, page: int, column: int, blocks: list[CardBlock]) -> None:
        y = self._top
        for block in blocks:
            self.pages[page].append((self._x(column), y, block))
            y += self._height(block)

    def _flow(self, page: int, column: int, blocks: list[CardBlock]) -> None:
        y = self._top
        for whole in blocks:
            rest: CardBlock | None = whole
            while rest is not None:
                room = HEIGHT - MARGIN - y
                fits, rest = self._split(rest, room)
                if fits is None:
                    page, column = (page, column + 1) if column + 1 < COLUMNS else (page + 1, 0)
                    y = self._top
                    if page == len(self.pages):
                        self.pages.append([])
                    continue
                self.pages[page].append((self._x(column), y, fits))
                y += self._height(fits)

    def _split(self, block: CardBlock, room: float) -> tuple[CardBlock | None, CardBlock | None]:
        """What of a block has room, and what has not; a heading alone has none, except on an empty page."""
        if self._height(block) <= room:
            return block, None
        ends = accumulate(
            map(self._row_height, block.rows), initial=self._height(CardBlock(block.title, (), block.about))
        )
        rows = sum(end <= room for end in ends) - 1
        full = room >= HEIGHT - MARGIN - self._top
        if rows < 2 and not full:
            return None, block
        rows = max(1, rows)
        again = _("{title}, continued").format(title=block.title)
        return CardBlock(block.title, block.rows[:rows], block.about), CardBlock(again, block.rows[rows:])

    def _x(self, column: int) -> float:
        return MARGIN + column * (self._width + GAP)

    # Drawing

    def draw(self, painter: QPainter, page: int) -> None:
        """Draw one of the pages."""
        theme = self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(QRectF(0, 0, WIDTH, HEIGHT), theme.surface)
        self._head(painter, page)
        for x, y, block in self.pages[page]:
            self._block(painter, x, y, block)

    def _head(self, painter: QPainter, page: int) -> None:
        theme, card = self._theme, self._card
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.accents[self._colour])
        height = line_height(TITLE)
        painter.drawEllipse(QRectF(MARGIN, MARGIN + height / 2 - 7, 14, 14))
        painter.setPen(theme.ink)
        painter.setFont(font(TITLE, bold=True))
        title = elided(card.title or _("Untitled"), WIDTH - 2 * MARGIN - 220, TITLE, True)
        painter.drawText(QRectF(MARGIN + 26, MARGIN, WIDTH, height), Qt.AlignmentFlag.AlignVCenter, title)
        if card.note:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            note = elided(card.note.split("\n")[0], WIDTH - 2 * MARGIN - 30, SMALL)
            where = QRectF(MARGIN + 26, MARGIN + height, WIDTH, line_height(SMALL))
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, note)
        if len(self.pages) > 1:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            number = _("Page {page} of {count}").format(page=page + 1, count=len(self.pages))
            where = QRectF(WIDTH - MARGIN - 200, MARGIN, 140, height)
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, number)
        draw_logo(painter, QRectF(WIDTH - MARGIN - 38, MARGIN + height / 2 - 13, 38, 26), theme)

    def _block(self, painter: QPainter, x: float, y: float, block: CardBlock) -> None:
        theme = self._theme
        painter.setPen(QPen(theme.line, 1))
        painter.drawLine(QPointF(x, y + line_height(STRONG) + 1), QPointF(x + self._width, y + line_height(STRONG) + 1))
        painter.setFont(font(STRONG, bold=True))
        painter.setPen(theme.ink)
        title = QRectF(x, y, self._width, line_height(STRONG))
        painter.drawText(title, Qt.AlignmentFlag.AlignVCenter, elided(block.title, self._width, STRONG, True))
        y += line_height(STRONG) + 6
        if block.about:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            where = QRectF(x, y - 2, self._width, line_height(SMALL))
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, elided(block.about, self._width, SMALL))
            y += line_height(SMALL)
        for row in block.rows:
            self._draw_row(painter, x, y, row)
            y += self._row_height(row)

    def _draw_row(self, painter: QPainter, x: float, y: float, row: CardRow) -> None:
        theme = self._theme
        said = self._said(row)
        middle = y + self._row_height(row) / 2
        draw_nub(painter, QPointF(x + 11, middle), row.control, 0.0, theme)
        caps = [(key, self._label_of(key), CapState.REST) for key in row.keys]
        width = sum(cap_width(key, text) + CAPS_APART for key, text, _state in caps) - CAPS_APART if caps else 0.0
        left, at = x + self._width - width, middle - cap_height() / 2
        draw_caps(painter, left, at, caps, theme)
        painter.setPen(QPen(theme.cap_edge, 1))  # paper-white on white paper needs its edge all around
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for key, text, _state in caps:
            painter.drawRoundedRect(QRectF(left + 0.5, at + 0.5, cap_width(key, text) - 1, cap_height() - 1), 4, 4)
            left += cap_width(key, text) + CAPS_APART
        top, whole = middle - said.height / 2, Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextDontClip
        for lines, text_font, colour, height in (
            (said.does, said.does_font, theme.ink, line_height(BODY)),
            (said.told, said.told_font, theme.quiet, line_height(SMALL) * 0.9),
        ):
            painter.setFont(text_font)
            painter.setPen(colour)
            for line in lines:
                painter.drawText(QRectF(x + TEXT_LEFT, top, self._width, height), whole, line)
                top += height

    # Files

    def write(self, path: Path) -> list[Path]:
        """Write a PDF of all pages, or by its ending PNG pictures of them; the files written. Raises StorageError."""
        return self._write_pictures(path) if path.suffix.lower() == ".png" else self._write_pdf(path)

    def _write_pdf(self, path: Path) -> list[Path]:
        data = QBuffer()
        data.open(QIODevice.OpenModeFlag.WriteOnly)
        writer = QPdfWriter(data)
        writer.setTitle(self._card.title)
        writer.setCreator("Nub Shift")
        writer.setResolution(96)
        size = QPageSize(QPageSize.PageSizeId.A4)
        writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Landscape, QMarginsF(0, 0, 0, 0)))
        painter = QPainter(writer)
        for page in range(len(self.pages)):
            if page:
                writer.newPage()
            self.draw(painter, page)
        painter.end()
        write_atomically(path, data.data().data())
        return [path]

    def _write_pictures(self, path: Path) -> list[Path]:
        found = []
        for page in range(len(self.pages)):
            target = path if not page else path.with_name(f"{path.stem}-{page + 1}{path.suffix}")
            data = QBuffer()
            data.open(QIODevice.OpenModeFlag.WriteOnly)
            self.picture(page).save(data, "PNG")
            write_atomically(target, data.data().data())
            found.append(target)
        return found

    def picture(self, page: int) -> QImage:
        """One of the pages."""
        image = QImage(WIDTH * SHARP, HEIGHT * SHARP, QImage.Format.Format_RGB32)
        painter = QPainter(image)
        painter.scale(SHARP, SHARP)
        self.draw(painter, page)
        painter.end()
        return image
