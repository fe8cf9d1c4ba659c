"""The feel of a control under one set of layers, ready to use."""

from __future__ import annotations

from nubshift.events import NOTCH
from nubshift.feel.response import Response, number, response
from nubshift.model.parameters import KEY_HYSTERESIS
from nubshift.model.profile import Feel, merged_feel
from nubshift.records import Record
from nubshift.units import MILLISECOND, SECOND, Micros


class Tuning(Record, frozen=True):
    """Speeds are in counts (or wheel units) per µs at full tilt; radii in shares of the reach."""

    press_radius: float
    release_radius: float
    diagonal: float
    inner: float
    menu_radius: float
    respond: Response
    speed_x: float
    speed_y: float
    scroll: float
    across: float
    boost: float
    rise: Micros
    min_cutoff: float
    beta: float
    gyro_ratio: float
    gyro_upright: float
    gyro_threshold: float
    invert_x: float
    invert_y: float
    counts_per_degree: float


def tuning(feels: tuple[Feel | None, ...], counts_per_degree: float) -> Tuning:
    """The merged feel of a control, the newest layer's first."""
    feel = merged_feel(feels)
    radius = number(feel.key_radius)
    speed = number(feel.speed) * counts_per_degree / SECOND
    return Tuning(
        press_radius=radius,
        release_radius=radius - KEY_HYSTERESIS,
        diagonal=number(feel.diagonal),
        inner=number(feel.inner),
        menu_radius=number(feel.menu_radius),
        respond=response(feel),
        speed_x=speed,
        speed_y=speed / number(feel.ratio),
        scroll=number(feel.scroll_speed) * NOTCH / SECOND,
        across=number(feel.pointer_speed),
        boost=number(feel.edge_boost),
        rise=max(1, round(number(feel.edge_time) * MILLISECOND)),
        min_cutoff=number(feel.min_cutoff),
        beta=number(feel.beta),
        gyro_ratio=number(feel.gyro_ratio),
        gyro_upright=1.0 / number(feel.ratio),
        gyro_threshold=number(feel.gyro_threshold),
        invert_x=-1.0 if feel.invert_x else 1.0,
        invert_y=-1.0 if feel.invert_y else 1.0,
        counts_per_degree=counts_per_degree,
    )
