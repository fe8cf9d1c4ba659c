"""What a controller of the laboratory is: what nodes it has, what every control sends, and what it must be called.

`says` has for each control (with ``>``, ``<``, ``v`` or ``^`` for the ways of a stick, ``+`` or ``-`` for those of a lone
axis) what the hardware sends: ``k130`` a key by its code in hexadecimal, ``a11-`` an axis at its low end, ``a0+`` at its
high end, ``a2+k138`` both; a node other than the first stands before: ``1:k14a``. The shapes of the nodes are those of
the kernel's drivers, whose names are in `driver`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nubshift.devices.codes import AxisRange
from nubshift.devices.nodes import Node
from nubshift.model.controller_setup import InputMapping

MADE_UP = 0x1209


@dataclass(frozen=True)
class NodeKind:
    """One node: what it adds to the name, its keys, axes and properties, and udev's word for it.

    `interface` tells the pieces of one plug apart.
    """

    name: str = ""
    keys: tuple[int, ...] = ()
    axes: Mapping[int, AxisRange] = field(default_factory=dict)
    properties: tuple[int, ...] = ()
    tag: str = "ID_INPUT_JOYSTICK"
    interface: int = 0


@dataclass(frozen=True)
class Kind:
    """One model. `how` it must be understood; `doubts` are parts of sentences that must be said of it, and `lacks` are
    controls that must not be offered. `controllers` is how many players it is for. `radio` says that its address tells
    it from others, not its plug.
    """

    id: str
    name: str
    nodes: tuple[NodeKind, ...]
    says: Mapping[str, str] = field(default_factory=dict)
    how: str = "conventions"
    doubts: tuple[str, ...] = ()
    lacks: tuple[str, ...] = ()
    driver: str = ""
    bus: int = 3
    vendor: int = MADE_UP
    product: int = 0
    version: int = 0x111
    radio: bool = False
    controllers: int = 1
    taught: tuple[InputMapping, ...] = ()
    half: str = ""

    @property
    def model(self) -> str:
        return f"{self.vendor:04x}:{self.product:04x} {self.name}"

    def as_nodes(self, first: int, plug: int | None = None) -> list[Node]:
        """Its nodes as the kernel would tell of them, numbered from `first` on, at a plug of its own or that one."""
        found = []
        plug = first if plug is None else plug
        for number, node in enumerate(self.nodes, first):
            place = f"/sys/devices/pci0/usb1/1-{plug}/1-{plug}:1.{node.interface}"
            found.append(
                Node(
                    f"/dev/input/event{number}",
                    f"{self.name}{node.name}",
                    f"usb-{plug}/input{node.interface}",
                    f"0a:{plug:02x}" if self.radio else "",
                    self.bus,
                    self.vendor,
                    self.product,
                    self.version,
                    node.keys,
                    dict(node.axes),
                    node.properties,
                    place=f"{place}/input/input{number}",
                    driver=self.driver,
                    tagged=node.tag == "ID_INPUT_JOYSTICK" if node.tag else None,
                )
            )
        return found


Events = tuple[tuple[int, int, int], ...]


@dataclass(frozen=True)
class Act:
    """What a hand does: the node and the events that come of it and of letting go, and what must be told meanwhile."""

    node: int
    events: Events
    back: Events
    control: str
    x: float
    y: float


WAYS = {">": (1.0, 0.0), "<": (-1.0, 0.0), "v": (0.0, 1.0), "^": (0.0, -1.0), "+": (1.0, 0.0), "-": (-1.0, 0.0)}


def acts(kind: Kind) -> list[Act]:
    """Everything that its description says, as events."""
    found = []
    for target, words in kind.says.items():
        node, _, rest = words.rpartition(":")
        number = int(node or 0)
        axes = kind.nodes[number].axes
        events, back = [], []
        for part in rest.split(","):
            code = int(part[1:].rstrip("+-"), 16)
            if part[0] == "k":
                events.append((1, code, 1))
                back.append((1, code, 0))
            else:
                entry = axes[code]
                events.append((3, code, entry.high if part.endswith("+") else entry.low))
                back.append((3, code, entry.value or (0 if entry.low < 0 else entry.low)))
        control = target.rstrip("><v^+-") if target[-1] in "><^+-" or target.endswith("stickv") else target
        x, y = WAYS[target[-1]] if control != target else (1.0, 0.0)
        found.append(Act(number, tuple(events), tuple(back), control, x, y))
    return found


def says(text: str) -> dict[str, str]:
    """``control=what`` by spaces, as a description."""
    return dict(part.split("=") for part in text.split())
