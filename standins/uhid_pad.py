"""HID controllers made through /dev/uhid (see linux/uhid.h): a base, and a pad with motion, touch pad, light and rumble.

The kernel's own driver takes each for one that it knows, and makes its nodes. The numbers here are those that the drivers
ask for; nothing else in the repository names them.
"""

from __future__ import annotations

import os
import select
import struct
import threading
from typing import ClassVar

DESTROY, OUTPUT, GET_REPORT, GET_REPORT_REPLY, CREATE2, INPUT2, SET_REPORT, SET_REPORT_REPLY = (
    1,
    6,
    9,
    10,
    11,
    12,
    13,
    14,
)
BUS_USB, BUS_BLUETOOTH = 3, 5
EIO = 5
Turn = tuple[int, int, int]


def vendor_report(report: int, size: int, kind: int) -> bytes:
    """Descriptor items of one vendor-defined report: size bytes after the id. kind: 0x81 in, 0x91 out, 0xb1 feature."""
    return bytes([0x85, report, 0x09, report | 0x20, 0x95, size, kind, 0x02])


def calibration(report: int, size: int) -> bytes:
    """Gyro: 16 units per degree a second, no bias. Accelerometer: 8192 units per g."""
    numbers = (0, 0, 0, 8640, -8640, 8640, -8640, 8640, -8640, 540, 540, 8192, -8192, 8192, -8192, 8192, -8192)
    return struct.pack("<B17h", report, *numbers).ljust(size, b"\0")


class UhidDevice:
    """A device; a thread answers the driver. `outputs` are the reports that the kernel sent to it."""

    name = "Proof device"
    vendor, product, bus, version = 0, 0, BUS_USB, 0x100
    features: ClassVar[dict[int, bytes]] = {}

    def __init__(self) -> None:
        self._fd = os.open("/dev/uhid", os.O_RDWR)
        self.outputs: list[bytes] = []
        words = self.descriptor()
        head = struct.pack(
            "<I128s64s64sHHIIII",
            CREATE2,
            self.name.encode(),
            b"vm/input0",
            b"",
            len(words),
            self.bus,
            self.vendor,
            self.product,
            self.version,
            0,
        )
        os.write(self._fd, head + words.ljust(4096, b"\0"))
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def descriptor(self) -> bytes:
        """Its report descriptor."""
        raise NotImplementedError

    def answer(self, output: bytes) -> None:
        """What it does when the kernel sends it a report."""

    def _serve(self) -> None:
        while not self._stop.is_set():
            if not select.select([self._fd], [], [], 0.1)[0]:
                continue
            event = os.read(self._fd, 8192)
            kind = struct.unpack_from("<I", event)[0]
            if kind == GET_REPORT:
                ident, number = struct.unpack_from("<IB", event, 4)
                data = self.features.get(number, b"")
                reply = struct.pack("<IIHH", GET_REPORT_REPLY, ident, 0 if data else EIO, len(data)) + data
                os.write(self._fd, reply)
            elif kind == SET_REPORT:
                os.write(self._fd, struct.pack("<IIH", SET_REPORT_REPLY, struct.unpack_from("<I", event, 4)[0], 0))
            elif kind == OUTPUT:
                size = struct.unpack_from("<H", event, 4 + 4096)[0]
                self.outputs.append(event[4 : 4 + size])
                self.answer(self.outputs[-1])

    def send(self, data: bytes) -> None:
        """Send an input report."""
        os.write(self._fd, struct.pack("<IH", INPUT2, len(data)) + data)

    def close(self) -> None:
        """Pull it out."""
        self._stop.set()
        self._thread.join()
        os.write(self._fd, struct.pack("<I", DESTROY))
        os.close(self._fd)


class MotionPad(UhidDevice):
    """A pad of the driver playstation, over USB."""

    name, vendor, product = "Proof motion pad", 0x054C, 0x0CE6

    def __init__(self, address: int = 1) -> None:
        mac = bytes([address, 2, 3, 4, 5, 6])
        self.features = {  # type: ignore[misc]
            0x05: calibration(0x05, 41),
            0x09: (b"\x09" + mac).ljust(20, b"\0"),
            0x20: (b"\x20".ljust(24, b"\0") + struct.pack("<II", 0x216, 0x01000008)).ljust(44, b"\0")
            + struct.pack("<H", 0x0200)
            + bytes(18),
        }
        self._count = 0
        super().__init__()

    def descriptor(self) -> bytes:
        reports = (
            vendor_report(0x01, 63, 0x81),
            vendor_report(0x02, 47, 0x91),
            vendor_report(0x05, 40, 0xB1),
            vendor_report(0x09, 19, 0xB1),
            vendor_report(0x20, 63, 0xB1),
        )
        return bytes.fromhex("05010905a1010600ff150026ff007508") + b"".join(reports) + b"\xc0"

    def report(
        self, *, x: int = 128, buttons: int = 0, gyro: Turn = (0, 0, 0), pull: Turn = (0, 8192, 0), stamp: int = 0
    ) -> None:
        """Send an input report. buttons: bit 5 is the lower face button; stamp in thirds of a µs."""
        self._count += 1
        data = (
            struct.pack(
                "<B6BBI4x3h3hIx",
                1,
                x,
                128,
                128,
                128,
                0,
                0,
                self._count & 255,
                buttons & ~15 | 8,
                *gyro,
                *pull,
                stamp & 0xFFFFFFFF,
            )
            + b"\x80\0\0\0" * 2
            + bytes(12)
            + b"\x08"
            + bytes(10)
        )
        self.send(data)

    @property
    def motors(self) -> tuple[int, int]:
        """Light and heavy motor, by the last report that sets them."""
        last = next((out for out in reversed(self.outputs) if out[0] == 2 and out[1] & 3), None)
        return (last[3], last[4]) if last is not None else (0, 0)

    @property
    def light(self) -> tuple[int, ...]:
        """Red, green and blue, by the last report that sets them."""
        last = next((out for out in reversed(self.outputs) if out[0] == 2 and out[2] & 4), None)
        return tuple(last[45:48]) if last is not None else ()
