"""What stands one below the other in the window: the top, notices, the present workspace and the Now strip."""

from __future__ import annotations

from PyQt6.QtGui import QPalette
from PyQt6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget


class Inside(QWidget):
    """The workspaces by their names, of which one is shown, between what is always there."""

    def __init__(self, above: tuple[QWidget, ...], workspaces: dict[str, QWidget], below: QWidget) -> None:
        super().__init__()
        self.workspaces, self.pages = workspaces, QStackedWidget()
        for page in workspaces.values():
            self.pages.addWidget(page)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget in (*above, self.pages, below):
            column.addWidget(widget, int(widget is self.pages))
            if widget is not self.pages:
                widget.setAutoFillBackground(True)
                widget.setBackgroundRole(QPalette.ColorRole.Base)

    def show_workspace(self, name: str) -> None:
        """Show this one."""
        self.pages.setCurrentWidget(self.workspaces[name])
