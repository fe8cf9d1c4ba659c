"""What the desktop, shells and man are given: made from the parsers, valid by their own tools, and all in the wheel."""

from __future__ import annotations

import ast
import re
import shutil
import subprocess
import sys
import tomllib
import zipfile
from importlib.metadata import packages_distributions
from pathlib import Path
from xml.etree import ElementTree

import pytest

import bill_of_materials
from bill_of_materials import PROGRAM
from nubshift import __version__
from nubshift.cli.main import COMMANDS

ROOT = Path(__file__).parents[2]
SHARE = ROOT / "share"
WITH_GPL_3 = {
    *("0BSD", "Apache-2.0", "BSD-2-Clause", "BSD-3-Clause", "CC0-1.0", "MIT", "MIT-0", "Zlib"),
    *("GPL-3.0-only", "LGPL-2.1-or-later", "LGPL-3.0-only"),
}
"""Licences of what may be shipped with a program under the GPL, version 3 or later."""


def valid(*words: object) -> str:
    """What a validator says that is satisfied, where there is one; what else it says is in the failure."""
    command = [str(word) for word in words]
    if shutil.which(command[0]) is None:
        pytest.skip(f"there is no {command[0]} here")
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


@pytest.mark.skipif(sys.version_info[:2] != (3, 11), reason="each Python words the usage in its own way")
def test_what_is_made_from_the_parsers_is_as_they_are_now() -> None:
    """Else: python tools/share_files.py."""
    command = [sys.executable, "-c", "import share_files, sys; sys.exit(share_files.stale())"]
    done = subprocess.run(command, capture_output=True, text=True, cwd=ROOT / "tools", check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_the_desktop_entry_is_valid_and_starts_what_is_installed() -> None:
    entry = SHARE / "applications" / "nubshift.desktop"
    valid("desktop-file-validate", entry)
    assert "\nExec=nubshift %f\n" in entry.read_text()


def test_the_description_for_software_centres_is_valid() -> None:
    (described,) = (SHARE / "metainfo").glob("*.xml")
    valid("appstreamcli", "validate", "--strict", "--pedantic", "--no-net", described)
    told = ElementTree.parse(described).getroot()
    assert told.findtext("launchable") == "nubshift.desktop"


def test_files_of_ours_are_known_by_their_names_and_by_what_they_begin_with(tmp_path: Path) -> None:
    (tmp_path / "mime" / "packages").mkdir(parents=True)
    shutil.copy(SHARE / "mime" / "packages" / "nubshift.xml", tmp_path / "mime" / "packages")
    valid("update-mime-database", tmp_path / "mime")
    names = (tmp_path / "mime" / "globs2").read_text()
    assert "60:application/x-nubshift-profile:*.nubshift.json" in names
    for kind in ("profile", "setup", "take"):
        assert (SHARE / f"icons/hicolor/scalable/mimetypes/application-x-nubshift-{kind}.svg").exists()


def test_a_file_of_ours_is_known_to_desktops(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """As a file manager asks."""
    (tmp_path / "mime" / "packages").mkdir(parents=True)
    shutil.copy(SHARE / "mime" / "packages" / "nubshift.xml", tmp_path / "mime" / "packages")
    valid("update-mime-database", tmp_path / "mime")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    monkeypatch.setenv("XDG_CURRENT_DESKTOP", "GNOME")
    profile = tmp_path / "some.nubshift.json"
    shutil.copy(ROOT / "src/nubshift/demo/saltbarrow.nubshift.json", profile)
    assert valid("xdg-mime", "query", "filetype", profile).strip() == "application/x-nubshift-profile"


@pytest.mark.parametrize("folder", ["share/systemd/user", "src/nubshift/data"])
def test_units_are_valid(folder: str, tmp_path: Path) -> None:
    units = [shutil.copy(unit, tmp_path) for unit in (ROOT / folder).iterdir() if unit.suffix in (".service", ".path")]
    program = tmp_path / "nubshift"
    program.write_text("#!/bin/sh\n")
    program.chmod(0o755)
    for unit in units:  # which asks for the program that it starts
        Path(unit).write_text(Path(unit).read_text().replace("/usr/bin/nubshift", str(program)))
    assert units
    valid("systemd-analyze", "--user" if folder.endswith("user") else "--system", "--man=no", "verify", *units)


def test_icons_are_drawings() -> None:
    icons = list(SHARE.glob("icons/**/*.svg"))
    assert len(icons) == 6
    for icon in icons:
        assert ElementTree.parse(icon).getroot().tag.endswith("svg")


def test_the_man_page_has_every_command() -> None:
    page = (SHARE / "man" / "man1" / "nubshift.1").read_text()
    for command in COMMANDS:
        assert f"nubshift {command}".replace("-", "\\-") in page.replace(
            "nubshift install-access", "nubshift install\\-access"
        )


def test_bash_completes_commands_and_options() -> None:
    script = """
    . "$1"; COMP_WORDS=(nubshift sta); COMP_CWORD=1; COMP_LINE="nubshift sta"; COMP_POINT=12
    _shtab_nubshift nubshift sta nubshift; printf '%s\\n' "${COMPREPLY[@]}"
    COMP_WORDS=(nubshift status --); COMP_CWORD=2; _shtab_nubshift nubshift -- status; printf '%s\\n' "${COMPREPLY[@]}"
    """
    completion = SHARE / "bash-completion" / "completions" / "nubshift"
    done = subprocess.run(["bash", "-c", script, "bash", completion], capture_output=True, text=True, check=True)
    assert done.stdout.split() == ["status", "--help", "--json"]


def test_the_version_stands_in_one_place_and_all_others_follow_it() -> None:
    assert f"## [{__version__}] – 20" in (ROOT / "CHANGELOG.md").read_text()
    (described,) = (SHARE / "metainfo").glob("*.xml")
    assert ElementTree.parse(described).getroot().find(f"releases/release[@version='{__version__}']") is not None
    assert "version" in tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dynamic"]


def test_the_wheel_brings_all_of_it(tmp_path: Path) -> None:
    shutil.copytree(ROOT, tmp_path / "here", ignore=shutil.ignore_patterns(".git", ".venv", "build", "*.egg-info"))
    command = [sys.executable, "-c", "from setuptools import build_meta; print(build_meta.build_wheel('.'))"]
    done = subprocess.run(command, capture_output=True, text=True, cwd=tmp_path / "here", check=False)
    assert done.returncode == 0, done.stderr
    names = zipfile.ZipFile(tmp_path / "here" / done.stdout.split()[-1]).namelist()
    for path in SHARE.rglob("*"):
        if path.is_file():
            assert any(name.endswith(f"/{path.name}") and ".data/data/" in name for name in names), path
    for path in (ROOT / "src" / "nubshift").rglob("*"):
        if path.is_file() and path.suffix not in (".pyc", ".po", ".pot", ".so"):
            assert f"nubshift/{path.relative_to(ROOT / 'src' / 'nubshift')}" in names


def test_the_bill_of_materials_has_all_that_is_imported_with_licences_that_go_with_ours() -> None:
    bill = bill_of_materials.bill()
    assert (bill["bomFormat"], bill["metadata"]["component"]["version"]) == ("CycloneDX", __version__)
    parts = {re.sub(r"[-_.]+", "_", part["name"]).lower(): part for part in bill["components"]}
    for part in parts.values():
        (licence,) = part["licenses"]
        assert set(re.split(r" (?:AND|OR|WITH) ", licence["expression"])) <= WITH_GPL_3, part
    names = packages_distributions()
    trees = [ast.parse(path.read_text()) for path in (ROOT / "src").rglob("*.py")]
    nodes = [node for tree in trees for node in ast.walk(tree)]
    imported = {alias.name.partition(".")[0] for node in nodes if isinstance(node, ast.Import) for alias in node.names}
    imported |= {node.module.partition(".")[0] for node in nodes if isinstance(node, ast.ImportFrom) and node.module}
    foreign = imported - sys.stdlib_module_names - {"nubshift"}
    assert len(foreign) > 8
    for name in foreign:
        assert any(re.sub(r"[-_.]+", "_", each).lower() in parts for each in names[name]), name


def test_the_flatpak_asks_for_what_the_program_talks_to() -> None:
    """Each name that it may talk to is one that the source knows, or the tray's."""
    manifest = (ROOT / "packaging/flatpak/org.nubshift.nubshift.yml").read_text()
    source = "".join(path.read_text() for path in (ROOT / "src").rglob("*.py"))
    names = re.findall(r"-talk-name=(\S+)", manifest)
    assert len(names) > 6
    assert [name for name in names if name not in source] == ["org.kde.StatusNotifierWatcher"]
    assert f"command: {PROGRAM}" in manifest
