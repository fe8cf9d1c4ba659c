"""The inspector's panel for what acts by its position: what it is used as, its picture, and depths (N21, N30)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QCheckBox, QPushButton, QWidget

from nubshift.app.editors.panel import Choices, FlowLayout
from nubshift.app.editors.pictures.planes import CompassPicture, PlanePicture
from nubshift.app.editors.role_editing import RoleEditing
from nubshift.app.editors.roles.depths import DepthSection
from nubshift.app.editors.roles.role_rows import make_rows
from nubshift.app.editors.roles.surface_rows import Bring, RoleRows
from nubshift.app.editors.roles.used_as import READY, READY_NAMES, give_keys, use_as, use_of, uses_of
from nubshift.app.editors.rows.part_editor import PartEditor
from nubshift.app.stage import Stage
from nubshift.model import joining, parameters
from nubshift.model.controls import Kind, kind_of
from nubshift.model.roles import KeysRole, MouseRole, Role
from nubshift.texts import _, switched

KEYS_PARAMETERS = (parameters.KEY_RADIUS, parameters.DIAGONAL)
INVERTS = (("invert_x", _("Invert left and right")), ("invert_y", _("Invert up and down")))


class RolePanel(RoleEditing):
    """A stick, d-pad, touch pad, pointer, lone axis, or a trigger that acts by its depth."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading(_("Used as"))
        words = {use.id: use.word for use in uses_of(control)}
        self.used = Choices(_("Used as"), words, lambda use: use_as(stage, control, use))
        self.add(self.used)
        self.choices: dict[str, QPushButton] = self.used.buttons
        self.picture: PlanePicture | None = None
        self.editor: PartEditor | None = None
        self._bring: list[Bring] = []
        self._make(self.role)
        self.depths: DepthSection | None = None
        if kind_of(control) not in (Kind.POINTER, Kind.MOTION) and use_of(self.binding, control) != "button":
            self.depths = DepthSection(stage, control)
            self.add(self.depths)
        if control in joining.STICKS:
            self._make_joined()
        elif kind_of(control) is Kind.AXIS:
            self._make_joining()
        self.refresh()

    def _make_joined(self) -> None:
        """Which axes a joined stick is made of."""
        studio = self.stage.studio
        join = joining.join_of(studio.profile, self.control, studio.selection.seat)
        if join is None:
            return
        x, y = studio.selection.names.title(join.x), studio.selection.names.inside(join.y)
        self.heading(_("Joined from"))
        self.quiet(_("{x} is left and right, {y} is up and down.").format(x=x, y=y))
        self.links((_("Swap axes"), self._turn), (_("Separate"), self._part))

    def _make_joining(self) -> None:
        """An axis may be one half of a stick."""
        studio = self.stage.studio
        profile, seat = studio.profile, studio.selection.seat
        free = [
            name
            for name in self.stage.grasp.controls
            if kind_of(name) is Kind.AXIS and joining.join_of(profile, name, seat) is None
        ]
        if self.control in free and len(free) > 1 and joining.free_stick(profile, seat):
            self.heading(_("Join into a stick with"))
            self.links(
                *(
                    (studio.selection.names.inside(name), partial(self._join, name))
                    for name in free
                    if name != self.control
                )
            )

    def _join(self, other: str) -> None:
        studio = self.stage.studio
        name = joining.free_stick(studio.profile, studio.selection.seat)
        title = _("Join {control} and {other} into a stick").format(
            control=studio.selection.names.title(self.control), other=studio.selection.names.inside(other)
        )
        studio.document.edit(
            title, lambda profile: joining.with_join(profile, self.control, other, studio.selection.seat)
        )
        studio.selection.select(name)

    def _turn(self) -> None:
        studio = self.stage.studio
        studio.document.edit(
            _("Swap the axes of {control}").format(control=studio.selection.names.title(self.control)),
            lambda profile: joining.turned(profile, self.control, studio.selection.seat),
        )

    def _part(self) -> None:
        studio, control = self.stage.studio, self.control
        join = joining.join_of(studio.profile, control, studio.selection.seat)
        studio.document.edit(
            _("Separate {control}").format(control=studio.selection.names.title(control)),
            lambda profile: joining.without_join(profile, control, studio.selection.seat),
        )
        if join is not None:
            studio.selection.select(join.x)

    def _make(self, role: Role | None) -> None:
        if isinstance(role, KeysRole):
            self._make_keys()
            return
        if role is None:
            if kind_of(self.control) is not Kind.TRIGGER and use_of(self.binding, self.control) == "nothing":
                if kind_of(self.control) is Kind.AXIS and self.control not in self.stage.grasp.two_sided:
                    self.quiet(_("It moves one way only. Choose above what it is used as."))
                    return
                keys = _("keys on both sides") if kind_of(self.control) is Kind.AXIS else _("four keys at once")
                self.quiet(_("Assign {keys}, or choose above what it is used as:").format(keys=keys))
                self._make_ready()
            return
        rows: RoleRows = make_rows(self, role)
        self.picture, self._bring = rows.picture, rows.bring
        if rows.has_parts:
            self.editor = PartEditor(self.stage)
            self.add(self.editor)
            for later in rows.later:
                later()
        if isinstance(role, MouseRole):
            self._make_inverts()

    def _make_keys(self) -> None:
        self.heading(_("Directions"))
        self.picture = CompassPicture(self.stage, self.control)
        self.add(self.picture)
        self.editor = PartEditor(self.stage)
        self.add(self.editor)
        self.heading(_("Assign all directions"))
        self._make_ready()
        self.heading(_("Feel"))
        self.add_rows(KEYS_PARAMETERS)

    def _make_ready(self) -> None:
        inside = QWidget()
        row = FlowLayout(5)
        inside.setLayout(row)
        for name in READY:
            if name.startswith("eight") and kind_of(self.control) is Kind.AXIS:
                continue  # it has two directions
            button = QPushButton(READY_NAMES[name])
            button.clicked.connect(lambda _=False, ready=name: give_keys(self.stage, self.control, ready))
            row.addWidget(button)
        self.add(inside)

    def _make_inverts(self) -> None:
        for field, text in INVERTS:
            box: QCheckBox = self.check(text, self._inverter(field, text))
            self._bring.append(partial(self._show_invert, box, field))

    def _show_invert(self, box: QCheckBox, field: str, _: object) -> None:
        box.setChecked(bool(getattr(self.feel, field)))

    def _inverter(self, field: str, text: str) -> Callable[[bool], None]:
        def invert(on: bool) -> None:
            title = switched(text, on)
            self.set_feel(title, "", self.stage.selection.layer, **{field: on})

        return invert

    @property
    def shapes(self) -> dict[str, QPushButton]:
        """The buttons of the named curves, where there are any."""
        from nubshift.app.editors.pictures.curves import CurveButton

        return {button.toolTip(): button for button in self.findChildren(CurveButton)}

    def refresh(self) -> None:
        """The profile or the selection changed."""
        self.used.show_choice(use_of(self.binding, self.control))
        self.refresh_rows()
        role = self.role
        if self.picture is not None:
            self.picture.refresh()
            if self.editor is not None:
                self.editor.show_slot(self.picture.slot(self.picture.current))
        if role is not None:
            for bring in self._bring:
                bring(role)
        if self.depths is not None:
            self.depths.refresh()
