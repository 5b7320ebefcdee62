"""Where a take could be cut up: stretches in which nobody moves, and turns (proposals for beats)."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np
from scipy.ndimage import uniform_filter1d

from .. import rotation
from ..arrays import runs
from ..figure import Figure
from ..motion import Motion

# Nobody moves while the average joint turns more slowly than this, for as long as that.
_STILL_DEGREES_A_SECOND, _LEAST_STILL_SECONDS = 12.0, 0.5
# A turn: the heading changes by so much a second, and by so much in all.
_TURN_DEGREES_A_SECOND, _LEAST_TURN_DEGREES = 45.0, 40.0
_SMOOTH_SECONDS = 0.4


@dataclass(frozen=True)
class Cut:
    """Frames `[start, end)` of what is proposed as a cut."""

    start: int
    end: int
    kind: Literal["still", "turn"]


def proposed_cuts(figure: Figure, motion: Motion, rate: Fraction) -> list[Cut]:
    """Still stretches and turns of a take, in order."""
    if motion.frames < 3:
        return []
    fps = float(rate)
    reach = max(1, round(_SMOOTH_SECONDS * fps))
    # Over a few frames at a time: noise alone turns every joint from one frame to the next.
    gap = max(1, reach // 2)
    ahead = np.minimum(np.arange(motion.frames) + gap, motion.frames - 1)
    behind = np.maximum(np.arange(motion.frames) - gap, 0)
    lasts = (ahead - behind) / fps
    turned = rotation.angle_between(motion.rotations[behind], motion.rotations[ahead]).mean(axis=-1)
    calm = uniform_filter1d(np.degrees(turned) / lasts, reach) < _STILL_DEGREES_A_SECOND
    least = _LEAST_STILL_SECONDS * fps
    found = [Cut(a, e, "still") for a, e in runs(calm) if e - a >= least]
    heading = np.degrees(uniform_filter1d(motion.travel[:, 2], 2 * reach, mode="nearest"))
    turning = np.abs(np.gradient(heading) * fps) > _TURN_DEGREES_A_SECOND
    for start, end in runs(turning):
        if abs(heading[end - 1] - heading[start]) >= _LEAST_TURN_DEGREES:
            found.append(Cut(start, end, "turn"))
    return sorted(found, key=lambda cut: (cut.start, cut.kind))
