"""What touching the controller means while the window has the focus: an answer to what waits, or a selection."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QObject

from nubshift.app.client.mirror import now_us
from nubshift.app.editors.button_panel import TOUCH_TOGETHER
from nubshift.app.editors.rows.by_row import TOUCH_BY
from nubshift.app.map.hands import Hands
from nubshift.app.painting.timing import once
from nubshift.app.stage import Stage
from nubshift.feel.directions import angle_of, plain_sector
from nubshift.model import edits
from nubshift.model.controls import BUTTON_LIKE, PRESENCE, Kind, kind_of
from nubshift.model.joining import STICKS, join_of
from nubshift.model.part import DIRECTIONS
from nubshift.model.profile import Profile
from nubshift.model.roles import BoardRole, GyroRole, KeysRole, MenuRole
from nubshift.model.slots import TOGETHER, side
from nubshift.model.usage import look_up
from nubshift.texts import _

DOUBLE_TOUCH_US = 450_000
HOLD_MS = 600
"""How long the second touch has to stay until the control listens."""
MOST_TOGETHER = 3


class Touching(QObject):
    """Listens to the controller. `selects` is the switch that decides whether touching selects (N20)."""

    def __init__(self, stage: Stage, hands: Hands, enabled: Callable[[], bool], parent: QObject) -> None:
        super().__init__(parent)
        self._stage = stage
        self._hands = hands
        self._enabled = enabled
        self._last: tuple[str, int] = ("", 0)
        self._second = ""
        self._held_on = once(self, HOLD_MS, self._arm_if_held)
        stage.live.touched.connect(self._touched)

    def _touched(self, control: str) -> None:
        """A control was moved on purpose while this window has the focus."""
        studio, live = self._stage.studio, self._stage.live
        if live.real:
            return
        if control in PRESENCE:
            return  # what it says is touched too
        if control not in STICKS and join_of(studio.profile, control, studio.selection.seat) is not None:
            return  # the stick that it is a part of is touched too
        part = self._part(control)
        if studio.assigning.armed_command is not None:
            studio.assigning.touched(studio.selection.slot(control, part or studio.assigning.main_part(control)))
        elif studio.assigning.armed_touch:
            self._answer(studio.assigning.armed_touch, control)
        elif studio.selection.subject.on_bench:
            return  # the bench shows what the touch does
        elif self._enabled() and not studio.assigning.listens:
            twice = self._last[0] == control and now_us() - self._last[1] < DOUBLE_TOUCH_US
            self._last = ("" if twice else control, now_us())
            studio.selection.select(control, part)
            self._hands.focus(control)
            self._second = control if twice else ""
            if twice:
                self._held_on.start()

    def _arm_if_held(self) -> None:
        """A second touch that stays is meant: two quick ones are play."""
        control, self._second = self._second, ""
        if control in self._hands.tiles and self._stage.live.depth(control) > 0.5 and not self._stage.live.real:
            self._hands.tiles[control].arm()

    def _part(self, control: str) -> str:
        """The direction in which a stick used as keys, or one without a role, was moved."""
        if kind_of(control) is not Kind.STICK:
            return ""
        studio = self._stage.studio
        found = look_up(studio.profile, studio.selection.layer, control, studio.selection.seat)
        if found is not None and found.binding.role is not None and not isinstance(found.binding.role, KeysRole):
            return ""
        x, y = self._stage.live.value(control)
        return side(DIRECTIONS[plain_sector(angle_of(x, y), 0.0)])

    def _answer(self, purpose: str, control: str) -> None:
        """A control was asked for, and this is it."""
        studio = self._stage.studio
        studio.assigning.disarm()
        if kind_of(control) not in BUTTON_LIKE:
            studio.document.noticed.emit(
                "info",
                _("{control} can't be pressed. Press a button.").format(control=studio.selection.names.title(control)),
            )
        elif purpose == TOUCH_TOGETHER:
            names = (*studio.selection.control.split(TOGETHER), control)
            if len(set(names)) == len(names) <= MOST_TOGETHER:
                studio.selection.select(TOGETHER.join(sorted(names)))
                studio.assigning.arm(studio.selection.slot())
        elif purpose == TOUCH_BY:
            self._set_by(control)

    def _set_by(self, by: str) -> None:
        studio, control = self._stage.studio, self._stage.selection.control
        layer, seat = studio.selection.layer, studio.selection.seat
        found = look_up(studio.profile, layer, control, seat)
        role = found.binding.role if found is not None else None
        if found is None or not isinstance(role, GyroRole | MenuRole | BoardRole):
            return
        binding = replace(found.binding, role=replace(role, by=by))

        def change(profile: Profile) -> Profile:
            return edits.with_binding(profile, layer, binding)

        studio.document.edit(
            _("{control} by {by}").format(
                control=studio.selection.names.title(control), by=studio.selection.names.inside(by)
            ),
            change,
        )
