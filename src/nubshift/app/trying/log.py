"""The log: what was sent, when, for how long and why, to be filtered and copied (N51)."""

from __future__ import annotations

from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QRectF, QSize, QSortFilterProxyModel, Qt
from PyQt6.QtGui import QGuiApplication, QKeySequence, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QListView,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from nubshift.app.client.mirror import Mirror
from nubshift.app.document.studio import Studio
from nubshift.app.painting.canvas import elided, line_height, text_width
from nubshift.app.painting.caps import CapState, cap_height, draw_cap
from nubshift.app.painting.key_labels import KeyLabels
from nubshift.app.painting.theme import SMALL, Look, font
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label, tip
from nubshift.model.controls import CONTROLS
from nubshift.model.names import Names
from nubshift.model.profile import BASE, Profile
from nubshift.model.walk import part_name
from nubshift.protocol.messages import Frame, Sent
from nubshift.texts import _, listed

MOST = 4000
SAME_MOTION = 160_000
"""µs without motion after which it is another one."""
ENTRY = int(Qt.ItemDataRole.UserRole) + 1
"""The role under which the model gives the entry itself."""


class LogEntry(Struct):
    """One thing that was sent. `t` and `until` are µs of the runner's clock; `until` is None while it is held.

    `key` is what stands on a key's cap and `name` what it does, both empty for what is no key.
    """

    t: int
    code: str
    what: str
    why: str
    real: bool
    until: int | None = None
    key: str = ""
    name: str = ""
    lasts: bool = True
    dx: int = 0
    dy: int = 0

    @property
    def held(self) -> str:
        """How long it was held, in words."""
        if not self.lasts:
            return ""
        return "now" if self.until is None else f"{(self.until - self.t) / 1e6:.3f} s"


