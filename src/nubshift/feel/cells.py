"""Cells of a divided plane: rows and columns, or slices along angles; the cell held reaches a little further (R17)."""

from __future__ import annotations

from math import hypot

from nubshift.feel.directions import angle_of


def grid_line(value: float, count: int, held: int | None, reach: float) -> int:
    """Which of `count` equal parts of [-1, 1] `value` lies in; the one `held` reaches `reach` beyond its edges.

    A part owns its lower edge.
    """
    if held is not None and held < count:
        width = 2.0 / count
        low, high = -1.0 + held * width, -1.0 + (held + 1) * width
        if low - reach <= value < high + reach:
            return held
    return min(count - 1, max(0, int((value + 1.0) * count / 2.0)))


def slice_at(angle: float, count: int, held: int | None, reach: float) -> int:
    """Which of `count` equal slices, the first centred on up, `angle` lies in; the one held reaches `reach` degrees on.

    A slice owns its counter-clockwise edge.
    """
    width = 360.0 / count
    if held is not None and held < count:
        off = abs((angle - held * width + 180.0) % 360.0 - 180.0)
        if off <= width / 2.0 + reach:
            return held
    return int(((angle + width / 2.0) % 360.0) / width) % count


def wheel_cell(
    x: float, y: float, count: int, radius: float, held: int | None, reach: float, angle: float
) -> int | None:
    """The slice that (x, y) points to, or None within `radius`; the edges yield by `reach` (length) and `angle` (°)."""
    if hypot(x, y) < (radius if held is None else radius - reach):
        return None
    return slice_at(angle_of(x, y), count, held, angle)
