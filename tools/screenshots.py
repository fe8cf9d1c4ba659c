"""Pictures of the main views from the demo data: ``python tools/screenshots.py [FOLDER]``."""

from __future__ import annotations

import subprocess
import sys
from functools import partial
from math import cos, pi, sin
from pathlib import Path
from random import Random

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPixmap

from nubshift.app.card.content import card_of
from nubshift.app.card.page import WIDTH, CardPages
from nubshift.app.document.subject import belt
from nubshift.app.painting.theme import DAY, DUSK
from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.model import edits
from nubshift.model.controller_setup import ControllerSetup
from nubshift.model.programs import ProgramMatch
from nubshift.model.shapes import SHAPES
from nubshift.model.slots import Slot
from nubshift.protocol.messages import Choose, Steer
from stage import Receiver, Stage, virtual_screen

FOLDER = Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots")
MOVED = (
    *("left_stick", "right_stick", "left_trigger", "right_trigger", "left_grip", "right_grip", "mode"),
    *("dpad_down", "east"),
)


def act(stage: Stage) -> None:
    """A moment of play, long enough for the Now strip to have a past."""
    stage.steer("dpad_up", 1)
    stage.pause(0.25)
    stage.steer("dpad_up", 0)
    for step in range(12):
        stage.steer("left_stick", 0.05 * step, -0.08 * step)
        stage.steer("right_stick", 0.06 * step, -0.03 * step)
        stage.pause(0.04)
    stage.steer("left_bumper", 1)
    stage.pause(0.3)
    stage.steer("left_bumper", 0)
    stage.pause(0.4)
    stage.steer("right_stick", 0.55, -0.35)
    stage.pause(0.25)


def rest(stage: Stage) -> None:
    """Everything let go of, what is toggled too."""
    for control in MOVED:
        stage.steer(control, 0)
    if "L" in stage.window.live.held:
        stage.steer("dpad_up", 1)
        stage.steer("dpad_up", 0)
    stage.wait(lambda: not stage.window.live.held)


def shot(stage: Stage, name: str) -> None:
    stage.pause(0.3)
    stage.window.notices.clear()  # that the kernel's uinput is missing here is no part of these pictures
    stage.pause(0.1)
    stage.shot(f"{FOLDER}/{name}.png")


def open_demo(stage: Stage, name: str) -> None:
    stage.studio.document.open(stage.studio.document.file.path.parent / f"{name}.nubshift.json")
    stage.pause(0.2)


def profiles_view(stage: Stage) -> None:
    """The shelf with a history and rules, and the settings."""
    rules = stage.window.stored.rules
    for name, match in (
        ("quillgate", ProgramMatch(window_class="Quillgate")),
        ("saltbarrow", ProgramMatch(app="org.example.Saltbarrow")),
        ("ferrow-deep", ProgramMatch(windows_program="Deep.exe", title="Ferrow")),
        ("ferrow-deep", ProgramMatch(program="ferrowdeep")),
    ):
        rules.change(rules.now.with_match(name, match))
    open_demo(stage, "ferrow-deep")
    hop = edits.sends_of(stage.studio.profile, Slot("base", "right_bumper"))
    stage.studio.document.edit("Hop", lambda p: edits.with_sends(p, Slot("base", "right_grip"), hop))
    stage.wait(lambda: stage.studio.document.saved)
    stage.window.show_workspace("profiles")
    shot(stage, "profiles")
    stage.studio.document.undo()
    stage.window.show_workspace("settings")
    shot(stage, "settings")
    profile = stage.studio.profile
    card = CardPages(card_of(profile), profile.game.colour, DAY, stage.window.label_of)
    card.picture(0).scaledToWidth(WIDTH, Qt.TransformationMode.SmoothTransformation).save(f"{FOLDER}/card.png")
    stage.window.show_workspace("map")


def main_views(stage: Stage, receiver: Receiver) -> None:
    """Ferrow Deep at play in both themes; a layer; a slot that listens."""
    stage.wait(lambda: receiver.ready and stage.status is not None and not stage.status.withheld)
    for theme in ("dusk", "day"):
        stage.look.want(theme)
        stage.studio.selection.select("left_bumper")
        act(stage)
        stage.shot(f"{FOLDER}/map-{theme}.png")
        rest(stage)
    stage.look.want("dusk")
    stage.window.activateWindow()
    stage.wait(lambda: stage.status is not None and stage.status.withheld)
    stage.studio.selection.show_layer("aim")
    stage.studio.selection.select("motion")
    stage.steer("left_trigger", 0.8)
    act(stage)
    stage.shot(f"{FOLDER}/map-layer.png")
    rest(stage)
    stage.studio.selection.show_layer("base")
    stage.studio.selection.select("left_stick", "role.up")
    stage.studio.assigning.arm_control("left_stick", "role.up")
    shot(stage, "map-assigning")
    stage.studio.assigning.disarm()


