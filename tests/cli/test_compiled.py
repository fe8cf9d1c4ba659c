"""The program with its hot path compiled (tools/compiled test): it is there, says so, and sends the same bytes."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.protocol.paths import demo_folder

NATIVE = Path(__file__).parents[2] / "build" / "native-test"
pytestmark = pytest.mark.skipif(not (NATIVE / ".built").exists(), reason="not built: tools/compiled test")
DEMOS = sorted(path.stem for path in demo_folder().glob("*.take"))


def nubshift(*words: str, native: bool) -> bytes:
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    environment |= {"PYTHONPATH": str(NATIVE)} if native else {}
    command = [sys.executable, "-m", "nubshift", *words]
    return subprocess.run(command, env=environment, capture_output=True, check=True).stdout


def test_each_says_how_it_was_built() -> None:
    assert nubshift("--version", native=True).endswith(b"(compiled)\n")
    assert nubshift("--version", native=False).endswith(b"(pure Python)\n")


@pytest.mark.parametrize("demo", DEMOS)
def test_both_send_the_same_bytes(demo: str) -> None:
    words = ["replay", str(demo_folder() / f"{demo}.take"), str(demo_folder() / f"{demo}.nubshift.json"), "--json"]
    sent = nubshift(*words, native=True)
    assert sent == nubshift(*words, native=False)
    assert sent.count(b"\n") > 50
