"""Mutated files of every kind through their readers: a sentence or a good file, and nothing else.

python tools/faults files --count 40000 --seed 7
"""

from __future__ import annotations

import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from random import Random

import msgspec

from faults.making import mutated
from nubshift.devices.evemu import evemu_text
from nubshift.devices.mapping_line import inputs_of, parse_lines
from nubshift.devices.player import read_script
from nubshift.devices.simulated import PADS
from nubshift.devices.take import read_take, take_text
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.errors import NubShiftError
from nubshift.events import Report
from nubshift.model.automatic import Automatic, GameRule, read_automatic
from nubshift.model.controller_setup import ControllerSetup, InputMapping, parse_setup, setup_text
from nubshift.model.play_times import Played, PlayTimes, read_play_times
from nubshift.model.player_settings import PlayerSettings, read_settings
from nubshift.model.profile import Profile
from nubshift.model.programs import ProgramMatch, SeenProgram
from nubshift.model.reach import ReachFile, read_reach
from nubshift.model.results import ResultsFile, read_results
from nubshift.model.store import read_profile
from nubshift.model.stored_controllers import Calibration, ControllersFile, Own, read_controllers
from nubshift.protocol.paths import demo_folder

SLOW = 5.0
"""Seconds; reading a small file for longer is a hang."""
LINE = "03000000de280000ff11000011010000,Some pad,a:b0,b:b1,leftx:a0,lefty:a1~,dpup:h0.1,+rightx:+a3,platform:Linux,\n"


RULE = GameRule(
    "deep", (ProgramMatch(program="deep*", title="Deep"),), (ProgramMatch(mark="TEST=1"),), background="play"
)


def _profile(path: Path) -> None:
    played: Profile = read_profile(path)
    engine = Engine(compile_profile(played))
    for t, name in enumerate(("south", "east", "left_stick", "right_stick", "left_trigger", "dpad_up")):
        engine.feed(Report(t * 90_000, ((name, 1.0, 0.0),)))
    engine.release_all(2_000_000)


def _take(path: Path) -> None:
    read_take(path)


def _lines(path: Path) -> None:
    found, _ = parse_lines(path.read_text("utf-8", "replace"))
    for line in found:
        inputs_of(line, range(0x130, 0x13F), {})


def _setup(path: Path) -> None:
    parse_setup(path.read_bytes(), str(path))


def _rules(path: Path) -> None:
    seen = SeenProgram(1, path="/usr/games/deep", command=("deep", "--full"), title="Deep")
    for rule in read_automatic(path).rules:
        rule.fits(seen, ["Pad"])


def samples() -> dict[str, tuple[bytes, Callable[[Path], object]]]:
    """A good file of each kind, and its reader."""
    demo = demo_folder()
    short = [Report(t * 4000, (("left_stick", t / 20, 0.5), ("south", float(t % 2), 0.0))) for t in range(20)]
    setup = ControllerSetup(
        "0003:1209:abcd Pad",
        (InputMapping("south", "key", 304), InputMapping("left_stick", "axis", 0, low=-128, high=127)),
    )
    kept = ControllersFile(devices={"pad#1": Own("mine", calibration={"left_stick": Calibration()})})
    found: dict[str, tuple[bytes, Callable[[Path], object]]] = {
        f"{path.name}": (path.read_bytes(), _profile) for path in sorted(demo.glob("*.nubshift.json"))
    }
    found |= {
        "x.player.json": (next(demo.glob("*.player.json")).read_bytes(), read_script),
        "x.take": (take_text(short).encode(), _take),
        "x.evemu": (evemu_text(short, "Pad")[0].encode(), _take),
        "x.txt": (LINE.encode() * 3, _lines),
        "x.nubshift-wiring.json": (setup_text(setup), _setup),
        "controllers.json": (msgspec.json.encode(kept), read_controllers),
        "reach.json": (msgspec.json.encode(ReachFile(players={"1": {"Pad": {}}})), read_reach),
        "results.json": (msgspec.json.encode(ResultsFile()), read_results),
        "settings.json": (msgspec.json.encode(PlayerSettings(stop_controls=("select", "start"))), read_settings),
        "automatic.json": (msgspec.json.encode(Automatic(rules=(RULE,), fallback="deep")), _rules),
        "times.json": (msgspec.json.encode(PlayTimes(profiles={"deep": Played(60.0)})), read_play_times),
    }
    return found


def attack(seed: int, count: int) -> tuple[Counter[str], list[str]]:
    """Read so many mutated files. Returns how many were good and refused, and a text for each fault."""
    random = Random(seed)
    faults: list[str] = []
    counts: Counter[str] = Counter()
    kinds = list(samples().items())
    assert PADS, "the readers are those of the program"
    with tempfile.TemporaryDirectory() as folder:
        for number in range(count):
            name, (good, read) = random.choice(kinds)
            data = good
            for _ in range(random.randrange(1, 4)):
                data = mutated(random, data)
            path = Path(folder) / name
            path.write_bytes(data)
            began = time.monotonic()
            try:
                read(path)
                counts["good"] += 1
            except NubShiftError as error:
                counts["refused"] += 1
                if "Traceback" in str(error):
                    faults.append(f"{name} #{number}: {error}")
            except Exception:
                faults.append(f"{name} #{number}:\n{data[:400]!r}\n{traceback.format_exc(limit=-3)}")
            if time.monotonic() - began > SLOW:
                faults.append(f"{name} #{number}: took {time.monotonic() - began:.1f} s\n{data[:400]!r}")
            for aside in Path(folder).glob("*.aside-*"):
                aside.unlink()
    return counts, faults
