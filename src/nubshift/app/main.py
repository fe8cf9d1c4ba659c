"""Starting the window: which profile, which look, and the runner behind it."""

from __future__ import annotations

import logging
import signal
import sys
import traceback
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from types import TracebackType

from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QEvent, QMessageLogContext, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication, QMessageBox

from nubshift.app.background import Background
from nubshift.app.client.link import Link
from nubshift.app.document.studio import Studio
from nubshift.app.painting.theme import Look, install_font
from nubshift.app.painting.timing import every
from nubshift.app.shell.one_window import brought_to_front
from nubshift.app.shell.rescue import offer_rescued
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.window import MainWindow
from nubshift.errors import ProfileError, StorageError
from nubshift.model.files import read_bytes
from nubshift.model.profile import SUFFIX, Profile, new_profile
from nubshift.model.store import ProfileFile, free_path, write_atomically
from nubshift.protocol.paths import (
    demo_folder,
    profile_folder,
    rescue_folder,
    settings_path,
    socket_path,
    window_socket_path,
)
from nubshift.texts import _

DEFAULT_SOURCES = ("auto", "sim:moss")
DEMOS = ("ferrow-deep", "saltbarrow", "quillgate")
"""The demo profiles, the first of which is opened at the very start."""
ENDS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)
"""What closes the window from outside."""


def run(
    profile: Path | None,
    sources: Sequence[str],
    sink: str,
    theme: str | None,
    hidden: bool = False,
    ready: Callable[[MainWindow], None] | None = None,
) -> int:
    """Open the window and return its exit code; `hidden`: without showing it. `ready` is called once it can be used."""
    sys.excepthook = report_crash
    qInstallMessageHandler(log_qt)
    app = QApplication(sys.argv[:1])
    app.setApplicationName("nubshift")
    app.setOrganizationName("nubshift")
    app.setApplicationDisplayName(_("Nub Shift"))
    app.setDesktopFileName("nubshift")
    if brought_to_front(window_socket_path(), profile):
        return 0
    settings = SettingsStore(settings_path())
    install_font(app, settings.now.text_size)
    look = Look(theme or settings.now.theme or None)
    folder = profile_folder()
    foreign = profile is not None and profile.parent.resolve() != folder.resolve()
    file, opened, troubles = first_profile(None if foreign else profile, folder, settings.now.last_profile)
    studio = Studio(file, opened)
    link = Link(socket_path(), sources or DEFAULT_SOURCES, sink)
    window = MainWindow(studio, link, look, folder, settings)
    for trouble in (*troubles, *window.troubles()):
        window.notices.tell("error", trouble)
    background = Background(window, settings, window_socket_path())
    window.stays = background.stays
    link.refused.connect(lambda text: _refused(app, window, text))
    offer_rescued(rescue_folder(), folder, studio, window.notices)
    for number in ENDS:
        signal.signal(number, lambda *_: end(app, window))
    studio.document.opened.connect(lambda: settings.change(last_profile=str(studio.document.file.path)))
    app.commitDataRequest.connect(lambda _: studio.document.save())
    ticker = every(app, 200, lambda: None)
    ticker.start()
    app.setQuitOnLastWindowClosed(False)
    window.gone.connect(app.quit)
    if not hidden:
        window.show()
    link.open()
    if profile is not None and foreign:
        window.bring_in(profile)
    if ready is not None:
        QTimer.singleShot(0, partial(ready, window))
    code = app.exec()
    background.close()
    settings.change(last_profile=str(studio.document.file.path))
    for number in ENDS:
        signal.signal(number, signal.SIG_DFL)  # what they would call is gone from here on
    take_down(window)
    return code


def end(app: QApplication, window: MainWindow) -> None:
    """Something outside wants the program to end. It does so also if its loop has not begun yet.

    Not here and now: a signal comes in the middle of anything, also while a socket of Qt tells that the runner is gone,
    and to take that socket down then crashes.
    """
    QTimer.singleShot(0, window.end)
    QTimer.singleShot(0, app.quit)


def take_down(window: MainWindow) -> None:
    """Delete a closed window with all that belongs to it, while there still is an application.

    Left to Qt's bindings, the objects go one by one as the process ends, each taking others along that are still on the
    list; that ended in a crash after everything was kept.
    """
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    sip.delete(window)


def _refused(app: QApplication, window: MainWindow, text: str) -> None:
    box = QMessageBox(QMessageBox.Icon.Information, _("Nub Shift"), text, parent=window)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.exec()
    app.exit(1)


def first_profile(wanted: Path | None, folder: Path, last: str) -> tuple[ProfileFile, Profile, list[str]]:
    """The profile to begin with: the one asked for, the last one, any that can be used, or the demo.

    Files that can't be used are left as they are; a sentence for each says why.
    """
    troubles: list[str] = []
    candidates = [wanted] if wanted else [Path(last)] if last and Path(last).exists() else []
    if not wanted:
        candidates += sorted(folder.glob(f"*{SUFFIX}"))
    for path in candidates:
        file = ProfileFile(path)
        try:
            return file, file.read(), troubles
        except (ProfileError, StorageError) as error:
            troubles.append(str(error))
    file = ProfileFile(free_path(folder, DEMOS[0]))
    try:
        for name in DEMOS:
            path = file.path if name == DEMOS[0] else folder / f"{name}{SUFFIX}"
            if not path.exists():
                write_atomically(path, read_bytes(demo_folder() / f"{name}{SUFFIX}"))
        return file, file.read(), troubles
    except (OSError, ProfileError, StorageError) as error:
        troubles.append(_("The demo could not be saved in {folder}: {error}").format(folder=folder, error=error))
        return file, new_profile(_("Untitled")), troubles


QT_LEVELS = {
    QtMsgType.QtDebugMsg: logging.DEBUG,
    QtMsgType.QtInfoMsg: logging.INFO,
    QtMsgType.QtCriticalMsg: logging.ERROR,
    QtMsgType.QtFatalMsg: logging.CRITICAL,
}


def log_qt(kind: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
    """Messages of Qt go to the log. One is no news: Qt itself says it whenever a local socket's other end closes."""
    if message and "wildcard call disconnects from destroyed signal of QNativeSocketEngine" not in message:
        logging.getLogger("nubshift.qt").log(QT_LEVELS.get(kind, logging.WARNING), message)


def report_crash(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """An error nobody caught: log it, and go on rather than lose what is being edited."""
    text = "".join(traceback.format_exception(kind, error, trace))
    logging.getLogger("nubshift.app").error("unexpected error\n%s", text)
