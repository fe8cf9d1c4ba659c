"""What of the session the doctor looks at: what it lets us see, send and show, and what is lost where it does not."""

from __future__ import annotations

import os
from collections.abc import Mapping

from nubshift.desktop.keymap import group_in_use, session_keymap
from nubshift.desktop.wayland.finding import compositor
from nubshift.events import VIRTUAL_MOUSE
from nubshift.protocol.findings import Finding
from nubshift.runner.build import UINPUT, uinput_trouble
from nubshift.runner.flat import mice_of
from nubshift.surroundings.windows import find_windows, why_focus_is_unseen
from nubshift.texts import _, listed

INSTALL = "nubshift install-access"
"""The command that installs the udev rule; it asks before it acts."""


def session_findings(environment: Mapping[str, str]) -> list[Finding]:
    """All of them; one that there is no screen where that is so."""
    offers = _offers(environment)
    if offers is None and not environment.get("DISPLAY"):
        screen = Finding(_("session"), "note", _("no screen"), _("Only the command line can be used here."))
        return [_sending(environment, frozenset()), screen]
    name = environment.get("XDG_CURRENT_DESKTOP", "").partition(":")[0]
    kind = _("Wayland") if offers is not None else _("X11")
    return [
        _sending(environment, offers or frozenset()),
        Finding(_("session"), "well", _("{kind} ({name})").format(kind=kind, name=name) if name else kind),
        _focus(environment),
        _over_the_game(environment, offers),
        _layout(environment),
        _acceleration(environment),
    ]


def _offers(environment: Mapping[str, str]) -> frozenset[str] | None:
    """The interfaces that the compositor of this session offers; None where there is none."""
    address = compositor(environment)
    if not address:
        return None
    from nubshift.desktop.wayland.connection import Connection

    try:
        connection = Connection(address)
    except OSError:
        return None
    found = frozenset(connection.offers)
    connection.close()
    return found


def _sending(environment: Mapping[str, str], offers: frozenset[str]) -> Finding:
    what = _("virtual keyboard and mouse")
    trouble = uinput_trouble()
    if not trouble:
        return Finding(what, "well", _("available, and reach every program"))
    if {"zwp_virtual_keyboard_manager_v1", "zwlr_virtual_pointer_manager_v1"} <= offers:
        means = _("Keys go through the Wayland compositor, which games that read devices by themselves don't hear.")
    elif environment.get("DISPLAY") and compositor(environment):
        means = _("Keys go through the X server, and only to programs that use X.")
    elif environment.get("DISPLAY"):
        means = _("Keys go through the X server, which some games don't listen to.")
    else:
        means = _("No keys can be sent here.")
    if not os.path.exists(UINPUT):
        found = _("the kernel's module for them is not loaded")
        return Finding(
            what,
            "look",
            found,
            means,
            _("Load it now; the access rule loads it at every start."),
            "sudo modprobe uinput",
        )
    found = _("you have no permission to write to {uinput}").format(uinput=UINPUT)
    return Finding(what, "look", found, means, _("Install the access rule that ships with Nub Shift."), INSTALL)


def _focus(environment: Mapping[str, str]) -> Finding:
    what, source = _("active window"), find_windows(environment)
    if source is None:
        return Finding(what, "note", _("nobody reports it"), why_focus_is_unseen(None))
    unseen, names_processes = why_focus_is_unseen(source), source.names_processes
    source.close()
    found = _("reported by {how}").format(how=source.how)
    if unseen:
        return Finding(what, "note", found, unseen)
    if not names_processes:
        means = _("It does not say which program a window is of, so prefer the window class in rules.")
        return Finding(what, "note", found, means)
    return Finding(what, "well", found)


def _over_the_game(environment: Mapping[str, str], offers: frozenset[str] | None) -> Finding:
    what = _("shown over the game")
    if offers is None:
        return Finding(what, "well", _("tiles, menus and layers in a window of X11"))
    if "zwlr_layer_shell_v1" in offers:
        return Finding(what, "well", _("tiles, menus and layers in a surface of the compositor (layer shell)"))
    if environment.get("DISPLAY"):
        return Finding(
            what,
            "note",
            _("the compositor has no layer shell, so an X11 window is used"),
            _("Over games that fill the screen natively it may stay behind them."),
        )
    return Finding(
        what,
        "note",
        _("the compositor has no layer shell"),
        _("Tiles and menus work, but can't be seen; layer changes are told by notifications."),
    )


def _layout(environment: Mapping[str, str]) -> Finding:
    what, keymap = _("keyboard layout"), session_keymap(environment)
    if keymap is None:
        means = _("Text is typed and keys are labelled as on a US keyboard.")
        return Finding(what, "note", _("nobody tells which one is in use"), means)
    name = keymap.names[keymap.group] or _("unnamed")
    if keymap.groups == 1 or group_in_use(environment) is not None:
        return Finding(what, "well", name)
    return Finding(
        what,
        "note",
        _("{name}, the first of {names}").format(name=name, names=listed(keymap.names)),
        _("Only the focused window is told which of them is in use, so text may come out in the wrong one."),
        _("Choose the one to type with in Settings."),
    )


def _acceleration(environment: Mapping[str, str]) -> Finding:
    """Whether the desktop bends the motion of the virtual mouse: with a flat profile a count is a count (N45)."""
    what = _("pointer acceleration")
    bends = _("In games that do not read the mouse raw, fast turns go further than slow ones.")
    mice = mice_of(environment)
    if mice is None:
        ask = _("In the desktop's settings, set the mouse '{virtual_mouse}' to the flat profile.")
        found = _("has to be set in the desktop")
        return Finding(what, "note", found, bends, ask.format(virtual_mouse=VIRTUAL_MOUSE))
    profile = mice.profile_of(VIRTUAL_MOUSE)
    command = mice.command(VIRTUAL_MOUSE)
    mice.close()
    match profile:
        case "flat":
            return Finding(what, "well", _("flat"))
        case "bent":
            found = _("the desktop accelerates the virtual mouse")
            return Finding(what, "look", found, bends, _("Set the flat profile:"), command)
        case "none":
            return Finding(
                what,
                "note",
                _("Nub Shift has no virtual mouse with that setting yet"),
                _("Nub Shift asks for the flat profile as soon as there is one."),
            )
