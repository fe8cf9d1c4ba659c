"""A compositor without a screen, natively: sway with its headless backend, as an ordinary user (it refuses to be root)."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

from nubshift.desktop.wayland.finding import compositor as compositor_answers
from standins.game import TOOLS, Game
from standins.waiting import PATIENCE, wait_until

USER = "nubshift-test"
CONFIG = """
output HEADLESS-1 resolution 1280x800
default_border none
focus_follows_mouse no
exec printenv DISPLAY > {folder}/display
{more}
"""


def why_no_compositor() -> str:
    """Why none can be started here, empty if one can."""
    missing = [name for name in ("sway", "grim", "Xwayland", "xhost") if shutil.which(name) is None]
    if missing:
        return f"not installed: {', '.join(missing)}"
    if os.getuid() != 0:
        return ""
    try:
        pwd.getpwnam(USER)
    except KeyError:
        made = subprocess.run(["useradd", "--system", "--no-create-home", USER], capture_output=True, check=False)
        if made.returncode not in (0, 9):  # 9: another worker made it
            return f"sway refuses to be root, and no other user could be made: {made.stderr.decode()}"
    return ""


class Compositor:
    """One that runs. `folder` is its runtime folder, `address` the path of its socket; `environment`: more of it."""

    def __init__(self, folder: Path, more: str = "", environment: Mapping[str, str] | None = None) -> None:
        self.folder, self.address = folder, str(folder / "wayland-1")
        self._as_user: list[str] = []
        self._own = environment or {}
        config = folder / "config"
        config.write_text(CONFIG.format(folder=folder, more=more))
        self._start()

    def _start(self) -> None:
        environment = {
            "PATH": os.environ["PATH"],
            "XDG_RUNTIME_DIR": str(self.folder),
            "WLR_BACKENDS": "headless",
            "WLR_RENDERER": "pixman",
            "WLR_LIBINPUT_NO_DEVICES": "1",
            **self._own,
        }
        if os.getuid() == 0:
            user = pwd.getpwnam(USER)
            for path in (self.folder, self.folder / "config"):
                os.chown(path, user.pw_uid, user.pw_gid)
            self._as_user = ["setpriv", "--reuid", USER, "--regid", str(user.pw_gid), "--clear-groups"]
        words = [*self._as_user, "sway", "-c", str(self.folder / "config")]
        with (self.folder.parent / f"{self.folder.name}.log").open("ab") as log:
            self.process = subprocess.Popen(words, env=environment, stdout=log, stderr=log)
        wait_until(lambda: os.path.exists(self.address) and self.sway_socket, "sway is at work", 0.02)

    @property
    def sway_socket(self) -> str:
        """Where sway itself is asked."""
        found = sorted(self.folder.glob("sway-ipc.*.sock"))
        return str(found[-1]) if found else ""

    @property
    def display(self) -> str:
        """Of its X server, which starts when it is asked for, and lets only its own user in."""
        said = self.folder / "display"
        wait_until(lambda: said.exists() and said.read_text().strip(), "it says where its X server is")
        found = said.read_text().strip()
        who = pwd.getpwuid(os.getuid()).pw_name
        words = [*self._as_user, "xhost", f"+si:localuser:{who}"]
        subprocess.run(words, env=os.environ | {"DISPLAY": found}, check=True, stdout=subprocess.DEVNULL)
        return found

    @property
    def environment(self) -> dict[str, str]:
        """What a program of this session has in its environment. Its runtime folder is its own, not the compositor's,
        which is another user's: there is no sway to be found in it."""
        return {"WAYLAND_DISPLAY": self.address, "XDG_SESSION_TYPE": "wayland"}

    def tell(self, *command: str) -> None:
        """Have sway do something (sway(5))."""
        subprocess.run(["swaymsg", "-s", self.sway_socket, *command], check=True, stdout=subprocess.DEVNULL)

    def picture(self, path: Path) -> None:
        """What is on its screen, as a PNG file."""
        subprocess.run(["grim", str(path)], check=True, env=os.environ | self.environment)

    def end(self) -> None:
        """It goes, by a crash as far as its clients can tell; so that nothing of its X server is left either."""
        self.process.kill()
        self.process.wait(PATIENCE)
        said = self.folder / "display"
        number = said.read_text().strip().removeprefix(":") if said.exists() else ""
        for left in (f"/tmp/.X{number}-lock", f"/tmp/.X11-unix/X{number}") if number else ():
            Path(left).unlink(missing_ok=True)
        for path in self.folder.iterdir():
            if path.name != "config":
                path.unlink()

    def restart(self) -> None:
        """Another one in the same place."""
        self.end()
        self._start()


class WaylandGame(Game):
    """The plain Wayland client that stands for a game (tools/wayland_game.py)."""

    def __init__(self, session: Compositor, app: str = "gamery", title: str = "A game", *words: str) -> None:
        command = [sys.executable, str(TOOLS / "wayland_game.py"), app, title, *words]
        self.begin(command, os.environ | session.environment, "shown")


@contextmanager
def compositor(more: str = "", environment: Mapping[str, str] | None = None) -> Iterator[Compositor]:
    """A compositor in a folder of its own; its path is short, as those of sockets must be."""
    with tempfile.TemporaryDirectory(prefix="ns-") as name:
        folder = Path(name) / "run"
        os.chmod(name, 0o755)
        folder.mkdir(mode=0o700)
        found = Compositor(folder, more, environment)
        try:
            yield found
        finally:
            found.end()


@contextmanager
def weston() -> Iterator[str]:
    """A compositor that differs: no layer shell, no list of windows, no seat, nothing to send through. Its address."""
    with tempfile.TemporaryDirectory(prefix="ns-") as folder:
        words = ["weston", "--backend=headless-backend.so", "--socket=weston", "--width=1280", "--height=800"]
        environment = {"PATH": os.environ["PATH"], "XDG_RUNTIME_DIR": folder, "HOME": folder}
        process = subprocess.Popen(words, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        try:
            address = f"{folder}/weston"
            wait_until(lambda: compositor_answers({"WAYLAND_DISPLAY": address}), "weston is at work", 0.02)
            yield address
        finally:
            process.terminate()
            process.wait(PATIENCE)
