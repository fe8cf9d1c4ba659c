"""Files from anywhere: bounded before they are read, strict in what they hold, and companions put aside that can't be.

Profiles, takes, players' scripts and all that the program saves beside profiles are read through here.
"""

from __future__ import annotations

import errno
import json
import os
import re
import stat
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeAlias, TypeVar

import msgspec

from nubshift.errors import StorageError
from nubshift.texts import _

MOST_BYTES = 8_000_000
"""Of a file in JSON; nothing that a person makes comes near."""
MOST_DIGITS = 40
"""Of a whole number in JSON; what is longer is no number of ours."""

T = TypeVar("T")
Migrate: TypeAlias = Callable[[dict[str, Any]], dict[str, Any]]
"""Brings a document of an older version up to the present one."""


def read_bytes(path: Path, most: int = MOST_BYTES) -> bytes:
    """What is in an ordinary file. Raises StorageError, with FileNotFoundError as its cause where there is none.

    Pipes, devices and folders are refused before anything is read, and so is a file of more than `most` bytes.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else str(error)
        raise StorageError(_("{path}: can't be read: {reason}").format(path=path, reason=reason)) from error
    about = os.fstat(handle)
    if not stat.S_ISREG(about.st_mode):
        os.close(handle)
        raise StorageError(
            _("{path}: can't be read: this is {kind}, not a file").format(path=path, kind=_kind(about.st_mode))
        )
    with os.fdopen(handle, "rb") as file:
        try:
            data = file.read(most + 1)
        except OSError as error:
            raise StorageError(
                _("{path}: can't be read: {strerror}").format(path=path, strerror=error.strerror or error)
            ) from error
    if len(data) > most:
        size = max(about.st_size, len(data))
        raise StorageError(
            _("{path}: can't be read: it has {size:,} bytes, and such a file has at most {most:,}").format(
                path=path, size=size, most=most
            )
        )
    return data


def private_folder(path: Path) -> None:
    """Make a folder, and those it lies in, for the user alone, whatever the umask. Raises OSError."""
    missing = []
    while not path.exists():
        missing.append(path)
        path = path.parent
    for folder in reversed(missing):
        folder.mkdir(mode=0o700, exist_ok=True)


def read_text(path: Path, most: int = MOST_BYTES) -> str:
    """The text of a file in UTF-8. Raises StorageError; see `read_bytes`."""
    data = read_bytes(path, most)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise StorageError(
            _("{path}, line {line}: {not_text}").format(path=path, line=line, not_text=_not_text(data, error))
        ) from error


def _kind(mode: int) -> str:
    kinds = ((stat.S_ISDIR, _("a folder")), (stat.S_ISFIFO, _("a pipe")), (stat.S_ISSOCK, _("a socket")))
    return next((name for test, name in kinds if test(mode)), _("a device"))


def _not_text(data: bytes, error: UnicodeDecodeError) -> str:
    return _("this is not text in UTF-8 (byte 0x{data:02x})").format(data=data[error.start])


class JsonTrouble(Exception):
    """Why some bytes are not JSON as we take it; `line` and `column` where that is known, else 0."""

    def __init__(self, text: str, line: int = 0, column: int = 0) -> None:
        super().__init__(text)
        self.line, self.column = line, column


_SPACED_NAME = re.compile(rb'"\s+:')
_FAR_EXPONENT = re.compile(rb"\d[eE][+-]?\d\d\d")
"""Numbers that the quick reader takes 20 µs each for; the careful one reads them as quickly as others."""
_LONG_NUMBER = re.compile(rb"\d{%d}" % (MOST_DIGITS + 1))


def parse_json(data: bytes) -> Any:
    """The value in some JSON. Raises JsonTrouble.

    Strict: UTF-8, no name twice in one object, whole numbers of at most `MOST_DIGITS`, no endless depth.
    """
    if _FAR_EXPONENT.search(data):
        return _parsed_with_care(data)
    try:
        value = msgspec.json.decode(data)
        as_many = data.count(b'":') == msgspec.json.encode(value).count(b'":')  # a name that stands twice is lost
        if as_many and not _SPACED_NAME.search(data) and not _LONG_NUMBER.search(data):
            return value
    except (msgspec.MsgspecError, UnicodeError, RecursionError, ValueError):
        pass  # the careful reader says where and why
    return _parsed_with_care(data)


def _parsed_with_care(data: bytes) -> Any:
    try:
        text = data.decode()
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise JsonTrouble(_not_text(data, error), line, error.start - data.rfind(b"\n", 0, error.start)) from error
    try:
        return json.loads(text, object_pairs_hook=_object, parse_int=_whole, parse_constant=_constant)
    except json.JSONDecodeError as error:
        why = _("it ends too early") if error.pos >= len(text.rstrip()) else error.msg[0].lower() + error.msg[1:]
        raise JsonTrouble(_("this is not JSON: {why}").format(why=why), error.lineno, error.colno) from error
    except RecursionError as error:
        raise JsonTrouble(_("lists and objects are nested too deeply")) from error


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        twice = next(name for name, times in Counter(name for name, _unused in pairs).items() if times > 1)
        raise JsonTrouble(_('"{twice}" appears twice in one object').format(twice=twice[:60]))
    return found


def _whole(digits: str) -> int:
    if len(digits) > MOST_DIGITS:
        raise JsonTrouble(_("a number of {count:,} digits").format(count=len(digits)))
    return int(digits)


def _constant(name: str) -> float:
    raise JsonTrouble(_("{name} is not a number").format(name=name))


def parse_as(data: bytes, kind: type[T], migrate: Migrate | None = None) -> T:
    """The value of a known form in some JSON, of an older version by `migrate`. Raises JsonTrouble."""
    value = parse_json(data)
    if migrate is not None and isinstance(value, dict):
        value = migrate(value)
    try:
        return msgspec.convert(value, kind)
    except (msgspec.ValidationError, RecursionError, OverflowError) as error:
        newest = value.get("version") if isinstance(value, dict) else None
        if "version" in str(error) and isinstance(newest, int) and newest > 1:
            raise JsonTrouble(
                _("it was written by a newer Nub Shift (version {newest})").format(newest=newest)
            ) from error
        raise JsonTrouble(str(error).replace(" - at `$", " at `").replace("`", '"')) from error


def read_companion(path: Path, kind: type[T], what: str, migrate: Migrate | None = None) -> T | None:
    """A file that the program keeps beside profiles, or None where there is none; see `parse_as`.

    Raises StorageError, which says `what` it was, when it can't be understood. It is put aside then, so that it is told
    once, nothing writes over it, and everything goes on without it.
    """
    try:
        return parse_as(read_bytes(path), kind, migrate)
    except StorageError as error:
        if isinstance(error.__cause__, FileNotFoundError):
            return None
        if isinstance(error.__cause__, OSError) and error.__cause__.errno in (errno.EACCES, errno.EPERM):
            raise StorageError(_("{error}. {what} can't be used until then").format(error=error, what=what)) from error
        raise StorageError(f"{error}. {put_aside(path, what)}") from error
    except JsonTrouble as error:
        place = _("{file}, line {line}").format(file=path, line=error.line) if error.line else path
        raise StorageError(f"{place}: {error}. {put_aside(path, what)}") from error


def put_aside(path: Path, what: str) -> str:
    """Move a file out of the way; the sentence that says so, and what follows."""
    number = 1
    while True:
        aside = path.with_name(f"{path.name}.aside-{number}")
        if not aside.exists():
            break
        number += 1
    try:
        os.rename(path, aside)
    except OSError:
        return _("{what} can't be used, and play goes on without it").format(what=what)
    return _("It was moved to {name}, and play goes on without it").format(name=aside.name)


def stamp(path: Path) -> object:
    """What changes when a file does; None where there is none."""
    try:
        about = path.stat()
    except OSError:
        return None
    return about.st_mtime_ns, about.st_size, about.st_ino
