"""Tune, driven by hand: rings, edges and points are dragged, and the engine's output is looked at after it (N40 to N45)."""

from __future__ import annotations

from math import cos, hypot, radians, sin
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QMenu, QPushButton

from nubshift.app.tune.response import points_in
from nubshift.events import Motion
from nubshift.feel.curve import SHAPES
from nubshift.model import edits, variants
from nubshift.model.controls import CONTROLS
from nubshift.model.profile import Profile
from nubshift.model.roles import GyroRole
from nubshift.model.sends import NextVariant
from nubshift.model.store import ProfileFile
from nubshift.protocol.messages import Frame, Steer
from tests.app.editing import drag
from tests.app.hand import Hand
from tests.app.tuning import LOOK, feel, tune
from tests.support.playing import MS, Desk
from tests.support.profiles import sends


def counts(profile: Profile, x: float, ms: int = 400) -> int:
    """Mouse counts to the right of a stick held at x, out of the engine."""
    desk = Desk(profile)
    desk.at(0, right_stick=(x, 0.0))
    desk.to(ms * MS)
    return sum(o.dx for o in desk.log if isinstance(o, Motion))


def ring(hand: Hand, field: str) -> Any:
    return next(r for r in tune(hand).plane.rings if r.field == field)


def test_the_dead_zone_is_dragged_and_the_engine_obeys(tuned: Hand) -> None:
    plane = tune(tuned).plane
    assert counts(tuned.studio.profile, 0.25) > 0
    assert counts(tuned.studio.profile, 0.05) == 0
    drag(plane, plane.handle(ring(tuned, "inner")), plane.place(0.3, 0.0))
    assert feel(tuned).inner == pytest.approx(0.3, abs=0.011)
    kept = tuned.saved()
    assert counts(kept, 0.25) == 0
    assert counts(kept, 0.6) > 0
    tuned.studio.document.undo()  # a whole drag is one step
    assert feel(tuned).inner is None


def test_the_edge_is_dragged_by_its_ring_not_only_by_the_handle(tuned: Hand) -> None:
    plane = tune(tuned).plane
    before = counts(tuned.studio.profile, 0.8)
    angle = 200.0
    outer = ring(tuned, "outer").radius
    start = plane.place(outer * sin(radians(angle)), -outer * cos(radians(angle)))
    drag(plane, start, plane.place(0.75 * sin(radians(angle)), -0.75 * cos(radians(angle))))
    assert feel(tuned).outer == pytest.approx(0.75, abs=0.011)
    assert counts(tuned.saved(), 0.8) > before
    drag(plane, plane.handle(ring(tuned, "outer")), plane.place(0.0, 0.0))  # never into the dead zone
    assert feel(tuned).outer == pytest.approx(0.13, abs=0.011)


def test_rings_move_by_keyboard(tuned: Hand) -> None:
    plane = tune(tuned).plane
    for _ in range(4):
        tuned.press(Qt.Key.Key_Right, plane)
    assert feel(tuned).inner == pytest.approx(0.10)
    tuned.press(Qt.Key.Key_Up, plane)
    tuned.press(Qt.Key.Key_Left, plane)
    assert feel(tuned).outer == pytest.approx(0.955)
    assert "dead zone 10" in plane.accessibleDescription()


def test_what_stands_somewhere_are_controls_and_no_channels_of_a_sensor(tuned: Hand) -> None:
    told: list[Frame] = []
    tuned.live.framed.connect(told.append)
    tuned.until(lambda: any("gravity" in frame.controls for frame in told))  # a pad that is watched tells everything
    assert set(tuned.live.values) <= set(CONTROLS)
    assert tuned.live.depth("motion") > 0


def test_in_another_profile_the_keyboard_is_at_the_first_handle(tuned: Hand, tmp_path: Path) -> None:
    plane = tune(tuned).plane
    tuned.press(Qt.Key.Key_Up, plane)
    other = ProfileFile(tmp_path / "other.nubshift.json")
    other.write(LOOK)
    tuned.studio.document.open(other.path)
    tuned.press(Qt.Key.Key_Right, plane)
    assert (feel(tuned).inner, feel(tuned).outer) == (pytest.approx(0.085), None)


