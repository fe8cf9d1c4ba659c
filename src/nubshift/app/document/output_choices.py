"""All that a slot can be given beside keys and commands, in groups: for the finder and for the menu of a slot."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from functools import partial

from nubshift.app.document import subject
from nubshift.app.document.assigning import Armed
from nubshift.app.document.studio import Studio
from nubshift.app.painting.theme import LIGHTS
from nubshift.model import edits, on_screen_keyboard
from nubshift.model.controls import title_of
from nubshift.model.names import lowered
from nubshift.model.profile import BASE, Belt, BeltEntry, Macro, MacroWait, Profile
from nubshift.model.sends import (
    PAD_AXES,
    PAD_BUTTONS,
    BackToBase,
    ChangeLayer,
    ChangeSpeed,
    Gyro,
    HoldLayer,
    HoldProfile,
    NextLayer,
    NextVariant,
    Precision,
    Send,
    SendBelt,
    SendLight,
    SendMacro,
    SendMotion,
    SendNothing,
    SendPad,
    SendPadAxis,
    SendPoint,
    SendRumble,
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
)
from nubshift.model.sentences import DIRECTION_NAMES, GYRO_ACTS, pad_title
from nubshift.model.slots import BELT, MACRO
from nubshift.model.store import profile_names
from nubshift.records import Record
from nubshift.texts import _

NEW_WAIT = 100
"""What a new macro does: it waits so many ms, until it is given steps."""
Make = Callable[[Profile], tuple[Profile, Send]]


class OutputChoice(Record, frozen=True):
    """Something to send: the group it stands in, what it is called, and the profile with it and what to send."""

    group: str
    name: str
    make: Make


def output_choices(studio: Studio, control: str, controls: Collection[str]) -> Iterator[OutputChoice]:
    """Everything for a control of a controller that has `controls`, in the order of a menu.

    Belts and macros can't hold each other.
    """
    profile = studio.profile
    within = control.startswith((BELT, MACRO))
    for layer in profile.layers[1:]:
        for text, send in (
            (_("{name}, while held").format(name=layer.name), HoldLayer(layer.id)),
            (_("{name}, toggle").format(name=layer.name), ChangeLayer(layer.id)),
            (_("{name}, for the next press").format(name=layer.name), ChangeLayer(layer.id, "once")),
            (_("Enter {name}").format(name=layer.name), ChangeLayer(layer.id, "enter")),
            (_("Leave {name}").format(name=layer.name), ChangeLayer(layer.id, "leave")),
            (_("Only {name}").format(name=layer.name), ChangeLayer(layer.id, "only")),
        ):
            yield _plain(_("Layer"), text, send)
    if len(profile.layers) > 1:
        names = tuple(layer.id for layer in profile.layers if layer.id != BASE)
        yield _plain(_("Layer"), _("Next layer with each press"), NextLayer(names))
        yield _plain(_("Layer"), _("Back to Base"), BackToBase())
    yield OutputChoice(_("Layer"), _("New layer, while held"), _new_layer)
    if on_screen_keyboard.board_layer(profile, studio.selection.seat) or on_screen_keyboard.can_type(controls, control):
        for text, how in (
            (_("On-screen keyboard, while held"), HoldLayer),
            (_("On-screen keyboard, toggle"), ChangeLayer),
        ):
            make = partial(_board, controls, control, studio.selection.seat, how)
            yield OutputChoice(_("On-screen keyboard"), text, make)
    for belt in profile.belts if not within else ():
        for step, text in (("next", _("next")), ("back", _("back")), ("again", _("again"))):
            yield _plain(_("Belt"), f"{belt.name}: {text}", SendBelt(belt.id, step))  # type: ignore[arg-type]
    if not within:
        yield OutputChoice(_("Belt"), _("New belt: next"), _new_belt)
    for macro in profile.macros if not within else ():
        yield _plain(_("Macro"), macro.name, SendMacro(macro.id))
    if not within:
        yield OutputChoice(_("Macro"), _("New macro"), _new_macro)
    for way in ("up", "down", "left", "right"):
        yield _plain(_("Wheel"), _("Wheel {way}, one notch").format(way=DIRECTION_NAMES[way]), SendWheel(way))
    for way in ("up", "down"):
        yield _plain(_("Wheel"), _("Scroll {way} while held").format(way=DIRECTION_NAMES[way]), SendScroll(way))  # type: ignore[arg-type,index]
    yield _plain(_("Mouse"), _("Move the mouse by…"), SendMotion(0, 100))
    yield _plain(_("Mouse"), _("Move the cursor to a point"), SendPoint(0.5, 0.5))
    yield _plain(_("Mouse"), _("Increase stick speed"), ChangeSpeed(1.1))
    yield _plain(_("Mouse"), _("Decrease stick speed"), ChangeSpeed(0.9))
    yield _plain(_("Mouse"), _("Precision, while held"), Precision())
    for do, text in GYRO_ACTS.items():
        yield _plain(_("Gyro"), text, Gyro(do))  # type: ignore[arg-type]
    yield _plain(_("Text"), _("Text"), SendText(_("hello")))
    for button in PAD_BUTTONS:
        yield _plain(
            _("Virtual pad"), title_of(button).lower() if button != "mode" else _("middle button"), SendPad(button)
        )
    for axis in PAD_AXES:
        yield _plain(_("Virtual pad"), lowered(pad_title(axis)), SendPadAxis(axis))
    yield _plain(_("Controller"), _("Rumble"), SendRumble())
    yield _plain(_("Controller"), _("Light"), SendLight(LIGHTS[0]))
    yield _plain(_("Show"), _("Show what everything does, while held"), ShowAll())
    for tuned in dict.fromkeys(v.feel.control for v in profile.variants if v.feel.seat == studio.selection.seat):
        yield _plain(
            _("Variant"),
            _("{tuned}: next variant").format(tuned=studio.selection.names.inside(tuned)),
            NextVariant(tuned),
        )
    for name in other_profiles(studio):
        yield _plain(_("Profile"), _("{name}, while held").format(name=name), HoldProfile(name))
    yield _plain(_("Unassigned"), _("Nothing"), SendNothing())


def other_profiles(studio: Studio) -> list[str]:
    """The names of the profiles beside the open one."""
    return [name for name in profile_names(studio.document.file.path.parent) if name != studio.document.file.name]


def _plain(group: str, name: str, send: Send) -> OutputChoice:
    return OutputChoice(group, name, lambda profile: (profile, send))


def _new_layer(profile: Profile) -> tuple[Profile, Send]:
    profile, layer = edits.with_layer(profile, _("Layer {count}").format(count=len(profile.layers)))
    return profile, HoldLayer(layer)


def _board(
    controls: Collection[str], pressed: str, seat: str, how: type[HoldLayer | ChangeLayer], profile: Profile
) -> tuple[Profile, Send]:
    profile, layer = on_screen_keyboard.with_board(profile, controls, pressed, seat)
    return profile, how(layer)


def _new_belt(profile: Profile) -> tuple[Profile, Send]:
    profile, belt = with_new_belt(profile)
    return profile, SendBelt(belt)


def _new_macro(profile: Profile) -> tuple[Profile, Send]:
    profile, macro = with_new_macro(profile)
    return profile, SendMacro(macro)


def with_new_belt(profile: Profile) -> tuple[Profile, str]:
    """`profile` with a belt of one empty entry, and its id."""
    name = _("Belt {count}").format(count=len(profile.belts) + 1)
    belt = Belt(edits.free_id(name, [b.id for b in profile.belts]), name, (BeltEntry(()),))
    return edits.with_belt(profile, belt), belt.id


def with_new_macro(profile: Profile) -> tuple[Profile, str]:
    """`profile` with a macro that only waits a moment, and its id."""
    name = _("Macro {count}").format(count=len(profile.macros) + 1)
    macro = Macro(edits.free_id(name, [m.id for m in profile.macros]), name, (MacroWait(NEW_WAIT),))
    return edits.with_macro(profile, macro), macro.id


def choose_output(studio: Studio, armed: Armed, offer: OutputChoice) -> None:
    """Put what is offered into a slot, in one step with what had to be made for it; then show what was made."""
    known = {*(b.id for b in studio.profile.belts), *(m.id for m in studio.profile.macros)}
    made, send = offer.make(studio.profile)
    if made is studio.profile:
        studio.assigning.fill(armed, send)
        return
    before = studio.profile
    studio.assigning.fill(armed, send, partial(_with_made, offer))
    if studio.profile is before:
        return
    for there in (
        *(subject.belt(b.id) for b in studio.profile.belts),
        *(subject.macro(m.id) for m in studio.profile.macros),
    ):
        if there.id not in known:
            studio.selection.look_at(there)


def _with_made(offer: OutputChoice, profile: Profile) -> Profile:
    return offer.make(profile)[0]