class LogModel(QAbstractListModel):
    """The newest first."""

    def __init__(self, studio: Studio, live: Mirror, label_of: KeyLabels, parent: QObject) -> None:
        super().__init__(parent)
        self._studio, self._label_of = studio, label_of
        self.entries: list[LogEntry] = []
        self.start: int | None = None
        live.framed.connect(self.take)

    # What happens

    def take(self, frame: Frame) -> None:
        """What the runner tells."""
        if not frame.sent and not frame.dx and not frame.dy:
            return
        if self.start is None:
            self.start = min([frame.t, *(sent.t for sent in frame.sent)])
        for sent in frame.sent:
            self._take_sent(sent, frame.real)
        if frame.dx or frame.dy:
            self._take_motion(frame)

    def _take_sent(self, sent: Sent, real: bool) -> None:
        if not sent.value:
            for row, entry in enumerate(self.entries[:200]):
                if entry.code == sent.code and entry.until is None and entry.lasts:
                    entry.until = sent.t
                    self.dataChanged.emit(self.index(row), self.index(row))
                    return
            return
        lasts = not sent.code.startswith("wheel:")
        why = why_words(self._studio.profile, sent, self._studio.selection.names)
        key = self._label_of(sent.code) if ":" not in sent.code else ""
        named = next((c.name for c in self._studio.profile.commands if c.keys == (sent.code,)), "")
        what = f"{key} · {named}".strip(" ·") if key else self._what(sent.code)
        self._add(LogEntry(sent.t, sent.code, what, why, real, key=key, name=named, lasts=lasts))

    def _take_motion(self, frame: Frame) -> None:
        why = listed([self._studio.selection.names.title(c) for c in frame.moved_by if c in CONTROLS])
        last = next((e for e in self.entries[:8] if e.code == "motion"), None)
        if last is not None and last.why == why and last.until is not None and frame.t - last.until < SAME_MOTION:
            last.until = frame.t
            last.dx += frame.dx
            last.dy += frame.dy
            last.what = _motion_words(last.dx, last.dy)
            row = self.entries.index(last)
            self.dataChanged.emit(self.index(row), self.index(row))
            return
        words = _motion_words(frame.dx, frame.dy)
        self._add(LogEntry(frame.t, "motion", words, why, frame.real, frame.t, dx=frame.dx, dy=frame.dy))

    def _add(self, entry: LogEntry) -> None:
        self.beginInsertRows(QModelIndex(), 0, 0)
        self.entries.insert(0, entry)
        self.endInsertRows()
        if len(self.entries) > MOST + 200:
            self.beginRemoveRows(QModelIndex(), MOST, len(self.entries) - 1)
            del self.entries[MOST:]
            self.endRemoveRows()

    def clear(self) -> None:
        """Forget all of it."""
        self.beginResetModel()
        self.entries.clear()
        self.start = None
        self.endResetModel()

    def _what(self, code: str) -> str:
        """What is no key, in words."""
        kind, _unused, name = code.partition(":")
        if kind == "layer":
            layer = self._studio.profile.layer(name)
            return _("Layer {name}").format(name=layer.name if layer else name)
        if kind == "wheel":
            return _("Wheel {name}").format(name=name)
        return _("Pad {name}").format(name=name.replace("_", " "))

    # As a list

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """How many there are."""
        return 0 if parent is not None and parent.isValid() else len(self.entries)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """All its words; what only would have been sent is said so in the tip."""
        if not index.isValid():
            return None
        entry = self.entries[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return "  ".join(self.words(entry))
        if role == Qt.ItemDataRole.ToolTipRole:
            sent = _("sent") if entry.real else _("preview, not sent")
            return tip(f"{entry.what}: {entry.why}\n{sent}")
        return entry if role == ENTRY else None

    def words(self, entry: LogEntry) -> tuple[str, str, str, str]:
        """Its four cells."""
        t = (entry.t - (self.start or entry.t)) / 1e6
        what = entry.what if entry.real else f"({entry.what})"
        return f"{int(t) // 60}:{t % 60:06.3f}", what, entry.held, entry.why


def why_words(profile: Profile, sent: Sent, names: Names | None = None) -> str:
    """``A, tap · in Aim``: the control, its gesture or part, and the layer if it is not the base."""
    if not sent.control:
        return _("all keys released") if not sent.value else ""
    name = " + ".join((names or Names()).title(control) for control in sent.control.split("+") if control in CONTROLS)
    part = part_name(sent.part.replace("/", "[", 1) + "]" if "/" in sent.part else sent.part)
    said = _("{control}, {part}").format(control=name, part=part) if part else name
    layer = profile.layer(sent.layer)
    shown = layer is not None and layer.id != BASE and not sent.code.startswith("layer:")
    if layer is None or not shown:
        return said
    return _("{control} · in {layer}").format(control=said, layer=layer.name)


def _motion_words(dx: int, dy: int) -> str:
    parts = [
        words[value > 0].format(count=abs(value))
        for value, words in ((dx, (_("{count} left"), _("{count} right"))), (dy, (_("{count} up"), _("{count} down"))))
        if value
    ]
    return _("Mouse {ways}").format(ways=", ".join(parts)) if parts else _("Mouse there and back")


class LogLine(QStyledItemDelegate):
    """An entry in two lines: its cap, what it is called and how long it lasted; below, when and why."""

    def __init__(self, look: Look, model: LogModel, parent: QObject) -> None:
        super().__init__(parent)
        self._look, self._model = look, model

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """Two lines."""
        return QSize(200, round(max(cap_height(), line_height()) + line_height(SMALL) + 12))

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """Draw it; what was held back is hollow."""
        entry = index.data(ENTRY)
        if painter is None or not isinstance(entry, LogEntry):
            return
        theme, rect = self._look.theme, QRectF(option.rect).adjusted(4, 3, -4, -3)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(option.rect, theme.raised)
        time, what, held, why = self._model.words(entry)
        x, high = rect.left(), max(cap_height(), line_height())
        state = CapState.WOULD if not entry.real else CapState.HELD if entry.held == "now" else CapState.REST
        if entry.key:
            x += draw_cap(painter, x, rect.top() + (high - cap_height()) / 2, entry.code, entry.key, state, theme) + 7
            what = entry.name
        painter.setFont(font())
        painter.setPen(theme.ink if entry.real else theme.quiet)
        room = rect.right() - x - text_width(held, SMALL) - 8
        painter.drawText(QRectF(x, rect.top(), room, high), Qt.AlignmentFlag.AlignVCenter, elided(what, room))
        painter.setFont(font(SMALL))
        painter.setPen(theme.output if held == "now" else theme.quiet)
        first = QRectF(rect.left(), rect.top(), rect.width(), high)
        painter.drawText(first, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, held)
        painter.setPen(theme.quiet)
        below = QRectF(rect.left(), rect.top() + high + 1, rect.width(), line_height(SMALL))
        text = elided(f"{time}   {why}", below.width(), SMALL)
        painter.drawText(below, Qt.AlignmentFlag.AlignVCenter, text)
        painter.restore()


class LogView(QWidget):
    """The log with a field that filters it, and a button that copies what is shown."""

    def __init__(self, model: LogModel, look: Look) -> None:
        super().__init__()
        self.model = model
        self.filtered = QSortFilterProxyModel(self)
        self.filtered.setSourceModel(model)
        self.filtered.setFilterCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.filter = LineField()
        self.filter.setPlaceholderText(_("Filter"))
        self.filter.setAccessibleName(_("Filter the log"))
        self.filter.textChanged.connect(self.filtered.setFilterFixedString)
        self.copy_button = QPushButton(_("Copy"))
        self.copy_button.setToolTip(_("Copies the selected lines, or all lines shown."))
        self.copy_button.clicked.connect(self.copy)
        self.clear_button = QPushButton(_("Clear"))
        self.clear_button.clicked.connect(model.clear)
        self.empty = Label(_("Everything that is sent appears here, with the control that caused it."))
        self.empty.setObjectName("quiet")
        self.empty.setWordWrap(True)
        for changed in (model.rowsInserted, model.rowsRemoved, model.modelReset):
            changed.connect(self._show_empty)
        self.list = QListView()
        self.list.setModel(self.filtered)
        self.list.setItemDelegate(LogLine(look, model, self))
        self.list.setAccessibleName(_("Log"))
        self.list.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setUniformItemSizes(True)
        top = QHBoxLayout()
        label = Label(_("Log"))
        label.setObjectName("heading")
        top.addWidget(label, 1)
        top.addWidget(self.copy_button)
        top.addWidget(self.clear_button)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        outer.addLayout(top)
        outer.addWidget(self.filter)
        outer.addWidget(self.empty)
        outer.addWidget(self.list, 1)

    def _show_empty(self) -> None:
        """What comes here is said while nothing did."""
        self.empty.setVisible(not self.model.rowCount())

    def copy(self) -> None:
        """The selected lines, or all shown, the oldest first, with tabs between the cells."""
        selection = self.list.selectionModel()
        chosen = selection.selectedRows() if selection is not None else []
        rows = sorted({index.row() for index in chosen}) or list(range(self.filtered.rowCount()))
        lines = []
        for row in reversed(rows):
            source = self.filtered.mapToSource(self.filtered.index(row, 0))
            lines.append("\t".join(self.model.words(self.model.entries[source.row()])))
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText("\n".join(lines))

    def keyPressEvent(self, event: Any) -> None:
        """Ctrl+C copies."""
        if event is not None and event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        else:
            super().keyPressEvent(event)
