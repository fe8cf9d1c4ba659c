"""Sticks as keys and as mouse: they follow their value and the layers at once (contract R4, R8, R9)."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from nubshift.engine.grip import Grip, Ledger
from nubshift.engine.motion import Mover, Speed
from nubshift.engine.program import Blocked, Step, StickEntry, StickKeys, StickMouse, StickRole, setting_layer
from nubshift.events import Output
from nubshift.feel.directions import angle_of, held_sector
from nubshift.feel.response import Response, number, response
from nubshift.model.parameters import KEY_HYSTERESIS, SECTOR_HYSTERESIS
from nubshift.model.profile import merged_feel
from nubshift.units import MILLISECOND, SECOND, Micros


@dataclass(frozen=True, slots=True)
class Tuning:
    """The feel of a stick under one set of layers, ready to use. Speeds are in counts per µs at full tilt."""

    press_radius: float
    release_radius: float
    diagonal: float
    respond: Response
    speed_x: float
    speed_y: float
    boost: float
    rise: Micros


def tuning(entry: StickEntry, order: tuple[int, ...], counts_per_degree: float) -> Tuning:
    """The merged feel of a stick while the layers `order` (newest first) are active."""
    feel = merged_feel(tuple(entry.feels[layer] for layer in order))
    radius = number(feel.key_radius)
    speed = number(feel.speed) * counts_per_degree / SECOND
    return Tuning(
        press_radius=radius,
        release_radius=radius - KEY_HYSTERESIS,
        diagonal=number(feel.diagonal),
        respond=response(feel),
        speed_x=speed,
        speed_y=speed / number(feel.ratio),
        boost=number(feel.edge_boost),
        rise=max(1, round(number(feel.edge_time) * MILLISECOND)),
    )


class StickState:
    """One stick of one seat: its value, the role it follows, and what it holds."""

    __slots__ = ("_mover", "_tunings", "entry", "grip", "role", "sector", "speed", "x", "y")

    def __init__(self, entry: StickEntry, ledger: Ledger, mover: Mover) -> None:
        self.entry = entry
        self.grip = Grip(ledger)
        self.role: StickRole | None = None
        self.sector: int | None = None
        self.speed = Speed()
        self.x = 0.0
        self.y = 0.0
        self._mover = mover
        self._tunings: dict[tuple[int, ...], Tuning] = {}

    def set_entry(self, entry: StickEntry) -> None:
        """Go on with an edited entry."""
        self.entry = entry
        self._tunings.clear()

    def follow(self, order: tuple[int, ...], counts_per_degree: float, t: Micros, out: list[Output]) -> None:
        """Act on the present value with these active layers (indexes, newest first)."""
        if not self.grip.holds_layer:
            layer = setting_layer(self.entry.roles, order)
            found = None if layer is None else self.entry.roles[layer]
            role = None if isinstance(found, Blocked) else found
            if role != self.role:
                self._leave_mouse(t)
                self.sector = None
            self.role = role
        tuned = self._tunings.get(order)
        if tuned is None:
            tuned = self._tunings[order] = tuning(self.entry, order, counts_per_degree)
        role = self.role
        if isinstance(role, StickMouse):
            self.grip.end_all(t, out)
            self._move(tuned, t)
        elif isinstance(role, StickKeys):
            self._press(role, tuned, t, out)
        else:
            self.grip.end_all(t, out)

    def _press(self, role: StickKeys, tuned: Tuning, t: Micros, out: list[Output]) -> None:
        length = hypot(self.x, self.y)
        if length < (tuned.press_radius if self.sector is None else tuned.release_radius):
            self.sector = None
            self.grip.end_all(t, out)
            return
        angle = angle_of(self.x, self.y)
        sector = held_sector(angle, tuned.diagonal, self.sector, SECTOR_HYSTERESIS)
        self.sector = sector
        steps: dict[Step, None] = {}
        for press in role.sectors[sector]:
            steps.update(dict.fromkeys(press.steps))
        self.grip.change_to(steps, t, out)

    def _move(self, tuned: Tuning, t: Micros) -> None:
        speed = self.speed
        self._mover.gather(speed, t)
        x, y, at_edge = tuned.respond(self.x, self.y)
        if not at_edge:
            speed.edge_since = None
        elif speed.edge_since is None:
            speed.edge_since = t
        speed.boost, speed.rise = tuned.boost, tuned.rise
        self._mover.set(speed, x * tuned.speed_x, y * tuned.speed_y, t)

    def _leave_mouse(self, t: Micros) -> None:
        self._mover.gather(self.speed, t)
        self.speed.edge_since = None
        self._mover.set(self.speed, 0.0, 0.0, t)

    def rest(self, t: Micros) -> None:
        """Stop acting: hold and move nothing; the value stays known (R12)."""
        self.grip.forget()
        self._leave_mouse(t)
        self.role = None
        self.sector = None

    def drop_deleted(self, layers: set[str], t: Micros, out: list[Output]) -> None:
        """Release what a role of a deleted layer holds (R12)."""
        if self.role is not None and self.role.layer not in layers:
            self.grip.end_all(t, out)
            self._leave_mouse(t)
            self.role = None
            self.sector = None
