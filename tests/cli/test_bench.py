"""``nubshift bench``: its rows and their form. The figures themselves belong to a quiet machine, not to a test."""

from __future__ import annotations

import json

import pytest

from nubshift.cli import bench
from nubshift.cli.bench_profile import bench_profile
from nubshift.cli.bench_runner import PlayLoad, measure
from nubshift.cli.main import main
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.model.rules import problems_of


def test_a_row_is_one_json_object_a_line(capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bench, "RUNS", 1)
    monkeypatch.setattr(bench, "REPORTS", 500)
    main(["bench", "--json", "engine", "replay"])
    rows = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert len(rows) == 4
    for row in rows:
        assert list(row) == ["name", "value", "unit", "floor", "ratio", "bar", "met"]
        assert row["value"] > 0
        assert isinstance(row["met"], bool)


def test_the_runner_and_its_start_are_measured(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(bench, "RUNS", 1)
    monkeypatch.setattr(bench, "SECONDS", 0.2)
    main(["bench", "--json", "runner", "start"])
    rows = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [row["unit"] for row in rows] == ["µs", "µs", "µs", "MB", "ms"]
    assert all(row["value"] > row["floor"] for row in rows if row["name"] != "added delay, one in a hundred")
    assert 10 < next(row["value"] for row in rows if row["unit"] == "MB") < 200


def test_several_controllers_at_other_rates_are_measured_too() -> None:
    """All of them are read and played: with two pads the runner answers as well, at a quarter of the rate."""
    cost = measure("runner", 0.3, PlayLoad(controllers=2, rate=250, layers=0))
    assert cost.median > 0
    assert cost.processor > 0


def test_an_unknown_row_is_named(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["bench", "speed"]) == 1
    assert 'there is no row "speed"; there are engine, runner, growth, start, window, replay' in capsys.readouterr().err


def test_both_profiles_are_good_and_send_the_same() -> None:
    """What is measured is real play: layers that are not entered change nothing of it."""
    reports = list(bench._played())[:3000]
    logs = []
    for layers in (0, 90):
        profile = bench_profile(layers)
        assert not list(problems_of(profile))
        engine = Engine(compile_profile(profile))
        logs.append([output for report in reports for output in outputs_of(engine.feed(report))])
    assert logs[0] == logs[1]
    assert len(logs[0]) > 1000
    assert sum(len(layer.bindings) for layer in bench_profile(90).layers) >= 2000
