"""The turn gauge: counted with whatever the controller has, typed, kept for the game or a layer (N45)."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt

from nubshift.app.document.subject import LAYER
from nubshift.app.tune.panel import FeelPanel
from nubshift.app.tune.turning import FAST, HAIR, NEEDED, turning, turning_profile
from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.simulated_hardware import HARDWARE, hardware_info
from nubshift.model import edits
from nubshift.model.controller_setup import ControllerSetup
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.profile import new_profile
from nubshift.protocol.messages import Frame, Steer
from tests.app.hand import Hand
from tests.app.hardware import taught, use
from tests.app.tuning import tune
from tests.support.playing import MS, Desk, moved


@pytest.mark.parametrize("name", ["pad", *HARDWARE])
def test_a_turn_can_be_counted_with_every_shape(name: str) -> None:
    controls: tuple[str, ...] = PAD_CONTROLS
    two_sided: tuple[str, ...] = ()
    if name != "pad":
        hardware = HARDWARE[name]
        setup = ControllerSetup(hardware.model, hardware.raw_inputs, shape=hardware.shape)
        info = hardware_info(name, KnownMappings({hardware.model: setup}))
        controls, two_sided = info.controls, info.two_sided
    found = turning(controls, two_sided)
    assert set(NEEDED) <= set(found)
    assert len(set(found.values())) == len(found)  # no press does two things
    for wish, counts in (("hair right", HAIR), ("hair left", -HAIR), ("fast right", FAST)):
        if wish not in found:
            continue
        desk = Desk(turning_profile(new_profile("any"), found, "1"))
        control, side = found[wish]
        desk.at(0, **{control: 0.0})
        desk.at(10 * MS, **{control: -1.0 if side == "left" else 1.0})
        desk.to(11 * MS)
        assert moved(desk.log) == (counts, 0), wish


def test_too_few_buttons_are_told() -> None:
    assert turning(["south", "dpad_up"]) == {}
    assert turning(["motion"]) == {}


def test_the_words_are_those_of_the_controller(tuned: Hand) -> None:
    taught(tuned, "willow")
    use(tuned, "willow")
    gauge = tune(tuned).gauge
    tuned.until(lambda: "axis_1" in tuned.window.grasp.controls)
    gauge.ask()
    said = " ".join(gauge.steps)
    assert "lip pad" in said
    assert "bumper" not in said
    assert gauge.begin.isEnabled()


def test_a_turn_is_counted_with_the_controller_and_kept_with_the_game(tuned: Hand) -> None:
    gauge = tune(tuned).gauge
    gauge.ask()
    tuned.click(gauge.begin)
    assert gauge.counting
    gauge._take(Frame(t=0, real=False, dx=500))  # what is held back does not count
    assert gauge.count == 0
    tuned.window.guard.let_through(True)
    tuned.until(lambda: tuned.link.status is not None and not tuned.link.status.withheld)
    tuned.link.send(Steer("right_bumper", 1))
    tuned.until(lambda: gauge.count > 1200)
    tuned.link.send(Steer("right_bumper", 0))
    tuned.until(lambda: tuned.live.value("right_bumper")[0] == 0)
    tuned.bot.wait(60)
    before = gauge.count
    assert before % 60 == 0
    for _ in range(3):
        tuned.link.send(Steer("dpad_right", 1))
        tuned.link.send(Steer("dpad_right", 0))
    tuned.until(lambda: gauge.count == before + 6)
    tuned.link.send(Steer("south", 1))
    tuned.until(lambda: tuned.studio.profile.game.counts_per_turn == before + 6)
    assert not gauge.counting
    tuned.link.send(Steer("south", 0))
    tuned.window.guard.let_through(False)
    assert tuned.saved().game.counts_per_turn == before + 6
    tuned.link.send(Steer("left_stick", 0.0, -0.9))
    tuned.until(lambda: tuned.live.held == ("W",))  # the profile is played again


def test_a_known_number_is_typed_and_a_layer_has_its_own(tuned: Hand) -> None:
    gauge = tune(tuned).gauge
    gauge.ask()
    gauge.typed.setText("9840")
    tuned.click(gauge.known)
    assert tuned.studio.profile.game.counts_per_turn == 9840
    tuned.studio.selection.show_layer("aim")
    gauge.ask()
    gauge.typed.setText("some")
    tuned.click(gauge.known)
    assert "is not a number" in tuned.window.notices.text
    gauge.typed.setText("13120,5")
    tuned.click(gauge.known)
    assert tuned.studio.profile.layer("aim").counts_per_turn == 13120.5  # type: ignore[union-attr]
    assert tuned.studio.profile.game.counts_per_turn == 9840


def test_closing_the_gauge_gives_the_profile_back(tuned: Hand) -> None:
    gauge = tune(tuned).gauge
    gauge.ask()
    tuned.click(gauge.begin)
    gauge.close()
    assert not gauge.counting
    tuned.link.send(Steer("left_stick", 0.0, -0.9))
    tuned.until(lambda: tuned.live.held == ("W",))


def test_where_the_mouse_moves_a_cursor_speeds_are_pixels(tuned: Hand) -> None:
    tuned.studio.document.edit("slow", lambda profile: edits.with_game(profile, counts_per_turn=3600.0))
    panel = tune(tuned).panel
    assert isinstance(panel, FeelPanel)
    row = panel.rows["speed"]
    assert row.field.text().endswith("°/s")
    tuned.studio.document.edit("from above", lambda profile: edits.with_game(profile, moves="cursor"))
    assert row.field.text().endswith("px/s")
    assert not panel.gauge.isVisible()
    row.field.setFocus()
    row.field.selectAll()
    tuned.bot.keyClicks(row.field, "900")
    tuned.press(Qt.Key.Key_Return, row.field)
    assert tuned.saved().feel_in("base", "1", "right_stick").speed == 90
    assert "900\u202fpx/s" in tuned.studio.document.history.undo_title


def test_a_layer_says_what_the_mouse_moves_in_it(tuned: Hand) -> None:
    tuned.click(tuned.window.top.tabs.buttons["map"])
    tuned.studio.selection.show_layer("aim")
    tuned.studio.selection.look_at(LAYER)
    tuned.choose(tuned.panel, "A cursor")
    assert tuned.studio.profile.layer("aim").moves == "cursor"  # type: ignore[union-attr]
    assert not tuned.panel.gauge_on.isVisible()
    tuned.choose(tuned.panel, "Same as the game")
    assert tuned.studio.profile.layer("aim").moves is None  # type: ignore[union-attr]
