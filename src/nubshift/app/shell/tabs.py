"""The row of workspaces, in the order of the work."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from nubshift.app.painting.theme import Look
from nubshift.texts import _

WORKSPACES: dict[str, str] = {
    "map": _("Map"),
    "tune": _("Tune"),
    "try": _("Try"),
    "controllers": _("Controllers"),
    "profiles": _("Profiles"),
}
"""Those that there are, with what stands on them."""


class WorkspaceTabs(QWidget):
    """One of the workspaces is open. `wanted` carries the one that a person asks for."""

    wanted = pyqtSignal(str)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setAccessibleName(_("Workspaces"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self.buttons: dict[str, QPushButton] = {}
        for name, word in WORKSPACES.items():
            button = QPushButton(word)
            button.setObjectName("tab")
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _=False, to=name: self.wanted.emit(to))
            self.buttons[name] = button
            row.addWidget(button)
        self.present = "map"
        self.show_present("map")

    def show_present(self, name: str) -> None:
        """Mark the one that is open."""
        self.present = name
        for other, button in self.buttons.items():
            button.setChecked(other == name)
            button.setAccessibleName(
                _("{button_text}, open").format(button_text=button.text()) if other == name else button.text()
            )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right go along them."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if step:
            names = list(self.buttons)
            to = names[(names.index(self.present) + step) % len(names)]
            self.wanted.emit(to)
            self.buttons[to].setFocus()
        else:
            super().keyPressEvent(event)