def editors(stage: Stage) -> None:
    """One picture for each kind of editor, from the other two games."""
    open_demo(stage, "quillgate")
    stage.studio.selection.select("east", "tap")
    shot(stage, "map-gestures")
    stage.steer("right_trigger", 0)
    open_demo(stage, "saltbarrow")
    stage.studio.selection.show_layer("works")
    stage.studio.selection.select("right_stick", "role.entries[2].what")
    stage.steer("right_stick", 0.5, 0.4)
    shot(stage, "map-menu")
    stage.steer("right_stick", 0)
    stage.studio.selection.show_layer("base")
    stage.steer("right_bumper", 1)
    stage.steer("right_bumper", 0)
    stage.studio.selection.look_at(belt("buildings"))
    shot(stage, "bench-belt")
    stage.studio.selection.select("south")


def tune(stage: Stage) -> None:
    """A worn stick that was measured; a trigger by depths; motion."""
    open_demo(stage, "ferrow-deep")
    stage.link.send(Choose("sim:burr"))
    stage.wait(lambda: stage.status is not None and stage.status.controller == "sim:burr")
    stage.studio.selection.show_layer("base")
    stage.studio.selection.select("right_stick")
    stage.window.show_workspace("tune")
    measuring = stage.window.tune.measuring
    measuring.begin("rest")
    stage.wait(lambda: "snap back" in measuring.asks)
    for turn in range(12):
        for size in (0.6, 1.0, 0.5, 0.0):
            stage.steer("right_stick", size * cos(2.1 * turn), size * sin(2.1 * turn))
            stage.pause(0.03)
        stage.pause(0.45)
        if not measuring.doing:
            break
    measuring.begin("reach")
    for step in range(700):
        stage.steer("right_stick", cos(2 * pi * step / 200), sin(2 * pi * step / 200))
        stage.pause(0.012)
        if not measuring.doing:
            break
    for step in range(90):
        around = 2 * pi * step / 80
        stage.steer("right_stick", 0.75 * sin(around), 0.6 * sin(2 * around))
        stage.pause(0.03)
    stage.window.notices.clear()
    stage.shot(f"{FOLDER}/tune-stick.png")
    stage.steer("right_stick", 0)
    stage.link.send(Choose("sim:moss"))
    open_demo(stage, "ferrow-deep")
    stage.studio.selection.show_layer("aim")
    stage.steer("left_trigger", 1)
    stage.window.tune.open("motion")
    stage.pause(1.8)
    stage.look.want("day")
    for step in range(110):
        stage.steer("motion", 0.4 * sin(step / 12), 0.25 * cos(step / 17))
        stage.pause(0.025)
    stage.window.notices.clear()
    stage.shot(f"{FOLDER}/tune-motion.png")
    stage.look.want("dusk")
    stage.steer("motion", 0)
    stage.steer("left_trigger", 0)
    stage.studio.selection.show_layer("base")


def trying(stage: Stage) -> None:
    """What arrives in the typing range, and the figure of eight with settings compared."""
    from PyQt6.QtGui import QCursor

    window = stage.window
    window.show_workspace("try")
    arena = window.range.arena
    QCursor.setPos(arena.mapToGlobal(arena.rect().center()))  # where a click would have left it
    arena.setFocus()
    stage.wait(lambda: stage.status is not None and not stage.status.withheld)
    window.range.log_model.clear()
    for control in ("south", "east", "west", "north", "right_bumper"):
        stage.steer(control, 1)
        stage.pause(0.15)
        stage.steer(control, 0)
        stage.pause(0.1)
    stage.steer("left_trigger", 1)
    stage.steer("left_stick", 0.5, -0.6)
    stage.pause(0.3)
    stage.steer("south", 1)
    stage.pause(0.2)
    stage.shot(f"{FOLDER}/try-typing.png")
    for control in ("south", "left_stick", "left_trigger"):
        stage.steer(control, 0)
    window.show_workspace("map")
    stage.pause(0.2)
    window.show_workspace("try")
    rounds(stage)
    window.range.show_page("eight")
    window.range.begin.click()
    eight = window.range.eight
    from nubshift.analysis.walk import mark_at

    stage.pause(1.6)
    for _ in range(200):
        x, y = mark_at(eight.round.seconds + 0.12)
        off_x, off_y = (x - eight.aim.x) / 9, (y - eight.aim.y) / 9
        stage.steer("right_stick", max(-1, min(1, off_x)), max(-1, min(1, off_y)))
        stage.pause(0.016)
    window.notices.clear()
    stage.shot(f"{FOLDER}/try-eight.png")
    stage.steer("right_stick", 0)
    window.show_workspace("map")


def rounds(stage: Stage) -> None:
    """Rounds of an evening, made up, so that there is something to compare."""
    from nubshift.model import variants

    chance = Random(3)
    results = stage.window.range.results
    stage.window.range.aim.begin()
    for name, usual in (("quick", 2.6), ("steady", 2.0)):
        stage.studio.document.edit(f"Right stick: {name}", partial(variants.with_used, variant_id=name))
        for _ in range(4):
            off = usual * chance.uniform(0.88, 1.12)
            values = {"mean": off, "worst": 3 * off, "late": 0.11, "rough": 0.2 + 0.1 * (name == "quick")}
            results.add("eight", values, stage.window.range.aim)


