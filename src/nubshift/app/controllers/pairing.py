"""Leading through pairing a wireless controller: let it blink, choose it, and see it arrive."""

from __future__ import annotations

from functools import partial

from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.controllers.radio import Near, Radio
from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.protocol.messages import Status
from nubshift.texts import _

STEPS = (
    _("Turn it on. If it keeps blinking slowly, it is looking for the last machine it was paired with."),
    _(
        "Make it blink fast: on most pads, hold the middle button and the left or right centre "
        "button for three seconds. Others have a small button at the edge or under the battery lid."
    ),
    _("When its light blinks fast, it appears below. Pair it there."),
)


class PairingPage(QWidget):
    """The page. What is known of the radio stands in `radio`."""

    def __init__(self, radio: Radio) -> None:
        super().__init__()
        self.radio = radio
        self._status: Status | None = None
        title = Label(_("Pair a wireless controller"))
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
            return _("connected") if self._has_node(near) else (_("connected, but this kernel has no driver for it"))
        return _("asleep or out of range: press one of its buttons to wake it") if near.paired else _("can be paired")

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
        for heading, wanted in (("Controllers", True), (_("Other devices near"), False)):
            some = [row for row in rows if row[0].is_controller is wanted]
            if some:
                label = Label(heading)
                label.setObjectName("heading")
                self.rows.addWidget(label)
            for near, text in some:
                self.rows.addWidget(self._row(near, text))
        if not rows and not self.radio.trouble:
            label = Label(_("Nothing found yet. The search goes on while this page is open."))
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
            row.addWidget(link(_("Forget"), partial(self.radio.forget, near.path)))
        elif near.path not in self.radio.doing or "not" in text:
            button = QPushButton(_("Pair"))
            button.setObjectName("take")
            button.setAccessibleName(_("Pair {name}").format(name=near.name))
            button.clicked.connect(partial(self.radio.pair, near.path))
            row.addWidget(button)
        return lane
