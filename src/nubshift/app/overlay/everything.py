"""What every control does now, painted over the game."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QPen

from nubshift.app.client.at_play import AtPlay
from nubshift.app.map.words import words_for
from nubshift.app.painting.canvas import elided, line_height
from nubshift.app.painting.caps import CapState, cap_height, draw_cap
from nubshift.app.painting.nubs import draw_nub
from nubshift.app.painting.theme import SMALL, STRONG, Look, faded, font
from nubshift.model.controls import CONTROLS
from nubshift.model.profile import BASE
from nubshift.texts import _

Sides = tuple[list[tuple[str, str, tuple[str, ...]]], list[tuple[str, str, tuple[str, ...]]]]
"""For the left and the right hand: control, words, keys."""


class EverythingPicture:
    """Two columns as the hands lie, for the layer entered last of what plays now."""

    def __init__(self, at_play: AtPlay, look: Look, label_of: Callable[[str], str]) -> None:
        self._at_play, self._live, self._look, self._label_of = at_play, at_play.live, look, label_of

    @property
    def _top_layer(self) -> str:
        """The layer entered last that this profile has, else the base."""
        known = [layer for layer in self._live.layers if self._at_play.profile.layer(layer) is not None]
        return known[-1] if known else BASE

    def _everything(self) -> Sides:
        """What every control does now, for the left and the right hand: its name, its words and its keys."""
        sides: Sides = ([], [])
        for control in CONTROLS:
            words = words_for(self._at_play.profile, self._top_layer, control)
            if words.found is not None and not words.found.binding.blocked:
                hint = f"; {words.hint}" if words.hint else ""
                sides["right" in CONTROLS[control].reach].append((control, f"{words.title}{hint}", words.keys))
        return sides

    def rect(self, size: QSizeF) -> QRectF:
        """Where it is drawn on a screen of this size."""
        return self._rect(self._everything(), size)

    def _rect(self, sides: Sides, size: QSizeF) -> QRectF:
        height = max(len(side) for side in sides) * (cap_height() + 6) + line_height(STRONG) + 36
        width = min(size.width() * 0.9, 860.0)
        return QRectF((size.width() - width) / 2, max(10.0, (size.height() - height) / 2), width, height)

    def draw(self, painter: QPainter, size: QSizeF) -> None:
        """What every control does now, in two columns as the hands lie: left hand left, right hand right."""
        theme, layer = self._look.theme, self._top_layer
        sides = self._everything()
        box, pitch = self._rect(sides, size), cap_height() + 6
        width = box.width()
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(faded(theme.surface, 0.94))
        painter.drawRoundedRect(box, 14, 14)
        entry = self._at_play.profile.layer(layer)
        painter.setFont(font(STRONG, bold=True))
        painter.setPen(theme.ink)
        head = QRectF(box.left() + 20, box.top() + 12, width - 40, line_height(STRONG))
        painter.drawText(
            head, Qt.AlignmentFlag.AlignVCenter, _("Now: {name}").format(name=entry.name if entry else layer)
        )
        for side, rows_of_side in enumerate(sides):
            left = box.left() + 20 + side * width / 2
            for row, (control, text, keys) in enumerate(rows_of_side):
                y = box.top() + line_height(STRONG) + 24 + row * pitch
                draw_nub(painter, QPointF(left + 10, y + cap_height() / 2), control, self._live.depth(control), theme)
                x = left + 28
                for key in keys[:2]:
                    state = CapState.HELD if key in self._live.held else CapState.REST
                    x += draw_cap(painter, x, y, key, self._label_of(key), state, theme) + 5
                painter.setFont(font(SMALL))
                painter.setPen(theme.ink)
                room = left + width / 2 - 30 - x
                painter.drawText(
                    QRectF(x + 3, y, room, cap_height()), Qt.AlignmentFlag.AlignVCenter, elided(text, room, SMALL)
                )
