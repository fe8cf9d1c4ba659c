"""Modules loaded when they are needed, and quickly.

One that a library imports for a few who need it is loaded when somebody does. `importlib.util.LazyLoader` does not
help: what it makes is loaded by the second ``import`` of it.
"""

from __future__ import annotations

import gc
import importlib
import sys
from types import ModuleType
from typing import Any


class _Later(ModuleType):
    """Stands for a module until something of it is used, and hands on what is asked of it from then on."""

    def __getattr__(self, name: str) -> Any:
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        return getattr(importlib.import_module(self.__name__), name)


def load_later(name: str) -> None:
    """Let ``import name`` cost nothing until something of the module is used. One that is loaded stays so."""
    sys.modules.setdefault(name, _Later(name))


def loaded(module: str) -> Any:
    """A module and all that it needs. It stays, so that looking for garbage meanwhile would be in vain."""
    load_later("asyncio")  # evdev imports it for readers of another kind: a tenth of the start
    gc.disable()
    try:
        return importlib.import_module(module)
    finally:
        gc.enable()
