"""The numbers of motion in Tune: bias, axes, ratio, calm and steadying (N35)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import ClassVar

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox

from nubshift.app.editors.panel import Choices, Panel
from nubshift.app.editors.roles.role_panel import INVERTS
from nubshift.app.tune.tuner import Tuner
from nubshift.app.tune.wording import SMOOTHING, gauge_words, lag_words
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.profile import Feel
from nubshift.model.roles import GyroRole
from nubshift.texts import _, switched


class GyroPanel(Panel):
    """The numbers of motion."""

    AXES_TOLD: ClassVar = {
        "turn": _("Yaw: turn the controller flat, like a plate on a table, to look sideways."),
        "lean": _("Roll: tilt the controller to a side to look sideways."),
        "gravity": _("Gravity: sideways stays level whichever way the controller is held."),
    }

    def __init__(self, tuner: Tuner, gauge: Callable[[], None]) -> None:
        super().__init__(tuner.stage, tuner.control)
        self._tuner = tuner
        self._boxes: dict[str, QCheckBox] = {}
        self.heading(_("Drift at rest"))
        self._bias = self.quiet("")
        role = tuner.role
        self._axes: Choices | None = None
        if isinstance(role, GyroRole):
            self.heading(_("Look sideways by"))
            words = {"turn": _("Yaw"), "lean": _("Roll"), "gravity": _("Gravity")}
            self._axes = Choices(_("Look sideways by"), words, self._set_axes)
            self.add(self._axes)
            self._told = self.quiet("")
            self.heading(_("Speed"))
            self.add_rows((p.GYRO_RATIO, p.RATIO) if role.to == "mouse" else ())
            for field, text in INVERTS:
                self._boxes[field] = self.check(text, partial(self._invert, field, text))
            if role.to == "mouse":
                self._turn = self.quiet("")
                self.gauge = self.link(_("Count…"), gauge)
            self.heading(_("Threshold and smoothing"))
            self.add_rows((p.GYRO_THRESHOLD, *SMOOTHING))
            self._lag = self.quiet("")
        tuner.moved.connect(self._show_bias)
        self._counted = 0
        self._show_bias()
        self.refresh()

    def _set_axes(self, axes: str) -> None:
        role = self._tuner.role
        if isinstance(role, GyroRole):
            self.change_binding(_("Look sideways"), lambda binding: replace(binding, role=replace(role, axes=axes)))

    def _invert(self, field: str, text: str, on: bool) -> None:
        self._tuner.set_feel(switched(text, on), "", **{field: on})

    @property
    def feel(self) -> Feel:
        """The feel that is shown: now, or before."""
        return self._tuner.feel

    def _show_bias(self) -> None:
        self._counted += 1
        if self._counted % 15 != 1:
            return
        bias = self._tuner.bias
        if bias is None or not bias.known:
            self._bias.setText(
                _("Not measured yet. Lay the controller down for two seconds, and it is measured by itself.")
            )
        else:
            rates = (
                _("Yaw {turn:+.2f}, pitch {nod:+.2f}, roll {lean:+.2f} °/s")
                .format(turn=_shown(bias.turn), nod=_shown(bias.nod), lean=_shown(bias.lean))
                .replace("-", "\u2212")
            )
            self._bias.setText(_("{rates}. Subtracted, and measured again whenever it lies still.").format(rates=rates))

    def refresh(self) -> None:
        """The profile changed."""
        self.refresh_rows()
        role, feel = self._tuner.role, self._tuner.feel
        if self._axes is None or not isinstance(role, GyroRole):
            return
        self._axes.show_choice(role.axes)
        self._told.setText(self.AXES_TOLD[role.axes])
        self._lag.setText(lag_words(number(feel.min_cutoff), number(feel.beta)))
        for field, box in self._boxes.items():
            box.setChecked(bool(getattr(feel, field)))
        if role.to == "mouse":
            self._turn.setText(gauge_words(self._tuner))
            for widget in (self._turn, self.gauge):
                widget.setVisible(not self._tuner.cursor)


def _shown(rate: float) -> float:
    """A rate in hundredths, and never −0."""
    return round(rate, 2) + 0.0
