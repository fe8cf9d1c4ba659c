"""More HID controllers for the kernel's own drivers: an older pad with motion, halves and the whole of a pair, a remote.

The protocols are those that the drivers speak (drivers/hid/hid-sony.c, hid-nintendo.c, hid-wiimote-core.c).
"""

from __future__ import annotations

import struct
from typing import ClassVar

from standins.laboratory.describing import Kind
from standins.uhid_pad import BUS_BLUETOOTH, Turn, UhidDevice, calibration, vendor_report

MAC = bytes([9, 2, 3, 4, 5, 6])


class OlderMotionPad(UhidDevice):
    """A pad of the driver sony up to Linux 6.1, of playstation since; over USB."""

    name, vendor, product = "Proof older pad", 0x054C, 0x09CC
    features: ClassVar[dict[int, bytes]] = {
        0x02: calibration(0x02, 37),
        0x12: (b"\x12" + MAC).ljust(16, b"\0"),
        0x81: b"\x81" + MAC,
        0xA3: b"\xa3".ljust(35, b"\0") + struct.pack("<HIH", 0xB400, 0, 0xA00C) + bytes(6),
    }

    def descriptor(self) -> bytes:
        pad = (
            "05010905a1018501"
            "0930093109320935150026ff00750895048102"
            "0939150025073500463b0165147504950181 42"
            "65000509190129 0e150025017501950e8102"
            "0600ff0920750695011500257f8102"
            "0501093309341500 26ff00750895028102"
            "0600ff092195368102"
            "150026ff007508"
        )
        features = (
            vendor_report(0x05, 31, 0x91),
            vendor_report(0x02, 36, 0xB1),
            vendor_report(0x12, 15, 0xB1),
            vendor_report(0x81, 6, 0xB1),
            vendor_report(0xA3, 48, 0xB1),
        )
        return bytes.fromhex(pad.replace(" ", "")) + b"".join(features) + b"\xc0"

    def turn(self, gyro: Turn, stamp: int) -> None:
        """Send its motion, in its own units; stamp in 16/3 µs."""
        head = struct.pack("<B4B", 1, 128, 128, 128, 128) + (8).to_bytes(3, "little") + bytes(2)
        body = struct.pack("<HB3h3h5xB2x", stamp & 0xFFFF, 0, *gyro, 0, 8192, 0, 0x1B)
        self.send((head + body + b"\x01" + b"\0" + b"\x80\0\0\0" * 2).ljust(64, b"\0"))


class PairPad(UhidDevice):
    """A controller of the driver nintendo, over radio: both halves in one, or one half of a pair."""

    bus, vendor = BUS_BLUETOOTH, 0x057E
    LEFT, RIGHT, WHOLE = 1, 2, 3
    PRODUCTS: ClassVar[dict[int, int]] = {LEFT: 0x2006, RIGHT: 0x2007, WHOLE: 0x2009}

    def __init__(self, kind: int) -> None:
        self.kind, self.product = kind, self.PRODUCTS[kind]  # type: ignore[misc]
        self.name = f"Proof pair {kind}"  # type: ignore[misc]
        self._count = 0
        super().__init__()

    def descriptor(self) -> bytes:
        reports = [vendor_report(number, 48, 0x81) for number in (0x21, 0x30)]
        reports += [vendor_report(number, 48, 0x91) for number in (0x01, 0x10)]
        return bytes.fromhex("05010905a1010600ff150026ff007508") + b"".join(reports) + b"\xc0"

    def _head(self, report: int, buttons: int) -> bytes:
        """Id, counter, a full battery, buttons, both sticks in their middle (12 bits each), motor."""
        self._count = (self._count + 1) & 255
        middle = (2048 | 2048 << 12).to_bytes(3, "little")
        return bytes([report, self._count, 0x80]) + buttons.to_bytes(3, "little") + middle * 2 + b"\0"

    def answer(self, output: bytes) -> None:
        if output[0] != 1:
            return
        command, data = output[10], output[11:]
        reply = b""
        if command == 0x02:
            reply = bytes([3, 0x48, self.kind, 2, 0xA, self.kind, 2, 3, 4, 5, 6, 1])
        elif command == 0x10:
            address, size = struct.unpack_from("<IB", data)
            reply = data[:5] + self._flash(address).ljust(size, b"\xff")[:size]
        self.send((self._head(0x21, 0) + bytes([0x80, command]) + reply).ljust(49, b"\0"))

    @staticmethod
    def _flash(address: int) -> bytes:
        """Factory calibration: sticks from the middle 1500 either way; motion in the units of the data sheet."""
        wide, middle = ((value | value << 12).to_bytes(3, "little") for value in (1500, 2048))
        if address == 0x6020:
            return struct.pack("<12h", 0, 0, 0, *[16384] * 3, 0, 0, 0, *[13371] * 3)
        return {0x603D: wide + middle + wide, 0x6046: middle + wide + wide}.get(address, b"")

    def turn(self, gyro: Turn, pull: Turn = (0, 0, 4096)) -> None:
        """Send its motion, three samples alike, in its own units: 14.247 a °/s, 4096 a g."""
        self.send((self._head(0x30, 0) + struct.pack("<6h", *pull, *gyro) * 3).ljust(49, b"\0"))

    def press(self, buttons: int) -> None:
        """Send buttons, by the bits of the driver."""
        self.send((self._head(0x30, buttons) + struct.pack("<6h", 0, 0, 4096, 0, 0, 0) * 3).ljust(49, b"\0"))


