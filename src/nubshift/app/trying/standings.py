"""What was scored with which settings, and whether one is better: also "can't tell yet" (N50)."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied, link
from nubshift.app.stage import Stage
from nubshift.app.trying.aim import Aim
from nubshift.app.tune.measured import MeasuredLane
from nubshift.app.widgets.plain import Label
from nubshift.errors import StorageError
from nubshift.model.changes import Changes
from nubshift.model.controls import CONTROLS
from nubshift.model.results import EARLIER, NOW, Exercise, ResultsFile, Score, read_results, settings_of, write_results
from nubshift.texts import _, ngettext

if TYPE_CHECKING:
    from nubshift.analysis.trials import Standing

MAIN: dict[Exercise, tuple[str, str]] = {"eight": ("mean", "error"), "targets": ("per_bit", "time")}
"""The value that settings are compared by, and the word for it."""


class Results(QObject):
    """The results of all profiles, on disk as soon as there is one more."""

    changed = pyqtSignal()

    def __init__(self, path: Path, stage: Stage) -> None:
        super().__init__()
        self._path, self._stage = path, stage
        self.trouble = ""
        try:
            self._file = read_results(path)
        except StorageError as error:
            self._file, self.trouble = ResultsFile(), str(error)

    @property
    def _name(self) -> str:
        return self._stage.document.file.name

    def add(self, exercise: Exercise, values: dict[str, float], aim: Aim) -> None:
        """A round is over: it counts for the feel of the control that moved the mouse most."""
        studio = self._stage.studio
        control = aim.mover if aim.mover in CONTROLS else "right_stick"
        layers = [*reversed(self._stage.live.layers), studio.profile.layers[0].id]
        layer = next(
            (
                name
                for name in layers
                if (found := studio.profile.layer(name)) is not None
                and found.feel_of(control, studio.selection.seat) is not None
            ),
            studio.profile.layers[0].id,
        )
        feel = studio.profile.feel_in(layer, studio.selection.seat, control)
        self._put(self._file.with_score(self._name, Score(round(time.time()), exercise, values, feel, layer)))

    def forget(self, exercise: Exercise) -> None:
        """Begin anew with an exercise, for this profile."""
        self._put(self._file.without(self._name, exercise))

    def _put(self, file: ResultsFile) -> None:
        self._file = file
        if not self.trouble:
            try:
                write_results(self._path, file)
            except StorageError as error:
                self._stage.document.noticed.emit("error", f"{error}.")
        self.changed.emit()

    def groups(self, exercise: Exercise) -> dict[tuple[str, str], list[Score]]:
        """The rounds of this profile by (control, settings)."""
        found: dict[tuple[str, str], list[Score]] = {}
        for score in self._file.of(self._name, exercise):
            name = settings_of(self._stage.studio.profile, score) or EARLIER
            found.setdefault((score.feel.control, name), []).append(score)
        return found

    def in_words(self, variant: str) -> str:
        """What a variant scored in the figure of eight, for a small place; empty if nothing."""
        found = next((v for v in self._stage.studio.profile.variants if v.id == variant), None)
        if found is None:
            return ""
        scores = [s.values["mean"] for s in self.groups("eight").get((found.feel.control, found.name), [])]
        return _("error {sum:.1f}°").format(sum=sum(scores) / len(scores)) if scores else ""


class Standings(QWidget):
    """The results of one exercise, and what follows. `use` takes the variant of a name."""

    def __init__(self, stage: Stage, results: Results, use: Callable[[str, str], None]) -> None:
        super().__init__()
        self._stage, self._results, self._use = stage, results, use
        self.exercise: Exercise | None = None
        self.verdict = Label()
        self.verdict.setWordWrap(True)
        self._lanes = QVBoxLayout()
        self._lanes.setSpacing(6)
        self._head = Label(_("Results"))
        self._head.setObjectName("heading")
        self._again = link(_("Delete these rounds"), self._forget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        for widget in (self._head, self.verdict):
            column.addWidget(widget)
        column.addLayout(self._lanes)
        column.addWidget(self._again, 0, Qt.AlignmentFlag.AlignLeft)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        results.changed.connect(self.refresh)
        stage.document.edited.connect(self._edited)
        stage.document.opened.connect(self.refresh)

    def show_exercise(self, exercise: Exercise | None) -> None:
        """Show the results of this one; None for none."""
        self.exercise = exercise
        self.setVisible(exercise is not None)
        self.refresh()

    def _forget(self) -> None:
        if self.exercise is not None:
            self._results.forget(self.exercise)

    def _edited(self, changes: Changes) -> None:
        """Which settings are in use may be another."""
        if changes.feel or changes.rest or changes.layers:
            self.refresh()

    def refresh(self) -> None:
        """A round more, or other settings."""
        if self.exercise is None or not self.isVisibleTo(self.parentWidget()):
            return
        from nubshift.analysis.trials import standing

        emptied(self._lanes)
        groups = self._results.groups(self.exercise)
        key, _unused = MAIN[self.exercise]
        rows = sorted(groups.items(), key=lambda row: standing_mean([s.values[key] for s in row[1]]))
        for (control, name), scores in rows:
            place = standing([score.values[key] for score in scores])
            assert place is not None, "a group has a round"
            usable = name not in (NOW, EARLIER) and not self._in_use(control, name)
            use = (lambda c=control, n=name: self._use(c, n)) if usable else None
            words = _("{name}, {control} · in use") if self._in_use(control, name) else _("{name}, {control}")
            text = words.format(name=name, control=self._stage.selection.names.inside(control))
            self._lanes.addWidget(MeasuredLane(text, self._reason(place, scores), _("Use") if usable else "", use))
        self._again.setVisible(bool(groups))
        self.verdict.setText(self._verdict(groups))

    def _in_use(self, control: str, name: str) -> bool:
        studio = self._stage.studio
        if name == NOW:
            return True
        return any(
            v.name == name and v.feel == studio.profile.feel_in(v.layer, studio.selection.seat, control)
            for v in studio.profile.variants
        )

    def _reason(self, place: Standing, scores: list[Score]) -> str:
        rounds, mean = place.rounds, place.mean
        low, high = place.low, place.high
        many = ngettext("{count} round", "{count} rounds", rounds).format(count=rounds)
        worst = max(score.values.get("worst", 0.0) for score in scores)
        if self.exercise == "eight":
            late = sum(s.values["late"] for s in scores) / len(scores)
            rough = sum(s.values["rough"] for s in scores) / len(scores)
            error = _("mean error {mean:.1f}°")
            if low is not None:
                error = _("mean error {mean:.1f}° ({low:.1f}° to {high:.1f}°)")
            words = _("{error}, worst {worst:.0f}°, {late:.0f} ms behind, roughness {rough:.0f}\u202f% · {rounds}")
            said = error.format(mean=mean, low=low, high=high)
            return words.format(error=said, worst=worst, late=late * 1000, rough=rough * 100, rounds=many)
        seconds = sum(s.values["time"] for s in scores) / len(scores)
        if low is None:
            words = _("{seconds:.2f} s a target, {mean:.2f} s a bit · {rounds}")
        else:
            words = _("{seconds:.2f} s a target, {mean:.2f} s a bit ({low:.2f} to {high:.2f}) · {rounds}")
        return words.format(seconds=seconds, mean=mean, low=low, high=high, rounds=many)

    def _verdict(self, groups: dict[tuple[str, str], list[Score]]) -> str:
        """The answer to whether one is better."""
        from nubshift.analysis.trials import compared, ranked

        assert self.exercise is not None
        key, word = MAIN[self.exercise]
        by_name = {
            f"{name}": [s.values[key] for s in scores] for (_unused, name), scores in groups.items() if name != EARLIER
        }
        names = ranked(by_name)
        if not names:
            return _("No rounds yet. Start one below the picture, or press the bottom button of the controller.")
        if len(names) == 1:
            return _("Only {name} was tried so far. Save a variant in Tune and try that too.").format(name=names[0])
        best, other = names[0], names[1]
        verdict = compared(by_name[best], by_name[other])
        share = _("{share:.0f}\u202f% less {word}").format(share=verdict.share * 100, word=word)
        if verdict.better == "first":
            return _("{best} is better than {other}: {share}. The difference is clear (p < 1 %).").format(
                best=best.capitalize(), other=other, share=share
            )
        if verdict.more:
            rounds = _("about {more} more round{more_2} of each").format(
                more=verdict.more, more_2="s" if verdict.more > 1 else ""
            )
            return _("Not enough rounds to tell {best} from {other}: {rounds} needed.").format(
                best=best, other=other, rounds=rounds
            )
        return _("No clear difference between {best} and {other}: if one is better, then only by very little.").format(
            best=best, other=other
        )


def standing_mean(scores: list[float]) -> float:
    """The mean, for an order that needs no library."""
    return sum(scores) / len(scores)
