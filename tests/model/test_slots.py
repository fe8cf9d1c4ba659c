"""Slots, rows of sends, copies of bindings, recordings: the model's side of the editors."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.model import edits, portions
from nubshift.model.entries import (
    Entries,
    beat_of,
    core_of,
    entries_in,
    stays_on,
    with_beat,
    with_core,
    with_staying_on,
)
from nubshift.model.part import DIRECTIONS
from nubshift.model.powers import powers
from nubshift.model.profile import (
    BASE,
    Band,
    Belt,
    BeltEntry,
    Command,
    Macro,
    MacroPress,
    MacroRelease,
    MacroTap,
    MacroWait,
    Together,
)
from nubshift.model.recording import LEAST_WAIT, Stroke, steps_of
from nubshift.model.roles import KeysRole, MenuEntry, MenuRole, MouseRole, TilesRole
from nubshift.model.sends import InOrder, Pulsed, SendBelt, SendCommand, SendKey, SendText, Toggled, Turbo
from nubshift.model.slots import Slot, index_of, put_at, sends_at, side
from nubshift.model.store import delete, read_profile, recover
from nubshift.model.usage import slots_by_command
from nubshift.model.walk import places
from nubshift.model.writing import profile_text
from tests.support.profiles import made, sends

RICH = made(
    {
        "base": {
            "south": {"tap": "A", "hold": ">aim"},
            "left_stick": TilesRole(tuple(sends(str(n)) for n in range(1, 10))),
            "right_stick": MenuRole((MenuEntry(sends("Q")), MenuEntry(sends("E"))), middle=sends("M")),
            "left_trigger": {"bands": (Band(0.2, sends("A")), Band(0.8, sends("B")))},
            "left_bumper": "/jump",
        },
        "aim": {"east": Turbo(sends("Z"))},
    },
    commands=[Command("jump", "Jump", ("SPACE",))],
    belts=(Belt("bar", "Bar", (BeltEntry(sends("/jump")), BeltEntry(sends("2")))),),
    macros=(Macro("dash", "Dash", (MacroTap(sends("W")), MacroWait(50))),),
)


def test_every_place_of_a_profile_is_a_slot_that_can_be_read_and_changed() -> None:
    for place in places(RICH):
        control = place.control or ("belt:bar" if place.path.startswith("belts") else "macro:dash")
        slot = Slot(place.layer, control, place.part, place.seat)
        assert edits.sends_of(RICH, slot) == place.sends
        changed = edits.with_sends(RICH, slot, sends("F12"))
        assert edits.sends_of(changed, slot) == sends("F12")
        others = [(p.path, p.sends) for p in places(changed) if p.path != place.path]
        assert others == [(p.path, p.sends) for p in places(RICH) if p.path != place.path]
        assert edits.with_sends(changed, slot, place.sends) == RICH


@pytest.mark.parametrize("direction", DIRECTIONS)
def test_a_direction_makes_keys_of_a_stick(direction: str) -> None:
    slot = Slot(BASE, "left_stick", side(direction))  # type: ignore[arg-type]
    after = edits.with_sends(RICH, slot, sends("K"))
    assert isinstance(after.layers[0].binding("left_stick").role, KeysRole)  # type: ignore[union-attr]
    assert slot.direction == direction


def test_a_part_that_is_not_there_reads_as_nothing_and_is_refused() -> None:
    assert sends_at(RICH.layers[0].binding("left_stick"), "role.cells[40]") == ()
    with pytest.raises(LookupError, match="entry 41"):
        put_at(RICH.layers[0].binding("left_stick"), "role.cells[40]", sends("A"))
    with pytest.raises(LookupError, match="there is no entries"):
        put_at(MouseRole(), "entries[0].what", ())
    assert index_of("role.cells[4]") == 4
    assert index_of("press") == -1


def test_a_combination_is_made_found_in_any_order_and_goes_when_it_is_empty() -> None:
    slot = Slot(BASE, "east+south")
    after = edits.with_sends(RICH, slot, sends("K"))
    assert edits.sends_of(after, Slot(BASE, "south+east")) == sends("K")
    assert after.layers[0].together == (Together(("east", "south"), press=sends("K")),)
    assert edits.with_sends(after, slot, ()) == RICH


def test_rows_modifiers_and_order() -> None:
    plain = SendKey("A")
    turbo = with_beat(with_staying_on(plain, True), Turbo((), 12.0))
    assert turbo == Toggled((Turbo((plain,), 12.0),))
    assert (stays_on(turbo), core_of(turbo)) == (True, plain)
    assert with_core(turbo, SendKey("B")) == Toggled((Turbo((SendKey("B"),), 12.0),))
    assert with_beat(turbo, Pulsed((), 80)) == Toggled((Pulsed((plain,), 80),))
    assert beat_of(with_beat(turbo, None)) is None
    assert with_staying_on(with_beat(turbo, None), False) == plain
    rows = (SendKey("A"), SendKey("B"))
    assert entries_in((InOrder(rows, 40),)) == Entries(rows, True, 40)
    assert Entries(rows, True, 40).sends == (InOrder(rows, 40),)
    assert Entries(rows[:1], True).sends == rows[:1]


strokes = st.lists(st.tuples(st.integers(0, 400), st.sampled_from("ABC"), st.booleans()), max_size=30)


@given(strokes)
def test_a_recording_holds_what_was_held_as_long_as_it_was(raw: list[tuple[int, str, bool]]) -> None:
    """Every key goes down and up in the order of the recording; waits are no longer than the recording; all ends up."""
    t = 0
    given_: list[Stroke] = []
    for gap, key, down in raw:
        t += gap
        given_.append((t, key, down))
    steps = steps_of(given_)
    expected: list[tuple[str, bool]] = []
    down_now: set[str] = set()
    for _, key, down in given_:
        if down != (key in down_now):
            (down_now.add if down else down_now.discard)(key)
            expected.append((key, down))
    expected += [(key, False) for key in sorted(down_now)]
    found: list[tuple[str, bool]] = []
    for step in steps:
        keys = [send.key for send in getattr(step, "what", ()) if isinstance(send, SendKey)]
        for key in keys:
            if isinstance(step, MacroPress | MacroTap):
                found.append((key, True))
            if isinstance(step, MacroRelease | MacroTap):
                found.append((key, False))
    assert found == expected
    waits = sum(step.ms for step in steps if isinstance(step, MacroWait))
    assert waits <= t
    assert all(step.ms >= LEAST_WAIT for step in steps if isinstance(step, MacroWait))


# Copies


def test_copying_to_another_profile_brings_the_commands_along() -> None:
    text = portions.copied(RICH, BASE, ("left_bumper", "south"))
    portion = portions.read_portion(text)
    assert portion is not None
    other = made({"base": {"north": "X"}})
    after = portions.pasted(other, BASE, ("east", "west"), portion)
    assert edits.sends_of(after, Slot(BASE, "east")) == (SendCommand("jump"),)
    assert [c.name for c in after.commands] == ["Jump"]
    assert after.layers[0].binding("west").gestures == {"tap": sends("A")}  # type: ignore[union-attr]  # no such layer there


def test_pasting_says_what_does_not_fit() -> None:
    portion = portions.read_portion(portions.copied(RICH, BASE, ("left_stick",)))
    assert portion is not None
    with pytest.raises(LookupError, match="Lower face button can't be used like left stick"):
        portions.pasted(RICH, BASE, ("south",), portion)
    pressed = portions.read_portion(portions.copied(RICH, BASE, ("south",)))
    assert pressed is not None
    with pytest.raises(LookupError, match="Motion can't be pressed"):
        portions.pasted(RICH, BASE, ("motion",), pressed)
    assert portions.read_portion("Jump = Space") is None


def test_mirroring_twice_changes_nothing_and_once_exchanges() -> None:
    once = portions.mirrored(RICH, BASE, ("left_trigger", "left_bumper", "south"))
    assert once.layers[0].binding("right_trigger").bands  # type: ignore[union-attr]
    assert edits.sends_of(once, Slot(BASE, "right_bumper")) == (SendCommand("jump"),)
    assert once.layers[0].binding("dpad_down").tap == sends("A")  # type: ignore[union-attr]
    twice = portions.mirrored(once, BASE, ("left_trigger", "left_bumper", "south"))
    assert {b.control: b for b in twice.layers[0].bindings} == {b.control: b for b in RICH.layers[0].bindings}
    assert all(portions.MIRRORED[portions.MIRRORED[name]] == name for name in portions.MIRRORED)


def test_to_another_layer_and_a_layer_from_a_selection() -> None:
    copied = portions.to_layer(RICH, BASE, "aim", ("south",), move=False)
    assert copied.layer("aim").binding("south") == RICH.layers[0].binding("south")  # type: ignore[union-attr]
    moved = portions.to_layer(RICH, BASE, "aim", ("left_bumper",), move=True)
    assert moved.layers[0].binding("left_bumper") is None
    made_ = portions.with_layer_from(RICH, "Climb", BASE, ("south", "left_stick"))
    assert {b.control for b in made_.layers[-1].bindings} == {"south", "left_stick"}


# The rest


def test_who_sends_a_command_counts_belts_and_macros() -> None:
    profile = edits.with_sends(RICH, Slot(BASE, "start"), (SendBelt("bar"),))
    assert [slot.control for slot in slots_by_command(profile)["jump"]] == ["left_bumper", "start"]


def test_commands_move_between_groups_and_bare_keys_become_commands() -> None:
    commands = [Command(name, name.title(), (), group) for name, group in (("a", "X"), ("b", "X"), ("c", "Y"))]
    profile = made({"base": {"south": "Q"}}, commands=commands)
    moved = edits.with_command_moved(profile, "c", "b", "X")
    assert [(c.id, c.group) for c in moved.commands] == [("a", "X"), ("c", "X"), ("b", "X")]
    assert [c.id for c in edits.with_command_moved(profile, "a", None, "Y").commands] == ["b", "c", "a"]
    named = edits.with_key_named(profile, "Q", "Roll over")
    assert edits.sends_of(named, Slot(BASE, "south")) == (SendCommand("roll-over"),)
    grouped = edits.with_group_named(profile, "X", "Walk")
    assert [c.group for c in grouped.commands] == ["Walk", "Walk", "Y"]


def test_what_is_needed_together_goes_with_its_command_and_is_checked() -> None:
    commands = [Command("a", "A", ("A",)), Command("b", "B", ("B",))]
    profile = edits.with_needed(made({"base": {"south": "/a"}}, commands=commands), "b", "a")
    assert [(p.one, p.other) for p in profile.needed] == [("a", "b")]
    assert edits.with_needed(profile, "a", "b", needed=False).needed == ()
    assert edits.without_command(profile, "a").needed == ()


def test_what_a_profile_from_elsewhere_can_do() -> None:
    assert powers(made({"base": {"south": "A"}})) == ()
    told = powers(edits.with_sends(RICH, Slot(BASE, "start"), (SendText("rm -rf"), Turbo(sends("A")))))
    assert "types text: “rm -rf”" in told
    assert "runs macros: Dash" in told
    assert "repeats keys (turbo)" in told


def test_a_deleted_profile_can_be_taken_back(tmp_path: Path) -> None:
    path = tmp_path / "saltbarrow.nubshift.json"
    path.write_bytes(profile_text(RICH))
    gone = delete(path)
    assert not path.exists()
    assert gone.parent.name == "deleted"
    path.write_bytes(profile_text(made({"base": {}})))
    back = recover(gone)
    assert back.name == "saltbarrow-2.nubshift.json"
    assert read_profile(back) == RICH
