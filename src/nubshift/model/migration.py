"""Profiles of older versions brought up to the present one, step by step, before they are read strictly."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any


def _to_2(document: dict[str, Any]) -> dict[str, Any]:
    """Version 2 added gestures, bands, roles, belts, macros and habits; all that version 1 says means the same."""
    return {**document, "version": 2}


def _to_3(document: dict[str, Any]) -> dict[str, Any]:
    """Version 3 added pairs of commands needed together, and showing what everything does."""
    return {**document, "version": 3}


def _to_4(document: dict[str, Any]) -> dict[str, Any]:
    """Version 4 added feels that are kept by name, and stepping through them."""
    return {**document, "version": 4}


def _to_5(document: dict[str, Any]) -> dict[str, Any]:
    """Version 5 added what the game sees of the controller, its light, and the game's own rumble."""
    return {**document, "version": 5}


def _to_6(document: dict[str, Any]) -> dict[str, Any]:
    """Version 6 added notches of the wheel as keys of commands."""
    return {**document, "version": 6}


def _to_7(document: dict[str, Any]) -> dict[str, Any]:
    """Version 7 added what the mouse moves: a view or a cursor."""
    return {**document, "version": 7}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _to_2,
    2: _to_3,
    3: _to_4,
    4: _to_5,
    5: _to_6,
    6: _to_7,
}
"""By the version they start from."""


def migrated(document: dict[str, Any]) -> dict[str, Any]:
    """`document` in the newest version that is reached from its own; one of an unknown version stays as it is."""
    while isinstance(version := document.get("version"), int) and not isinstance(version, bool) and version in STEPS:
        document = STEPS[version](document)
    return document
