"""Texts as they are: names from files and devices may look like markup, and are shown letter by letter all the same."""

from __future__ import annotations

import html

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """A label that never takes its text for markup. The only label that this program makes."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def tip(text: str) -> str:
    """A text for a tooltip, which Qt would take for markup if it looks like it."""
    rich = Qt.mightBeRichText(text)  # type: ignore[attr-defined]
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>") if rich else text
