"""The window's end of the socket, and the care that there is a runner at the other end."""

from __future__ import annotations

import os
import sys
import time
from collections import deque
from collections.abc import Sequence
from pathlib import Path
from typing import assert_never

from msgspec.structs import replace
from PyQt6.QtCore import QObject, QProcess, pyqtSignal
from PyQt6.QtNetwork import QLocalSocket

from nubshift.app.painting.timing import once
from nubshift.errors import ProtocolError
from nubshift.model.programs import SeenProgram
from nubshift.protocol.checking import check_reply
from nubshift.protocol.lines import Lines, decode_reply, encode
from nubshift.protocol.messages import (
    PROTOCOL,
    Done,
    Ended,
    Frame,
    GameSeen,
    Health,
    Hello,
    Lesson,
    MenuDoes,
    Notice,
    Programs,
    Quit,
    Refused,
    Request,
    Status,
    Used,
    Welcome,
)
from nubshift.texts import _

RETRY_MS = 30
STARTS_TOLERATED = 5
"""So many starts within `START_WINDOW` seconds; then the runner is taken to be broken."""
START_WINDOW = 30.0
GIVEN_UP = _(
    "The runner keeps stopping, so nothing is sent, and it is not restarted automatically. Check "
    "the doctor, then start it again."
)


