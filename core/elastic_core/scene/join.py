"""Joins: how one stint hands over to the next, and where each stands on the ground (5.2, 5.3)."""

from collections.abc import Callable

import numpy as np

from .. import ground
from ..arrays import Array
from ..clip import Material
from .document import JoinShape, Lane, Scene, Stint
from .timing import last_frame, source_at


def shaped(share: Array, shape: JoinShape) -> Array:
    """The incoming stint's weight at each share (0…1) of the overlap."""
    share = np.clip(share, 0.0, 1.0)
    if shape == "even":
        return share
    if shape == "early":
        return 1 - (1 - share) ** 3
    if shape == "late":
        return share**3
    return share * share * (3 - 2 * share)


def incoming_weight(outgoing: Stint, incoming: Stint, time: Array) -> Array:
    """0 before the overlap, 1 from its end on."""
    length = outgoing.end - incoming.start
    if length <= 0:
        return np.where(time >= incoming.start, 1.0, 0.0)
    return shaped((time - incoming.start) / length, incoming.shape)


def meeting_time(outgoing: Stint, incoming: Stint) -> tuple[float, float]:
    """When the two roots are laid on each other: (outgoing's time, incoming's time).

    In an overlap its middle; at a cut the cut itself; over a gap the last pose that showed.
    """
    if outgoing.end >= incoming.start:
        middle = (incoming.start + outgoing.end) / 2
        return middle, middle
    return last_frame(outgoing.end), incoming.start


TravelAt = Callable[[float], Array]


def placements(
    scene: Scene, material: Material, lane: Lane, below: TravelAt | None = None
) -> list[Array]:
    """The ground placement of every stint of a lane [3], in order.

    A chained stint carries on from the one before: the incoming root takes the outgoing root's
    position and heading where they meet. The first one starts from the figure's mark. On a lane that
    lies over others, `below` tells where the figure stands under it; a stint with nothing right
    before it starts from there.
    """
    mark = np.array(scene.figure(lane.figure).mark)
    placed: list[Array] = []
    for place, stint in enumerate(lane.stints):
        playable = material.clip(stint.clip)
        if stint.nailed is not None:
            placed.append(np.array(stint.nailed))
            continue
        before = lane.stints[place - 1] if place else None
        if below is not None and (before is None or before.end < stint.start):
            reference, time = below(stint.start), stint.start
        elif before is None:
            reference, time = mark, stint.start
        else:
            leaving, time = meeting_time(before, stint)
            outgoing = material.clip(before.clip)
            source = source_at(scene, outgoing.clip, before, leaving)
            reference = ground.compose(placed[-1], outgoing.travel_at(source))
        arriving = playable.travel_at(source_at(scene, playable.clip, stint, time))
        placed.append(ground.compose(reference, ground.inverse(arriving)))
    return placed
