"""A clip whose stride is longer or shorter than it was made: its path is, and its feet are held (rule 5.5)."""

from collections import OrderedDict
from dataclasses import replace

import numpy as np

from ..clip.playable import PlayableClip
from ..errors import Refusal
from ..figure import Figure
from ..moments import source
from ..performance import BodyPerformance

STRAIGHT_RADIANS = 1e-3
LEAST_WAY_METRES = 0.01
# A clip is given another stride once, and remembered with its figure.
REMEMBERED = 16


def strided(figure: Figure, body: BodyPerformance, stride: float) -> BodyPerformance:
    """A clip with so many times its path along the ground. Raises Refusal for what is no clip."""
    if stride == 1:
        return body
    if not isinstance(body, PlayableClip):
        raise Refusal(f"“{body.name}” is no clip: its stride stays as it is.")
    known: OrderedDict[tuple[int, float], tuple[PlayableClip, PlayableClip]] = figure.once(
        "clips of other strides", OrderedDict
    )
    # The clip is kept beside what it became: its id is then nobody else's.
    key = (id(body), stride)
    if key not in known:
        known[key] = (body, _strided(body, stride))
        while len(known) > REMEMBERED:
            known.popitem(last=False)
    known.move_to_end(key)
    return known[key][1]


def straight_round_metres(body: BodyPerformance) -> float | None:
    """How far a round of a straight walk goes, in the figure's own metres; none for what plays once,
    stays in place or walks in a circle."""
    if not body.is_cycle:
        return None
    begins, ends = body.travel_at(source([0.0, float(body.length_frames)]))
    metres = float(np.hypot(*(ends - begins)[:2]))
    straight = abs(float(ends[2] - begins[2])) <= STRAIGHT_RADIANS
    return metres if straight and metres >= LEAST_WAY_METRES else None


def _strided(body: PlayableClip, stride: float) -> PlayableClip:
    times = np.array([stride, stride, 1.0])
    motion = body.samples.whole()
    x, z, heading = body.clip.period
    clip = body.clip.model_copy(update={"period": (x * stride, z * stride, heading)})
    return replace(body, clip=clip, samples=motion.carried(motion.travel * times), kept=None)
