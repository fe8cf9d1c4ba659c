"""Simulated controllers: product code behind the same port as real ones, with noise and drift like theirs.

A pad is steered control by control (from the window or a test), or played by a script. While a script plays, a stick is
out or somebody watches a control, it reports as often as its hardware would; else it is silent at rest.
"""

from __future__ import annotations

from collections.abc import Set
from math import atan2, hypot
from pathlib import Path
from random import Random

import msgspec

from nubshift.devices.faults import OUT, Faults
from nubshift.devices.player import Player, Script, read_script
from nubshift.devices.port import Timed
from nubshift.devices.simulation import Simulation
from nubshift.errors import SourceError, did_you_mean
from nubshift.events import Change
from nubshift.feel.gravity import Vector, turned
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import CONTROLS, PAD_CONTROLS, Kind
from nubshift.texts import _
from nubshift.units import MILLISECOND, SECOND, Micros

REPORT_EVERY: Micros = 4 * MILLISECOND
LONGEST_LAG: Micros = 2 * SECOND
"""If nobody read for longer than this, the reports before it are lost; a shorter lag loses nothing."""
STICK_NOISE = 0.004
"""Standard deviation of a stick's noise, as a share of its reach; common for cheap potentiometers."""
STICK_DRIFT = 0.012
"""How far from zero a stick comes to rest."""
MOTION_NOISE = 0.3
"""Standard deviation of the gyro's noise in degrees a second."""
PULL_NOISE = 0.004
"""Standard deviation of the accelerometer's noise in g."""
MOTION_REACH = 200.0
"""Degrees a second at a script's value of 1."""


class SimulatedModel(msgspec.Struct, frozen=True):
    """A model of simulated pad: its name and what it has."""

    name: str
    controls: tuple[str, ...]
    every: Micros = REPORT_EVERY
    faults: dict[str, Faults] = {}


WORN = {
    "left_stick": Faults(noise=0.006, offset=(0.012, 0.03), stuck=0.03),
    "right_stick": Faults(noise=0.011, offset=(-0.068, 0.041), stuck=0.035, reach=(0.93, 0.9, 0.84, 0.95)),
}
PADS: dict[str, SimulatedModel] = {
    "moss": SimulatedModel("Moss pad", PAD_CONTROLS),
    "swift": SimulatedModel("Swift pad", PAD_CONTROLS, MILLISECOND),
    "burr": SimulatedModel("Burr pad, worn", PAD_CONTROLS, REPORT_EVERY, WORN),
}


def pad_info(model: str) -> ControllerInfo:
    """What the player is told of a model."""
    pad = PADS[model]
    return ControllerInfo(
        f"sim:{model}",
        pad.name,
        pad.controls,
        simulated=True,
        key=f"sim:{model}",
        model=pad.name,
        shape="pad",
        rumbles=True,
        raw_inputs=pad.controls,
    )


