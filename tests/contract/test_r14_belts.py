"""Contract R14: belts."""

from __future__ import annotations

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from nubshift.model.profile import Belt, BeltEntry, Command
from nubshift.model.sends import SendBelt
from tests.support.playing import MS, Desk
from tests.support.profiles import made, sends

COMMANDS = [Command(name, name, (key,)) for name, key in (("mana", "1"), ("heal", "2"), ("bomb", "3"))]


def belt(*entries: str, skipped: tuple[str, ...] = (), **fields: Any) -> Belt:
    made_of = tuple(BeltEntry(sends(entry), skip=entry in skipped) for entry in entries)
    return Belt("belt", "Belt", made_of, **fields)


def desk(found: Belt, **more: Any) -> Desk:
    base = {"east": SendBelt("belt"), "west": SendBelt("belt", "back"), "north": SendBelt("belt", "again"), **more}
    return Desk(made({"base": base}, belts=(found,), commands=COMMANDS))


def steps(found: Desk, buttons: str, start: int = 0) -> list[str]:
    """What presses of ``e`` (next), ``w`` (back) and ``n`` (again), 100 ms apart, put down; ``.`` for nothing."""
    names = {"e": "east", "w": "west", "n": "north"}
    out = []
    for index, letter in enumerate(buttons):
        t = start + index * 100 * MS
        down = found.at(t, **{names[letter]: 1})
        up = found.at(t + 50 * MS, **{names[letter]: 0})
        out.append("".join(word[1:] for word in down) or ".")
        assert [word.replace("+", "-") for word in down] == up  # held, and ended by the release
    return out


def test_buttons_step_through_it_and_share_its_position() -> None:
    assert steps(desk(belt("1", "2", "3")), "eeeeww") == ["1", "2", "3", "1", "3", "2"]


def test_from_none_back_gives_the_last_if_it_wraps_else_the_first() -> None:
    assert steps(desk(belt("1", "2", "3")), "w") == ["3"]
    assert steps(desk(belt("1", "2", "3", wraps=False)), "w") == ["1"]


def test_past_a_stopping_end_nothing_is_sent() -> None:
    assert steps(desk(belt("1", "2", wraps=False)), "eeeeww") == ["1", "2", ".", ".", "1", "."]


def test_again_sends_the_present_entry_and_from_none_the_first() -> None:
    assert steps(desk(belt("1", "2", "3")), "neen") == ["1", "2", "3", "3"]


def test_skipped_entries_are_passed_over() -> None:
    assert steps(desk(belt("1", "2", "3", skipped=("2",))), "eeew") == ["1", "3", "1", "3"]
    assert steps(desk(belt("1", "2", "3", skipped=("1", "3"))), "weew") == ["2", "2", "2", "2"]
    assert steps(desk(belt("1", skipped=("1",))), "en") == [".", "."]


def test_its_gesture_holds_the_entry_it_got() -> None:
    found = desk(belt("1", "2"))
    assert found.play("0 east 10 west 20 -east 30 -west") == ["0 +1", "10 +2", "20 -1", "30 -2"]


def test_a_step_at_least_the_pause_after_the_last_one_starts_from_none() -> None:
    found = desk(belt("1", "2", "3", pause=1000))
    steps(found, "ee")
    assert found.at(100 * MS + 999_999, east=1) == ["+3"]
    found.at(1200 * MS, east=0)
    assert found.at(100 * MS + 999_999 + 1_000_000, north=1) == ["+1"]


def test_it_follows_another_binding_that_sends_one_of_its_commands() -> None:
    found = desk(belt("/mana", "/heal", "/bomb"), south="/heal")
    assert found.play("0 south 50 -south 100 east 150 -east") == ["0 +2", "50 -2", "100 +3", "150 -3"]
    assert found.engine.belt("belt") == 2


def test_not_an_entry_that_is_skipped_or_a_bare_key() -> None:
    found = desk(belt("/mana", "/heal", "/heal", skipped=("/heal",)), south="/heal")
    found.play("0 south 50 -south")
    assert found.engine.belt("belt") is None
    found = desk(belt("1", "2"), south="/heal")
    found.play("0 south 50 -south")
    assert found.engine.belt("belt") is None


def test_it_keeps_its_position_over_stops_and_edits() -> None:
    found = desk(belt("1", "2", "3"))
    steps(found, "e")
    found.stop(200 * MS)
    found.resume(200 * MS)
    base = {"east": SendBelt("belt"), "west": SendBelt("belt", "back"), "north": SendBelt("belt", "again")}
    found.edit(300 * MS, made({"base": base}, belts=(belt("7", "8"),)))
    assert steps(found, "e", 400 * MS) == ["8"]


@given(st.lists(st.sampled_from("ewn"), max_size=30), st.lists(st.booleans(), min_size=1, max_size=6), st.booleans())
def test_against_a_plain_model(buttons: list[str], skips: list[bool], wraps: bool) -> None:
    keys = [str(k) for k in range(1, len(skips) + 1)]
    there = [k for k, skip in zip(keys, skips, strict=True) if not skip]
    expected, at = [], None
    for button in buttons:
        if not there:
            expected.append(".")
            continue
        if at is None:
            at = len(there) - 1 if button == "w" and wraps else 0
        elif button != "n":
            new = at + (1 if button == "e" else -1)
            if not wraps and not 0 <= new < len(there):
                expected.append(".")
                continue
            at = new % len(there)
        expected.append(there[at])
    skipped = tuple(k for k, skip in zip(keys, skips, strict=True) if skip)
    assert steps(desk(belt(*keys, skipped=skipped, wraps=wraps)), "".join(buttons)) == expected
