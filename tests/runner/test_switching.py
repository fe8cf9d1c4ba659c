"""Toggles that come back, across switches of profile (R12), and what is gathered while no window is there."""

from __future__ import annotations

from nubshift.model.profile import Profile
from nubshift.model.sends import Toggled
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.runner.compiling import compiled
from nubshift.runner.session import Session
from tests.support.playing import MS, changes, words
from tests.support.profiles import four, made, sends


def lamp(key: str) -> Profile:
    return made({"base": {"south": Toggled(sends(key), comes_back=True), "left_stick": four()}})


class Stage:
    def __init__(self) -> None:
        self.out = Recorder()
        self.one, self.two = compiled(lamp("L"), name="one"), compiled(lamp("M"), name="two")
        self.session = Session(self.one, Sink(self.out))

    def press(self, t: int) -> None:
        for value in (1, 0):
            self.session.reports([(t, changes({"south": value}.items()))], t)

    def sent(self) -> list[str]:
        found = words(self.out.events)
        self.out.events.clear()
        return found


def test_toggles_are_remembered_for_their_profile_across_switches() -> None:
    stage = Stage()
    stage.press(MS)
    stage.session.switch(stage.two, {"1": ()}, 2 * MS)
    assert stage.sent() == ["+L", "-L"]
    stage.press(3 * MS)
    stage.session.switch(stage.one, {"1": changes({"left_stick": (0.0, -1.0)}.items())}, 4 * MS)
    assert stage.sent() == ["+M", "-M", "+L", "+W"]  # before positions act
    stage.session.switch(stage.two, {"1": ()}, 5 * MS)
    assert stage.sent() == ["-W", "-L", "+M"]


def test_while_the_game_has_not_the_focus_they_wait_for_it() -> None:
    stage = Stage()
    stage.press(MS)
    stage.session.set_withheld(True, 2 * MS)
    stage.session.switch(stage.two, {}, 3 * MS)
    stage.session.switch(stage.one, {}, 4 * MS)
    assert stage.sent() == ["+L", "-L"]
    stage.session.set_withheld(False, 5 * MS)
    assert stage.sent() == ["+L"]


def test_a_stop_by_the_player_forgets_them_for_every_profile() -> None:
    stage = Stage()
    stage.press(MS)
    stage.session.switch(stage.two, {}, 2 * MS)
    stage.session.stop(3 * MS, by_player=True)
    stage.session.switch(stage.one, {}, 4 * MS)
    assert stage.sent() == ["+L", "-L"]


def test_a_window_that_comes_late_is_told_how_it_is_and_not_how_it_was() -> None:
    stage = Stage()
    stage.session.reporter.listen(False)
    for number in range(2000):
        stage.press(number * MS)
    stage.session.reporter.listen(True)
    frame = stage.session.frame(3000 * MS)
    assert (frame.sent, frame.moves, frame.controls) == ((), (), {})
