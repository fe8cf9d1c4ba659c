"""The kinds of tiles: what a control does in the words of the game, alive with the hardware."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from nubshift.app.map.tile import PAD, Tile
from nubshift.app.map.words import SHORT
from nubshift.app.painting.canvas import draw_name, elided, fitted, line_height, text_width
from nubshift.app.painting.caps import cap_height, cap_width, draw_caps
from nubshift.app.painting.nubs import RADIUS, draw_nub
from nubshift.app.painting.theme import BODY, SMALL, STRONG, font
from nubshift.app.widgets.plain import tip
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import BASE
from nubshift.model.sentences import binding_name
from nubshift.model.usage import feel_for
from nubshift.texts import _


class ButtonTile(Tile):
    """A button or trigger: mark and state, command, caps."""

    def sizeHint(self) -> QSize:
        """Three lines."""
        return QSize(150, round(2 * RADIUS + line_height(STRONG) + cap_height() + 2 * PAD + 4))

    def minimumSizeHint(self) -> QSize:
        """Three lines, and room for a short name."""
        return QSize(80, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        """The tile."""
        self.draw_ground(painter)
        theme, words = self.theme, self.words
        faint = not words.own
        draw_nub(
            painter,
            self.nub_centre(),
            self.control,
            self.moved,
            theme,
            faint=faint,
            mark=self.stage.selection.names.mark(self.control),
        )
        left = PAD
        head = left + 2 * RADIUS + 7
        y = PAD + 2 * RADIUS + 2
        height = line_height(STRONG)
        rect = QRectF(left, y, self.width() - left - 3, height)
        x = draw_caps(painter, left, y + height + 2, self.caps(words.keys, faint), theme, self.width() - 6)
        room = self.width() - x - 4
        # where it does not fit, the marks above name its gestures
        hint = words.hint if not words.marks or text_width(words.hint, SMALL) <= room else ""
        state = self.state()
        if hint and not words.keys and len(fitted(words.title, rect.width(), STRONG, not faint, 2)[0]) > 1:
            state, hint = state or (hint,), ""  # a name is not cut for it
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        beside = self.width() - head - (22 if self.clash else 3)
        place = QRectF(head, PAD, beside, 2 * RADIUS)
        painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, whole_parts(state, beside))
        painter.setPen(theme.quiet if faint else theme.ink)
        lines = 1 if words.keys or hint else 2
        draw_name(painter, rect, words.title, STRONG, bold=not faint, flags=Qt.AlignmentFlag.AlignVCenter, lines=lines)
        y += height + 2
        if hint:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            text = elided(hint, room, SMALL)
            painter.drawText(QRectF(x + 1, y, room, cap_height()), Qt.AlignmentFlag.AlignVCenter, text)
        self.draw_selection(painter)

    def state(self) -> tuple[str, ...]:
        """What stands beside the mark: how far it is in, how it sends, or where else it means something different."""
        words = self.words
        if kind_of(self.control) is Kind.TRIGGER:
            if self.moved:
                return (_("{moved:.0f} % in").format(moved=self.moved * 100),)
            binding = words.binding
            if binding is not None and binding.by_depth:
                bands = binding.bands[:1]
                return (*words.marks, *(_("from {start:.0f} %").format(start=band.start * 100) for band in bands))
            press_at = feel_for(self.stage.studio.profile, BASE, self.control).press_at or 0.0
            return (*words.marks, _("from {press_at:.0f} %").format(press_at=press_at * 100))
        return words.marks or words.also()


def whole_parts(parts: tuple[str, ...], room: float, factor: float = SMALL, *, bold: bool = False) -> str:
    """As many of these as `room` takes, none of them cut, and how many more there are; empty where none fits.

    That a control is pressed goes without saying, where that is what makes the rest fit.
    """
    shown = [" · ".join(parts)]
    if parts[:1] == (SHORT["press"],) and len(parts) > 1:
        shown.append(_("+ {gestures}").format(gestures=" · ".join(parts[1:])))
    for count in range(len(parts) - 1, 0, -1):
        said = " · ".join(parts[:count])
        shown.append(_("{said} +{count}").format(said=said, count=len(parts) - count))
    return next((said for said in shown if text_width(said, factor, bold) <= room), "")


class CellTile(Tile):
    """One of four in a diamond: mark and cap side by side, the command below."""

    spared = 0
    """How much of its lowest line something else covers, at either side."""

    def sizeHint(self) -> QSize:
        """Two lines."""
        return QSize(76, round(cap_height() + line_height(BODY) + 18))

    def nub_centre(self) -> QPointF:
        """Beside the caps, both in the middle."""
        widths = sum(cap_width(key, self.stage.label_of(key)) + 5 for key in self.words.keys)
        left = (self.width() - (2 * RADIUS + 6 + widths)) / 2
        below = line_height(SMALL) if self.words.marks else line_height(BODY) * (self._lines - 1)
        top = (self.height() - cap_height() - line_height(BODY) - below - 1) / 2
        return QPointF(max(4.0, left) + RADIUS, top + cap_height() / 2)

    def clash_centre(self) -> QPointF:
        """At the shoulder of the caps, however large the cell is."""
        nub = self.nub_centre()
        return QPointF(min(self.width() - 14, self.width() - nub.x() + RADIUS + 10), max(14.0, nub.y() - 14))

    @property
    def _lines(self) -> int:
        """How many lines its name takes; two at most, where no marks stand below it."""
        most = 1 if self.words.marks else 2
        return len(fitted(self.words.title, self.width() - 12, BODY, self.words.own, most)[0])

    def draw(self, painter: QPainter) -> None:
        """The cell."""
        theme, words = self.theme, self.words
        faint = not words.own
        if not words.own or self.stage.selection.layer != BASE or self._dropping:
            self.draw_ground(painter)
        centre = self.nub_centre()
        draw_nub(
            painter,
            centre,
            self.control,
            self.moved,
            theme,
            faint=faint,
            mark=self.stage.selection.names.mark(self.control),
        )
        top = centre.y() - cap_height() / 2
        draw_caps(painter, centre.x() + RADIUS + 6, top, self.caps(words.keys, faint), theme, self.width() - 4)
        painter.setPen(theme.quiet if faint else theme.ink)
        rect = QRectF(6, top + cap_height() + 1, self.width() - 12, line_height(BODY))
        lines = self._lines
        empty = words.found is None and not words.keys and text_width(words.title, SMALL) > rect.width()
        title = "–" if empty else words.title  # its mark alone says which one it is, and its tooltip the rest
        draw_name(painter, rect, title, BODY, bold=not faint, flags=Qt.AlignmentFlag.AlignCenter, lines=lines)
        if words.marks:
            painter.setFont(font(SMALL * 0.95))
            painter.setPen(theme.quiet)
            aside = 4 + self.spared
            text = whole_parts(words.marks, self.width() - 2 * aside)
            below = QRectF(aside, rect.bottom(), self.width() - 2 * aside, line_height(SMALL))
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, text)
        self.draw_selection(painter)


class HubTile(Tile):
    """The d-pad as a whole, beside its four directions."""

    def sizeHint(self) -> QSize:
        """Just the mark."""
        return QSize(26, 26)

    def nub_centre(self) -> QPointF:
        """In the middle."""
        return QPointF(self.width() / 2, self.height() / 2)

    def refresh(self) -> None:
        """The profile or the layer changed."""
        super().refresh()
        self.setToolTip(tip(_("The d-pad as a whole: {title}").format(title=self.words.title)))

    def draw(self, painter: QPainter) -> None:
        """The mark, faint where the whole has nothing of its own."""
        draw_nub(
            painter,
            self.nub_centre(),
            self.control,
            0.0,
            self.theme,
            faint=self.words.found is None,
            mark=self.stage.selection.names.mark(self.control),
        )
        self.draw_selection(painter)

    def arm(self) -> None:
        """A whole d-pad has a role, not a key."""


class LineTile(Tile):
    """A control in one line: a stick's click."""

    def sizeHint(self) -> QSize:
        """One line of caps."""
        return QSize(120, round(cap_height() + 18))

    def minimumSizeHint(self) -> QSize:
        """It can't be lower than its line."""
        return QSize(60, self.sizeHint().height())

    def nub_centre(self) -> QPointF:
        """At the left, in the middle."""
        return QPointF(PAD + RADIUS, self.height() / 2)

    def draw(self, painter: QPainter) -> None:
        """Mark, caps, command."""
        self.draw_ground(painter)
        theme, words = self.theme, self.words
        faint = not words.own
        draw_nub(
            painter,
            self.nub_centre(),
            self.control,
            self.moved,
            theme,
            faint=faint,
            mark=self.stage.selection.names.mark(self.control),
        )
        x = PAD + 2 * RADIUS + 7
        x = draw_caps(
            painter, x, (self.height() - cap_height()) / 2, self.caps(words.keys, faint), theme, self.width() - 20
        )
        painter.setPen(theme.quiet if faint else theme.ink)
        rest = self.width() - x - (22 if self.clash else 6)
        what = _("click") if self.control.endswith("_click") else _("touched")
        if words.found:
            text = whole_parts((words.title, *words.marks), rest, BODY, bold=not faint) or words.title
        else:
            text = f"{what}: {words.title}"
            text = text if text_width(text) <= rest else what
        rect = QRectF(x + 1, 0, rest, self.height())
        factor = BODY
        if len(fitted(text, rest, BODY, not faint, 2)[0]) > 1:  # small, in two lines if it must
            factor, height = SMALL, line_height(SMALL)
            lines = len(fitted(text, rest, SMALL, not faint, 2)[0])
            rect = QRectF(x + 1, (self.height() - lines * height) / 2, rest, height)
        draw_name(painter, rect, text, factor, bold=not faint, flags=Qt.AlignmentFlag.AlignVCenter, lines=2)
        self.draw_selection(painter)


