"""What small values are made of."""

from __future__ import annotations

from msgspec import Struct


class Record(Struct, frozen=True):
    """A value: equal to what has the same parts, and never changed.

    Defined in a fortieth of the time of a data class, which every start pays. A class of the compiled modules has to
    inherit it from here: mypyc does not hand on what stands beside the bases, as `frozen`.
    """
