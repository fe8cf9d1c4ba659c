"""The window with a profile that uses what only the engine knows yet: it is shown in words, and nothing is lost unseen."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter

from nubshift.app.editors.roles.role_panel import RolePanel
from nubshift.app.map.tiles import whole_parts
from nubshift.app.painting.canvas import text_width
from nubshift.app.painting.theme import SMALL
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.profile import Band, Belt, BeltEntry, Command, Macro, MacroTap
from nubshift.model.roles import GyroRole, MenuEntry, MenuRole, PadAxisRole, TilesRole
from nubshift.model.sends import (
    BackToBase,
    InOrder,
    NextLayer,
    Precision,
    Pulsed,
    SendBelt,
    SendMacro,
    SendPad,
    SendText,
    SendWheel,
    Toggled,
    Turbo,
)
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import demo_folder
from tests.app.hand import Hand
from tests.support.profiles import made, sends

BASE: dict[str, Any] = {
    "south": {"press": "/jump", "hold": "/roll"},
    "east": {"tap": "A", "double": "B"},
    "west": Turbo(sends("A")),
    "north": Toggled(sends("L")),
    "left_bumper": SendBelt("bar"),
    "right_bumper": SendMacro("dash"),
    "left_trigger": {"bands": (Band(0.2, sends("/jump")), Band(0.8, sends("/roll")))},
    "motion": GyroRole(),
    "right_trigger": PadAxisRole("right_trigger"),
    "right_stick": MenuRole((MenuEntry(sends("1")), MenuEntry(sends("2")))),
    "dpad_up": SendWheel("up"),
    "dpad_left": "!map",
    "dpad_right": NextLayer(("map",)),
    "dpad_down": BackToBase(),
    "select": SendText("hello"),
    "start": SendPad("start"),
    "left_grip": Precision(),
    "mode": Pulsed(sends("P")),
    "left_stick_click": InOrder(sends(["LEFTCTRL", "C"])),
}
PROFILE = made(
    {"base": BASE, "map": {"left_stick": TilesRole(tuple(sends(str(n)) for n in range(1, 10)))}},
    commands=[Command("jump", "Jump", ("SPACE",)), Command("roll", "Roll", ("Q",))],
    belts=(Belt("bar", "Hotbar", (BeltEntry(sends("1")),)),),
    macros=(Macro("dash", "Dash", (MacroTap(sends("W")),)),),
)


def opened(start: Callable[..., Hand], folder: Path) -> Hand:
    path = folder / "every.nubshift.json"
    path.write_bytes(profile_text(PROFILE))
    return start(path)


def test_every_control_says_what_it_does(start: Callable[..., Hand], tmp_path: Path) -> None:
    hand = opened(start, tmp_path)
    said = {}
    for layer in ("base", "map"):
        hand.studio.selection.show_layer(layer)
        for name in PAD_CONTROLS:
            hand.studio.selection.select(name)
            hand.window.grab()
            said[layer, name] = hand.tile(name).accessibleName()
    assert "Jump, key Space, press, hold, hold: Roll" in said["base", "south"]
    assert "A, key A, tap, double tap, double tap: B" in said["base", "east"]
    assert "Hotbar: next" in said["base", "left_bumper"]
    assert "Dash" in said["base", "right_bumper"]
    assert "Jump, Roll" in said["base", "left_trigger"]
    assert "Radial menu, 2 entries" in said["base", "right_stick"]
    assert "Text “hello”" in said["base", "select"]
    assert "9 tiles" in said["map", "left_stick"]
    assert "Next layer, map" in said["base", "dpad_right"]
    assert hand.studio.profile == PROFILE


def test_a_small_tile_leaves_whole_words_out_and_its_tooltip_has_them_all(
    start: Callable[..., Hand], tmp_path: Path
) -> None:
    hand = opened(start, tmp_path)
    marks = ("press", "hold", "turbo")
    wide = text_width("press · hold · turbo", SMALL)
    assert whole_parts(marks, wide) == "press · hold · turbo"
    assert whole_parts(marks, wide - 1) == "+ hold · turbo"
    assert whole_parts(marks, text_width("+ hold · turbo", SMALL) - 1) == "press +2"
    assert whole_parts(marks, 5) == ""
    assert whole_parts((), 5) == ""
    assert "hold: Roll" in hand.tile("south").toolTip()


def test_a_key_on_a_trigger_with_bands_takes_their_place_says_so_and_can_be_undone(
    start: Callable[..., Hand], tmp_path: Path
) -> None:
    hand = opened(start, tmp_path)
    hand.studio.selection.select("left_trigger")
    panel = hand.window.map.inspector.panel
    assert isinstance(panel, RolePanel)
    assert panel.used.present == "depth"
    hand.studio.assigning.arm(hand.studio.selection.slot())
    hand.press(Qt.Key.Key_K)
    binding = hand.studio.profile.layers[0].binding("left_trigger")
    assert binding is not None
    assert binding.press == sends("K")
    assert not binding.by_depth
    hand.press(Qt.Key.Key_Z, hand.window, Qt.KeyboardModifier.ControlModifier)
    assert hand.studio.profile == PROFILE


def test_a_command_taken_away_goes_from_gestures_and_bands_too(start: Callable[..., Hand], tmp_path: Path) -> None:
    from nubshift.model.edits import without_command

    hand = opened(start, tmp_path)
    hand.studio.document.edit("Roll taken out", lambda profile: without_command(profile, "roll"))
    base = hand.saved().layers[0]
    assert base.binding("south").gestures == {"press": sends("/jump")}
    assert [band.what for band in base.binding("left_trigger").bands] == [sends("/jump"), ()]


@pytest.mark.own_window
@pytest.mark.parametrize("size", [(1280, 800), (1100, 640)])
@pytest.mark.parametrize("name", sorted(path.name for path in demo_folder().glob("*.nubshift.json")))
def test_no_tile_of_a_demo_profile_cuts_a_word(
    opening: Callable[..., Hand], monkeypatch: pytest.MonkeyPatch, name: str, size: tuple[int, int]
) -> None:
    hand = opening(demo_folder() / name)
    hand.window.resize(*size)
    painted: list[str] = []
    draw = QPainter.drawText

    def drawn(painter: QPainter, *words: Any) -> Any:
        painted.extend(word for word in words if isinstance(word, str))
        return draw(painter, *words)

    monkeypatch.setattr(QPainter, "drawText", drawn)
    for layer in hand.studio.profile.layers:
        hand.studio.selection.show_layer(layer.id)
        hand.window.map.hands.grab()
    assert len(painted) > 40
    assert [text for text in painted if "…" in text and text != "…"] == []  # alone, it stands for more caps
