"""Which profile is used now, and why (need N61). Pure: everything that is known goes in, one choice comes out.

The order in which things count, the first that applies:

1. While the Nub Shift window has the focus, the profile that is edited there. Nothing is sent then (N13).
2. The profile that the player keeps on purpose.
3. The profile of a game that was started with it.
4. In front: a program that is never played in uses none; one that a rule means uses the rule's profile.
5. A game that a rule means runs without the focus: paused, unless its rule says otherwise or there is a fallback.
6. The profile that is open in the window; once the window is closed, only if no rule is its own.
7. The fallback, else none.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, TypeAlias

import msgspec

from nubshift.model.automatic import Automatic, GameRule
from nubshift.model.programs import SeenProgram, lineage
from nubshift.texts import _

Cause: TypeAlias = Literal[
    "edited", "kept", "launched", "never", "rule", "background", "waiting", "open", "fallback", "none"
]


class Situation(msgspec.Struct, frozen=True):
    """All that a choice depends on.

    `front` is the program whose window has the focus, None where none has it; `sees_focus` says whether that can be
    told here at all. `running` are all programs and windows seen. `edited` is the profile in the window; `shown` says
    whether that window is there, `own_focus` whether it has the focus. `launched` is the profile of the game that was
    started with it, `family` the processes of that game, `was_front` whether it had the focus once.
    """

    front: SeenProgram | None = None
    sees_focus: bool = False
    running: tuple[SeenProgram, ...] = ()
    controllers: tuple[str, ...] = ()
    edited: str | None = None
    shown: bool = False
    own_focus: bool = False
    kept: str | None = None
    launched: str | None = None
    family: frozenset[int] = frozenset()
    was_front: bool = False


class ProfileChoice(msgspec.Struct, frozen=True, omit_defaults=True):
    """The profile to use (None: none), the `cause`, whether output waits for the game's focus, and the `game` meant."""

    profile: str | None
    cause: Cause
    paused: bool = False
    game: str = ""


def choose(automatic: Automatic, situation: Situation) -> ProfileChoice:
    """The profile to use now."""
    now = situation
    if now.own_focus and now.edited is not None:
        return ProfileChoice(now.edited, "edited")
    if now.kept is not None:
        return ProfileChoice(now.kept, "kept")
    if now.launched is not None:
        away = now.sees_focus and now.was_front and not (now.front is not None and now.front.pid in now.family)
        return ProfileChoice(now.launched, "launched", paused=away)
    if now.front is not None:
        if automatic.is_never(now.front):
            return ProfileChoice(None, "never", game=now.front.called)
        rule = automatic.rule_for(now.front, now.controllers) or _rule_above(automatic, now, now.front)
        if rule is not None:
            return ProfileChoice(rule.profile, "rule", game=now.front.called)
    found = _running(automatic, now)
    if found is not None:
        rule, seen = found
        if not _can_be_in_front(seen, now):
            return ProfileChoice(rule.profile, "rule", game=seen.called)
        if rule.background == "play":
            return ProfileChoice(rule.profile, "background", game=seen.called)
        if not automatic.fallback:
            return ProfileChoice(rule.profile, "waiting", paused=True, game=seen.called)
    if now.edited is not None and (now.shown or not automatic.rules_of(now.edited)):
        return ProfileChoice(now.edited, "open")
    if automatic.fallback:
        return ProfileChoice(automatic.fallback, "fallback")
    return ProfileChoice(None, "none")


def game_without_profile(automatic: Automatic, now: Situation, games: frozenset[int]) -> SeenProgram | None:
    """The program in front, if it is a game by some sign and no profile goes with it. `games` are known as such."""
    front = now.front
    if front is None or now.own_focus or now.kept is not None or now.launched is not None or not front.called:
        return None
    if automatic.is_never(front) or automatic.is_offered(front):
        return None
    if automatic.rule_for(front, now.controllers) or _rule_above(automatic, now, front):
        return None
    is_game = front.full_screen or bool(games & lineage(front.pid, now.running))
    return front if is_game else None


def _rule_above(automatic: Automatic, now: Situation, front: SeenProgram) -> GameRule | None:
    """The first rule that means a program from which the one in front descends: a launcher's, or a script's."""
    above = lineage(front.pid, now.running)
    family = [seen for seen in now.running if seen.pid in above]
    return next((r for r in automatic.rules if any(r.fits(seen, now.controllers) for seen in family)), None)


def _can_be_in_front(seen: SeenProgram, now: Situation) -> bool:
    """Whether it could be told that this program is in front: it, or what it started, has a window seen here."""
    return seen.has_window or any(
        other.has_window and seen.pid in lineage(other.pid, now.running) for other in now.running
    )


def _running(automatic: Automatic, now: Situation) -> tuple[GameRule, SeenProgram] | None:
    """The first rule that means something that runs, and what it means."""
    for rule in automatic.rules:
        for seen in now.running:
            if rule.fits(seen, now.controllers) and not automatic.is_never(seen):
                return rule, seen
    return None


def why(choice: ProfileChoice, titles: Mapping[str, str]) -> str:
    """The sentence that says why this profile is used now. `titles` are those of profiles, by their names."""
    title = titles.get(choice.profile, choice.profile) if choice.profile is not None else ""
    words = {
        "edited": _("Editing {title}. Nothing is sent while this window is in front."),
        "kept": _("You chose to stay on {title}."),
        "launched": _("{title} was started with its game."),
        "never": _("No profile is used in {game}: you chose that."),
        "rule": _("{title} is used because {game} is running."),
        "background": _("{title} is used although {game} is in the background: its rule says so."),
        "waiting": _("{title} waits until {game} is in front again."),
        "open": _("{title} is used because it is open in Nub Shift."),
        "fallback": _("{title} is used because no game with a profile is in front."),
        "none": _("No profile is used: no game with a profile is running."),
    }
    text = words[choice.cause]
    if choice.cause == "launched" and choice.paused:
        text = _("{title} waits until its game is in front again.")
    if choice.game == title:
        same = {
            "rule": _("{title} is running."),
            "background": _("{title} is running, and its rule says to go on in the background."),
            "waiting": _("{title} waits until it is in front again."),
        }
        text = same.get(choice.cause, text)
    return text.format(title=title or _("Untitled"), game=choice.game)
