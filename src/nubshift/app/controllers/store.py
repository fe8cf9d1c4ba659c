"""What the player keeps of their controllers, as the window edits it: written at once, and the runner is told."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.link import Link
from nubshift.errors import StorageError
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import (
    ControllerSetup,
    forget_setup,
    parse_setup,
    read_setups,
    setup_text,
    write_setup,
)
from nubshift.model.files import read_bytes, read_text
from nubshift.model.names import Names, names_for
from nubshift.model.sharing import paired
from nubshift.model.store import write_atomically
from nubshift.model.stored_controllers import (
    Calibration,
    ControllersFile,
    Labels,
    Own,
    PartOf,
    Print,
    read_controllers,
    write_controllers,
)
from nubshift.protocol.messages import Fill, Reread
from nubshift.texts import _

LINES = "mapping-lines.txt"
"""The file of mapping lines that were pasted, beside the setups."""


class ControllerStore(QObject):
    """Names, colours, labels, calibration, seats and setups. `changed` comes after each edit."""

    changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, path: Path, setups: Path, link: Link) -> None:
        super().__init__(link)
        self._path, self.setups, self._link = path, setups, link
        self.trouble = ""
        try:
            self.file = read_controllers(path)
        except StorageError as error:
            self.file, self.trouble = ControllersFile(), str(error)

    def _put(self, file: ControllersFile) -> None:
        if file == self.file:
            return
        if not (self.trouble and self._path.exists()):  # what could not be read is never written over
            self._do(lambda: write_controllers(self._path, file))
        self.file = file
        self._again()

    def _do(self, write: Callable[[], object]) -> bool:
        try:
            write()
        except StorageError as error:
            self.noticed.emit("error", f"{error}.")
            return False
        return True

    def _again(self) -> None:
        self._link.send(Reread())
        self.changed.emit()

    # One piece of hardware

    def own(self, info: ControllerInfo) -> Own:
        """What is kept of a controller."""
        return self.file.of(info.key)

    def name(self, info: ControllerInfo) -> str:
        """What the player calls a controller."""
        return self.own(info).name or info.name

    def set_own(self, info: ControllerInfo, **changes: object) -> None:
        """Change its name, colour or light."""
        self._put(self.file.with_own(info.key, replace(self.own(info), **changes)))

    def calibrate(self, info: ControllerInfo, control: str, calibration: Calibration | None) -> None:
        """Keep where a control rests and reaches, or forget it."""
        known = {name: there for name, there in self.own(info).calibration.items() if name != control}
        if calibration is not None:
            known[control] = calibration
        self.set_own(info, calibration=known)

    def store_measured(self, info: ControllerInfo, control: str, fresh: Calibration) -> None:
        """Keep what was measured of a control, with whatever calibration was in use meanwhile."""
        present = self.own(info).calibration.get(control, Calibration())
        self.calibrate(info, control, present.measured_again(fresh))
        self.noticed.emit(
            "info",
            _("The rest and reach of {control} were saved for {name}, for every profile.").format(
                control=self.names(info).title(control), name=self.name(info)
            ),
        )

    def bring_in(self, info: ControllerInfo, on: bool) -> None:
        """Let other hardware count as a controller, or no longer."""
        self._put(self.file.with_brought_in(info.key, on))

    # Its model

    def labels(self, info: ControllerInfo) -> Labels:
        """What stands on its model."""
        return self.file.labels_of(info.model)

    def names(self, info: ControllerInfo | None) -> Names:
        """The words for its controls."""
        return Names(names_for(self.labels(info), info.names)) if info is not None else Names()

    def set_print(self, info: ControllerInfo, printed: Print) -> None:
        """Say what is printed on its face buttons."""
        self._put(self.file.with_labels(info.model, replace(self.labels(info), print=printed)))

    def call(self, info: ControllerInfo, control: str, words: str) -> None:
        """Give a control of its model a name of one's own; none takes it back."""
        labels = self.labels(info)
        names = {name: there for name, there in labels.names.items() if name != control}
        if words:
            names[control] = words
        self._put(self.file.with_labels(info.model, replace(labels, names=names)))

    def learn(self, setup: ControllerSetup) -> bool:
        """Keep what was taught of a model."""
        if not self._do(lambda: write_setup(self.setups, setup)):
            return False
        self._again()
        return True

    def forget(self, info: ControllerInfo) -> None:
        """Forget what was taught of its model."""
        if self._do(lambda: forget_setup(self.setups, info.model)):
            self._again()

    def export(self, info: ControllerInfo, path: Path) -> None:
        """Write what was taught of its model to a file of the player's."""
        setup = read_setups(self.setups)[0].get(info.model)
        if setup is not None:
            self._do(lambda: write_atomically(path, setup_text(setup)))

    def bring_setup(self, path: Path) -> None:
        """Take over what somebody else taught."""
        try:
            setup = parse_setup(read_bytes(path), str(path))
        except StorageError as error:
            self.noticed.emit("error", f"{error}.")
            return
        if self.learn(setup):
            self.noticed.emit("info", _("The setup of {model} was imported.").format(model=setup.model))

    def add_lines(self, text: str) -> None:
        """Keep mapping lines that were pasted."""
        path = self.setups / LINES
        try:
            before = read_text(path) if path.exists() else ""
        except StorageError as error:
            self.noticed.emit("error", f"{error}.")
            return
        new = [line.strip() for line in text.splitlines() if line.strip()]
        kept = [line for line in before.splitlines() if line not in new]
        if new and self._do(lambda: write_atomically(path, ("\n".join([*new, *kept]) + "\n").encode())):
            self._again()

    # Seats

    def join_pair(self, seat: str, one: ControllerInfo, other: ControllerInfo) -> None:
        """Let two halves fill a seat as one controller, one in each hand."""
        for info in (one, other):
            self.set_own(info, sideways=False)
        self.fill(seat, paired(one, other))

    def fill(self, seat: str, parts: tuple[PartOf, ...]) -> None:
        """Fill a seat from now on; a controller that comes back finds its seat again."""
        self._link.send(Fill(seat, parts))
        self._put(self.file.with_seat(seat, parts))