def test_each_axis_by_itself(tuned: Hand) -> None:
    tuned.choose(tune(tuned), "Each axis on its own")
    assert feel(tuned).zone == "axes"
    profile = edits.with_feel(tuned.studio.profile, "base", "right_stick", inner=0.2)
    desk = Desk(profile)
    desk.at(0, right_stick=(0.8, 0.15))
    desk.to(200 * MS)
    motions = [o for o in desk.log if isinstance(o, Motion)]
    assert sum(o.dx for o in motions) > 0
    assert sum(o.dy for o in motions) == 0
    tuned.window.grab()


def test_a_press_radius_and_the_diagonals_are_dragged_and_the_runner_obeys(tuned: Hand) -> None:
    tune(tuned).open("left_stick")
    plane = tune(tuned).plane
    tuned.steer("left_stick", 0.0, -0.6)
    tuned.until(lambda: tuned.live.held == ("W",))
    drag(plane, plane.handle(ring(tuned, "key_radius")), plane.place(-0.57, 0.57))
    assert feel(tuned, "left_stick").key_radius == pytest.approx(0.805, abs=0.02)
    tuned.until(lambda: tuned.live.held == ())
    tuned.steer("left_stick", 0.4, -0.85)  # 25 degrees off: with diagonals of 45 that is one
    tuned.until(lambda: set(tuned.live.held) == {"W", "D"})
    sector, at = next((s, place) for s, place in plane.edge_handles() if s == 1)
    drag(plane, at, plane.place(0.9 * sin(radians(40)), -0.9 * cos(radians(40))))
    assert sector == 1
    assert feel(tuned, "left_stick").diagonal == pytest.approx(10, abs=2)
    tuned.until(lambda: tuned.live.held == ("W",))


def test_points_of_the_curve_are_added_dragged_typed_and_removed(tuned: Hand) -> None:
    response = tune(tuned).response
    before = counts(tuned.studio.profile, 0.5)
    tuned.bot.mouseDClick(response, Qt.MouseButton.LeftButton, pos=response.place(0.5, 0.5).toPoint())
    assert feel(tuned).curve == ((0.0, 0.0), (0.5, 0.5), (1.0, 1.0))
    drag(response, response.place(0.5, 0.5), response.place(0.5, 0.2))
    points = feel(tuned).curve
    assert points is not None
    assert points[1] == (pytest.approx(0.5, abs=0.02), pytest.approx(0.2, abs=0.02))
    assert counts(tuned.saved(), 0.5) < 0.6 * before
    row = tune(tuned).panel._point  # type: ignore[union-attr]
    row.gives.setFocus()
    row.gives.selectAll()
    tuned.bot.keyClicks(row.gives, "80")
    tuned.press(Qt.Key.Key_Return, row.gives)
    assert feel(tuned).curve[1][1] == pytest.approx(0.8)  # type: ignore[index]
    assert counts(tuned.saved(), 0.5) > 1.2 * before
    tuned.press(Qt.Key.Key_Up, response)
    assert feel(tuned).curve[1][1] == pytest.approx(0.81)  # type: ignore[index]
    tuned.press(Qt.Key.Key_Delete, response)
    assert feel(tuned).curve == ((0.0, 0.0), (1.0, 1.0))


def test_the_first_point_is_the_least_step(tuned: Hand) -> None:
    response = tune(tuned).response
    drag(
        response,
        response.place(0.0, 0.0),
        QPointF(response.box.left(), response.box.bottom() - 0.2 * response.box.height()),
    )
    assert feel(tuned).least_step == pytest.approx(0.2, abs=0.02)
    slow = counts(tuned.saved(), 0.1)
    assert slow > counts(LOOK, 0.1) * 3


def test_named_shapes_and_pasted_points(tuned: Hand) -> None:
    response = tune(tuned).response
    shapes = tune(tuned).panel._shapes  # type: ignore[union-attr]
    tuned.click(shapes.buttons["calm near rest"])
    assert feel(tuned).curve == SHAPES["calm near rest"]
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    tuned.press(Qt.Key.Key_C, response, Qt.KeyboardModifier.ControlModifier)
    assert clipboard.text().split("\n")[1] == "0.5 0.28"
    clipboard.setText("0 0, 0.25 0.1, 1 1")
    tuned.press(Qt.Key.Key_V, response, Qt.KeyboardModifier.ControlModifier)
    assert feel(tuned).curve == ((0.0, 0.0), (0.25, 0.1), (1.0, 1.0))
    clipboard.setText("nonsense")
    tuned.press(Qt.Key.Key_V, response, Qt.KeyboardModifier.ControlModifier)
    assert "no points" in tuned.window.notices.text
    assert feel(tuned).curve == ((0.0, 0.0), (0.25, 0.1), (1.0, 1.0))


