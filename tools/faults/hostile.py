"""Profiles made to hurt, each read by a process of its own: how long that takes and how much memory (need N08).

Every one goes the two ways that a file from elsewhere goes: by ``nubshift import``, and by a synced folder, where it
stands for a profile of the same name as one of the player's.

python tools/faults hostile
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from nubshift.model.profile import FORMAT, SUFFIX, VERSION, Binding, Command, Game, Layer, Profile
from nubshift.model.sends import SendKey
from nubshift.model.store import MOST_BYTES
from nubshift.model.writing import profile_text

SECONDS, MEGABYTES = 1.0, 200
"""What one may cost beyond what a small good profile costs. Of the time: as much as on a machine with nothing else to do."""
PATIENCE = 60.0
ROOM = MOST_BYTES - 1000
"""So many bytes are read, with something around them."""

BASE = '{"format": "nubshift-profile", "version": 5, "game": {"title": "Hostile"}, "layers": [%s]}'
LAYER = '{"id": "%s", "name": "Base", "bindings": [%s]}'


def _repeated(text: str, most: int = ROOM) -> str:
    """A list's or object's inside that is as long as may be."""
    return ",".join([text] * (most // (len(text) + 1)))


def _numbered(text: str, most: int = ROOM) -> Iterator[str]:
    """The same with another number in each."""
    left, number = most, 0
    while (left := left - len(text % number) - 1) > 0:
        yield text % number
        number += 1


def hostile() -> dict[str, Callable[[], bytes]]:
    """By what they are, makers of their bytes."""
    nested = '{"send": "together", "what": ['
    deep = '{"control": "south", "press": [' + nested * 5000
    key = '{"send": "key", "key": "A"}'
    texts = {
        "100 MB": lambda: "x" * 100_000_000,
        "lists in lists": lambda: "[" * ROOM,
        "objects in objects": lambda: '{"a":' * (ROOM // 5),
        "outputs in outputs": lambda: BASE % (LAYER % ("base", deep)),
        "names twice at the end": lambda: "{" + ",".join(_numbered('"n%d":1')) + ',"z":1,"z":1}',
        "one name over and over": lambda: "{" + _repeated('"game":{"title":"a"}') + "}",
        "objects with a name twice": lambda: "[" + _repeated('{"a":1,"a":2}') + "]",
        "a number of 2 MB": lambda: BASE % ("1" * ROOM),
        "large numbers": lambda: "[" + _repeated("1e308") + "]",
        "tiny numbers": lambda: "[" + _repeated("5e-324") + "]",
        "no numbers": lambda: "[" + _repeated("NaN") + "]",
        "numbers of 40 digits": lambda: "[" + _repeated("9" * 40) + "]",
        "a title of 2 MB": lambda: BASE.replace("Hostile", "a" * ROOM) % (LAYER % ("base", "")),
        "escapes": lambda: BASE.replace("Hostile", "\\u0000" * (ROOM // 6)) % (LAYER % ("base", "")),
        "quotes and backslashes": lambda: '["' + '\\"' * (ROOM // 2) + '"]',
        "layers": lambda: BASE % ",".join(_numbered('{"id": "l%d", "name": "L", "bindings": []}')),
        "bindings": lambda: BASE % (LAYER % ("base", _repeated(f'{{"control": "south", "press": [{key}]}}'))),
        "keys in one binding": lambda: (
            BASE % (LAYER % ("base", f'{{"control": "south", "press": [{_repeated(key)}]}}'))
        ),
        "as much as is allowed": lambda: profile_text(_largest()).decode(),
        "commands": lambda: (
            BASE.replace(
                '"layers"', '"commands": [' + ",".join(_numbered('{"id": "c%d", "name": "C"}')) + '], "layers"'
            )
            % (LAYER % ("base", ""))
        ),
        "brackets and no end": lambda: "[" + _repeated("[]"),
        "nothing": lambda: "",
        "control characters": lambda: "".join(map(chr, range(32))) * 1000,
    }
    found = {what: partial(_encoded, text) for what, text in texts.items()}
    return {**found, "bytes that are no text": lambda: b"\xff\xfe" * (ROOM // 2)}


def _encoded(text: Callable[[], str]) -> bytes:
    return text().encode()


def _largest() -> Profile:
    """A good profile of the player's game with as many commands and layers as one may have, all unlike theirs."""
    commands = tuple(Command(f"c{number}", f"Command {number}", keys=("A",)) for number in range(5000))
    bindings = tuple(Binding(control, press=(SendKey("A"),)) for control in ("south", "east", "north", "west"))
    layers = tuple(Layer(f"l{number}" if number else "base", "Layer", bindings=bindings) for number in range(200))
    return Profile(FORMAT, VERSION, game=Game(title="Quillgate"), commands=commands, layers=layers)


