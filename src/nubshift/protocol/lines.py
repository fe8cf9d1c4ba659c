"""Messages as lines of JSON, to the socket and from it."""

from __future__ import annotations

from functools import cache

import msgspec

from nubshift.errors import ProtocolError
from nubshift.protocol.messages import Reply, Request
from nubshift.texts import _

MAX_LINE = 16_000_000
"""Bytes; a longer line is no message of ours."""

_UNREADABLE = (msgspec.DecodeError, UnicodeDecodeError, RecursionError, OverflowError)
_encoder = msgspec.json.Encoder()


@cache
def _requests() -> msgspec.json.Decoder[Request]:
    """Built when the first is read: a runner never needs the other, a window never this one."""
    return msgspec.json.Decoder(Request)


@cache
def _replies() -> msgspec.json.Decoder[Reply]:
    return msgspec.json.Decoder(Reply)


def encode(message: Request | Reply) -> bytes:
    """A message as a line."""
    return _encoder.encode(message) + b"\n"


def decode_request(line: bytes) -> Request:
    """A line from the app. Raises ProtocolError."""
    try:
        return _requests().decode(line)
    except _UNREADABLE as error:
        raise ProtocolError(_("the message was not understood: {error}").format(error=error)) from error


def decode_reply(line: bytes) -> Reply:
    """A line from the runner. Raises ProtocolError."""
    try:
        return _replies().decode(line)
    except _UNREADABLE as error:
        raise ProtocolError(_("the message was not understood: {error}").format(error=error)) from error


class Lines:
    """Cuts a stream of bytes into lines."""

    def __init__(self) -> None:
        self._rest = b""

    def feed(self, data: bytes) -> list[bytes]:
        """The whole lines that `data` completes. Raises ProtocolError for a line longer than `MAX_LINE`."""
        *lines, self._rest = (self._rest + data).split(b"\n")
        if len(self._rest) > MAX_LINE:
            raise ProtocolError(_("a message of more than {max_line:,} bytes").format(max_line=MAX_LINE))
        return [line for line in lines if line]
