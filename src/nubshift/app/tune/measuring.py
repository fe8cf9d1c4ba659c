"""Measuring a control: what the player is asked to do, what came of it, and what follows from that (N04, N44).

Reports are gathered while the player does it; what they say is worked out in `nubshift.analysis`, which is only loaded
when it is needed first.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.mirror import now_us
from nubshift.app.painting.timing import every
from nubshift.app.tune.tuner import Tuner
from nubshift.feel.response import number
from nubshift.model.controls import Kind, kind_of
from nubshift.model.stored_controllers import Calibration
from nubshift.protocol.messages import Frame
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.analysis.proposals import Proposal
    from nubshift.analysis.rate import Rate
    from nubshift.analysis.reach import MeasuredReach
    from nubshift.analysis.rest import Rest

REST_SECONDS = 2.0
SNAPS = 6
"""Times that the player lets the stick snap back, after the two seconds."""
PULLS = 2
"""So often a trigger is pulled all the way."""
PLAY_SECONDS = 60.0
LOOK_EVERY = 250_000
"""µs between two looks at what was gathered."""
SILENT = 2_400_000
"""µs after which a control that says nothing is known to rest without noise."""


class Findings(Struct):
    """What was measured of one control of one controller."""

    rest: Rest | None = None
    reach: MeasuredReach | None = None
    rate: Rate | None = None
    deepest: float | None = None
    gyro_within: float | None = None
    gyro_noise: float | None = None


class Measuring(QObject):
    """One measurement at a time: `doing` is ``rest``, ``reach``, ``play`` or empty."""

    changed = pyqtSignal()

    def calibration(self) -> Calibration | None:
        """Where the control rests and how far it reaches, as far as that was measured; None if not at all."""
        found = self.findings
        rest = found.rest.centre if found.rest is not None else (0.0, 0.0)
        if found.reach is not None and found.reach.complete:
            quarter = len(found.reach.radii) // 4
            up, right, down, left = (float(found.reach.radii[n * quarter]) for n in range(4))
            return Calibration(rest, (right, down, left, up))
        if found.deepest is not None:
            return Calibration((rest[0], 0.0), (found.deepest, 1.0, 1.0, 1.0))
        return Calibration(rest) if found.rest is not None else None

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner)
        self._tuner = tuner
        self._known: dict[tuple[str, str], Findings] = {}
        self.doing = ""
        self._rows: list[tuple[float, ...]] = []
        self._begun = 0
        self._now = 0
        self._looked = 0
        self._looked_at = 0
        self._snaps = 0
        self.share = 0.0
        tuner.traced.connect(self._take)
        for signal in (tuner.control_changed, tuner.stage.grasp.changed):
            signal.connect(self._abandon)
        self._timer = every(self, 200, self._pass_time)

    @property
    def findings(self) -> Findings:
        """What is known of the control that is tuned, on this controller."""
        return self._known.setdefault((self._tuner.stage.grasp.model, self._tuner.control), Findings())

    @property
    def _kind(self) -> Kind:
        return kind_of(self._tuner.control)

    # Doing

    def begin(self, what: str) -> None:
        """Measure ``rest``, ``reach`` or ``play`` from now on; asked for again, it ends."""
        again = what == self.doing
        self.stop()
        if not again:
            self.doing = what
            self._begun, self._looked, self._snaps, self.share = 0, 0, 0, 0.0
            self._rows = (
                [] if self._kind is Kind.MOTION else [(now_us(), *self._tuner.stage.live.value(self._tuner.control))]
            )
            self._timer.start()
            self.changed.emit()

    def stop(self) -> None:
        """No more; what was found so far stays."""
        if self.doing:
            self._look(True)
            self.doing = ""
            self._timer.stop()
        self.changed.emit()

    def _abandon(self) -> None:
        """Another control, or another controller: what was gathered says nothing about it."""
        self._rows = []
        self.stop()

    @property
    def asks(self) -> str:
        """What the player shall do now."""
        match self.doing:
            case "rest" if self.share < 1.0:
                left = max(0.0, REST_SECONDS * (1.0 - self.share))
                return _("Let go and touch nothing: {left:.1f} s left.").format(left=left)
            case "rest":
                return _(
                    "Push it to one side and let it snap back, each time another side: {snaps} of {snaps_2}."
                ).format(snaps=self._snaps, snaps_2=SNAPS)
            case "reach" if self._kind is Kind.TRIGGER:
                return _("Pull it fully, twice.")
            case "reach":
                return _("Go around slowly along the edge, twice: {share:.0%}.").format(share=self.share)
            case "play":
                left = PLAY_SECONDS * (1.0 - self.share)
                return _("Move it as you would in play: {left:.0f} s left. You can end it earlier.").format(left=left)
        return ""

    def _pass_time(self) -> None:
        """Time passes also while nothing is reported."""
        self._pass(now_us())

    def _pass(self, now: int) -> None:
        """Time passes, also while the control says nothing."""
        silent = self.doing == "rest" and bool(self._rows) and now - self._rows[-1][0] > SILENT
        if silent or self.doing == "play":
            self._now = now
        if silent or len(self._rows) != self._looked_at:
            self._look(False)

    def _take(self, frame: Frame) -> None:
        if not self.doing:
            return
        if not self._begun:
            self._begun = int(frame.trace[0][0])
        self._rows += frame.trace
        self._now = int(frame.trace[-1][0])
        if self._now - self._looked > LOOK_EVERY:
            self._looked = self._now
            self._look(False)

    # Finding

    def _look(self, last: bool) -> None:
        """See what the reports so far say; end when that is enough."""
        self._looked_at = len(self._rows)
        if self._rows:
            match self.doing:
                case "rest" if self._kind is Kind.MOTION:
                    self._look_at_motion()
                case "rest":
                    self._look_at_rest()
                case "reach":
                    self._look_at_reach()
                case "play":
                    self._look_at_play(last)
        if not last:
            self.changed.emit()

    def _end(self) -> None:
        self.doing = ""
        self._timer.stop()
        self.changed.emit()

    def _look_at_rest(self) -> None:
        from nubshift.analysis.rest import rest_of, rests
        from nubshift.analysis.trace import EVEN, trace_of

        axes = 1 if self._kind in (Kind.TRIGGER, Kind.AXIS) else 2
        trace = trace_of(self._rows, axes)
        parts = rests(trace, self._now / 1e6)
        self.share = min(1.0, sum(len(part) for part, _unused in parts) * EVEN / REST_SECONDS)
        found = rest_of(trace, self._now / 1e6)
        if found is not None:
            self.findings.rest = found
            self._snaps = sum(1 for r in found.returns if r.came_from is not None)
            if self._snaps >= SNAPS or axes == 1:
                self._end()

    def _look_at_motion(self) -> None:
        from nubshift.analysis.spread import rates_within
        from nubshift.analysis.trace import trace_of

        trace = trace_of(self._rows, 3)
        self.share = min(1.0, trace.seconds / REST_SECONDS)
        if self.share >= 1.0:
            self.findings.gyro_within, self.findings.gyro_noise = rates_within(trace)
            self._end()

    def _look_at_reach(self) -> None:
        from nubshift.analysis.reach import pulled_to, pulls_in, reach_of
        from nubshift.analysis.trace import trace_of

        if self._kind in (Kind.TRIGGER, Kind.AXIS):
            trace = trace_of(self._rows, 1)
            self.findings.deepest = pulled_to(trace)
            if pulls_in(trace) >= PULLS:
                self._end()
            return
        found = reach_of(trace_of(self._rows))
        self.findings.reach = found
        self.share = min(1.0, 0.5 * found.seen + 0.25 * found.turns)
        if found.complete and found.turns >= 2.0:
            self._end()

    def _look_at_play(self, last: bool) -> None:
        from nubshift.analysis.rate import rate_of
        from nubshift.analysis.trace import trace_of

        self.share = min(1.0, (self._now - self._begun) / 1e6 / PLAY_SECONDS)
        if last or self.share >= 1.0 or len(self._rows) < 4000:
            axes = {Kind.MOTION: 3, Kind.TRIGGER: 1, Kind.AXIS: 1}.get(self._kind, 2)
            self.findings.rate = rate_of(trace_of(self._rows, axes)) or self.findings.rate
        if self.share >= 1.0:
            self._end()

    # What follows

    def proposals(self) -> list[Proposal]:
        """What the measurements propose for the control as it is used here."""
        found, kind, tuner = self.findings, self._kind, self._tuner
        if found.rest is None and found.reach is None and found.gyro_within is None:
            return []
        from nubshift.analysis import proposals

        made: list[Proposal | None] = []
        if kind is Kind.MOTION:
            if found.gyro_within is not None:
                made.append(proposals.gyro_threshold(found.gyro_within))
        elif kind is Kind.TRIGGER and not tuner.tuned:
            if found.rest is not None:
                made.append(proposals.press_depth(found.rest))
        elif tuner.tuned:
            if found.rest is not None:
                made.append(proposals.dead_zone(found.rest))
            if found.reach is not None and found.reach.complete:
                made.append(proposals.outer_edge(found.reach))
            if found.rest is not None:
                feel = tuner.feel
                made.append(proposals.smoothing(found.rest, number(feel.inner), number(feel.outer)))
        return [proposal for proposal in made if proposal is not None]

    def wear(self) -> list[str]:
        """What is worn, in parts of a sentence."""
        found = self.findings
        if self._kind is not Kind.STICK or (found.rest is None and found.reach is None):
            return []
        from nubshift.analysis.proposals import wear

        return wear(found.rest, found.reach)

    def accept(self, proposal: Proposal) -> None:
        """Take a proposal over, as one step of undo."""
        self._tuner.set_feel(proposal.text, "", **{proposal.field: proposal.value})
        self._tuner.stage.document.history.settle()
