"""What all panels of the inspector are made of: headings, sentences, rows of choices, fields and numbers."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any, TypeVar

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLayout, QLayoutItem, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from nubshift.app.editors.number_row import NumberRow
from nubshift.app.stage import Stage
from nubshift.app.widgets.breaking import WordsButton
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.tick_box import TickBox
from nubshift.model import edits, parameters, steering
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, Binding, Feel, Layer, Profile
from nubshift.model.usage import Found, feel_for, look_up

T = TypeVar("T", bound=str)

SQUARE = {
    parameters.SPEED.name,
    parameters.RATIO.name,
    parameters.LEAST_STEP.name,
    parameters.EDGE_BOOST.name,
    parameters.EDGE_TIME.name,
}
"""These are settings of what goes out, so their handles are square."""


class FlowLayout(QLayout):
    """Widgets side by side, on the next line where there is no more room."""

    def __init__(self, spacing: int = 6, between: int | None = None) -> None:
        super().__init__()
        self._between = spacing if between is None else between
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(spacing)
        self._items: list[QLayoutItem] = []

    def addItem(self, item: QLayoutItem | None) -> None:
        """Take one more."""
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """How many there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """One of them."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Take one out."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        """The narrower, the higher."""
        return True

    def heightForWidth(self, width: int) -> int:
        """How high it is for a width."""
        return self._place(QRect(0, 0, width, 0), False)

    def sizeHint(self) -> QSize:
        """As narrow as the widest of them."""
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        """As narrow as the widest of them."""
        width = max((item.minimumSize().width() for item in self._items), default=0)
        return QSize(width, max((item.sizeHint().height() for item in self._items), default=0))

    def setGeometry(self, rect: QRect) -> None:
        """Lay them out."""
        super().setGeometry(rect)
        self._place(rect, True)

    def _place(self, rect: QRect, move: bool) -> int:
        """Their height in all. Those of one line stand on its middle."""
        x, y, line = rect.left(), rect.top(), 0
        beside: list[tuple[QLayoutItem, QRect]] = []
        for item in self._items:
            widget = item.widget()
            if widget is not None and widget.isHidden():
                continue
            size = item.sizeHint()
            if size.width() > rect.width() > 0 and item.hasHeightForWidth():
                size = QSize(rect.width(), item.heightForWidth(rect.width()))
            if x > rect.left() and x + size.width() > rect.right() + 1:
                _stand(beside, line)
                x, y, line, beside = rect.left(), y + line + self._between, 0, []
            if move:
                beside.append((item, QRect(QPoint(x, y), size)))
            x += size.width() + self.spacing()
            line = max(line, size.height())
        _stand(beside, line)
        return y + line - rect.top()


def _stand(beside: list[tuple[QLayoutItem, QRect]], height: int) -> None:
    for item, place in beside:
        item.setGeometry(place.translated(0, (height - place.height()) // 2))


class Choices(QWidget):
    """Words of which one is chosen, marked by a line below it. `chosen` is called with the word a person picks."""

    def __init__(self, name: str, words: Mapping[T, str] | Sequence[str], chosen: Callable[[Any], None]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.buttons: dict[str, QPushButton] = {}
        row = FlowLayout(10, 0)
        self.setLayout(row)
        pairs = words.items() if isinstance(words, Mapping) else [(word, word) for word in words]
        for value, word in pairs:
            button = WordsButton(word)
            button.setObjectName("choice")
            button.setCheckable(True)
            button.setAccessibleName(f"{name}: {word}")
            button.clicked.connect(lambda _=False, picked=value: self._pick(picked, chosen))
            self.buttons[value] = button
            row.addWidget(button)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.present = ""

    def _pick(self, value: str, chosen: Callable[[Any], None]) -> None:
        before = self.present
        self.show_choice(value)
        if value != before:
            chosen(value)

    def show_choice(self, value: str) -> None:
        """Mark one, without saying that it was picked."""
        self.present = value
        for name, button in self.buttons.items():
            button.setChecked(name == value)


class TextRow(QWidget):
    """A name and a field; `typed` is called with what was typed once the field is left or Enter pressed."""

    def __init__(self, name: str, typed: Callable[[str], None], hint: str = "") -> None:
        super().__init__()
        self.field = LineField()
        self.field.setAccessibleName(name)
        self.field.setPlaceholderText(hint)
        self.field.editingFinished.connect(self._done)
        self._typed = typed
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(Label(name))
        row.addWidget(self.field, 1)

    def _done(self) -> None:
        if self.field.isModified():
            self.field.setModified(False)
            self._typed(self.field.text().strip())

    def show_text(self, text: str) -> None:
        """Show a text unless one is being typed."""
        if not (self.field.hasFocus() and self.field.isModified()) and self.field.text() != text:
            self.field.setText(text)
            self.field.setModified(False)


class Panel(QWidget):
    """One kind of control, layer or list. `refresh` brings it up to date in place."""

    def __init__(self, stage: Stage, control: str = "") -> None:
        super().__init__()
        self.stage = stage
        self.control = control
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)
        self.rows: dict[str, NumberRow] = {}

    def refresh(self) -> None:
        """The profile changed."""

    # What is edited

    @property
    def found(self) -> Found | None:
        """What the control does in the layer shown, wherever it comes from."""
        studio = self.stage.studio
        return look_up(studio.profile, studio.selection.layer, self.control, studio.selection.seat)

    @property
    def binding(self) -> Binding | None:
        """Its binding that counts."""
        found = self.found
        return found.binding if found else None

    @property
    def feel(self) -> Feel:
        """The feel of the control in the layer shown, every field set."""
        studio = self.stage.studio
        return feel_for(studio.profile, studio.selection.layer, self.control, studio.selection.seat)

    @property
    def layer(self) -> Layer:
        """The layer that is edited."""
        studio = self.stage.studio
        return studio.profile.layer(studio.selection.layer) or studio.profile.layers[0]

    def change_binding(self, title: str, change: Callable[[Binding], Binding], merge: str = "") -> None:
        """Change the binding of this control in the layer shown; one that falls through is brought there first."""
        studio, control, layer, seat = (
            self.stage.studio,
            self.control,
            self.stage.selection.layer,
            self.stage.selection.seat,
        )
        found = self.found

        def edit(profile: Profile) -> Profile:
            own = profile.layer(layer)
            binding = own.binding(control, seat) if own else None
            if binding is None and found is not None:
                binding = found.binding
            return edits.with_binding(profile, layer, change(binding or Binding(control, seat)))

        studio.document.edit(f"{title}, {studio.selection.names.inside(control)}", edit, merge)

    # What it is made of

    def heading(self, text: str) -> QLabel:
        """Add a heading."""
        label = Label(text)
        label.setObjectName("heading")
        label.setContentsMargins(0, 6, 0, 0)
        self.column.addWidget(label)
        return label

    def quiet(self, text: str) -> QLabel:
        """Add a sentence in the quiet ink."""
        label = Label(text)
        label.setObjectName("quiet")
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    def link(self, text: str, run: Callable[[], None]) -> QPushButton:
        """Add a link."""
        button = link(text, run)
        self.column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        return button

    def links(self, *entries: tuple[str, Callable[[], None]]) -> QWidget:
        """Add a line of links."""
        line = QWidget()
        row = FlowLayout(4)
        line.setLayout(row)
        for text, run in entries:
            row.addWidget(link(text, run))
        self.column.addWidget(line)
        return line

    def add(self, widget: QWidget) -> None:
        """Add a widget."""
        self.column.addWidget(widget)

    def check(self, text: str, set_to: Callable[[bool], None]) -> TickBox:
        """Add a box to tick."""
        box = TickBox(text)
        box.clicked.connect(lambda on: set_to(bool(on)))
        self.column.addWidget(box)
        return box

    def number(self, parameter: Parameter, changed: Callable[[float], None], square: bool = False) -> NumberRow:
        """Add a row for a number; a drag of it is one step of undo."""
        row = NumberRow(self.stage.look, parameter, square)
        row.changed.connect(changed)
        row.settled.connect(self.stage.document.history.settle)
        self.column.addWidget(row)
        return row

    def add_rows(self, wanted: Sequence[Parameter]) -> None:
        """Add a row for each parameter of this control's feel."""
        for parameter in wanted:
            self.rows[parameter.name] = self.number(parameter, partial(self._set, parameter), parameter.name in SQUARE)

    def refresh_rows(self) -> None:
        """Show the values of this layer; those that fall through are quiet."""
        studio = self.stage.studio
        if not self.rows:
            return
        feel = self.feel
        own = self.layer.feel_of(self.control, studio.selection.seat)
        for name, row in self.rows.items():
            inherited = studio.selection.layer != BASE and (own is None or getattr(own, name) is None)
            row.show_parameter(steering.as_read(parameters.BY_NAME[name], studio.profile, studio.selection.layer))
            row.show_value(float(getattr(feel, name)), inherited)

    def _set(self, parameter: Parameter, value: float) -> None:
        layer = BASE if parameter.scope is parameters.Scope.CONTROL else self.stage.selection.layer
        parameter = self.rows[parameter.name].parameter
        title = f"{parameter.label} {parameter.text(value)}, {self.stage.selection.names.inside(self.control)}"
        self.set_feel(title, f"feel:{layer}:{self.control}:{parameter.name}", layer, **{parameter.name: value})

    def set_feel(self, title: str, merge: str, layer: str, **values: Any) -> None:
        """Change the feel of this control in a layer."""
        control, seat = self.control, self.stage.selection.seat

        def change(profile: Profile) -> Profile:
            return edits.with_feel(profile, layer, control, seat, **values)

        self.stage.document.edit(title, change, merge)


def link(text: str, run: Callable[[], None]) -> QPushButton:
    """A button that looks like a link."""
    button = WordsButton(text)
    button.setObjectName("link")
    button.clicked.connect(run)
    return button


def emptied(layout: QLayout) -> None:
    """Take everything out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            emptied(inner)
