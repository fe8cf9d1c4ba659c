"""The key that answers a listening slot, whatever widget has the focus, and the keys of a recording."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QWidget

from nubshift.app.document.studio import Studio
from nubshift.app.painting.key_labels import pressed_key
from nubshift.app.shell.recording import Recording

CANCEL = ("ESC", "DELETE")


class KeyCapture(QObject):
    """Takes the next key press for the slot or command that listens; shortcuts are keys like others then.

    Escape and Delete end the listening. To have them sent, they are chosen by name or on the drawn keyboard.
    """

    def __init__(self, app: QApplication, studio: Studio, recording: Recording) -> None:
        super().__init__(app)
        self._app = app
        self._studio = studio
        self._recording = recording
        app.installEventFilter(self)

    def close(self) -> None:
        """Take no more keys."""
        self._app.removeEventFilter(self)
        self.deleteLater()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """True for a key that was the answer, or was recorded."""
        if not isinstance(event, QKeyEvent) or not (self._studio.assigning.listens or self._recording.on):
            return False
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        if not isinstance(watched, QWidget) or event.isAutoRepeat():
            return False
        key = pressed_key(event)
        if self._recording.on and event.type() in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            if key is not None:
                self._recording.take(key, event.type() == QEvent.Type.KeyPress)
            return True
        if event.type() != QEvent.Type.KeyPress:
            return False
        if key in CANCEL:
            self._studio.assigning.disarm()
        elif key is not None:
            self._studio.assigning.give_key(key)
        return True
