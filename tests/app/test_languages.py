"""Every text is said in the language of the session: two pseudo-languages, and every screen opened in each."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.devices.simulated import PADS
from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model.controls import CONTROLS
from nubshift.model.keys import KEYS
from standins.waiting import PATIENCE
from translations import accented, catalogue, longer, pseudo

ROOT = Path(__file__).parents[2]
DATA = sorted(
    {
        "Nub Shift", "English (US)", "Ctrl", "Shift", "Esc", "Alt", "SDL", "Hz", "ms", "px/s", "uinput",
        "Ent", *(hardware.name for hardware in HARDWARE.values()), *(model.name for model in PADS.values()),
        *(info.label for info in KEYS.values()), *(info.mark for info in CONTROLS.values()),
    },
    key=len,
    reverse=True,
)  # fmt: skip
"""What is the same in every language: names of things, what stands on keys, marks of controls, units."""
COMMANDS = re.compile(r"(sudo|nubshift|xinput) .*|/[\w./-]+|</?\w+/?>|&\w+;|°/s")


def plain(text: str) -> bool:
    """Whether a text has words without accents."""
    text = COMMANDS.sub("", text)
    for name in DATA:
        text = re.sub(rf"(?<!\w){re.escape(name)}(?!\w)", "", text)
    return re.search(r"[A-Za-z]{2}", text) is not None


@pytest.fixture(scope="module")
def languages(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("locale")
    pseudo(folder)
    return folder


def told(language: str, folder: Path, *words: str) -> str:
    """What a program printed in a language."""
    environment = {**os.environ, "NUBSHIFT_LOCALE": str(folder), "LANGUAGE": language, "LANG": "C.UTF-8",
                   "PYTHONPATH": f"{ROOT}:{ROOT / 'tools'}"}  # fmt: skip
    done = subprocess.run([sys.executable, *words], env=environment, capture_output=True, text=True,
                          timeout=4 * PATIENCE, check=False)  # fmt: skip
    assert done.returncode in (0, 1), done.stderr[-3000:]
    return done.stdout + ("" if words[0].endswith(".py") else done.stderr)


@pytest.mark.parametrize("language", ["accented", "long"])
def test_every_screen_speaks_the_language_and_cuts_nothing(language: str, languages: Path, own_home: Path) -> None:
    lines = told(language, languages, str(ROOT / "tests" / "support" / "every_text.py")).splitlines()
    texts = [tuple(json.loads(line)) for line in lines]
    assert len({where for where, *_ in texts}) > 60
    if language == "accented":
        assert sorted({(text, kind) for _, kind, text, _ in texts if plain(text) and kind != "QScrollArea"}) == []
    else:
        assert sorted({(where, kind, text) for where, kind, text, cut in texts if cut}) == []


def test_the_command_line_and_the_runner_speak_it_too(languages: Path, own_home: Path, tmp_path: Path) -> None:
    broken = tmp_path / "1.nubshift.json"
    broken.write_text('{"format": "nubshift-profile", "version": 8, "game": {"title": "1"}, "layers": [3]}')
    assert not plain(told("accented", languages, "-m", "nubshift", "check", str(broken)).split("]: ")[1])
    for line in told("accented", languages, "-m", "nubshift", "doctor").splitlines():
        said = re.sub(r"^(LOOK|note|well|ok) +|run:|xtest|Wayland|Bluetooth|'[^']*'", "", line)
        assert not plain(said), line


def test_a_language_that_is_not_there_is_english(languages: Path, own_home: Path) -> None:
    assert "no problems" in told(
        "xx", languages, "-m", "nubshift", "check", "src/nubshift/demo/quillgate.nubshift.json"
    )


def test_places_for_values_stay_as_they_are() -> None:
    assert accented("{count} of {total:,} (*.json)") == "{count} óḟ {total:,} (*.json)"
    for message in catalogue():
        for text in message.id if isinstance(message.id, tuple) else (message.id,):
            assert sorted(re.findall(r"\{[^}]*\}", accented(text))) == sorted(re.findall(r"\{[^}]*\}", text))
            assert sorted(re.findall(r"\{[^}]*\}", longer(text))) == sorted(re.findall(r"\{[^}]*\}", text))
