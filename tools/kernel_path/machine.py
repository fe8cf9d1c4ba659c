"""What is proven inside the virtual machine, and the machines that prove it."""

from __future__ import annotations

import shutil
import subprocess
import sys
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

from kernel_path.guest import BEGINS, ENDS
from nubshift.protocol.paths import demo_folder
from standins.wayland_session import why_no_compositor

HERE = Path(__file__).parent
VM_RUN = HERE.parent / "vm-run"
LIMIT = 1500
"""Seconds for a machine, besides what the amounts take; what waits in it gives up after 600."""


@dataclass(frozen=True)
class Proof:
    """A module of this folder, whose `main` proves something with real nodes and prints a line for each thing."""

    name: str
    lines: int
    """How many it prints, at least, when it gets to its end."""
    profile: Path | None = None
    """What plays."""
    udev: bool = False
    """Whether it needs udevd."""
    amount: int | None = None
    """How often, or for how many seconds."""
    each: float = 0.0
    """Seconds that one of the amount takes at most."""
    tested: bool = True
    """Whether it is among the tests; else it is a measurement, by hand."""

    @property
    def word(self) -> str:
        """How the guest is told it."""
        amount = "" if self.amount is None else f":{self.amount}"
        return f"{self.name}{amount}={self.profile or '-'}"

    def holds(self, said: str) -> bool:
        """Whether this is what it says at its end, with all that it has to prove."""
        told = sum(line.startswith(("proven:", "measured:")) for line in said.splitlines())
        return f"{ENDS} {self.name} 0" in said and told == self.lines

    def why_not(self) -> str:
        """Why it can't be asked for here, empty if it can."""
        if self.name != "wayland":
            return ""
        why = why_no_compositor() or ("" if shutil.which("seatd") else "seatd is not installed")
        return why and f"no Wayland compositor: {why}"


PROFILES = HERE / "profiles"
EVERYTHING = PROFILES / "everything.nubshift.json"
PROOFS = (
    Proof("play", 12, EVERYTHING),
    Proof("pads", 11, PROFILES / "two-seats.nubshift.json"),
    Proof("frames", 8),
    Proof("menu", 4, PROFILES / "one-key.nubshift.json"),
    Proof("kills", 1, EVERYTHING, amount=3, each=20),
    Proof("endurance", 2, EVERYTHING, amount=20, each=2),
    Proof("delay", 3, demo_folder() / "ferrow-deep.nubshift.json", amount=400, each=0.5, tested=False),
    Proof("laboratory", 3, udev=True),
    Proof("wayland", 5, PROFILES / "over-the-game.nubshift.json", udev=True),
    Proof("access", 8, udev=True),
)
"""In the order in which a machine is asked for them: the last one changes the system."""


def why_no_machine() -> str:
    """Why none can be started here, empty if one can."""
    if sys.platform != "linux" or not shutil.which("qemu-system-x86_64"):
        return "no qemu-system-x86_64: apt-get install qemu-system-x86 busybox-static cpio kmod"
    if subprocess.run([sys.executable, str(VM_RUN), "--has-kernel"], check=False).returncode:
        return "no kernel for it: apt-get update && tools/vm-run --get-kernel"
    return ""


class Machines:
    """The virtual machines of a run, one with udevd and one without, for starting takes longest there. Each is started when the
    first of its proofs is asked for, and runs all of them. `hear` is told each line as it comes."""

    def __init__(self, proofs: Iterable[Proof], hear: Callable[[str], object] = lambda line: None) -> None:
        self._proofs, self._hear = list(proofs), hear
        self._said: dict[str, str] = {}

    def said(self, proof: Proof) -> str:
        """What it said, from its begin to its end; what the whole machine said, if it did not get that far."""
        if proof.name not in self._said:
            self._run([one for one in self._proofs if one.udev == proof.udev])
        return self._said[proof.name]

    def _run(self, proofs: list[Proof]) -> None:
        limit = LIMIT + sum((proof.amount or 0) * proof.each for proof in proofs)
        words = [str(VM_RUN), "--timeout", f"{limit:.0f}", *(["--udev"] if proofs[0].udev else []), "--"]
        words += [sys.executable, str(HERE), "inside", *(proof.word for proof in proofs)]
        lines = []
        pipe = subprocess.PIPE
        with subprocess.Popen([sys.executable, *words], stdout=pipe, stderr=subprocess.STDOUT, text=True) as machine:
            assert machine.stdout is not None
            for line in machine.stdout:
                lines.append(line)
                self._hear(line.rstrip("\n"))
        text = "".join(lines)
        for proof in proofs:
            behind = text.partition(f"{BEGINS} {proof.name}\n")[2]
            self._said[proof.name] = behind.partition(BEGINS)[0] or text
