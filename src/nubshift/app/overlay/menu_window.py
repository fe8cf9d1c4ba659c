"""The menu over the game, painted: it never takes the focus, and stays out of the middle of the picture."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from nubshift.app.client.at_play import AtPlay
from nubshift.app.overlay.everything import EverythingPicture
from nubshift.app.overlay.menu import GameMenu, Row
from nubshift.app.overlay.over_game import OverGame
from nubshift.app.painting.canvas import elided, line_height, text_width
from nubshift.app.painting.nubs import draw_nub
from nubshift.app.painting.theme import BODY, SMALL, STRONG, Look, Theme, faded, font
from nubshift.texts import _

WIDTH, EDGE, PAD = 420.0, 48.0, 18.0
"""Of the panel, its distance from the left of the screen, and the space within."""
MOST_ROWS = 11
USUAL_HEIGHT = 800.0
"""Of a screen; the panel is larger on a higher one."""
HEAD, FOOT, ROW = 2.9, 2.6, 2.1
"""Heights, in lines of text."""


class MenuWindow(OverGame):
    """Shows a menu while it is open. `tell` says what is marked where no window may stand over the game."""

    def __init__(
        self, menu: GameMenu, at_play: AtPlay, look: Look, label_of: Callable[[str], str], tell: Callable[[str], object]
    ) -> None:
        super().__init__(_("Nub Shift menu"))
        self._menu, self._at_play, self._look, self._tell = menu, at_play, look, tell
        self._everything = EverythingPicture(at_play, look, label_of)
        self._said = ""
        menu.changed.connect(self.refresh)
        at_play.live.layers_changed.connect(menu.look_again)
        at_play.live.controls_changed.connect(self.paint_soon)

    def refresh(self) -> None:
        """Show or hide, and paint anew."""
        menu = self._menu
        said = self.marked if menu.is_open else ""
        if said != self._said:
            self._said = said
            if self.pane is not None:
                self.pane.describe(said)
            if said and not self.can_show:
                self._tell(said)
        if not (self.can_show and menu.is_open):
            self.take_down()
            return
        self.put_up()
        self.reshape()
        self.paint_soon()

    def outline(self) -> QPainterPath:
        """The panel."""
        path, radius = QPainterPath(), 16 * self._scale
        path.addRoundedRect(self.rect, radius, radius)
        return path

    @property
    def marked(self) -> str:
        """The row that is marked, in words."""
        rows, page = self._menu.rows, self._menu.page
        if not rows:
            return page.title
        row = rows[min(page.at, len(rows) - 1)]
        if row.ticked or row.switch:
            return _("{text}, on").format(text=row.text)
        return _("{text}: {value}").format(text=row.text, value=row.value) if row.value else row.text

    @property
    def _scale(self) -> float:
        """Larger on a larger screen, which is looked at from further away."""
        return max(1.0, self.extent.height() / USUAL_HEIGHT)

    @property
    def rect(self) -> QRectF:
        """Where the panel stands on the screen."""
        if self._menu.page.everything:
            return self._everything.rect(self.extent)
        scale = self._scale
        panel = self._panel(self.extent.width() / scale, self.extent.height() / scale)
        return QRectF(panel.left() * scale, panel.top() * scale, panel.width() * scale, panel.height() * scale)

    def _panel(self, across: float, high: float) -> QRectF:
        """Where the panel stands on a screen of this size."""
        line = line_height(BODY)
        height = line * (HEAD + FOOT + ROW * self._count(high)) + 2 * PAD
        width = min(WIDTH, across - 2 * PAD)
        return QRectF(min(EDGE, (across - width) / 2), max(0.0, (high - height) / 2), width, height)

    def _count(self, high: float) -> int:
        """How many rows are shown: as many as there is room for."""
        room = (high - 2 * PAD) / line_height(BODY) - HEAD - FOOT
        return max(1, min(MOST_ROWS, int(room / ROW), len(self._menu.rows)))

    def draw(self, painter: QPainter) -> None:
        """The page that is open."""
        if not self._menu.is_open:
            return
        if self._menu.page.everything:
            self._everything.draw(painter, self.extent)
        else:
            scale = self._scale
            painter.scale(scale, scale)
            self._draw_page(painter, self._panel(self.extent.width() / scale, self.extent.height() / scale))

    def _draw_page(self, painter: QPainter, box: QRectF) -> None:
        theme, line = self._look.theme, line_height(BODY)
        painter.setPen(QPen(theme.line, 1))
        painter.setBrush(faded(theme.surface, 0.96))
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 16, 16)
        inner = box.adjusted(PAD, PAD, -PAD, -PAD)
        self._draw_head(painter, QRectF(inner.left(), inner.top(), inner.width(), line * HEAD))
        body = QRectF(inner.left(), inner.top() + line * HEAD, inner.width(), inner.height() - line * (HEAD + FOOT))
        rows, page = self._menu.rows, self._menu.page
        if rows:
            self._draw_rows(painter, body, rows, min(page.at, len(rows) - 1))
        else:
            painter.setPen(theme.quiet)
            painter.setFont(font(BODY))
            painter.drawText(body, Qt.AlignmentFlag.AlignVCenter, page.text)
        self._draw_foot(painter, QRectF(inner.left(), inner.bottom() - line * 1.4, inner.width(), line * 1.4), theme)

    def _draw_head(self, painter: QPainter, box: QRectF) -> None:
        """What is in use, and the page's title where it is not the first."""
        theme, status = self._look.theme, self._menu.status
        plays = status is not None and status.profile is not None
        title = self._at_play.profile.game.title if plays else _("No profile")
        if self._menu.depth > 1:
            head, below = self._menu.page.title, title
        elif status is not None and not status.live:
            head, below = title, _("Paused")
        else:
            head, below = title, status.why if status is not None else ""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.accents[self._at_play.profile.game.colour] if plays else theme.quiet)
        painter.drawEllipse(QPointF(box.left() + 7, box.top() + line_height(STRONG) / 2), 6, 6)
        painter.setPen(theme.ink)
        painter.setFont(font(STRONG, bold=True))
        rect = QRectF(box.left() + 22, box.top(), box.width() - 22, line_height(STRONG))
        painter.drawText(rect, Qt.AlignmentFlag.AlignVCenter, elided(head, rect.width(), STRONG, True))
        painter.setPen(theme.quiet)
        painter.setFont(font(SMALL))
        under = QRectF(rect.left(), rect.bottom() + 2, rect.width(), line_height(SMALL))
        painter.drawText(under, Qt.AlignmentFlag.AlignVCenter, elided(below, rect.width(), SMALL))

    def _draw_rows(self, painter: QPainter, box: QRectF, rows: list[Row], at: int) -> None:
        """As many as there is room for, the marked one among them."""
        theme, height = self._look.theme, line_height(BODY) * ROW
        shown = self._count(self.extent.height() / self._scale)
        first = max(0, min(at - shown // 2, len(rows) - shown))
        for place, row in enumerate(rows[first : first + shown]):
            rect = QRectF(box.left(), box.top() + place * height, box.width(), height)
            marked = first + place == at
            if marked:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.input)
                painter.drawRoundedRect(rect.adjusted(-6, 1, 6, -1), 9, 9)
            self._draw_row(painter, rect.adjusted(8, 0, -8, 0), row, marked, theme)
        painter.setPen(theme.quiet)
        painter.setFont(font(SMALL))
        for more, top in ((first > 0, box.top() - 12), (first + shown < len(rows), box.bottom() - 4)):
            if more:
                painter.drawText(QRectF(box.left(), top, box.width(), 14), Qt.AlignmentFlag.AlignCenter, "⋯")

    @staticmethod
    def _draw_row(painter: QPainter, rect: QRectF, row: Row, marked: bool, theme: Theme) -> None:
        ink, quiet = (theme.on_input, theme.on_input) if marked else (theme.ink, theme.quiet)
        right = rect.right()
        if row.opens:
            painter.setPen(QPen(quiet, 1.6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            tip = QPointF(right - 1, rect.center().y())
            painter.drawPolyline(tip + QPointF(-4, -4), tip, tip + QPointF(-4, 4))
            right -= 16
        elif row.ticked:
            painter.setPen(QPen(ink, 2.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            corner = QPointF(right - 9, rect.center().y() + 4)
            painter.drawPolyline(corner + QPointF(-5, -5), corner, corner + QPointF(9, -9))
            right -= 24
        elif row.switch is not None:
            track = QRectF(right - 30, rect.center().y() - 8, 30, 16)
            painter.setPen(QPen(ink if row.switch else quiet, 1.4))
            painter.setBrush(ink if row.switch else Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(track, 8, 8)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush((theme.input if marked else theme.surface) if row.switch else quiet)
            at = track.right() - 8 if row.switch else track.left() + 8
            painter.drawEllipse(QPointF(at, track.center().y()), 5, 5)
            right -= 44
        name = text_width(row.text, BODY, marked)
        if row.value:
            painter.setPen(quiet)
            painter.setFont(font(BODY))
            room = max(right - rect.left() - min(name, rect.width() * 0.6) - 16, 0.0)
            value = QRectF(right - room, rect.top(), room, rect.height())
            flags = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(value, flags, elided(row.value, room, BODY))
            right -= min(room, text_width(row.value, BODY)) + 16
        painter.setPen(ink)
        painter.setFont(font(BODY, bold=marked))
        room = right - rect.left()
        painter.drawText(
            QRectF(rect.left(), rect.top(), room, rect.height()),
            Qt.AlignmentFlag.AlignVCenter,
            elided(row.text, room, BODY, marked),
        )

    def _draw_foot(self, painter: QPainter, box: QRectF, theme: Theme) -> None:
        """What the two buttons do that work it."""
        live, x = self._at_play.live, box.left() + 10
        back = _("Back") if self._menu.depth > 1 else _("Close")
        for control, text in (("south", _("Choose")), ("east", back)):
            draw_nub(painter, QPointF(x, box.center().y()), control, live.depth(control), theme)
            painter.setPen(theme.quiet)
            painter.setFont(font(SMALL))
            painter.drawText(QRectF(x + 18, box.top(), 120, box.height()), Qt.AlignmentFlag.AlignVCenter, text)
            x += text_width(text, SMALL) + 48
