"""What is off in a clip by itself, as it would be in a performance of nothing else."""

import numpy as np

from ..anatomy import legs_of
from ..arrays import Array
from ..checks import (
    Mark,
    beyond_habit,
    crossings,
    in_order,
    jumps,
    slides,
    sudden,
    sunk,
    turns_between,
)
from ..cycle.mirror import partners
from ..figure import Figure, Placed, forward
from ..foot import foot_of
from ..moments import source
from .playable import PlayableClip


def marks_of_clip(figure: Figure, playable: PlayableClip) -> list[Mark]:
    """The check strip of a clip that plays once.

    There is nothing to compare its steps with but its own: a jump is a step that neither the one before
    nor the one after explains. Its floor is where its own feet stand.
    """
    motion = playable.at(source(np.arange(playable.length_frames, dtype=np.float64)))
    placed = forward(figure, motion)
    sides = partners(figure)
    turns = np.degrees(beyond_habit(sudden(turns_between(motion.rotations)), sides))
    steps = beyond_habit(sudden(np.diff(placed.positions, axis=0)), sides)
    marks = [
        *slides(figure, placed, playable.plants, 0),
        *jumps(figure.names, turns, steps, 1),
        *crossings(figure, placed, 0),
    ]
    floor = _floor(figure, placed, playable)
    if floor is not None:
        marks += sunk(figure, placed, 0, floor)
    return in_order(marks)


def _floor(figure: Figure, placed: Placed, playable: PlayableClip) -> float | None:
    """The height that the soles stand at; nothing where no foot stands."""
    heights: list[Array] = []
    for leg in legs_of(figure):
        foot = foot_of(figure, leg)
        if foot is None:
            lowest = placed.positions[:, leg.foot, 1] - figure.at_rest.positions[0, leg.foot, 1]
        else:
            rests = np.minimum(foot.soles(figure.at_rest)[..., 1], 0.0)
            lowest = (foot.soles(placed)[..., 1] - rests).min(axis=1)
        for plant in playable.plants:
            if plant.side == leg.side:
                heights.append(lowest[int(plant.start) : int(np.ceil(plant.end))])
    every = np.concatenate(heights) if heights else np.empty(0)
    return float(np.median(every)) if every.size else None