@pytest.mark.parametrize(
    ("text", "points"),
    [
        ("0 0\n1 1", ((0, 0), (1, 1))),
        ("0 0.1; 0.5 0.2; 1 1", ((0, 0.1), (0.5, 0.2), (1, 1))),
        ("0 0 0.5", None),
        ("0 0 1 2", None),
        ("0 1 1 0", None),
        ("0.1 0 1 1", None),
        ("", None),
        ("0 0 0.5 x 1 1", None),
    ],
)
def test_points_in_a_text(text: str, points: object) -> None:
    assert points_in(text) == points


def test_a_trigger_shows_its_depths_and_they_are_dragged(tuned: Hand) -> None:
    tune(tuned).open("right_trigger")
    pull = tune(tuned).pull
    tuned.until(lambda: pull.isVisible() and pull.width() > 600)
    tuned.window.grab()
    tuned.steer("right_trigger", 0.5)
    tuned.until(lambda: tuned.live.held == ("X",))
    y = pull.bar.center().y()
    drag(pull, QPointF(pull.across(0.7), y), QPointF(pull.across(0.45), y))
    assert tuned.studio.profile.layers[0].binding("right_trigger").bands[1].start == pytest.approx(0.45, abs=0.01)  # type: ignore[union-attr]
    tuned.until(lambda: tuned.live.held == ("Y",))
    drag(pull, QPointF(pull.across(0.45), y), QPointF(pull.across(0.1), y))  # not past its neighbour
    assert tuned.studio.profile.layers[0].binding("right_trigger").bands[1].start == pytest.approx(0.32, abs=0.01)  # type: ignore[union-attr]


def test_where_a_trigger_presses_belongs_to_the_base(tuned: Hand) -> None:
    tune(tuned).open("left_trigger")
    tuned.studio.selection.show_layer("aim")
    pull = tune(tuned).pull
    tuned.until(lambda: pull.isVisible() and pull.width() > 600)
    tuned.window.grab()
    y = pull.bar.center().y()
    drag(pull, QPointF(pull.across(0.3), y), QPointF(pull.across(0.6), y))
    assert feel(tuned, "left_trigger").press_at == pytest.approx(0.6, abs=0.01)
    tuned.press(Qt.Key.Key_Left, pull)
    assert feel(tuned, "left_trigger").press_at == pytest.approx(0.59, abs=0.01)
    tuned.studio.selection.show_layer("base")
    tuned.steer("left_trigger", 0.5)
    tuned.until(lambda: tune(tuned).tuner.last is not None and tune(tuned).tuner.last.raw[0] == 0.5)  # type: ignore[union-attr]
    assert tuned.live.held == ()


def test_pulling_beside_every_handle_pulls_the_simulated_trigger(tuned: Hand) -> None:
    tune(tuned).open("right_trigger")
    pull = tune(tuned).pull
    tuned.until(lambda: pull.isVisible() and pull.width() > 600)
    tuned.window.grab()
    at = QPointF(pull.across(0.9), pull.bar.center().y()).toPoint()
    tuned.bot.mousePress(pull, Qt.MouseButton.LeftButton, pos=at)
    tuned.until(lambda: tuned.live.held == ("Y",))
    tuned.bot.mouseRelease(pull, Qt.MouseButton.LeftButton, pos=at)
    tuned.until(lambda: tuned.live.held == ())


def test_the_plane_moves_the_simulated_stick_and_shows_what_the_game_gets(tuned: Hand) -> None:
    plane, tuner = tune(tuned).plane, tune(tuned).tuner
    at = plane.place(0.5, -0.5).toPoint()
    tuned.bot.mousePress(plane, Qt.MouseButton.LeftButton, pos=at)
    tuned.until(lambda: tuner.last is not None and tuner.last.raw[0] > 0.4)
    assert tuner.last is not None
    assert 0.3 < tuner.last.out[0] < 0.6
    tuned.bot.mouseRelease(plane, Qt.MouseButton.LeftButton, pos=at)
    tuned.until(lambda: tuner.last is not None and hypot(*tuner.last.raw) < 0.1)
    assert tuner.last is not None
    assert tuner.last.out == (0.0, 0.0)


