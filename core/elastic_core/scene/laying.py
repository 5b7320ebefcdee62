"""A lane's poses laid into a figure's motion: gaps first, then stint by stint, joined (rule 5.2)."""

from dataclasses import replace

import numpy as np

from .. import ground, rotation
from ..anatomy import upper_body
from ..arrays import Array, Index, by_runs
from ..moments import LaneTime
from ..motion import Motion, blend
from .cues import cues
from .staged import StagedFigure, StagedLane


def laid(stage: StagedFigure, lane: StagedLane, time: LaneTime, *, gaps: bool) -> Motion:
    """What a lane plays at these moments by itself; with `gaps` also where it has no stint."""
    motion = blank(stage, len(time))
    for cue in cues(lane.lane, time, gaps=gaps):
        poses = lane.bodies[cue.stint].at(lane.source(cue)).moved(lane.placements[cue.stint])
        if cue.rests:
            poses = resting(stage, poses.travel[0], 1)
        poses = _complete(poses, stage)
        where = cue.places
        if len(cue.at) < len(where):
            poses = poses.at(np.zeros(len(where), dtype=np.intp))
        if not cue.joined.size:
            put(motion, where, poses)
            continue
        # What already lies there is the outgoing stint, itself joined to what came before it.
        overlap = where[cue.joined]
        leaving, coming = motion.at(overlap), poses.at(cue.joined)
        handed = blend(leaving, coming, cue.weight)
        if cue.upper is not None:
            _take_over(handed, blend(leaving, coming, cue.upper), upper_body(stage.figure))
        put(motion, where, poses)
        put(motion, overlap, handed)
    return motion


def put(motion: Motion, places: Index, poses: Motion) -> None:
    """Set these places of a motion to other poses."""
    where = _as_slice(places)
    motion.travel[where] = poses.travel
    motion.root_move[where] = poses.root_move
    motion.rotations[where] = poses.rotations
    for joint, move in motion.moves.items():
        move[where] = poses.moves[joint]
    for joint, scale in motion.scales.items():
        scale[where] = poses.scales[joint]


def mix(motion: Motion, places: Index, over: Motion, weight: Array, joints: Index) -> None:
    """Mix poses into a motion at these places, by a weight [n] and only for these joints. What they leave
    alone stays as it is, to the bit."""
    whole = weight >= 1
    share = weight[:, None]
    for joint in joints.tolist():
        below, above = motion.rotations[places, joint], over.rotations[:, joint]
        turned = rotation.slerp(below, above, weight)
        turned[whole] = above[whole]
        motion.rotations[places, joint] = turned
        for own, theirs in ((motion.moves, over.moves), (motion.scales, over.scales)):
            if joint in own:
                under = own[joint][places]
                own[joint][places] = under + (theirs[joint] - under) * share
    if 0 in joints:
        motion.travel[places] = ground.blend(motion.travel[places], over.travel, weight)
        under = motion.root_move[places]
        motion.root_move[places] = under + (over.root_move - under) * share


def take_joints(motion: Motion, places: Index, other: Motion, joints: Index) -> None:
    """Give these joints at some places what they have in another motion, the root with where it stands."""
    for joint in joints:
        motion.rotations[places, joint] = other.rotations[:, joint]
        for own, theirs in ((motion.moves, other.moves), (motion.scales, other.scales)):
            if joint in own and joint in theirs:
                own[int(joint)][places] = theirs[int(joint)]
    if 0 in joints:
        motion.travel[places] = other.travel
        motion.root_move[places] = other.root_move


def _take_over(motion: Motion, other: Motion, joints: Index) -> None:
    """Give these joints what they have in another motion of as many frames."""
    motion.rotations[:, joints] = other.rotations[:, joints]
    for joint in set(joints.tolist()):
        for own, theirs in ((motion.moves, other.moves), (motion.scales, other.scales)):
            if joint in own:
                own[joint][:] = theirs[joint]


def blank(stage: StagedFigure, frames: int) -> Motion:
    """Room for so many frames of a figure, to be laid full."""
    return Motion(
        np.empty((frames, 3), order="F"),
        np.empty((frames, 3), order="F"),
        np.empty((frames, len(stage.figure.joints), 4), order="F"),
        {joint: np.empty((frames, 3), order="F") for joint in stage.moved},
        {joint: np.empty((frames, 3), order="F") for joint in stage.scaled},
    )


def resting(stage: StagedFigure, mark: Array, frames: int) -> Motion:
    """The pose that a figure rests in, on a mark."""
    rest = stage.rest.moved(mark)
    return rest.at(np.zeros(frames, dtype=np.intp))


def _complete(motion: Motion, stage: StagedFigure) -> Motion:
    """Give every moved joint a move, and every scaled one a scale: as it rests where this clip leaves
    it alone."""
    missing = stage.moved - set(motion.moves)
    plain = stage.scaled - set(motion.scales)
    if not missing and not plain:
        return motion
    frames, offsets = motion.frames, stage.figure.offsets
    still = {joint: by_runs(np.tile(offsets[joint], (frames, 1))) for joint in missing}
    unscaled = {joint: np.ones((frames, 3), order="F") for joint in plain}
    return replace(motion, moves={**motion.moves, **still}, scales={**motion.scales, **unscaled})


def _as_slice(places: Index) -> slice | Index:
    """Neighbouring places as a slice: copying a run is much faster than scattering one."""
    first, last = int(places[0]), int(places[-1])
    return slice(first, last + 1) if last - first + 1 == len(places) else places
