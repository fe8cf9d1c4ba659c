"""Which profile goes with which game: the player's rules, in their order (need N61; docs/formats.md).

A file of the player's own, never part of a profile: a profile from elsewhere brings no rule along.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, Final, Literal, TypeAlias

import msgspec
from msgspec.structs import replace

from nubshift.model.files import read_companion
from nubshift.model.part import Part, Text
from nubshift.model.programs import ProgramMatch, SeenProgram
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-automatic"
VERSION: Final = 2

MOST_COMMAND = 2000
"""Characters of a command that starts a game."""
MOST_OFFERED = 500
Command = Annotated[str, msgspec.Meta(max_length=MOST_COMMAND)]
Background: TypeAlias = Literal["pause", "play"]
"""What happens while the game runs without the focus."""


class GameRule(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Use `profile` (the name of its file) while a program fits one of `matches` and none of `exceptions`."""

    profile: Text
    matches: tuple[ProgramMatch, ...] = ()
    exceptions: tuple[ProgramMatch, ...] = ()
    background: Background = "pause"

    def fits(self, seen: SeenProgram, controllers: Iterable[str] = ()) -> bool:
        """Whether this rule means that program."""
        here = tuple(controllers)
        return any(match.fits(seen, here) for match in self.matches) and not any(
            match.fits(seen, here) for match in self.exceptions
        )


class Automatic(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """The rules, the first that fits counts; `never` are programs in which no profile is used; `fallback` is the
    profile for all else, empty for none.

    `commands` start the games of profiles, by their names; `offered` are games for which a profile was offered: that is
    done once. Version 1 had neither.
    """

    format: Literal["nubshift-automatic"] = FORMAT
    version: Literal[1, 2] = VERSION
    rules: tuple[GameRule, ...] = ()
    never: tuple[ProgramMatch, ...] = ()
    fallback: Text = ""
    commands: dict[Text, Command] = msgspec.field(default_factory=dict)
    offered: tuple[ProgramMatch, ...] = ()

    @property
    def marks(self) -> frozenset[str]:
        """The names of the variables of environments that rules speak of."""
        matches = [m for rule in self.rules for m in (*rule.matches, *rule.exceptions)] + list(self.never)
        return frozenset(match.mark.partition("=")[0] for match in matches if match.mark)

    def rule_for(self, seen: SeenProgram, controllers: Iterable[str] = ()) -> GameRule | None:
        """The first rule that means this program."""
        here = tuple(controllers)
        return next((rule for rule in self.rules if rule.fits(seen, here)), None)

    def is_never(self, seen: SeenProgram) -> bool:
        """Whether no profile is used in this program."""
        return any(match.fits(seen) for match in self.never)

    def is_offered(self, seen: SeenProgram) -> bool:
        """Whether a profile was offered for this game before."""
        return any(match.fits(seen) for match in self.offered)

    def with_never(self, match: ProgramMatch) -> Automatic:
        """The same with one more program in which no profile is used."""
        return self if match in self.never else replace(self, never=(*self.never, match))

    def with_offered(self, match: ProgramMatch) -> Automatic:
        """The same once a profile was offered for a game; the oldest of very many are forgotten."""
        return replace(self, offered=(*self.offered, match)[-MOST_OFFERED:])

    def rules_of(self, profile: str) -> tuple[GameRule, ...]:
        """The rules that use a profile."""
        return tuple(rule for rule in self.rules if rule.profile == profile)

    def with_rule(self, rule: GameRule) -> Automatic:
        """The same with this rule first, since the newest wish counts."""
        return replace(self, rules=(rule, *self.rules))

    def with_match(self, profile: str, match: ProgramMatch) -> Automatic:
        """The same with a profile used for what fits `match`, and no other profile by the same words."""
        others = tuple(
            replace(rule, matches=tuple(m for m in rule.matches if m != match)) if rule.profile != profile else rule
            for rule in self.rules
        )
        rest = tuple(rule for rule in others if rule.matches or rule.profile == profile)
        own = next((rule for rule in rest if rule.profile == profile), None)
        cleared = replace(self, rules=rest, never=tuple(m for m in self.never if m != match))
        if own is None:
            return cleared.with_rule(GameRule(profile, (match,)))
        if match in own.matches:
            return cleared
        fuller = replace(own, matches=(*own.matches, match))
        return replace(cleared, rules=tuple(fuller if rule is own else rule for rule in rest))

    def with_command(self, profile: str, command: str) -> Automatic:
        """The same with a command that starts the game of a profile; an empty one for none."""
        rest = {name: text for name, text in self.commands.items() if name != profile}
        return replace(self, commands={**rest, profile: command} if command else rest)

    def without(self, place: int) -> Automatic:
        """The same without the rule at a place."""
        return replace(self, rules=tuple(rule for at, rule in enumerate(self.rules) if at != place))

    def moved(self, place: int, to: int) -> Automatic:
        """The same with the rule at `place` at the place `to`."""
        rules = list(self.rules)
        rules.insert(to, rules.pop(place))
        return replace(self, rules=tuple(rules))

    def renamed(self, old: str, new: str) -> Automatic:
        """The same after a profile's file got another name."""
        return replace(
            self,
            rules=tuple(replace(rule, profile=new) if rule.profile == old else rule for rule in self.rules),
            fallback=new if self.fallback == old else self.fallback,
            commands={new if name == old else name: text for name, text in self.commands.items()},
        )


def read_automatic(path: Path) -> Automatic:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, Automatic, _("Which profile starts with which game")) or Automatic()


def write_automatic(path: Path, automatic: Automatic) -> None:
    """Save it. Raises StorageError."""
    newest = replace(automatic, version=VERSION)
    write_atomically(path, msgspec.json.format(msgspec.json.encode(newest), indent=2) + b"\n")
