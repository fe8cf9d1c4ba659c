"""What was measured and what follows from it, at the top of Tune's right side (N44)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.analysis.compass import share
from nubshift.app.editors.panel import emptied
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.painting.theme import SMALL, Look, font
from nubshift.app.tune.measuring import Measuring
from nubshift.app.tune.tuner import Tuner
from nubshift.app.widgets.plain import Label
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.stored_controllers import Calibration
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.analysis.proposals import Proposal
    from nubshift.analysis.rest import Rest

Calibrate = Callable[[str, Calibration], None]
"""Keeps the calibration of a control of the controller in use."""
MEASURES: dict[str, str] = {"rest": _("Measure rest"), "reach": _("Measure reach"), "play": _("Measure play")}
TIPS = {
    "rest": _("Two seconds untouched, then let it snap back from a few sides: noise, centre, drift, spring."),
    "reach": _("A slow circle along the edge: how far it reaches, how round, where its centre is."),
    "play": _("A minute of play: how often it reports, how evenly, and whether reports are lost."),
}


class MeasuredLane(QFrame):
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
                label = Label(part)
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
            if self.button.sizeHint().width() > WIDE_BUTTON:
                words.addWidget(self.button, 0, Qt.AlignmentFlag.AlignLeft)
            else:
                row.addWidget(self.button, 0, Qt.AlignmentFlag.AlignVCenter)


WIDE_BUTTON = 110
"""Wider ones stand below the words, which would have too little room beside them."""


class Spectrum(Canvas):
    """The noise at rest by its frequency: even for plain noise, with a peak where something hums."""

    def __init__(self, look: Look, frequencies: Sequence[float], amplitudes: Sequence[float]) -> None:
        super().__init__(look)
        self._frequencies, self._amplitudes = frequencies, amplitudes
        self.setFixedHeight(round(46 + line_height(SMALL)))
        self.setToolTip(_("The noise at rest by frequency. A peak is a hum or a tremor."))
        self.setAccessibleName(_("Spectrum of the noise at rest"))

    def draw(self, painter: QPainter) -> None:
        """A line from low to high."""
        theme, height = self.theme, line_height(SMALL)
        box = QRectF(10, 4, self.width() - 20, self.height() - height - 8)
        painter.setPen(QPen(theme.line, 1))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        top, last = max(self._amplitudes, default=0.0) or 1.0, self._frequencies[-1] or 1.0
        points = [
            QPointF(box.left() + f / last * box.width(), box.bottom() - a / top * box.height())
            for f, a in zip(self._frequencies, self._amplitudes, strict=True)
        ]
        painter.setPen(QPen(theme.input, 1))
        painter.drawPolyline(QPolygonF(points))
        painter.setFont(font(SMALL))
        painter.setPen(theme.quiet)
        below = QRectF(box.left(), box.bottom() + 2, box.width(), height)
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, _("noise, slow"))
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, _("{last:.0f} Hz").format(last=last))


class Measured(QWidget):
    """What was measured, what follows, and the buttons that measure."""

    def __init__(self, tuner: Tuner, measuring: Measuring, calibrate: Calibrate) -> None:
        super().__init__()
        self._tuner, self._measuring, self._calibrate = tuner, measuring, calibrate
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._lanes = QVBoxLayout()
        self._lanes.setSpacing(6)
        self.asks = Label()
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
                _("End {split}").format(split=MEASURES[what].split()[1])
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
            self._lanes.addWidget(MeasuredLane(*lane))
        rest = self._measuring.findings.rest
        if rest is not None and max(rest.noise) > 0:
            self._lanes.addWidget(Spectrum(self._tuner.stage.look, list(rest.frequencies), list(rest.amplitudes)))

    def _found(self) -> list[tuple[str, str, str, Callable[[], None] | None]]:
        measuring, found = self._measuring, self._measuring.findings
        lanes: list[tuple[str, str, str, Callable[[], None] | None]] = []
        worn = measuring.wear()
        if worn:
            text = "; ".join(worn)
            lanes.append((_("Stick drift"), f"{text[0].upper()}{text[1:]}.", "", None))
        for proposal in measuring.proposals():
            lanes.append(self._offer(proposal))
        lanes += self._to_keep()
        rest = found.rest
        if rest is not None:
            lanes.append((_rest_words(rest), _noise_words(rest), "", None))
        if found.reach is not None and found.reach.complete:
            reach = found.reach
            shape = (
                _("a square gate")
                if reach.square
                else _("{out_of_round:.0f}\u202f% out of round").format(out_of_round=reach.out_of_round * 100)
            )
            x, y = reach.centre
            lanes.append(
                (
                    _("Reaches {share} to {share_2}, {shape}").format(
                        share=share(reach.shortest), share_2=share(reach.longest), shape=shape
                    ),
                    _("the centre of its edge is {side}").format(side=_side(x, y)),
                    "",
                    None,
                )
            )
        if found.deepest is not None:
            lanes.append((_("Fully pulled it reads {share}").format(share=share(found.deepest)), "", "", None))
        if found.gyro_noise is not None:
            lanes.append(
                (_("Noise lying still: {gyro_noise:.2f} °/s").format(gyro_noise=found.gyro_noise), "", "", None)
            )
        rate = found.rate
        if rate is not None:
            verdict = _("good") if rate.good else _("may be felt in play")
            lost = (
                _("{lost} of {expected} missing").format(lost=rate.lost, expected=rate.expected)
                if rate.lost
                else _("none missing")
            )
            lanes.append(
                (
                    _("Reports every {every:.1f} ms").format(every=rate.every * 1000),
                    _("{jitter:.1f} ms off at most, {lost} · {verdict}").format(
                        jitter=rate.jitter * 1000, lost=lost, verdict=verdict
                    ),
                    "",
                    None,
                )
            )
        if not lanes:
            lanes.append(
                (_("Nothing measured yet."), _("Suggestions come with the measurements they are based on."), "", None)
            )
        return lanes

    def _to_keep(self) -> list[tuple[str, str, str, Callable[[], None] | None]]:
        """Rest and reach belong to this piece of hardware, not to the profile."""
        control, fresh = self._tuner.control, self._measuring.calibration()
        if fresh is None or kind_of(control) not in (Kind.STICK, Kind.TRIGGER, Kind.AXIS):
            return []
        return [
            (
                _("Rest and reach of this controller"),
                _("Saved for this controller, for every profile."),
                _("Save for this controller"),
                partial(self._calibrate, control, fresh),
            )
        ]

    def _offer(self, proposal: Proposal) -> tuple[str, str, str, Callable[[], None] | None]:
        parameter = p.BY_NAME[proposal.field]
        present = getattr(self._tuner.feel, proposal.field)
        taken = present is not None and abs(present - proposal.value) < 1e-6
        reason = proposal.reason[0].upper() + proposal.reason[1:]
        text = f"{parameter.label}: {parameter.text(proposal.value)}"
        if taken:
            return text, f"{reason}.", _("Applied"), None
        now = parameter.text(float(present)) if present else _("none")
        return (
            text,
            _("{reason}. Now {now}.").format(reason=reason, now=now),
            _("Apply"),
            partial(self._measuring.accept, proposal),
        )


def _rest_words(rest: Rest) -> str:
    x, y = rest.centre
    return _("At rest: {side}").format(side=_side(x, y))


def _noise_words(rest: Rest) -> str:
    noise = max(rest.noise)
    drift = rest.drift
    moving = _("drifts {share} in a minute").format(share=share(drift)) if drift > 0.002 else _("no drift")
    peak = rest.peak
    parts = [_("noise {share}").format(share=share(noise, 2)), moving]
    parts += [_("hums at {peak:.0f} Hz").format(peak=peak[0])] if peak is not None else []
    return " · ".join(parts)


def _side(x: float, y: float) -> str:
    """``1.7 % right, 1.1 % up``."""
    parts = [
        f"{share(abs(value))} {words[value > 0]}"
        for value, words in ((x, (_("left"), _("right"))), (y, (_("up"), _("down"))))
        if abs(value) >= 0.0005
    ]
    return ", ".join(parts) if parts else _("in the middle")
