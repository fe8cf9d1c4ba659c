"""A made-up gamepad in a umockdev test bed: nodes, ioctls, hotplug and live events without hardware or privileges.

Run as a program it is the controlling process: reads commands from stdin (``plug [NODE]...``, ``unplug``, ``ev NODE TYPE CODE VALUE``,
``key CODE``) and prints ``ok`` after each; the first line it prints is the root of the test bed.
"""

from __future__ import annotations

import contextlib
import ctypes as c
import os
import struct
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

KEYS = [0x130, 0x131, 0x133, 0x134, 0x136, 0x137, 0x13A, 0x13B, 0x13C, 0x13D, 0x13E]
STICK, TRIGGER, HAT = (0, -32768, 32767, 16, 128, 0), (0, 0, 255, 0, 0, 0), (0, -1, 1, 0, 0, 0)
AXES: dict[int, tuple[int, ...]] = {0: STICK, 1: STICK, 2: TRIGGER, 3: STICK, 4: STICK, 5: TRIGGER, 16: HAT, 17: HAT}
NAME = "Test Bed Pad"
MOTION: dict[int, tuple[int, ...]] = {
    **dict.fromkeys(range(3), (0, -32768, 32767, 0, 0, 8192)),
    **dict.fromkeys(range(3, 6), (0, -32768, 32767, 0, 0, 16)),
}


@dataclass(frozen=True)
class FakeNode:
    """One node of the pad: its number, name, keys, axes, properties, and udev's word for it."""

    number: int
    name: str
    keys: list[int]
    axes: dict[int, tuple[int, ...]]
    properties: list[int]
    tag: str
    uniq: str = "aa:bb"
    phys: str = "usb-0/input0"
    ids: tuple[int, int, int, int] = (3, 0x1209, 0xABCD, 0x111)
    hardware: str = "/devices/pci0000:00/usb1/1-1/1-1:1.0"
    driver: str = ""

    @property
    def path(self) -> str:
        return f"/dev/input/event{self.number}"

    @property
    def device(self) -> str:
        return f"{self.hardware}/input/input{self.number}"


NODES = {
    "pad": FakeNode(7, NAME, KEYS, AXES, [], "ID_INPUT_JOYSTICK"),
    "keyboard": FakeNode(9, "Small Keyboard", [30, 31, 32, 48], {}, [], "ID_INPUT_KEYBOARD", "cc:dd"),
    "motion": FakeNode(8, f"{NAME} Motion Sensors", [], MOTION, [6], "ID_INPUT_ACCELEROMETER"),
}
PRELOAD = "libumockdev-preload.so.0"


