"""A figure's motion in its own metres: its lanes over each other, its fix lanes among them (rule 5.6)."""

import numpy as np

from ..moments import LaneTime
from ..motion import Motion
from .clock import LaneClock, carried
from .fixing import fixed
from .held import poses_of
from .layers import layers_at, masked, weights_at
from .laying import blank, laid, mix, put, resting
from .staged import StagedFigure


def unsized_at(stage: StagedFigure, time: LaneTime, *, holds: bool = True) -> Motion:
    """A figure's lanes from the lowest up at these moments of its clock (rule 5.6), in its own metres.
    Without `holds` no feet are held."""
    clock = stage.clock
    if stage.lanes:
        motion = blank(stage, len(time))
        layers = layers_at(stage.lanes, clock, time)
    else:
        motion = resting(stage, np.array(stage.member.mark), len(time))
        layers = []
    poses = poses_of if holds else laid
    for place, lane in enumerate(stage.lanes, start=1):
        for layer in (layer for layer in layers if layer.lane is lane):
            own = poses(stage, lane, layer.time, gaps=place == 1)
            if layer.covers:
                put(motion, layer.places, own)
                continue
            weight = weights_at(lane.lane, layer.time)
            mix(motion, layer.places, own, weight, masked(stage.figure, lane.lane))
        _fix(stage, place, clock, time, motion)
    if not stage.lanes:
        _fix(stage, 0, clock, time, motion)
    return motion


def _fix(stage: StagedFigure, over: int, clock: LaneClock, time: LaneTime, motion: Motion) -> None:
    """Add the fix lanes that lie over so many lanes."""
    for fixes in stage.fixes:
        if fixes.over == over:
            own_time = carried(time, clock, fixes.clock)
            fixed(stage.figure, fixes.lane.fixes or (), own_time, motion)