class SimulatedPad(Simulation):
    """One simulated pad. The same `seed` and the same calls give the same reports."""

    def __init__(self, model: str, script: Script | None = None, now: Micros = 0, *, seed: int = 1, noise: bool = True):
        if model not in PADS:
            raise SourceError(
                _('there is no simulated pad "{model}".{did_you_mean}').format(
                    model=model, did_you_mean=did_you_mean(model, list(PADS))
                )
            )
        self._info = pad_info(model)
        self.rumbles_at = 0.0
        self._random = Random(seed)
        self._noise = noise
        self._every = PADS[model].every
        self._faults = {
            name: self._faults_of(name, noise) for name in self._info.controls if CONTROLS[name].kind is Kind.STICK
        }
        self._came_from: dict[str, float] = {}
        self._watched = ""
        self._wanted: dict[str, tuple[float, float]] = dict.fromkeys(self._info.controls, (0.0, 0.0))
        self._told: dict[str, tuple[float, float]] = {name: self._sensed(name) for name in self._info.controls}
        self._down: Vector = (0.0, 1.0, 0.0)
        self._turned_at = now
        self._pending: list[Timed] = []
        self._player = Player(script, now) if script else None
        self._next: Micros | None = now if script else None

    def _faults_of(self, name: str, noise: bool) -> Faults:
        """Those of the model; else what every cheap stick has."""
        worn = PADS[self._info.id.removeprefix("sim:")].faults.get(name)
        if not noise or worn is not None:
            return worn or Faults()
        rest = self._random.uniform(-STICK_DRIFT, STICK_DRIFT), self._random.uniform(-STICK_DRIFT, STICK_DRIFT)
        return Faults(noise=STICK_NOISE, offset=rest)

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        return self._info

    @property
    def playing(self) -> bool:
        """Whether a script is at work."""
        return self._player is not None

    @property
    def next_deadline(self) -> Micros | None:
        """When it reports next."""
        return self._pending[0][0] if self._pending else self._next

    def rumble(self, strength: float) -> None:
        """What it was told last is kept for whoever wants to see it."""
        self.rumbles_at = strength

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return tuple((name, *value) for name, value in self._told.items())

    def steer(self, control: str, x: float, y: float, now: Micros) -> None:
        """Put a control somewhere, as a hand would; it reports at once. A script that plays is ended."""
        if control not in self._wanted:
            return
        if self._player is not None:
            self.let_go(now)
        self._put(control, x, y)
        self._report([control], now)
        self._next = now + self._every if self._busy() else None

    def watch(self, control: str, now: Micros) -> None:
        """Somebody wants to see every report of a control, also while it rests; empty for nobody."""
        self._watched = control if control in self._wanted else ""
        if self._watched and self._next is None:
            self._next = now
        elif self._player is None and not self._busy():
            self._next = None

    def _put(self, control: str, x: float, y: float) -> None:
        """Where a hand puts a control; a stick that was out remembers from where it comes back."""
        before = self._wanted[control]
        if hypot(*before) > OUT and CONTROLS[control].kind is Kind.STICK:
            self._came_from[control] = atan2(before[1], before[0])
        self._wanted[control] = (x, y)

    def play(self, script: Script, now: Micros) -> None:
        """Let a script move the pad from now on."""
        self.let_go(now)
        self._player = Player(script, now)
        self._next = now

    def let_go(self, now: Micros) -> None:
        """End a script and put every control to rest."""
        self._player = None
        self._next = now if self._watched else None
        moved = [name for name, value in self._wanted.items() if value != (0.0, 0.0)]
        for name in moved:
            self._put(name, 0.0, 0.0)
        self._report(moved, now)

    def read(self, now: Micros, ready: Set[int] | None = None) -> list[Timed]:
        """The reports due up to `now`; those in the past come with the times at which they were due."""
        while self._next is not None and self._next <= now:
            t = self._next
            self._step(t)
            if self._next is not None:
                self._next = max(t + self._every, now - LONGEST_LAG)
        found, self._pending = self._pending, []
        return found

    def _step(self, t: Micros) -> None:
        player = self._player
        if player is not None:
            if t >= player.end:
                self.let_go(t)
                return
            for control, x, y in player.state(t):
                self._put(control, x, y)
        self._report(list(self._wanted), t)

    def _busy(self) -> bool:
        if self._watched:
            return True
        kinds = (Kind.STICK, Kind.MOTION)
        return any(value != (0.0, 0.0) and CONTROLS[n].kind in kinds for n, value in self._wanted.items())

    def _report(self, controls: list[str], t: Micros) -> None:
        changes: list[Change] = []
        for name in controls:
            value = self._sensed(name)
            if value != self._told[name]:
                self._told[name] = value
                changes.append((name, *value))
                if CONTROLS[name].kind is Kind.MOTION:
                    changes += self._pull(t)
        if changes:
            self._pending.append((t, tuple(changes)))

    def _pull(self, t: Micros) -> list[Change]:
        """What the accelerometer says: the pull of gravity in the pad's axes, which turn as the hand turns it."""
        turn, nod = self._wanted["motion"]
        step = min(t - self._turned_at, LONGEST_LAG) / SECOND
        self._turned_at = t
        self._down = turned(self._down, (-nod * MOTION_REACH, turn * MOTION_REACH, 0.0), step)
        noise = PULL_NOISE if self._noise else 0.0
        x, y, z = (round(part + self._random.gauss(0, noise), 4) for part in self._down)
        return [("gravity", x, y), ("gravity_z", z, 0.0)]

    def _sensed(self, name: str) -> tuple[float, float]:
        """What the sensor says of where a control is wanted: exact for buttons and triggers, noisy for the rest."""
        x, y = self._wanted[name]
        kind = CONTROLS[name].kind
        if kind is Kind.MOTION:
            x, y = x * MOTION_REACH, y * MOTION_REACH
            if not self._noise:
                return x, y
            return round(x + self._random.gauss(0, MOTION_NOISE), 2), round(y + self._random.gauss(0, MOTION_NOISE), 2)
        if kind is not Kind.STICK:
            return x, y
        return self._faults[name].sensed(x, y, self._came_from.get(name), self._random)


def open_simulated(words: str, now: Micros, scripts: Path) -> SimulatedPad:
    """The pad for ``PAD[:PLAYER]``; PLAYER is a script's file or the name of one in the folder `scripts`.

    Raises SourceError or TakeError.
    """
    model, _unused, player = words.partition(":")
    if not player:
        return SimulatedPad(model or "moss", None, now)
    named = scripts / f"{player}.player.json"
    return SimulatedPad(model or "moss", read_script(named if named.exists() else Path(player)), now)
