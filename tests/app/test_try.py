"""Try: what truly arrives, rounds that rank settings rightly, degrees that are real, and the log (N50, N51)."""

from __future__ import annotations

import json
from collections.abc import Callable
from math import hypot
from random import Random
from typing import Any

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication

from nubshift.analysis.walk import mark_at
from nubshift.app.client.mirror import now_us
from nubshift.app.trying.ranges import ExercisePicture
from nubshift.app.trying.rounds import SIZE, TARGETS, TargetRound
from nubshift.app.trying.workspace import TryWorkspace
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.errors import StorageError
from nubshift.events import Motion, Report
from nubshift.model import edits, variants
from nubshift.model.profile import Command, Feel, Profile
from nubshift.model.results import EARLIER, NOW, ResultsFile, Score, read_results, settings_of, write_results
from nubshift.model.roles import MouseRole
from nubshift.model.sends import HoldLayer
from nubshift.model.store import ProfileFile
from nubshift.protocol.messages import Frame, Sent, Steer
from tests.app.hand import Hand
from tests.support.playing import MS
from tests.support.profiles import four, made, sends

PLAY = made(
    {
        "base": {
            "right_stick": MouseRole(),
            "left_stick": four("W", "D", "S", "A"),
            "south": sends("SPACE")[0],
            "east": {"tap": sends("H"), "hold": sends("E")},
            "west": sends("BTN_RIGHT")[0],
            "select": HoldLayer("aim"),
            "start": sends("TAB")[0],
        },
        "aim": {"north": sends("Q")[0]},
    },
    commands=[Command("hop", "Hop", ("SPACE",))],
)


@pytest.fixture
def opened(start: Callable[..., Hand], tmp_path: Any) -> Callable[..., Hand]:
    def open_try(profile: Profile = PLAY, sink: str = "xtest") -> Hand:
        file = ProfileFile(tmp_path / "play.nubshift.json")
        file.write(profile)
        hand = start(file.path, sink)
        hand.click(hand.window.top.tabs.buttons["try"])
        hand.until(tried(hand).isVisible)
        return hand

    return open_try


def tried(hand: Hand) -> TryWorkspace:
    return hand.window.range


# What arrives


def test_what_is_sent_arrives_through_the_x_server_and_only_while_the_range_has_the_keyboard(
    opened: Callable[..., Hand],
) -> None:
    hand = opened()
    arena = tried(hand).arena
    hand.steer("south", 1)
    hand.until(lambda: hand.live.held == ("SPACE",))
    assert arena.arrived == 0
    hand.steer("south", 0)
    hand.click(arena)
    hand.until(lambda: hand.link.status is not None and not hand.link.status.withheld)
    hand.steer("left_stick", 0.0, -0.9)
    hand.until(lambda: "W" in arena.down)
    hand.steer("south", 1)
    hand.until(lambda: "SPACE" in arena.down)
    hand.window.grab()
    hand.steer("south", 0)
    hand.steer("start", 1)  # Tab is a key of the range like others
    hand.until(lambda: "TAB" in arena.down)
    hand.steer("start", 0)
    hand.steer("left_stick", 0.0, 0.0)
    hand.until(lambda: not arena.down)
    assert arena.text.startswith("w")
    assert arena.arrived == 3
    hand.until(lambda: "sent 3 · arrived 3" in tried(hand).settings.text())
    hand.press(Qt.Key.Key_Tab, arena, Qt.KeyboardModifier.ControlModifier)
    hand.until(lambda: hand.link.status is not None and hand.link.status.withheld)
    assert not arena.hasFocus()


def test_a_shortcut_that_arrives_does_not_operate_the_window(opened: Callable[..., Hand]) -> None:
    profile = made({"base": {"south": sends("LEFTCTRL")[0], "east": sends("Z")[0]}})
    hand = opened(profile)
    hand.studio.document.edit("A note", lambda p: edits.with_game(p, note="something"))
    arena = tried(hand).arena
    hand.click(arena)
    hand.until(lambda: hand.link.status is not None and not hand.link.status.withheld)
    hand.steer("south", 1)
    hand.until(lambda: "LEFTCTRL" in arena.down)
    hand.steer("east", 1)
    hand.until(lambda: "Z" in arena.down)
    assert hand.studio.profile.game.note == "something"
    hand.steer("east", 0)
    hand.steer("south", 0)
    hand.until(lambda: not arena.down)


def test_coming_back_to_try_sends_nothing_until_the_range_is_clicked(opened: Callable[..., Hand]) -> None:
    hand = opened()
    hand.click(tried(hand).arena)
    hand.until(lambda: hand.link.status is not None and not hand.link.status.withheld)
    for name in ("map", "try"):
        hand.click(hand.window.top.tabs.buttons[name])
        hand.until(lambda: hand.link.status is not None and hand.link.status.withheld)
    assert not tried(hand).arena.hasFocus()


