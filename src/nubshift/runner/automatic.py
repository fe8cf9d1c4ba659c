"""Which profile plays: the one that is chosen for what goes on around (`model/choosing`), loaded and taken up."""

from __future__ import annotations

from collections.abc import Callable, Set
from pathlib import Path
from typing import TypeVar

from msgspec import Struct
from msgspec.structs import replace

from nubshift.errors import StorageError
from nubshift.model.automatic import Automatic, read_automatic
from nubshift.model.choosing import ProfileChoice, Situation, choose, game_without_profile, why
from nubshift.model.files import stamp
from nubshift.model.player_settings import PlayerSettings, read_settings
from nubshift.model.profile import new_profile
from nubshift.model.programs import SeenProgram
from nubshift.model.store import path_of
from nubshift.protocol.messages import LaunchState, Used
from nubshift.runner.absent import Absent
from nubshift.runner.compiling import Compiled, Compiling, Ready, compiled
from nubshift.runner.held_together import HeldTogether
from nubshift.runner.observing import Observing
from nubshift.runner.seated import Seated
from nubshift.runner.session import earliest
from nubshift.surroundings.port import Surroundings
from nubshift.texts import _
from nubshift.units import SECOND, Micros

LOOK_AFTER: Micros = SECOND // 2
"""How long after the start the first look around is: what is held by then is sent first."""

T = TypeVar("T")
GAME_AFTER: Micros = 8 * SECOND
"""How long a game is in front before a profile is offered for it."""

AWAY: dict[str, str] = {
    "sleep": _("Nothing is sent: the machine is about to sleep."),
    "locked": _("Nothing is sent: the session is locked."),
    "inactive": _("Nothing is sent: it is another user's turn."),
    "screen saver": _("Nothing is sent: the screen saver is on."),
}


class Places(Struct, frozen=True):
    """Where the player's profiles and rules are."""

    profiles: Path
    rules: Path
    settings: Path


def idle() -> Compiled:
    """What plays while no profile is used: nothing, and the controller belongs to the others."""
    profile = new_profile("")
    return compiled(replace(profile, game=replace(profile.game, sees_controller=True)))


def _read(read: Callable[[Path], T], path: Path, nothing: T, tell: Callable[[str, str], None]) -> T:
    """A file of the player's; what can't be read is told, and `nothing` holds."""
    try:
        return read(path)
    except StorageError as error:
        tell("error", f"{error}.")
        return nothing


class GameWithoutProfile:
    """The one in front, told of once it has been there for a while. `told_at` is when; None where there is none."""

    def __init__(self) -> None:
        self._game: SeenProgram | None = None
        self.told_at: Micros | None = None

    def follow(self, game: SeenProgram | None, now: Micros) -> None:
        """This one is in front now."""
        if (game and game.pid) != (self._game and self._game.pid):
            self._game, self.told_at = game, now + GAME_AFTER if game is not None else None

    def due(self, now: Micros) -> SeenProgram | None:
        """The one to tell of now."""
        if self.told_at is None or now < self.told_at:
            return None
        self.told_at = None
        return self._game