class Remote(UhidDevice):
    """A one-hand remote of the driver wiimote with its gyro built on, over radio."""

    bus, vendor, product, name = BUS_BLUETOOTH, 0x057E, 0x0306, "Proof remote"

    def descriptor(self) -> bytes:
        sizes = {
            0x20: 6,
            0x21: 21,
            0x22: 4,
            0x30: 2,
            0x31: 5,
            0x32: 10,
            0x33: 17,
            0x34: 21,
            0x35: 21,
            0x36: 21,
            0x37: 21,
            0x3D: 21,
        }
        reports = [vendor_report(number, size, 0x81) for number, size in sizes.items()]
        reports += [vendor_report(number, 21, 0x91) for number in range(0x10, 0x1B)]
        return bytes.fromhex("05010905a1010600ff150026ff007508") + b"".join(reports) + b"\xc0"

    def __init__(self) -> None:
        self.mode = 0x30
        self._mapped = False
        super().__init__()

    def answer(self, output: bytes) -> None:
        """Asked for its status, for memory, or told something; what it is told is acknowledged."""
        kind = output[0]
        if kind == 0x15:
            self.send(bytes([0x20, 0, 0, 0, 0, 0, 0x80]))
        elif kind == 0x17:
            offset, size = int.from_bytes(output[2:5], "big"), int.from_bytes(output[5:7], "big")
            there = {
                0xA600FA: bytes([0, 0, 0xA6, 0x20, 0, 5]),
                0xA400FA: bytes([0, 0, 0xA4, 0x20, 4, 5]) if self._mapped else b"\xff" * 6,
            }.get(offset, b"")
            head = bytes([0x21, 0, 0, (size - 1) << 4 | (0 if there else 7)]) + (offset & 0xFFFF).to_bytes(2, "big")
            self.send((head + there).ljust(22, b"\0"))
        elif kind == 0x16:
            if output[2:5] in (bytes([0xA6, 0, 0xFE]), bytes([0xA4, 0, 0xF0])):
                self._mapped = output[2] == 0xA6  # its gyro in the extension's place, until that is begun anew
            self.send(bytes([0x22, 0, 0, kind, 0]))
        elif kind in (0x13, 0x1A):  # its camera
            self.send(bytes([0x22, 0, 0, kind, 0]))
        elif kind == 0x12:
            self.mode = output[2]

    def turn(self, yaw: int, roll: int, pitch: int) -> None:
        """Send its turns, slow ones: 8192 / 440 units a °/s around 8192."""
        values = [8192 + value for value in (yaw, roll, pitch)]
        low = [value & 255 for value in values]
        slow = (2 | 1, 2, 2)  # yaw and pitch slow; roll slow; marks data of the gyro
        high = [(value >> 8) << 2 | bit for value, bit in zip(values, slow, strict=True)]
        words = bytes([*low, *high])
        head = {
            0x32: b"\0\0",
            0x34: b"\0\0",
            0x35: bytes([0, 0, 0x80, 0x80, 0x9A]),
            0x37: bytes([0, 0, 0x80, 0x80, 0x9A]),
        }
        size = {0x32: 11, 0x34: 22, 0x35: 22, 0x37: 22}.get(self.mode)
        if size is not None:
            gap = b"\xff" * 10 if self.mode == 0x37 else b""
            self.send((bytes([self.mode]) + head[self.mode] + gap + words).ljust(size, b"\0"))

    def press(self, buttons: int) -> None:
        """Send buttons: the first byte's bits are left, right, down, up and plus."""
        self.send(bytes([0x30]) + buttons.to_bytes(2, "little"))


