"""The left side of Tune: the controls, the layer, the feels kept by name, and before and after (N43)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout, QWidget

from nubshift.app.document.assigning import LISTENING
from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.canvas import SOON_MS, Canvas, draw_focus, elided, line_height
from nubshift.app.painting.nubs import draw_nub
from nubshift.app.painting.theme import SMALL, font
from nubshift.app.painting.timing import once
from nubshift.app.tune.tuner import Tuner
from nubshift.app.widgets.long_button import LongButton
from nubshift.app.widgets.plain import Label
from nubshift.model import variants
from nubshift.model.controls import BUTTON_LIKE, CONTROLS, TUNABLE, Kind, kind_of
from nubshift.model.profile import BASE, Variant
from nubshift.model.sends import NextVariant
from nubshift.model.sentences import binding_name, slot_name
from nubshift.model.slots import Slot
from nubshift.model.usage import look_up
from nubshift.model.walk import each_send, places
from nubshift.texts import _

NUB_WIDTH = 36
"""The part of a row that moves."""


class ControlRows(Canvas):
    """The controls that can be tuned, one a row, alive."""

    chosen = pyqtSignal(str)

    def __init__(self, tuner: Tuner) -> None:
        super().__init__(tuner.stage.look)
        self._tuner = tuner
        self.controls: list[str] = []
        self._asked = QRectF()
        self._nubs = once(self, SOON_MS, self._paint_nubs)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(_("Controls to tune"))
        tuner.stage.live.controls_changed.connect(self._moved)
        tuner.control_changed.connect(self.refresh)
        tuner.refreshed.connect(self.refresh)
        tuner.stage.grasp.changed.connect(self.refresh)

    @property
    def _pitch(self) -> float:
        return self.height() / max(1, len(self.controls))

    def refresh(self) -> None:
        """Other controls, or another one is tuned."""
        seats = self._tuner.stage.studio.profile.seats
        there = {*self._tuner.stage.grasp.controls, *(join.control for seat in seats for join in seat.joins)}
        wanted = [control for control in CONTROLS if kind_of(control) in TUNABLE and control in there]
        if wanted != self.controls:
            self.controls = wanted
            self.setFixedHeight(round((line_height() + line_height(SMALL) + 10) * len(wanted)))
        self.setAccessibleDescription(
            self._tuner.stage.selection.names.title(self._tuner.control) if self._tuner.control else ""
        )
        self.update()

    def _moved(self, controls: set[str]) -> None:
        if controls & set(self.controls):
            if not self._nubs.isActive():
                self._nubs.start()
        elif any(kind_of(c) in TUNABLE for c in controls if c in CONTROLS):
            self.refresh()

    def _paint_nubs(self) -> None:
        """Only what moves."""
        self.update(0, 0, NUB_WIDTH, self.height())

    def sizeHint(self) -> QSize:
        """A row for each."""
        return QSize(190, self.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Only the rows that are asked for."""
        self._asked = QRectF(event.rect()) if event is not None else QRectF(self.rect())
        super().paintEvent(event)

    def place(self, control: str) -> QRectF:
        """The row of a control."""
        return QRectF(0, self.controls.index(control) * self._pitch, self.width(), self._pitch - 2)

    def draw(self, painter: QPainter) -> None:
        """Mark, name, and what it is used as."""
        theme, studio = self.theme, self._tuner.stage.studio
        for control in self.controls:
            rect = self.place(control)
            if not rect.intersects(self._asked):
                continue
            current = control == self._tuner.control
            if current:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.raised)
                painter.drawRoundedRect(rect, 7, 7)
            depth = self._tuner.stage.live.depth(control) if kind_of(control) is not Kind.MOTION else 0.0
            draw_nub(
                painter,
                QPointF(rect.left() + 20, rect.center().y()),
                control,
                depth if depth > 0.06 else 0.0,
                theme,
                mark=self._tuner.stage.selection.names.mark(control),
            )
            if self._asked.right() <= NUB_WIDTH:
                continue
            painter.setPen(theme.ink)
            painter.setFont(font(bold=current))
            width = rect.width() - 42
            painter.drawText(
                QRectF(38, rect.top() + 3, width, line_height()),
                Qt.AlignmentFlag.AlignLeft,
                self._tuner.stage.selection.names.title(control),
            )
            painter.setPen(theme.quiet)
            painter.setFont(font(SMALL))
            found = look_up(studio.profile, studio.selection.layer, control, studio.selection.seat)
            what = binding_name(studio.profile, found.binding) if found else _("Unassigned")
            painter.drawText(
                QRectF(38, rect.top() + 3 + line_height(), width, line_height(SMALL)),
                Qt.AlignmentFlag.AlignLeft,
                elided(what, width, SMALL),
            )
            if current and self.hasFocus():
                draw_focus(painter, rect, theme, 7)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Tune the one that was hit."""
        index = int(event.position().y() // self._pitch) if event is not None else -1
        if 0 <= index < len(self.controls):
            self.chosen.emit(self.controls[index])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down go through them."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        if step and self._tuner.control in self.controls:
            self.chosen.emit(self.controls[(self.controls.index(self._tuner.control) + step) % len(self.controls)])
        else:
            super().keyPressEvent(event)


class VariantList(QWidget):
    """The feels kept of the control that is tuned. `result` gives what one scored in Try, in words."""

    def __init__(self, tuner: Tuner, result: Callable[[str], str]) -> None:
        super().__init__()
        self._tuner, self._result = tuner, result
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(2)
        self._said: object = None
        self._awaits = False
        self._patience = once(self, LISTENING[0] * 1000, self._forget_touch)
        tuner.refreshed.connect(self.refresh)
        # which button switches them is said here too
        tuner.stage.document.edited.connect(lambda changes: self.refresh() if changes.bindings else None)
        tuner.stage.live.touched.connect(self._touched)

    @property
    def variants(self) -> tuple[Variant, ...]:
        """What is kept of the control in the layer shown."""
        studio, control = self._tuner.stage.studio, self._tuner.control
        return studio.profile.variants_of(studio.selection.layer, studio.selection.seat, control)

    @property
    def used(self) -> Variant | None:
        """The one in use."""
        studio, control = self._tuner.stage.studio, self._tuner.control
        return studio.profile.variant_in_use(studio.selection.layer, studio.selection.seat, control)

    def refresh(self) -> None:
        """Another control, or another feel."""
        used, control = self.used, self._tuner.control
        state = (control, self.variants, used, [self._result(v.id) for v in self.variants], self._switch_words())
        if state == self._said:
            return
        self._said = state
        emptied(self.column)
        for variant in self.variants:
            result = self._result(variant.id)
            button = QPushButton(variant.name + (f"\u2003{result}" if result else ""))
            button.setObjectName("variant")
            button.setCheckable(True)
            button.setChecked(variant is used)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.setAccessibleName(
                (_("Variant {name}, in use") if variant is used else _("Variant {name}")).format(name=variant.name)
            )
            button.clicked.connect(partial(self.use, variant.id))
            button.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            button.customContextMenuRequested.connect(partial(self._menu, variant, button))
            self.column.addWidget(button)
        if used is None:
            keep = link(_("Save as variant…"), self._ask)
            keep.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self.column.addWidget(keep, 0, Qt.AlignmentFlag.AlignLeft)
        said = self._switch_words()
        if self.variants and said:
            words = Label(said)
            words.setObjectName("asks" if self._awaits else "quiet")
            words.setWordWrap(True)
            words.setFont(font(SMALL))
            self.column.addWidget(words)
        elif self.variants:
            switch = link(_("Switch while playing…"), self.await_touch)
            switch.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self.column.addWidget(switch, 0, Qt.AlignmentFlag.AlignLeft)

    def await_touch(self) -> None:
        """The button that is touched next shall step through the variants."""
        self._awaits = True
        self._patience.start()
        self.refresh()

    def _forget_touch(self) -> None:
        self._awaits = False
        self.refresh()

    def _touched(self, control: str) -> None:
        """That is the button: pressed if it does nothing yet, else twice quickly."""
        tuner, studio = self._tuner, self._tuner.stage.studio
        if not self._awaits or tuner.stage.live.real:
            return
        self._patience.stop()
        self._awaits = False
        if kind_of(control) not in BUTTON_LIKE:
            studio.document.noticed.emit(
                "info",
                _("{control} can't be pressed. Press a button.").format(control=studio.selection.names.title(control)),
            )
        else:
            bound = studio.profile.layers[0].binding(control, studio.selection.seat)
            part = "press" if bound is None or not bound.gestures else "double"
            if bound is not None and (bound.by_depth or bound.gestures.get(part)):
                studio.document.noticed.emit(
                    "info",
                    _("{control} already has a double tap. Press another button.").format(
                        control=studio.selection.names.title(control)
                    ),
                )
            else:
                studio.assigning.set_sends(
                    Slot(BASE, control, part, studio.selection.seat), (NextVariant(tuner.control),)
                )
        self.refresh()

    def _switch_words(self) -> str:
        """How they are switched from the controller; empty if nothing does."""
        if self._awaits:
            return _("Press the button that switches to the next variant.")
        profile, control = self._tuner.stage.studio.profile, self._tuner.control
        for place in places(profile):
            for _unused, send in each_send(place.sends):
                if isinstance(send, NextVariant) and send.control == control and place.control:
                    slot = Slot(place.layer, place.control, place.part)
                    name = slot_name(profile, slot, self._tuner.stage.selection.names)
                    return _("Next variant while playing: {control}.").format(control=name)
        return ""

    def use(self, variant: str) -> None:
        """Take a variant's feel."""
        name = next(v.name for v in self.variants if v.id == variant)
        studio = self._tuner.stage.studio
        studio.document.edit(
            f"{studio.selection.names.title(self._tuner.control)}: {name}",
            lambda profile: variants.with_used(profile, variant),
        )
        self._said = None
        self.refresh()

    def _ask(self) -> None:
        number = len(self.variants) + 1
        self._tuner.stage.wishes.ask.emit(
            _("Name of the variant"), _("Variant {number}").format(number=number), self.keep, ()
        )

    def keep(self, name: str) -> None:
        """Keep the present feel by a name."""
        studio, control = self._tuner.stage.studio, self._tuner.control
        layer, seat = studio.selection.layer, studio.selection.seat
        studio.document.edit(
            _("Save variant {name}, {control}").format(name=name, control=studio.selection.names.inside(control)),
            lambda profile: variants.saved_as(profile, name, layer, control, seat),
        )

    def _menu(self, variant: Variant, button: QPushButton, at: QPoint) -> None:
        menu = QMenu(self)
        studio = self._tuner.stage.studio
        for text, run in (
            (_("Replace with the current settings"), lambda: self.keep(variant.name)),
            (_("Rename…"), lambda: self._rename(variant)),
            (
                _("Delete"),
                lambda: studio.document.edit(
                    _("Delete {name}").format(name=variant.name), lambda p: variants.without_variant(p, variant.id)
                ),
            ),
        ):
            action = menu.addAction(text)
            if action is not None:
                action.triggered.connect(lambda _=False, do=run: do())
        menu.popup(button.mapToGlobal(at))

    def _rename(self, variant: Variant) -> None:
        studio = self._tuner.stage.studio

        def named(name: str) -> None:
            studio.document.edit(
                _("Rename {name}").format(name=variant.name),
                lambda profile: variants.with_named(profile, variant.id, name),
            )

        self._tuner.stage.wishes.ask.emit(_("New name"), variant.name, named, ())


