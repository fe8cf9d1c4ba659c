"""The open text format of the evemu tools: a device's description and its events, read as a take, written from one.

A line each: ``N:`` the name, ``I:`` bus, vendor, product and version, ``P:`` properties, ``B:`` the codes that the
device has (a type, then a bit for each code, in bytes), ``A:`` an axis (code, least, largest, fuzz, flat, resolution),
and ``E:`` an event: seconds, type and code in hexadecimal, and the value.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from nubshift.devices.codes import (
    ABS_RX,
    ABS_RY,
    ABS_RZ,
    ABS_X,
    ABS_Y,
    ABS_Z,
    EV_ABS,
    EV_KEY,
    EV_SYN,
    SYN_REPORT,
    AxisRange,
)
from nubshift.devices.conventions import BUTTONS
from nubshift.devices.device_mapping import KnownMappings, read_hardware
from nubshift.devices.node_reader import NodeReader
from nubshift.devices.nodes import Node
from nubshift.devices.readers import reader_for
from nubshift.devices.take_limits import check_time
from nubshift.errors import TakeError
from nubshift.events import Report
from nubshift.texts import _
from nubshift.units import SECOND, Micros

REACH = 32767
PULL = 1023
VERSION_LINE = "# EVEMU 1.3"
_CODES = {name: code for code, name in reversed(BUTTONS.items())}
_STICKS = {"left_stick": (ABS_X, ABS_Y), "right_stick": (ABS_RX, ABS_RY)}
_TRIGGERS = {"left_trigger": ABS_Z, "right_trigger": ABS_RZ}
_BYTES_A_LINE = 8


def looks_like_evemu(text: str) -> bool:
    """Whether a text begins as such a recording does."""
    first = next((line for line in text.splitlines() if line.strip()), "")
    return first.startswith(("# EVEMU", "N: "))


def parse_evemu(text: str, file: str) -> list[Report]:
    """The reports of a recorded pad, in normal form, from its first event on. Raises TakeError with the line."""
    bits: dict[int, list[int]] = {}
    axes: dict[int, AxisRange] = {}
    properties: list[int] = []
    decoder: NodeReader | None = None
    reports: list[Report] = []
    start: Micros | None = None
    for number, line in enumerate(text.splitlines(), 1):
        mark, _unused, rest = line.partition("#")[0].partition(":")
        words = rest.split()
        try:
            match mark.strip():
                case "B":
                    bits.setdefault(_hex(words[0]), []).extend(_hex(word) for word in words[1:])
                case "A":
                    resolution = _value(words[5]) if len(words) > 5 else 0
                    axes[_hex(words[0])] = AxisRange(_value(words[1]), _value(words[2]), 0, resolution)
                case "P":
                    properties += [_hex(word) for word in words]
                case "E":
                    if decoder is None:
                        decoder = _reader(bits, axes, properties)
                    t = _time(words[0])
                    start = t if start is None else start
                    changes = decoder.event(_hex(words[1]), _hex(words[2]), _value(words[3]))
                    if changes:
                        before = reports[-1].t if reports else 0
                        check_time(t - start, before, _("{file}, line {number}").format(file=file, number=number))
                        reports.append(Report(max(t - start, before), changes))
                case "N" | "I" | "L" | "S" | "":
                    pass
                case other:
                    raise TakeError(
                        _('{file}, line {number}: there are no lines that begin with "{other}"').format(
                            file=file, number=number, other=other[:20]
                        )
                    )
        except (ValueError, IndexError) as error:
            raise TakeError(
                _('{file}, line {number}: "{line}" is not understood').format(file=file, number=number, line=line[:60])
            ) from error
    if decoder is None:
        raise TakeError(_("{file}: there are no events in it").format(file=file))
    return reports


def _reader(bits: dict[int, list[int]], axes: dict[int, AxisRange], properties: list[int]) -> NodeReader:
    """What reads the described node, as if it were plugged in: a pad of any kind, motion, or a touch pad."""
    node = Node("", "", keys=tuple(_set_bits(bits.get(EV_KEY, ()))), axes=axes, properties=tuple(_set_bits(properties)))
    return reader_for(node, read_hardware("", node.keys, axes, KnownMappings()).inputs, axes)


def _set_bits(parts: Sequence[int]) -> list[int]:
    return [8 * index + bit for index, byte in enumerate(parts) for bit in range(8) if byte >> bit & 1]


def _value(word: str) -> int:
    """A value of the kernel: 32 bits with a sign. Raises ValueError."""
    value = int(word) if len(word) < 12 else 1 << 31
    if not -(1 << 31) <= value < 1 << 31:
        raise ValueError(word)
    return value


def _hex(word: str) -> int:
    """A code or a byte of bits. Raises ValueError."""
    value = int(word, 16) if len(word) <= 4 else -1
    if value < 0:
        raise ValueError(word)
    return value


def _time(word: str) -> Micros:
    if len(word) > 24 or word.startswith("-"):
        raise ValueError(word)
    seconds, _unused, fraction = word.partition(".")
    return int(seconds) * SECOND + int(fraction[:6].ljust(6, "0"))


def evemu_text(reports: Iterable[Report], name: str) -> tuple[str, tuple[str, ...]]:
    """A recording of a pad that did what `reports` say, and the names of the controls that it can't have.

    Only seat 1; motion is another node in the kernel's eyes, and lone axes have no code of their own.
    """
    lines = [VERSION_LINE, f"N: {name}", "I: 0006 6e73 0001 0001", "P: 00 00 00 00 00 00 00 00"]
    lines += _bit_lines(0, {EV_SYN, EV_KEY, EV_ABS})
    lines += _bit_lines(EV_KEY, set(_CODES.values()))
    axes = {code: (-REACH, REACH) for pair in _STICKS.values() for code in pair}
    axes |= dict.fromkeys(_TRIGGERS.values(), (0, PULL))
    lines += _bit_lines(EV_ABS, set(axes))
    lines += [f"A: {code:02x} {low} {high} 0 0 0" for code, (low, high) in sorted(axes.items())]
    left_out: dict[str, None] = {}
    for report in reports:
        if report.seat != "1":
            left_out[f"seat {report.seat}"] = None
            continue
        events = list(_events(report, left_out))
        if events:
            time = f"{report.t // SECOND}.{report.t % SECOND:06d}"
            lines += [f"E: {time} {kind:04x} {code:04x} {value}" for kind, code, value in events]
            lines.append(f"E: {time} {EV_SYN:04x} {SYN_REPORT:04x} 0")
    return "\n".join(lines) + "\n", tuple(left_out)


def _events(report: Report, left_out: dict[str, None]) -> Iterator[tuple[int, int, int]]:
    for name, x, y in report.changes:
        if name in _STICKS:
            for code, value in zip(_STICKS[name], (x, y), strict=True):
                yield EV_ABS, code, round(value * REACH)
        elif name in _TRIGGERS:
            yield EV_ABS, _TRIGGERS[name], round(x * PULL)
        elif name in _CODES:
            yield EV_KEY, _CODES[name], int(x >= 0.5)
        else:
            left_out[name] = None


def _bit_lines(kind: int, codes: set[int]) -> Iterator[str]:
    count = max(codes) // 8 + 1
    data = bytes(sum(1 << bit for bit in range(8) if 8 * index + bit in codes) for index in range(count))
    data = data.ljust(-(-count // _BYTES_A_LINE) * _BYTES_A_LINE, b"\0")
    for at in range(0, len(data), _BYTES_A_LINE):
        yield f"B: {kind:02x} " + " ".join(f"{byte:02x}" for byte in data[at : at + _BYTES_A_LINE])
