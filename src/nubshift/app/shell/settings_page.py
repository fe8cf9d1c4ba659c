"""What belongs to the player and not to a profile, on one page."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import cast, get_args

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import QFileDialog, QFormLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.client.mirror import Mirror
from nubshift.app.document.assigning import LISTENING
from nubshift.app.editors.panel import Choices, link
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.shell import login
from nubshift.app.shell.held_controls import HeldControls
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.widgets.plain import Label, tip
from nubshift.app.widgets.scrolling import scrolled
from nubshift.app.widgets.tick_box import TickBox
from nubshift.desktop.keymap import layouts_to_choose
from nubshift.errors import StorageError
from nubshift.model.keys import BY_CODE
from nubshift.model.names import Names
from nubshift.model.player_settings import TextSize
from nubshift.protocol.messages import Status
from nubshift.protocol.paths import with_tilde
from nubshift.texts import _, listed

WIDEST, NAMES = 720, 170
MODIFIER_KEYS = {
    Qt.KeyboardModifier.ControlModifier: "LEFTCTRL",
    Qt.KeyboardModifier.AltModifier: "LEFTALT",
    Qt.KeyboardModifier.ShiftModifier: "LEFTSHIFT",
    Qt.KeyboardModifier.MetaModifier: "LEFTMETA",
}
THEMES = {"": _("Same as the desktop"), "dusk": _("Dusk"), "day": _("Day")}
TEXT_SIZES = {str(percent): f"{percent} %" for percent in get_args(TextSize)}
CLOSING = {"background": _("Keeps Nub Shift running"), "quit": _("Quits")}
LOGIN = {"no": _("No"), "autostart": _("Desktop autostart"), "systemd": _("systemd user unit")}


Sections = tuple[tuple[str, tuple[tuple[str, QWidget | QHBoxLayout], ...]], ...]


class SettingsPage(QWidget):
    """`label_of` says what stands on a key, `names` what a control is called; `live` tells what is pressed."""

    noticed = pyqtSignal(str, str)

    def __init__(
        self, settings: SettingsStore, live: Mirror, label_of: Callable[[str], str], names: Callable[[], Names]
    ) -> None:
        super().__init__()
        self._settings, self._label_of = settings, label_of
        self.theme = Choices(_("Theme"), THEMES, lambda word: settings.change(theme=word))
        self._text_size_used = settings.now.text_size
        self.text_size = Choices(
            _("Text size"), TEXT_SIZES, lambda word: settings.change(text_size=cast("TextSize", int(word)))
        )
        self.text_size_later = quiet(_("Takes effect the next time Nub Shift starts."))
        self.overlay = self._check(_("Show tiles, menus and layer changes over the game"), "overlay")
        self.sounds = self._check(_("Play a sound on layer changes"), "layer_sounds")
        self.touch = self._check(_("Select controls by pressing them"), "touch_selects")
        self.listening = Choices(
            _("Time to answer a slot"),
            {str(seconds): _("{seconds} s").format(seconds=seconds) for seconds in LISTENING},
            lambda word: settings.change(listening_seconds=int(word)),
        )
        self.layouts = layouts_to_choose()
        self.layout_in_use = Choices(
            _("Keyboard layout"),
            {str(number): name for number, name in enumerate(self.layouts)},
            lambda word: settings.change(layout_group=int(word)),
        )
        self.synced = Label()
        self.synced.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.synced.setWordWrap(True)
        self.no_folder = link(_("Clear"), lambda: self._settings.change(synced_folder=""))
        self.gives = self._check(_("Also save my profiles there"), "synced_gives")
        self.closing = Choices(_("Closing the window"), CLOSING, lambda word: settings.change(closing=word))
        self.login = Choices(_("Start at login"), LOGIN, self._login_chosen)
        self.login_files = quiet("")
        self.login_files.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.stop_key = KeyButton(self._stop_key_pressed)
        self.heard_by = quiet("")
        self.keyboards = self._check(_("Read keyboards to hear it, where nothing else works"), "read_keyboards")
        self.keyboards.setToolTip(tip(_("Only whether this one key is pressed is looked at. Nothing is stored.")))
        self.stop_controls = HeldControls(
            settings, live, names, "stop_controls", "stop_hold", 2, _("Hold the stop controls for")
        )
        self.menu_controls = HeldControls(
            settings, live, names, "menu_controls", "menu_hold", 1, _("Hold the menu controls for")
        )
        self._lay_out()
        settings.changed.connect(self.refresh)
        self.refresh()

    def _check(self, text: str, field: str) -> TickBox:
        box = TickBox(text)
        box.clicked.connect(lambda on: self._settings.change(**{field: bool(on)}))
        box.setProperty("field", field)
        return box

    def _lay_out(self) -> None:
        """A column of sections in the middle."""
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(28, 20, 28, 20)
        column.setSpacing(8)
        title = Label(_("Settings"))
        title.setFont(font(TITLE, bold=True))
        column.addWidget(title)
        path = with_tilde(self._settings.path)
        told = quiet(_("These are yours and hold for every profile. They are saved in {path}.").format(path=path))
        told.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(told)
        for head, rows in self._sections():
            label = Label(head)
            label.setObjectName("heading")
            label.setContentsMargins(0, 12, 0, 0)
            column.addWidget(label)
            form = QFormLayout()
            form.setHorizontalSpacing(16)
            form.setVerticalSpacing(8)
            form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
            for name, field in rows:
                if name:
                    form.addRow(self._named(name), field)
                else:
                    form.addRow(field)
            column.addLayout(form)
        column.addStretch(1)
        inside.setMaximumWidth(WIDEST)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        outer = QWidget()
        middle = QHBoxLayout(outer)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.addStretch(1)
        middle.addWidget(inside, 8)
        middle.addStretch(1)
        row.addWidget(scrolled(outer))

    def _sections(self) -> Sections:
        """Each with its heading and its rows, the name of a row first where it has one."""
        key = QHBoxLayout()
        key.addWidget(self.stop_key)
        key.addWidget(link(_("Clear"), lambda: self._settings.change(stop_key=())))
        key.addStretch(1)
        stop = quiet(_("Pauses everything at once, in every profile, until you go live again."))
        synced = quiet(
            _(
                "Another program keeps this folder in step, for example with your other computer. Profiles that change "
                "there are updated here while you are not editing them."
            )
        )
        folder = QHBoxLayout()
        folder.addWidget(self.synced, 1)
        folder.addWidget(link(_("Choose folder…"), self._choose_folder))
        folder.addWidget(self.no_folder)
        typing = quiet(
            _(
                "This desktop does not say which of your layouts is in use, so choose it here. It counts from the next "
                "profile that starts; labels of keys follow when Nub Shift starts again."
            )
        )
        layout = (_("Keyboard layout"), (("", typing), (_("Text is typed in"), self.layout_in_use)))
        menu = quiet(_("Opens a menu over the game: switch profile or layer, or pause, with the controller."))
        return (
            (_("Appearance"), ((_("Theme"), self.theme), (_("Text size"), self.text_size), ("", self.text_size_later))),
            (_("During play"), (("", self.overlay), ("", self.sounds))),
            (
                _("Stop key"),
                (
                    ("", stop),
                    (_("Key"), key),
                    ("", self.heard_by),
                    ("", self.keyboards),
                    (_("Controls held together"), self.stop_controls),
                ),
            ),
            (_("Menu over the game"), (("", menu), (_("Controls held"), self.menu_controls))),
            (_("Assigning"), (("", self.touch), (_("Time to answer a slot"), self.listening))),
            *((layout,) if self.layouts else ()),
            (_("Synced folder"), (("", synced), (_("Folder"), folder), ("", self.gives))),
            (
                _("Background"),
                ((_("Closing the window"), self.closing), (_("Start at login"), self.login), ("", self.login_files)),
            ),
        )

    @staticmethod
    def _named(name: str) -> Label:
        label = Label(name)
        label.setMinimumWidth(NAMES)
        label.setWordWrap(True)
        return label

    def showEvent(self, event: QShowEvent | None) -> None:
        """Another program may have changed what starts at login."""
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is listened for any more."""
        self.stop_key.end()

    def refresh(self) -> None:
        """Everything as it is set."""
        now = self._settings.now
        self.theme.show_choice(now.theme)
        self.text_size.show_choice(str(now.text_size))
        self.text_size_later.setVisible(now.text_size != self._text_size_used)
        self.no_folder.setVisible(bool(now.synced_folder))
        self.synced.setText(with_tilde(Path(now.synced_folder)) if now.synced_folder else _("None"))
        self.gives.setEnabled(bool(now.synced_folder))
        for box in (self.overlay, self.sounds, self.touch, self.gives, self.keyboards):
            box.setChecked(getattr(now, box.property("field")))
        self.listening.show_choice(str(now.listening_seconds))
        self.layout_in_use.show_choice(str(now.layout_group))
        self.closing.show_choice(now.closing)
        way = login.present()
        self.login.show_choice(way)
        paths = login.files()[way]
        self.login_files.setText(_("Written: {paths}").format(paths=listed([with_tilde(path) for path in paths])))
        self.login_files.setVisible(bool(paths))
        keys = " + ".join(self._label_of(key) for key in now.stop_key)
        self.stop_key.show_key(keys or _("None"))
        self.stop_controls.refresh()
        self.menu_controls.refresh()

    @property
    def listens(self) -> bool:
        """Whether controls to be held are being chosen."""
        return self.menu_controls.listens or self.stop_controls.listens

    def show_status(self, status: Status) -> None:
        """What the runner says: how the stop key is heard."""
        unheard = _("Not heard on this desktop. The controls below work everywhere.")
        self.heard_by.setText(status.stop_key_by or (unheard if self._settings.now.stop_key else ""))
        self.heard_by.setVisible(bool(self.heard_by.text()))

    def _choose_folder(self) -> None:
        """Ask for the folder that is synced."""
        start = self._settings.now.synced_folder or str(Path.home())
        chosen = QFileDialog.getExistingDirectory(self, _("Choose the synced folder"), start)
        if chosen:
            self._settings.change(synced_folder=chosen)

    def _login_chosen(self, way: str) -> None:
        try:
            login.start_at_login("systemd" if way == "systemd" else "autostart" if way == "autostart" else "no")
        except StorageError as error:
            self.noticed.emit("error", f"{error}.")
        self.refresh()

    # The stop key

    def _stop_key_pressed(self, keys: tuple[str, ...]) -> None:
        self._settings.change(stop_key=keys)
        self.refresh()


