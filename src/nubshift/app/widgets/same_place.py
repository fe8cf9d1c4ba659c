"""Keeping the keyboard where it is while a panel is built anew: on the widget that says the same as the one before."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TypeAlias

from PyQt6 import sip
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QWidget

Looks: TypeAlias = tuple[str, str, str, str]
"""Of a widget: its kind, its name, what stands on it, and the name of what it is in."""


def _looks(widget: QWidget) -> Looks:
    parent = widget.parentWidget()
    text = widget.text() if isinstance(widget, QAbstractButton) else ""
    return type(widget).__name__, widget.accessibleName(), text, parent.accessibleName() if parent is not None else ""


@contextmanager
def same_place(within: QWidget) -> Iterator[None]:
    """Whatever had the keyboard within a widget has it afterwards too, or the one that took its place."""
    before = QApplication.focusWidget()
    if before is None or not within.isAncestorOf(before):
        yield
        return
    looks = _looks(before)
    yield
    if not sip.isdeleted(before) and before.isVisible() and before.hasFocus():
        return
    for widget in within.findChildren(type(before)):
        if widget is not before and _looks(widget) == looks and not _is_leaving(widget, within):
            _show_to(widget, within)
            widget.setFocus()
            return


def _is_leaving(widget: QWidget, within: QWidget) -> bool:
    """Whether it is on a part that was taken out, which is hidden at once and deleted later."""
    parent: QWidget | None = widget
    while parent is not None and parent is not within:
        if parent.testAttribute(Qt.WidgetAttribute.WA_WState_ExplicitShowHide) and parent.isHidden():
            return True
        parent = parent.parentWidget()
    return False


def _show_to(widget: QWidget, within: QWidget) -> None:
    """What a layout has just taken in is shown with the next event only, and nothing hidden takes the keyboard."""
    chain = [widget]
    while (parent := chain[-1].parentWidget()) is not None and parent is not within:
        chain.append(parent)
    for part in reversed(chain):
        part.show()