class AutomaticProfile:
    """Keeps a session at the profile that is right now.

    With `fixed` the one that the runner was started with counts as kept on purpose. `changed` is called when another
    profile plays, `tell` receives (severity, sentence). Raises SinkError wherever something is sent.
    """

    def __init__(
        self,
        seated: Seated,
        compiling: Compiling,
        places: Places,
        fixed: bool,
        tell: Callable[[str, str], None],
        now: Micros,
    ) -> None:
        self._seated, self._compiling, self._places, self._tell = seated, compiling, places, tell
        self._session = session = seated.session
        self._rack_was = -1
        self.changed: Callable[[], None] = lambda: None
        self._observing = Observing()
        self._absent = Absent()
        self.away: frozenset[str] = frozenset()
        """Why the player is away, in the words of `surroundings/absence`; nothing while they are not."""
        self.stop_key_by = ""
        """How the stop key is heard, as a sentence; empty while it is not."""
        self._begin_at: Micros | None = now + LOOK_AFTER
        self.seen_game: Callable[[SeenProgram], None] = lambda _: None
        """Called with a game that is played without a profile, once it has been in front for a while."""
        self._without_profile = GameWithoutProfile()
        self._idle = idle() if fixed else session.played
        self._edited: Compiled | None = None
        self._loaded: dict[str, tuple[object, Compiled]] = {}
        self._asked = ""
        self._troubled: set[str] = set()
        self._titles: dict[str, str] = {session.name: session.profile.game.title}
        self._rules = Automatic()
        self._around = Surroundings()
        self._situation = Situation(kept=session.name if fixed else None)
        if fixed:
            self._loaded[session.name] = (None, session.played)
        self._launched_pid = 0
        self.choice = ProfileChoice(session.name, "kept") if fixed else ProfileChoice(None, "none")
        self.generation = 0
        self.reread()

    # What it knows

    def filenos(self) -> tuple[int, int]:
        """Readable when something around changed."""
        return self._observing.fileno(), self._absent.fileno()

    @property
    def next_deadline(self) -> Micros | None:
        """When the first look around is due."""
        return earliest(self._begin_at, self._without_profile.told_at)

    @property
    def why(self) -> str:
        """Why this profile is used now, as a sentence; or why nothing is sent, while the player is away."""
        reason = next((words for reason, words in AWAY.items() if reason in self.away), "")
        return reason or why(self.choice, self._titles)

    @property
    def playing(self) -> str | None:
        """The name of the profile in use; None for none, also while the one chosen is still being read."""
        return None if self._plays_idle else self._session.name

    @property
    def title(self) -> str:
        """Its title, empty for none."""
        return "" if self._plays_idle else self._session.profile.game.title

    @property
    def kept(self) -> str | None:
        """The name of the profile that the player stays on, if any."""
        return self._situation.kept

    @property
    def around(self) -> Surroundings:
        """What was seen last."""
        return self._around

    # What changes it

    def reread(self) -> None:
        """The player's rules have changed on disk."""
        self._rules = _read(read_automatic, self._places.rules, Automatic(), self._tell)
        self._settings = _read(read_settings, self._places.settings, PlayerSettings(), self._tell)
        self._seated.stop_controls = HeldTogether(self._settings.stop_controls, self._settings.stop_hold)
        self._seated.menu.controls = HeldTogether(self._settings.menu_controls, self._settings.menu_hold)
        self._watch()

    def _watch(self) -> None:
        settings = self._settings
        self._observing.want(self._rules.marks, self._launched_pid, settings.stop_key, settings.read_keyboards)

    def _stop_by_player(self, now: Micros) -> None:
        """The stop key, or the controls for it: nothing is sent until the player goes on on purpose."""
        if self._session.live:
            self._session.set_live(False, now)
            self._seated.grab(now)
            self._tell("warning", _("Paused by your stop key or controls. Go live to continue."))

    def _follow_absence(self, now: Micros) -> None:
        """Everything is released before the machine sleeps or the session is locked, and positions act again after
        (R12): the player's toggles are off then."""
        before, self.away = self.away, self._absent.take()
        if self.away and not before:
            self._session.stop(now)
        self.generation += 1
        self._withhold(now)
        self._seated.be_away(self.away, now)
        if self.away:
            self._absent.released()

    def look_again(self, now: Micros) -> None:
        """Choose anew, by rules that were read again."""
        self._know(now)

    def step(self, ready: Set[int], now: Micros) -> None:
        """Look around when it is time, and follow what is seen."""
        if self._begin_at is not None and now >= self._begin_at:
            self._begin_at = None
            self._observing.begin()
            self._absent.begin()
        game = self._without_profile.due(now)
        if game is not None:
            self.seen_game(game)
        if self._absent.fileno() in ready:
            self._follow_absence(now)
        if self._seated.stop_controls.fires(now):
            self._stop_by_player(now)
        if self._observing.fileno() in ready:
            if self._observing.take_stop():
                self._stop_by_player(now)
            trouble = self._observing.take_trouble()
            if trouble:
                self._tell("warning", trouble)
            if self._observing.heard_by != self.stop_key_by:
                self.stop_key_by = self._observing.heard_by
                self.generation += 1
            around = self._observing.take()
            if around is not None:
                self._around = around
                self._forget_ended()
                front = around.front.pid if around.front is not None else 0
                self._know(
                    now,
                    front=around.front,
                    sees_focus=around.sees_focus,
                    running=around.running,
                    family=around.family,
                    was_front=self._situation.was_front or front in around.family,
                )
        rack = self._seated.rack
        if rack.generation != self._rack_was:
            self._rack_was = rack.generation
            self._know(now, controllers=tuple(word for info in rack.known for word in (info.name, info.id)))

    def edit_shown(self, shown: bool, now: Micros) -> None:
        """Whether the window is there; the profile that was open in it stays known."""
        self._know(now, shown=shown, own_focus=self._situation.own_focus and shown)

    def focus(self, own: bool, now: Micros) -> None:
        """Whether the window has the focus."""
        self._know(now, own_focus=own)

    def keep(self, profile: str | None, now: Micros) -> str:
        """Stay on this profile until told otherwise; None: choose by the rules again. Returns why not, or nothing."""
        if profile is not None and (self._edited is None or profile != self._edited.name):
            path = path_of(profile, self._places.profiles)
            if not path.exists():
                return _("there is no profile {name}").format(name=profile)
        self.generation += 1
        self._know(now, kept=profile)
        return ""

    def launch(self, profile: str | None, pid: int, now: Micros) -> None:
        """A game was started by the process `pid` with its profile, empty for the one that goes with it by the rules;
        None: it has ended."""
        self._launched_pid = pid if profile is not None else 0
        self.generation += 1
        self._watch()
        self._know(now, launched=profile or None, family=frozenset({pid}), was_front=False)

    @property
    def launched(self) -> LaunchState:
        """The profile of the game that was started with it, if one was."""
        return LaunchState(self._situation.launched or "", self._launched_pid)

    def take_compiled(self, reply: Callable[[Used], None], now: Micros) -> None:
        """What was asked of the compiling thread is ready."""
        for ready in self._compiling.take():
            if ready.edit is None:
                self._take_loaded(ready, now)
                continue
            if ready.compiled is not None:
                self._take_edited(ready.compiled, ready.switch, now)
            self.changed()
            reply(Used(ready.edit, ready.trouble))

    def _take_edited(self, fresh: Compiled, switch: bool, now: Micros) -> None:
        before, self._edited = self._edited, fresh
        if before is not None and before.name != fresh.name:
            self._loaded[before.name] = (None, before)
        if self._titles.get(fresh.name) != fresh.profile.game.title:
            self._titles[fresh.name] = fresh.profile.game.title
            self.generation += 1
        self._loaded.pop(fresh.name, None)
        if self._situation.edited != fresh.name:
            self._situation = replace(self._situation, edited=fresh.name)
        self._choose()
        if self.choice.profile != fresh.name:
            self._follow(now)
        elif switch or self._session.name != fresh.name or self._plays_idle:
            self._play(fresh, now)
        else:
            self._session.edit(fresh, now)
            self._withhold(now)

    @property
    def _plays_idle(self) -> bool:
        return self._session.played is self._idle

    def _take_loaded(self, ready: Ready, now: Micros) -> None:
        self._asked = ""
        if ready.compiled is None:
            if self.choice.cause == "kept" and self.kept == ready.name:  # its file is gone, or can't be read any more
                self._tell(
                    "error", _("{trouble}. The profile is chosen automatically again.").format(trouble=ready.trouble)
                )
                self.keep(None, now)
                return
            if ready.trouble not in self._troubled:
                self._troubled.add(ready.trouble)
                self._tell("error", f"{ready.trouble}.")
            if self.choice.profile == ready.name:
                self._play(self._idle, now)
            return
        self._loaded[ready.name] = (stamp(path_of(ready.name, self._places.profiles)), ready.compiled)
        self._titles[ready.name] = ready.compiled.profile.game.title
        self._follow(now)

    # What follows

    def _know(self, now: Micros, **facts: object) -> None:
        self._situation = replace(self._situation, **facts)
        self._choose()
        self._without_profile.follow(game_without_profile(self._rules, self._situation, self._around.games), now)
        self._follow(now)

    def _choose(self) -> None:
        before, self.choice = self.choice, choose(self._rules, self._situation)
        if self.choice != before:
            self.generation += 1

    def _follow(self, now: Micros) -> None:
        """Take up what was chosen; where it has to be read first, when it was."""
        wanted = self.choice.profile
        if wanted is None:
            if not self._plays_idle:
                self._play(self._idle, now)
        elif self._edited is not None and wanted == self._edited.name:
            if self._session.played is not self._edited:
                self._play(self._edited, now)
        elif self._session.name != wanted or self._plays_idle:
            known, there = self._loaded.get(wanted, (None, None))
            path = path_of(wanted, self._places.profiles)
            if there is not None and (known is None or known == stamp(path)):
                self._play(there, now)
            elif self._asked != wanted:
                self._asked = wanted
                self._compiling.load(wanted, path)
        self._withhold(now)

    def _play(self, played: Compiled, now: Micros) -> None:
        self._withhold(now)
        self._session.switch(played, self._seated.standing(), now)
        self.generation += 1
        self.changed()

    def _withhold(self, now: Micros) -> None:
        """Output waits while our own window, or not the game, has the focus."""
        self._session.set_withheld(self._situation.own_focus or self.choice.paused or bool(self.away), now)

    def _forget_ended(self) -> None:
        """A game that ended gets no toggle back when it is started anew (R12)."""
        for name in self._session.remembered:
            rules = self._rules.rules_of(name)
            if rules and not any(rule.fits(seen) for rule in rules for seen in self._around.running):
                self._session.forget(name)

    def close(self) -> None:
        """Look around no more."""
        self._observing.close()
        self._absent.close()
