"""The turn gauge: counting the mouse counts of one whole turn, in any game (N45).

While it counts, the controller plays a small profile of the gauge's own (`turning`): one control held turns, another
turns by a hair, a third keeps. What the runner really sent is added up, exact to the count.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.painting.theme import TITLE, font
from nubshift.app.stage import Stage
from nubshift.app.tune.turning import Press, turning, turning_profile
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.model import edits, steering
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.names import lowered
from nubshift.model.profile import BASE, Profile
from nubshift.protocol.messages import Frame
from nubshift.texts import _, listed

MOST_TURNS = 10


class Gauge(QDialog):
    """The count. `play` lets the runner play another profile; None gives the edited one back."""

    stored = pyqtSignal(float)

    def __init__(self, stage: Stage, play: Callable[[Profile | None], None], parent: QWidget) -> None:
        super().__init__(parent)
        self._stage, self._play = stage, play
        self.counting = False
        self.count = 0
        self.turned_by: dict[str, Press] = {}
        self.setWindowTitle(_("Turn gauge"))
        self.setMinimumWidth(440)
        self._where = Label()
        self._where.setWordWrap(True)
        self.total = Label("0")
        self.total.setFont(font(TITLE * 1.3, bold=True))
        self._unit = Label(_("counts, this way round"))
        self._unit.setObjectName("quiet")
        self._steps = Label()
        self._steps.setWordWrap(True)
        self.begin = QPushButton()
        self.begin.clicked.connect(self.toggle)
        self.zero = QPushButton(_("Reset"))
        self.zero.clicked.connect(self.reset)
        self.turns = CalmChoice()
        for number in range(1, MOST_TURNS + 1):
            self.turns.addItem(_("1 turn") if number == 1 else _("{number} turns").format(number=number), number)
        self.turns.setAccessibleName(_("Turns counted"))
        self.keep = QPushButton(_("Save"))
        self.keep.clicked.connect(self.save)
        self.typed = LineField()
        self.typed.setAccessibleName(_("Counts of one turn"))
        self.typed.returnPressed.connect(self._save_typed)
        self.known = QPushButton(_("Use this number"))
        self.known.clicked.connect(self._save_typed)
        self._lay_out()
        stage.live.framed.connect(self._take)
        stage.live.touched.connect(self._touched)

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 16)
        column.setSpacing(10)
        column.addWidget(self._where)
        column.addWidget(self._steps)
        count = QHBoxLayout()
        count.addWidget(self.total)
        count.addWidget(self._unit, 1, Qt.AlignmentFlag.AlignBottom)
        column.addLayout(count)
        row = QHBoxLayout()
        row.addWidget(self.begin)
        row.addWidget(self.zero)
        row.addStretch(1)
        row.addWidget(self.turns)
        row.addWidget(self.keep)
        column.addLayout(row)
        known = Label(_("Or type it, if you know it:"))
        known.setObjectName("quiet")
        column.addWidget(known)
        typed = QHBoxLayout()
        typed.addWidget(self.typed, 1)
        typed.addWidget(self.known)
        column.addLayout(typed)

    @property
    def layer(self) -> str:
        """The layer whose gauge is set: the one that is shown."""
        return self._stage.selection.layer

    def ask(self) -> None:
        """Show it for the game, or for the layer that is shown."""
        profile, studio = self._stage.studio.profile, self._stage.studio
        layer = profile.layer(studio.selection.layer)
        game = profile.game.title or _("this game")
        if layer is not None and studio.selection.layer != BASE:
            words = _("How many mouse counts turn the view of {game} once around in the layer {layer}?")
            self._where.setText(words.format(game=game, layer=layer.name))
        else:
            self._where.setText(_("How many mouse counts turn the view of {game} once around?").format(game=game))
        present = steering.counts_per_degree(profile, studio.selection.layer) * 360
        self.typed.setText(f"{round(present, 1):g}")
        self.turned_by = turning(self._stage.grasp.controls, self._stage.grasp.two_sided)
        self.begin.setEnabled(bool(self.turned_by))
        self.reset()
        self._refresh()
        self.show()
        self.typed.clearFocus()
        self.begin.setFocus()

    def _refresh(self) -> None:
        self.begin.setText(_("Stop counting") if self.counting else _("Count with the controller"))
        self._steps.setText("\n".join(f"{number}  {step}" for number, step in enumerate(self.steps, 1)))
        self.total.setText(f"{self.count:,}".replace(",", "\u202f"))
        self.keep.setEnabled(abs(self.count) >= p.COUNTS_PER_TURN.low)

    @property
    def steps(self) -> list[str]:
        """What to do, with the controller in the hand."""
        if not self.turned_by:
            return [_("This controller has too few buttons for counting. Use another one, or type the number.")]
        name, there = self._name, self.turned_by
        hold = [_("Hold {control}: the view turns.").format(control=name("fast right"))]
        hold += [_("{control} turns slowly.").format(control=name("slow right"))] if "slow right" in there else []
        back = listed([name(wish) for wish in ("fast left", "slow left") if wish in there])
        hold += [_("Back again: {controls}.").format(controls=back)] if back else []
        hair = listed([name(wish) for wish in ("hair right", "hair left") if wish in there])
        return [
            _("Go to the game and look at something that is easy to find again."),
            " ".join(hold),
            _("Release it when the view has come around, then tap {hair} to get exactly there.").format(hair=hair),
            _("Press {control} (or “Save” here).").format(control=name("keep")),
        ]

    def _name(self, wish: str) -> str:
        control, side = self.turned_by[wish]
        title, grasp = lowered(self._stage.selection.names.title(control)), self._stage.grasp
        if kind_of(control) is Kind.STICK:
            words = _("{control} to the right") if side == "right" else _("{control} to the left")
        elif control in grasp.two_sided:
            words = _("{control} one way") if side == "right" else _("{control} the other way")
        else:
            return title
        return words.format(control=title)

    def toggle(self) -> None:
        """Begin to count, or stop."""
        self.counting = not self.counting
        studio = self._stage.studio
        self._play(turning_profile(studio.profile, self.turned_by, studio.selection.seat) if self.counting else None)
        if self.counting:
            self.reset()
        self._refresh()

    def reset(self) -> None:
        """From zero."""
        self.count = 0
        self._refresh()

    def _take(self, frame: Frame) -> None:
        if self.counting and frame.real and frame.dx:
            self.count += frame.dx
            self._refresh()

    def _touched(self, control: str) -> None:
        if self.counting and control == self.turned_by["keep"][0]:
            self.save()

    def save(self) -> None:
        """Keep what was counted."""
        if abs(self.count) >= p.COUNTS_PER_TURN.low:
            self._keep(abs(self.count) / int(self.turns.currentData()))

    def _save_typed(self) -> None:
        try:
            value = float(self.typed.text().replace(",", ".").replace("\u202f", "").replace(" ", ""))
        except ValueError:
            self._stage.document.noticed.emit(
                "info", _("“{typed_text}” is not a number of counts.").format(typed_text=self.typed.text())
            )
            return
        self._keep(value)

    def _keep(self, counts: float) -> None:
        value, layer = p.COUNTS_PER_TURN.clamp(round(counts, 1)), self.layer
        title = _("One turn takes {counts_per_turn_text}").format(counts_per_turn_text=p.COUNTS_PER_TURN.text(value))
        if layer == BASE:
            self._stage.document.edit(title, lambda profile: edits.with_game(profile, counts_per_turn=value))
        else:
            self._stage.document.edit(
                title, lambda profile: edits.with_layer_set(profile, layer, counts_per_turn=value)
            )
        self.stored.emit(value)
        self.close()

    def done(self, result: int) -> None:
        """However it is closed, the controller plays the profile again."""
        if self.counting:
            self.counting = False
            self._play(None)
        super().done(result)

    def closeEvent(self, event: object) -> None:
        """Closed by the window's own button."""
        self.done(0)
