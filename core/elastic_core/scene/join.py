"""Joins: how one stint hands over to the next (rule 5.2)."""

import numpy as np

from ..arrays import Array
from ..easing import smooth
from ..moments import LaneTime
from .document import JoinShape, Stint
from .timing import last_frame

# A round of a walk or a run has a left step and a right one.
STEPS_A_ROUND = 2
# Halves, quarters and eighths of an overlap are looked at exactly.
_LOOKED_AT = 257


def shaped(share: Array, shape: JoinShape) -> Array:
    """The incoming stint's weight at each share (0…1) of the overlap."""
    share = np.clip(share, 0.0, 1.0)
    if shape == "even":
        return share
    if shape == "early":
        return 1 - (1 - share) ** 3
    if shape == "late":
        return share**3
    return smooth(share)


def incoming_weight(outgoing: Stint, incoming: Stint, time: LaneTime) -> Array:
    """0 before the overlap, 1 from its end on."""
    length = outgoing.end - incoming.start
    if length <= 0:
        return np.where(time >= incoming.start, 1.0, 0.0)
    return shaped((time - incoming.start) / length, incoming.shape)


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