def test_where_nothing_can_arrive_the_range_says_so(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    assert "nothing will arrive" in tried(hand).told.text()


# Rounds with a simulated player in simulated time


class Player:
    """A hand that follows marks: it sees them late, and pushes the stick towards where they are."""

    SEES = 120 * MS

    def __init__(self, hand: Hand, seed: int) -> None:
        self.hand = hand
        self.page: ExercisePicture
        self.random = Random(seed)
        self.t = now_us() // (4 * MS) * 4 * MS

    def play(self, page: ExercisePicture, wanted: Callable[[int], tuple[float, float]], most: float = 60.0) -> None:
        """A round from asking to its end; the app gets the engine's own motion in frames of 60 a second."""
        engine = Engine(compile_profile(self.hand.studio.profile))
        engine.advance(self.t)
        page._timer.stop()
        page.begin()
        page._timer.stop()  # time is what the frames say
        assert page.round.asked is not None
        self.t = max(self.t, page.round.asked) // (4 * MS) * 4 * MS + 4 * MS
        end = self.t + round(most * 1e6)
        moves: list[tuple[int, int, int]] = []
        seen: list[tuple[float, float]] = []
        frame = self.t
        while page.on and self.t < end:
            self.t += 4 * MS
            seen.append(wanted(self.t))
            mark = seen[max(0, len(seen) - self.SEES // (4 * MS))]
            x, y = ((mark[i] - aim) / 8 for i, aim in enumerate((page.aim.x, page.aim.y)))
            size = max(1.0, hypot(x, y))
            x, y = x / size + self.random.gauss(0, 0.02), y / size + self.random.gauss(0, 0.02)
            out = outputs_of(engine.feed(Report(self.t, (("right_stick", x, y),))))
            moves += [(o.t, o.dx, o.dy) for o in out if isinstance(o, Motion)]
            if self.t - frame >= 16 * MS:
                frame = self.t
                dx, dy = (sum(m[i] for m in moves) for i in (1, 2))
                self.hand.live.take(
                    Frame(t=self.t, real=False, dx=dx, dy=dy, moves=tuple(moves), moved_by=("right_stick",))
                )
                moves = []
        assert not page.on, "the round came to its end"


def with_speed(profile: Profile, name: str, **values: float) -> Profile:
    profile = edits.with_feel(profile, "base", "right_stick", **values)
    return variants.saved_as(profile, name, "base", "right_stick")


def eights(hand: Hand, names: list[str], rounds: int) -> None:
    page = tried(hand).eight
    player = Player(hand, 3)
    for turn in range(rounds):
        for name in names if turn % 2 else reversed(names):
            found = next(v for v in hand.studio.profile.variants if v.name == name)
            hand.studio.document.edit(name, lambda p, v=found: variants.with_used(p, v.id))
            player.play(page, lambda t: mark_at(max(0.0, (t - page.round.begins) / 1e6)))


def test_the_better_of_two_settings_is_found_by_following_the_eight(opened: Callable[..., Hand]) -> None:
    profile = with_speed(with_speed(PLAY, "sluggish", speed=25.0), "fitting", speed=120.0)
    hand = opened(profile, "record:/dev/null")
    hand.click(tried(hand).choices["eight"])
    standings = tried(hand).standings
    assert "No rounds yet" in standings.verdict.text()
    eights(hand, ["sluggish", "fitting"], 1)
    assert "Not enough rounds to tell" in standings.verdict.text()
    assert "more round" in standings.verdict.text()
    eights(hand, ["sluggish", "fitting"], 3)
    assert standings.verdict.text().startswith("Fitting is better than sluggish")
    groups = tried(hand).results.groups("eight")
    assert {name: len(scores) for (_, name), scores in groups.items()} == {"fitting": 4, "sluggish": 4}
    hand.window.grab()
    hand.choose(standings, "Use")
    used = hand.studio.profile.variant_in_use("base", "1", "right_stick")
    assert used is not None
    kept = read_results(tried(hand).results._path)
    assert len(kept.of("play", "eight")) == 8
    hand.window.show_workspace("tune")
    assert "error" in tried(hand).results.in_words(used.id)
    hand.window.show_workspace("try")
    hand.choose(standings, "Delete these rounds")
    assert "No rounds yet" in standings.verdict.text()


def test_two_settings_that_feel_alike_can_not_be_told_apart(opened: Callable[..., Hand]) -> None:
    profile = with_speed(with_speed(PLAY, "one", speed=120.0), "other", speed=120.0, scroll_speed=20.0)
    hand = opened(profile, "record:/dev/null")
    hand.click(tried(hand).choices["eight"])
    eights(hand, ["one", "other"], 4)
    assert "Not enough rounds" in tried(hand).standings.verdict.text()


def test_targets_are_reached_and_timed(opened: Callable[..., Hand]) -> None:
    hand = opened(edits.with_feel(PLAY, "base", "right_stick", speed=120.0), "record:/dev/null")
    hand.click(tried(hand).choices["targets"])
    page = tried(hand).targets
    page.round.random.seed(5)
    Player(hand, 1).play(page, lambda _: page.round.target)
    hand.window.grab()
    scores = tried(hand).results.groups("targets")["right_stick", NOW]
    assert 0.2 < scores[0].values["time"] < 6
    assert len(page.round.times) == TARGETS
    assert "s a target" in " ".join(label for label in labels(tried(hand).standings))
    assert "Only Current settings was tried" in tried(hand).standings.verdict.text()


def labels(widget: Any) -> list[str]:
    from PyQt6.QtWidgets import QLabel

    return [label.text() for label in widget.findChildren(QLabel)]


def test_a_round_left_early_does_not_count(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    hand.click(tried(hand).choices["eight"])
    hand.click(tried(hand).begin)
    assert tried(hand).eight.round.waiting
    hand.click(tried(hand).begin)
    assert not tried(hand).eight.on
    hand.steer("south", 1)  # from the controller
    hand.until(lambda: tried(hand).eight.on)
    hand.window.show_workspace("map")
    assert not tried(hand).eight.on
    assert tried(hand).results.groups("eight") == {}


def test_a_target_counts_only_after_the_aim_stayed_in_it() -> None:
    round_ = TargetRound(random=Random(1))
    round_.ask(0)
    round_.advance(round_.begins)
    x, y = round_.target
    t = round_.begins
    round_.aim(t + 100 * MS, x, y)
    round_.aim(t + 200 * MS, x + 2 * SIZE, y)  # out again
    round_.aim(t + 300 * MS, x, y)
    round_.aim(t + 400 * MS, x, y)
    assert round_.times == []
    assert 0 < round_.dwelling < 1
    round_.aim(t + 560 * MS, x, y)
    assert round_.times == [0.3]
    assert round_.target != (x, y)


def test_tune_watches_its_control_again_after_try(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    tuner = hand.window.tune.tuner
    for name in ("tune", "try", "tune"):
        hand.click(hand.window.top.tabs.buttons[name])
    tuner.open("left_stick")
    hand.until(lambda: len(tuner.past) > 30)
    assert tuner.past[-1].raw != ()


# The horizon


def test_the_horizon_turns_in_real_degrees(opened: Callable[..., Hand]) -> None:
    profile = edits.with_game(PLAY, counts_per_turn=3600.0)
    profile = edits.with_layer_set(profile, "aim", counts_per_turn=7200.0)
    hand = opened(profile, "record:/dev/null")
    hand.click(tried(hand).choices["horizon"])
    aim = tried(hand).aim
    hand.click(tried(hand).begin)
    hand.live.take(Frame(t=1, real=False, dx=900, dy=-100, moves=((1, 900, -100),), moved_by=("right_stick",)))
    assert (aim.x, aim.y) == (90.0, -10.0)
    hand.window.grab()
    hand.live.take(Frame(t=2, real=False, layers=("aim",)))
    hand.live.take(Frame(t=3, real=False, layers=("aim",), dx=900, moves=((3, 900, 0),)))
    assert aim.x == pytest.approx(135.0)
    hand.click(tried(hand).begin)
    assert aim.x == 0.0


def test_a_real_stick_turns_it(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    hand.click(tried(hand).choices["horizon"])
    hand.link.send(Steer("right_stick", 0.9, 0.0))
    hand.until(lambda: tried(hand).aim.x > 20)
    assert tried(hand).aim.mover == "right_stick"


# The log


def test_the_log_says_what_was_sent_and_why_and_is_filtered_and_copied(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    log = tried(hand).log
    hand.steer("south", 1)
    hand.until(lambda: hand.live.held == ("SPACE",))
    hand.steer("south", 0)
    hand.steer("left_stick", 0.0, -0.9)
    hand.until(lambda: hand.live.held == ("W",))
    hand.steer("left_stick", 0.0, 0.0)
    hand.steer("select", 1)
    hand.steer("north", 1)
    hand.until(lambda: hand.live.held == ("Q",))
    hand.link.send(Steer("right_stick", 0.9, 0.0))
    hand.until(lambda: log.model.entries and log.model.entries[0].code == "motion")
    hand.link.send(Steer("right_stick", 0.0, 0.0))
    hand.steer("north", 0)
    hand.until(lambda: hand.live.held == ())
    said = {entry.code: entry for entry in log.model.entries}
    assert (said["SPACE"].what, said["SPACE"].why) == ("Space · Hop", "Lower face button")
    assert said["SPACE"].held.endswith(" s")
    assert said["W"].why == "Left stick, up"
    assert said["Q"].why == "Upper face button · in aim"
    assert said["layer:aim"].what == "Layer aim"
    assert said["layer:aim"].held == "now"
    assert said["motion"].why == "Right stick"
    assert "right" in said["motion"].what
    assert not said["SPACE"].real
    hand.window.grab()
    hand.bot.keyClicks(log.filter, "left stick")
    assert log.filtered.rowCount() == 1
    hand.click(log.copy_button)
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text().split("\t")[3] == "Left stick, up"
    log.filter.clear()
    hand.click(log.copy_button)
    lines = clipboard.text().split("\n")
    assert len(lines) == len(log.model.entries)
    assert "Hop" in lines[0]  # the oldest first
    hand.click(log.clear_button)
    assert log.filtered.rowCount() == 0


def test_gestures_and_what_a_stop_let_go_of_stand_in_the_log(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    log = tried(hand).log.model
    hand.steer("east", 1)
    hand.until(lambda: hand.live.held == ("E",))
    assert log.entries[0].why == "Right face button, hold"
    hand.window.actions_table.run("stop")
    hand.until(lambda: hand.live.held == ())
    hand.until(lambda: log.entries[0].held != "now")


def test_the_log_keeps_so_many_and_no_more(opened: Callable[..., Hand]) -> None:
    hand = opened(sink="record:/dev/null")
    log = tried(hand).log.model
    for index in range(70):
        sent = tuple(Sent(index * 1000 + n, "A", n % 2, "south", "press", "base") for n in range(130))
        hand.live.take(Frame(t=index * 1000, real=True, sent=sent))
    assert len(log.entries) <= 4200
    hand.live.take(
        Frame(
            t=10**9,
            real=True,
            sent=(
                Sent(10**9, "pad:south", 1, "south", "press", "base"),
                Sent(10**9, "wheel:up", 1, "south", "press", "base"),
            ),
        )
    )
    assert [e.what for e in log.entries[:2]] == ["Wheel up", "Pad south"]


# Results on disk


def test_results_are_kept_by_the_feel_they_were_made_with(tmp_path: Any) -> None:
    path = tmp_path / "results.json"
    assert read_results(path) == ResultsFile()
    profile = with_speed(PLAY, "calm", speed=90.0)
    calm = Score(1, "eight", {"mean": 2.0}, profile.feel_in("base", "1", "right_stick"))
    write_results(path, ResultsFile().with_score("play", calm).with_score("other", calm))
    kept = read_results(path)
    assert kept.of("play", "eight") == (calm,)
    assert settings_of(profile, calm) == "calm"
    changed = edits.with_feel(profile, "base", "right_stick", speed=300.0)
    assert settings_of(changed, calm) == "calm"
    assert settings_of(variants_gone := replace(changed, variants=()), calm) == ""
    now = Score(2, "eight", {"mean": 2.0}, Feel("right_stick", speed=300.0))
    assert settings_of(variants_gone, now) == NOW
    assert EARLIER != NOW
    assert kept.without("play", "eight").of("play", "eight") == ()
    assert kept.without("play", "eight").of("other", "eight") == (calm,)
    path.write_text("{")
    with pytest.raises(StorageError, match="moved to"):
        read_results(path)


def test_results_of_version_1_are_read(tmp_path: Any) -> None:
    path = tmp_path / "results.json"
    feel = {"control": "right_stick", "steady": 3.0, "quick": 0.25}
    score = {"when": 1, "exercise": "eight", "values": {"mean": 2.0}, "feel": feel}
    path.write_text(json.dumps({"format": "nubshift-results", "version": 1, "profiles": {"play": [score]}}))
    (read,) = read_results(path).of("play", "eight")
    assert read.feel == Feel("right_stick", min_cutoff=3.0, beta=0.25)
    write_results(path, read_results(path))
    assert read_results(path).of("play", "eight") == (read,)


def test_only_so_many_rounds_are_kept() -> None:
    file = ResultsFile()
    for when in range(410):
        file = file.with_score("p", Score(when, "eight", {"mean": 1.0}, Feel("right_stick")))
    assert [s.when for s in file.of("p", "eight")] == list(range(10, 410))
