"""How the hardware of a model of controller becomes controls: the document that teaching makes (docs/formats.md).

An input joins one key or axis of the kernel to one control, or to one side of it. Values are those of the device; what
comes out is in normal form (contract R2).
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, Final, Literal, TypeAlias

import msgspec
from msgspec import field

from nubshift.errors import StorageError
from nubshift.model.controls import CONTROLS, Kind, kind_of
from nubshift.model.files import JsonTrouble, parse_as, put_aside, read_bytes
from nubshift.model.part import Part, Text
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-wiring"
SETUP_SUFFIX = ".nubshift-wiring.json"

InputKind: TypeAlias = Literal["key", "axis"]
Side: TypeAlias = Literal["both", "above", "below"]
RELEASE: Final = 0.8
"""A side of an axis that counts as a button lets go at this share of the depth at which it presses."""


RAW_INPUT = "raw:"
"""Before the name of an input of simulated hardware, in place of a control: a hand does it, however it is mapped."""


class InputMapping(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """One key or axis (`code` as in linux/input-event-codes.h) and the control that it is, or is a part of.

    For an axis: `low`, `rest` and `high` are the device's values at its ends and at rest; `side` is what of it counts,
    `flip` turns it round, and `component` says which half of a stick it is. With `press`, a share of the way from
    rest, it is a button.
    """

    control: str
    source: InputKind
    code: Annotated[int, msgspec.Meta(ge=0, le=0x2FF)]
    component: Literal["x", "y"] = "x"
    low: int = 0
    rest: int = 0
    high: int = 0
    side: Side = "both"
    flip: bool = False
    press: Annotated[float, msgspec.Meta(gt=0, le=1)] | None = None

    def normal(self, value: int) -> float:
        """What a value of the device means, each half scaled on its own from rest and clipped."""
        if self.source == "key":
            return 1.0 if value else 0.0
        span = self.high - self.rest if value >= self.rest else self.rest - self.low
        share = max(-1.0, min(1.0, (value - self.rest) / span)) if span else 0.0
        match self.side:
            case "above":
                share = max(0.0, share)
            case "below":
                share = max(0.0, -share)
            case "both" if self.flip:
                share = -share
        return share if share else 0.0

    def value(self, normal: float) -> int:
        """The other way round: the value of the device that means `normal`."""
        if self.source == "key":
            return int(normal > 0)
        if self.press is not None:
            normal = float(normal > 0)
        way = -normal if self.side == "below" or (self.side == "both" and self.flip) else normal
        return round(self.rest + way * (self.high - self.rest if way > 0 else self.rest - self.low))


def two_sided(inputs: Iterable[InputMapping]) -> tuple[str, ...]:
    """The controls of these inputs that go both ways along one axis: a twist, a rocker, a hole to puff and sip."""
    sides: dict[str, set[str]] = {}
    for input_ in inputs:
        if input_.source == "axis" and input_.press is None and kind_of(input_.control) is Kind.AXIS:
            ends = input_.side == "both" and input_.low < input_.rest < input_.high
            sides.setdefault(input_.control, set()).update(("above", "below") if ends else (input_.side,))
    return tuple(control for control, there in sides.items() if {"above", "below"} <= there)


class ControllerSetup(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """How one model is wired. `model` is what the system calls it; `names` are the player's own words for controls."""

    model: Text
    inputs: tuple[InputMapping, ...] = field(name="wires")
    format: Literal["nubshift-wiring"] = FORMAT
    version: Literal[1] = 1
    shape: Text = ""
    names: dict[str, Text] = field(default_factory=dict)

    @property
    def controls(self) -> tuple[str, ...]:
        """Its controls, in the order of the window."""
        there = {input_.control for input_ in self.inputs}
        return tuple(name for name in CONTROLS if name in there)


def parse_setup(data: bytes, where: str) -> ControllerSetup:
    """A setup from the text of a file. Raises StorageError that says what is wrong with it."""
    try:
        setup = parse_as(data, ControllerSetup)
    except JsonTrouble as error:
        place = _("{file}, line {line}").format(file=where, line=error.line) if error.line else where
        raise StorageError(
            _("{place}: this is not a usable controller setup: {error}").format(place=place, error=error)
        ) from error
    unknown = sorted({input_.control for input_ in setup.inputs} - set(CONTROLS))
    if unknown:
        raise StorageError(_('{where}: there is no control "{unknown}"').format(where=where, unknown=unknown[0]))
    return setup


def setup_text(setup: ControllerSetup) -> bytes:
    """A setup as it is written."""
    return msgspec.json.format(msgspec.json.encode(setup), indent=2) + b"\n"


def file_name(model: str) -> str:
    """The name of the file in which a model's setup is kept: letters, digits and dashes of the model."""
    words = "".join(letter if letter.isalnum() and letter.isascii() else "-" for letter in model.lower())
    return "-".join(part for part in words.split("-") if part) + SETUP_SUFFIX


def read_setups(folder: Path) -> tuple[dict[str, ControllerSetup], list[str]]:
    """The setups in a folder by model, and a sentence for each file that can't be used, which is put aside."""
    found: dict[str, ControllerSetup] = {}
    troubles = []
    try:
        paths = sorted(folder.glob(f"*{SETUP_SUFFIX}"))
    except OSError as error:
        return {}, [
            _("{folder}: the controller setups can't be read: {strerror}").format(
                folder=folder, strerror=error.strerror or error
            )
        ]
    for path in paths:
        try:
            setup = parse_setup(read_bytes(path), str(path))
            found[setup.model] = setup
        except StorageError as error:
            denied = isinstance(error.__cause__, PermissionError)
            troubles.append(str(error) if denied else f"{error}. {put_aside(path, _('This setup'))}")
    return found, troubles


def write_setup(folder: Path, setup: ControllerSetup) -> Path:
    """Keep a setup in its own file, over what was taught of this model before. Raises StorageError."""
    path = folder / file_name(setup.model)
    write_atomically(path, setup_text(setup))
    return path


def forget_setup(folder: Path, model: str) -> None:
    """Forget what was taught of a model. Raises StorageError."""
    try:
        (folder / file_name(model)).unlink(missing_ok=True)
    except OSError as error:
        raise StorageError(
            _("{folder}: can't be removed: {strerror}").format(
                folder=folder / file_name(model), strerror=error.strerror or error
            )
        ) from error
