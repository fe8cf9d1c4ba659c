"""Takes: our own text format, and that of the evemu tools in and out."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nubshift.cli.main import main
from nubshift.devices.evemu import evemu_text, parse_evemu
from nubshift.devices.take import parse_take, read_take, take_text
from nubshift.errors import TakeError
from nubshift.events import Report
from nubshift.protocol.paths import demo_folder

RECORDED = """\
# EVEMU 1.3
# Kernel: 6.1.0
N: Some pad
I: 0003 1234 5678 0111
P: 00 00 00 00 00 00 00 00
B: 00 0b 00 00 00 00 00 00 00
B: 01 00 00 00 00 00 00 00 00
B: 01 00 00 00 00 00 00 00 00
B: 01 00 00 00 00 00 00 00 00
B: 01 00 00 00 00 00 00 00 00
B: 01 00 00 00 00 00 00 db 7c
B: 03 3f 00 00 00 00 00 00 00
A: 00 0 255 0 15 0
A: 01 0 255 0 15 0
A: 02 0 255 0 0 0
A: 03 0 255 0 15 0
A: 04 0 255 0 15 0
A: 05 0 255 0 0 0
E: 12.500000 0001 0130 0001\t# EV_KEY / BTN_SOUTH  1
E: 12.500000 0000 0000 0000\t# ------------ SYN_REPORT (0) ----------
E: 12.504000 0003 0000 0255\t# EV_ABS / ABS_X 255
E: 12.504000 0003 0002 0051
E: 12.504000 0000 0000 0000
E: 12.512250 0001 0130 0000
E: 12.512250 0000 0000 0000
"""


def test_a_recording_of_evemu_is_read_as_a_take(tmp_path: Path) -> None:
    path = tmp_path / "pad.evemu"
    path.write_text(RECORDED)
    assert read_take(path) == [
        Report(0, (("south", 1.0, 0.0),)),
        Report(4000, (("left_stick", 1.0, 0.0), ("left_trigger", 0.2, 0.0))),
        Report(12_250, (("south", 0.0, 0.0),)),
    ]


@pytest.mark.parametrize(
    ("broken", "said"),
    [
        ("E: 1.0 0001 0130", "line 2"),
        ("E: x 0001 0130 1", "line 2"),
        ("Q: 1", "no lines that begin"),
        ("A: 00", "line 2"),
    ],
)
def test_what_is_not_understood_is_named_with_its_line(broken: str, said: str) -> None:
    with pytest.raises(TakeError, match=said):
        parse_evemu(f"N: pad\n{broken}\n", "file")


def test_a_description_alone_is_no_take() -> None:
    with pytest.raises(TakeError, match="no events"):
        parse_evemu("N: pad\n", "file")


unit = st.integers(-32767, 32767).map(lambda n: n / 32767)
changes = st.one_of(
    st.tuples(
        st.sampled_from(("south", "dpad_left", "left_grip_2", "mode")), st.sampled_from((0.0, 1.0)), st.just(0.0)
    ),
    st.tuples(st.sampled_from(("left_stick", "right_stick")), unit, unit),
    st.tuples(st.just("right_trigger"), st.integers(0, 1023).map(lambda n: n / 1023), st.just(0.0)),
)


def unique(parts: list[tuple[str, float, float]]) -> tuple[tuple[str, float, float], ...]:
    return tuple({part[0]: part for part in parts}.values())


@given(st.lists(st.tuples(st.integers(0, 50_000), st.lists(changes, min_size=1, max_size=4).map(unique)), min_size=1))
def test_a_take_comes_back_from_evemu_as_it_was(steps: list[tuple[int, tuple[tuple[str, float, float], ...]]]) -> None:
    t = 0
    reports = []
    for index, (gap, found) in enumerate(steps):
        t += gap if index else 0
        reports.append(Report(t, found))
    text, left_out = evemu_text(reports, "pad")
    assert left_out == ()
    back = parse_evemu(text, "file")
    assert [report.t for report in back] == [report.t for report in reports]
    for mine, theirs in zip(reports, back, strict=True):
        assert {name: pytest.approx((x, y), abs=1e-4) for name, x, y in mine.changes} == {
            name: (x, y) for name, x, y in theirs.changes
        }


def test_the_demo_goes_out_and_in_and_what_has_no_code_is_named(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out, back = tmp_path / "demo.evemu", tmp_path / "demo.take"
    assert main(["take", str(demo_folder() / "ferrow-deep.take"), "--evemu", "-o", str(out)]) == 0
    assert capsys.readouterr().err == "nubshift take: left out, since a pad's node has none: motion\n"
    assert main(["take", str(out), "-o", str(back)]) == 0
    assert len(read_take(back)) > 500


def test_every_value_of_the_normal_form_can_stand_in_a_take() -> None:
    reports = [
        Report(
            0, (("motion", 12.5, -3.25), ("motion_lean", 0.5, 0.0), ("gravity", 0.01, 0.98), ("gravity_z", -0.1, 0.0))
        ),
        Report(4000, (("axis_1", -0.5, 0.0), ("pointer", 0.25, 0.5), ("pointer_seen", 1.0, 0.0)), "2"),
    ]
    assert list(parse_take(take_text(reports), "file")) == reports


def test_a_take_with_an_unknown_control_is_refused_with_its_line() -> None:
    with pytest.raises(TakeError, match=r'line 2: there is no control "gravty"'):
        list(parse_take("nubshift-take 1\n0 gravty=1,0\n", "file"))


def test_a_recording_of_a_joystick_keeps_its_buttons() -> None:
    text = "# EVEMU 1.3\nN: Stick\nB: 01 " + "00 " * 36 + "03\nB: 03 03\nA: 00 0 255 0 0 0\nA: 01 0 255 0 0 0\n"
    text += "E: 1.000000 0001 0121 1\nE: 1.000000 0003 0000 255\nE: 1.000000 0000 0000 0\n"
    (report,) = parse_evemu(text, "file")
    assert {name: x for name, x, _ in report.changes} == {"button_2": 1.0, "left_stick": 1.0}


def test_a_recording_of_motion_is_motion() -> None:
    text = "# EVEMU 1.3\nN: Motion\nP: 40\nB: 03 3f\n" + "".join(
        f"A: 0{n} -32768 32767 0 0 {8192 if n < 3 else 16}\n" for n in range(6)
    )
    text += (
        "E: 1.000000 0003 0004 -1600\nE: 1.000000 0000 0000 0\nE: 1.004000 0004 0005 4000\nE: 1.004000 0000 0000 0\n"
    )
    first, again = parse_evemu(text, "file")
    assert ("motion", 100.0, 0.0) in first.changes
    assert (again.t, again.changes) == (4000, first.changes)
