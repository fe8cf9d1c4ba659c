"""Where runner and app meet: the socket, in a folder that only its owner can enter."""

from __future__ import annotations

import os
import warnings
from pathlib import Path

import platformdirs

from nubshift.texts import _

APP = "nubshift"


def with_tilde(path: Path) -> str:
    """A path as a person reads it: from their home folder on."""
    try:
        return f"~/{path.relative_to(Path.home())}"
    except ValueError:
        return str(path)


def runtime_folder() -> Path:
    """What lives as long as this user's session: ``$XDG_RUNTIME_DIR/nubshift``, or one in /tmp if that is unusable.

    Raises PermissionError if another user has made that one.
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return Path(platformdirs.user_runtime_dir(APP))


def runtime_trouble() -> str:
    """A sentence if the runner can't be talked with here, since there is no place for its socket; else empty."""
    ask = _("XDG_RUNTIME_DIR must name a folder of yours that you may write to")
    try:
        folder = runtime_folder()
    except PermissionError as error:
        return f"{error}. {ask}"
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        return _("{folder} can't be made: {strerror}. {ask}").format(folder=folder, strerror=error.strerror, ask=ask)
    return (
        ""
        if os.access(folder, os.W_OK | os.X_OK)
        else _("{folder} can't be written to. {ask}").format(folder=folder, ask=ask)
    )


def socket_path() -> Path:
    """The socket of this user's runner."""
    return runtime_folder() / "runner.sock"


def profile_folder() -> Path:
    """Where this user's profiles are kept."""
    return Path(platformdirs.user_data_dir(APP)) / "profiles"


def automatic_path() -> Path:
    """Where the player's rules are: which profile goes with which game."""
    return Path(platformdirs.user_config_dir(APP)) / "automatic.json"


def settings_path() -> Path:
    """Where the player's settings are."""
    return Path(platformdirs.user_config_dir(APP)) / "settings.json"


def window_socket_path() -> Path:
    """The socket of this user's app, by which a second start reaches the first."""
    return runtime_folder() / "window.sock"


def rescue_folder() -> Path:
    """Where copies of edits lie that could not be saved."""
    return Path(platformdirs.user_state_dir(APP)) / "unsaved"


def demo_folder() -> Path:
    """The demo profiles, players and takes that ship with the program."""
    return Path(__file__).parent.parent / "demo"


def controllers_path() -> Path:
    """What this user keeps of their controllers."""
    return Path(platformdirs.user_data_dir(APP)) / "controllers.json"


def setups_folder() -> Path:
    """What was taught of models, a file each, and mapping lines (``*.txt``)."""
    return Path(platformdirs.user_data_dir(APP)) / "controllers"
