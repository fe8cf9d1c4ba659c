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


def with_filter_terms(feel: Any) -> Any:
    """A feel whose smoothing has the names of the filter's paper: least cut-off and beta."""
    if not isinstance(feel, dict):
        return feel
    return {{"steady": "min_cutoff", "quick": "beta"}.get(name, name): value for name, value in feel.items()}


def _each(document: dict[str, Any], name: str, change: Callable[[Any], Any]) -> dict[str, Any]:
    """`document` with each entry of a list of it changed, if it has that list."""
    found = document.get(name)
    return {**document, name: [change(entry) for entry in found]} if isinstance(found, list) else document


def _to_8(document: dict[str, Any]) -> dict[str, Any]:
    """Version 8 calls the parts of the smoothing by the terms of its filter."""

    def layer(entry: Any) -> Any:
        return _each(entry, "feel", with_filter_terms) if isinstance(entry, dict) else entry

    def variant(entry: Any) -> Any:
        return {**entry, "feel": with_filter_terms(entry.get("feel"))} if isinstance(entry, dict) else entry

    return {**_each(_each(document, "layers", layer), "variants", variant), "version": 8}


STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _to_2,
    2: _to_3,
    3: _to_4,
    4: _to_5,
    5: _to_6,
    6: _to_7,
    7: _to_8,
}
"""By the version they start from."""


def migrated(document: dict[str, Any]) -> dict[str, Any]:
    """`document` in the newest version that is reached from its own; one of an unknown version stays as it is."""
    while isinstance(version := document.get("version"), int) and not isinstance(version, bool) and version in STEPS:
        document = STEPS[version](document)
    return document