def bits(codes: list[int], size: int) -> bytes:
    field = bytearray(size)
    for code in codes:
        field[code // 8] |= 1 << (code % 8)
    return bytes(field)


def capability(codes: list[int]) -> str:
    """The form of sysfs: hexadecimal longs, the most significant first."""
    field = bits(codes, 96)
    longs = [int.from_bytes(field[i : i + 8], "little") for i in range(0, 96, 8)]
    while len(longs) > 1 and longs[-1] == 0:
        longs.pop()
    return " ".join(f"{value:x}" for value in reversed(longs))


def device_text(node: FakeNode) -> str:
    return f"""P: {node.device}
E: SUBSYSTEM=input
E: PRODUCT={"/".join(f"{number:x}" for number in node.ids)}
E: NAME="{node.name}"
E: ID_INPUT=1
E: {node.tag}=1
A: name={node.name}
A: capabilities/ev={capability([0, 1, 3])}
A: capabilities/key={capability(node.keys)}
A: capabilities/abs={capability(list(node.axes))}

P: {node.device}/event{node.number}
N: input/event{node.number}
E: SUBSYSTEM=input
E: DEVNAME={node.path}
E: MAJOR=13
E: MINOR={64 + node.number}
E: ID_INPUT=1
E: {node.tag}=1
A: dev=13:{64 + node.number}

"""


def ioctl_text(node: FakeNode, pressed: list[int]) -> str:
    """The answers of the node; their sizes must be exactly those that are asked for."""

    def padded(text: str) -> str:
        return (text.encode() + bytes(256))[:256].hex().upper()

    rows = [f"@DEV {node.path}", "EVIOCGVERSION 0 " + struct.pack("i", 0x010001).hex().upper()]
    rows.append("EVIOCGID 0 " + struct.pack("4H", *node.ids).hex().upper())
    for kind, text in (("NAME", node.name), ("PHYS", node.phys), ("UNIQ", node.uniq)):
        rows.append(f"EVIOCG{kind} {len(text) + 1} {padded(text)}")
    rows.append("EVIOCGEFFECTS 0 00000000")
    rows.append("EVIOCGBIT 4 " + bits([0, 1, 3], 4).hex().upper())
    rows += [
        f"EVIOCGBIT({kind}) 96 " + bits(codes, 96).hex().upper()
        for kind, codes in ((1, node.keys), (3, list(node.axes)))
    ]
    rows.append("EVIOCGPROP 4 " + bits(node.properties, 4).hex().upper())
    for kind, size in (("LED", 2), ("SND", 1), ("SW", 3)):
        rows.append(f"EVIOCG{kind} {size} " + bytes(size).hex().upper())
    rows.append("EVIOCGKEY 96 " + bits(pressed, 96).hex().upper())
    for code, values in node.axes.items():
        rows.append((f"EVIOCGABS({code}) 0 " if code else "EVIOCGABS 0 ") + struct.pack("6i", *values).hex().upper())
    return "\n".join(rows) + "\n"


def plug(mock: c.CDLL, bed: int, node: FakeNode, pressed: list[int]) -> FakeNode:
    """Let a node appear, and the driver of its hardware."""
    hardware = Path(mock.umockdev_testbed_get_root_dir(bed).decode()) / "sys" / node.hardware.lstrip("/")
    hardware.mkdir(parents=True, exist_ok=True)
    if node.driver and not (hardware / "driver").is_symlink():
        (hardware / "driver").symlink_to(f"/sys/bus/any/drivers/{node.driver}")
    with tempfile.NamedTemporaryFile("w", suffix=".ioctl") as file:
        file.write(ioctl_text(node, pressed))
        file.flush()
        mock.umockdev_testbed_load_ioctl(bed, node.path.encode(), file.name.encode(), None)
    mock.umockdev_testbed_add_from_string(bed, device_text(node).encode(), None)
    return node


def fakes(ident: str, number: int, at: int | None) -> list[FakeNode]:
    """The nodes of a kind of the laboratory."""
    sys.path.insert(0, str(Path(__file__).parents[1]))
    from standins.laboratory.kinds import BYSTANDERS, KINDS

    kind = next(kind for kind in (*KINDS, *BYSTANDERS) if kind.id == ident)
    found = []
    for described, node in zip(kind.nodes, kind.as_nodes(number, at), strict=True):
        axes = {code: (a.value, a.low, a.high, 0, 0, a.resolution) for code, a in node.axes.items()}
        ids = (kind.bus, kind.vendor, kind.product, kind.version)
        hardware = node.place.partition("/input/")[0].removeprefix("/sys")
        found.append(
            FakeNode(
                int(node.path.removeprefix("/dev/input/event")),
                node.name,
                list(node.keys),
                axes,
                list(node.properties),
                described.tag,
                node.uniq,
                node.phys,
                ids,
                hardware,
                node.driver,
            )
        )
    return found


def control() -> None:
    """The process that owns the test bed."""
    mock, pointer, text = c.CDLL("libumockdev.so.0"), c.c_void_p, c.c_char_p
    mock.umockdev_testbed_new.restype = pointer
    mock.umockdev_testbed_get_root_dir.argtypes, mock.umockdev_testbed_get_root_dir.restype = [pointer], text
    mock.umockdev_testbed_add_from_string.argtypes = [pointer, text, pointer]
    mock.umockdev_testbed_load_ioctl.argtypes = [pointer, text, text, pointer]
    mock.umockdev_testbed_uevent.argtypes = [pointer, text, text]
    mock.umockdev_testbed_remove_device.argtypes = [pointer, text]
    mock.umockdev_testbed_get_dev_fd.argtypes = [pointer, text]
    bed = mock.umockdev_testbed_new()
    print(mock.umockdev_testbed_get_root_dir(bed).decode(), flush=True)
    pressed: list[int] = []
    plugged: list[FakeNode] = []
    for line in sys.stdin:
        match line.split():
            case ["hold", code]:
                pressed.append(int(code))
            case ["plug", *names]:
                for name in names or ["pad"]:
                    plugged.append(plug(mock, bed, NODES[name], pressed))
            case ["plug-kind", ident, number, *at]:
                for node in fakes(ident, int(number), int(at[0]) if at else None):
                    NODES[f"event{node.number}"] = node
                    plugged.append(plug(mock, bed, node, pressed))
            case ["unplug"]:
                for node in plugged:
                    path = f"/sys{node.device}/event{node.number}".encode()
                    mock.umockdev_testbed_uevent(bed, path, b"remove")
                    mock.umockdev_testbed_remove_device(bed, path)
                    mock.umockdev_testbed_remove_device(bed, f"/sys{node.device}".encode())
                plugged.clear()
            case ["ev", name, *numbers]:
                node_fd = mock.umockdev_testbed_get_dev_fd(bed, NODES[name].path.encode())
                triples = [int(number) for number in numbers]
                os.set_blocking(node_fd, False)  # where nobody reads, events are lost, as in the kernel
                with contextlib.suppress(BlockingIOError):
                    for i in range(0, len(triples), 3):
                        os.write(node_fd, struct.pack("llHHi", 0, 0, *triples[i : i + 3]))
        print("ok", flush=True)


class TestBed:
    """A test bed in a process of its own; `environment` is for the programs that shall see it."""

    __test__ = False

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, str(Path(__file__))],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            env=os.environ | {"LD_PRELOAD": PRELOAD},
        )
        self.root = self._answer()
        self.environment = {"LD_PRELOAD": PRELOAD, "UMOCKDEV_DIR": self.root}

    def _answer(self) -> str:
        assert self._process.stdout is not None
        return self._process.stdout.readline().strip()

    def do(self, line: str) -> None:
        assert self._process.stdin is not None
        self._process.stdin.write(line + "\n")
        self._process.stdin.flush()
        assert self._answer() == "ok"

    def event(self, *triples: tuple[int, int, int], node: str = "pad") -> None:
        """Events of a node, then a SYN_REPORT."""
        numbers = " ".join(f"{kind} {code} {value}" for kind, code, value in (*triples, (0, 0, 0)))
        self.do(f"ev {node} {numbers}")

    def close(self) -> None:
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        self._process.stdin.close()
        self._process.wait(10)
        self._process.stdout.close()


if __name__ == "__main__":
    control()