class Before(QWidget):
    """Before and after: what to hold, what is shown now, and how to make now the before."""

    def __init__(self, tuner: Tuner) -> None:
        super().__init__()
        self._tuner = tuner
        self.words = Label()
        self.words.setWordWrap(True)
        self.hold = LongButton(_("Hold to see the earlier settings (Space)"))
        self.hold.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.hold.pressed.connect(lambda: tuner.show_before(True))
        self.hold.released.connect(lambda: tuner.show_before(False))
        self.mark = link(_("Compare against this"), tuner.mark_before)
        self.mark.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for widget in (self.words, self.hold, self.mark):
            column.addWidget(widget)
        tuner.refreshed.connect(self.refresh)

    def refresh(self) -> None:
        """Something was changed, or before is shown."""
        tuner = self._tuner
        if tuner.showing_before:
            text = _("The earlier settings are shown and in use.")
        elif tuner.differs:
            text = _("Changed since you opened this page. Hold Space to see and feel the earlier settings.")
        else:
            text = _("Nothing changed since you opened this page.")
        self.words.setText(text)
        self.words.setObjectName("asks" if tuner.showing_before else "quiet")
        style = self.words.style()
        if style is not None:
            style.unpolish(self.words)
            style.polish(self.words)
        self.hold.setEnabled(tuner.differs or tuner.showing_before)
        self.mark.setVisible(tuner.differs)
