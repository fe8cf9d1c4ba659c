"""A program of its own: the real window in the language of its environment, every screen opened, every text told.

A line for each text: the screen, what shows it, the text, and whether it is cut there.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QScrollArea,
    QStyle,
    QStyleOptionComboBox,
    QWidget,
)

from nubshift.app.document import subject as subjects
from nubshift.app.document.assigning import Armed
from nubshift.app.editors.rows.part_editor import output_menu
from nubshift.app.shell.search import everything, sendable
from nubshift.model import edits
from nubshift.model.profile import Band, Belt, BeltEntry, Command, Macro, MacroWait
from nubshift.model.programs import ProgramMatch
from nubshift.model.roles import BoardRole, GyroRole, MenuEntry, MenuRole, MouseRole, ScrollRole, TilesRole
from nubshift.model.sends import (
    ChangeLayer,
    ChangeSpeed,
    Gyro,
    InOrder,
    NextLayer,
    Precision,
    Pulsed,
    SendBelt,
    SendLight,
    SendMacro,
    SendMotion,
    SendPad,
    SendPoint,
    SendRumble,
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import profile_folder
from stage import Stage
from tests.support.profiles import four, made, sends
from tests.support.settling import settle

# Names of a person's own are digits here, so that they are no words in any language.
FIRST: dict[str, Any] = {
    "left_stick": four("UP", "RIGHT", "DOWN", "LEFT"),
    "right_stick": MouseRole(),
    "south": {"tap": sends("1"), "hold": sends("2"), "double": sends("3"), "release": sends("4")},
    "north": Toggled(sends("5")),
    "east": Turbo(sends("6"), 8.0),
    "west": Turbo(sends("7"), 8.0, 0.5, 20.0),
    "left_trigger": {"bands": (Band(0.3, sends("1")), Band(0.7, sends("2")))},
    "right_trigger": Pulsed(sends("8")),
    "left_bumper": SendBelt("1", "next"),
    "right_bumper": SendMacro("1"),
    "dpad_up": SendWheel("up"),
    "dpad_down": SendScroll("down"),
    "dpad_left": SendMotion(10, 0),
    "dpad_right": SendPoint(0.5, 0.5),
    "select": ChangeLayer("2"),
    "start": NextLayer(("2", "3")),
    "mode": ShowAll(),
    "left_grip": SendText("1"),
    "left_grip_2": SendRumble(),
    "right_grip": SendLight("#7dd3b4"),
    "right_grip_2": Gyro("toggle"),
    "left_stick_click": Precision(),
    "right_stick_click": ChangeSpeed(1.1),
    "motion": GyroRole(),
}
SECOND: dict[str, Any] = {
    "left_stick": TilesRole(tuple(sends("1") for _ in range(9))),
    "right_stick": MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2")))),
    "motion": GyroRole("pointer"),
    "left_trigger": MouseRole(),
    "south": SendPad("south"),
    "east": InOrder(sends("1") + sends("2")),
}
THIRD: dict[str, Any] = {
    "left_stick": BoardRole((("1", "2"), ("3", "4")), by="south"),
    "right_stick": ScrollRole(),
    "motion": GyroRole("stick"),
}

seen: dict[tuple[str, str, str], bool] = {}
screen = "start"
_draw = QPainter.drawText


def drawn(self: QPainter, *words: Any) -> Any:
    """Text that is painted."""
    for word in words:
        if isinstance(word, str):
            tell("painted", word, len(words) == 3 and is_too_wide(self, *words))
    return _draw(self, *words)


def is_too_wide(painter: QPainter, rect: Any, flags: Any, text: Any) -> bool:
    """Whether a painted text has less room than it needs, and neither is broken into lines nor may stand out."""
    if not isinstance(rect, QRectF | QRect) or not isinstance(text, str):
        return False
    free = Qt.TextFlag.TextWordWrap.value | Qt.TextFlag.TextDontClip.value
    flags = getattr(flags, "value", flags)
    return not flags & free and QFontMetricsF(painter.font()).horizontalAdvance(text) > rect.width() + 1


QPainter.drawText = drawn  # type: ignore[method-assign,assignment]


def tell(kind: str, text: str, cut: bool = False) -> None:
    if text:
        seen[screen, kind, text] = seen.get((screen, kind, text), False) or cut


def cut_off(widget: QWidget) -> bool:
    """Whether a text has less room than it needs, and is not broken into lines."""
    if isinstance(widget, QLabel):
        return not widget.wordWrap() and widget.sizeHint().width() > widget.width() + 1
    if isinstance(widget, QComboBox):
        option = QStyleOptionComboBox()
        widget.initStyleOption(option)
        style, part = widget.style(), QStyle.SubControl.SC_ComboBoxEditField
        assert style is not None
        room = style.subControlRect(QStyle.ComplexControl.CC_ComboBox, option, part, widget).width()
        return widget.fontMetrics().horizontalAdvance(widget.currentText()) > room + 1
    hint = widget.minimumSizeHint() if widget.hasHeightForWidth() else widget.sizeHint()
    return isinstance(widget, QAbstractButton) and hint.width() > widget.width() + 1


def look(window: QWidget) -> None:
    """Tell every text that is in a window now."""
    settle()
    for widget in (window, *window.findChildren(QWidget)):
        if not widget.isVisible():
            continue
        kind = type(widget).__name__
        off = Qt.ScrollBarPolicy.ScrollBarAlwaysOff
        if isinstance(widget, QScrollArea) and widget.horizontalScrollBarPolicy() == off:
            inside, view = widget.widget(), widget.viewport()
            if inside is not None and view is not None and widget.verticalScrollBarPolicy() != off:  # else gone along
                tell(QScrollArea.__name__, type(inside).__name__, inside.minimumSizeHint().width() > view.width())
        for text in (widget.toolTip(), widget.accessibleName(), widget.accessibleDescription(), widget.statusTip()):
            tell(kind, text)
        if isinstance(widget, QLabel | QAbstractButton):
            tell(kind, widget.text(), cut_off(widget))
        if isinstance(widget, QLineEdit | QPlainTextEdit):
            tell(kind, widget.placeholderText())
        if isinstance(widget, QComboBox):
            tell(kind, widget.currentText(), cut_off(widget))
            for index in range(widget.count()):
                tell(kind, widget.itemText(index))
        if isinstance(widget, QAbstractItemView) and (model := widget.model()) is not None:
            for row in range(min(model.rowCount(), 400)):
                for role in (
                    Qt.ItemDataRole.DisplayRole,
                    Qt.ItemDataRole.AccessibleTextRole,
                    Qt.ItemDataRole.ToolTipRole,
                ):
                    value = model.index(row, 0).data(role)
                    tell(kind, value if isinstance(value, str) else "")
    window.grab()


def look_at_menu(menu: QMenu) -> None:
    for action in menu.actions():
        tell("menu", action.text())
        tell("menu", action.toolTip() if action.toolTip() != action.text() else "")
        if (inner := action.menu()) is not None:
            look_at_menu(inner)


def look_at_menus(stage: Stage) -> None:
    """Every menu, and what is found."""
    window, studio = stage.window, stage.studio
    menus = window.map.menus
    at = window.rect().center()
    armed = Armed(studio.selection.slot("south"))
    window.map.menus.control("south", at)
    menus.layer("2", at)
    for row in ("command:1", "belt:1", "macro:1"):
        menus.row(row, at)
    shown = [w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu)]
    shown += [window._profiles.menu(), window._controllers.menu(), output_menu(window.map.menus._stage, armed, window)]
    for menu in [*window.findChildren(QMenu), *shown]:
        look_at_menu(menu)
        menu.close()
    for entry in window.actions_table:
        tell("action", entry.text())
    here = window.grasp.controls
    found = [*everything(studio, window.label_of, lambda _: None, lambda _: None, window.actions_table),
             *sendable(studio, window.label_of, here, armed)]  # fmt: skip
    for hit in found:
        tell("found", hit.name)
        tell("found", hit.kind)


def on(name: str) -> None:
    global screen  # noqa: PLW0603
    screen = name


def screens(stage: Stage) -> Iterator[str]:
    """Open every screen, one after the other; the name of each when it is open."""
    window, studio = stage.window, stage.studio
    for layer in studio.profile.layers:
        studio.selection.show_layer(layer.id)
        for control in window.map.hands.tiles:
            studio.selection.select(control)
            yield f"map, {layer.id}, {control}"
        studio.selection.look_at(subjects.LAYER)
        yield f"map, about {layer.id}"
    commands = tuple(map(subjects.command, ("1", "2")))
    for subject in (subjects.PROFILE, *commands, subjects.belt("1"), subjects.macro("1")):
        studio.selection.look_at(subject)
        yield f"{subject.kind.value} {subject.id}"
    studio.selection.select("south")
    studio.selection.select_all(("north", "south"))
    yield "several"
    studio.selection.show_layer("base")
    window.show_workspace("tune")
    for control in ("left_stick", "right_stick", "left_trigger", "right_trigger", "motion"):
        studio.selection.select(control)
        yield f"tune, {control}"
    studio.selection.select("right_stick")
    window.tune.gauge.ask()
    yield "turn gauge"
    window.tune.gauge.close()
    window.show_workspace("try")
    for exercise in window.range.pages:
        window.range.show_page(exercise)
        yield f"try, {exercise}"
    window.show_workspace("controllers")
    for model in ("moss", "burr", "alder", "quarry", "reed", "tern", "willow"):
        window.pages.controllers.choose(f"sim:{model}")
        yield f"controllers, {model}"
    window.pages.controllers.doctor_tab.click()
    yield "doctor"
    window.show_workspace("profiles")
    rules = window.stored.rules
    rules.change(rules.now.with_match("1", ProgramMatch(**dict.fromkeys(ProgramMatch.__struct_fields__, "1=1"))))
    yield "profiles"
    window.settings.change(
        stop_controls=("left_grip_2", "right_grip_2", "left_stick_click", "right_stick_click"),
        menu_controls=("mode",),
        stop_key=("LEFTCTRL", "LEFTALT", "END"),
        synced_folder="/1",
    )
    window.show_workspace("settings")
    yield "settings"
    window.show_workspace("map")
    window.beginning.ask()
    yield "new profile"
    window.beginning.close()


def main() -> None:
    profile = made(
        {"base": FIRST, "2": SECOND, "3": THIRD},
        game={"title": "1", "pad": "full"},
        commands=(Command("1", "1", ("1",), "1"), Command("2", "2")),
        belts=(Belt("1", "1", (BeltEntry(sends("1")), BeltEntry(sends("2"), skip=True))),),
        macros=(Macro("1", "1", (MacroWait(100),)),),
    )
    profile = edits.with_layer_set(profile, "base", name="0")
    path = profile_folder() / "1.nubshift.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(profile_text(profile))
    stage = Stage("record:/dev/null", path)
    stage.window.resize(1280, 800)
    for name in screens(stage):
        on(name)
        stage.pause(0.1)
        look(stage.window)
        for top in QApplication.topLevelWidgets():
            if top.isVisible() and top is not stage.window:
                look(top)
    on("menus")
    look_at_menus(stage)
    for (where, kind, text), cut in seen.items():
        print(json.dumps([where, kind, text, cut]))
    stage.close()


if __name__ == "__main__":
    main()
