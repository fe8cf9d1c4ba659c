"""What the runner tells, wherever the window shows it: its state, the controller in use, and that it is gone."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.app.client.in_use import ControllerInUse
from nubshift.app.client.link import Link
from nubshift.app.client.mirror import Mirror
from nubshift.app.controllers.coming import Coming
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.document.placement import FingerPlacement
from nubshift.app.document.studio import Studio
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.pages_on_demand import PagesOnDemand
from nubshift.app.shell.notices import NoticeBar
from nubshift.app.shell.now_strip import NowStrip
from nubshift.app.shell.top import TopBar
from nubshift.protocol.messages import Status
from nubshift.texts import _


class RunnerShown:
    """Keeps the parts of the window at what the runner tells. `in_range`: whether the arena of Try has the keyboard."""

    def __init__(
        self,
        studio: Studio,
        link: Link,
        live: Mirror,
        in_use: ControllerInUse,
        store: ControllerStore,
        grasp: FingerPlacement,
        top: TopBar,
        notices: NoticeBar,
        map_: MapWorkspace,
        pages: PagesOnDemand,
        now: NowStrip,
        in_range: Callable[[], bool],
    ) -> None:
        self._studio, self._link, self._live, self._in_use, self._store = studio, link, live, in_use, store
        self._grasp, self._top, self._notices, self._map = grasp, top, notices, map_
        self._pages, self._now, self._in_range = pages, now, in_range
        self._coming = Coming(store, notices.offer)
        self._controller: object = None
        selection = studio.selection
        selection.seat_changed.connect(lambda: live.show_seat(selection.seat))
        selection.seat_changed.connect(self._show_controller)
        studio.document.opened.connect(self._opened)
        link.status_changed.connect(self._status)
        link.lost.connect(self._lost)
        link.gave_up.connect(self._gave_up)
        link.felt.connect(top.show_health)
        link.noticed.connect(notices.tell)
        store.changed.connect(self._controllers_changed)
        store.noticed.connect(notices.tell)

    def _opened(self) -> None:
        self._live.show_seat(self._studio.selection.seat)
        self._map.hands.focus(self._studio.selection.control)

    def _status(self, status: Status) -> None:
        self._show_controller()
        self._live.follow(status)
        self._coming.follow(status)
        self._top.show_status(status)
        self._pages.show_status(status, self._in_use.info)
        self._now.show_mode(status.live, status.withheld, self._in_range())

    def _controllers_changed(self) -> None:
        self._show_controller()
        self._top.show_status(self._link.status)

    def _show_controller(self) -> None:
        """Hands and words follow the controller in use."""
        info, selection = self._in_use.info, self._studio.selection
        shown = info and (info.id, info.controls, info.shape, info.names, self._store.labels(info))
        if shown == self._controller:
            return
        self._controller = shown
        selection.call_controls(self._store.names(info))
        self._grasp.changed.emit()
        if info is not None and info.controls and not set(selection.control.split("+")) <= {*info.controls, "dpad"}:
            selection.select(self._grasp.controls[0])
        self._map.inspector.refresh()

    def _gave_up(self, text: str) -> None:
        """The runner is not started again by itself."""
        self._notices.offer("error", text, _("Start the runner"), self._link.start_again)
        self._top.show_status(None, _("Not running"))

    def _lost(self) -> None:
        self._live.rest()
        self._top.show_status(None)
