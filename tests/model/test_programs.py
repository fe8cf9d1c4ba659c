"""What a rule says of a program, and whether it means one (N61)."""

from __future__ import annotations

from pathlib import Path

import pytest

from nubshift.model.automatic import Automatic, GameRule, read_automatic, write_automatic
from nubshift.model.programs import ProgramMatch, SeenProgram, app_of_cgroup, learned_from, windows_program

FERROW = SeenProgram(7, 1, "/games/Ferrow/ferrowdeep", "ferrowdeep", ("./ferrowdeep", "--deep", "3"), ("GAME_ID=41",))
SCRIPT = SeenProgram(8, 1, "/usr/bin/python3.11", "python3", ("python3", "/games/quillgate.py"), (), group="Quillgate")


@pytest.mark.parametrize(
    ("match", "seen", "fits"),
    [
        (ProgramMatch(program="ferrowdeep"), FERROW, True),
        (ProgramMatch(program="FerrowDeep"), FERROW, True),
        (ProgramMatch(program="ferrow"), FERROW, False),
        (ProgramMatch(program="ferrow*"), FERROW, True),
        (ProgramMatch(program="/games/Ferrow/ferrowdeep"), FERROW, True),
        (ProgramMatch(program="/other/ferrowdeep"), FERROW, False),
        (ProgramMatch(program="/games/*"), FERROW, True),
        (ProgramMatch(program="/games/quillgate.py"), SCRIPT, True),
        (ProgramMatch(program="python3"), SCRIPT, True),
        (ProgramMatch(command="--deep 3"), FERROW, True),
        (ProgramMatch(command="--shallow"), FERROW, False),
        (ProgramMatch(mark="GAME_ID"), FERROW, True),
        (ProgramMatch(mark="GAME_ID=41"), FERROW, True),
        (ProgramMatch(mark="GAME_ID=4"), FERROW, False),
        (ProgramMatch(window_class="quillgate"), SCRIPT, True),
        (ProgramMatch(window_class="quillgate"), FERROW, False),
        (ProgramMatch(title="gate ["), SeenProgram(1, title="Quillgate [2]"), True),
        (ProgramMatch(title="gate ?"), SeenProgram(1, title="Quillgate 2"), False),
        (ProgramMatch(app="org.example.Ferrow.desktop"), SeenProgram(1, app="org.example.Ferrow"), True),
        (ProgramMatch(windows_program="deep.exe"), SeenProgram(1, windows_program="Deep.exe"), True),
        (ProgramMatch(program="ferrowdeep", window_class="Other"), FERROW, False),
        (ProgramMatch(program="ferrowdeep", controller="moss"), FERROW, True),
        (ProgramMatch(program="ferrowdeep", controller="reed"), FERROW, False),
        (ProgramMatch(), FERROW, False),
    ],
)
def test_a_match_means_what_it_says(match: ProgramMatch, seen: SeenProgram, fits: bool) -> None:
    assert match.fits(seen, ("Moss pad",)) is fits


def test_many_stars_take_no_time() -> None:
    match = ProgramMatch(title="*a" * 90 + "b")
    assert not match.fits(SeenProgram(1, title="a" * 200))


@pytest.mark.parametrize(
    ("command", "program"),
    [
        (("Z:\\games\\Quillgate\\Quillgate.exe", "-w"), "Quillgate.exe"),
        (("/opt/runner/bin/wine64-preloader", "/games/q/Quill Gate.EXE"), "Quill Gate.EXE"),
        (("C:\\windows\\system32\\services.exe",), ""),
        (("./ferrowdeep",), ""),
    ],
)
def test_the_windows_program_of_a_command(command: tuple[str, ...], program: str) -> None:
    assert windows_program(command) == program


@pytest.mark.parametrize(
    ("cgroup", "app"),
    [
        ("/user.slice/user-1000.slice/user@1000.service/app.slice/app-flatpak-org.example.Ferrow-4711.scope",
         "org.example.Ferrow"),
        ("/user.slice/app.slice/app-gnome-org.example.Quill\\x2dGate-812.scope", "org.example.Quill-Gate"),
        ("/app.slice/app-org.example.Salt@4fd2.service", "org.example.Salt"),
        ("/app.slice/snap.ferrow.ferrow-0a1b2c3d-9f8e-4a4b-8c8d-1234567890ab.scope", "ferrow"),
        ("/app.slice/snap.ferrow.editor-0a1b2c3d-9f8e-4a4b-8c8d-1234567890ab.scope", "ferrow_editor"),
        ("/user.slice/session-2.scope", ""),
    ],
)  # fmt: skip
def test_the_application_of_a_cgroup(cgroup: str, app: str) -> None:
    assert app_of_cgroup(cgroup) == app


def test_a_rule_is_learned_from_the_surest_mark_and_fits_what_it_was_learned_from() -> None:
    wine = SeenProgram(3, 1, "/usr/bin/wine64", "Quill.exe", ("Z:\\q\\Quill.exe",), windows_program="Quill.exe")
    flat = SeenProgram(4, 1, "/app/bin/sh", "sh", ("sh",), app="org.example.Salt")
    for seen in (FERROW, SCRIPT, wine, flat, SeenProgram(0, group="Old", title="Old game")):
        match = learned_from(seen)
        assert match.fits(seen), seen
    assert learned_from(wine) == ProgramMatch(windows_program="Quill.exe")
    assert learned_from(flat) == ProgramMatch(app="org.example.Salt")
    assert learned_from(FERROW) == ProgramMatch(program="/games/Ferrow/ferrowdeep")
    assert learned_from(SCRIPT) == ProgramMatch(program="/games/quillgate.py")  # not every Python program


def test_exceptions_and_order() -> None:
    demo = ProgramMatch(command="--demo")
    first = GameRule("deep", (ProgramMatch(program="ferrowdeep"),), (demo,))
    rules = Automatic(rules=(first, GameRule("other", (ProgramMatch(program="ferrow*"),))))
    assert rules.rule_for(FERROW) is first
    shown = SeenProgram(9, 1, "/g/ferrowdeep", command=("ferrowdeep", "--demo"))
    assert rules.rule_for(shown) is rules.rules[1]
    assert rules.moved(1, 0).rule_for(FERROW) is rules.rules[1]
    assert rules.without(0).rule_for(FERROW) is rules.rules[1]


def test_one_click_moves_a_program_to_another_profile() -> None:
    match = ProgramMatch(program="ferrowdeep")
    rules = Automatic(never=(match,)).with_match("deep", match)
    assert rules.rules == (GameRule("deep", (match,)),)
    assert not rules.never
    moved = rules.with_match("other", match)
    assert moved.rules == (GameRule("other", (match,)),)
    assert moved.with_match("other", match) == moved


def test_the_file_comes_back_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "automatic.json"
    assert read_automatic(path) == Automatic()
    rules = Automatic(rules=(GameRule("deep", (ProgramMatch(title="Deep"),), background="play"),), fallback="desk")
    write_automatic(path, rules)
    assert read_automatic(path) == rules
