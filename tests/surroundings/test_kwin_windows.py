"""Windows of a session of KWin, by the script that it runs for us: before a stand-in that runs it as KWin does."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from nubshift.protocol.paths import runtime_folder
from nubshift.surroundings.kwin_windows import KWinWindows
from nubshift.surroundings.windows import find_windows, why_focus_is_unseen
from standins.bus import StandIn, stand_in
from standins.waiting import wait_until


@pytest.fixture(params=["5", "6"])
def kwin(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Iterator[StandIn]:
    with stand_in("kwin", request.param) as found:
        monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", found.address)
        monkeypatch.setenv("XDG_RUNTIME_DIR", str(tmp_path))
        yield found


def test_focus_titles_and_processes_are_told(kwin: StandIn) -> None:
    kwin.say("show('fen', 40, 'The fen at night')")
    windows = KWinWindows()

    def front() -> tuple[str, int, str] | None:
        windows.changed()
        seen = windows.front()
        return (seen.group, seen.pid, seen.title) if seen is not None else None

    assert front() == ("fen", 40, "The fen at night"), "at once, with what was there before"
    kwin.say("show('pond', 41, 'A pond')")
    wait_until(lambda: front() == ("pond", 41, "A pond"), "a new window is in front")
    handles = {window.group: window.handle for window in windows.windows()}
    assert len(set(handles.values())) == 2
    kwin.say("show('tray', 42, 'A panel', true)")
    kwin.say("focus('fen')")
    kwin.say("rename('fen', 'The fen by day')")
    wait_until(lambda: front() == ("fen", 40, "The fen by day"), "another title")
    assert {window.group: window.handle for window in windows.windows()} == handles, "no panels; the same windows"
    kwin.say("hide('fen')")
    wait_until(lambda: front() is None, "none is in front")
    assert [window.group for window in windows.windows()] == ["pond"]
    assert not windows.changed()
    windows.close()
    kwin.told("unloaded")
    assert not list(runtime_folder().iterdir()), "the script is not left lying about"


def test_it_is_the_way_in_its_session_and_lost_with_it(kwin: StandIn, wayland: object) -> None:
    here = {"WAYLAND_DISPLAY": wayland.address, "DBUS_SESSION_BUS_ADDRESS": kwin.address}  # type: ignore[attr-defined]
    windows = find_windows(here)
    assert isinstance(windows, KWinWindows)
    assert why_focus_is_unseen(windows) == ""
    kwin.say("leave")

    def gone() -> bool:
        try:
            windows.changed()
        except OSError:
            return True
        return False

    wait_until(gone, "KWin is gone")
    windows.close()
    with pytest.raises(OSError, match="no KWin"):
        KWinWindows()


def test_what_others_call_is_not_believed(kwin: StandIn) -> None:
    from jeepney import DBusAddress, new_method_call
    from jeepney.io.blocking import open_dbus_connection

    windows = KWinWindows()
    liar = open_dbus_connection(kwin.address)
    there = DBusAddress("/windows", windows.name, "io.github.nubshift.Windows")
    liar.send(new_method_call(there, "Windows", "s", ('[{"handle":"1","group":"lie","front":true}]',)))
    kwin.say("show('pond', 41, 'A pond')")
    wait_until(lambda: windows.changed() and windows.windows(), "the truth arrives")
    assert [window.group for window in windows.windows()] == ["pond"]
    liar.close()
    windows.close()
