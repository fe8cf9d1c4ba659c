"""The workspace Tune: what can be tuned at the left, the pictures of one control, and its numbers at the right."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QPalette, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from nubshift.app.client.in_use import ControllerInUse
from nubshift.app.client.watching import Watching
from nubshift.app.editors.panel import Panel, emptied, link
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.stage import Stage
from nubshift.app.tune.delay_bar import NOTHING, DelayBar, Path
from nubshift.app.tune.gauge import Gauge
from nubshift.app.tune.gyro_panel import GyroPanel
from nubshift.app.tune.lanes import lanes_of
from nubshift.app.tune.measured import Calibrate, Measured
from nubshift.app.tune.measuring import Measuring
from nubshift.app.tune.pad_picture import PadPicture
from nubshift.app.tune.panel import FeelPanel
from nubshift.app.tune.past import PastPicture
from nubshift.app.tune.pull import PullPicture
from nubshift.app.tune.response import ResponsePicture
from nubshift.app.tune.stick_plane import StickPlane
from nubshift.app.tune.tuner import Tuner
from nubshift.app.tune.variants import Before, ControlRows, VariantList
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.same_place import same_place
from nubshift.app.widgets.scrolling import scrolled
from nubshift.app.widgets.side_width import fit_sides
from nubshift.feel.response import number
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.delays import added_by
from nubshift.model.profile import Profile
from nubshift.model.roles import MouseRole, ScrollRole
from nubshift.model.sentences import binding_name
from nubshift.model.usage import combinations_of, look_up
from nubshift.protocol.messages import Health
from nubshift.texts import _

LEFT_WIDTH, RIGHT_WIDTH = (0.15, 196, 250), (0.25, 316, 420)


class TuneWorkspace(QWidget):
    """Tune. `play` lets the runner play a profile that is no edit, None the edited one again."""

    def __init__(
        self,
        stage: Stage,
        watching: Watching,
        play: Callable[[Profile | None], None],
        result: Callable[[str], str],
        calibrate: Calibrate,
        in_use: ControllerInUse,
    ) -> None:
        super().__init__()
        self._in_use = in_use
        self._stage = stage
        self.tuner = Tuner(stage, watching, play, self)
        self.measuring = Measuring(self.tuner)
        self.controls = ControlRows(self.tuner)
        self.controls.chosen.connect(self.open)
        self.variants = VariantList(self.tuner, result)
        self.before = Before(self.tuner)
        self.plane = StickPlane(self.tuner)
        self.pull = PullPicture(self.tuner)
        self.pad = PadPicture(self.tuner)
        self.response = ResponsePicture(self.tuner, self._full_words, self._now_words)
        self.past = PastPicture(self.tuner)
        self.gauge = Gauge(stage, play, self)
        self.measured = Measured(self.tuner, self.measuring, calibrate)
        self.delay = DelayBar(stage.look)
        self._health: Health | None = None
        self.panel: Panel | None = None
        self._shape: object = None
        self._lay_out()
        self.tuner.refreshed.connect(self._refresh)
        self.measuring.changed.connect(self._show_measured)
        stage.selection.changed.connect(self._selected)
        stage.document.opened.connect(self._fill_layers)
        stage.document.edited.connect(lambda changes: self._fill_layers() if changes.layers else None)
        stage.selection.layer_changed.connect(self._fill_layers)

    def _lay_out(self) -> None:
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        inside = QWidget()
        self._left, self._grid, self._right = scrolled(inside), QGridLayout(), QScrollArea()
        self._lay_out_left()
        self._lay_out_middle()
        self._lay_out_right()
        row.addWidget(self._left)
        row.addLayout(self._grid, 1)
        row.addWidget(self._right)

    def _lay_out_left(self) -> None:
        self.layers = CalmChoice()
        self.layers.setAccessibleName(_("Layer to tune"))
        self.layers.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.layers.activated.connect(lambda index: self._stage.selection.show_layer(self.layers.itemData(index)))
        left = QVBoxLayout(self._left.widget())
        left.setContentsMargins(10, 12, 8, 10)
        left.setSpacing(6)
        for text, widget in (
            (_("Layer"), self.layers),
            (_("Controls"), self.controls),
            (_("Variants"), self.variants),
            (_("Compare"), self.before),
        ):
            left.addWidget(_heading(text))
            left.addWidget(widget)
        left.addStretch(1)

    def _lay_out_middle(self) -> None:
        grid = self._grid
        grid.setContentsMargins(10, 12, 10, 10)
        grid.setSpacing(10)
        above = QHBoxLayout()
        above.setSpacing(10)
        for picture in (self.plane, self.pull, self.pad):
            above.addWidget(picture, 3)
        above.addWidget(self.response, 2)
        grid.addLayout(above, 0, 0)
        grid.addWidget(self.past, 1, 0)

    def _lay_out_right(self) -> None:
        self._title, self._use = Label(), Label()
        self._title.setFont(font(TITLE * 0.9, bold=True))
        self._use.setObjectName("quiet")
        inside = QWidget()
        self._holder = QVBoxLayout()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 12, 14, 10)
        column.setSpacing(8)
        shown: tuple[QWidget, ...] = (
            self._title,
            self._use,
            _heading(_("Measured")),
            self.measured,
            _heading(_("Delay")),
            self.delay,
        )
        for widget in shown:
            column.addWidget(widget)
        column.addLayout(self._holder)
        column.addStretch(1)
        self._right.setWidgetResizable(True)
        self._right.setFrameShape(QFrame.Shape.NoFrame)
        self._right.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._right.setAccessibleName(_("Settings"))
        self._right.setWidget(inside)
        self._right.setAutoFillBackground(True)
        self._right.setBackgroundRole(QPalette.ColorRole.Base)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sides take their part of a wide window."""
        fit_sides(self.width(), (self._left, LEFT_WIDTH), (self._right, RIGHT_WIDTH))

    # What is tuned

    def showEvent(self, event: QShowEvent | None) -> None:
        """Somebody looks: tune what is selected, if it has a feel."""
        app = QApplication.instance()
        if app is not None:
            app.installEventFilter(self)
        self._fill_layers()
        self.controls.refresh()
        self.tuner.turn_on(True)
        self._selected()
        self.controls.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nobody looks."""
        app = QApplication.instance()
        if app is not None:
            app.removeEventFilter(self)
        self.measuring.stop()
        self.tuner.turn_on(False)

    def _selected(self) -> None:
        control = self._stage.selection.control
        if self.isVisible() and control in self.controls.controls:
            self.tuner.open(control)

    def open(self, control: str) -> None:
        """Tune a control."""
        self._stage.selection.select(control)
        self.tuner.open(control)

    def _fill_layers(self) -> None:
        studio = self._stage.studio
        wanted = [(layer.id, layer.name) for layer in studio.profile.layers]
        if [(self.layers.itemData(i), self.layers.itemText(i)) for i in range(self.layers.count())] != wanted:
            self.layers.clear()
            for layer, name in wanted:
                self.layers.addItem(name, layer)
        self.layers.setCurrentIndex(self.layers.findData(studio.selection.layer))

    def _refresh(self) -> None:
        """The control, its use or its feel changed."""
        tuner, studio = self.tuner, self._stage.studio
        kind, role = kind_of(tuner.control), tuner.role
        self._title.setText(tuner.stage.selection.names.title(tuner.control))
        found = look_up(studio.profile, studio.selection.layer, tuner.control, studio.selection.seat)
        self._use.setText(binding_name(studio.profile, found.binding) if found else _("Unassigned in this layer"))
        shape = (
            tuner.control,
            studio.selection.layer,
            studio.selection.seat,
            type(role),
            getattr(role, "to", ""),
            tuner.tuned,
            len(tuner.binding.bands) if tuner.binding else 0,
        )
        if shape != self._shape:
            self._shape = shape
            with same_place(self._right):
                self._rebuild(kind)
        if self.panel is not None:
            self.panel.refresh()
        lanes = lanes_of(tuner, kind)
        if [lane.look for lane in lanes] != [lane.look for lane in self.past.lanes]:
            self.past.show_lanes(lanes)
        self._show_measured()
        self._show_delay()

    def _rebuild(self, kind: Kind) -> None:
        tuner = self.tuner
        emptied(self._holder)
        self.plane.setVisible(kind is Kind.STICK)
        self.pull.setVisible(kind in (Kind.TRIGGER, Kind.AXIS))
        self.pad.setVisible(kind is Kind.MOTION)
        self.response.setVisible(tuner.tuned)
        above, below = {Kind.STICK: (9, 4), Kind.MOTION: (6, 6)}.get(kind, (5, 6))
        self._grid.setRowStretch(0, above)
        self._grid.setRowStretch(1, below)
        self.panel = (
            GyroPanel(tuner, self.gauge.ask) if kind is Kind.MOTION else FeelPanel(tuner, self.response, self.gauge.ask)
        )
        self._holder.addWidget(self.panel)
        studio = self._stage.studio
        if tuner.binding is None or (tuner.role is None and kind is Kind.MOTION):
            for layer in studio.profile.layers:
                binding = layer.binding(tuner.control, studio.selection.seat)
                if binding is not None and binding.sets and layer.id != studio.selection.layer:
                    go = link(
                        _("Assigned in {name}: tune it there").format(name=layer.name),
                        partial(studio.selection.show_layer, layer.id),
                    )
                    self._holder.insertWidget(0, go, 0, Qt.AlignmentFlag.AlignLeft)
        for button in self.findChildren(QAbstractButton):
            if button.focusPolicy() == Qt.FocusPolicy.StrongFocus:
                button.setFocusPolicy(Qt.FocusPolicy.TabFocus)  # so that a click leaves Space to before and after

    def _show_measured(self) -> None:
        reach = self.measuring.findings.reach
        edge: list[float | None] = [None] * len(self.plane.edge)
        if reach is not None:
            edge = [float(r) if r == r else None for r in reach.radii]  # noqa: PLR0124 - not a number
        if edge != self.plane.edge:
            self.plane.show_edge(edge)
        self.pull.show_deepest(self.measuring.findings.deepest)

    def show_health(self, health: Health | None) -> None:
        """How play goes, told once a second."""
        self._health = health
        if self.isVisible():
            self._show_delay()

    def _show_delay(self) -> None:
        tuner, health, profile = self.tuner, self._health, self._stage.studio.profile
        binding, seat = tuner.binding, self._stage.selection.seat
        combined = any(combinations_of(profile, self._stage.selection.layer, tuner.control, seat))
        added = (
            added_by(binding, tuner.feel, profile.habits, profile.game.tick, combined) if binding is not None else None
        )
        owner = self._in_use.owner_of(tuner.control)
        pace = health.paces.get(owner.id) if health is not None and owner is not None else None
        self.delay.show_path(Path(pace, health.minute if health is not None else NOTHING, added))

    def _full_words(self) -> str:
        """What full tilt gives."""
        feel, role = self.tuner.feel, self.tuner.role
        if isinstance(role, MouseRole):
            return self.tuner.read(p.SPEED).text(number(feel.speed))
        if isinstance(role, ScrollRole):
            return p.SCROLL_SPEED.text(number(feel.scroll_speed))
        return _("All of it")

    def _now_words(self, share: float) -> str:
        """What goes out now: a share of full tilt, by speed where that is known."""
        feel, role = self.tuner.feel, self.tuner.role
        if isinstance(role, MouseRole):
            speed = share * number(feel.speed)
            counts = speed * self.tuner.counts_per_degree
            return (
                f"{counts:.0f} px/s"
                if self.tuner.cursor
                else _("{speed:.0f} °/s, {counts:.0f} counts/s").format(speed=speed, counts=counts)
            )
        return f"{share * 100:.0f}\u202f%"

    # Before and after

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Space held, wherever the keyboard is but in a field or on a button: as it was before."""
        if event is not None and event.type() == QEvent.Type.WindowDeactivate and watched is self.window():
            self.tuner.show_before(False)  # the release of Space goes to another window
        if not self.isVisible() or not isinstance(event, QKeyEvent) or event.key() != Qt.Key.Key_Space:
            return False
        if event.type() not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease) or not isinstance(watched, QWidget):
            return False
        down = event.type() == QEvent.Type.KeyPress
        if down and isinstance(watched, QLineEdit | QPlainTextEdit | QAbstractButton | QComboBox):
            return False
        if watched.window() is not self.window() or event.modifiers() or (not down and not self.tuner.showing_before):
            return False
        if not event.isAutoRepeat():
            self.tuner.show_before(down)
        return True


def _heading(text: str) -> QLabel:
    label = Label(text)
    label.setObjectName("heading")
    label.setContentsMargins(0, 4, 0, 0)
    return label
