"""Controllers: the list, teaching by pressing, words and hands that follow the device, seats, calibration, doctor."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from shutil import copyfile

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QLabel, QPushButton, QWidget

from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import Finger
from nubshift.model.profile import Binding
from nubshift.model.roles import KeysRole
from nubshift.model.sends import SendKey
from nubshift.model.stored_controllers import Calibration, PartOf, read_controllers
from nubshift.protocol.findings import Finding
from nubshift.protocol.messages import Steer
from nubshift.protocol.paths import controllers_path, demo_folder
from tests.app.hand import Hand
from tests.app.hardware import controllers, info, settled, taught, use

pytestmark = pytest.mark.own_window


def texts(widget: QWidget) -> list[str]:
    return [label.text() for label in widget.findChildren(QLabel) if label.isVisible()]


# The list


def test_what_is_here_is_listed_with_who_plays_and_how_it_is_read(hand: Hand) -> None:
    workspace = controllers(hand)
    rows = {workspace.store.name(row): workspace.list.words(row) for row in workspace.list.infos}
    assert rows["Moss pad"] == "seat 1 · simulated"
    assert rows["Quarry board"] == "simulated, not set up"
    hand.click(workspace.list, workspace.list.place(4).center().toPoint())
    assert workspace.detail.name.text() == "Quarry board"
    assert any("This model is unknown" in text for text in texts(workspace.detail))
    hand.press(Qt.Key.Key_Up, workspace.list)
    assert workspace.present == "sim:alder"


def test_a_name_and_a_colour_are_kept(hand: Hand) -> None:
    workspace = controllers(hand)
    hand.choose(workspace.detail, "Rename…")
    hand.answer("Old faithful")
    hand.choose(workspace.side, "Ochre")
    own = read_controllers(controllers_path()).of("sim:moss")
    assert (own.name, own.colour) == ("Old faithful", "ochre")
    assert workspace.detail.name.text() == "Old faithful"
    assert "Old faithful" in hand.window.top.controller.text()


def test_a_file_that_can_not_be_used_is_told_and_put_aside(start: Callable[..., Hand], own_home: Path) -> None:
    controllers_path().parent.mkdir(parents=True, exist_ok=True)
    controllers_path().write_text("{nonsense")
    hand = start()
    assert "moved to controllers.json.aside-1" in hand.window.controller_store.trouble
    workspace = controllers(hand)
    hand.choose(workspace.side, "Ochre")
    assert controllers_path().with_name("controllers.json.aside-1").read_text() == "{nonsense"
    assert "ochre" in controllers_path().read_text()


# Words and hands


def test_hands_and_words_follow_the_controller(hand: Hand) -> None:
    taught(hand, "reed")
    use(hand, "reed")
    hands = hand.window.map.hands
    hand.until(lambda: set(hands.tiles) == {*HARDWARE["reed"].controls, "dpad"})
    assert hand.tile("button_3").accessibleName().startswith("Fret 3:")
    assert hands.lanes[Finger.LEFT_THUMB].isHidden()
    hand.click(hand.tile("axis_1"))
    hand.until(lambda: "Whammy bar" in texts(hand.window.map.inspector))
    said = hand.window.map.inspector
    hand.until(lambda: any(text.startswith("It moves one way only") for text in texts(said)))
    hand.choose(hand.panel, "Keys")
    hand.choose(hand.panel, "Arrows")
    bound = hand.studio.profile.layer("base").binding("axis_1")  # type: ignore[union-attr]
    assert isinstance(bound, Binding)
    assert isinstance(bound.role, KeysRole)
    assert (bound.role.left, bound.role.up) == ((SendKey("LEFT"),), ())
    assert hand.window.tune.controls.controls == ["axis_1", "axis_2"]
    use(hand, "moss")
    hand.until(lambda: "south" in hands.tiles)
    assert hand.tile("south").accessibleName().startswith("Lower face button:")


def test_what_is_printed_is_what_the_window_says(hand: Hand) -> None:
    workspace = controllers(hand)
    hand.choose(workspace.side, "Letters, A at the bottom")
    hand.until(lambda: hand.studio.selection.names.title("south") == "A")
    assert hand.tile("south").accessibleName().startswith("A:")
    chip = workspace.detail.chips
    hand.click(chip, chip.place("left_grip").center().toPoint())
    hand.answer("Paddle")
    assert hand.studio.selection.names.title("left_grip") == "Paddle"
    hand.click(hand.window.top.tabs.buttons["map"])
    hand.click(hand.tile("south"))
    assert "A" in texts(hand.window.map.inspector)
    hand.press(Qt.Key.Key_Return, hand.tile("south"))
    hand.press(Qt.Key.Key_Z)
    assert "A" in hand.studio.document.history.undo_title


def test_what_does_not_fit_is_listed_and_put_where_it_does(hand: Hand) -> None:
    taught(hand, "reed")
    workspace = controllers(hand)
    use(hand, "reed")
    workspace.choose("sim:reed")
    hand.until(lambda: any(text.startswith("Left trigger: Steady lamp") for text in texts(workspace.detail)))
    before = hand.studio.profile.layer("base")
    assert before is not None
    bound = before.binding("left_trigger")
    hand.choose(workspace.detail, "Move to fret 1")
    after = hand.studio.profile.layer("base")
    assert after is not None
    assert after.binding("left_trigger") is None
    moved = after.binding("button_1")
    assert isinstance(bound, Binding)
    assert isinstance(moved, Binding)
    assert moved.gestures == bound.gestures
    hand.studio.document.undo()
    assert hand.studio.profile.layer("base") == before


# Seats


def test_a_half_of_a_controller_fills_a_seat_and_another_joins_it(hand: Hand) -> None:
    workspace = controllers(hand)
    hand.choose(workspace.side, "Left half")
    hand.until(lambda: hand.link.status and hand.link.status.fills["1"][0].controls)
    hand.link.send(Steer("south", 1.0))
    hand.link.send(Steer("left_bumper", 1.0))
    hand.until(lambda: hand.live.depth("left_bumper") == 1.0)
    assert hand.live.depth("south") == 0.0
    assert "south" not in hand.window.map.hands.tiles
    hand.until(lambda: any(text.startswith("Not on this controller (") for text in texts(workspace.detail)))
    assert any(text.startswith("Lower face button: ") and "Hop" in text for text in texts(workspace.detail))
    assert "not on this controller" in hand.window.map.keys.missing.text()
    workspace.choose("sim:swift")
    hand.choose(workspace.side, "Add to")
    hand.until(lambda: hand.link.status and len(hand.link.status.fills["1"]) == 2)
    hand.until(lambda: any(text.startswith("Joined: Moss pad and Swift pad") for text in texts(workspace.side)))
    hand.until(lambda: "south" in hand.window.map.hands.tiles)  # what the other one brings along
    hand.until(lambda: "Everything in the profile has a control here." in texts(workspace.detail))
    assert "not on this controller" not in hand.window.map.keys.missing.text()
    kept = read_controllers(controllers_path()).seats["1"]
    assert [part.controller for part in kept] == ["sim:moss", "sim:swift"]
    assert [part.motion for part in kept] == [True, False]
    hand.choose(workspace.side, "Swift pad")
    hand.until(lambda: [p.motion for p in read_controllers(controllers_path()).seats["1"]] == [False, True])
    hand.choose(workspace.side, "Separate")
    hand.until(lambda: hand.link.status and len(hand.link.status.fills["1"]) == 1)


def test_one_controller_is_shared_by_two_players(start: Callable[..., Hand], tmp_path: Path) -> None:
    hand = start(Path(copyfile(demo_folder() / "saltbarrow.nubshift.json", tmp_path / "saltbarrow.nubshift.json")))
    workspace = controllers(hand)
    hand.choose(workspace.side, "Use for")
    hand.until(lambda: hand.link.status and set(hand.link.status.fills) == {"1", "2"})
    assert hand.link.status is not None
    one, two = (hand.link.status.fills[seat][0] for seat in "12")
    assert one.controls is not None
    assert two.controls is not None
    assert not set(one.controls) & set(two.controls)
    assert (one.motion, two.motion) == (False, True)
    assert {part.controller for part in (one, two)} == {"sim:moss"}


def test_simulated_ones_are_folded_away_beside_real_hardware(hand: Hand) -> None:
    workspace = controllers(hand)
    status = settled(hand)
    assert workspace.list.folded == 0
    real = ControllerInfo("evdev:/dev/input/event7", "Plugged pad", ("south",), key="usb-1", how="conventions")
    both = replace(status, controllers=(real, *status.controllers))
    workspace.list.show_status(both, real.id)
    workspace._show_others(both)
    assert [info.name for info in workspace.list.infos] == ["Plugged pad", "Moss pad"]  # and the one that plays
    link = next(b for b in workspace.findChildren(QPushButton) if b.text().startswith("Show simulated controllers ("))
    assert link.text() == f"Show simulated controllers ({len(status.controllers) - 1})"


# Calibration


def test_rest_and_reach_measured_in_tune_are_kept_for_this_piece(hand: Hand) -> None:
    hand.window._calibrate("left_stick", Calibration((0.1, 0.0), (0.8, 1.0, 1.0, 1.0)))
    assert read_controllers(controllers_path()).of("sim:moss").calibration["left_stick"].rest == (0.1, 0.0)

    def at(x: float, wanted: float) -> None:
        hand.link.send(Steer("left_stick", x))
        hand.until(lambda: abs(hand.live.value("left_stick")[0] - wanted) < 0.04)

    at(0.8, 1.0)
    at(0.45, 0.5)
    workspace = controllers(hand)
    hand.until(lambda: any("rests at +0.100" in text for text in texts(workspace.side)))
    hand.choose(workspace.side, "Forget for left stick")
    at(0.8, 0.8)


def test_measured_again_with_a_calibration_in_use_means_the_hardware() -> None:
    first = Calibration((0.1, -0.05), (0.8, 0.9, 1.0, 1.0))
    assert first.measured_again(Calibration()) == first
    again = first.measured_again(Calibration((0.5, 0.0), (1.0, 1.0, 1.0, 1.0)))
    assert again.rest[0] == pytest.approx(0.1 + 0.5 * 0.7)
    for x, y in ((0.3, -0.4), (-0.7, 0.8)):
        assert first.applied(*first.undone(x, y)) == pytest.approx((x, y))


# Other formats


def test_a_mapping_line_is_pasted_and_copied(hand: Hand) -> None:
    workspace = controllers(hand)
    workspace.choose("sim:quarry")
    board = QGuiApplication.clipboard()
    assert board is not None
    board.setText("only words")
    hand.choose(workspace.side, "Paste mapping line")
    hand.until(lambda: "no mapping line" in hand.window.notices.text)
    board.setText(f"{HARDWARE['quarry'].guid},Quarry board,a:b0,b:b1,start:b9,dpup:h0.1,platform:Linux,")
    hand.choose(workspace.side, "Paste mapping line")
    hand.until(lambda: info(hand, "quarry").how == "line")
    assert "south" in info(hand, "quarry").controls
    hand.choose(workspace.side, "Copy as mapping line")
    assert "a:b0,b:b1,dpup:h0.1," in board.text()


# The doctor


def test_the_doctor_shows_what_to_heal_first_with_the_remedy_to_copy(hand: Hand) -> None:
    workspace = controllers(hand)
    found = [
        Finding("session", "well", "X"),
        Finding("virtual keyboard", "look", "not there", "Nothing arrives.", "Load it.", "sudo modprobe thing"),
    ]
    workspace.doctor._doctor.ask = lambda then: then(found)  # type: ignore[method-assign]
    hand.click(workspace.doctor_tab)
    assert workspace.doctor.verdict.text() == "1 problem."
    assert workspace.doctor_tab.text() == "Doctor: 1 problem"
    assert [row.finding.state for row in workspace.doctor.rows] == ["look", "well"]
    row = workspace.doctor.rows[0]
    assert "Nothing arrives." in texts(row)
    assert row.copy is not None
    hand.click(row.copy)
    board = QGuiApplication.clipboard()
    assert board is not None
    assert board.text() == "sudo modprobe thing"
    found[1] = Finding("virtual keyboard", "well", "there")
    hand.choose(workspace.doctor, "Check again")
    assert workspace.doctor.verdict.text() == "Everything works."


def test_a_report_is_saved_from_the_doctor(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    hand.click(hand.window.top.tabs.buttons["controllers"])
    hand.choose(hand.window.pages.controllers, "Doctor")
    path = tmp_path / "report.txt"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_words: (str(path), ""))
    hand.click(hand.window.pages.controllers.doctor.report)
    hand.until(lambda: "Report saved" in hand.window.notices.text)
    assert path.read_text().startswith("Report of the Nub Shift doctor")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_words: ("/dev/null/no.txt", ""))
    hand.click(hand.window.pages.controllers.doctor.report)
    hand.until(lambda: "could not be saved" in hand.window.notices.text)


# What the game sees


def test_what_the_game_sees_is_said_once_in_the_profile(hand: Hand) -> None:
    hand.press(Qt.Key.Key_I, hand.window, Qt.KeyboardModifier.ControlModifier)
    hand.choose(hand.panel, "Keys, mouse and a virtual pad")
    assert hand.studio.profile.game.pad == "full"
    hand.choose(hand.panel, "The controller as well")
    game = hand.studio.profile.game
    assert (game.sees_controller, game.pad) == (True, "none")
    hand.choose(hand.panel, "Keys and mouse only")
    assert not hand.saved().game.sees_controller


def test_chips_are_reached_and_pressed_by_keyboard(hand: Hand) -> None:
    workspace = controllers(hand)
    chips = workspace.detail.chips
    held: list[tuple[str, bool]] = []
    chips.pressed.connect(lambda control, down: held.append((control, down)))
    hand.press(Qt.Key.Key_Right, chips)
    assert chips.accessibleDescription() == "Left bumper"
    hand.bot.keyPress(chips, Qt.Key.Key_Space)
    hand.bot.keyRelease(chips, Qt.Key.Key_Space)
    assert held == [("left_bumper", True), ("left_bumper", False)]
    assert chips.control_at(QPointF(-5, -5)) == ""


def test_what_was_taught_is_given_away_and_brought_back(hand: Hand, tmp_path: Path) -> None:
    taught(hand, "tern")
    workspace = controllers(hand)
    workspace.choose("sim:tern")
    kept, path = workspace.store, tmp_path / "tern.nubshift-wiring.json"
    kept.export(info(hand, "tern"), path)
    hand.choose(workspace.detail, "Delete setup")
    hand.until(lambda: info(hand, "tern").how == "guess")
    kept.bring_setup(path)
    hand.until(lambda: info(hand, "tern").how == "taught")
    assert info(hand, "tern").names["south"] == "Large button"
    assert "was imported" in hand.window.notices.text
    path.write_text('{"format": "nubshift-wiring"}')
    kept.bring_setup(path)
    assert "not a usable controller setup" in hand.window.notices.text
    kept.bring_setup(tmp_path / "gone.json")
    assert "can't be read" in hand.window.notices.text


def test_other_hardware_is_folded_away_and_can_be_brought_in(hand: Hand) -> None:
    workspace = controllers(hand)
    status = settled(hand)
    keyboard = ControllerInfo(
        "evdev:/dev/input/event9",
        "Small keyboard",
        ("button_1", "button_2"),
        key="k",
        model="m",
        how="guess",
        is_controller=False,
    )
    workspace._show_others(replace(status, others=(keyboard,)))
    hand.link.status = replace(status, others=(keyboard,))
    hand.choose(workspace, "Other devices (1)")
    hand.choose(workspace, "Use Small keyboard as a controller")
    assert read_controllers(controllers_path()).brought_in == ("k",)
    hand.until(lambda: hand.link.status is not None and hand.link.status.others == ())  # the runner has answered
    workspace._show_others(replace(status, controllers=(*status.controllers, keyboard)))
    hand.choose(workspace, "Ignore Small keyboard")
    assert read_controllers(controllers_path()).brought_in == ()


def test_a_simulated_touch_pad_is_touched_and_let_go_of(hand: Hand) -> None:
    taught(hand, "alder")
    use(hand, "alder")
    hand.until(lambda: "touch_pad" in hand.window.map.hands.tiles)
    hand.link.send(Steer("touch_pad", 0.9, -0.25))
    hand.until(lambda: hand.live.value("touch_pad") == (0.9, -0.25))
    assert hand.live.depth("touch_pad_touched") == 1.0
    assert hand.studio.selection.control == "touch_pad"  # not what says that it is touched
    hand.link.send(Steer("touch_pad", 0.0, 0.0))
    hand.until(lambda: hand.live.depth("touch_pad_touched") == 0.0)


def test_a_press_on_a_chip_counts_whatever_was_laid_out_meanwhile(hand: Hand) -> None:
    workspace = controllers(hand)
    chips = workspace.detail.chips
    place = chips.place("south")
    for width in (160, 300, 2000):
        chips.heightForWidth(width)  # as a layout asks, between a press and the next
    assert chips.control_at(place.center()) == "south"


def test_joined_ones_are_taken_apart_whole_and_each_answers_to_its_own_marks(hand: Hand) -> None:
    workspace = controllers(hand)
    workspace.choose("sim:swift")
    hand.choose(workspace.side, "Add to the controllers of you")
    hand.until(lambda: hand.link.status is not None and len(hand.link.status.fills["1"]) == 2)
    hand.steer("south", 1)  # of the right half, which is on the second one
    hand.steer("south", 0)
    hand.choose(workspace.side, "Separate")
    hand.until(lambda: hand.link.status is not None and hand.link.status.fills["1"] == (PartOf("sim:moss"),))


def test_motion_is_lit_while_the_controller_turns_and_not_by_the_noise_of_a_still_one(hand: Hand) -> None:
    hand.window.show_workspace("controllers")
    detail = hand.window.pages.controllers.detail
    hand.until(lambda: "motion" in hand.live.values and detail.isVisible())
    assert hand.live.depth("motion") > 0.0  # its sensor says something at rest too
    assert detail._lit("motion") == 0.0
    hand.link.send(Steer("motion", 60.0, 0.0))
    hand.until(lambda: detail._lit("motion") > 0.5)