# Before and after


def test_space_shows_and_plays_the_settings_from_before(tuned: Hand) -> None:
    tune(tuned).open("left_stick")
    workspace, plane = tune(tuned), tune(tuned).plane
    tuned.steer("left_stick", 0.0, -0.6)
    tuned.until(lambda: tuned.live.held == ("W",))
    workspace.tuner.set_feel("Presses at", "x", key_radius=0.8)
    tuned.until(lambda: tuned.live.held == ())
    plane.setFocus()
    tuned.bot.keyPress(plane, Qt.Key.Key_Space)
    tuned.until(lambda: tuned.live.held == ("W",))  # it is felt
    assert workspace.tuner.feel.key_radius == 0.5  # and seen
    assert "The earlier settings are shown" in workspace.before.words.text()
    assert tuned.studio.profile.feel_in("base", "1", "left_stick").key_radius == 0.8  # and nothing is edited
    tuned.bot.keyRelease(plane, Qt.Key.Key_Space)
    tuned.until(lambda: tuned.live.held == ())
    workspace.before.mark.click()
    assert not workspace.before.hold.isEnabled()


def test_space_in_a_field_is_a_space(tuned: Hand) -> None:
    field = next(iter(tune(tuned).panel.rows.values())).field  # type: ignore[union-attr]
    field.setFocus()
    tuned.bot.keyPress(field, Qt.Key.Key_Space)
    assert not tune(tuned).tuner.showing_before
    tuned.bot.keyRelease(field, Qt.Key.Key_Space)


def test_leaving_tune_ends_the_before(tuned: Hand) -> None:
    tune(tuned).tuner.set_feel("x", "", inner=0.3)
    tune(tuned).plane.setFocus()
    tuned.bot.keyPress(tune(tuned).plane, Qt.Key.Key_Space)
    assert tune(tuned).tuner.showing_before
    tuned.window.show_workspace("map")
    assert not tune(tuned).tuner.showing_before


def test_another_window_ends_the_before(tuned: Hand) -> None:
    tune(tuned).tuner.set_feel("x", "", inner=0.3)
    tuned.bot.keyPress(tune(tuned).plane, Qt.Key.Key_Space)
    assert tune(tuned).tuner.showing_before
    gauge = tune(tuned).gauge
    gauge.ask()
    gauge.activateWindow()
    tuned.until(lambda: not tune(tuned).tuner.showing_before)
    gauge.close()


# Variants


def test_variants_are_kept_used_renamed_and_removed(tuned: Hand) -> None:
    workspace = tune(tuned)
    tuned.choose(workspace.variants, "Save as variant")
    tuned.answer("calm")
    workspace.tuner.set_feel("x", "", speed=300.0)
    tuned.until(lambda: workspace.variants.used is None)
    tuned.choose(workspace.variants, "Save as variant")
    tuned.answer("wild")
    assert [v.name for v in tuned.studio.profile.variants] == ["calm", "wild"]
    tuned.choose(workspace.variants, "calm")
    assert feel(tuned).speed is None
    tuned.choose(workspace.variants, "wild")
    assert feel(tuned).speed == 300.0
    tuned.choose(workspace.variants, "Switch while playing")
    tuned.steer("south", 1)
    tuned.until(lambda: "lower face button." in workspace.variants._switch_words())
    tuned.steer("south", 0)
    tuned.studio.document.undo()
    tuned.studio.document.edit(
        "Hop", lambda p: edits.with_sends(p, tuned.studio.selection.slot("south"), sends("SPACE")[0:1])
    )
    tuned.choose(workspace.variants, "Switch while playing")
    tuned.steer("south", 1)
    tuned.until(lambda: "lower face button, double tap." in workspace.variants._switch_words())
    tuned.steer("south", 0)
    wild = workspace.variants.variants[1]
    button = next(b for b in workspace.variants.findChildren(QPushButton) if b.text() == "wild")
    workspace.variants._menu(wild, button, button.rect().center())
    menu = workspace.variants.findChildren(QMenu)[-1]
    next(a for a in menu.actions() if a.text() == "Rename…").trigger()
    menu.close()
    tuned.answer("fierce")
    assert [v.name for v in tuned.studio.profile.variants] == ["calm", "fierce"]
    next(a for a in menu.actions() if a.text() == "Delete").trigger()
    assert [v.name for v in tuned.studio.profile.variants] == ["calm"]
    assert tuned.saved().variants[0].name == "calm"


