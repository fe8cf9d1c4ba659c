"""Edits return what they changed, can be undone by name, and merge while dragging."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from nubshift.errors import ProfileError
from nubshift.model import edits
from nubshift.model.document import Document
from nubshift.model.profile import BASE, Command, Profile
from nubshift.model.roles import KeysRole
from nubshift.model.sends import HoldLayer, SendCommand, SendKey
from nubshift.model.slots import Slot, side
from nubshift.model.usage import slots_by_command


def test_an_edit_says_what_it_changed_and_is_undone_by_name(demo: Profile) -> None:
    document = Document(demo)
    changes = document.edit(
        "Z to left bumper", lambda p: edits.with_sends(p, Slot(BASE, "left_bumper"), (SendKey("Z"),))
    )
    assert changes.bindings == {(BASE, "1", "left_bumper")}
    assert not changes.commands
    assert document.undo_title == "Z to left bumper"
    assert document.undo().bindings == {(BASE, "1", "left_bumper")}
    assert document.profile == demo
    assert document.redo_title == "Z to left bumper"
    document.redo()
    assert edits.sends_of(document.profile, Slot(BASE, "left_bumper")) == (SendKey("Z"),)


def test_a_drag_is_one_step(demo: Profile) -> None:
    document = Document(demo)
    for speed in range(100, 200):
        document.edit(
            f"Speed {speed}", lambda p, v=speed: edits.with_feel(p, BASE, "right_stick", speed=float(v)), "drag"
        )
    document.settle()
    document.edit("Speed 300", lambda p: edits.with_feel(p, BASE, "right_stick", speed=300.0), "drag")
    assert document.undo_title == "Speed 300"
    document.undo()
    assert document.undo_title == "Speed 199"
    document.undo()
    assert document.profile == demo


def test_an_edit_that_changes_nothing_is_no_step(demo: Profile) -> None:
    document = Document(demo)
    assert not document.edit("nothing", lambda p: p)
    assert document.undo_title == ""
    assert not document.undo()


def test_a_new_edit_ends_redo(demo: Profile) -> None:
    document = Document(demo)
    document.edit("one", lambda p: edits.with_feel(p, BASE, "right_stick", speed=300.0))
    document.undo()
    document.edit("two", lambda p: edits.with_feel(p, BASE, "right_stick", speed=400.0))
    assert document.redo_title == ""


def test_what_could_not_be_read_again_is_refused(demo: Profile) -> None:
    document = Document(demo)
    with pytest.raises(ProfileError, match="there is no command"):
        document.edit("bad", lambda p: edits.with_sends(p, Slot(BASE, "south"), (SendCommand("nowhere"),)))
    with pytest.raises(ProfileError, match=r"0\.9"):
        document.edit("bad", lambda p: edits.with_feel(p, BASE, "right_stick", inner=3.0))
    assert document.profile == demo


def test_removing_a_command_removes_what_sent_it(demo: Profile) -> None:
    after = edits.without_command(demo, "hop")
    assert "hop" not in slots_by_command(after)
    layer = after.layer("climb")
    assert layer is not None
    jump = layer.binding("south")
    assert jump is not None
    assert jump.press == (SendCommand("forward"),)
    assert after.layers[0].binding("south") is None


def test_removing_a_layer_removes_what_entered_it(demo: Profile) -> None:
    after = edits.without_layer(demo, "aim")
    assert after.layer("aim") is None
    assert edits.sends_of(after, Slot(BASE, "left_trigger")) == (SendCommand("steady-lamp"),)
    assert edits.without_layer(demo, BASE) == demo


def test_renaming_a_command_or_changing_its_key_is_one_change_everywhere(demo: Profile) -> None:
    document = Document(demo)
    hop = demo.command("hop")
    assert hop is not None
    changes = document.edit("K for Hop", lambda p: edits.with_command(p, replace(hop, keys=("K",))))
    assert changes.commands == {"hop"}
    assert not changes.bindings


def test_a_binding_that_says_nothing_falls_through_again(demo: Profile) -> None:
    slot = Slot("aim", "north")
    set_ = edits.with_sends(demo, slot, (SendKey("Z"),))
    assert edits.with_sends(set_, slot, ()) == demo


def test_a_direction_makes_a_stick_a_set_of_keys(demo: Profile) -> None:
    after = edits.with_sends(demo, Slot(BASE, "right_stick", side("up")), (SendKey("I"), HoldLayer("aim")))
    binding = after.layers[0].binding("right_stick")
    assert binding is not None
    assert isinstance(binding.role, KeysRole)


def test_commands_get_ids_of_their_own(demo: Profile) -> None:
    after = edits.with_commands(demo, [Command("x", "Höh-le", ("K",)), Command("x", "Höhle!", ())])
    assert [c.id for c in after.commands[-2:]] == ["h-h-le", "h-hle"]


def test_a_command_that_is_there_already_only_gets_its_keys(demo: Profile) -> None:
    after = edits.with_commands(demo, [Command("x", "hop", ("K",)), Command("x", "Sing", ())])
    assert len(after.commands) == len(demo.commands)
    assert after.command("hop").keys == ("K",)  # type: ignore[union-attr]
    assert after.command("sing").keys == demo.command("sing").keys  # type: ignore[union-attr]