class DescribedPad(UhidDevice):
    """A kind of the laboratory with one node, as a report descriptor of which hid-generic makes one: buttons, axes of a
    byte each, a hat of eight ways."""

    HATS: ClassVar[dict[tuple[int, int], int]] = {
        (0, -1): 0,
        (1, -1): 1,
        (1, 0): 2,
        (1, 1): 3,
        (0, 1): 4,
        (-1, 1): 5,
        (-1, 0): 6,
        (-1, -1): 7,
        (0, 0): 8,
    }

    def __init__(self, kind: Kind) -> None:
        (self._node,) = kind.nodes
        self.name, self.vendor, self.product, self.bus = kind.name, kind.vendor, kind.product, kind.bus  # type: ignore[misc]
        self.version = kind.version  # type: ignore[misc]
        self._axes = [code for code in self._node.axes if code < 0x10]
        rests = {code: self._node.axes[code].value or 0 for code in self._axes}
        self._state = {**{(3, code): self._byte(code, value) for code, value in rests.items()}, (3, 16): 0, (3, 17): 0}
        super().__init__()

    def _byte(self, code: int, value: int) -> int:
        entry = self._node.axes[code]
        return (value - entry.low) * 255 // (entry.high - entry.low)

    def descriptor(self) -> bytes:
        """A game pad where its first key is one, else a joystick."""
        buttons = len(self._node.keys)
        words = bytes(
            [
                0x05,
                1,
                0x09,
                5 if self._node.keys[0] >= 0x130 else 4,
                0xA1,
                1,
                0x15,
                0,
                0x25,
                1,
                0x05,
                9,
                0x19,
                1,
                0x29,
                buttons,
                0x75,
                1,
                0x95,
                buttons,
                0x81,
                2,
            ]
        )
        words += bytes([0x75, 1, 0x95, -buttons % 8, 0x81, 3]) if buttons % 8 else b""
        words += bytes([0x05, 1, 0x26, 255, 0, 0x75, 8, 0x95, len(self._axes)])
        words += b"".join(bytes([0x09, 0x30 + code]) for code in self._axes) + bytes([0x81, 2])
        if 16 in self._node.axes:
            words += bytes([0x09, 0x39, 0x25, 7, 0x75, 4, 0x95, 1, 0x81, 0x42, 0x75, 4, 0x95, 1, 0x81, 3])
        return words + b"\xc0"

    def report(self, *events: tuple[int, int, int]) -> None:
        """A report in which these have changed."""
        for kind, code, value in events:
            self._state[kind, code] = self._byte(code, value) if kind == 3 and code < 0x10 else value
        down = sum(bool(self._state.get((1, code))) << place for place, code in enumerate(self._node.keys))
        data = down.to_bytes((len(self._node.keys) + 7) // 8, "little")
        data += bytes(self._state[3, code] for code in self._axes)
        if 16 in self._node.axes:
            data += bytes([self.HATS[self._state[3, 16], self._state[3, 17]]])
        self.send(data)
