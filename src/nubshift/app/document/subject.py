"""What the inspector shows: the controls selected, or something else of the profile."""

from __future__ import annotations

from enum import Enum

from nubshift.model.profile import Profile
from nubshift.model.slots import BELT, MACRO
from nubshift.records import Record


class SubjectKind(Enum):
    """What sort of thing it is."""

    CONTROL = "control"
    LAYER = "layer"
    PROFILE = "profile"
    COMMAND = "command"
    BELT = "belt"
    MACRO = "macro"


class Subject(Record, frozen=True):
    """`id` is that of the command, belt or macro; the controls and the layer are those selected."""

    kind: SubjectKind
    id: str = ""

    @property
    def on_bench(self) -> bool:
        """Whether it is edited on the bench, in place of the hands."""
        return self.kind in (SubjectKind.BELT, SubjectKind.MACRO)

    @property
    def owner(self) -> str:
        """What stands in place of a control in the slots of a belt or macro."""
        return {SubjectKind.BELT: BELT, SubjectKind.MACRO: MACRO}[self.kind] + self.id

    def is_there(self, profile: Profile) -> bool:
        """Whether the profile has it."""
        match self.kind:
            case SubjectKind.COMMAND:
                return profile.command(self.id) is not None
            case SubjectKind.BELT:
                return profile.belt(self.id) is not None
            case SubjectKind.MACRO:
                return profile.macro(self.id) is not None
            case SubjectKind.CONTROL | SubjectKind.LAYER | SubjectKind.PROFILE:
                return True


CONTROL = Subject(SubjectKind.CONTROL)
LAYER = Subject(SubjectKind.LAYER)
PROFILE = Subject(SubjectKind.PROFILE)


def command(command_id: str) -> Subject:
    """A command of the game."""
    return Subject(SubjectKind.COMMAND, command_id)


def belt(belt_id: str) -> Subject:
    """A belt."""
    return Subject(SubjectKind.BELT, belt_id)


def macro(macro_id: str) -> Subject:
    """A macro."""
    return Subject(SubjectKind.MACRO, macro_id)


def of_owner(owner: str) -> Subject:
    """The belt or macro that stands in place of a control in a slot (``belt:ID``)."""
    if owner.startswith(BELT):
        return belt(owner.removeprefix(BELT))
    return macro(owner.removeprefix(MACRO))
