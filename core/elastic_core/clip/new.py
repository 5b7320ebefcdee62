"""New clips: from blank paper, from a pose, or from a run of motion, baked exactly."""

import numpy as np

from .. import ground
from ..arrays import Array
from ..clip.document import Clip
from ..clock import Rate
from ..colour import Colour
from ..curve import Beyond, Curve
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion
from .edits.base import LONGEST_CLIP_FRAMES, MOST_KEYS, keys_on_every_frame
from .playing import keys_of


def blank(
    figure: Figure, figure_id: str, name: str, rate: Rate, length_frames: int, *, is_cycle: bool
) -> Clip:
    """Blank paper: the figure rests, with one key of its root at frame 0."""
    beyond: Beyond = "repeat" if is_cycle else "hold"
    rest = figure.offsets[0]
    keys = {
        f"root.{axis}": Curve.still(float(rest[column]), beyond)
        for column, axis in enumerate("xyz")
    }
    return Clip(
        name=name,
        figure=figure_id,
        rate=rate,
        length_frames=length_frames,
        is_cycle=is_cycle,
        keys=keys,
    )


def from_pose(figure: Figure, clip: Clip, pose: Motion) -> Clip:
    """A blank clip that begins with this pose (one frame), every joint keyed at frame 0."""
    in_place = pose.at(np.zeros(1, dtype=np.intp)).carried(np.zeros((1, 3)))
    keys = keys_of(figure, in_place, is_cycle=clip.is_cycle)
    return clip.model_copy(update={"keys": {**clip.keys, **keys}})


def baked_frames(figure: Figure, start: int, end: int) -> Array:
    """The frames `[start, end)` of what is to be baked into keys, one on each.

    Raises Refusal for a range that holds no frame, or more than the bench could open again.
    """
    frames = end - start
    most = min(LONGEST_CLIP_FRAMES, MOST_KEYS // keys_on_every_frame(figure, 1))
    if not 1 <= frames <= most:
        raise Refusal(
            f"A clip that is baked from {figure.name} has 1 to {most:,} frames, not {frames:,}."
        )
    return np.arange(start, end, dtype=np.float64)


def from_motion(
    figure: Figure, figure_id: str, name: str, rate: Rate, motion: Motion, colour: Colour
) -> Clip:
    """A clip that plays once, with a key on every frame; it starts at the origin, heading ahead.

    Raises Refusal for a length that no clip has.
    """
    if not 1 <= motion.frames <= LONGEST_CLIP_FRAMES:
        raise Refusal(f"A clip has 1 to {LONGEST_CLIP_FRAMES:,} frames.")
    start = motion.travel[0]
    from_origin = motion.moved(ground.inverse(start))
    return Clip(
        name=name,
        figure=figure_id,
        rate=rate,
        length_frames=motion.frames,
        colour=colour,
        keys=keys_of(figure, from_origin, is_cycle=False),
    )
