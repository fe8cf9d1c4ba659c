"""Programs and their windows, as they are seen from outside, and what a rule says of them (need N61). Pure."""

from __future__ import annotations

import re
from collections.abc import Iterable
from fnmatch import fnmatchcase

import msgspec

from nubshift.model.part import Part, Text


class SeenProgram(msgspec.Struct, frozen=True, omit_defaults=True):
    """A program that runs, and its window where it has one.

    `parent` is the process that started it, `path` that of its executable (empty where it can't be read), `name` what
    the kernel calls it (15 letters at most), `command` its words, `marks` some variables of its environment as
    ``NAME=value``. `windows_program` is the one that a Windows program runs as, `app` the id of a desktop application
    (by its cgroup, sandbox or desktop file). `group` is the window's class, `title` its title; both are empty for a
    program without one; `full_screen`: it fills the screen.
    """

    pid: int
    parent: int = 0
    path: str = ""
    name: str = ""
    command: tuple[str, ...] = ()
    marks: tuple[str, ...] = ()
    windows_program: str = ""
    app: str = ""
    group: str = ""
    title: str = ""
    full_screen: bool = False

    @property
    def has_window(self) -> bool:
        """Whether this is told of a window."""
        return bool(self.group or self.title)

    @property
    def called(self) -> str:
        """What a player would call it."""
        return self.title or self.windows_program or self.app or self.group or self.path.rpartition("/")[2] or self.name


def lineage(pid: int, programs: Iterable[SeenProgram]) -> frozenset[int]:
    """A process and all from which it descends."""
    parents = {seen.pid: seen.parent for seen in programs}
    found: set[int] = set()
    while pid and pid not in found:
        found.add(pid)
        pid = parents.get(pid, 0)
    return frozenset(found)


