"""Which controllers there are, which one is in use, and what happens when they come and go."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Sequence

from nubshift.devices.discovery import Monitor, connected
from nubshift.devices.kernel import probe
from nubshift.devices.port import ControllerInfo, Source, Timed
from nubshift.devices.simulated import PADS, SimulatedPad
from nubshift.errors import SourceError, SourceGone
from nubshift.runner.build import open_source
from nubshift.runner.session import earliest
from nubshift.units import MILLISECOND, Micros

AUTO = "auto"
RETRY_EVERY: Micros = 100 * MILLISECOND
RETRIES = 20
"""A node's permissions may arrive a moment after the node itself."""


class Controllers:
    """The controller of one seat, chosen from `wanted`: the first of these specs that can be had.

    ``auto`` stands for any real controller that is not `taken` by another seat, the one that has been there longest
    first. `tell` receives (severity, sentence) for the player.
    """

    def __init__(
        self,
        wanted: Sequence[str],
        tell: Callable[[str, str], None],
        now: Micros,
        taken: Callable[[], set[str]] = set,
    ) -> None:
        self.source: Source | None = None
        self._taken = taken
        self.generation = 0  # counts the changes of `known`
        self._wanted = tuple(wanted)
        self._tell = tell
        self._grab = False
        self._real: dict[str, ControllerInfo] = {}
        self._retries: dict[str, tuple[int, Micros]] = {}
        self.monitor = self._make_monitor()
        if self.monitor is not None or AUTO in wanted:
            self._real = {info.id: info for info in connected()}
        self._settle(now)

    def _make_monitor(self) -> Monitor | None:
        if not any(spec == AUTO or spec.startswith("evdev:") for spec in self._wanted):
            return None
        try:
            return Monitor()
        except OSError as error:
            self._tell("warning", f"Controllers plugged in later won't be seen: {error}")
            return None

    @property
    def known(self) -> tuple[ControllerInfo, ...]:
        """Every controller that could be chosen: real ones, then simulated ones where they were asked for."""
        simulated = [
            ControllerInfo(f"sim:{model}", pad.name, pad.controls, simulated=True)
            for model, pad in PADS.items()
            if any(spec.partition(":")[0] == "sim" for spec in self._wanted)
        ]
        return (*self._real.values(), *simulated)

    @property
    def simulated(self) -> SimulatedPad | None:
        """The simulated pad if that is the one in use."""
        return self.source if isinstance(self.source, SimulatedPad) else None

    @property
    def next_deadline(self) -> Micros | None:
        """When `read` or `retry` has something to do."""
        retry = min((due for _, due in self._retries.values()), default=None)
        return earliest(retry, self.source.next_deadline if self.source else None)

    def grab(self, on: bool) -> None:
        """Keep the controller in use from other programs, or give it back."""
        self._grab = on
        if self.source is not None:
            with contextlib.suppress(SourceGone):
                try:
                    self.source.grab(on)
                except SourceError as error:
                    if not isinstance(error, SourceGone):
                        self._tell("warning", f"{error}.")

    def choose(self, controller: str, now: Micros) -> None:
        """Use this one from now on, as long as it is there."""
        self._wanted = (controller, *(spec for spec in self._wanted if spec != controller))
        self._settle(now)

    def read(self, now: Micros) -> list[Timed]:
        """What the controller in use reported. Raises SourceGone when it was unplugged; call `gone` then."""
        return self.source.read(now) if self.source is not None else []

    def gone(self, now: Micros) -> None:
        """The controller in use is gone: go on with another one that is wanted, if there is one."""
        if self.source is not None:
            self._real.pop(self.source.info.id, None)
            self._close()
        self._settle(now)

    def hotplug(self, now: Micros) -> bool:
        """Take in what came and went; returns whether anything did."""
        changes = self.monitor.read() if self.monitor is not None else []
        for change in changes:
            self._retries.pop(change.path, None)
            if change.added:
                self._add(change.path, 0, now)
            else:
                self._real.pop(f"evdev:{change.path}", None)
        if changes:
            self._settle(now)
        return bool(changes)

    def retry(self, now: Micros) -> bool:
        """Look again at nodes that could not be opened yet; returns whether one is new."""
        due = [path for path, (_, at) in self._retries.items() if at <= now]
        before = dict(self._real)
        for path in due:
            tries, _ = self._retries.pop(path)
            self._add(path, tries + 1, now)
        if self._real != before:
            self._settle(now)
        return self._real != before

    def _add(self, path: str, tries: int, now: Micros) -> None:
        info = probe(path)
        if info is None or not info.trouble:
            if info is not None:
                self._real[info.id] = info
        elif tries < RETRIES:
            self._retries[path] = (tries, now + RETRY_EVERY)

    def _settle(self, now: Micros) -> None:
        """Open the first wanted controller that can be had, unless it is open already."""
        self.generation += 1
        for spec in self._wanted:
            for candidate in self._free() if spec == AUTO else [spec]:
                if self.source is not None and self._is(candidate, self.source):
                    return
                if candidate.startswith("evdev:") and spec != AUTO and candidate not in self._real:
                    continue
                if self._open(candidate, now):
                    return
        self._close()

    def _free(self) -> list[str]:
        """Real controllers that can be used and are not used in another seat."""
        taken = self._taken()
        return [info.id for info in self._real.values() if not info.trouble and info.id not in taken]

    @staticmethod
    def _is(spec: str, source: Source) -> bool:
        return spec == source.info.id or spec.startswith(f"{source.info.id}:")

    def _open(self, spec: str, now: Micros) -> bool:
        try:
            source = open_source(spec, now)
        except SourceError as error:
            self._tell("error", f"{error}.")
            return False
        self._close()
        self.source = source
        self.grab(self._grab)
        return True

    def _close(self) -> None:
        if self.source is not None:
            self.source.close()
            self.source = None

    def close(self) -> None:
        """Let go of the controller in use."""
        self._close()
