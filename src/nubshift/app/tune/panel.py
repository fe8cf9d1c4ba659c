"""The right side of Tune: what was measured and what follows, and every number of the feel (N40 to N45)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING, ClassVar

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from nubshift.analysis.compass import share
from nubshift.app.editors.curves import CurveShapes
from nubshift.app.editors.number_row import NumberRow
from nubshift.app.editors.panel import Choices, Panel, emptied, link
from nubshift.app.editors.role_panel import INVERTS
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.theme import SMALL, Look, font
from nubshift.app.tune.measuring import Measuring
from nubshift.app.tune.response import ResponsePicture
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.curve import SHAPES
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import Binding
from nubshift.model.roles import GyroRole, KeysRole, MenuRole, MouseRole, ScrollRole
from nubshift.model.sentences import sends_name

if TYPE_CHECKING:
    from nubshift.analysis.proposals import Proposal

STEADYING = (p.STEADY, p.QUICK)
MEASURES: dict[str, str] = {"rest": "Measure rest", "reach": "Measure reach", "play": "Measure play"}
TIPS = {
    "rest": "Two seconds untouched, then letting it snap back from a few sides: noise, centre, drift, the spring.",
    "reach": "A slow circle along the edge: how far it gets, how round, where its centre is.",
    "play": "A minute of play: how often it reports, how evenly, and whether reports are lost.",
}


class Lane(QFrame):
    """One finding: a sentence in ink, what it rests on in quiet ink, and at the right what can be done with it."""

    def __init__(self, text: str, reason: str = "", do: str = "", run: Callable[[], None] | None = None) -> None:
        super().__init__()
        self.setObjectName("lane")
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 7, 8, 7)
        row.setSpacing(8)
        words = QVBoxLayout()
        words.setSpacing(1)
        row.addLayout(words, 1)
        for part, quiet in ((text, False), (reason, True)):
            if part:
                label = QLabel(part)
                label.setWordWrap(True)
                label.setObjectName("quiet" if quiet else "")
                words.addWidget(label)
        self.button: QPushButton | None = None
        if do:
            self.button = QPushButton(do)
            self.button.setObjectName("take" if run is not None else "plain")
            self.button.setEnabled(run is not None)
            self.button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self.button.setAccessibleName(f"{do}: {text}")
            if run is not None:
                self.button.clicked.connect(run)
            row.addWidget(self.button, 0, Qt.AlignmentFlag.AlignVCenter)


class Spectrum(Canvas):
    """The noise at rest by its frequency: even for plain noise, with a peak where something hums."""

    def __init__(self, look: Look, frequencies: Sequence[float], amplitudes: Sequence[float]) -> None:
        super().__init__(look)
        self._frequencies, self._amplitudes = frequencies, amplitudes
        self.setFixedHeight(round(46 + line_height(SMALL)))
        self.setToolTip("The noise at rest by its frequency. A peak is something that hums or trembles.")
        self.setAccessibleName("Spectrum of the noise at rest")

    def draw(self, painter: QPainter) -> None:
        """A line from low to high."""
        theme, height = self.theme, line_height(SMALL)
        box = QRectF(10, 4, self.width() - 20, self.height() - height - 8)
        painter.setPen(QPen(theme.line, 1))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        top, last = max(self._amplitudes, default=0.0) or 1.0, self._frequencies[-1] or 1.0
        points = [QPointF(box.left() + f / last * box.width(), box.bottom() - a / top * box.height())
                  for f, a in zip(self._frequencies, self._amplitudes, strict=True)]  # fmt: skip
        painter.setPen(QPen(theme.input, 1))
        painter.drawPolyline(QPolygonF(points))
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        below = QRectF(box.left(), box.bottom() + 2, box.width(), height)
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, "noise, slow")
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, f"{last:.0f} Hz")


class Measured(QWidget):
    """What was measured, what follows, and the buttons that measure."""

    def __init__(self, tuner: Tuner, measuring: Measuring) -> None:
        super().__init__()
        self._tuner, self._measuring = tuner, measuring
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._lanes = QVBoxLayout()
        self._lanes.setSpacing(6)
        self.asks = QLabel()
        self.asks.setWordWrap(True)
        self.asks.setObjectName("asks")
        row = QHBoxLayout()
        row.setSpacing(6)
        self.buttons: dict[str, QPushButton] = {}
        for what, text in MEASURES.items():
            button = QPushButton(text)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.setToolTip(TIPS[what])
            button.clicked.connect(partial(measuring.begin, what))
            self.buttons[what] = button
            row.addWidget(button, 1)
        for part in (row, self._lanes):
            column.addLayout(part)
        column.insertWidget(1, self.asks)
        measuring.changed.connect(self.refresh)
        tuner.refreshed.connect(self.refresh)
        self._said: object = None

    def refresh(self) -> None:
        """Something was found, or the feel changed."""
        measuring = self._measuring
        self.asks.setText(measuring.asks)
        self.asks.setVisible(bool(measuring.doing))
        kind = kind_of(self._tuner.control) if self._tuner.control else Kind.BUTTON
        for what, button in self.buttons.items():
            button.setText(
                f"End {MEASURES[what].split()[1]}"
                if measuring.doing == what
                else MEASURES[what].split()[1].capitalize()
            )
            button.setAccessibleName(MEASURES[what])
            button.setVisible(not (what == "reach" and kind is Kind.MOTION))
        lanes = list(self._found())
        if [lane[:3] for lane in lanes] == self._said:
            return
        self._said = [lane[:3] for lane in lanes]
        emptied(self._lanes)
        for lane in lanes:
            self._lanes.addWidget(Lane(*lane))
        rest = self._measuring.findings.rest
        if rest is not None and max(rest.noise) > 0:
            self._lanes.addWidget(Spectrum(self._tuner.stage.look, list(rest.frequencies), list(rest.amplitudes)))

    def _found(self) -> list[tuple[str, str, str, Callable[[], None] | None]]:
        measuring, found = self._measuring, self._measuring.findings
        lanes: list[tuple[str, str, str, Callable[[], None] | None]] = []
        worn = measuring.wear()
        if worn:
            text = "; ".join(worn)
            lanes.append(("This stick is worn.", f"{text[0].upper()}{text[1:]}.", "", None))
        for proposal in measuring.proposals():
            lanes.append(self._offer(proposal))
        rest = found.rest
        if rest is not None:
            lanes.append((_rest_words(rest), _noise_words(rest), "", None))
        if found.reach is not None and found.reach.complete:
            reach = found.reach
            shape = "a square gate" if reach.square else f"{reach.out_of_round * 100:.0f}\u202f% out of round"
            x, y = reach.centre
            lanes.append((f"Reaches {share(reach.shortest)} to {share(reach.longest)}, {shape}",
                          f"the middle of its edge lies {_side(x, y)}", "", None))  # fmt: skip
        if found.deepest is not None:
            lanes.append((f"Pulled all the way it says {share(found.deepest)}", "", "", None))
        if found.gyro_noise is not None:
            lanes.append((f"Lying still it shakes by {found.gyro_noise:.2f} °/s", "", "", None))
        rate = found.rate
        if rate is not None:
            verdict = "good" if rate.good else "a player may feel this"
            lost = f"{rate.lost} of {rate.expected} missing" if rate.lost else "none missing"
            lanes.append((f"Reports every {rate.every * 1000:.1f} ms",
                          f"{rate.jitter * 1000:.1f} ms off at most, {lost} · {verdict}", "", None))  # fmt: skip
        if not lanes:
            lanes.append(
                ("Nothing measured yet.", "Numbers that are measured here come with what they rest on.", "", None)
            )
        return lanes

    def _offer(self, proposal: Proposal) -> tuple[str, str, str, Callable[[], None] | None]:
        parameter = p.BY_NAME[proposal.field]
        present = getattr(self._tuner.feel, proposal.field)
        taken = present is not None and abs(present - proposal.value) < 1e-6
        reason = proposal.reason[0].upper() + proposal.reason[1:]
        text = f"{parameter.label}: {parameter.text(proposal.value)}"
        if taken:
            return text, f"{reason}.", "taken", None
        now = parameter.text(float(present)) if present else "none"
        return text, f"{reason}. Now {now}.", "take", partial(self._measuring.accept, proposal)


def _rest_words(rest: object) -> str:
    x, y = rest.centre  # type: ignore[attr-defined]
    return f"At rest it stands {_side(x, y)}"


def _noise_words(rest: object) -> str:
    noise = max(rest.noise)  # type: ignore[attr-defined]
    drift = rest.drift  # type: ignore[attr-defined]
    moving = f"drifts {share(drift)} in a minute" if drift > 0.002 else "no drift"
    peak = rest.peak  # type: ignore[attr-defined]
    hum = f" · hums at {peak[0]:.0f} Hz" if peak is not None else ""
    return f"noise {share(noise, 2)} · {moving}{hum}"


def _side(x: float, y: float) -> str:
    """``1.7 % right, 1.1 % up``."""
    parts = [f"{share(abs(value))} {words[value > 0]}" for value, words in ((x, ("left", "right")), (y, ("up", "down")))
             if abs(value) >= 0.0005]  # fmt: skip
    return ", ".join(parts) if parts else "in the middle"


class PointRow(QWidget):
    """The point of the curve that is chosen, typed: where it lies and what it gives, in per cent."""

    def __init__(self, picture: ResponsePicture) -> None:
        super().__init__()
        self._picture = picture
        self._name = QLabel("Point")
        self.at, self.gives = QLineEdit(), QLineEdit()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        row.addWidget(self._name, 1)
        for word, field, name in (("at", self.at, "Point at"), ("gives", self.gives, "Point gives")):
            field.setFixedWidth(62)
            field.setAlignment(Qt.AlignmentFlag.AlignRight)
            field.setAccessibleName(name)
            field.editingFinished.connect(self._typed)
            label = QLabel(word)
            label.setObjectName("quiet")
            row.addWidget(label)
            row.addWidget(field)

    def refresh(self) -> None:
        """Another point, or it moved."""
        points = self._picture.points
        x, y = points[min(self._picture.chosen, len(points) - 1)]
        self._name.setText(f"Point {self._picture.chosen + 1} of {len(points)}")
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
            self.heading("Directions")
            self.add_rows((p.KEY_RADIUS, p.DIAGONAL))
        if isinstance(role, MenuRole):
            self.heading("Choosing")
            self.add_rows((p.MENU_RADIUS,))
        self._bands: list[NumberRow] = []
        self._release: QLabel | None = None
        if tuner.binding is not None and tuner.binding.bands:
            self._make_depths(tuner.binding)
        elif kind is Kind.TRIGGER and not tuner.tuned:
            self.heading("The pull")
            self.add_rows((p.PRESS_AT,))
            self._release = self.quiet("")
        if tuner.tuned:
            self._make_response(picture, kind)
        if isinstance(role, MouseRole | ScrollRole):
            self._make_speed(role, kind, gauge)
        if tuner.tuned:
            self.heading("Steadying")
            self.add_rows(STEADYING)
            self._lag = self.quiet("")
        self.refresh()

    def _make_depths(self, binding: Binding) -> None:
        """Where each depth begins, typed."""
        self.heading("Depths")
        profile = self.stage.studio.profile
        for index, band in enumerate(binding.bands):
            name = sends_name(profile, band.what) if band.what else "nothing"
            row = self.number(replace(p.BAND_FROM, label=f"{name} from"), partial(self._set_depth, index))
            self._bands.append(row)
        self.quiet(f"Each ends {p.BAND_FROM.text(p.BAND_HYSTERESIS)} below where it began, so that it can't flutter.")

    def _set_depth(self, index: int, start: float) -> None:
        binding = self._tuner.binding
        if binding is None:
            return
        bands = binding.bands
        low = bands[index - 1].start + 0.02 if index else p.BAND_FROM.low
        high = bands[index + 1].start - 0.02 if index + 1 < len(bands) else p.BAND_FROM.high
        kept = p.BAND_FROM.clamp(min(high, max(low, start)))
        self._tuner.set_band(f"Depth from {p.BAND_FROM.text(kept)}", index, kept)

    def _make_response(self, picture: ResponsePicture, kind: Kind) -> None:
        self.heading("Dead zone and edge")
        if kind not in (Kind.TRIGGER, Kind.AXIS):
            self._zone = Choices("Dead zone", {"round": "round", "axes": "each axis by itself"}, self._set_zone)
            self.add(self._zone)
        self.add_rows((p.INNER, p.OUTER))
        self.heading("Response")
        self._shapes = CurveShapes(self.stage.look, self._set_shape)
        self.add(self._shapes)
        self._point = PointRow(picture)
        self.add(self._point)
        self.add_rows((p.LEAST_STEP,))

    def _make_speed(self, role: MouseRole | ScrollRole, kind: Kind, gauge: Callable[[], None]) -> None:
        self.heading("Speed")
        if isinstance(role, ScrollRole):
            self.add_rows((p.SCROLL_SPEED,))
            return
        self.add_rows((p.SPEED, p.RATIO, p.EDGE_BOOST, p.EDGE_TIME) if kind is not Kind.TRIGGER else (p.SPEED,))
        self._speed = self.quiet("")
        for field, text in INVERTS:
            self._boxes[field] = self.check(text, partial(self._invert, field, text))
        self.gauge = link("", gauge)
        self.add(self.gauge)

    def _invert(self, field: str, text: str, on: bool) -> None:
        self._tuner.set_feel(f"{text.capitalize()}: {'on' if on else 'off'}", "", **{field: on})

    def _set_zone(self, zone: str) -> None:
        self._tuner.set_feel("Dead zone round" if zone == "round" else "Dead zone for each axis", "", zone=zone)

    def _set_shape(self, shape: str) -> None:
        self._tuner.set_feel(f"Response {shape}", "", curve=SHAPES[shape])

    @property
    def feel(self):  # type: ignore[no-untyped-def]
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
            self._lag.setText(lag_words(number(feel.steady), number(feel.quick)))
        for field, box in self._boxes.items():
            box.setChecked(bool(getattr(feel, field)))
        if self._speed is not None:
            counts = number(feel.speed) * self._tuner.counts_per_degree
            self._speed.setText(f"That is {counts:,.0f} mouse counts a second.".replace(",", "\u202f"))
            self.gauge.setText(gauge_words(self._tuner))
        bands = self._tuner.binding.bands if self._tuner.binding is not None else ()
        for row, band in zip(self._bands, bands, strict=False):
            row.show_value(band.start)
        if self._release is not None:
            below = p.PRESS_AT.text(number(feel.press_at) - p.PRESS_HYSTERESIS)
            self._release.setText(f"Let go of below {below}, so that it can't flutter.")


class GyroPanel(Panel):
    """The numbers of motion."""

    AXES_TOLD: ClassVar = {
        "turn": "Turning it flat, like a plate on a table, looks sideways.",
        "lean": "Tipping it to a side looks sideways.",
        "gravity": "Sideways is always level, whichever way the controller is held.",
    }

    def __init__(self, tuner: Tuner, gauge: Callable[[], None]) -> None:
        super().__init__(tuner.stage, tuner.control)
        self._tuner = tuner
        self._boxes: dict[str, QCheckBox] = {}
        self.heading("At rest it says")
        self._bias = self.quiet("")
        role = tuner.role
        self._axes: Choices | None = None
        if isinstance(role, GyroRole):
            self.heading("Sideways by")
            words = {"turn": "turning it", "lean": "leaning it", "gravity": "whichever way up"}
            self._axes = Choices("Sideways by", words, self._set_axes)
            self.add(self._axes)
            self._told = self.quiet("")
            self.heading("Speed")
            self.add_rows((p.GYRO_RATIO, p.RATIO) if role.to == "mouse" else ())
            for field, text in INVERTS:
                self._boxes[field] = self.check(text, partial(self._invert, field, text))
            if role.to == "mouse":
                self.gauge = link("", gauge)
                self.add(self.gauge)
            self.heading("Calm and steadying")
            self.add_rows((p.GYRO_THRESHOLD, *STEADYING))
            self._lag = self.quiet("")
        tuner.moved.connect(self._show_bias)
        self._counted = 0
        self._show_bias()
        self.refresh()

    def _set_axes(self, axes: str) -> None:
        role = self._tuner.role
        if isinstance(role, GyroRole):
            self.change_binding("Sideways", lambda binding: replace(binding, role=replace(role, axes=axes)))

    def _invert(self, field: str, text: str, on: bool) -> None:
        self._tuner.set_feel(f"{text.capitalize()}: {'on' if on else 'off'}", "", **{field: on})

    @property
    def feel(self):  # type: ignore[no-untyped-def]
        """The feel that is shown: now, or before."""
        return self._tuner.feel

    def _show_bias(self) -> None:
        self._counted += 1
        if self._counted % 15 != 1:
            return
        bias = self._tuner.bias
        if bias is None or not bias.known:
            self._bias.setText("Not known yet. Lay the controller down for two seconds; it learns by itself.")
        else:
            rates = f"turn {bias.turn:+.2f}, nod {bias.nod:+.2f}, lean {bias.lean:+.2f} °/s".replace("-", "\u2212")
            self._bias.setText(f"{rates}. Taken off; learned again whenever it lies still.")

    def refresh(self) -> None:
        """The profile changed."""
        self.refresh_rows()
        role, feel = self._tuner.role, self._tuner.feel
        if self._axes is None or not isinstance(role, GyroRole):
            return
        self._axes.show_choice(role.axes)
        self._told.setText(self.AXES_TOLD[role.axes])
        self._lag.setText(lag_words(number(feel.steady), number(feel.quick)))
        for field, box in self._boxes.items():
            box.setChecked(bool(getattr(feel, field)))
        if role.to == "mouse":
            self.gauge.setText(gauge_words(self._tuner))


def lag_words(steady: float, quick: float) -> str:
    """How late smoothing is, in words: at slow aim by its least cut-off, and at eight times the reach a second."""
    from math import pi

    if not steady:
        return "Not smoothed; nothing is late."
    slow, fast = 1000 / (2 * pi * steady), 1000 / (2 * pi * (steady + quick * 8))
    return f"Late by {slow:.0f} ms at slow aim, by {fast:.0f} ms in a flick."


def gauge_words(tuner: Tuner) -> str:
    """The turn gauge that counts here."""
    profile, studio = tuner.stage.studio.profile, tuner.stage.studio
    layer = profile.layer(studio.layer)
    own = layer.counts_per_turn if layer is not None else None
    counts = f"{own or profile.game.counts_per_turn:,.0f}".replace(",", "\u202f")
    if own:
        return f"in {layer.name if layer else ''} one turn takes {counts} counts · count"
    if profile.game.counts_per_turn == p.COUNTS_PER_TURN.default:
        return f"one turn taken as {counts} counts, not counted yet · count"
    return f"one turn takes {counts} counts · count"
