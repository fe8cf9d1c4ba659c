"""Controls to be held together for a while, chosen by holding them: a line of the settings."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSpinBox, QWidget

from nubshift.app.client.mirror import Mirror
from nubshift.app.editors.panel import link
from nubshift.app.painting.canvas import text_width
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.widgets.plain import tip
from nubshift.model.controls import BUTTON_LIKE, kind_of
from nubshift.model.names import Names
from nubshift.texts import _

MOST = 4
ROOM = 280.0
"""Pixels for the names of the controls in one line; where that is not enough they stand below each other."""


class HeldControls(QWidget):
    """Sets the settings `field`, the controls, and `hold`, for how many ms. `least` is how many controls it takes."""

    def __init__(
        self,
        settings: SettingsStore,
        live: Mirror,
        names: Callable[[], Names],
        field: str,
        hold: str,
        least: int,
        hold_name: str,
    ) -> None:
        super().__init__()
        self._settings, self._live, self._names = settings, live, names
        self._field, self._hold, self._least = field, hold, least
        self._held: tuple[str, ...] = ()
        self.controls = QPushButton()
        self.controls.setCheckable(True)
        self.controls.setToolTip(
            tip(
                _("Click, then hold one to four buttons of your controller together.")
                if least == 1
                else _("Click, then hold two to four buttons of your controller together.")
            )
        )
        self.controls.clicked.connect(self._listen)
        self.time = QSpinBox()
        self.time.setRange(0, 5000)
        self.time.setSingleStep(100)
        self.time.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.time.setFixedWidth(80)
        self.time.setSuffix(_(" ms"))
        self.time.setAccessibleName(hold_name)
        self.time.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.time.editingFinished.connect(lambda: settings.change(**{hold: self.time.value()}))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.controls)
        row.addWidget(self.time)
        row.addWidget(link(_("Clear"), lambda: settings.change(**{field: ()})))
        row.addStretch(1)
        live.controls_changed.connect(self._moved)
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is listened for any more."""
        self.controls.setChecked(False)

    @property
    def listens(self) -> bool:
        """Whether the next controls held are taken."""
        return self.controls.isChecked()

    def refresh(self) -> None:
        """As it is set."""
        now = self._settings.now
        names = [self._names().title(control) for control in getattr(now, self._field)]
        joined = " + ".join(names)
        if text_width(joined) > ROOM:
            joined = " +\n".join(names)
        self.controls.setText(_("Hold the controls…") if self.listens else joined or _("None"))
        self.time.setValue(getattr(now, self._hold))

    def _listen(self) -> None:
        self._held = ()
        self.refresh()

    def _moved(self, changed: set[str]) -> None:
        """While it listens: the most buttons that are held together, once one of them goes up."""
        if not self.listens:
            return
        values = self._live.values
        held = tuple(sorted(name for name in values if kind_of(name) in BUTTON_LIKE and self._live.depth(name) > 0.5))
        if len(held) >= len(self._held):
            self._held = held[:MOST]
        elif len(self._held) >= self._least:
            self.controls.setChecked(False)
            self._settings.change(**{self._field: self._held})
            self.refresh()
        else:
            self._held = held