class KeyButton(QPushButton):
    """Shows a key; clicked, it takes the next one pressed with its modifiers. Escape leaves it as it was."""

    def __init__(self, pressed: Callable[[tuple[str, ...]], None]) -> None:
        super().__init__()
        self._pressed = pressed
        self._shown = ""
        self.setCheckable(True)
        self.clicked.connect(lambda _=False: self._show())
        self.installEventFilter(self)

    def show_key(self, text: str) -> None:
        """What is set."""
        self._shown = text
        self._show()

    def _show(self) -> None:
        self.setText(_("Press a key…") if self.isChecked() else self._shown)
        self.setAccessibleName(_("Stop key: {key}").format(key=self.text()))

    def end(self) -> None:
        """Listen no more."""
        self.setChecked(False)
        self._show()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """The next key, before any shortcut of the window has it."""
        if not self.isChecked() or not isinstance(event, QKeyEvent):
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        if event.type() != QEvent.Type.KeyPress:
            return False
        info = BY_CODE.get(event.nativeScanCode() - 8)
        if event.key() == Qt.Key.Key_Escape:
            self.end()
        elif info is not None and info.name not in _MODIFIERS:
            held = [name for modifier, name in MODIFIER_KEYS.items() if event.modifiers() & modifier]
            self.end()
            self._pressed((*held, info.name))
        return True


_MODIFIERS = {f"{side}{key}" for side in ("LEFT", "RIGHT") for key in ("CTRL", "ALT", "SHIFT", "META")}


def quiet(text: str) -> Label:
    """A sentence that explains."""
    label = Label(text)
    label.setObjectName("quiet")
    label.setWordWrap(True)
    return label
