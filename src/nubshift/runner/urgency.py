"""Asks the system to let play go first, beside a game that wants the whole machine: real-time priority, or a high one.

By the limits of this process where they allow it (RLIMIT_RTPRIO, RLIMIT_NICE), else by rtkit's public D-Bus interface
(org.freedesktop.RealtimeKit1), in a thread of its own, since a bus may take its time. A real-time thread that never
rests would hold the machine up, so the kernel ends one that works for `LONGEST_BURST` without a pause (RLIMIT_RTTIME,
which rtkit demands); at half of that play gives its real-time priority back. Where nothing is granted, nothing is said
but in the doctor.
"""

from __future__ import annotations

import contextlib
import os
import resource
import signal
import threading
from types import FrameType

from nubshift.protocol.play_figures import Urgency
from nubshift.units import MILLISECOND, Micros

LONGEST_BURST: Micros = 200 * MILLISECOND
"""rtkit's own limit is this much, unless it was set up otherwise."""
LEVEL = 1
"""The lowest real-time priority: above every program that has none, below sound and the system's own."""
NICE = -11
"""What rtkit grants at most by default, and desktops give to sound."""
LOCK_PRESENT = 1 | 4
"""MCL_CURRENT and MCL_ONFAULT (linux/mman.h): what is in memory stays there, and nothing that comes later counts."""
RTKIT, RTKIT_PATH = "org.freedesktop.RealtimeKit1", "/org/freedesktop/RealtimeKit1"


class Urging:
    """Asks once, for the thread that made it. `granted` is what came of it so far."""

    def __init__(self) -> None:
        self.granted = Urgency()
        self._thread = threading.get_native_id()
        with contextlib.suppress(ValueError):  # only the main thread hears signals, and only that one plays
            signal.signal(signal.SIGXCPU, self._give_back)
        threading.Thread(target=self._ask, name="urgency", daemon=True).start()

    def _ask(self) -> None:
        found = by_limits(self._thread) or by_rtkit(self._thread)
        if found is not None:
            self.granted = found
        _keep_in_memory()

    def _give_back(self, _number: int, _frame: FrameType | None) -> None:
        """It worked for too long without a pause: it goes on as any other program does."""
        if self.granted.kind == "real-time":
            # the flag has to stay: only a privileged program may take it away
            os.sched_setscheduler(self._thread, os.SCHED_OTHER | os.SCHED_RESET_ON_FORK, os.sched_param(0))
            self.granted = Urgency("given back", self.granted.by)


def by_limits(thread: int) -> Urgency | None:
    """What the limits of this process allow for a thread of it."""
    if resource.getrlimit(resource.RLIMIT_RTPRIO)[0] >= LEVEL:
        with contextlib.suppress(OSError, ValueError):
            _limit_bursts(LONGEST_BURST)
            os.sched_setscheduler(thread, os.SCHED_RR | os.SCHED_RESET_ON_FORK, os.sched_param(LEVEL))
            return Urgency("real-time", "limits")
    if resource.getrlimit(resource.RLIMIT_NICE)[0] >= 20 - NICE:
        with contextlib.suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, thread, NICE)
            return Urgency("high", "limits")
    return None


def by_rtkit(thread: int) -> Urgency | None:
    """What rtkit grants to a thread of this process."""
    from jeepney import DBusAddress, Properties, new_method_call

    from nubshift.surroundings.bus import Bus

    try:
        bus = Bus("SYSTEM")
    except OSError:
        return None
    rtkit = DBusAddress(RTKIT_PATH, RTKIT, RTKIT)
    try:
        longest = bus.ask(Properties(rtkit).get("RTTimeUSecMax"))
        if longest is None:
            return None
        with contextlib.suppress(OSError, ValueError):
            _limit_bursts(min(LONGEST_BURST, int(longest[0][1])))
            if bus.ask(new_method_call(rtkit, "MakeThreadRealtime", "tu", (thread, LEVEL))) is not None:
                return Urgency("real-time", "rtkit")
        if bus.ask(new_method_call(rtkit, "MakeThreadHighPriority", "ti", (thread, NICE))) is not None:
            return Urgency("high", "rtkit")
    finally:
        bus.close()
    return None


def _limit_bursts(longest: Micros) -> None:
    """Let no real-time thread of this process work for longer than this without a pause."""
    hard = resource.getrlimit(resource.RLIMIT_RTTIME)[1]
    if hard == resource.RLIM_INFINITY or hard > longest:
        hard = longest
    resource.setrlimit(resource.RLIMIT_RTTIME, (hard // 2, hard))


def _keep_in_memory() -> None:
    """Where there is no limit on that, what is in memory now stays there; with a limit a later need could fail."""
    if resource.getrlimit(resource.RLIMIT_MEMLOCK)[0] == resource.RLIM_INFINITY:
        import ctypes

        ctypes.CDLL(None, use_errno=True).mlockall(LOCK_PRESENT)
