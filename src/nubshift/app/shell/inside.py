"""What stands one below the other in the window: the top, notices, the present workspace and the Now strip."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PyQt6.QtGui import QPalette
from PyQt6.QtWidgets import QMainWindow, QStackedWidget, QVBoxLayout, QWidget


class Inside(QWidget):
    """The workspaces by their names, of which one is shown, between what is always there; `workspaces` gives each.

    Each part is put into a window that is there by then: one that is moved with all that it holds costs as much again.
    """

    def __init__(
        self,
        window: QMainWindow,
        above: tuple[QWidget, ...],
        workspaces: Mapping[str, Callable[[], QWidget]],
        below: QWidget,
    ) -> None:
        super().__init__(window)
        window.setCentralWidget(self)
        self.workspaces, self.pages = workspaces, QStackedWidget(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget in (*above, self.pages, below):
            column.addWidget(widget, int(widget is self.pages))
            if widget is not self.pages:
                widget.setAutoFillBackground(True)
                widget.setBackgroundRole(QPalette.ColorRole.Base)

    def keep(self, page: QWidget) -> None:
        """It has its place here from now on; the first one is shown."""
        self.pages.addWidget(page)

    def show_workspace(self, name: str) -> None:
        """Show this one."""
        self.pages.setCurrentWidget(self.workspaces[name]())
