"""Buttons whose words are broken into lines where there is little room: some languages need more of it than English."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from nubshift.app.painting.canvas import in_lines
from nubshift.records import Record

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QAbstractButton as _Button
else:
    _Button = object


class _Measures(Record, frozen=True):
    """Of a button in its present font, in px: around its words, its height with one line, and each further line."""

    beside: int
    height: int
    line: int


class Breaking(_Button):
    """Comes before a kind of button among the bases of one. `text` stays what it was set to."""

    _words = ""
    _measured: _Measures | None = None

    def __init__(self, words: str = "") -> None:
        super().__init__(words)  # type: ignore[arg-type]
        self._words = words
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def text(self) -> str:
        """All of it, in one line."""
        return self._words

    def setText(self, text: str | None) -> None:
        """Say this."""
        self._words = text or ""
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As many lines as it takes."""
        super().resizeEvent(event)
        self._fit()

    def changeEvent(self, event: QEvent | None) -> None:
        """Another font or style."""
        super().changeEvent(event)
        self._measured = None

    def sizeHint(self) -> QSize:
        """All in one line."""
        known = self._measures()
        return QSize(ceil(self._measure(self._words)) + known.beside, known.height)

    def minimumSizeHint(self) -> QSize:
        """As narrow as its longest word."""
        known = self._measures()
        longest = max(map(self._measure, self._words.split()), default=0.0)
        return QSize(ceil(longest) + known.beside, known.height)

    def hasHeightForWidth(self) -> bool:
        """The narrower, the higher."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Its lines below each other."""
        known = self._measures()
        return known.height + (len(self._lines(width)) - 1) * known.line

    def _measure(self, text: str) -> float:
        return float(self.fontMetrics().horizontalAdvance(text))

    def _measures(self) -> _Measures:
        if self._measured is None:
            shown, hint, line = super().text().split("\n"), super().sizeHint(), self.fontMetrics().lineSpacing()
            beside = hint.width() - max(ceil(self._measure(one)) for one in shown)
            self._measured = _Measures(beside, hint.height() - (len(shown) - 1) * line, line)
        return self._measured

    def _lines(self, width: int) -> list[str]:
        return in_lines(self._words, width - self._measures().beside, self._measure)

    def _fit(self) -> None:
        shown = "\n".join(self._lines(self.width()))
        if shown != super().text():
            super().setText(shown)


class WordsButton(Breaking, QPushButton):
    """A button of words alone, as a link or one of several choices."""
