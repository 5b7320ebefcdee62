"""Fix lanes: corrections at a frame, added to what lies below and faded in and out (rule 5.6)."""

from collections.abc import Iterable

import numpy as np

from .. import rotation
from ..arrays import Array
from ..easing import smooth
from ..figure import Figure
from ..moments import LaneTime, lane_time
from ..motion import Motion
from .document import Fix


def fix_weight(fix: Fix, time: LaneTime) -> Array:
    """How much of a fix shows at moments of its lane: 1 from its frame on while it stands, and smoothly
    from and to 0 over its fades. [n] → [n]"""
    before, after = fix.at - time, time - (fix.at + fix.stands_frames)
    weight = np.ones(len(time))
    for outside, fade in ((before, fix.fade_in), (after, fix.fade_out)):
        share = outside / fade if fade else np.where(outside > 0, 1.0, 0.0)
        weight *= 1 - smooth(np.clip(share, 0.0, 1.0))
    return weight


def fixed(figure: Figure, fixes: Iterable[Fix], time: LaneTime, motion: Motion) -> None:
    """Add fixes to a motion at these moments [n]; where none shows it stays as it is, to the bit."""
    for fix in fixes:
        weight = fix_weight(fix, time)
        where = np.flatnonzero(weight)
        if not where.size:
            continue
        own = weight[where]
        for joint, turn in _turns(figure, fix):
            motion.rotations[where, joint] = rotation.multiply(
                motion.rotations[where, joint], weighted(turn, own)
            )
        motion.root_move[where] += own[:, None] * np.array(fix.shift)


def weighted(turn: Array, weight: Array) -> Array:
    """So much of a turn. [4], [n] → [n, 4]"""
    still = np.broadcast_to(np.array(rotation.IDENTITY), (len(weight), 4))
    return rotation.slerp(still, np.broadcast_to(turn, still.shape), weight)


def _turns(figure: Figure, fix: Fix) -> Iterable[tuple[int, Array]]:
    """The joints that a fix turns, by their places; those that the figure lacks are passed over."""
    for name, turn in fix.turns.items():
        if name in figure.names:
            yield figure.place_of(name), np.array(turn)


def turns_after(figure: Figure, fixes: Iterable[Fix], at: float) -> Array:
    """What fixes together turn every joint by at one moment. [joints, 4]"""
    found: Array = np.tile(np.array(rotation.IDENTITY), (len(figure.joints), 1))
    for fix in fixes:
        weight = fix_weight(fix, lane_time([at]))
        for joint, turn in _turns(figure, fix):
            found[joint] = rotation.multiply(found[joint], weighted(turn, weight)[0])
    return found
