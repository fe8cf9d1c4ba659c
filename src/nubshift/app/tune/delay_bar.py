"""From the finger to the game: what the controller, Nub Shift and the binding each add to the delay (N63)."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QResizeEvent

from nubshift.app.painting.canvas import Canvas, broken, line_height
from nubshift.app.painting.theme import BODY, SMALL, Look, faded, font
from nubshift.model.delays import AddedDelay
from nubshift.protocol.play_figures import Lateness, Pace
from nubshift.records import Record
from nubshift.texts import _

MARGIN, BAR, GAP, DOT = 10.0, 9.0, 5.0, 7.0
INDENT = DOT + 8.0


NOTHING = Lateness()


class Path(Record, frozen=True):
    """What is known of the delay: of the controller and of Nub Shift maybe nothing yet; of the binding always, if the
    control has one."""

    pace: Pace | None = None
    late: Lateness = NOTHING
    added: AddedDelay | None = None

    @property
    def known(self) -> bool:
        """Whether it can be added up."""
        return self.pace is not None and self.late.longest > 0

    @property
    def total(self) -> tuple[float, float]:
        """All of it in ms, at least and at most: a report is up to one interval old."""
        added = self.added or AddedDelay()
        every = self.pace.every / 1000 if self.pace is not None else 0.0
        ours = self.late.median / 1000
        return ours + added.at_least, every + ours + added.at_most

    def head(self) -> str:
        """The sum, in words."""
        if not self.known:
            return _("Move the controller to see the delay.")
        least, most = self.total
        return _("{least:.1f} to {most:.1f} ms from finger to game").format(least=least, most=most)

    def lines(self) -> list[str]:
        """Each part, in words: the controller's, ours, and the binding's if there is one."""
        pace, late, added = self.pace, self.late, self.added
        found = [
            _("Controller: up to {every:.1f} ms, jitter {jitter:.1f} ms").format(
                every=pace.every / 1000, jitter=pace.jitter / 1000
            )
            if pace is not None
            else _("Controller: not measured yet"),
            _("Nub Shift: {median:.1f} ms, {longest:.1f} ms at worst").format(
                median=late.median / 1000, longest=late.longest / 1000
            )
            if late.longest
            else _("Nub Shift: not measured yet"),
        ]
        if added is None:
            return found
        if not added.at_most:
            return [*found, _("Assignment: no delay")]
        if added.at_least == added.at_most:
            words = _("Assignment: {most:.0f} ms").format(most=added.at_most)
        elif not added.at_least:
            words = _("Assignment: up to {most:.0f} ms").format(most=added.at_most)
        else:
            words = _("Assignment: {least:.0f} to {most:.0f} ms").format(least=added.at_least, most=added.at_most)
        return [*found, words]

    def tip(self) -> str:
        """What each part is, and why the binding takes its time."""
        late = self.late
        found = [_("A report of the controller is up to one interval old when it arrives.")]
        if late.longest:
            found.append(
                _("Nub Shift, in the last minute: 99\u202f% of the reports were answered within {most:.1f} ms.").format(
                    most=late.most / 1000
                )
            )
        if self.added is not None:
            found += [_("Assignment: {because}.").format(because=because) for because in self.added.because]
        return "\n".join(found)


class DelayBar(Canvas):
    """The sum, a bar of its parts, and each in words."""

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.path = Path()
        self._said: object = None
        self._fit()

    def show_path(self, path: Path) -> None:
        """Show this."""
        self.path = path
        said = path.head(), path.lines(), path.tip()
        if said == self._said:
            return
        self._said = said
        self.setToolTip(path.tip())
        self.setAccessibleName("\n".join([path.head(), *path.lines()]))
        self._fit()
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """What is said is broken into lines that fit."""
        super().resizeEvent(event)
        self._fit()

    def _in_lines(self) -> tuple[list[str], list[list[str]]]:
        """The head and each part, in lines that fit."""
        width = self.width() - 2 * MARGIN
        parts = [broken(part, width - INDENT, SMALL) for part in self.path.lines()]
        return broken(self.path.head(), width, BODY), parts

    def _fit(self) -> None:
        head, parts = self._in_lines()
        bar = BAR + GAP if self.path.known else 0.0
        height = len(head) * line_height(BODY) + GAP + bar + sum(map(len, parts)) * line_height(SMALL)
        self.setFixedHeight(round(height + 2 * GAP))

    def _colours(self) -> tuple[QColor, QColor, QColor]:
        return self.theme.input, self.theme.ink, self.theme.output

    def draw(self, painter: QPainter) -> None:
        """From top to bottom: head, bar, parts."""
        y, width = GAP, self.width() - 2 * MARGIN
        head, parts = self._in_lines()
        painter.setFont(font(BODY))
        painter.setPen(self.theme.ink if self.path.known else self.theme.quiet)
        for line in head:
            painter.drawText(QRectF(MARGIN, y, width, line_height(BODY)), Qt.AlignmentFlag.AlignVCenter, line)
            y += line_height(BODY)
        y += GAP
        if self.path.known:
            self._draw_bar(painter, QRectF(MARGIN, y, width, BAR))
            y += BAR + GAP
        painter.setFont(font(SMALL))
        height = line_height(SMALL)
        for lines, colour, round_ in zip(parts, self._colours(), (True, False, False), strict=False):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colour)
            middle = y + height / 2
            if round_:
                painter.drawEllipse(QPointF(MARGIN + DOT / 2, middle), DOT / 2, DOT / 2)
            else:
                painter.drawRect(QRectF(MARGIN, middle - DOT / 2, DOT, DOT))
            painter.setPen(self.theme.quiet)
            for line in lines:
                words = QRectF(MARGIN + INDENT, y, width - INDENT, height)
                painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, line)
                y += height

    def _draw_bar(self, painter: QPainter, box: QRectF) -> None:
        """What is there at least is full, what comes only at times is faded."""
        pace, added = self.path.pace, self.path.added or AddedDelay()
        assert pace is not None
        parts = ((0.0, pace.every / 1000), (self.path.late.median / 1000,) * 2, (added.at_least, added.at_most))
        scale = box.width() / max(self.path.total[1], 0.001)
        painter.setPen(Qt.PenStyle.NoPen)
        x = box.left()
        for (least, most), colour in zip(parts, self._colours(), strict=True):
            if most <= 0:
                continue
            painter.setBrush(faded(colour, 0.45))
            painter.drawRect(QRectF(x, box.top(), max(2.0, most * scale), box.height()))
            painter.setBrush(colour)
            painter.drawRect(QRectF(x, box.top(), max(0.0, least * scale), box.height()))
            x += max(2.0, most * scale)
