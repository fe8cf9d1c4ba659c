"""What each role shows in the panel of its control: its picture, and rows for what else it has."""

from __future__ import annotations

from typing import Any, assert_never

from msgspec.structs import replace

from nubshift.app.editors.panel import Choices, link
from nubshift.app.editors.pictures.board import BoardPicture
from nubshift.app.editors.pictures.curves import CurveShapes
from nubshift.app.editors.pictures.planes import TilesPicture
from nubshift.app.editors.pictures.pointing import AreaPicture
from nubshift.app.editors.role_editing import RoleEditing
from nubshift.app.editors.roles.surface_rows import RoleRows, overlay_rows
from nubshift.app.editors.roles.wheel_rows import WheelRows
from nubshift.app.editors.rows.by_row import ByRow
from nubshift.feel.curve import SHAPES
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.parameters import Parameter
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    Role,
    ScrollRole,
    TilesRole,
)
from nubshift.model.sends import PAD_AXES, Sends
from nubshift.texts import _

MOUSE_PARAMETERS = (p.INNER, p.OUTER, p.LEAST_STEP, p.EDGE_BOOST, p.EDGE_TIME)
SHAPES_OF_TILES = {
    "3x3": _("Nine"),
    "2x2": _("Four"),
    "4x4": _("Sixteen"),
    "1x4": _("Four in a row"),
    "0x4": _("Four ways"),
    "0x8": _("Eight ways"),
}
"""Rows by columns, or none by slices along angles."""


def make_rows(panel: RoleEditing, role: Role) -> RoleRows:
    """Add to the panel what the role has."""
    match role:
        case MouseRole():
            return _mouse(panel)
        case ScrollRole():
            return _scroll(panel)
        case TilesRole():
            return _tiles(panel)
        case MenuRole():
            return _menu(panel)
        case BoardRole():
            return _board(panel)
        case PointerRole():
            return _pointer(panel)
        case PadStickRole():
            return _pad_stick(panel)
        case PadAxisRole():
            return _pad_axis(panel)
        case KeysRole() | GyroRole():
            return RoleRows()
        case never:
            assert_never(never)


