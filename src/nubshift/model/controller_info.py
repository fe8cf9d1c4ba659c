"""What is known of a controller that is connected: what the runner tells the window, and the commands print."""

from __future__ import annotations

import msgspec


class ControllerInfo(msgspec.Struct, frozen=True):
    """A controller as the player knows it.

    `id` names it for ``--source`` (``sim:moss``, ``evdev:/dev/input/event7``), `key` is the piece of hardware and
    `model` its model, both the same whenever it is plugged in. `trouble` is a sentence if it can't be used as it is,
    else empty. `how` it is understood is ``taught``, ``corrected``, ``conventions``, ``line``, ``table``, ``guess`` or
    ``built-in``, and `uncertain` has a sentence for each doubt; `correction` says what is put right of its driver;
    `names` are the player's own words for its controls. `nodes` are its event nodes. `is_controller` is False for what
    was brought in by hand. `raw_inputs` are what a simulated hand can press on it. `line` is the mapping line that says
    the same, where that format has words for it. `two_sided` are the lone axes that go both ways from rest. `half` is
    which half of a pair it is, ``left`` or ``right``, and `sideways` says that it is held so.
    """

    id: str
    name: str
    controls: tuple[str, ...] = ()
    simulated: bool = False
    trouble: str = ""
    key: str = ""
    model: str = ""
    how: str = "built-in"
    uncertain: tuple[str, ...] = ()
    names: dict[str, str] = {}
    shape: str = ""
    nodes: tuple[str, ...] = ()
    rumbles: bool = False
    lights: tuple[str, ...] = ()
    battery: str = ""
    is_controller: bool = True
    raw_inputs: tuple[str, ...] = ()
    line: str = ""
    correction: str = ""
    two_sided: tuple[str, ...] = ()
    half: str = ""
    sideways: bool = False
