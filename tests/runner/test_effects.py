"""What controllers do beside reporting: the light of the profile, and showing which one they are."""

from __future__ import annotations

from typing import Any

from nubshift.model.sends import SendLight, SendRumble
from nubshift.model.stored_controllers import PartOf
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.runner.compiling import compiled
from nubshift.runner.effects import SHOWN_FOR, Effects
from nubshift.runner.session import Session
from tests.support.playing import MS, changes
from tests.support.profiles import made


class Shelf:
    """A rack with one controller in the first seat, which remembers what it was told."""

    seats = {"1": (PartOf("sim:moss"),)}  # noqa: RUF012

    def __init__(self) -> None:
        self.told: list[tuple[str, Any]] = []

    def source(self, controller: str) -> Shelf | None:
        return self if controller == "sim:moss" else None

    def rumble(self, *what: Any) -> None:
        self.told.append(("rumble", what[-1]))

    def light(self, seat: str, colour: str) -> None:
        self.told.append(("light", colour))

    def take(self) -> list[tuple[str, Any]]:
        told, self.told = self.told, []
        return told


def opened(**game: Any) -> tuple[Shelf, Session, Effects]:
    shelf = Shelf()
    base = {"south": SendLight("#e07a9a"), "east": SendRumble(0.6, 200)}
    session = Session(compiled(made({"base": base}, game=game)), Sink(Recorder()))
    return shelf, session, Effects(shelf, session)  # type: ignore[arg-type]


def test_a_controller_that_showed_itself_shines_as_the_profile_says_again() -> None:
    shelf, _, effects = opened(light="#7dd3b4")
    effects.follow_profile()
    assert shelf.take() == [("light", "#7dd3b4")]
    effects.follow_profile()
    assert shelf.take() == []
    effects.show("sim:moss", "#ffffff", 0)
    assert shelf.take() == [("rumble", 1.0), ("light", "#ffffff")]
    assert effects.next_deadline == SHOWN_FOR
    effects.step(SHOWN_FOR)
    assert shelf.take() == [("rumble", 0.0), ("light", "#7dd3b4")]
    assert effects.next_deadline is None
    effects.came("1")
    assert shelf.take() == [("light", "#7dd3b4")]


def test_bindings_shine_and_rumble_and_a_pause_ends_it() -> None:
    shelf, session, effects = opened()
    session.reports([(0, changes({"south": 1, "east": 1}.items()))], 0)
    effects.step(0)
    assert shelf.take() == [("light", "#e07a9a"), ("rumble", 0.6)]
    session.set_live(False, 50 * MS)
    effects.step(50 * MS)
    assert shelf.take() == [("rumble", 0.0)]
