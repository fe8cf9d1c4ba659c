"""Contract R18: variants stepped to from the controller, kept by the runner without a window."""

from __future__ import annotations

from nubshift.model import edits, variants
from nubshift.model.profile import Feel, Profile
from nubshift.model.roles import MouseRole
from nubshift.model.sends import NextVariant
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.runner.compiling import compiled
from nubshift.runner.session import Session
from tests.support.playing import MS, Desk, changes
from tests.support.profiles import made

STICK = ("1", "right_stick")


def slow_and_quick() -> Profile:
    base = {"right_stick": {"role": MouseRole(), "out": ">aim"}, "south": NextVariant("right_stick"), "east": "E"}
    profile = made({"base": base, "aim": {}})
    for name, speed in (("slow", 90.0), ("quick", 360.0)):
        profile = edits.with_feel(profile, "base", "right_stick", speed=speed)
        profile = variants.saved_as(profile, name, "base", "right_stick")
    return variants.with_used(profile, "slow")


def stepped() -> tuple[Desk, Profile]:
    profile = slow_and_quick()
    desk = Desk(profile)
    desk.at(0, south=1)
    assert desk.engine.variants == {STICK: "quick"}
    return desk, profile


def test_it_survives_stops_and_edits_of_other_things() -> None:
    desk, profile = stepped()
    desk.stop(1)
    desk.resume(2)
    desk.edit(3, edits.with_feel_put(profile, "base", Feel("left_stick", inner=0.2)))
    assert desk.engine.variants == {STICK: "quick"}


def test_it_ends_with_an_edit_of_that_feel_and_when_it_is_in_use_or_deleted() -> None:
    for change in (
        lambda p: edits.with_feel(p, "base", "right_stick", speed=200.0),
        lambda p: variants.with_used(p, "quick"),
        lambda p: variants.without_variant(p, "quick"),
    ):
        desk, profile = stepped()
        desk.edit(3, change(profile))
        assert desk.engine.variants == {}


def test_a_control_that_holds_a_layer_takes_it_up_at_once() -> None:
    desk = Desk(slow_and_quick())
    assert desk.at(0, right_stick=(1.0, 0.0)) == [">aim"]
    desk.to(100 * MS)
    before = len(desk.log)
    desk.at(100 * MS, south=1)
    desk.to(200 * MS)
    assert sum(event.dx for event in desk.log[before:] if hasattr(event, "dx")) == 900


def test_it_is_there_again_when_its_profile_is_without_any_window() -> None:
    profile, other = compiled(slow_and_quick(), name="first"), compiled(made({"base": {}}), name="second")
    session = Session(profile, Sink(Recorder()))
    session.reporter.listen(False)
    session.reports([(0, changes({"south": 1}.items()))], 0)
    session.switch(other, {}, 1 * MS)
    assert session.frame(2 * MS).variants == {}
    session.switch(profile, {}, 3 * MS)
    assert session.frame(4 * MS).variants == {"1/right_stick": "quick"}
