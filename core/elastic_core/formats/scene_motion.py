"""A figure's motion in a scene, over a range of its shown frames: what goes out to other tools."""

import numpy as np

from ..errors import Refusal
from ..motion import Motion
from ..scene.document import Scene
from ..scene.evaluate import figure_motion
from ..scene.material import Material


def scene_motion(
    scene: Scene,
    material: Material,
    figure_id: str,
    start: int | None = None,
    end: int | None = None,
) -> Motion:
    """Frames `[start, end)`, numbered as the scene shows them; the whole scene without them.

    Raises Refusal for a range outside the scene.
    """
    member = scene.figure(figure_id)
    first = scene.first_frame
    last = first + scene.played_frames
    start, end = (first if start is None else start), (last if end is None else end)
    if not first <= start < end <= last:
        raise Refusal(f"The range {start} to {end - 1} is not inside {first} to {last - 1}.")
    frames = np.arange(start - first, end - first, dtype=np.float64)
    return figure_motion(scene, material, member, frames)
