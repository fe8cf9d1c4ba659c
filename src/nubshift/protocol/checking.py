"""What a message of the right form may say: the one place where runner and window check each other.

Whoever listens trusts what has passed here. Profiles are checked where they are compiled (`compiling`).
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from math import isfinite
from typing import assert_never

from nubshift.errors import ProtocolError, did_you_mean
from nubshift.model.controller_setup import RAW_INPUT
from nubshift.model.controls import CHANNELS, CONTROLS
from nubshift.model.keys import KEYS
from nubshift.model.sends import PAD_AXES, PAD_BUTTONS
from nubshift.model.shapes import SHAPES
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol.messages import (
    Ask,
    Choose,
    CloseMenu,
    Done,
    Edit,
    Ended,
    EnterLayer,
    Fill,
    Frame,
    GameSeen,
    Health,
    Hello,
    Keep,
    Launch,
    Lesson,
    MenuDoes,
    Notice,
    Play,
    Programs,
    Quit,
    Refused,
    Reply,
    Request,
    Reread,
    SetLive,
    Show,
    Shown,
    Status,
    Steer,
    Stop,
    Teach,
    Teaching,
    Use,
    Used,
    UseVariant,
    Watch,
    Welcome,
    Withhold,
)
from nubshift.texts import _

_COLOUR = re.compile(r"#[0-9a-fA-F]{6}")
_SCRIPT = re.compile(r"[a-z0-9-]{0,60}")
_KNOWN = frozenset({*CONTROLS, *CHANNELS})
SEVERITIES = ("info", "warning", "error")
MENU_ACTS = ("open", "close", "up", "down", "left", "right", "choose", "back")
PHASES = ("rest", "ask", "review", "stored", "over")
USES = ("tiles", "menu", "board", "all")
MOST_PARTS = 8
"""Of one seat."""
LONGEST_NAME = 400
_MOST_PID = 1 << 22
"""Beyond any process id of Linux (proc(5), pid_max)."""


def check_request(request: Request) -> None:
    """Raise ProtocolError, as a sentence, for a request that means nothing here."""
    match request:
        case Teach(controller, shape):
            _name(controller)
            if shape not in SHAPES:
                raise ProtocolError(
                    _('there is no shape "{shape}".{did_you_mean}').format(
                        shape=shape[:60], did_you_mean=did_you_mean(shape[:60], list(SHAPES))
                    )
                )
        case Teaching(control=control):
            _name(control)
        case Show(controller, colour):
            _name(controller)
            if colour and not _COLOUR.fullmatch(colour):
                raise ProtocolError(
                    _('"{colour}" is not a colour; expected one like #7dd3b4').format(colour=colour[:60])
                )
        case Play(script):
            if not _SCRIPT.fullmatch(script):
                raise ProtocolError(_('"{script}" is not the name of a player').format(script=script[:60]))
        case Steer(control, x, y):
            if not control.startswith(RAW_INPUT):
                _controls([control])
            _numbers((x, y))
        case Watch(control):
            _controls([control] if control else [])
        case Choose(controller):
            _name(controller)
        case Fill(seat, parts):
            _name(seat)
            _parts(parts)
        case Keep(profile):
            _name(profile or "")
        case Launch(profile, pid):
            _name(profile)
            if not 0 < pid < _MOST_PID:
                raise ProtocolError(_("{pid} is not a process").format(pid=pid))
        case EnterLayer(layer):
            _name(layer)
        case UseVariant(control, variant, seat):
            _controls([control])
            _name(variant)
            _name(seat)
        case Hello() | Use() | Edit() | SetLive() | Withhold() | Shown() | Ask() | Reread():
            pass
        case CloseMenu() | Stop() | Quit():
            pass
        case never:
            assert_never(never)


def check_reply(reply: Reply) -> None:
    """Raise ProtocolError, as a sentence, for a reply that no runner of ours would send."""
    match reply:
        case Frame():
            _frame(reply)
        case Status(fills=fills):
            for parts in fills.values():
                _parts(parts)
        case Notice(severity):
            _one_of(severity, SEVERITIES, "severity")
        case Lesson():
            _one_of(reply.phase, PHASES, "phase")
            _one_of(reply.shape, SHAPES, "shape")
            _numbers((reply.left,))
            for name in reply.taught:
                _controls([name])
        case MenuDoes(act):
            _one_of(act, MENU_ACTS, "act")
        case Health():
            _numbers((reply.seconds,))
            if any(pace.every <= 0 or pace.jitter < 0 for pace in reply.paces.values()):
                raise ProtocolError(_("a controller can't report like that"))
        case Welcome() | Refused() | Used() | Done() | Ended() | Programs() | GameSeen():
            pass
        case never:
            assert_never(never)


def _frame(frame: Frame) -> None:
    for controls in (frame.controls, *frame.seats.values()):
        _controls(controls)
        for value in controls.values():
            _numbers(value)
    for code in (*frame.held, *(sent.code for sent in frame.sent)):
        kind, _unused, name = code.rpartition(":")
        known = code in KEYS if not kind else name in PAD_BUTTONS if kind == "pad" else kind in ("layer", "wheel")
        if not known:
            raise ProtocolError(_('there is no key "{code}"').format(code=code[:60]))
    for axis in frame.axes:
        _one_of(axis, PAD_AXES, "pad axis")
    _numbers(frame.axes.values())
    for surface in frame.surfaces:
        _one_of(surface.use, USES, "use")
        if surface.control:
            _controls([surface.control])
    if frame.watched:
        _controls([frame.watched])
    lengths = {6 + 1} if frame.watched == "motion" else {3}
    if any(len(entry) not in lengths for entry in frame.trace):
        raise ProtocolError(_("a trace of another form"))
    for entry in frame.trace:
        _numbers(entry)


def _parts(parts: tuple[PartOf, ...]) -> None:
    if len(parts) > MOST_PARTS:
        raise ProtocolError(
            _("{count} controllers for one seat; at most {most_parts} can fill it").format(
                count=len(parts), most_parts=MOST_PARTS
            )
        )
    for part in parts:
        _name(part.controller)
        _controls((*(part.controls or ()), *part.names, *part.names.values()))


def _controls(names: Iterable[str]) -> None:
    for name in names:
        if name not in _KNOWN:
            raise ProtocolError(
                _('there is no control "{name}".{did_you_mean}').format(
                    name=name[:60], did_you_mean=did_you_mean(name[:60], list(CONTROLS))
                )
            )


def _one_of(word: str, known: Iterable[str], what: str) -> None:
    if word not in known:
        raise ProtocolError(_('there is no {what} "{word}"').format(what=what, word=word[:60]))


def _numbers(values: Iterable[float]) -> None:
    for value in values:
        if not isfinite(value):
            raise ProtocolError(_("{value} is not a usable number").format(value=value))


def _name(text: str) -> None:
    if len(text) > LONGEST_NAME or "\0" in text:
        raise ProtocolError(_('"{text}" is not a name').format(text=text[:60]))
