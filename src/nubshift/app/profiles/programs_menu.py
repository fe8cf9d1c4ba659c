"""Picking a program that runs: those that had the focus lately, the newest first, then others."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.painting.canvas import elided
from nubshift.app.profiles.desktop_icons import icon_of
from nubshift.app.widgets.plain import tip
from nubshift.model.programs import SeenProgram
from nubshift.protocol.messages import Programs
from nubshift.texts import _

MOST_RECENT, MOST_RUNNING = 10, 25
WIDEST = 360.0
_NO_GAMES = {"sh", "bash", "dash", "zsh", "fish", "sleep", "systemd", "dbus-daemon", "Xwayland", "Xorg", "sd-pam"}
"""Programs that every session runs, and nobody plays."""


def show_programs(parent: QWidget, programs: Programs, at: QPoint, picked: Callable[[SeenProgram], object]) -> QMenu:
    """A menu of them; `picked` is told which."""
    menu = QMenu(parent)
    menu.setToolTipsVisible(True)
    recent = [seen for seen in programs.recent if seen.called][:MOST_RECENT]
    _section(menu, _("Lately in front"), recent, picked)
    known = {seen.pid for seen in recent}
    others = [seen for seen in reversed(programs.running) if _is_worth(seen) and seen.pid not in known]
    windows = [seen for seen in others if seen.has_window]
    _section(menu, _("Other windows"), windows[:MOST_RUNNING], picked)
    rest = [seen for seen in others if not seen.has_window][:MOST_RUNNING]
    if rest:
        inner = QMenu(_("Programs without a window"), menu)
        inner.setToolTipsVisible(True)
        _section(inner, "", rest, picked)
        menu.addMenu(inner)
    if menu.isEmpty():
        nothing = menu.addAction(_("No running program was found"))
        if nothing is not None:
            nothing.setEnabled(False)
    menu.aboutToHide.connect(menu.deleteLater)
    menu.popup(at)
    return menu


def _is_worth(seen: SeenProgram) -> bool:
    return seen.has_window or (bool(seen.path) and seen.name not in _NO_GAMES)


def _section(menu: QMenu, title: str, programs: list[SeenProgram], picked: Callable[[SeenProgram], object]) -> None:
    if not programs:
        return
    if title:
        head = menu.addAction(title)
        if head is not None:
            head.setEnabled(False)
    for seen in programs:
        action = menu.addAction(icon_of(seen), elided(seen.called, WIDEST).replace("&", "&&"))
        if action is not None:
            action.setToolTip(tip(" ".join(seen.command)[:200] or seen.called))
            action.triggered.connect(lambda _=False, seen=seen: picked(seen))