class ProgramMatch(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Everything that is set here has to be so, in capital letters or small ones; ``*`` stands for any text.

    `program` is a path, or a name without one; `command` and `title` have to appear somewhere; `mark` is a variable of
    the environment, ``NAME`` or ``NAME=value``; `controller` is part of the name or id of one that is connected.
    """

    program: Text = ""
    command: Text = ""
    mark: Text = ""
    windows_program: Text = ""
    app: Text = ""
    window_class: Text = ""
    title: Text = ""
    controller: Text = ""

    @property
    def is_empty(self) -> bool:
        """Whether it says nothing, and so means no program."""
        return not any(getattr(self, field) for field in self.__struct_fields__)

    @property
    def needs_window(self) -> bool:
        """Whether only a window can be what is meant."""
        return bool(self.window_class or self.title)

    def fits(self, seen: SeenProgram, controllers: Iterable[str] = ()) -> bool:
        """Whether a program is the one meant, while these controllers are connected."""
        if self.is_empty:
            return False
        return (
            (not self.program or _is_program(self.program, seen))
            and (not self.command or _within(self.command, " ".join(seen.command)))
            and (not self.mark or any(_is_mark(self.mark, mark) for mark in seen.marks))
            and (not self.windows_program or _same(self.windows_program, seen.windows_program))
            and (not self.app or _same(self.app.removesuffix(".desktop"), seen.app))
            and (not self.window_class or _same(self.window_class, seen.group))
            and (not self.title or _within(self.title, seen.title))
            and (not self.controller or any(_within(self.controller, name) for name in controllers))
        )


def _same(wanted: str, found: str) -> bool:
    return bool(found) and fnmatchcase(found.lower(), _plain(wanted))


def _within(wanted: str, found: str) -> bool:
    return fnmatchcase(found.lower(), f"*{_plain(wanted)}*")


def _plain(wanted: str) -> str:
    """As a pattern: only ``*`` means something, and one of them in a row."""
    return re.sub(r"\*+", "*", wanted.lower()).replace("[", "[[]").replace("?", "[?]")


def _is_mark(wanted: str, mark: str) -> bool:
    name, equals, value = wanted.partition("=")
    found, _unused, there = mark.partition("=")
    return name == found and (not equals or fnmatchcase(there.lower(), _plain(value)))


def _is_program(wanted: str, seen: SeenProgram) -> bool:
    """A path is the executable's, or the script's that it runs; a name is that of either, or the kernel's."""
    scripts = [word for word in seen.command[:3] if word.startswith("/")]
    paths = [path for path in (seen.path, *scripts) if path]
    if "/" in wanted:
        return any(_same(wanted, path) for path in paths)
    names = {seen.name, *(path.rpartition("/")[2] for path in paths), *(w.rpartition("/")[2] for w in seen.command[:1])}
    return any(_same(wanted, name) for name in names)


_WINE_OWN = {
    "conhost.exe", "explorer.exe", "plugplay.exe", "rpcss.exe", "rundll32.exe", "services.exe", "start.exe",
    "svchost.exe", "tabtip.exe", "wineboot.exe", "winedevice.exe", "wineserver.exe", "winemenubuilder.exe",
}  # fmt: skip
"""Programs of Wine itself, which are no game."""


def windows_program(command: Iterable[str]) -> str:
    """The Windows program that these words start, without its folder; empty where they start none, or one of Wine's."""
    for word in command:
        name = re.split(r"[\\/]", word.strip())[-1]
        if name.lower().endswith(".exe"):
            return "" if name.lower() in _WINE_OWN else name
    return ""


_UNIT = re.compile(r"(?:app|snap)[-.].*\.(?:scope|service)$")


def app_of_cgroup(cgroup: str) -> str:
    """The desktop application of a cgroup's path, by the systemd naming of desktop units, Flatpak's and Snap's.

    ``app[-LAUNCHER]-ID[-NUMBER].scope``, ``app[-LAUNCHER]-ID[@NUMBER].service``, ``snap.NAME.APP-NUMBER.scope``
    (systemd's "Desktop Environment Integration"). Empty where it is none.
    """
    unit = next((part for part in reversed(cgroup.strip().split("/")) if _UNIT.match(part)), "")
    if not unit:
        return ""
    stem, _unused, kind = unit.rpartition(".")
    if unit.startswith("snap."):
        words = stem.split(".")
        name, app = words[1], re.sub(r"-[0-9a-f]{8}(-[0-9a-f]+)+$", "", words[2]) if len(words) > 2 else ""
        return name if app in ("", name) else f"{name}_{app}"
    stem = stem.removeprefix("app-")
    if kind == "service":
        stem = stem.partition("@")[0]
    elif stem.rpartition("-")[2].isdecimal():
        stem = stem.rpartition("-")[0]
    return _unescaped(stem.rpartition("-")[2])


def _unescaped(text: str) -> str:
    return re.sub(r"\\x([0-9a-f]{2})", lambda found: chr(int(found[1], 16)), text)


_LAUNCHER_MARK = re.compile(r"(?i)^\w*(?:GAME|APP)_?(?:ID|NAME|UUID)=.+")


def by_launcher(mark: str) -> bool:
    """Whether a variable of the environment tells which game a launcher started, by the usual names of such."""
    return _LAUNCHER_MARK.match(mark) is not None


def learned_from(seen: SeenProgram) -> ProgramMatch:
    """The match that means this program and no other, as far as can be told: the surest of its marks.

    A name that many programs share (an interpreter's) is not taken; the window's class is, then.
    """
    if seen.windows_program:
        return ProgramMatch(windows_program=seen.windows_program)
    if seen.app:
        return ProgramMatch(app=seen.app)
    name = seen.path.rpartition("/")[2] or seen.name
    if name and not _SHARED.match(name):
        return ProgramMatch(program=seen.path or name)
    mark = next((mark for mark in seen.marks if by_launcher(mark)), "")
    if mark:
        return ProgramMatch(mark=mark)
    script = next((word for word in seen.command[1:3] if "/" in word and not word.startswith("-")), "")
    if script.startswith("/"):
        return ProgramMatch(program=script)
    if seen.group:
        return ProgramMatch(window_class=seen.group)
    return ProgramMatch(command=" ".join(seen.command)[:200]) if seen.command else ProgramMatch(program=name)


_SHARED = re.compile(
    r"^(?:python[\d.]*|java|mono|dosbox\w*|node|perl|ruby|love|bash|sh|dash|zsh|electron|wine\w*|box\d+)$"
)
"""Programs that run other ones."""
