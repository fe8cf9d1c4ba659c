"""Wayland interfaces from short descriptions, for protocols that the library doesn't bring.

A message is a name, its arguments in the letters of libwayland's own ``wl_message`` (i int, u uint, f fixed, s string,
o object, n new object, a array, h file descriptor; ``?`` before one that may be null; a number in front for the version
that has it) and the interfaces of its objects, in their order.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any, TypeAlias

from pywayland.protocol_core import Argument, ArgumentType, Global, Interface, Proxy, Resource

Described: TypeAlias = tuple[str, str, *tuple[type[Interface] | None, ...]]

_TYPES = {
    "i": ArgumentType.Int,
    "u": ArgumentType.Uint,
    "f": ArgumentType.Fixed,
    "s": ArgumentType.String,
    "o": ArgumentType.Object,
    "n": ArgumentType.NewId,
    "a": ArgumentType.Array,
    "h": ArgumentType.FileDescriptor,
}


def interface(
    name: str, version: int, requests: Sequence[Described], events: Sequence[Described] = (), ends: str = "destroy"
) -> type[Interface]:
    """The interface, ready to be bound. `ends` is the request after which the object is no more."""
    made: Any = type(name, (Interface,), {"name": name, "version": version})
    made.proxy_class = type(f"{name} proxy", (Proxy,), {"interface": made})
    made.resource_class = type(f"{name} resource", (Resource,), {"interface": made})
    made.global_class = type(f"{name} global", (Global,), {"interface": made})
    for opcode, (request, signature, *objects) in enumerate(requests):
        made_objects = [
            one for one, letter in zip(objects, re.findall("[on]", signature), strict=True) if letter == "n"
        ]
        call = _request(opcode, made_objects, request == ends)
        call.__name__ = request
        made.request(*_arguments(signature, objects), version=_version(signature))(call)
        setattr(made.proxy_class, request, call)
    for opcode, (event, signature, *objects) in enumerate(events):
        post = _event(opcode)
        post.__name__ = event
        made.event(*_arguments(signature, objects), version=_version(signature))(post)
        setattr(made.resource_class, event, post)
    made._gen_c()
    return made  # type: ignore[no-any-return]


def _arguments(signature: str, objects: Sequence[type[Interface] | None]) -> list[Argument]:
    found, left = [], iter(objects)
    for mark, letter in re.findall(r"(\??)([iufsonah])", signature):
        found.append(Argument(_TYPES[letter], bool(mark), next(left) if letter in "on" else None))
    return found


def _version(signature: str) -> int | None:
    number = re.match(r"\d+", signature)
    return int(number.group()) if number else None


def _request(opcode: int, makes: Sequence[type[Interface] | None], ends: bool) -> Callable[..., Any]:
    def call(proxy: Any, *arguments: Any) -> Any:
        if makes:
            return proxy._marshal_constructor(opcode, makes[0], *arguments)
        proxy._marshal(opcode, *arguments)
        if ends:
            proxy._destroy()
        return None

    return call


def _event(opcode: int) -> Callable[..., None]:
    def post(resource: Any, *arguments: Any) -> None:
        resource._post_event(opcode, *arguments)

    return post
