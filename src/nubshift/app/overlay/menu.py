"""The menu over the game, worked with the controller: what stands on it and what is chosen (need N61). No painting."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec import Struct
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.model.programs import SeenProgram
from nubshift.protocol.messages import Programs, Status
from nubshift.records import Record
from nubshift.texts import _

MOST_PROGRAMS = 12


class MenuChoice(Record, frozen=True):
    """Something to choose from: its `key` and what it is called; `now`: it is what holds."""

    key: str
    text: str
    now: bool = False


class Tuned(Record, frozen=True):
    """A control with variants, to choose from."""

    seat: str
    control: str
    name: str
    variants: tuple[MenuChoice, ...]


class Scene(Record, frozen=True):
    """What the menu is about: the profiles, layers and variants there are, and the player's sound setting."""

    profiles: tuple[MenuChoice, ...] = ()
    layers: tuple[MenuChoice, ...] = ()
    tuned: tuple[Tuned, ...] = ()
    sounds: bool = False


class MenuWays(Record, frozen=True):
    """What the menu can do. `keep` stays on a profile, None for the rules; `learn` lets a program start the profile in
    use; `ask_programs` is answered by `GameMenu.show_programs`; `done` gives the controller back."""

    scene: Callable[[], Scene]
    keep: Callable[[str | None], object]
    layer: Callable[[str], object]
    variant: Callable[[Tuned, str], object]
    sounds: Callable[[bool], object]
    release: Callable[[], object]
    live: Callable[[bool], object]
    ask_programs: Callable[[], object]
    learn: Callable[[SeenProgram], object]
    done: Callable[[], object]


class Row(Record, frozen=True):
    """A line: its text, what holds now at the right, and what choosing it does.

    `ticked`: it is, or is not, what is chosen of several; `switch` is a state on or off by itself.
    """

    text: str
    act: Callable[[], object]
    value: str = ""
    ticked: bool | None = None
    switch: bool | None = None
    opens: bool = False


class MenuPage(Struct):
    """A list of rows with a title and the row that is marked; without rows it says `text`, or shows `everything`."""

    title: str
    rows: Callable[[], list[Row]] = list
    text: str = ""
    everything: bool = False
    at: int = 0
    about_programs: bool = False


