"""Every controller of the laboratory, in the forms that can be made here: as nodes told of, and in a umockdev test bed."""

from __future__ import annotations

import ctypes.util
import os
import subprocess
import sys
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import msgspec
import pytest

from nubshift.devices.device_mapping import KnownMappings, map_device
from nubshift.devices.discovery import info_of
from nubshift.devices.nodes import joined
from nubshift.devices.readers import reader_for
from nubshift.devices.sdl_table import LONGEST_WAIT, Table
from nubshift.events import Change
from nubshift.model.controller_info import ControllerInfo
from standins.gamepad import TestBed
from standins.laboratory.acting import play
from standins.laboratory.describing import Kind, acts
from standins.laboratory.kinds import BYSTANDERS, KINDS, KNOWN


@pytest.fixture(scope="module")
def mappings() -> KnownMappings:
    from msgspec.structs import replace

    table = Table()
    table.want()
    table.take(LONGEST_WAIT)
    return replace(KNOWN, table=table.lines)


def by_id(kind: Kind) -> str:
    return kind.id


def has_test_bed() -> bool:
    return ctypes.util.find_library("umockdev") is not None


class Bed:
    """All kinds at once in a umockdev test bed, and a program that reads them as a runner would."""

    def __init__(self) -> None:
        self.bed = TestBed()
        self.first: dict[str, int] = {}
        number = 3
        for kind in (*KINDS, *BYSTANDERS):
            self.first[kind.id] = number
            self.bed.do(f"plug-kind {kind.id} {number}")
            number += len(kind.nodes)
        self.process = subprocess.Popen(
            [sys.executable, "-m", "standins.laboratory.reader"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            env=os.environ | self.bed.environment,
            cwd=Path(__file__).parents[2],
        )
        self.infos = {info.id: info for info in msgspec.json.decode(self._line(), type=list[ControllerInfo])}

    def _line(self) -> str:
        assert self.process.stdout is not None
        return self.process.stdout.readline()

    def id_of(self, kind: Kind) -> str:
        return f"evdev:/dev/input/event{self.first[kind.id]}"

    def events(self, kind: Kind, number: int, *events: tuple[int, int, int]) -> dict[str, Change]:
        self.bed.event(*events, node=f"event{self.first[kind.id] + number}")
        who, changes = msgspec.json.decode(self._line(), type=tuple[str, list[Change]])
        assert who == self.id_of(kind)
        return {change[0]: change for change in changes}

    def close(self) -> None:
        self.process.communicate()
        self.bed.close()


@pytest.fixture(scope="module")
def bed() -> Iterator[Bed]:
    found = Bed()
    yield found
    found.close()


class Told:
    """A kind as nodes that are only told of."""

    def __init__(self, kind: Kind, mappings: KnownMappings) -> None:
        self.nodes = kind.as_nodes(3)
        self.devices = joined(self.nodes)
        self.found = [map_device(device, mappings) for device in self.devices]
        first = self.devices[0]
        self.readers = {node.path: reader_for(node, self.found[0].inputs, node.axes) for node in first.nodes}

    def events(self, number: int, *events: tuple[int, int, int]) -> dict[str, Change]:
        reader = self.readers[self.nodes[number].path]
        for event in events:
            reader.event(*event)
        return {change[0]: change for change in reader.event(0, 0, 0) or ()}


@pytest.mark.parametrize("kind", KINDS, ids=by_id)
def test_it_is_joined_understood_and_named(kind: Kind, mappings: KnownMappings) -> None:
    told = Told(kind, mappings)
    assert len(told.devices) == kind.controllers
    device, found = told.devices[0], told.found[0]
    assert (found.how, found.half) == (kind.how, kind.half)
    info = info_of(device, found)
    assert info.is_controller
    assert {act.control for act in acts(kind)} <= set(info.controls)
    assert not set(kind.lacks) & set(info.controls)
    for doubt in kind.doubts:
        assert any(doubt in sentence for sentence in info.uncertain), info.uncertain
    if kind.controllers == 1:
        assert len(device.nodes) == len(kind.nodes)


@pytest.mark.parametrize("kind", KINDS, ids=by_id)
def test_what_a_hand_does_is_what_it_says(kind: Kind, mappings: KnownMappings) -> None:
    told = Told(kind, mappings)
    play(kind, told.events)
    state = [change for reader in told.readers.values() for change in reader.state()]
    held = [change for change in state if change[0] not in ("touch_pad", "gravity", "gravity_z", "pointer")]
    assert all(abs(value) < 0.02 for _, *values in held for value in values), held


@pytest.mark.skipif(not has_test_bed(), reason="umockdev is not installed: apt-get install umockdev")
@pytest.mark.parametrize("kind", KINDS, ids=by_id)
def test_it_is_the_same_through_the_system_calls(kind: Kind, bed: Bed) -> None:
    info = bed.infos[bed.id_of(kind)]
    assert (info.how, info.half) == (kind.how, kind.half)
    assert info.name == kind.name
    if kind.controllers == 1:
        assert len(info.nodes) == len(kind.nodes)
    play(kind, partial(bed.events, kind))


@pytest.mark.skipif(not has_test_bed(), reason="umockdev is not installed: apt-get install umockdev")
def test_every_controller_is_there_and_nothing_else(bed: Bed) -> None:
    assert len(bed.infos) == sum(kind.controllers for kind in KINDS)
    assert len({info.key for info in bed.infos.values()}) == len(bed.infos)


@pytest.mark.parametrize("kind", BYSTANDERS, ids=by_id)
def test_what_is_no_controller_is_none(kind: Kind, mappings: KnownMappings) -> None:
    told = Told(kind, mappings)
    assert not any(info_of(device, found).is_controller for device, found in zip(told.devices, told.found, strict=True))
