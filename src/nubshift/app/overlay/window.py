"""What is shown over the game during play: tiles, menus, the keyboard, layer changes, what everything does (N28).

Where the session lets nothing stand over the game, layer changes are told by the desktop's notifications instead.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QMetaType
from PyQt6.QtDBus import QDBusArgument, QDBusConnection, QDBusMessage
from PyQt6.QtGui import QPainter, QPainterPath

from nubshift.app.client.at_play import AtPlay
from nubshift.app.overlay.over_game import OverGame
from nubshift.app.overlay.picture import OverlayPicture, ShownSurface
from nubshift.app.painting.theme import Look
from nubshift.app.painting.timing import once
from nubshift.events import Surface
from nubshift.model.roles import BoardRole, MenuRole, Overlay, Role, TilesRole
from nubshift.texts import _

TOLD_MS = 1400
"""How long a layer change is shown."""
NOTES = "org.freedesktop.Notifications"


OUT = 0.15
"""A stick counts as moved from here on."""


class PlayOverlay(OverGame):
    """Covers the screen while there is something to show, and is away else."""

    def __init__(self, at_play: AtPlay, look: Look, label_of: Callable[[str], str]) -> None:
        super().__init__(_("Nub Shift over the game"))
        live = at_play.live
        self._at_play, self._live = at_play, live
        self._picture = OverlayPicture(at_play, look, label_of)
        self.on = True
        self.held_back = False
        """Whether the controls work the menu just now, and none of what is shown here."""
        self.told = ""
        self._asked_to_tell = False
        self._note = 0
        self._layers: tuple[str, ...] = ()
        self._shape: tuple[object, ...] = ()
        self._untell = once(self, TOLD_MS, self._forget)
        live.surfaces_changed.connect(self.refresh)
        live.layers_changed.connect(self._layers_changed)
        live.held_changed.connect(self._output)
        live.controls_changed.connect(self._moved)

    # When there is something to show

    @property
    def shown(self) -> tuple[ShownSurface, ...]:
        """What is in use and wants to be shown, while output really goes to the game."""
        if not self.on or self.held_back or not self._live.real:
            return ()
        found = (
            ShownSurface(s) if s.use == "all" else ShownSurface(s, self._role(s), self._place(s))
            for s in self._live.surfaces
        )
        return tuple(one for one in found if one.surface.use == "all" or one.place is not None)

    @property
    def surfaces(self) -> tuple[Surface, ...]:
        """The same as the runner tells them."""
        return tuple(one.surface for one in self.shown)

    def _role(self, surface: Surface) -> Role | None:
        layer = self._at_play.profile.layer(surface.layer)
        binding = layer.binding(surface.control, surface.seat) if layer is not None else None
        return binding.role if binding is not None else None

    def _place(self, surface: Surface) -> Overlay | None:
        role = self._role(surface)
        if not isinstance(role, TilesRole | MenuRole | BoardRole) or role.show is None:
            return None
        if surface.use != "board" and not self._out(surface):
            return None
        return role.show

    def _out(self, surface: Surface) -> bool:
        """Whether the control is moved at all: tiles and menus at rest need not cover the game."""
        return surface.seat != self._live.seat or self._live.depth(surface.control) > OUT

    def _layers_changed(self) -> None:
        before, now = self._layers, self._live.layers
        self._layers = now
        if not self.on or not self._live.real:
            return
        new = [layer for layer in now if layer not in before]
        gone = [layer for layer in before if layer not in now]
        if new:
            self.tell(self._name(new[-1]))
        elif gone:
            self.tell(self._name(now[-1]) if now else self._at_play.profile.layers[0].name)

    def _name(self, layer: str) -> str:
        entry = self._at_play.profile.layer(layer)
        return entry.name if entry is not None else layer.partition("/")[0]

    def tell(self, text: str, *, always: bool = False) -> None:
        """Show the name of a layer for a moment; by the desktop where there is no window over the game.

        `always`: also while nothing is sent, since the player has just asked for what is told.
        """
        self.told, self._asked_to_tell = text, always
        if self.can_show:
            self._untell.start()
            self.refresh()
        else:
            self._note = notify(text, self._note)

    def _forget(self) -> None:
        self.told = ""
        self.refresh()

    def _moved(self, controls: set[str]) -> None:
        if any(surface.control in controls for surface in self._live.surfaces):
            self.refresh()

    def _output(self) -> None:
        if self.is_up:
            self.refresh()

    def refresh(self) -> None:
        """Show or hide, and paint anew."""
        told = bool(self.told) and (self._asked_to_tell or (self.on and self._live.real))
        if not (self.can_show and (told or bool(self.surfaces))):
            self.take_down()
            return
        if not self.is_up:
            self._shape = ()
            self.put_up()
        shape = (self.told, self.extent, *((s.seat, s.control, s.use, s.layer) for s in self.surfaces))
        if shape != self._shape:
            self._shape = shape
            self._picture.size = self.extent
            self.reshape()
        self.paint_soon()

    def outline(self) -> QPainterPath:
        """Where anything is drawn."""
        return self._picture.outline(self.shown, self.told)

    def draw(self, painter: QPainter) -> None:
        """All that is in use."""
        self._picture.draw(painter, self.shown, self.told)


def notify(text: str, replaces: int) -> int:
    """Tell a layer change by the desktop's notifications; returns the number to replace it by. 0 if nobody listens."""
    bus = QDBusConnection.sessionBus()  # first of all: it makes the types known that arguments are made of
    message = QDBusMessage.createMethodCall(NOTES, "/org/freedesktop/Notifications", NOTES, "Notify")
    number, actions = QDBusArgument(), QDBusArgument()
    number.add(replaces, QMetaType.Type.UInt.value)  # type: ignore[arg-type]  # the stub wants a plain int
    actions.add([], QMetaType.Type.QStringList.value)  # type: ignore[arg-type]  # an empty list has no type of its own
    message.setArguments([_("Nub Shift"), number, "", text, "", actions, {"transient": True}, TOLD_MS])
    answer = bus.call(message, timeout=300)
    arguments = answer.arguments()
    return int(arguments[0]) if arguments and isinstance(arguments[0], int) else 0
