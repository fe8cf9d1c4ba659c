"""Belts (contract R14): ordered lists that buttons step through, all sharing the position."""

from __future__ import annotations

from nubshift.engine.act import Act
from nubshift.engine.context import Context, HeldSteps, Step
from nubshift.engine.owner import Owner
from nubshift.records import Record
from nubshift.units import Micros


class BeltInfo(Record, frozen=True):
    """A belt: what each entry does (None: skipped), the command it can be followed by, and how it steps."""

    acts: tuple[Act | None, ...]
    commands: tuple[str, ...]
    wraps: bool
    pause: Micros


class BeltStep(Step, frozen=True):
    """Step a belt (``next``, ``back``, ``again``), then hold the entry it came to."""

    belt: str
    how: str

    def begin(self, context: Context, owner: Owner) -> HeldSteps | None:
        """Step and send."""
        steps = context.step_belt(self.belt, self.how)
        if not steps:
            return None
        held = HeldSteps(context, owner)
        held.begin(steps)
        return held

    def end(self, context: Context, token: object) -> None:
        """Let go of the entry it got."""
        if isinstance(token, HeldSteps):
            token.end_all()

    def drop(self, context: Context, token: object) -> None:
        """What it holds is dropped by itself."""


class FollowStep(Step, frozen=True):
    """Momentary: another binding sends `command`, so belts that have it take its place. `but` is the sender's own."""

    command: str
    but: str = ""

    def begin(self, context: Context, owner: Owner) -> None:
        """Follow."""
        context.follow_command(self.command, self.but)


class Belts:
    """The position of each belt: the entry sent last, None at the start; and when it was last stepped."""

    def __init__(self, infos: dict[str, BeltInfo]) -> None:
        self._infos = infos
        self._at: dict[str, int] = {}
        self._last: dict[str, Micros] = {}

    def at(self, belt: str) -> int | None:
        """The entry of a belt that was sent last."""
        return self._at.get(belt)

    def replace(self, infos: dict[str, BeltInfo]) -> None:
        """Go on with edited belts; those that still exist keep their position as far as it is there."""
        self._infos = infos
        self._at = {b: at for b, at in self._at.items() if b in infos and at < len(infos[b].acts)}

    def step(self, belt: str, how: str, t: Micros) -> Act | None:
        """What to send after this step; None past a stopping end, or where every entry is skipped."""
        info = self._infos.get(belt)
        if info is None:
            return None
        last = self._last.get(belt)
        if info.pause and last is not None and t - last >= info.pause:
            self._at.pop(belt, None)
        self._last[belt] = t
        reached = self._reach(info, self._at.get(belt), how)
        if reached is None:
            return None
        self._at[belt] = reached
        return info.acts[reached]

    @staticmethod
    def _reach(info: BeltInfo, at: int | None, how: str) -> int | None:
        there = [index for index, act in enumerate(info.acts) if act is not None]
        if not there:
            return None
        if at is None:
            return there[-1] if how == "back" and info.wraps else there[0]
        if how == "again":
            return at if at in there else next((i for i in there if i > at), there[0])
        if how == "next":
            return next((i for i in there if i > at), there[0] if info.wraps else None)
        return next((i for i in reversed(there) if i < at), there[-1] if info.wraps else None)

    def follow(self, command: str, but: str) -> None:
        """Another binding sent this command: belts take the position of their first entry with it."""
        for belt, info in self._infos.items():
            if belt != but and command in info.commands:
                self._at[belt] = info.commands.index(command)
