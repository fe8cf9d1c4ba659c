"""Programs as the kernel tells of them: what is read of each, and what is not kept."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.model.programs import SeenProgram
from nubshift.surroundings.process_events import ProcessEvents
from nubshift.surroundings.processes import Processes, family_of
from standins.desktop import program
from standins.waiting import wait_until

CGROUPS = (Path("/sys/fs/cgroup"), Path("/sys/fs/cgroup/cpu"))
"""Where the kernel's cgroups are, in their newer and their older form."""


def seen(processes: Processes, pid: int) -> SeenProgram | None:
    return next((one for one in processes.look() if one.pid == pid), None)


def test_a_program_is_known_by_its_path_words_and_parent_and_goes_when_it_ends(tmp_path: Path) -> None:
    processes = Processes()
    with program(tmp_path / "ferrowdeep", "3000") as game:
        wait_until(lambda: (one := seen(processes, game.pid)) is not None and one.path, "it is seen")
        found = seen(processes, game.pid)
        assert found is not None
        assert (found.path, found.parent) == (str(tmp_path / "ferrowdeep"), os.getpid())
        assert found.command[1:] == ("3000",)
    assert seen(processes, game.pid) is None


def test_secrets_of_environments_are_not_kept(tmp_path: Path) -> None:
    processes = Processes()
    with program(tmp_path / "game", "3000", SECRET_TOKEN="x", MY_GAME_ID="7", MARK="m") as game:
        wait_until(lambda: (one := seen(processes, game.pid)) is not None and one.marks, "it is seen")
        assert seen(processes, game.pid).marks == ("MY_GAME_ID=7",)  # type: ignore[union-attr]
        processes.want_marks(frozenset({"MARK"}))
        assert set(seen(processes, game.pid).marks) == {"MY_GAME_ID=7", "MARK=m"}  # type: ignore[union-attr]


@pytest.fixture
def cgroup() -> Iterator[Path]:
    """A cgroup as a sandbox makes one, where that is allowed."""
    root = next((root for root in CGROUPS if (root / "cgroup.procs").exists()), None)
    if root is None or not os.access(root, os.W_OK):
        pytest.skip("no cgroup can be made here")
    path = root / f"app-flatpak-org.example.Ferrow-{os.getpid()}.scope"
    try:
        path.mkdir()
    except OSError as error:
        pytest.skip(f"no cgroup can be made here: {error.strerror}")
    yield path
    wait_until(lambda: not (path / "cgroup.procs").read_text(), "the cgroup is empty")
    path.rmdir()


def test_an_application_is_known_by_its_cgroup(tmp_path: Path, cgroup: Path) -> None:
    with program(tmp_path / "game", "3000") as game:
        (cgroup / "cgroup.procs").write_text(str(game.pid))
        found = seen(Processes(), game.pid)
        assert found is not None
        assert found.app == "org.example.Ferrow"


def test_an_application_is_known_by_the_desktop_file_it_was_started_from() -> None:
    code = "import os; os.environ.update(GIO_LAUNCHED_DESKTOP_FILE='/a/org.example.Salt.desktop', \
GIO_LAUNCHED_DESKTOP_FILE_PID=str(os.getpid())); os.execvp('sleep', ['sleep', '3000'])"
    game = subprocess.Popen([sys.executable, "-c", code])
    processes = Processes()
    try:
        wait_until(lambda: (one := seen(processes, game.pid)) is not None and one.app, "its application is known")
        assert seen(processes, game.pid).app == "org.example.Salt"  # type: ignore[union-attr]
    finally:
        game.kill()
        game.wait()


def test_the_family_of_a_program_is_all_that_descends_from_it() -> None:
    parent = subprocess.Popen(["sh", "-c", "sleep 3000 & wait"])
    try:
        wait_until(lambda: len(family_of(parent.pid)) == 2, "its child is there")
        assert os.getpid() not in family_of(parent.pid)
    finally:
        for pid in family_of(parent.pid):
            os.kill(pid, 9)
        parent.wait()


def test_word_comes_of_programs_that_start_where_the_kernel_allows_it() -> None:
    try:
        events = ProcessEvents()
    except OSError as error:
        pytest.skip(f"the kernel does not allow it: {error.strerror}")
    child = subprocess.Popen(["true"])
    child.wait()
    found: set[int] = set()

    def told() -> bool:
        found.update(events.take()[0])
        return child.pid in found

    wait_until(told, "word of it comes")
    events.close()
