"""One profile at play: reports in, output to the sink and word of it to the reporter. No sockets, no clock."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from nubshift.devices.port import Timed
from nubshift.engine.engine import Engine
from nubshift.engine.intake import Counts
from nubshift.engine.owner import Caused, ControlKey, Owner
from nubshift.engine.toggles import ToggleStep
from nubshift.events import Captured, Change, Focus, Light, Plugged, Report, Rumble, Unplugged
from nubshift.model.profile import Profile
from nubshift.model.sends import PAD_BUTTONS
from nubshift.model.usage import sends_points
from nubshift.outputs.port import Sink
from nubshift.protocol.messages import Frame, GyroBias
from nubshift.runner.compiling import Compiled
from nubshift.runner.frames import FIRST, Reporter
from nubshift.texts import _
from nubshift.units import Micros


class Session:
    """Joins an engine and a sink.

    Output goes out while `live` and not `withheld`. Withheld, the engine plays on and the reporter tells what would be
    sent; paused, it rests. Every change between these releases what is held first.
    """

    def __init__(self, played: Compiled, sink: Sink) -> None:
        self.played = played
        self.reporter = Reporter()
        self.live = True
        self.withheld = False
        self.news: list[str] = []
        self._effects: list[Rumble | Light] = []
        self._told: set[str] = set()
        self._captured: set[str] = set()
        self._lost = 0
        self._engine = Engine(played.program)
        self._toggles: dict[str, list[tuple[ToggleStep, Owner]]] = {}
        self._variants: dict[str, dict[ControlKey, str]] = {}
        self.sink = sink
        self.prepare()

    @property
    def remembered(self) -> tuple[str, ...]:
        """The names of profiles whose toggles are remembered, to come back."""
        return tuple(self._toggles)

    def forget(self, name: str) -> None:
        """The game of a profile has ended: none of its toggles comes back."""
        self._toggles.pop(name, None)

    @property
    def profile(self) -> Profile:
        """The profile at play."""
        return self.played.profile

    @property
    def name(self) -> str:
        """The name of its file, empty where there is none."""
        return self.played.name

    def _tell(self, texts: Iterable[str]) -> None:
        """Something the player should know, each sentence once."""
        for text in texts:
            if text and text not in self._told:
                self._told.add(text)
                self.news.append(text)

    @property
    def has_news(self) -> bool:
        """Whether there is something for the player, or for the controllers to do."""
        if self.news or self._effects:
            return True
        return self._engine.lost_pulses != self._lost

    def take_news(self) -> list[str]:
        """Sentences for the player since this was asked last."""
        lost, self._lost = self._lost, self._engine.lost_pulses
        if self._lost > lost:
            names = [c.name for c in self.profile.commands if c.toggles]
            self.news.append(_("What the game toggles itself may still be on: {names}.").format(names=", ".join(names)))
        news, self.news = self.news, []
        return news

    def prepare(self) -> None:
        """Let the sink get ready for what the profile sends. Raises SinkError."""
        self._tell(f"{text[0].upper()}{text[1:]}" for text in self.played.program.refused)
        self._tell([self.sink.prepare(self.profile.game.pad, sends_points(self.profile))])
        self.reporter.join(self.profile.seats)

    @property
    def real(self) -> bool:
        """Whether output goes out."""
        return self.live and not self.withheld

    @property
    def held(self) -> tuple[str, ...]:
        """What is down now, or would be, buttons of the virtual pad included."""
        return self._engine.held + tuple(f"pad:{code}" for code in self._engine.pad if code in PAD_BUTTONS)

    @property
    def layers(self) -> tuple[str, ...]:
        """The entered layers, the newest last."""
        return self._engine.active_layers

    @property
    def next_deadline(self) -> Micros | None:
        """When `advance` has something to do."""
        due, sent = self._engine.next_deadline, self.sink.next_deadline
        return due if sent is None or (due is not None and due < sent) else sent

    def advance(self, now: Micros) -> None:
        """Let time pass. Raises SinkError."""
        sent = self._engine.advance(now)
        if sent:
            self._deliver(sent, now)
        if self.sink.next_deadline is not None:
            self.sink.flush(now)

    def reports(self, reports: Iterable[Timed], now: Micros, seat: str = FIRST) -> None:
        """The controller of a seat reported. Raises SinkError."""
        self.take([Report(t, changes, seat) for t, changes in reports], now)

    def take(self, reports: Iterable[Report], now: Micros) -> None:
        """All that was reported until `now`, in the order of time over all seats (R1). Raises SinkError."""
        out: list[Caused] = []
        engine, reporter = self._engine, self.reporter
        listened = reporter.listened
        for report in reports:
            if report.seat not in self._captured:
                sent = engine.feed(report)
                if listened:
                    reporter.did(sent)
                out += sent
            if listened:
                reporter.saw(report.changes, report.seat, report.t)
        due = engine.next_deadline
        if due is not None and due <= now:
            sent = engine.advance(now)
            reporter.did(sent)
            out += sent
        self._send(out, now)

    def plugged(self, state: tuple[Change, ...], now: Micros, seat: str = FIRST) -> None:
        """A controller took a seat, standing like this. Raises SinkError."""
        if seat not in self._captured:
            self._deliver(self._engine.feed(Plugged(now, state, seat)), now)
        self.reporter.saw(state, seat)

    def unplugged(self, controls: Iterable[str], now: Micros, seat: str = FIRST) -> None:
        """The controller of a seat is gone. Raises SinkError."""
        self._deliver(self._engine.feed(Unplugged(now, seat)), now)
        self.reporter.saw(((name, 0.0, 0.0) for name in controls), seat)

    def capture(self, seat: str, now: Micros) -> None:
        """The controls of a seat are for the menu on the screen until they are given back (R19). Raises SinkError."""
        self._captured.add(seat)
        self._deliver(self._engine.feed(Captured(now, True, (), seat)), now)
        self.reporter.again()

    def give_back(self, seat: str, state: tuple[Change, ...], now: Micros) -> None:
        """They are played with again, standing like this. Raises SinkError."""
        self._captured.discard(seat)
        self._deliver(self._engine.feed(Captured(now, False, state, seat)), now)

    def choose_layer(self, layer: str, now: Micros) -> None:
        """Have this layer only; an empty one for the base. Raises SinkError."""
        self._deliver(self._engine.choose_layer(layer, now), now)
        self.reporter.again()

    def choose_variant(self, key: ControlKey, variant: str, now: Micros) -> None:
        """Give a control one of its variants. Raises SinkError."""
        self._deliver(self._engine.choose_variant(key, variant, now), now)
        self.reporter.again()

    def edit(self, played: Compiled, now: Micros) -> None:
        """The profile was edited; play goes on by it. Raises SinkError."""
        self.played = played
        self.prepare()
        self._deliver(self._engine.replace(played.program, now), now)
        self.reporter.again()

    def switch(self, played: Compiled, standing: Mapping[str, tuple[Change, ...]], now: Micros) -> None:
        """Another profile: everything is released, then it begins as the controllers of its seats stand.

        What comes back with the focus, and the variants stepped to, are remembered for the profile that is left, by its
        name. Raises SinkError.
        """
        if self.name:
            self._toggles[self.name] = self._engine.coming_back if self.withheld else self._engine.to_come_back()
            self._variants[self.name] = self._engine.variants
        self._release(now, by_player=False)
        self.played = played
        self._lost = 0
        self.prepare()
        self._engine = Engine(played.program)
        self._engine.choose_variants(self._variants.pop(played.name, {}))
        self._engine.release_all(now, by_player=not self.live)
        self._engine.coming_back = self._toggles.pop(played.name, [])
        for seat, state in standing.items():
            self.plugged(state, now, seat)
        if self.live:
            self._deliver(self._engine.resume(now, bring_back=self.real), now)

    def set_live(self, on: bool, now: Micros) -> None:
        """Go live or pause. Raises SinkError."""
        self._change(now, live=on, withheld=self.withheld)

    def set_withheld(self, on: bool, now: Micros) -> None:
        """Hold output back, since the game has lost the focus, or let it out. Raises SinkError."""
        if on == self.withheld:
            return
        if not self.live:
            self.withheld = on
            return
        if on:
            self._deliver(self._engine.feed(Focus(now, False)), now)
        self._release(now, by_player=False)
        self.withheld = on
        self._deliver(self._engine.resume(now) if on else self._engine.feed(Focus(now, True)), now)

    def stop(self, now: Micros, *, by_player: bool = False) -> None:
        """Release everything; sticks act again at once, buttons when pressed anew (R12). Raises SinkError."""
        self._change(now, live=self.live, withheld=self.withheld, always=True, by_player=by_player)

    def _change(self, now: Micros, *, live: bool, withheld: bool, always: bool = False, by_player: bool = True) -> None:
        if not always and (live, withheld) == (self.live, self.withheld):
            return
        if by_player:
            self._toggles.clear()
        self._release(now, by_player=by_player)
        self.live, self.withheld = live, withheld
        if live:
            self._deliver(self._engine.resume(now), now)

    def _release(self, now: Micros, *, by_player: bool) -> None:
        self._deliver(self._engine.release_all(now, by_player=by_player), now)
        self.sink.release_all(now)
        self.reporter.again()

    def _deliver(self, sent: Sequence[Caused], now: Micros) -> None:
        """What the engine sent: told with its causes, and sent."""
        self.reporter.did(sent)
        self._send(sent, now)

    def _send(self, sent: Sequence[Caused], now: Micros) -> None:
        if sent and self.live and not self.withheld:
            outputs = []
            for output, _by in sent:
                outputs.append(output)
                if type(output) is Rumble or type(output) is Light:
                    self._effects.append(output)
            self.sink.send(outputs, now)

    def take_effects(self) -> list[Rumble | Light]:
        """What the controllers shall do, since this was asked last: rumble, and shine."""
        effects, self._effects = self._effects, []
        return effects

    def frame(self, now: Micros) -> Frame:
        """What to tell the app now."""
        axes = {code: value for code, value in self._engine.pad.items() if code not in PAD_BUTTONS}
        variants = {f"{seat}/{control}": name for (seat, control), name in self._engine.variants.items()}
        belts = {b.id: at for b in self.profile.belts if (at := self._engine.belt(b.id)) is not None}
        return self.reporter.frame(
            now, self.real, self.held, self.layers, axes, self._engine.surfaces, belts, self._bias(), variants
        )

    @property
    def counts(self) -> Counts:
        """What was odd about the input since the profile began."""
        return self._engine.counts

    @property
    def lost(self) -> int:
        """Taps of commands that the game toggles itself, which stops dropped."""
        return self._engine.lost_pulses

    @property
    def left_out(self) -> int:
        """Presses that were not sent, since the machine had stood still."""
        return self.sink.left_out

    def watch(self, control: str, seat: str) -> None:
        """Tell every report of this control of a seat from now on; an empty one ends it."""
        self.reporter.watch((seat, control) if control else None)

    def _bias(self) -> GyroBias | None:
        watched = self.reporter.watched
        found = self._engine.bias(watched[0]) if watched is not None and watched[1] == "motion" else None
        return GyroBias(*found.value, found.known) if found is not None else None

    def close(self, now: Micros) -> None:
        """Release everything and end the sink. Raises SinkError."""
        try:
            self._release(now, by_player=True)
        finally:
            self.sink.close()


def earliest(*times: Micros | None) -> Micros | None:
    """The earliest of some times, None standing for never."""
    found: Micros | None = None
    for t in times:
        if t is not None and (found is None or t < found):
            found = t
    return found