class GameMenu(QObject):
    """Opened, worked and closed by what `does` is told. `told` says what a choice did."""

    changed = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, ways: MenuWays, parent: QObject) -> None:
        super().__init__(parent)
        self._ways = ways
        self._pages: list[MenuPage] = []
        self._status: Status | None = None
        self._programs: Programs | None = None
        self._listed: tuple[MenuPage, list[Row]] | None = None

    # What it shows

    @property
    def is_open(self) -> bool:
        """Whether it is there."""
        return bool(self._pages)

    @property
    def page(self) -> MenuPage:
        """The page that is shown."""
        return self._pages[-1]

    @property
    def rows(self) -> list[Row]:
        """Its rows, as things were when something changed last: painting asks for them with every report."""
        page = self.page
        if self._listed is None or self._listed[0] is not page:
            self._listed = page, page.rows()
        return self._listed[1]

    def look_again(self) -> None:
        """What the rows tell of may be another by now."""
        self._listed = None
        self.changed.emit()

    @property
    def depth(self) -> int:
        """How many pages are open."""
        return len(self._pages)

    @property
    def status(self) -> Status | None:
        """What the runner says."""
        return self._status

    def show_status(self, status: Status | None) -> None:
        """What the runner says; none: it is gone, and nobody works the menu any more."""
        self._status = status
        if status is None:
            self._pages.clear()
        self.look_again()

    # What works it

    def does(self, act: str) -> None:
        """The controller does this, in the words of `protocol/checking`."""
        if act == "open":
            self._pages = [MenuPage(_("Nub Shift"), self._root)]
        elif not self._pages:
            return
        elif act == "close":
            self._pages.clear()
        elif act in ("up", "down"):
            count = len(self.rows)
            if count:
                self.page.at = (self.page.at + (1 if act == "down" else -1)) % count
        elif act in ("back", "left"):
            self._back(may_close=act == "back")
        else:
            rows = self.rows
            if rows and (act == "choose" or rows[self._at(rows)].opens):
                rows[self._at(rows)].act()
        self.look_again()

    def _at(self, rows: list[Row]) -> int:
        return min(self.page.at, len(rows) - 1)

    def _back(self, *, may_close: bool) -> None:
        if len(self._pages) > 1:
            self._pages.pop()
        elif may_close:
            self._close()

    def _close(self, said: str = "") -> None:
        self._pages.clear()
        self._ways.done()
        self.look_again()
        if said:
            self.told.emit(said)

    # Its pages

    def _root(self) -> list[Row]:
        scene, status = self._ways.scene(), self._status
        plays = status is not None and status.profile is not None
        live = status is not None and status.live
        title = status.title if status is not None and plays else _("None")
        rows = [Row(_("Profile"), self._open_profiles, title or _("Untitled"), opens=True)]
        if plays and live:
            if len(scene.layers) > 1:
                rows.append(Row(_("Layer"), self._open_layers, _now(scene.layers), opens=True))
            for tuned in scene.tuned:
                name = _("{control}: variant").format(control=tuned.name)
                rows.append(Row(name, partial(self._open_variants, tuned), _now(tuned.variants), opens=True))
        if plays:
            rows.append(Row(_("What everything does now"), self._open_everything, opens=True))
            rows.append(Row(_("Use this profile with…"), self._open_programs, opens=True))
        rows.append(Row(_("Sound on layer changes"), lambda: self._ways.sounds(not scene.sounds), switch=scene.sounds))
        rows.append(Row(_("Release all keys"), self._release))
        rows.append(Row(_("Pause") if live else _("Resume"), lambda: self._go(not live)))
        return rows

    def _open_profiles(self) -> None:
        scene, kept = self._ways.scene(), self._status.kept if self._status is not None else None

        def rows() -> list[Row]:
            automatic = Row(_("Choose automatically"), lambda: self._keep(None, ""), ticked=kept is None)
            return [
                automatic,
                *(
                    Row(one.text, partial(self._keep, one.key, one.text), ticked=one.key == kept)
                    for one in scene.profiles
                ),
            ]

        at = next((place for place, one in enumerate(scene.profiles, 1) if one.key == kept), 0)
        self._pages.append(MenuPage(_("Profile"), rows, at=at))

    def _open_layers(self) -> None:
        self._choose_of(_("Layer"), self._ways.scene().layers, self._ways.layer, "{name}")

    def _open_variants(self, tuned: Tuned) -> None:
        self._choose_of(
            _("{control}: variant").format(control=tuned.name),
            tuned.variants,
            lambda key: self._ways.variant(tuned, key),
            _("Variant: {name}"),
        )

    def _choose_of(self, title: str, choices: tuple[MenuChoice, ...], act: Callable[[str], object], said: str) -> None:
        def chosen(one: MenuChoice) -> None:
            act(one.key)
            self._close(said.format(name=one.text))

        rows = [Row(one.text, partial(chosen, one), ticked=one.now) for one in choices]
        at = next((place for place, one in enumerate(choices) if one.now), 0)
        self._pages.append(MenuPage(title, lambda: rows, at=at))

    def _open_everything(self) -> None:
        self._pages.append(MenuPage(_("What everything does now"), everything=True))

    def _open_programs(self) -> None:
        self._programs = None
        self._pages.append(
            MenuPage(_("Use this profile with…"), self._program_rows, _("Looking for programs…"), about_programs=True)
        )
        self._ways.ask_programs()

    def show_programs(self, programs: Programs) -> None:
        """What had the focus lately."""
        if self._pages and self.page.about_programs:
            self._programs = programs
            self.page.text = _("No program was found.")
            self.look_again()

    def _program_rows(self) -> list[Row]:
        if self._programs is None:
            return []
        known = [seen for seen in self._programs.recent if seen.called]
        pids = {seen.pid for seen in known}
        known += [seen for seen in reversed(self._programs.running) if seen.has_window and seen.pid not in pids]
        return [Row(seen.called, partial(self._learn, seen), seen.name) for seen in known[:MOST_PROGRAMS]]

    # What choosing does

    def _keep(self, profile: str | None, title: str) -> None:
        self._ways.keep(profile)
        self._close(_("Profile: {title}").format(title=title) if profile is not None else _("Profile: automatic"))

    def _learn(self, seen: SeenProgram) -> None:
        self._ways.learn(seen)
        self._close(_("This profile now starts with {program}").format(program=seen.called))

    def _release(self) -> None:
        self._ways.release()
        self._close(_("All keys released"))

    def _go(self, live: bool) -> None:
        self._ways.live(live)
        self._close(_("Live") if live else _("Paused"))


def _now(choices: tuple[MenuChoice, ...]) -> str:
    return next((one.text for one in choices if one.now), "")
