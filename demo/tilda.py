"""Tilda, who keeps the ferry: other joints than Odo's, shorter legs, a braid, and a lantern for a pole."""

from fractions import Fraction

import numpy as np

from elastic_core import rotation
from elastic_core.channels import AXES, turns_of
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import StartWalk
from elastic_core.clip.new import blank
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import playable_of
from elastic_core.curve import Curve
from elastic_core.cycle.starter import preset
from elastic_core.figure import Figure

LENGTH_FRAMES = 20


def brisk_clip(figure: Figure, figure_id: str) -> PlayableClip:
    """How she walks: quick and light, one arm swinging, the lantern still in the other hand."""
    gait = preset("amble", figure).model_copy(
        update={
            "frames_per_step": LENGTH_FRAMES // 2,
            "bounce_metres": 0.034,
            "lean_degrees": 3.0,
            "arm_swing_degrees": 38.0,
            "foot_lift_metres": 0.09,
            "arms": "right",
        }
    )
    empty = blank(figure, figure_id, "Brisk", Fraction(24), LENGTH_FRAMES, is_cycle=True)
    clip = edit_clip(Made(empty, figure), StartWalk(gait=gait)).clip
    keys = {**clip.keys, **_lantern_arm(figure)}
    return playable_of(figure, clip.model_copy(update={"colour": "rose", "keys": keys}))


def _lantern_arm(figure: Figure) -> dict[str, Curve]:
    """Her left arm, held forward and out; the lantern hangs straight down from it."""
    forward, out, bent = -22.0, 16.0, -52.0
    hangs = rotation.from_axes("XZ", np.array([[-forward - bent, -out]]))
    lantern = turns_of(figure, figure.place_of("lantern"), hangs)[0]
    turns = {
        "upper_arm_l": (forward, 0.0, out),
        "forearm_l": (bent, 0.0, 0.0),
        "lantern": tuple(lantern.tolist()),
    }
    return {
        f"{joint}.turn.{axis}": Curve.still(degrees, "repeat")
        for joint, values in turns.items()
        for axis, degrees in zip(AXES, values, strict=True)
    }
