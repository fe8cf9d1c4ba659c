"""The inspector's panel for the profile as a whole: the game, what it sees, and how this player plays (N07, N70)."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace

from nubshift.app.editors.number_row import NumberRow
from nubshift.app.editors.panel import Choices, Panel, TextRow
from nubshift.app.editors.pictures.pickers import Swatches
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import Seat
from nubshift.texts import _

HABITS: tuple[Parameter, ...] = (p.HOLD_AT, p.DOUBLE_WITHIN, p.PULSE, p.TOGETHER_WITHIN, p.CHORD_GAP)
CONTROLLER, KEYS, PAD = "controller", "keys", "pad"
SEES = {
    KEYS: _("Keys and mouse only"),
    PAD: _("Keys, mouse and a virtual pad"),
    CONTROLLER: _("The controller as well"),
}
SEEN = {
    KEYS: _("The controller is hidden from the game while live."),
    PAD: _(
        "The controller is hidden, and the game sees a virtual pad that sends what you assign. To "
        "change one button and leave the rest unchanged, assign the rest to the virtual pad."
    ),
    CONTROLLER: _(
        "Nothing is hidden. What you assign here is sent in addition to what the game does with the controller."
    ),
}
PADS = {"full": _("Two sticks"), "simple": _("Simple")}
MOVES = {"view": _("The view"), "cursor": _("A cursor")}
MOVED = {"view": _("The mouse moves the view"), "cursor": _("The mouse moves a cursor")}
FORMS = {"keys": _("Keys"), "pad": _("Pad buttons")}


MOST_SEATS = 4


class ProfilePanel(Panel):
    """Settings of the whole profile."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage)
        self.heading(_("Game"))
        self.title = TextRow(_("Title"), lambda text: self._game(_("Title"), title=text[:200]) if text else None)
        self.program = TextRow(_("Program"), lambda text: self._game(_("Program"), program=text[:200]), _("File name"))
        self.note = TextRow(_("Note"), lambda text: self._game(_("Note"), note=text[:5000]), _("A note to yourself"))
        for row in (self.title, self.program, self.note):
            self.add(row)
        self.heading(_("What the game sees"))
        self.sees = Choices(_("What the game sees"), SEES, self._see)
        self.add(self.sees)
        self.pad = Choices(_("Virtual pad"), PADS, lambda value: self._game(PADS[value], pad=value))
        self.add(self.pad)
        self.seen = self.quiet("")
        self.rumble = self.number(p.RUMBLE, lambda value: self._game(_("Rumble from the game"), "rumble", rumble=value))
        self.cap = self.number(p.RUMBLE_CAP, lambda v: self._game(_("Longest rumble"), "cap", rumble_cap=round(v)))
        self.heading(_("Controller light"))
        self.light = Swatches(stage)
        self.light.chosen.connect(lambda colour: self._game(_("Light"), light=colour))
        self.add(self.light)
        self.no_light = self.link(_("Leave unchanged"), lambda: self._game(_("Leave the light unchanged"), light=""))
        self.heading(_("Send commands as"))
        self.form = Choices(
            _("Send commands as"),
            FORMS,
            lambda value: self._game(_("Send commands as {value}").format(value=value), form=value),
        )
        self.add(self.form)
        self.heading(_("The mouse moves"))
        self.moves = Choices(_("The mouse moves"), MOVES, lambda value: self._game(MOVED[value], moves=value))
        self.add(self.moves)
        self.gauge = self.number(
            p.COUNTS_PER_TURN, lambda value: self._game(_("Turn gauge"), "gauge", counts_per_turn=value)
        )
        self.heading(_("Timing"))
        self.habits: dict[str, NumberRow] = {}
        for parameter in HABITS:
            self.habits[parameter.name] = self.number(parameter, partial(self._set_habit, parameter))
        self.toggles = self.check(
            _("Turn every hold into a toggle"), lambda on: self._habit(_("Turn holds into toggles"), holds_toggle=on)
        )
        self.one = self.check(
            _("One press may send only one output"), lambda on: self._habit(_("One output per press"), one_to_one=on)
        )
        self.heading(_("Players"))
        self.seats = Choices(_("Players"), {"1": _("One"), "2": _("Two"), "3": _("Three"), "4": _("Four")}, self._seats)
        self.add(self.seats)
        self.names: list[TextRow] = []
        for number in range(MOST_SEATS):
            row = TextRow(_("Player {number}").format(number=number + 1), partial(self._name_seat, number), _("Name"))
            self.names.append(row)
            self.add(row)
        self.refresh()

    def refresh(self) -> None:
        """The profile changed."""
        profile = self.stage.studio.profile
        self.title.show_text(profile.game.title)
        self.program.show_text(profile.game.program)
        self.note.show_text(profile.game.note)
        game = profile.game
        seen = CONTROLLER if game.sees_controller else KEYS if game.pad == "none" else PAD
        self.sees.show_choice(seen)
        self.pad.setVisible(seen == PAD)
        self.pad.show_choice(game.pad)
        self.seen.setText(SEEN[seen])
        for row, value in ((self.rumble, game.rumble), (self.cap, float(game.rumble_cap))):
            row.setVisible(seen == PAD)
            row.show_value(value)
        self.light.show_colour(game.light)
        self.no_light.setVisible(bool(game.light))
        self.form.show_choice(profile.game.form)
        self.moves.show_choice(profile.game.moves)
        self.gauge.setVisible(profile.game.moves == "view")
        self.gauge.show_value(profile.game.counts_per_turn)
        for name, row in self.habits.items():
            row.show_value(getattr(profile.habits, name))
        self.toggles.setChecked(profile.habits.holds_toggle)
        self.one.setChecked(profile.habits.one_to_one)
        self.seats.show_choice(str(len(profile.seats)))
        for number, name_row in enumerate(self.names):
            there = number < len(profile.seats) > 1
            name_row.setVisible(there)
            name_row.show_text(profile.seats[number].name if there else "")

    def _see(self, seen: str) -> None:
        """One of the three things that a game can see."""
        pad = self.stage.studio.profile.game.pad
        self._game(
            _("The game sees: {sees}").format(sees=SEES[seen]),
            sees_controller=seen == CONTROLLER,
            pad=(pad if pad != "none" else "full") if seen == PAD else "none",
        )

    def _game(self, words: str, merge: str = "", **values: Any) -> None:
        studio = self.stage.studio
        studio.document.edit(words, lambda profile: edits.with_game(profile, **values), merge)

    def _set_habit(self, parameter: Parameter, value: float) -> None:
        title = f"{parameter.label} {parameter.text(value)}"
        self._habit(title, f"habit:{parameter.name}", **{parameter.name: round(value)})

    def _habit(self, title: str, merge: str = "", **values: Any) -> None:
        self.stage.studio.document.edit(title, partial(edits.with_habits, **values), merge)

    def _name_seat(self, number: int, name: str) -> None:
        """Another name for a player."""
        seats = list(self.stage.studio.profile.seats)
        seats[number] = replace(seats[number], name=name[:200])
        self.stage.document.edit(
            _("Player {name}").format(name=name), lambda profile: replace(profile, seats=tuple(seats))
        )

    def _seats(self, count: str) -> None:
        """As many seats; what a seat that goes away did is kept out of the way with it."""
        profile = self.stage.studio.profile
        seats = profile.seats[: int(count)]
        taken = {seat.id for seat in profile.seats}
        number = 1
        while len(seats) < int(count):
            number += 1
            if str(number) not in taken:
                seats = (*seats, Seat(str(number)))
        gone = {seat.id for seat in profile.seats} - {seat.id for seat in seats}
        layers = tuple(
            replace(
                layer,
                bindings=tuple(b for b in layer.bindings if b.seat not in gone),
                feel=tuple(f for f in layer.feel if f.seat not in gone),
                together=tuple(t for t in layer.together if t.seat not in gone),
            )
            for layer in profile.layers
        )
        words = {"1": _("One player"), "2": _("Two players"), "3": _("Three players"), "4": _("Four players")}
        self.stage.document.edit(words[count], lambda q: replace(q, seats=seats, layers=layers))
