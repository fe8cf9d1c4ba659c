"""What a profile starts with: its programs as rows, one for each, to be typed, picked and removed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import ceil

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.canvas import text_width
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label, tip
from nubshift.app.widgets.same_place import same_place
from nubshift.model.programs import ProgramMatch
from nubshift.texts import _

FIELDS: dict[str, str] = {
    "program": _("Program"),
    "windows_program": _("Windows program"),
    "app": _("Desktop application"),
    "window_class": _("Window class"),
    "title": _("Window title"),
    "command": _("Command line"),
    "mark": _("Environment variable"),
    "controller": _("Controller"),
}
HINTS: dict[str, str] = {
    "program": _("Its name, or its path"),
    "windows_program": _("For example ferrowdeep.exe"),
    "app": _("For example org.example.FerrowDeep"),
    "window_class": _("As the window manager names it"),
    "title": _("Part of the title"),
    "command": _("Part of the command"),
    "mark": _("NAME or NAME=value"),
    "controller": _("Part of its name"),
}


def match_words(match: ProgramMatch) -> str:
    """What a match says, in a line."""
    parts = [
        _("{field} {value}").format(
            field=FIELDS[field], value=value.rpartition("/")[2] if field == "program" else value
        )
        for field in match.__struct_fields__
        if (value := getattr(match, field))
    ]
    return _(" and ").join(parts)


class MatchRows(QWidget):
    """A list of matches. `changed` is called with all of them after each edit."""

    def __init__(self, name: str, changed: Callable[[tuple[ProgramMatch, ...]], None]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self._changed = changed
        self.matches: tuple[ProgramMatch, ...] = ()
        self._fresh = False
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(4)

    def show_matches(self, matches: tuple[ProgramMatch, ...]) -> None:
        """Show these."""
        if matches == self.matches and self.column.count():
            return
        self.matches = matches
        with same_place(self):
            emptied(self.column)
            for at, match in enumerate(matches):
                fields = [field for field in match.__struct_fields__ if getattr(match, field)] or ["program"]
                for number, field in enumerate(fields):
                    self.column.addWidget(
                        self._row(at, match, field, first=number == 0, last=number == len(fields) - 1)
                    )

    def add_empty(self, field: str = "program") -> None:
        """One more, to be typed."""
        self.show_matches((*self.matches, ProgramMatch()))
        fields = self.findChildren(LineField)
        if fields:
            fields[-1].setFocus()

    def _row(self, at: int, match: ProgramMatch, field: str, first: bool, last: bool) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        joint = Label("" if first and at == 0 else _("or") if first else _("and"))
        joint.setObjectName("quiet")
        joint.setMinimumWidth(max(26, *(ceil(text_width(word)) + 2 for word in (_("or"), _("and")))))
        kind = CalmChoice()
        kind.setAccessibleName(_("What to look at"))
        kind.setSizeAdjustPolicy(CalmChoice.SizeAdjustPolicy.AdjustToContents)
        for name, words in FIELDS.items():
            kind.addItem(words, name)
        kind.setCurrentIndex(list(FIELDS).index(field))
        value = LineField(getattr(match, field))
        value.setAccessibleName(FIELDS[field])
        value.setMinimumWidth(60)
        value.setPlaceholderText(HINTS[field])
        value.setToolTip(tip(_("An asterisk stands for any text. Capital and small letters are the same.")))
        value.editingFinished.connect(lambda: self._typed(at, field, kind, value))
        kind.activated.connect(lambda _: self._kind_chosen(at, field, kind, value))
        line.addWidget(joint)
        line.addWidget(kind, 2)
        line.addWidget(value, 4)
        more = link(_("And…"), partial(self._add_field, at))
        more.setAccessibleName(_("Add a condition that must also be met"))
        more.setVisible(last and bool(getattr(match, field)))
        away = QPushButton("×")
        away.setObjectName("plain")
        away.setFixedWidth(26)
        away.setAccessibleName(_("Remove {field} {value}").format(field=FIELDS[field], value=getattr(match, field)))
        away.clicked.connect(lambda: self._set(at, replace(self.matches[at], **{field: ""})))
        line.addWidget(more)
        line.addWidget(away, 0, Qt.AlignmentFlag.AlignRight)
        return row

    def _typed(self, at: int, field: str, kind: CalmChoice, value: LineField) -> None:
        if value.isModified() and at < len(self.matches):
            value.setModified(False)
            chosen = kind.currentData()
            self._set(at, replace(self.matches[at], **{field: "", chosen: value.text().strip()[:200]}))

    def _kind_chosen(self, at: int, field: str, kind: CalmChoice, value: LineField) -> None:
        """The same words of another kind; words that are still missing are waited for."""
        chosen = kind.currentData()
        value.setPlaceholderText(HINTS[chosen])
        if value.text().strip() and chosen != field and at < len(self.matches):
            self._set(at, replace(self.matches[at], **{field: "", chosen: value.text().strip()[:200]}))

    def _add_field(self, at: int) -> None:
        """One more condition for a match: the first kind that it does not have yet."""
        match = self.matches[at]
        free = next(
            (
                field
                for field in ("title", "window_class", "command", "controller", *FIELDS)
                if not getattr(match, field)
            ),
            "",
        )
        if free:
            self._set(at, replace(match, **{free: "*"}))

    def _set(self, at: int, match: ProgramMatch) -> None:
        rest = list(self.matches)
        if match.is_empty:
            del rest[at]
        else:
            rest[at] = match
        fresh = tuple(rest)
        self.show_matches(fresh)
        self._changed(tuple(one for one in fresh if not one.is_empty))