class Link(QObject):
    """Talks to the runner. It is started when there is none, and started anew when it dies."""

    connected = pyqtSignal()
    lost = pyqtSignal()
    framed = pyqtSignal(Frame)
    status_changed = pyqtSignal(Status)
    used = pyqtSignal(Used)
    felt = pyqtSignal(Health)
    noticed = pyqtSignal(str, str)
    refused = pyqtSignal(str)
    gave_up = pyqtSignal(str)
    lessoned = pyqtSignal(Lesson)
    programs_told = pyqtSignal(Programs)
    ended = pyqtSignal()
    menu_does = pyqtSignal(str, str)
    game_seen = pyqtSignal(SeenProgram)

    def __init__(self, socket: Path, sources: Sequence[str], sink: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._path = socket
        self._arguments = [
            "-m",
            "nubshift",
            "run",
            "-",
            "--owned",
            str(os.getpid()),
            "--socket",
            str(socket),
            "--sink",
            sink,
        ]
        for source in sources:
            self._arguments += ["--source", source]
        self._lines = Lines()
        self._greeted = False
        self._closing = False
        self._given_up = False
        self._started_before = False
        self._starts: deque[float] = deque(maxlen=STARTS_TOLERATED)
        self._process: QProcess | None = None
        self.status: Status | None = None
        self.health: Health | None = None
        self.runner_pid = 0
        self._socket = QLocalSocket(self)
        self._socket.connected.connect(self._greet)
        self._socket.readyRead.connect(self._read)
        self._socket.disconnected.connect(self._ended)
        self._socket.errorOccurred.connect(self._failed)
        self._retry = once(self, RETRY_MS, self._connect)

    @property
    def ready(self) -> bool:
        """Whether the runner listens to us."""
        return self._greeted

    def open(self) -> None:
        """Find the runner that is at work, else start one."""
        self._connect()

    def _connect(self) -> None:
        self._socket.connectToServer(str(self._path))

    def _failed(self) -> None:
        """Nobody listens yet."""
        if self._greeted or self._closing or self._given_up:
            return
        if self._process is None or self._process.state() == QProcess.ProcessState.NotRunning:
            self._start()
        if not self._given_up:
            self._retry.start()

    def start_again(self) -> None:
        """After giving up: the player wants it tried again."""
        self._starts.clear()
        self._given_up = False
        self._connect()

    def _start(self) -> None:
        now = time.monotonic()
        if len(self._starts) == STARTS_TOLERATED and now - self._starts[0] < START_WINDOW:
            self._given_up = True
            self.gave_up.emit(GIVEN_UP)
            return
        self._starts.append(now)
        if self._process is not None:
            self._process.deleteLater()
        self._process = QProcess(self)
        self._process.setProcessChannelMode(QProcess.ProcessChannelMode.ForwardedChannels)
        self._process.start(sys.executable, self._arguments)

    def _greet(self) -> None:
        self._lines = Lines()
        self._socket.write(encode(Hello(PROTOCOL)))

    def _read(self) -> None:
        self._understand(self._socket.readAll().data())

    def _understand(self, data: bytes) -> None:
        try:
            for line in self._lines.feed(data):
                self._take(line)
        except ProtocolError as error:
            self.noticed.emit(
                "error",
                _("The runner sent something that can't be read: {error}. It is being restarted.").format(error=error),
            )
            self._end_process()
            self._socket.abort()

    def _end_process(self) -> None:
        """A runner that talks nonsense is not spoken to again."""
        if self._process is not None and self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.kill()

    def _take(self, line: bytes) -> None:
        reply = decode_reply(line)
        check_reply(reply)
        match reply:
            case Frame() as frame:
                self.framed.emit(frame)
            case Status() as status:
                self.status = status
                self.status_changed.emit(status)
            case Lesson() as lesson:
                self.lessoned.emit(lesson)
            case Used() as used:
                self.used.emit(used)
            case Health() as health:
                self.health = health
                self.felt.emit(health)
            case Notice(severity, text):
                self.noticed.emit(severity, text)
            case Welcome(_, pid):
                self.runner_pid = pid
                self._greeted = True
                if self._started_before:
                    text = _("The runner stopped unexpectedly. All keys were released, and it has been restarted.")
                    self.noticed.emit("warning", text)
                self._started_before = True
                self.connected.emit()
            case Ended():
                self._closing = True
                self.ended.emit()
            case Programs() as programs:
                self.programs_told.emit(_without_us(programs))
            case MenuDoes(act, seat):
                self.menu_does.emit(act, seat)
            case GameSeen(program):
                self.game_seen.emit(program)
            case Done():
                pass
            case Refused(text):
                self._closing = True
                self.refused.emit(text)
            case never:
                assert_never(never)

    def _ended(self) -> None:
        was_ready, self._greeted, self.status, self.runner_pid = self._greeted, False, None, 0
        self.health = None
        if self._closing:
            return
        if was_ready:
            self.lost.emit()
        if not self._given_up:
            self._retry.start()

    def send(self, request: Request) -> bool:
        """Say something to the runner; False while there is none."""
        if not self._greeted or self._socket.state() != QLocalSocket.LocalSocketState.ConnectedState:
            return False
        self._socket.write(encode(request))
        self._socket.flush()
        return True

    def close(self) -> None:
        """End the runner and wait until it has let go of everything. One that plays a game which was started with its
        profile (``nubshift play``) is only left: it ends with that game."""
        self._closing = True
        self._retry.stop()
        ours = self._process is not None and self._process.state() != QProcess.ProcessState.NotRunning
        stays = not ours and self.status is not None and bool(self.status.launched.pid)
        told = not stays and self.send(Quit())
        if told:
            self._socket.waitForBytesWritten(500)
        process = self._process
        if process is not None and process.state() != QProcess.ProcessState.NotRunning:
            if not (told and process.waitForFinished(3000)):
                process.terminate()
            if not process.waitForFinished(3000):
                process.kill()
                process.waitForFinished(1000)
        elif told and self._socket.state() != QLocalSocket.LocalSocketState.UnconnectedState:
            self._socket.waitForDisconnected(2000)  # a runner that another window had started
        self._socket.abort()


def _without_us(programs: Programs) -> Programs:
    """The programs but for this one."""
    own = os.getpid()
    recent, running = (tuple(seen for seen in some if seen.pid != own) for some in (programs.recent, programs.running))
    return replace(programs, recent=recent, running=running)
