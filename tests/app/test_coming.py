"""Halves of a pair, and controllers that come back: what is offered, and what becomes of it."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from nubshift.model.controller_info import ControllerInfo
from nubshift.model.stored_controllers import PartOf, read_controllers
from nubshift.protocol.paths import controllers_path
from tests.app.hand import Hand
from tests.app.hardware import controllers, settled

pytestmark = pytest.mark.own_window


def half(side: str) -> ControllerInfo:
    stick = f"{side}_stick"
    return ControllerInfo(
        f"evdev:{side}",
        f"Sedge {side} half",
        (stick, "motion"),
        key=f"key-{side}",
        model="sedge",
        how="conventions",
        half=side,
    )


def with_controllers(hand: Hand, *more: ControllerInfo) -> None:
    """As if these were plugged in too."""
    known = [info for info in settled(hand).controllers if info.id not in {other.id for other in more}]
    hand.link.status = replace(settled(hand), controllers=(*known, *more))
    hand.link.status_changed.emit(hand.link.status)


def test_the_second_half_of_a_pair_offers_to_join_them(hand: Hand) -> None:
    with_controllers(hand, half("right"))
    assert not hand.window.notices.isVisible()
    with_controllers(hand, half("right"), half("left"))
    assert hand.window.notices.text == "Sedge left half and Sedge right half are the two halves of one controller."
    hand.choose(hand.window.notices, "Join")
    left, right = read_controllers(controllers_path()).seats["1"]
    assert (left.controller, left.motion, right.controller, right.motion) == ("key-left", False, "key-right", True)


def test_how_a_half_is_held_is_chosen_and_kept(hand: Hand) -> None:
    workspace = controllers(hand)
    left, right = half("left"), half("right")
    status = replace(settled(hand), controllers=(left, right))
    workspace.side.show_info(left, status)
    before = hand.link.status
    hand.choose(workspace.side, "Sideways")
    hand.until(lambda: hand.link.status is not before)  # the runner has read it
    assert read_controllers(controllers_path()).of("key-left").sideways
    workspace.side.show_info(replace(left, sideways=True), status)
    hand.choose(workspace.side, "Join with Sedge right half")
    kept = read_controllers(controllers_path())
    assert not kept.of("key-left").sideways
    assert [part.controller for part in kept.seats["1"]] == ["key-left", "key-right"]


def test_one_that_comes_back_to_a_taken_seat_is_offered(hand: Hand) -> None:
    one = ControllerInfo("evdev:a", "Fern pad", ("south",), key="fern", how="conventions")
    other = ControllerInfo("evdev:b", "Larch pad", ("south",), key="larch", how="conventions")
    follow = hand.window._shown._coming.follow
    status = replace(settled(hand), controllers=(one, other), fills={"1": (PartOf("evdev:a"),)})
    follow(status)
    follow(replace(status, controllers=(other,), fills={"1": (PartOf("evdev:b"),)}))
    assert not hand.window.notices.isVisible()
    follow(replace(status, fills={"1": (PartOf("evdev:b"),)}))
    assert hand.window.notices.text == "Fern pad is connected again, but seat 1 now uses Larch pad."
    hand.choose(hand.window.notices, "Use Fern pad")
    assert read_controllers(controllers_path()).seats["1"] == (PartOf("fern"),)
