"""A new profile: the game's title, a colour, and what to begin with."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from nubshift.app.document.shelf import BEGINNING_NAMES, BEGINNINGS
from nubshift.app.editors.panel import Choices
from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.theme import STRONG, Look, font
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.model.names import COLOUR_NAMES
from nubshift.model.profile import COLOURS, Colour
from nubshift.texts import _

WIDTH = 400


class NewProfile(QFrame):
    """A small sheet over the window. Enter in the title begins; Escape or a click beside it does not."""

    def __init__(self, look: Look, begin: Callable[[str, Colour, str], None], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("finder")
        self._begin = begin
        head = Label(_("A new profile"))
        head.setFont(font(STRONG, bold=True))
        self.title = LineField()
        self.title.setPlaceholderText(_("Game title"))
        self.title.setAccessibleName(_("The game's title"))
        self.title.installEventFilter(self)
        self.colours = ColourDots(look)
        self.start = Choices(_("Start with"), BEGINNING_NAMES, lambda _: self.title.setFocus())
        self.go = QPushButton(_("Create"))
        self.go.clicked.connect(self._done)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(8)
        column.addWidget(head)
        column.addWidget(self.title)
        column.addWidget(self.colours)
        told = Label(_("Start with the keys that games of this kind often use:"))
        told.setWordWrap(True)
        column.addWidget(told)
        column.addWidget(self.start)
        column.addWidget(self.go, 0, Qt.AlignmentFlag.AlignRight)

    def ask(self) -> None:
        """Show it, empty."""
        self.title.clear()
        self.colours.colour = COLOURS[0]
        self.start.show_choice(BEGINNINGS[0])
        layout = self.layout()
        self.setFixedSize(WIDTH, layout.totalHeightForWidth(WIDTH) if layout is not None else WIDTH)
        parent = self.parentWidget()
        if parent is not None:
            corner = parent.mapToGlobal(parent.rect().topLeft())
            self.move(corner.x() + 60, corner.y() + 70)
        self.show()
        self.title.setFocus()

    def _done(self) -> None:
        title = self.title.text().strip()[:200]
        if not title:
            self.title.setPlaceholderText(_("Type the game's title first"))
            self.title.setFocus()
            return
        self.hide()
        self._begin(title, self.colours.colour, self.start.present)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Enter in the title begins; Alt and the arrows go through the beginnings."""
        if watched is self.title and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._done()
                return True
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()), 0)
            if step:
                at = (BEGINNINGS.index(self.start.present) + step) % len(BEGINNINGS)
                self.start.show_choice(BEGINNINGS[at])
                return True
        return super().eventFilter(watched, event)


class ColourDots(Canvas):
    """The colours of profiles, one of them chosen."""

    chosen = pyqtSignal(str)

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self._colour: Colour = COLOURS[0]
        self.setFixedHeight(30)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Colour; use the arrow keys to change it"))

    @property
    def colour(self) -> Colour:
        """The one chosen."""
        return self._colour

    @colour.setter
    def colour(self, colour: Colour) -> None:
        self._colour = colour
        self.setAccessibleDescription(COLOUR_NAMES[colour])
        self.update()

    def sizeHint(self) -> QSize:
        """All of them side by side."""
        return QSize(len(COLOURS) * 30 + 8, 30)

    def draw(self, painter: QPainter) -> None:
        """The dots."""
        for index, colour in enumerate(COLOURS):
            at = QPointF(14 + index * 30, 15)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.accents[colour])
            painter.drawEllipse(at, 7, 7)
            if colour == self._colour:
                painter.setPen(QPen(self.theme.input if self.hasFocus() else self.theme.ink, 1))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(QRectF(at.x() - 11, at.y() - 11, 22, 22))

    def _choose(self, index: int) -> None:
        if 0 <= index < len(COLOURS):
            self.colour = COLOURS[index]
            self.chosen.emit(self._colour)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Choose one."""
        if event is not None:
            self._choose(int(event.position().x() // 30))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows choose the next."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if step:
            self._choose(COLOURS.index(self._colour) + step)
        elif event is not None:
            super().keyPressEvent(event)
