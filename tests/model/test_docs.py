"""The player's page about the engine: its diagrams are what the engine does now, and each of them is shown."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "tools"))

import diagrams  # noqa: E402


def test_the_diagrams_are_replays_of_the_present_engine() -> None:
    folder = ROOT / "docs" / "diagrams"
    scenes = {f"{scene.name}.svg": scene for scene in diagrams.scenes()}
    assert set(scenes) == {path.name for path in folder.glob("*.svg")}
    for name, scene in scenes.items():
        assert (folder / name).read_text(encoding="utf-8") == diagrams.svg(scene), f"run tools/diagrams.py: {name}"


def test_the_page_shows_every_diagram() -> None:
    page = (ROOT / "docs" / "engine.md").read_text(encoding="utf-8")
    for scene in diagrams.scenes():
        assert f"(diagrams/{scene.name}.svg)" in page
