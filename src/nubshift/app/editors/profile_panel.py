"""The inspector's panel for the profile as a whole: the game, what it sees, and how this player plays (N07, N70)."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace

from nubshift.app.editors.number_row import NumberRow
from nubshift.app.editors.panel import Choices, Panel, TextRow
from nubshift.app.editors.pickers import Swatches
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import Seat

HABITS: tuple[Parameter, ...] = (p.HOLD_AT, p.DOUBLE_WITHIN, p.PULSE, p.TOGETHER_WITHIN, p.CHORD_GAP)
CONTROLLER, KEYS, PAD = "controller", "keys", "pad"
SEES = {KEYS: "keys and mouse only", PAD: "a virtual pad beside them", CONTROLLER: "the controller itself too"}
SEEN = {
    KEYS: "The controller is hidden from the game while you are live.",
    PAD: "The controller is hidden, and the game gets a pad that sends what you say. To change one button and leave "
    "the rest as it is, pass the rest through to it.",
    CONTROLLER: "Nothing is hidden: what is bound here is sent beside what the game itself makes of the controller.",
}
PADS = {"full": "with two sticks", "simple": "a simple one"}
MOVES = {"view": "the view", "cursor": "a cursor"}
MOVED = {"view": "The mouse moves the view", "cursor": "The mouse moves a cursor"}
FORMS = {"keys": "keys", "pad": "pad buttons"}


MOST_SEATS = 4


class ProfilePanel(Panel):
    """Settings of the whole profile."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage)
        self.heading("The game")
        self.title = TextRow("Title", lambda text: self._game("is now the title", title=text[:200]) if text else None)
        self.program = TextRow("Program", lambda text: self._game("Program", program=text[:200]), "its file name")
        self.note = TextRow("Note", lambda text: self._game("Note", note=text[:5000]), "a note for yourself")
        for row in (self.title, self.program, self.note):
            self.add(row)
        self.heading("What the game sees")
        self.sees = Choices("What the game sees", SEES, self._see)
        self.add(self.sees)
        self.pad = Choices("The virtual pad", PADS, lambda value: self._game(PADS[value], pad=value))
        self.add(self.pad)
        self.seen = self.quiet("")
        self.rumble = self.number(p.RUMBLE, lambda value: self._game("The game's rumble", "rumble", rumble=value))
        self.cap = self.number(p.RUMBLE_CAP, lambda v: self._game("Longest rumble", "cap", rumble_cap=round(v)))
        self.heading("Light of the controller")
        self.light = Swatches(stage)
        self.light.chosen.connect(lambda colour: self._game("Light", light=colour))
        self.add(self.light)
        self.no_light = self.link("leave its light alone", lambda: self._game("No light of its own", light=""))
        self.heading("Commands go out as their")
        self.form = Choices("Form of commands", FORMS, lambda value: self._game(f"Commands as {value}", form=value))
        self.add(self.form)
        self.heading("The mouse moves")
        self.moves = Choices("The mouse moves", MOVES, lambda value: self._game(MOVED[value], moves=value))
        self.add(self.moves)
        self.gauge = self.number(
            p.COUNTS_PER_TURN, lambda value: self._game("Turn gauge", "gauge", counts_per_turn=value)
        )
        self.heading("How you play")
        self.habits: dict[str, NumberRow] = {}
        for parameter in HABITS:
            self.habits[parameter.name] = self.number(parameter, partial(self._set_habit, parameter))
        self.toggles = self.check("every hold becomes on and off", lambda on: self._habit("Holds", holds_toggle=on))
        self.one = self.check("one press may send just one thing", lambda on: self._habit("One to one", one_to_one=on))
        self.heading("Players")
        self.seats = Choices("Players", {"1": "one", "2": "two", "3": "three", "4": "four"}, self._seats)
        self.add(self.seats)
        self.names: list[TextRow] = []
        for number in range(MOST_SEATS):
            row = TextRow(f"Player {number + 1}", partial(self._name_seat, number), "a name")
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
            f"The game sees {SEES[seen]}",
            sees_controller=seen == CONTROLLER,
            pad=(pad if pad != "none" else "full") if seen == PAD else "none",
        )

    def _game(self, words: str, merge: str = "", **values: Any) -> None:
        studio = self.stage.studio
        studio.edit(words, lambda profile: edits.with_game(profile, **values), merge)

    def _set_habit(self, parameter: Parameter, value: float) -> None:
        title = f"{parameter.label} {parameter.text(value)}"
        self._habit(title, f"habit:{parameter.name}", **{parameter.name: round(value)})

    def _habit(self, title: str, merge: str = "", **values: Any) -> None:
        studio = self.stage.studio
        studio.edit(title, lambda profile: replace(profile, habits=replace(profile.habits, **values)), merge)

    def _name_seat(self, number: int, name: str) -> None:
        """Another name for a player."""
        seats = list(self.stage.studio.profile.seats)
        seats[number] = replace(seats[number], name=name[:200])
        self.stage.studio.edit(f"Player {name}", lambda profile: replace(profile, seats=tuple(seats)))

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
        words = {"1": "One player", "2": "Two players", "3": "Three players", "4": "Four players"}
        self.stage.studio.edit(words[count], lambda q: replace(q, seats=seats, layers=layers))
