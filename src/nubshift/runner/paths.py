"""Where runner and app meet: the socket, in a folder that only its owner can enter."""

from __future__ import annotations

from pathlib import Path

import platformdirs

APP = "nubshift"


def runtime_folder() -> Path:
    """What lives as long as this user's session (``$XDG_RUNTIME_DIR/nubshift`` on most systems)."""
    return Path(platformdirs.user_runtime_dir(APP))


def socket_path() -> Path:
    """The socket of this user's runner."""
    return runtime_folder() / "runner.sock"


def profile_folder() -> Path:
    """Where this user's profiles are kept."""
    return Path(platformdirs.user_data_dir(APP)) / "profiles"


def rescue_folder() -> Path:
    """Where copies of edits lie that could not be saved."""
    return Path(platformdirs.user_state_dir(APP)) / "unsaved"


def demo_folder() -> Path:
    """The demo profiles, players and takes that ship with the program."""
    return Path(__file__).parent.parent / "demo"


def controllers_path() -> Path:
    """What this user keeps of their controllers."""
    return Path(platformdirs.user_data_dir(APP)) / "controllers.json"


def wirings_folder() -> Path:
    """What was taught of models, a file each, and mapping lines (``*.txt``)."""
    return Path(platformdirs.user_data_dir(APP)) / "controllers"
