"""From an empty profile to a playable first-person set: movement, look, 16 commands and an aim layer, counted.

A person with the game's key list on paper and a controller in hand. Every key, click, and press or push of the
controller is one action; a key with a modifier is two. The list on paper differs from the usual one in five keys.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QWidget

from nubshift.model import edits
from nubshift.model.profile import BASE
from nubshift.model.roles import KeysRole, MouseRole
from nubshift.model.sends import HoldLayer, SendCommand
from nubshift.model.slots import Slot
from nubshift.model.usage import feel_for, slots_by_command
from standins.game import Game
from tests.app.hand import Hand, take_from_menu

MOST = 80
PAPER = {
    "jump": "SPACE",
    "run": "LEFTSHIFT",
    "crouch": "C",
    "strike": "BTN_LEFT",
    "aim": "BTN_RIGHT",
    "use": "F",
    "reload": "R",
    "torch": "L",
    "throw": "Q",
    "first": "1",
    "second": "2",
    "third": "3",
    "bag": "I",
    "map": "M",
    "journal": "J",
    "menu": "ESC",
}
"""The sixteen commands on paper, besides moving and looking."""

PLACES = {
    "jump": "south",
    "run": "left_stick_click",
    "crouch": "east",
    "strike": "right_trigger",
    "aim": "left_trigger",
    "use": "west",
    "reload": "left_bumper",
    "torch": "dpad_up",
    "throw": "right_bumper",
    "first": "dpad_left",
    "second": "dpad_down",
    "third": "dpad_right",
    "bag": "north",
    "map": "select",
    "journal": "mode",
    "menu": "start",
}

KEYS = {"C": Qt.Key.Key_C, "F": Qt.Key.Key_F, "L": Qt.Key.Key_L, "Q": Qt.Key.Key_Q, "I": Qt.Key.Key_I}


class Player:
    """A person who counts."""

    def __init__(self, hand: Hand) -> None:
        self.hand = hand
        self.counted: Counter[str] = Counter()
        self.part = ""

    def begin(self, part: str) -> None:
        self.part = part

    def count(self, actions: int = 1) -> None:
        self.counted[self.part] += actions

    def key(self, key: Qt.Key, widget: QWidget | None = None, ctrl: bool = False) -> None:
        self.count(2 if ctrl else 1)
        modifier = Qt.KeyboardModifier.ControlModifier if ctrl else Qt.KeyboardModifier.NoModifier
        self.hand.press(key, widget, modifier)

    def typed(self, widget: QWidget, text: str) -> None:
        self.count(len(text))
        self.hand.bot.keyClicks(widget, text)

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        self.count()
        self.hand.click(widget, at)

    def choose(self, widget: QWidget, name: str) -> None:
        self.count()
        self.hand.choose(widget, name)

    def take(self, *path: str) -> None:
        """A click for each menu on the way."""
        self.count(len(path))
        take_from_menu(self.hand, *path)

    def push(self, control: str, x: float = 1.0, y: float = 0.0, until: Callable[[], object] = lambda: True) -> None:
        """One press or push of the controller, and the hand comes back."""
        self.count()
        self.hand.steer(control, x, y)
        self.hand.until(until)
        self.hand.steer(control, 0)


def sent_by(hand: Hand, command: str) -> list[str]:
    return [slot.control for slot in slots_by_command(hand.studio.profile)[command]]


def test_from_nothing_to_a_playable_set_in_under_eighty_actions(start: Callable[..., Hand]) -> None:
    hand = start(sink="xtest")
    player = Player(hand)
    studio, keys = hand.studio, hand.window.map.keys

    player.begin("the profile")
    player.key(Qt.Key.Key_N, hand.window, ctrl=True)
    sheet = hand.window.beginning
    hand.until(sheet.isVisible)
    player.typed(sheet.title, "Brask")
    player.key(Qt.Key.Key_Down, sheet.title)  # begin with what first-person games often have
    player.key(Qt.Key.Key_Return, sheet.title)
    assert len(studio.profile.commands) == 20

    player.begin("keys that differ")
    for command, key in PAPER.items():
        if studio.profile.command(command).keys != (key,):  # type: ignore[union-attr]
            player.click(*hand.command(command))  # shows what is known about it, since nothing sends it yet
            player.choose(hand.panel, "Press its key…")
            player.key(KEYS[key])
    assert {c.id: c.keys for c in studio.profile.commands if c.id in PAPER} == {c: (k,) for c, k in PAPER.items()}

    player.begin("movement")
    player.click(*hand.command("forward"))
    player.key(Qt.Key.Key_Return, keys.view)
    for command, (x, y) in {"forward": (0, -1), "left": (-1, 0), "back": (0, 1), "right": (1, 0)}.items():
        assert studio.assigning.armed_command == command
        player.push("left_stick", x, y, lambda which=command: sent_by(hand, which))  # type: ignore[misc]

    player.begin("sixteen commands")
    for _ in PAPER:  # the next one without a control listens by itself
        hand.until(lambda: studio.assigning.armed_command)
        armed = studio.assigning.armed_command
        assert armed in PAPER
        player.push(PLACES[armed], until=lambda which=armed: sent_by(hand, which))  # type: ignore[misc]
    hand.until(lambda: keys.model.missing == 0)

    player.begin("looking")
    studio.assigning.disarm()
    player.push("right_stick", 0.9, 0, lambda: studio.selection.control == "right_stick")
    player.choose(hand.panel, "Mouse")

    player.begin("an aim layer")
    player.push("left_trigger", until=lambda: studio.selection.control == "left_trigger")
    player.key(Qt.Key.Key_Down, hand.panel.slot)  # beside the command, not in its place
    player.choose(hand.panel, "Other output…")
    player.take("Layer", "New layer, while held")
    layer = studio.profile.layers[-1].id
    player.click(hand.window.map.rail.nodes[layer])
    player.push("right_stick", 0.9, 0, lambda: studio.selection.control == "right_stick")
    field = hand.panel.rows["speed"].field
    player.click(field)
    field.selectAll()
    player.count(2)  # Ctrl+A
    player.typed(field, "70")
    player.key(Qt.Key.Key_Return, field)

    as_planned(hand, layer)
    total = sum(player.counted.values())
    print("\n".join(f"{part}: {count}" for part, count in player.counted.items()), f"\nin all: {total}")
    assert total < MOST
    playable(hand)


def as_planned(hand: Hand, layer: str) -> None:
    profile = hand.studio.profile
    role = profile.layers[0].binding("left_stick").role  # type: ignore[union-attr]
    assert isinstance(role, KeysRole)
    assert (role.up, role.left) == ((SendCommand("forward"),), (SendCommand("left"),))
    assert isinstance(profile.layers[0].binding("right_stick").role, MouseRole)  # type: ignore[union-attr]
    assert edits.sends_of(profile, Slot(BASE, "left_trigger")) == (SendCommand("aim"), HoldLayer(layer))
    assert feel_for(profile, layer, "right_stick").speed == 70
    assert feel_for(profile, BASE, "right_stick").speed == 180


def playable(hand: Hand) -> None:
    game = Game(0, 0, 300, 200)
    try:
        hand.until(lambda: hand.link.status and not hand.link.status.withheld)
        hand.steer("left_stick", 0, -1)
        game.wait(lambda: game.words() == ["+25"], "it walks")
        hand.steer("left_trigger", 1)
        game.wait(lambda: "+b3" in game.words(), "it aims")
        hand.steer("right_trigger", 1)
        game.wait(lambda: "+b1" in game.words(), "it strikes")
        hand.steer("right_stick", 1, 0)
        game.wait(lambda: game.moved()[0] > 20, "it looks around")
    finally:
        game.close()