class MotionTile(Tile):
    """The gyro: what it is used as, and a trace of how the controller turns."""

    def sizeHint(self) -> QSize:
        """One line."""
        return QSize(160, round(2 * RADIUS + 20))

    def minimumSizeHint(self) -> QSize:
        """It can't be lower than its mark."""
        return self.sizeHint()

    def follow(self) -> None:
        """It turned; a trace of that is glanced at."""
        self.update_soon()

    def nub_centre(self) -> QPointF:
        """At the left, in the middle."""
        return QPointF(PAD + RADIUS, self.height() / 2)

    def draw(self, painter: QPainter) -> None:
        """Mark, use, the present turn in figures, and the trace."""
        self.draw_ground(painter)
        theme = self.theme
        turn, tilt = self.stage.live.value(self.control)
        moving = abs(turn) + abs(tilt) > 2
        faint = not self.words.own
        draw_nub(
            painter,
            self.nub_centre(),
            self.control,
            1.0 if moving else 0.0,
            theme,
            faint=faint,
            mark=self.stage.selection.names.mark(self.control),
        )
        x = PAD + 2 * RADIUS + 8
        painter.setFont(font(BODY, bold=not faint))
        painter.setPen(theme.quiet if faint else theme.ink)
        title = binding_name(self.stage.studio.profile, self.words.binding) if self.words.found else _("Motion")
        title = elided(title, self.width() * 0.4, BODY)
        painter.drawText(QRectF(x, 0, self.width() * 0.42, self.height()), Qt.AlignmentFlag.AlignVCenter, title)
        x += text_width(title, BODY, not faint) + 14
        if self.width() - x > 340:
            painter.setFont(font(SMALL))
            painter.setPen(theme.quiet)
            figures = _("Yaw {turn:.0f} °/s, pitch {tilt:.0f} °/s").format(turn=abs(turn), tilt=abs(tilt))
            painter.drawText(QRectF(x, 0, 240, self.height()), Qt.AlignmentFlag.AlignVCenter, figures)
            x += 220
        self._trace(painter, QRectF(x, 8, self.width() - x - 12, self.height() - 16))
        self.draw_selection(painter)

    def _trace(self, painter: QPainter, rect: QRectF) -> None:
        samples = list(self.stage.live.motion)
        if rect.width() < 20:
            return
        painter.setPen(QPen(self.theme.line, 1))
        painter.drawLine(QPointF(rect.left(), rect.center().y()), QPointF(rect.right(), rect.center().y()))
        if len(samples) < 2:
            return
        step = rect.width() / (self.stage.live.motion.maxlen or len(samples))
        top = max(60.0, *(max(abs(x), abs(y)) for x, y in samples))
        for part, colour in ((1, self.theme.quiet), (0, self.theme.input)):
            painter.setPen(QPen(colour, 1))
            first = rect.right() - step * (len(samples) - 1)
            points = [
                QPointF(first + step * index, rect.center().y() - sample[part] / top * rect.height() / 2)
                for index, sample in enumerate(samples)
            ]
            painter.drawPolyline(QPolygonF(points))

    def drop_command(self, command: str, position: QPointF) -> None:
        """Motion is no button."""