def test_a_variant_stepped_to_on_the_controller_is_in_use_in_the_window(tuned: Hand) -> None:
    def with_step(profile: Profile) -> Profile:
        profile = variants.saved_as(profile, "one", "base", "right_stick")
        profile = edits.with_feel(profile, "base", "right_stick", speed=300.0)
        profile = variants.saved_as(profile, "two", "base", "right_stick")
        return edits.with_sends(profile, tuned.studio.selection.slot("south"), (NextVariant("right_stick"),))

    tuned.studio.document.edit("Two variants", with_step)
    workspace = tune(tuned)
    tuned.until(lambda: workspace.variants.used is not None and workspace.variants.used.name == "two")
    assert "lower face button" in workspace.variants._switch_words()
    tuned.steer("south", 1)
    tuned.until(lambda: workspace.variants.used is not None and workspace.variants.used.name == "one")
    assert tuned.saved().feel_in("base", "1", "right_stick").speed is None
    tuned.steer("south", 0)
    tuned.steer("south", 1)
    tuned.until(lambda: workspace.variants.used is not None and workspace.variants.used.name == "two")


# Motion


def test_motion_shows_its_rates_its_bias_and_what_it_needs(tuned: Hand) -> None:
    workspace = tune(tuned)
    workspace.open("motion")
    tuned.until(workspace.pad.isVisible)
    tuned.choose(workspace, "Assigned in aim")
    assert tuned.studio.selection.layer == "aim"
    tuned.until(lambda: workspace.tuner.bias is not None and workspace.tuner.bias.known)
    tuned.choose(workspace.panel, "Roll")  # type: ignore[arg-type]
    role = tuned.studio.profile.layer("aim").binding("motion").role  # type: ignore[union-attr]
    assert isinstance(role, GyroRole)
    assert role.axes == "lean"
    tuned.choose(workspace.panel, "Yaw")  # type: ignore[arg-type]
    tuned.link.send(Steer("motion", 0.5, 0.0))
    tuned.until(lambda: workspace.tuner.last is not None and workspace.tuner.last.out[0] > 80)
    away = workspace.tuner.gyro.north
    tuned.until(lambda: workspace.tuner.gyro.north != away)
    tuned.window.grab()
    workspace.measuring.begin("rest")
    tuned.link.send(Steer("motion", 0.0, 0.0))
    tuned.until(lambda: workspace.measuring.findings.gyro_within is not None)
    proposal = workspace.measuring.proposals()[0]
    assert proposal.field == "gyro_threshold"


def test_controls_are_chosen_by_mouse_and_keyboard(tuned: Hand) -> None:
    workspace = tune(tuned)
    rows = workspace.controls
    tuned.click(rows, rows.place("left_stick").center().toPoint())
    assert workspace.tuner.control == "left_stick"
    assert not workspace.response.isVisible()
    tuned.press(Qt.Key.Key_Down, rows)
    assert workspace.tuner.control == "right_stick"
    tuned.until(workspace.response.isVisible)
    tuned.press(Qt.Key.Key_3, None, Qt.KeyboardModifier.ControlModifier)
    assert tuned.window.range.isVisible()
    tuned.press(Qt.Key.Key_2, None, Qt.KeyboardModifier.ControlModifier)
    assert workspace.isVisible()


def test_nobody_watches_while_tune_is_closed(tuned: Hand) -> None:
    tuned.window.show_workspace("map")
    seen: list[Frame] = []
    tuned.live.framed.connect(seen.append)
    tuned.steer("right_stick", 0.5, 0.0)
    tuned.until(lambda: seen and seen[-1].trace == ())  # what was on its way has come
    del seen[:]
    tuned.until(lambda: len(seen) > 4)
    assert all(frame.trace == () for frame in seen)
