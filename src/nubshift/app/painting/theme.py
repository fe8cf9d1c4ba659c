"""The one table of colours, and the fonts. No other file names a colour."""

from __future__ import annotations

from functools import lru_cache

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QGuiApplication, QPalette
from PyQt6.QtWidgets import QApplication

from nubshift.app.painting.style_sheet import style_sheet
from nubshift.model.profile import Colour
from nubshift.records import Record
from nubshift.texts import _

FONT_FAMILIES = ("Noto Sans", "DejaVu Sans")
POINT_SIZE, USUAL_POINT_SIZE = 9.5, 11.0
"""Of our text, and the largest that a desktop begins with."""
SMALL, BODY, STRONG, TITLE = 0.88, 1.0, 1.1, 1.5
"""Sizes of text as factors of the body size, so that text scales as a whole."""


LIGHTS = ("#7dd3b4", "#ef8a6b", "#e3b94c", "#9a8cd8", "#e07a9a", "#f0e9dd")
"""Colours offered for a controller's light; these go to the device."""
LIGHT_NAMES = dict(zip(LIGHTS, (_("Mint"), _("Coral"), _("Amber"), _("Violet"), _("Rose"), _("Cream")), strict=True))


class Theme(Record, frozen=True):
    """Named colours. Round and `input` is what comes from the hand, square and `output` what goes to the game."""

    name: str
    ground: QColor
    surface: QColor
    raised: QColor
    line: QColor
    ink: QColor
    quiet: QColor
    input: QColor
    output: QColor
    on_input: QColor
    on_output: QColor
    cap: QColor
    cap_edge: QColor
    on_cap: QColor
    accents: dict[Colour, QColor]

    def colours(self) -> dict[str, str]:
        """Each by its name, written as ``#rrggbb``, but for the accents."""
        return {
            name: value.name() for name in self.__struct_fields__ if isinstance(value := getattr(self, name), QColor)
        }


def _theme(name: str, accents: dict[Colour, str], **colours: str) -> Theme:
    return Theme(
        name,
        accents={key: QColor(value) for key, value in accents.items()},
        **{key: QColor(value) for key, value in colours.items()},
    )


DUSK = _theme(
    "dusk",
    {
        "moss": "#8fae6b",
        "rust": "#c9764f",
        "ochre": "#d3a94c",
        "slate": "#8a9bb0",
        "plum": "#b487b4",
        "sand": "#cdbb98",
    },
    ground="#1f1b20",
    surface="#29242a",
    raised="#342d35",
    line="#4a414c",
    ink="#f0e9dd",
    quiet="#b3a9ae",
    input="#7dd3b4",
    output="#ef8a6b",
    on_input="#1f1b20",
    on_output="#1f1b20",
    cap="#efe6d4",
    cap_edge="#b9ab94",
    on_cap="#2b2430",
)
DAY = _theme(
    "day",
    {
        "moss": "#5d7a3a",
        "rust": "#a3552f",
        "ochre": "#94701a",
        "slate": "#526a85",
        "plum": "#84538a",
        "sand": "#8a744a",
    },
    ground="#f2ede3",
    surface="#fbf8f1",
    raised="#ebe4d6",
    line="#d3c8b6",
    ink="#2b2430",
    quiet="#5f5662",
    input="#1b6b55",
    output="#a8402a",
    on_input="#fbf8f1",
    on_output="#fbf8f1",
    cap="#fffdf8",
    cap_edge="#bcae97",
    on_cap="#2b2430",
)


def faded(colour: QColor, alpha: float) -> QColor:
    """`colour` with an opacity of `alpha` (0 to 1)."""
    result = QColor(colour)
    result.setAlphaF(alpha)
    return result


def blend(over: QColor, under: QColor, share: float) -> QColor:
    """`share` of `over` mixed with the rest of `under`, opaque."""
    rest = 1.0 - share
    return QColor.fromRgbF(
        over.redF() * share + under.redF() * rest,
        over.greenF() * share + under.greenF() * rest,
        over.blueF() * share + under.blueF() * rest,
    )


class Look(QObject):
    """The theme in use. It follows the desktop until one is asked for."""

    changed = pyqtSignal()

    def __init__(self, wanted: str | None = None) -> None:
        super().__init__()
        self._wanted = wanted
        self.theme = DUSK
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self._follow)
        self._follow()

    @property
    def wanted(self) -> str | None:
        """The theme that was asked for, or None while the desktop decides."""
        return self._wanted

    def want(self, name: str | None) -> None:
        """Use ``dusk`` or ``day``, or follow the desktop again (None)."""
        self._wanted = name
        self._follow()

    def _follow(self) -> None:
        hints = QGuiApplication.styleHints()
        light = hints is not None and hints.colorScheme() == Qt.ColorScheme.Light
        name = self._wanted or ("day" if light else "dusk")
        self.theme = DAY if name == "day" else DUSK
        app = QApplication.instance()
        if isinstance(app, QApplication):
            sheet = style_sheet(self.theme.colours())
            app.setPalette(_palette(self.theme))
            if sheet != app.styleSheet():  # to set it anew polishes every widget there is
                app.setStyleSheet(sheet)
        self.changed.emit()


def install_font(app: QApplication, percent: int = 100) -> None:
    """Set the application's font by name, since the default depends on what else is installed.

    Its size is ours, larger in proportion where the desktop's text is larger than desktops have it by themselves, and
    `percent` of that.
    """
    size = POINT_SIZE * max(1.0, app.font().pointSizeF() / USUAL_POINT_SIZE) * percent / 100
    known = set(QFontDatabase.families())
    family = next((name for name in FONT_FAMILIES if name in known), "")
    font = QFont(family) if family else app.font()
    font.setPointSizeF(size)
    font.setFeature(QFont.Tag("tnum"), 1)
    app.setFont(font)


def font(factor: float = BODY, bold: bool = False) -> QFont:
    """The application's font, `factor` times as large."""
    base = QApplication.font()
    return _sized(base.family(), base.pointSizeF() * factor, bold)


@lru_cache(128)
def _sized(family: str, points: float, bold: bool) -> QFont:
    """Kept, since pictures ask for the same few fonts on every frame; nobody changes one."""
    result = QFont(QApplication.font())
    result.setFamily(family)
    result.setPointSizeF(points)
    if bold:
        result.setWeight(QFont.Weight.DemiBold)
    return result


def metrics(factor: float = BODY, bold: bool = False) -> QFontMetricsF:
    """The measures of `font`."""
    base = QApplication.font()
    return _measures(base.family(), base.pointSizeF() * factor, bold)


@lru_cache(128)
def _measures(family: str, points: float, bold: bool) -> QFontMetricsF:
    return QFontMetricsF(_sized(family, points, bold))


def _palette(theme: Theme) -> QPalette:
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.ground),
        (roles.Base, theme.surface),
        (roles.AlternateBase, theme.raised),
        (roles.Button, theme.raised),
        (roles.WindowText, theme.ink),
        (roles.Text, theme.ink),
        (roles.ButtonText, theme.ink),
        (roles.PlaceholderText, theme.quiet),
        (roles.Highlight, theme.input),
        (roles.HighlightedText, theme.on_input),
        (roles.ToolTipBase, theme.raised),
        (roles.ToolTipText, theme.ink),
    ):
        palette.setColor(role, colour)
    return palette
