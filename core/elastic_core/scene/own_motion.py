"""A figure's motion in its own metres: its lanes over each other, its fix lanes among them (rule 5.6)."""

import numpy as np

from ..arrays import Index
from ..moments import LaneTime
from ..motion import Motion
from .clock import Asked
from .cues import covered
from .document import JointExposure
from .fixing import fixed
from .held import poses_of
from .layers import Layer, layers_at, masked, weights_at
from .laying import blank, laid, mix, put, resting, take_joints
from .staged import StagedFigure


def unsized_at(stage: StagedFigure, asked: Asked, *, holds: bool = True) -> Motion:
    """A figure's lanes from the lowest up at these moments (rule 5.6), in its own metres. Without `holds`
    no feet are held."""
    if stage.lanes:
        motion = blank(stage, len(asked))
        layers = layers_at(stage.lanes, asked)
    else:
        motion = resting(stage, np.array(stage.member.mark), len(asked))
        layers = []
    for place, lane in enumerate(stage.lanes, start=1):
        for layer in (layer for layer in layers if layer.lane is lane):
            own = _layer_poses(stage, layer, asked, is_lowest=place == 1, holds=holds)
            if layer.covers:
                put(motion, layer.places, own)
                continue
            weight = weights_at(lane.lane, layer.time)
            mix(motion, layer.places, own, weight, masked(stage.figure, lane.lane))
        _fix(stage, place, asked, motion)
    if not stage.lanes:
        _fix(stage, 0, asked, motion)
    return motion


def _layer_poses(
    stage: StagedFigure, layer: Layer, asked: Asked, *, is_lowest: bool, holds: bool
) -> Motion:
    """What a lane plays at the moments that need it, each joint and its place on the ground on their
    exposures (rule 1.8)."""
    poses = poses_of if holds else laid
    own = poses(stage, layer.lane, layer.time, gaps=is_lowest)
    # Moments of a lane's time are asked for as they are laid: nothing is held there.
    for group in layer.lane.lane.joint_exposures if asked.clock is None else ():
        clock = layer.lane.clock.at_exposure(group.exposure)
        time = LaneTime(asked.on(clock)[layer.places])
        shown = np.arange(len(time))
        if not is_lowest:
            shown = np.flatnonzero(covered(layer.lane.lane, time))
        held = poses(stage, layer.lane, LaneTime(time[shown]), gaps=is_lowest)
        take_joints(own, shown, held, _joints(stage, group))
    along = layer.lane.lane.place_exposure
    if along is not None and asked.clock is None:
        time = LaneTime(asked.on(layer.lane.clock.at_exposure(along))[layer.places])
        shown = (
            np.arange(len(time)) if is_lowest else np.flatnonzero(covered(layer.lane.lane, time))
        )
        moved = poses(stage, layer.lane, LaneTime(time[shown]), gaps=is_lowest)
        own.travel[shown] = moved.travel
    return own


def _joints(stage: StagedFigure, group: JointExposure) -> Index:
    """The joints of a group by their places; names that the figure lacks are passed over."""
    names = stage.figure.names
    wanted = set(group.joints)
    return np.array([k for k, name in enumerate(names) if name in wanted], dtype=np.intp)


def _fix(stage: StagedFigure, over: int, asked: Asked, motion: Motion) -> None:
    """Add the fix lanes that lie over so many lanes."""
    for fixes in stage.fixes:
        if fixes.over == over:
            fixed(stage.figure, fixes.lane.fixes or (), asked.on(fixes.clock), motion)