def _mouse(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    panel.heading(_("Speed"))
    panel.add_rows((p.SPEED, p.RATIO))
    panel.heading(_("Response curve"))

    def choose(shape: str) -> None:
        title = _("Response curve {shape}, {control}").format(
            shape=shape, control=panel.stage.selection.names.inside(panel.control)
        )
        panel.set_feel(title, "", panel.stage.selection.layer, curve=SHAPES[shape])

    shapes = CurveShapes(panel.stage.look, choose)
    panel.add(shapes)
    panel.add_rows(MOUSE_PARAMETERS)
    rows.bring.append(lambda _: shapes.show_points(panel.feel.curve))
    if kind_of(panel.control) in (Kind.AXIS, Kind.TRIGGER):
        box = panel.check(
            _("Up and down instead of sideways"), lambda on: panel.change_role(_("Moves the mouse"), upright=on)
        )
        rows.bring.append(lambda role: box.setChecked(isinstance(role, MouseRole) and role.upright))
    return rows


def _scroll(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    panel.heading(_("Speed"))
    panel.add_rows((p.SCROLL_SPEED, p.INNER))
    if kind_of(panel.control) in (Kind.AXIS, Kind.TRIGGER):
        box = panel.check(_("Sideways"), lambda on: panel.change_role(_("Scrolls"), sideways=on))
        rows.bring.append(lambda role: box.setChecked(isinstance(role, ScrollRole) and role.sideways))
    return rows


def _tiles(panel: RoleEditing) -> RoleRows:
    picture = TilesPicture(panel.stage, panel.control)

    def divide(shape: str) -> None:
        role = panel.role
        if isinstance(role, TilesRole):
            panel.put_role(f"Tiles: {SHAPES_OF_TILES[shape]}", divided(role, *map(int, shape.split("x"))))
            panel.stage.selection.select(panel.control, "role.cells[0]")

    panel.heading(_("Divided into"))
    shapes = Choices(_("Divided into"), SHAPES_OF_TILES, divide)
    panel.add(shapes)
    panel.add(picture)
    rows = RoleRows(picture, True)
    rows.bring.append(
        lambda role: shapes.show_choice(f"0x{role.slices}" if role.slices else f"{role.rows}x{role.columns}")
    )
    rows.later.append(lambda: panel.add_rows((p.MENU_RADIUS,)) if getattr(panel.role, "slices", 0) else None)
    rows.later.append(lambda: overlay_rows(panel, rows))
    return rows


def divided(role: TilesRole, rows: int, columns: int) -> TilesRole:
    """Tiles divided otherwise; `rows` 0 means slices. What lies in a cell that stays is kept."""
    if not rows:
        return replace(role, slices=columns, cells=_first(role.cells, columns))
    if role.slices:
        return replace(role, slices=0, rows=rows, columns=columns, cells=_first(role.cells, rows * columns))
    cells: list[Sends] = []
    for row in range(rows):
        for column in range(columns):
            there = row < role.rows and column < role.columns
            cells.append(role.cells[row * role.columns + column] if there else ())
    return replace(role, rows=rows, columns=columns, cells=tuple(cells))


def _first(cells: tuple[Sends, ...], count: int) -> tuple[Sends, ...]:
    return (*cells[:count], *((),) * (count - len(cells)))


def _menu(panel: RoleEditing) -> RoleRows:
    return WheelRows(panel).rows


def _board(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    panel.heading(_("Keyboard"))
    panel.quiet(_("A stick or d-pad moves from key to key, a touch pad points. Click a key to change it."))
    picture = BoardPicture(panel)
    panel.add(picture)
    rows.bring.append(picture.show_role)
    by = ByRow(panel, _("Type with"), lambda role: True)
    panel.add(by)
    rows.bring.append(by.show_role)
    overlay_rows(panel, rows)
    return rows


def _pointer(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    panel.heading(_("Cursor"))
    how = Choices(
        _("Cursor"),
        {"place": _("Placed where it points"), "move": _("Moved by it")},
        lambda value: panel.change_role(_("Cursor"), relative=value == "move"),
    )
    panel.add(how)
    rows.bring.append(lambda role: how.show_choice("move" if role.relative else "place"))
    target = Choices(
        _("Reaches"),
        {"screen": _("The screen"), "window": _("The game's window")},
        lambda value: panel.change_role(_("Reaches"), target=value),
    )
    panel.add(target)
    area = AreaPicture(
        panel.stage.look,
        lambda **values: panel.change_role(_("Reaches"), "area", **values),
        panel.stage.document.history.settle,
    )
    panel.add(area)
    margin = panel.number(
        MARGIN, lambda value: panel.change_role(_("Margin {value:.0%}").format(value=value), "margin", margin=value)
    )
    hold = panel.number(
        p.POINTER_HOLD, lambda ms: panel.change_role(_("When lifted, stay at the last point"), "hold", hold=round(ms))
    )
    park = panel.check(
        _("Then move to a corner"), lambda on: panel.change_role(_("Move to a corner"), park=(1.0, 1.0) if on else None)
    )
    panel.add_rows((p.POINTER_SPEED,))

    def bring(role: Any) -> None:
        target.show_choice(role.target)
        area.show_role(role)
        margin.show_value(role.margin)
        hold.show_value(role.hold)
        park.setChecked(role.park is not None)
        for widget in (target, area, margin):
            widget.setVisible(not role.relative)
        panel.rows[p.POINTER_SPEED.name].setVisible(role.relative)

    rows.bring.append(bring)
    return rows


MARGIN = Parameter(
    name="margin",
    label=_("Margin of its own range"),
    unit="%",
    low=0,
    high=0.4,
    default=0,
    step=0.01,
    shown=100,
    help=_("Share at each edge of the control's range that lies beyond the area."),
)


def _pad_stick(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    stick = Choices(
        _("Stick"),
        {"left": _("Left stick"), "right": _("Right stick")},
        lambda value: panel.change_role(_("Virtual {value} stick").format(value=value), stick=value),
    )
    panel.add(stick)
    tuned = panel.check(_("Apply this stick's dead zone and curve"), lambda on: panel.change_role(_("Tuned"), tuned=on))
    rows.bring += [lambda role: stick.show_choice(role.stick), lambda role: tuned.setChecked(role.tuned)]
    _needs_pad(panel)
    return rows


def _pad_axis(panel: RoleEditing) -> RoleRows:
    rows = RoleRows()
    words = {
        axis: axis.replace("_x", " stick sideways").replace("_y", " stick up and down").replace("_", " ")
        for axis in PAD_AXES
    }
    axis = Choices(_("Axis"), words, lambda value: panel.change_role(f"Pad's {words[value]}", axis=value))
    panel.add(axis)
    rows.bring.append(lambda role: axis.show_choice(role.axis))
    _needs_pad(panel)
    return rows


def _needs_pad(panel: RoleEditing) -> None:
    if panel.stage.studio.profile.game.pad == "none":
        panel.quiet(_("The game has no virtual pad yet."))
        panel.column.addWidget(link(_("Add a virtual pad"), lambda: give_pad(panel)))


def give_pad(panel: RoleEditing) -> None:
    """Let the game see a virtual pad."""
    panel.stage.document.edit(_("Add a virtual pad"), lambda q: replace(q, game=replace(q.game, pad="full")))
