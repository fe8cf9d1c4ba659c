"""The numbers of a stick, a trigger or an axis at the right side of Tune (N40 to N42, N45)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from nubshift.app.editors.number_row import NumberRow
from nubshift.app.editors.panel import Choices, FlowLayout, Panel
from nubshift.app.editors.pictures.curves import CurveShapes
from nubshift.app.editors.roles.role_panel import INVERTS
from nubshift.app.tune.response import ResponsePicture
from nubshift.app.tune.tuner import Tuner
from nubshift.app.tune.wording import SMOOTHING, gauge_words, lag_words
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.feel.curve import SHAPES
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import Binding, Feel
from nubshift.model.roles import KeysRole, MenuRole, MouseRole, ScrollRole
from nubshift.model.sentences import sends_name
from nubshift.texts import _, switched

CURSOR_SPEED = _("A pixel for each mouse count, where neither the game nor the desktop scales the mouse.")


class PointRow(QWidget):
    """The point of the curve that is chosen, typed: where it lies and what it gives, in per cent."""

    def __init__(self, picture: ResponsePicture) -> None:
        super().__init__()
        self._picture = picture
        self._name = Label(_("Point"))
        self.at, self.gives = LineField(), QLineEdit()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        column.addWidget(self._name)
        inside = QWidget()
        row = FlowLayout(5)
        inside.setLayout(row)
        column.addWidget(inside)
        for word, field, name in (
            (_("Input"), self.at, _("Point input")),
            (_("Output"), self.gives, _("Point output")),
        ):
            field.setFixedWidth(62)
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.setAccessibleName(name)
            field.editingFinished.connect(self._typed)
            label = Label(word)
            label.setObjectName("quiet")
            pair = QWidget()
            together = QHBoxLayout(pair)
            together.setContentsMargins(0, 0, 8, 0)
            together.setSpacing(5)
            together.addWidget(label)
            together.addWidget(field)
            row.addWidget(pair)

    def refresh(self) -> None:
        """Another point, or it moved."""
        points = self._picture.points
        x, y = points[min(self._picture.chosen, len(points) - 1)]
        self._name.setText(_("Point {chosen} of {count}").format(chosen=self._picture.chosen + 1, count=len(points)))
        self.at.setEnabled(0 < self._picture.chosen < len(points) - 1)
        for field, value in ((self.at, x), (self.gives, y)):
            if not (field.hasFocus() and field.isModified()):
                field.setText(f"{value * 100:g}\u202f%")
                field.setModified(False)

    def _typed(self) -> None:
        if not (self.at.isModified() or self.gives.isModified()):
            return
        self.at.setModified(False)
        self.gives.setModified(False)
        points = self._picture.points
        x, y = points[self._picture.chosen]
        values = [_percent(field.text()) for field in (self.at, self.gives)]
        self._picture.put(
            self._picture.chosen, values[0] if values[0] is not None else x, values[1] if values[1] is not None else y
        )
        self._picture.settle()
        self.refresh()


def _percent(text: str) -> float | None:
    kept = "".join(char for char in text.replace(",", ".") if char.isdigit() or char == ".")
    try:
        return float(kept) / 100
    except ValueError:
        return None


class FeelPanel(Panel):
    """The numbers of a stick, a trigger or an axis, as far as they count for what it is used as."""

    def __init__(self, tuner: Tuner, picture: ResponsePicture, gauge: Callable[[], None]) -> None:
        super().__init__(tuner.stage, tuner.control)
        self._tuner = tuner
        self._shapes: CurveShapes | None = None
        self._zone: Choices | None = None
        self._point: PointRow | None = None
        self._lag: QLabel | None = None
        self._speed: QLabel | None = None
        self._boxes: dict[str, QCheckBox] = {}
        role, kind = tuner.role, kind_of(tuner.control)
        if isinstance(role, KeysRole):
            self.heading(_("Directions"))
            self.add_rows((p.KEY_RADIUS, p.DIAGONAL) if kind is not Kind.AXIS else (p.KEY_RADIUS,))
        if isinstance(role, MenuRole):
            self.heading(_("Radial menu"))
            self.add_rows((p.MENU_RADIUS,))
        self._bands: list[NumberRow] = []
        self._release: QLabel | None = None
        if tuner.binding is not None and tuner.binding.bands:
            self._make_depths(tuner.binding)
        elif kind is Kind.TRIGGER and not tuner.tuned:
            self.heading(_("Trigger"))
            self.add_rows((p.PRESS_AT,))
            self._release = self.quiet("")
        if tuner.tuned:
            self._make_response(picture, kind)
        if isinstance(role, MouseRole | ScrollRole):
            self._make_speed(role, kind, gauge)
        if tuner.tuned:
            self.heading(_("Smoothing"))
            self.add_rows(SMOOTHING)
            self._lag = self.quiet("")
        self.refresh()

    def _make_depths(self, binding: Binding) -> None:
        """Where each depth begins, typed."""
        self.heading(_("Depths"))
        profile = self.stage.studio.profile
        for index, band in enumerate(binding.bands):
            name = sends_name(profile, band.what) if band.what else _("Unassigned")
            row = self.number(
                replace(p.BAND_FROM, label=_("{name} from").format(name=name)), partial(self._set_depth, index)
            )
            self._bands.append(row)
        self.quiet(
            _("Each ends {band_from_text} below where it starts, so that it can't flutter.").format(
                band_from_text=p.BAND_FROM.text(p.BAND_HYSTERESIS)
            )
        )

    def _set_depth(self, index: int, start: float) -> None:
        binding = self._tuner.binding
        if binding is None:
            return
        bands = binding.bands
        low = bands[index - 1].start + 0.02 if index else p.BAND_FROM.low
        high = bands[index + 1].start - 0.02 if index + 1 < len(bands) else p.BAND_FROM.high
        kept = p.BAND_FROM.clamp(min(high, max(low, start)))
        self._tuner.set_band(
            _("Depth from {band_from_text}").format(band_from_text=p.BAND_FROM.text(kept)), index, kept
        )

    def _make_response(self, picture: ResponsePicture, kind: Kind) -> None:
        self.heading(_("Dead zone and edge"))
        if kind not in (Kind.TRIGGER, Kind.AXIS):
            self._zone = Choices(
                _("Dead zone"), {"round": _("Round"), "axes": _("Each axis on its own")}, self._set_zone
            )
            self.add(self._zone)
        self.add_rows((p.INNER, p.OUTER))
        self.heading(_("Response"))
        self._shapes = CurveShapes(self.stage.look, self._set_shape)
        self.add(self._shapes)
        self._point = PointRow(picture)
        self.add(self._point)
        self.add_rows((p.LEAST_STEP,))

    def _make_speed(self, role: MouseRole | ScrollRole, kind: Kind, gauge: Callable[[], None]) -> None:
        self.heading(_("Speed"))
        if isinstance(role, ScrollRole):
            self.add_rows((p.SCROLL_SPEED,))
            return
        both = () if self._tuner.lone else (p.RATIO,)
        self.add_rows((p.SPEED, *both, p.EDGE_BOOST, p.EDGE_TIME) if kind is not Kind.TRIGGER else (p.SPEED,))
        self._speed = self.quiet("")
        unused = (
            ("invert_x" if role.upright else "invert_y") if isinstance(role, MouseRole) and self._tuner.lone else ""
        )
        for field, text in INVERTS:
            if field != unused:
                self._boxes[field] = self.check(text, partial(self._invert, field, text))
        self._turn = self.quiet("")
        self.gauge = self.link(_("Count…"), gauge)

    def _invert(self, field: str, text: str, on: bool) -> None:
        self._tuner.set_feel(switched(text, on), "", **{field: on})

    def _set_zone(self, zone: str) -> None:
        self._tuner.set_feel(
            _("Dead zone: round") if zone == "round" else _("Dead zone: each axis on its own"), "", zone=zone
        )

    def _set_shape(self, shape: str) -> None:
        self._tuner.set_feel(_("Response curve {shape}").format(shape=shape), "", curve=SHAPES[shape])

    @property
    def feel(self) -> Feel:
        """The feel that is shown: now, or before."""
        return self._tuner.feel

    def refresh(self) -> None:
        """The profile changed."""
        self.refresh_rows()
        feel = self._tuner.feel
        if self._zone is not None:
            self._zone.show_choice(feel.zone or "round")
        if self._shapes is not None:
            self._shapes.show_points(feel.curve)
        if self._point is not None:
            self._point.refresh()
        if self._lag is not None:
            self._lag.setText(lag_words(number(feel.min_cutoff), number(feel.beta)))
        for field, box in self._boxes.items():
            box.setChecked(bool(getattr(feel, field)))
        if self._speed is not None:
            counts = f"{number(feel.speed) * self._tuner.counts_per_degree:,.0f}".replace(",", "\u202f")
            self._speed.setText(
                CURSOR_SPEED
                if self._tuner.cursor
                else _("That is {counts} mouse counts a second.").format(counts=counts)
            )
            self._turn.setText(gauge_words(self._tuner))
            for widget in (self._turn, self.gauge):
                widget.setVisible(not self._tuner.cursor)
        bands = self._tuner.binding.bands if self._tuner.binding is not None else ()
        for row, band in zip(self._bands, bands, strict=False):
            row.show_value(band.start)
        if self._release is not None:
            below = p.PRESS_AT.text(number(feel.press_at) - p.PRESS_HYSTERESIS)
            self._release.setText(_("Released below {below}, so that it can't flutter.").format(below=below))
