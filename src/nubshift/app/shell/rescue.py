"""Edits that can't be saved: asking before they are left behind, and offering them again at the next start."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from nubshift.app.document.studio import Studio
from nubshift.app.shell.notices import NoticeBar
from nubshift.errors import ProfileError, StorageError
from nubshift.model.profile import SUFFIX
from nubshift.model.rescue import Rescued, rescued
from nubshift.model.store import ProfileFile, free_path
from nubshift.texts import _

ELSEWHERE, CLOSE, STAY = _("Save somewhere else…"), _("Close"), _("Don't close")
TITLE = _("Edits that could not be saved")


def may_leave(studio: Studio, parent: QWidget) -> bool:
    """Ask what shall become of edits that can't be saved; whether the window may close now."""
    while True:
        copy = (
            _("A copy is in {path}. Nub Shift offers it at the next start.").format(path=studio.document.copy.path)
            if studio.document.copy
            else (_("No copy could be made either. Closing loses these edits."))
        )
        box = QMessageBox(
            QMessageBox.Icon.Warning, _("Nub Shift"), f"{studio.document.trouble}.\n\n{copy}", parent=parent
        )
        box.setTextFormat(Qt.TextFormat.PlainText)
        elsewhere = box.addButton(ELSEWHERE, QMessageBox.ButtonRole.AcceptRole)
        close = box.addButton(CLOSE, QMessageBox.ButtonRole.DestructiveRole)
        stay = box.addButton(STAY, QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(elsewhere)
        box.setEscapeButton(stay)
        box.exec()
        if box.clickedButton() is close:
            return True
        if box.clickedButton() is not elsewhere:
            return False
        path, _unused = QFileDialog.getSaveFileName(
            parent, _("Save profile"), studio.document.file.path.name, _("Profiles (*{suffix})").format(suffix=SUFFIX)
        )
        if path and studio.document.save_to(Path(path)):
            return True


def offer_rescued(folder: Path, profiles: Path, studio: Studio, notices: NoticeBar) -> None:
    """Offer what could not be saved last time."""
    for copy in rescued(folder)[:1]:
        text = _("The last edits to {name} could not be saved. A copy was made.").format(
            name=copy.original.name.removesuffix(SUFFIX)
        )
        notices.offer("warning", text, _("Open the copy"), partial(_bring_back, copy, profiles, studio))


def _bring_back(copy: Rescued, profiles: Path, studio: Studio) -> None:
    """Open the profile with the edits as one more step, or as a new one where it is gone."""
    try:
        profile = copy.read()
    except (ProfileError, StorageError) as error:
        studio.document.noticed.emit("error", f"{error}.")
        return
    if copy.original != copy.path and copy.original.exists() and studio.document.open(copy.original):
        if not studio.document.edit(TITLE, lambda _: profile):
            return  # it was said why, and the copy stays
    else:
        studio.document.begin(
            ProfileFile(free_path(profiles, copy.original.name.removesuffix(SUFFIX))), profile, new=True
        )
    if studio.document.save():
        copy.remove()
