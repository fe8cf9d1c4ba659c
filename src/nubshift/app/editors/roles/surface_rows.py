"""The rows that tiles, menus and on-screen keyboards share: where they are shown on the screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from nubshift.app.editors.pictures.on_screen import ScreenPicture
from nubshift.app.editors.pictures.planes import PlanePicture
from nubshift.app.editors.role_editing import RoleEditing
from nubshift.model.parameters import Parameter
from nubshift.model.roles import Overlay, TilesRole
from nubshift.texts import _

Bring = Callable[[Any], object]


class RoleRows(Struct):
    """A picture, whether it has parts that send, what brings the rows up to date, and rows to add below the parts."""

    picture: PlanePicture | None = None
    has_parts: bool = False
    bring: list[Bring] = []
    later: list[Callable[[], None]] = []


def overlay_rows(panel: RoleEditing, rows: RoleRows) -> None:
    """The place on the screen, its opacity, and for tiles whether they are shown at all."""
    panel.heading(_("On the screen"))

    def shown(role: Any) -> Overlay | None:
        return getattr(role, "show", None)

    def put(overlay: Overlay | None, title: str = _("Place on the screen")) -> None:
        panel.change_role(title, "show" if overlay is not None else "", show=overlay)

    settle = panel.stage.document.history.settle
    if isinstance(panel.role, TilesRole):
        box = panel.check(_("Show while in use"), lambda on: put(Overlay() if on else None, _("Show while in use")))
        rows.bring.append(lambda role: box.setChecked(shown(role) is not None))
    screen = ScreenPicture(panel.stage.look, put, settle)
    panel.add(screen)
    opacity = panel.number(
        OPACITY, lambda value: put(replace(shown(panel.role) or Overlay(), opacity=value)), square=True
    )

    def bring(role: Any) -> None:
        overlay = shown(role)
        screen.setVisible(overlay is not None)
        opacity.setVisible(overlay is not None)
        if overlay is not None:
            screen.show_overlay(overlay)
            opacity.show_value(overlay.opacity)

    rows.bring.append(bring)


OPACITY = Parameter(
    name="opacity",
    label=_("Opacity"),
    unit="%",
    low=0.1,
    high=1.0,
    default=0.85,
    step=0.05,
    shown=100,
    help=_("How strongly it covers the game."),
)
