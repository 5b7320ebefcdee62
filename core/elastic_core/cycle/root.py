"""Root and body: how far the travel and the pelvis are apart over the ground (rule 5.7)."""

from dataclasses import dataclass

import numpy as np

from .. import ground
from ..arrays import Array
from ..figure import Figure
from ..motion import Motion


@dataclass(frozen=True)
class RootApart:
    """The greatest distance over the ground, in centimetres, and the frame it is at."""

    greatest_cm: float
    at: int
    mean_cm: float


def root_apart(figure: Figure, motion: Motion) -> RootApart:
    """How far the pelvis strays from the travel, beyond where it rests."""
    away = np.hypot(*_strays(figure, motion).T) * 100
    return RootApart(float(away.max()), int(away.argmax()), float(away.mean()))


def _strays(figure: Figure, motion: Motion) -> Array:
    """The root joint as its travel sees it, from its rest, x and z. [frames, 2] metres."""
    strays: Array = (motion.root_move - figure.offsets[0])[:, [0, 2]]
    return strays


def under_pelvis(figure: Figure, motion: Motion) -> Motion:
    """The same picture with its travel under the pelvis at every frame; headings stay."""
    strays = _strays(figure, motion)
    here = np.stack([strays[:, 0], strays[:, 1], np.zeros(motion.frames)], axis=-1)
    return motion.relaid(ground.compose(motion.travel, here))
