"""What a radial menu shows in the panel of its control: the wheel, the order of its entries, when one is sent (N33)."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from nubshift.app.editors.panel import Choices, TextRow
from nubshift.app.editors.pictures.planes import WheelPicture
from nubshift.app.editors.role_editing import RoleEditing
from nubshift.app.editors.roles.surface_rows import RoleRows, overlay_rows
from nubshift.app.editors.rows.by_row import ByRow
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.roles import MENU_LEAST, MENU_MOST, MenuEntry, MenuRole
from nubshift.model.slots import index_of
from nubshift.texts import _

SENT = {"return": _("Back in the middle"), "release": _("On release"), "press": _("By a press")}


class WheelRows:
    """Adds them to a panel; `rows` keeps them up to date."""

    def __init__(self, panel: RoleEditing) -> None:
        self._panel = panel
        panel.heading(_("Radial menu"))
        self._picture = WheelPicture(panel.stage, panel.control)
        panel.add(self._picture)
        self._label = TextRow(_("Name"), self._name, _("Named after what it sends"))
        self.rows = RoleRows(self._picture, True, [self._bring], [self._below])

    @property
    def _role(self) -> MenuRole:
        role = self._panel.role
        assert isinstance(role, MenuRole)
        return role

    @property
    def _at(self) -> int:
        """The number of the entry chosen, -1 for the middle."""
        return index_of(self._picture.current)

    def _put(self, title: str, entries: tuple[MenuEntry, ...], at: int) -> None:
        self._panel.change_role(title, entries=entries)
        self._panel.stage.selection.select(self._panel.control, f"role.entries[{at}].what")

    def add(self) -> None:
        """One more entry after the one chosen."""
        entries = self._role.entries
        at = (self._at if self._at >= 0 else len(entries) - 1) + 1
        if len(entries) < MENU_MOST:
            self._put(_("Add entry"), (*entries[:at], MenuEntry(()), *entries[at:]), at)

    def remove(self) -> None:
        """Take the entry chosen out."""
        entries, at = self._role.entries, self._at
        if at >= 0 and len(entries) > MENU_LEAST:
            self._put(_("Remove entry"), (*entries[:at], *entries[at + 1 :]), max(0, at - 1))

    def turn(self, by: int) -> None:
        """Put the entry chosen further around the wheel."""
        entries, at = list(self._role.entries), self._at
        if at >= 0:
            to = (at + by) % len(entries)
            entries.insert(to, entries.pop(at))
            self._put(_("Move entry"), tuple(entries), to)

    def _name(self, text: str) -> None:
        entries, at = self._role.entries, self._at
        if at >= 0:
            named = replace(entries[at], label=text[:200])
            self._put(_("Entry {text}").format(text=text), (*entries[:at], named, *entries[at + 1 :]), at)

    def _below(self) -> None:
        panel = self._panel
        panel.add(self._label)
        panel.links(
            (_("Add entry"), self.add),
            (_("Remove"), self.remove),
            (_("Move right"), lambda: self.turn(1)),
            (_("Move left"), lambda: self.turn(-1)),
        )
        panel.heading(_("Sent"))
        sent = Choices(_("Sent"), SENT, self._send_on)
        panel.add(sent)
        by = ByRow(panel, _("By pressing"), lambda role: bool(role.on == "press"))
        panel.add(by)
        self.rows.bring += [lambda role: sent.show_choice(role.on), by.show_role]
        panel.add_rows((p.MENU_RADIUS,))
        overlay_rows(panel, self.rows)

    def _send_on(self, on: str) -> None:
        control = self._panel.control
        own = f"{control}_click" if kind_of(control) is Kind.STICK else "south"
        by = (self._role.by or own) if on == "press" else self._role.by
        self._panel.change_role(_("Sent {sent}").format(sent=SENT[on]), on=on, by=by)

    def _bring(self, role: Any) -> None:
        at = self._at
        self._label.setVisible(at >= 0)
        if isinstance(role, MenuRole) and 0 <= at < len(role.entries):
            self._label.show_text(role.entries[at].label)