def controllers(stage: Stage) -> None:
    """The list, teaching under way, the doctor, and the hands of the shapes beside the pad in one picture."""
    window = stage.window
    window.show_workspace("controllers")
    workspace = window.pages.controllers
    own = {"sim:moss": "ochre", "sim:swift": "plum"}
    for info in workspace.list.infos:
        if info.id in own:
            window.controller_store.set_own(info, colour=own[info.id])
    stage.pause(0.5)
    workspace.choose("sim:quarry")
    workspace.teach()
    workspace.lesson.begin("arcade")
    stage.wait(lambda: workspace.lesson.lesson is not None and workspace.lesson.lesson.phase == "ask")

    def place() -> int:
        lesson = workspace.lesson.lesson
        return lesson.place if lesson is not None else 0

    for raw_input in ("dpad_up", "dpad_right", "dpad_down", "dpad_left", "west", "north"):
        before = place()
        stage.link.send(Steer(f"raw:{raw_input}", 1.0))
        stage.pause(0.2)
        stage.link.send(Steer(f"raw:{raw_input}", 0.0))
        stage.wait(lambda: place() > before)  # noqa: B023
    shot(stage, "controllers-teaching")
    workspace.choose("sim:moss")
    hands(stage)
    window.show_workspace("controllers")
    workspace.choose("sim:willow")
    stage.pause(0.4)
    shot(stage, "controllers")
    workspace.show_doctor()
    stage.wait(lambda: bool(workspace.doctor.play_rows) and "problem" in workspace.doctor.verdict.text())
    shot(stage, "doctor")
    window.show_workspace("map")


def hands(stage: Stage) -> None:
    """Four controllers as they are taught, each with its hands."""
    stage.window.show_workspace("map")
    whole = QPixmap(1280, 800)
    painter = QPainter(whole)
    for place, name in enumerate(("quarry", "reed", "tern", "willow")):
        hardware = HARDWARE[name]
        names = {c: words for c, words in SHAPES[hardware.shape].names.items() if c in hardware.controls}
        stage.window.controller_store.learn(
            ControllerSetup(hardware.model, hardware.raw_inputs, shape=hardware.shape, names=names)
        )
        stage.link.send(Choose(f"sim:{name}"))
        wanted = set(hardware.controls) | set(hardware.senses)
        stage.wait(lambda: set(stage.window.map.hands.tiles) >= wanted)  # noqa: B023
        stage.window.notices.clear()
        stage.pause(0.4)
        picture = stage.window.grab().scaled(640, 400, transformMode=Qt.TransformationMode.SmoothTransformation)
        painter.drawPixmap(640 * (place % 2), 400 * (place // 2), picture)
    painter.end()
    whole.save(f"{FOLDER}/hands.png")


def over_the_game(stage: Stage, receiver: Receiver) -> None:
    """What is shown during play, over a game that fills the screen."""
    from PyQt6.QtGui import QGuiApplication

    stage.wait(lambda: receiver.ready and stage.status is not None and not stage.status.withheld)
    stage.studio.selection.show_layer("base")
    stage.steer("left_grip", 1)
    stage.pause(0.2)
    stage.steer("right_stick", 0.8, 0.4)
    stage.steer("left_stick", -0.7, -0.6)
    stage.pause(0.3)
    screen = QGuiApplication.primaryScreen()
    assert screen is not None
    in_play = screen.grabWindow().copy(0, 0, 1280, 800)
    rest(stage)
    menu = stage.window.during_play.menu.menu
    stage.steer("mode", 1)
    stage.wait(lambda: menu.is_open)
    stage.steer("mode", 0)
    stage.steer("dpad_down", 1)
    stage.wait(lambda: menu.page.at == 1)
    stage.pause(0.3)
    opened = screen.grabWindow().copy(0, 180, 1280, 600)
    rest(stage)
    stage.steer("east", 1)
    stage.wait(lambda: not menu.is_open)
    rest(stage)
    whole = QPixmap(1280, 1410)
    whole.fill(DUSK.ground)
    painter = QPainter(whole)
    painter.drawPixmap(0, 0, in_play)
    painter.drawPixmap(0, 810, opened)
    painter.end()
    whole.save(f"{FOLDER}/over-the-game.png")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with virtual_screen(1280, 960):
        manager = subprocess.Popen(["openbox", "--sm-disable"], stderr=subprocess.DEVNULL)
        stage = Stage()
        stage.window.map.touch_selects = False
        receiver = Receiver("0", "800", "1280", "160")
        main_views(stage, receiver)
        receiver.close()
        editors(stage)
        tune(stage)
        trying(stage)
        stage.window.show_workspace("map")
        controllers(stage)
        profiles_view(stage)
        stage.link.send(Choose("sim:moss"))
        stage.wait(lambda: "left_grip" in stage.window.map.hands.tiles)
        open_demo(stage, "saltbarrow")
        stage.studio.selection.show_layer("works")
        game = Receiver("0", "0", "1280", "960")
        over_the_game(stage, game)
        game.close()
        stage.close()
        manager.kill()


if __name__ == "__main__":
    main()
