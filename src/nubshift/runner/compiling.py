"""Profiles made ready to be played, beside the play: in a thread of its own, so that no report waits for an edit."""

from __future__ import annotations

import os
import sys
import threading
from collections.abc import Callable, Mapping
from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from nubshift.engine.compile import Compiler, compile_profile
from nubshift.engine.program import Program
from nubshift.errors import ProfileError, ProtocolError, StorageError
from nubshift.model.layouts import US, Layout
from nubshift.model.neighbours import read_neighbours
from nubshift.model.profile import Profile
from nubshift.model.rules import problems_of
from nubshift.model.store import read_profile
from nubshift.protocol.edit_parts import edited
from nubshift.protocol.messages import Edit, Use
from nubshift.texts import _

SWITCH_SECONDS = 0.0003
"""How long the compiling thread may keep the interpreter from the loop while that wants it."""


class Compiled(Struct, frozen=True):
    """A profile with its program. `name` is that of its file, by which it is known again; empty where there is none."""

    profile: Profile
    program: Program
    name: str = ""


def compiled(
    profile: Profile, others: Mapping[str, Profile] | None = None, layout: Layout = US, name: str = ""
) -> Compiled:
    """A profile made ready by itself; see `compile_profile`."""
    return Compiled(profile, compile_profile(profile, others, layout), name)


class Ready(Struct, frozen=True):
    """The answer to a request: what is to be played, or the `trouble` why not.

    `edit` is the number of a `Use` or `Edit`, None for a profile that was loaded by its `name`; `switch`: it is another
    profile than the one edited before.
    """

    edit: int | None
    switch: bool
    compiled: Compiled | None
    trouble: str = ""
    name: str = ""


class Load(Struct, frozen=True):
    """Make the profile in a file ready."""

    name: str
    path: Path


class Compiling:
    """Compiles what the window asks for. Of requests that wait only the newest counts; a switch among them is kept.

    `fileno` becomes readable when `take` has something. `layout` asks for the keyboard layout, anew for each profile.
    """

    def __init__(self, layout: Callable[[], Layout]) -> None:
        sys.setswitchinterval(SWITCH_SECONDS)
        self._ask_layout, self._layout = layout, US
        self._compiler = Compiler()
        self._use: Use | None = None
        self._good: Profile | None = None
        self._lock = threading.Condition()
        self._waiting: list[Use | Edit] = []
        self._loads: list[Load] = []
        self._done: list[Ready] = []
        self._over = False
        self._awake, self._wake = os.pipe()
        os.set_blocking(self._awake, False)
        os.set_blocking(self._wake, False)
        self._thread = threading.Thread(target=self._run, name="compiling", daemon=True)
        self._thread.start()

    def fileno(self) -> int:
        """Readable when something is ready."""
        return self._awake

    def ask(self, request: Use | Edit) -> None:
        """Compile this as soon as possible."""
        with self._lock:
            self._waiting.append(request)
            self._lock.notify()

    def load(self, name: str, path: Path) -> None:
        """Read the profile in a file, with those that it enters, and compile it. It does not count as edited."""
        with self._lock:
            self._loads = [*(load for load in self._loads if load.name != name), Load(name, path)]
            self._lock.notify()

    def take(self) -> list[Ready]:
        """What is ready since this was asked last."""
        with self._lock:
            try:
                while os.read(self._awake, 64):
                    pass
            except BlockingIOError:
                pass
            done, self._done = self._done, []
        return done

    def close(self) -> None:
        """End the thread; what it does not have ready is never done."""
        with self._lock:
            self._over = True
            self._lock.notify()
        self._thread.join(5)
        os.close(self._awake)
        os.close(self._wake)

    def _run(self) -> None:
        while True:
            with self._lock:
                while not self._waiting and not self._loads and not self._over:
                    self._lock.wait()
                if self._over:
                    return
                waiting, self._waiting = self._waiting, []
                loads, self._loads = self._loads, []
            done = [self._compile(waiting)] if waiting else []
            done += [self._load(load) for load in loads]
            with self._lock:
                self._done += done
                os.write(self._wake, b"!")

    def _load(self, load: Load) -> Ready:
        try:
            profile = read_profile(load.path)
            others = read_neighbours(profile, load.path.parent)
        except (ProfileError, StorageError) as error:
            return Ready(None, True, None, str(error), load.name)
        self._layout = self._ask_layout()
        return Ready(None, True, compiled(profile, others, self._layout, load.name), name=load.name)

    def _compile(self, waiting: list[Use | Edit]) -> Ready:
        switch = False
        newest = waiting[-1].edit
        try:
            for request in waiting:
                if isinstance(request, Use):
                    self._use, switch = request, switch or request.switch
                elif self._use is None or self._use.edit != request.base:
                    raise ProtocolError(
                        _("edit {edit} is of a state of the profile that is not known here").format(edit=request.edit)
                    )
                else:
                    self._use = replace(self._use, profile=edited(self._use.profile, request), edit=request.edit)
            assert self._use is not None
            use = self._use
            problem = next(problems_of(use.profile, self._good), None)
            if problem is not None:
                raise ProtocolError(_("the profile can't be played: {problem}").format(problem=problem))
            for name, other in use.others.items():
                problem = next(problems_of(other), None)
                if problem is not None:
                    raise ProtocolError(
                        _("the profile {name} can't be entered: {problem}").format(name=name, problem=problem)
                    )
            if any(isinstance(request, Use) for request in waiting):
                self._layout = self._ask_layout()
            program = self._compiler.program(use.profile, use.others, self._layout)
            self._good = use.profile
        except ProtocolError as error:
            self._use = self._good = None
            return Ready(newest, switch, None, str(error))
        return Ready(newest, switch, Compiled(use.profile, program, use.name))
