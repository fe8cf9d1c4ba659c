"""What a stick, trigger, axis, d-pad, touch pad or pointer is used as: the choice, and what each choice begins with."""

from __future__ import annotations

from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.controls import Kind, kind_of
from nubshift.model.on_screen_keyboard import new_board
from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import BASE, Band, Binding, Profile
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuEntry,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    Role,
    ScrollRole,
    TilesRole,
)
from nubshift.model.rules import ROLES
from nubshift.model.usage import look_up
from nubshift.records import Record
from nubshift.texts import _

READY: dict[str, tuple[str, ...]] = {
    "letters": ("W", "D", "S", "A"),
    "arrows": ("UP", "RIGHT", "DOWN", "LEFT"),
    "number pad": ("KP8", "KP6", "KP2", "KP4"),
    "eight on the number pad": ("KP8", "KP9", "KP6", "KP3", "KP2", "KP1", "KP4", "KP7"),
}
READY_NAMES: dict[str, str] = {
    "letters": _("Letters"),
    "arrows": _("Arrows"),
    "number pad": _("Number pad"),
    "eight on the number pad": _("Eight on the number pad"),
}
"""Ready sets of keys for a stick, clockwise from up; eight of them give the diagonals keys of their own (N21)."""


class ControlUse(Record, frozen=True):
    """One thing a control can be used as: its id, the word for it, and the role that has it."""

    id: str
    word: str
    role: type[Role] | None = None


_USES = (
    ControlUse("keys", _("Keys"), KeysRole),
    ControlUse("mouse", _("Mouse"), MouseRole),
    ControlUse("scroll", _("Scroll"), ScrollRole),
    ControlUse("tiles", _("Tiles"), TilesRole),
    ControlUse("menu", _("Radial menu"), MenuRole),
    ControlUse("pointer", _("Pointer"), PointerRole),
    ControlUse("board", _("On-screen keyboard"), BoardRole),
    ControlUse("pad stick", _("Virtual stick"), PadStickRole),
    ControlUse("pad axis", _("Virtual axis"), PadAxisRole),
    ControlUse("gyro", _("Gyro"), GyroRole),
)


def uses_of(control: str) -> tuple[ControlUse, ...]:
    """What a control can be used as, by its kind."""
    kind = kind_of(control)
    own = tuple(use for use in _USES if use.role in ROLES[kind])
    if kind is Kind.TRIGGER:
        return (ControlUse("button", _("Button")), ControlUse("depth", _("By depth")), *own)
    return (
        ControlUse("nothing", _("Unassigned")),
        *own,
        *((ControlUse("depth", _("By depth")),) if kind is Kind.AXIS else ()),
    )


def use_of(binding: Binding | None, control: str) -> str:
    """What it is used as now."""
    rest = "button" if kind_of(control) is Kind.TRIGGER else "nothing"
    if binding is None or binding.blocked:
        return rest
    if binding.role is not None:
        return next(use.id for use in _USES if isinstance(binding.role, use.role or type(None)))
    depth = kind_of(control) in (Kind.TRIGGER, Kind.AXIS) and (binding.bands or binding.out)
    return "depth" if depth else rest


def use_as(stage: Stage, control: str, use: str) -> None:
    """Use a control so, in one step, with something sensible to begin with."""
    studio, title = stage.studio, stage.selection.names.title(control)
    layer, seat = studio.selection.layer, studio.selection.seat
    if use == "keys":
        give_keys(stage, control, "letters")
        return
    if use in ("nothing", "button"):
        _stop(stage, control)
        return
    if use == "depth":
        found = look_up(studio.profile, layer, control, seat)
        press = found.binding.press if found else ()
        binding = Binding(control, seat, bands=(Band(0.2, press), Band(0.9, ())))
        studio.document.edit(_("{title} by depth").format(title=title), lambda p: edits.with_binding(p, layer, binding))
        studio.selection.select(control, "bands[0].what" if not press else "bands[1].what")
        return
    role = new_role(use, control)
    words = {
        "mouse": _("moves the mouse"),
        "scroll": _("scrolls"),
        "pointer": _("points"),
        "tiles": _("has tiles"),
        "menu": _("opens a radial menu"),
        "board": _("types"),
    }
    name = (
        f"{title} {words[use]}"
        if use in words
        else _("Use {title} as {value}").format(title=title, value={u.id: u.word for u in _USES}[use])
    )
    studio.document.edit(name, lambda p: edits.with_role(p, layer, control, role, seat))


def new_role(use: str, control: str) -> Role:
    """A role to begin with."""
    match use:
        case "mouse":
            return MouseRole()
        case "scroll":
            return ScrollRole()
        case "tiles":
            return TilesRole(cells=((),) * 9)
        case "menu":
            return MenuRole(entries=(MenuEntry(()),) * 4)
        case "pointer":
            return PointerRole()
        case "board":
            return new_board("" if kind_of(control) is Kind.TOUCH else "south")
        case "pad stick":
            return PadStickRole("right" if control.startswith("right") else "left")
        case "pad axis":
            return PadAxisRole(control if control in ("left_trigger", "right_trigger") else "left_x")
        case _:
            return GyroRole()


def _stop(stage: Stage, control: str) -> None:
    studio, title = stage.studio, stage.selection.names.title(control)
    layer, seat = studio.selection.layer, studio.selection.seat
    gone = Binding(control, seat, blocked=layer != BASE)

    def change(profile: Profile) -> Profile:
        return edits.with_binding(profile, layer, gone)

    studio.document.edit(_("Clear {title}").format(title=title.lower()), change)


def give_keys(stage: Stage, control: str, ready: str) -> None:
    """Give all directions their keys from a ready set; a lone axis gets the two sides."""
    studio = stage.studio
    keys = READY[ready]
    directions = DIRECTIONS if len(keys) == 8 else DIRECTIONS[::2]
    sends = {d: (studio.assigning.send_for_key(key),) for d, key in zip(directions, keys, strict=True)}
    if kind_of(control) is Kind.AXIS:
        sends = {d: s for d, s in sends.items() if d in ("left", "right")}
    role = KeysRole(directions=8 if len(keys) == 8 else 4, **sends)
    layer, seat = studio.selection.layer, studio.selection.seat
    title = _("{ready} to {control}").format(ready=READY_NAMES[ready], control=stage.selection.names.inside(control))
    studio.document.edit(title, lambda p: edits.with_role(p, layer, control, role, seat))
