"""A connection to a D-Bus: asking, and hearing signals. The other files of this folder speak D-Bus through it."""

from __future__ import annotations

import contextlib
from collections import deque
from typing import Any, Literal

from jeepney import MatchRule, Message, new_method_return
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import DBusConnection, open_dbus_connection
from jeepney.wrappers import unwrap_msg

PATIENCE = 3.0
"""Seconds to wait for an answer."""


class Bus:
    """Raises OSError where no such bus answers."""

    def __init__(self, which: Literal["SYSTEM", "SESSION"], *, descriptors: bool = False) -> None:
        try:
            self._connection: DBusConnection = open_dbus_connection(
                which, enable_fds=descriptors, auth_timeout=PATIENCE
            )
        except Exception as error:  # the library has errors of many bases for a bus that is not one
            raise OSError(f"no {which.lower()} bus answers") from error
        self._heard: deque[Message] = deque()

    @property
    def name(self) -> str:
        """What the bus calls this connection."""
        return str(self._connection.unique_name)

    def ask(self, message: Message) -> tuple[Any, ...] | None:
        """The answer; None for a refusal, and where nobody answers."""
        try:
            return tuple(unwrap_msg(self._connection.send_and_get_reply(message, timeout=PATIENCE)))
        except Exception:  # a refusal, silence, or a bus that is gone: all mean that nothing is told
            return None

    def listen(self, rule: MatchRule) -> None:
        """Hear these signals from now on."""
        self._connection.filter(rule, queue=self._heard)
        self.ask(message_bus.AddMatch(rule))

    def hear_calls(self, rule: MatchRule) -> None:
        """Take these calls of others too: each wants an answer."""
        self._connection.filter(rule, queue=self._heard)

    def answer(self, call: Message) -> None:
        """Tell whoever called that it was heard. Raises OSError when the bus is gone."""
        try:
            self._connection.send(new_method_return(call))
        except Exception as error:  # of many bases
            raise OSError("the bus is gone") from error

    def fileno(self) -> int:
        """Readable when something was said."""
        return int(self._connection.sock.fileno())

    def take(self, seconds: float = 0) -> list[Message]:
        """The signals and calls heard since this was asked last; waits so long for the first.

        Raises OSError when it is gone.
        """
        with contextlib.suppress(TimeoutError):
            while not (self._heard and seconds):
                try:
                    self._connection.recv_messages(timeout=seconds)
                except TimeoutError:
                    raise
                except Exception as error:  # of many bases too
                    raise OSError("the bus is gone") from error
        found = list(self._heard)
        self._heard.clear()
        return found

    def close(self) -> None:
        """Hang up."""
        with contextlib.suppress(OSError):
            self._connection.close()
