"""A part of what a recipe made, as a clip of its own."""

import numpy as np

from .. import ground
from ..clip.playable import PlayableClip
from ..clip.playing import playable_of
from ..errors import Refusal
from .clean import Cleaned
from .thin import Tolerance, thinned


def part_of(done: Cleaned, start: int, end: int, name: str) -> PlayableClip:
    """Frames `[start, end)` of the result as a clip that starts at its own origin; of keys, where the result
    has keys: thinned anew to the error that it has, so that both ends are keyed.

    Raises Refusal for a range that holds no frame of it.
    """
    if not 0 <= start < end <= done.motion.frames:
        raise Refusal(f"The result has frames 0 to {done.motion.frames - 1}.")
    motion = done.motion.at(np.arange(start, end))
    motion = motion.moved(ground.inverse(motion.travel[0]))
    plants = tuple(
        plant.model_copy(
            update={"start": max(plant.start - start, 0.0), "end": min(plant.end, end) - start}
        )
        for plant in done.clip.plants
        if plant.start < end and plant.end > start
    )
    clip = done.clip.model_copy(
        update={
            "name": name,
            "length_frames": end - start,
            "plants": plants,
            "keys": {},
            "motion": "motion",
        }
    )
    if not done.clip.is_keyed or end - start < 2:
        bare = tuple(plant.model_copy(update={"held": False}) for plant in plants)
        return PlayableClip(clip.model_copy(update={"plants": bare, "motion": ""}), motion)
    tolerance = _tolerance(done)
    keyed = clip.model_copy(update={"motion": ""})
    keys = thinned(done.figure, motion, keyed, tolerance).keys
    return playable_of(done.figure, keyed.model_copy(update={"keys": keys}))


def _tolerance(done: Cleaned) -> Tolerance:
    report = next(report for report in done.reports if report.step == "thin")
    degrees, cm = report.said["tolerance_degrees"], report.said["tolerance_cm"]
    assert isinstance(degrees, float)
    assert isinstance(cm, float)
    return Tolerance(degrees, cm)
