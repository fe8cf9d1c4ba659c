"""What follows the events of a node, by what the node is for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nubshift.devices.codes import AxisRange
from nubshift.devices.decode import Decoder
from nubshift.devices.frames import Half, frame_of
from nubshift.devices.node_reader import NodeReader
from nubshift.devices.nodes import Node, NodeUse
from nubshift.devices.senses import DotsSense, MotionSense, TouchSense
from nubshift.model.controller_setup import InputMapping


def reader_for(
    node: Node, inputs: Sequence[InputMapping], axes: Mapping[int, AxisRange], held: Half = ""
) -> NodeReader:
    """The reader of a node whose axes stand like this.

    `inputs` are those of a node that is played on, `held` says which half a motion node is on, if held sideways.
    """
    match node.use:
        case NodeUse.MOTION:
            return MotionSense(axes, frame_of(node.driver, node.name), held)
        case NodeUse.TOUCH:
            return TouchSense(axes)
        case NodeUse.POINTER:
            return DotsSense(axes)
        case _:
            return Decoder(inputs, axes)
