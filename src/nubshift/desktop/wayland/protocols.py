"""Protocols of wlroots, from their public descriptions (wlr-protocols, and virtual-keyboard-unstable-v1)."""

from __future__ import annotations

from pywayland.protocol.wayland import WlOutput, WlSeat, WlSurface
from pywayland.protocol.xdg_shell import XdgPopup

from nubshift.desktop.wayland.describe import interface

LayerSurface = interface(
    "zwlr_layer_surface_v1",
    4,
    requests=(
        ("set_size", "uu"),
        ("set_anchor", "u"),
        ("set_exclusive_zone", "i"),
        ("set_margin", "iiii"),
        ("set_keyboard_interactivity", "u"),
        ("get_popup", "o", XdgPopup),
        ("ack_configure", "u"),
        ("destroy", ""),
        ("set_layer", "2u"),
    ),
    events=(("configure", "uuu"), ("closed", "")),
)
LayerShell = interface(
    "zwlr_layer_shell_v1",
    4,
    requests=(("get_layer_surface", "no?ous", LayerSurface, WlSurface, WlOutput), ("destroy", "3")),
)
LAYER_OVERLAY = 3
ANCHOR_ALL = 1 | 2 | 4 | 8

Toplevel = interface(
    "zwlr_foreign_toplevel_handle_v1",
    3,
    requests=(
        ("set_maximized", ""),
        ("unset_maximized", ""),
        ("set_minimized", ""),
        ("unset_minimized", ""),
        ("activate", "o", WlSeat),
        ("close", ""),
        ("set_rectangle", "oiiii", WlSurface),
        ("destroy", ""),
        ("set_fullscreen", "2?o", WlOutput),
        ("unset_fullscreen", "2"),
    ),
    events=(
        ("title", "s"),
        ("app_id", "s"),
        ("output_enter", "o", WlOutput),
        ("output_leave", "o", WlOutput),
        ("state", "a"),
        ("done", ""),
        ("closed", ""),
        ("parent", "3?o", None),
    ),
)
ToplevelManager = interface(
    "zwlr_foreign_toplevel_manager_v1",
    3,
    requests=(("stop", ""),),
    events=(("toplevel", "n", Toplevel), ("finished", "")),
    ends="",
)
ACTIVATED, FULL_SCREEN = 2, 3
"""Of a toplevel's states."""

VirtualKeyboard = interface(
    "zwp_virtual_keyboard_v1", 1, requests=(("keymap", "uhu"), ("key", "uuu"), ("modifiers", "uuuu"), ("destroy", ""))
)
VirtualKeyboardManager = interface(
    "zwp_virtual_keyboard_manager_v1", 1, requests=(("create_virtual_keyboard", "on", WlSeat, VirtualKeyboard),)
)
VirtualPointer = interface(
    "zwlr_virtual_pointer_v1",
    2,
    requests=(
        ("motion", "uff"),
        ("motion_absolute", "uuuuu"),
        ("button", "uuu"),
        ("axis", "uuf"),
        ("frame", ""),
        ("axis_source", "u"),
        ("axis_stop", "uu"),
        ("axis_discrete", "uufi"),
        ("destroy", ""),
    ),
)
VirtualPointerManager = interface(
    "zwlr_virtual_pointer_manager_v1",
    2,
    requests=(
        ("create_virtual_pointer", "?on", WlSeat, VirtualPointer),
        ("destroy", ""),
        ("create_virtual_pointer_with_output", "2?o?on", WlSeat, WlOutput, VirtualPointer),
    ),
)
