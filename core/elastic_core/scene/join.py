"""Joins: how one stint hands over to the next (rule 5.2)."""

import numpy as np

from ..arrays import Array
from ..easing import smooth
from ..moments import LaneTime
from .document import JoinShape, JoinSlopes, Stint
from .timing import last_frame

# A round of a walk or a run has a left step and a right one.
STEPS_A_ROUND = 2
# Halves, quarters and eighths of an overlap are looked at exactly.
_LOOKED_AT = 257


def shaped(share: Array, shape: JoinShape, slopes: JoinSlopes = (0.0, 0.0)) -> Array:
    """The incoming stint's weight at each share (0…1) of the overlap; `slopes` are those of a free one at
    its start and its end."""
    share = np.clip(share, 0.0, 1.0)
    if shape == "free":
        start, end = slopes
        square, cube = share**2, share**3
        weight: Array = (
            start * (cube - 2 * square + share) + 3 * square - 2 * cube + end * (cube - square)
        )
        return weight
    if shape == "even":
        return share
    if shape == "early":
        return 1 - (1 - share) ** 3
    if shape == "late":
        return share**3
    return smooth(share)


def incoming_weight(outgoing: Stint, incoming: Stint, time: LaneTime) -> Array:
    """0 before the overlap, 1 from its end on: for the root and the legs, and for all that has no other
    weight."""
    return _weight(outgoing, incoming, time, incoming.shape, incoming.slopes)


def upper_weight(outgoing: Stint, incoming: Stint, time: LaneTime) -> Array | None:
    """The same for the upper body; nothing where it goes with the rest."""
    if incoming.upper_shape is None:
        return None
    return _weight(outgoing, incoming, time, incoming.upper_shape, incoming.upper_slopes)


def _weight(
    outgoing: Stint, incoming: Stint, time: LaneTime, shape: JoinShape, slopes: JoinSlopes
) -> Array:
    length = outgoing.end - incoming.start
    if length <= 0:
        return np.where(time >= incoming.start, 1.0, 0.0)
    return shaped((time - incoming.start) / length, shape, slopes)


def handover_time(outgoing: Stint, incoming: Stint) -> float:
    """When the incoming stint comes to weigh as much as the outgoing one: whose feet stand then."""
    if outgoing.end <= incoming.start:
        return incoming.start
    times = np.linspace(incoming.start, outgoing.end, _LOOKED_AT)
    weight = incoming_weight(outgoing, incoming, LaneTime(times))
    return float(times[np.argmax(weight >= 0.5)])


def meeting_time(outgoing: Stint, incoming: Stint) -> tuple[float, float]:
    """When the two roots are laid on each other: (outgoing's time, incoming's time).

    In an overlap its middle; at a cut the cut itself; over a gap the last pose that showed.
    """
    if outgoing.end >= incoming.start:
        middle = (incoming.start + outgoing.end) / 2
        return middle, middle
    return last_frame(outgoing.end), incoming.start
