"""How long a runner takes from its start to the first key that it sends, beside a start of Python alone."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from nubshift.errors import NubShiftError
from nubshift.model.profile import BASE, Binding, Layer, new_profile
from nubshift.model.sends import SendKey
from nubshift.model.writing import profile_text
from nubshift.texts import _

TAKE = "nubshift-take 1\n0 south=1\n1000000 south=0\n"
PATIENCE = 20.0


def measure(rounds: int) -> tuple[float, float]:
    """Both in ms, medians."""
    with tempfile.TemporaryDirectory() as folder:
        times = [(_first_key(Path(folder)), _bare(Path(folder))) for _unused in range(rounds)]
    return statistics.median(t for t, _unused in times), statistics.median(t for _unused, t in times)


def _environment(folder: Path) -> dict[str, str]:
    return os.environ | {name: str(folder) for name in ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR")}


def _first_key(folder: Path) -> float:
    """A button that is down from the start is pressed by a take; until its key is written."""
    from msgspec.structs import replace

    layer = Layer(BASE, "Base", bindings=(Binding("south", press=(SendKey("A"),)),))
    profile, take, sent = folder / "start.nubshift.json", folder / "start.take", folder / "sent.jsonl"
    profile.write_bytes(profile_text(replace(new_profile("Start"), layers=(layer,))))
    take.write_text(TAKE)
    sent.write_text("")
    words = ["run", str(profile), "--source", f"take:{take}", "--sink", f"record:{sent}"]
    began = time.monotonic()
    with subprocess.Popen(
        [sys.executable, "-m", "nubshift", *words], env=_environment(folder), stderr=subprocess.DEVNULL
    ) as runner:
        while not sent.stat().st_size:
            if time.monotonic() > began + PATIENCE or runner.poll() is not None:
                runner.kill()
                raise NubShiftError(_("the runner did not start in time to be measured"))
            time.sleep(0.001)
        took = time.monotonic() - began
        runner.kill()
    return took * 1000


def _bare(folder: Path) -> float:
    began = time.monotonic()
    subprocess.run([sys.executable, "-c", "pass"], check=True, env=_environment(folder))
    return (time.monotonic() - began) * 1000
