"""Which profile is used, and what is said of it (N61)."""

from __future__ import annotations

from typing import get_args

import pytest
from msgspec.structs import replace

from nubshift.model.automatic import Automatic, GameRule
from nubshift.model.choosing import Cause, ProfileChoice, Situation, choose, game_without_profile, why
from nubshift.model.programs import ProgramMatch, SeenProgram

DEEP = SeenProgram(7, 1, "/g/deep", group="Deep", title="Deep")
SALT = SeenProgram(8, 1, "/g/salt", group="Salt", title="Salt")
WEB = SeenProgram(9, 1, "/u/web", group="Web", title="Web")
BARE = SeenProgram(7, path="/g/deep")
CHILD = SeenProgram(11, 7, "/g/engine", group="Engine", title="Deep at last")
RULES = Automatic(
    rules=(GameRule("deep", (ProgramMatch(program="deep"),)), GameRule("salt", (ProgramMatch(program="salt"),))),
    never=(ProgramMatch(program="bank"),),
)
NOW = Situation(sees_focus=True)


@pytest.mark.parametrize(
    ("situation", "expected"),
    [
        (NOW, ProfileChoice(None, "none")),
        (replace(NOW, front=DEEP, running=(DEEP,)), ProfileChoice("deep", "rule", game="Deep")),
        (replace(NOW, front=SALT, running=(DEEP, SALT)), ProfileChoice("salt", "rule", game="Salt")),
        (replace(NOW, front=WEB, running=(DEEP, WEB)), ProfileChoice("deep", "waiting", True, "Deep")),
        (replace(NOW, front=WEB, running=(WEB,)), ProfileChoice(None, "none")),
        (replace(NOW, front=WEB, running=(WEB,), edited="x", shown=True), ProfileChoice("x", "open")),
        (replace(NOW, front=WEB, running=(WEB,), edited="x"), ProfileChoice("x", "open")),
        (replace(NOW, edited="deep"), ProfileChoice(None, "none")),  # it starts with its game
        (replace(NOW, edited="deep", shown=True), ProfileChoice("deep", "open")),
        (replace(NOW, front=DEEP, edited="x", shown=True, own_focus=True), ProfileChoice("x", "edited")),
        (replace(NOW, front=DEEP, kept="salt"), ProfileChoice("salt", "kept")),
        (replace(NOW, front=SeenProgram(1, 0, "/u/bank", title="Bank"), edited="x", shown=True),
         ProfileChoice(None, "never", game="Bank")),
        (Situation(running=(replace(DEEP, group="", title=""),)), ProfileChoice("deep", "rule", game="deep")),
        (Situation(running=(DEEP,)), ProfileChoice("deep", "waiting", True, "Deep")),  # its window is told of
        (replace(NOW, front=WEB, running=(BARE, WEB)), ProfileChoice("deep", "rule", game="deep")),  # no window to wait for
        (replace(NOW, front=CHILD, running=(BARE, CHILD)), ProfileChoice("deep", "rule", game="Deep at last")),
        (replace(NOW, front=WEB, running=(BARE, CHILD, WEB)), ProfileChoice("deep", "waiting", True, "deep")),
        (replace(NOW, launched="salt", family=frozenset({7}), front=WEB), ProfileChoice("salt", "launched")),
        (replace(NOW, launched="salt", family=frozenset({7}), front=DEEP, was_front=True),
         ProfileChoice("salt", "launched")),
        (replace(NOW, launched="salt", family=frozenset({7}), front=WEB, was_front=True),
         ProfileChoice("salt", "launched", True)),
    ],
)  # fmt: skip
def test_what_is_chosen(situation: Situation, expected: ProfileChoice) -> None:
    assert choose(RULES, situation) == expected


def test_a_fallback_takes_over_while_no_game_is_in_front() -> None:
    rules = replace(RULES, fallback="desk")
    assert choose(rules, NOW) == ProfileChoice("desk", "fallback")
    assert choose(rules, replace(NOW, front=WEB, running=(DEEP, WEB))) == ProfileChoice("desk", "fallback")
    assert choose(rules, replace(NOW, front=DEEP, running=(DEEP, WEB))).profile == "deep"


def test_a_rule_may_let_its_game_play_on_in_the_background() -> None:
    rules = Automatic(rules=(replace(RULES.rules[0], background="play"),))
    assert choose(rules, replace(NOW, front=WEB, running=(DEEP,))) == ProfileChoice("deep", "background", game="Deep")


def test_every_cause_has_its_sentence() -> None:
    for cause in get_args(Cause):
        for paused in (False, True):
            text = why(ProfileChoice("deep", cause, paused, "Deep"), {"deep": "Ferrow Deep"})
            assert text.endswith(".")
            assert "{" not in text


FULL = SeenProgram(20, 1, "/g/fen", group="Fen", title="Fen", full_screen=True)


def test_a_game_without_a_profile_is_known_by_a_sign_and_offered_once() -> None:
    def offered(
        front: SeenProgram | None, rules: Automatic = RULES, games: frozenset[int] = frozenset(), **more: object
    ) -> bool:
        now = replace(NOW, front=front, running=(DEEP, WEB, FULL), **more)
        return game_without_profile(rules, now, games) is not None

    assert offered(FULL)
    assert offered(WEB, games=frozenset({9}))
    assert not offered(WEB)
    assert not offered(None)
    assert not offered(replace(DEEP, full_screen=True))
    assert not offered(replace(FULL, path="/u/bank"))
    assert not offered(FULL, kept="salt")
    assert not offered(FULL, RULES.with_offered(ProgramMatch(program="/g/fen")))
