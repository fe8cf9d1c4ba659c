"""How this program was built."""

from __future__ import annotations

from importlib.util import find_spec


def is_compiled() -> bool:
    """Whether the hot path is native (setup.py)."""
    spec = find_spec("nubshift.engine.engine")
    return spec is not None and spec.origin is not None and not spec.origin.endswith(".py")