def _by_import(path: Path) -> str:
    from nubshift.cli.main import main

    return str(main(["import", "--show", str(path)]))


def _by_folder(path: Path) -> str:
    from PyQt6.QtWidgets import QApplication

    from nubshift.app.document.studio import Studio
    from nubshift.app.document.synced_folder import SyncedFolder
    from nubshift.app.main import first_profile
    from nubshift.protocol.paths import profile_folder

    QApplication([])
    file, opened, _troubles = first_profile(None, profile_folder(), "")
    said: list[str] = []
    synced = SyncedFolder(Studio(file, opened).document, profile_folder(), path.parent.parent / "synced.json")
    synced.noticed.connect(lambda severity, text: said.append(severity))
    synced.follow(str(path.parent), False)
    return f"{said} {len(synced.offered)} {len(synced.conflicts)}"


WAYS = {"import": _by_import, "folder": _by_folder}


def _measured(way: str, path: Path) -> tuple[float, float, str]:
    """Seconds and MB of one reading, in a process of its own, and what it said at its end."""
    words = [sys.executable, str(Path(__file__).parent), "read", way, str(path)]
    try:
        done = subprocess.run(words, capture_output=True, text=True, check=False, timeout=PATIENCE)
    except subprocess.TimeoutExpired:
        return PATIENCE, 0.0, "did not come to an end"
    lines = [line for line in done.stdout.splitlines() if line.startswith("measured ")]
    if not lines:
        return 0.0, 0.0, f"ended with {done.returncode}: {done.stderr[-400:]}"
    seconds, megabytes = map(float, lines[-1].split()[1:3])
    return seconds, megabytes, ""


def read(way: str, path: Path) -> None:
    """In a process of its own: read it, and print what that cost beyond what is there at the start."""
    before = resource.getrusage(resource.RUSAGE_SELF)
    WAYS[way](path)
    after = resource.getrusage(resource.RUSAGE_SELF)
    seconds = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    status = Path("/proc/self/status").read_text()  # what getrusage tells of memory may be the parent's
    most = next(int(line.split()[1]) for line in status.splitlines() if line.startswith("VmHWM"))
    print(f"measured {seconds:.3f} {most / 1024:.1f}")


def attack(
    whats: tuple[str, ...] = (), show: bool = False, most_seconds: float = SECONDS
) -> tuple[Counter[str], list[str]]:
    """Read all of them, or these, both ways. Returns how many, and a text for each that cost too much or ended the program."""
    counts: Counter[str] = Counter()
    faults: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        os.environ |= {f"XDG_{kind}_HOME": folder for kind in ("DATA", "CONFIG", "STATE")} | {
            "QT_QPA_PLATFORM": "offscreen"
        }
        there = Path(folder) / "there"
        there.mkdir()
        path = there / f"quillgate{SUFFIX}"
        path.write_bytes(b"{}")
        least = {way: _measured(way, path) for way in WAYS}
        for what, make in hostile().items():
            if whats and what not in whats:
                continue
            path.write_bytes(make())
            for way in WAYS:
                seconds, megabytes, trouble = _measured(way, path)
                seconds -= least[way][0]
                counts[way] += 1
                if show:
                    print(f"{what:28}{way:8}{max(0.0, seconds):7.2f} s {megabytes:7.0f} MB  {trouble}")
                if trouble or megabytes > least[way][1] + MEGABYTES or seconds > most_seconds:
                    faults.append(f"{what}, by {way}: {seconds:.1f} s, {megabytes:.0f} MB {trouble}")
    return counts, faults
