"""Leading through pairing a wireless controller: let it blink, choose it, and see it arrive."""

from __future__ import annotations

from functools import partial

from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.controllers.radio import Near, Radio
from nubshift.app.editors.panel import emptied, link
from nubshift.app.plain import Label
from nubshift.app.scrolling import scrolled
from nubshift.app.theme import TITLE, font
from nubshift.runner.messages import Status

STEPS = (
    "Switch it on. If it goes on blinking slowly by itself, it looks for the machine it knows last.",
    "Let it blink fast: on most pads hold the middle button together with the left or right centre button for three "
    "seconds; on others there is a small button at the edge, or under the lid of the battery.",
    "When its light blinks fast, it appears below. Pair it there.",
)


class PairingPage(QWidget):
    """The page. What is known of the radio stands in `radio`."""

    def __init__(self, radio: Radio) -> None:
        super().__init__()
        self.radio = radio
        self._status: Status | None = None
        title = Label("Pair a wireless controller")
        title.setFont(font(TITLE))
        self.trouble = Label()
        self.trouble.setObjectName("asks")
        self.trouble.setWordWrap(True)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(6)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(26, 18, 26, 12)
        column.setSpacing(8)
        column.addWidget(title)
        for number, step in enumerate(STEPS, 1):
            label = Label(f"{number}. {step}")
            label.setWordWrap(True)
            column.addWidget(label)
        column.addSpacing(6)
        column.addWidget(self.trouble)
        column.addLayout(self.rows)
        column.addStretch(1)
        area = scrolled(inside)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(area)
        self._shown: object = None
        radio.changed.connect(self.refresh)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Search while somebody looks."""
        self.radio.begin()
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """And no longer."""
        self.radio.end()

    def show_status(self, status: Status | None) -> None:
        """What the kernel has made of what is connected."""
        self._status = status
        self.refresh()

    def _has_node(self, near: Near) -> bool:
        infos = (*self._status.controllers, *self._status.others) if self._status is not None else ()
        return any(info.key.lower().endswith(f"#{near.address.lower()}") for info in infos)

    def words(self, near: Near) -> str:
        """How a device stands."""
        if near.path in self.radio.doing:
            return self.radio.doing[near.path]
        if near.connected:
            return (
                "connected"
                if self._has_node(near)
                else ("connected, but this kernel has no driver for it: nothing it does arrives here")
            )
        return "asleep or out of reach: press one of its buttons to wake it" if near.paired else "can be paired"

    def refresh(self) -> None:
        """Another state of things."""
        if not self.isVisible():
            return
        self.trouble.setText(self.radio.trouble)
        self.trouble.setVisible(bool(self.radio.trouble))
        known = sorted(self.radio.devices, key=lambda near: (not near.is_controller, near.name.lower()))
        rows = [(near, self.words(near)) for near in known if near.is_controller or near.name != near.address]
        if rows == self._shown:
            return
        self._shown = rows
        emptied(self.rows)
        for heading, wanted in (("Controllers", True), ("Other devices near", False)):
            some = [row for row in rows if row[0].is_controller is wanted]
            if some:
                label = Label(heading)
                label.setObjectName("heading")
                self.rows.addWidget(label)
            for near, text in some:
                self.rows.addWidget(self._row(near, text))
        if not rows and not self.radio.trouble:
            label = Label("Nothing is near yet. It is searched as long as this page is open.")
            label.setObjectName("quiet")
            self.rows.addWidget(label)

    def _row(self, near: Near, text: str) -> QWidget:
        lane = QFrame()
        lane.setObjectName("lane")
        row = QHBoxLayout(lane)
        row.setContentsMargins(10, 7, 8, 7)
        words = QVBoxLayout()
        words.setSpacing(1)
        words.addWidget(Label(near.name))
        state = Label(text)
        state.setObjectName("quiet")
        state.setWordWrap(True)
        words.addWidget(state)
        row.addLayout(words, 1)
        if near.paired:
            row.addWidget(link("forget it", partial(self.radio.forget, near.path)))
        elif near.path not in self.radio.doing or "not" in text:
            button = QPushButton("pair")
            button.setObjectName("take")
            button.setAccessibleName(f"Pair {near.name}")
            button.clicked.connect(partial(self.radio.pair, near.path))
            row.addWidget(button)
        return lane
