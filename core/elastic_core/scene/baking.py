"""Bake: what an elastic gives, as a clip of its own with a key on each whole frame (rule 6.1)."""

import numpy as np

from ..clip.document import Clip
from ..clip.new import baked_frames
from ..clip.playing import keys_of
from ..errors import Refusal
from ..moments import lane_time
from .document import Scene, Stint
from .fitting import body_for
from .material import Material
from .planted import plants_of
from .timing import conform, source_of


def baked_length(stint: Stint) -> int:
    """How many frames of a stint are baked: one more than it plays, as the next one is laid on its end."""
    return max(1, int(np.ceil(stint.length_frames - 1e-6))) + 1


def baked(scene: Scene, material: Material, stint_id: str, name: str) -> Clip:
    """A stint as a clip of the figure that plays it, at the scene's rate: what is bent, fitted or stretched
    about it is so in its keys. It stands where it stood, so that it takes the stint's place unseen.

    Raises Refusal for a stint of drawings, and for one that is longer than a clip can be.
    """
    lane, stint = scene.find(stint_id)
    if lane.target.kind != "body":
        raise Refusal("Only what moves a figure's body can be baked.")
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    body = body_for(material, member, stint)
    frames = baked_frames(figure, 0, baked_length(stint))
    ratio = conform(body, scene)
    motion = body.at(source_of(stint, ratio, lane_time(stint.start + frames)))
    # Its feet stand as they do: held once more in the clip they would be moved again.
    plants = tuple(
        plant.model_copy(
            update={
                "start": plant.start - stint.start,
                "end": plant.end - stint.start,
                "held": False,
            }
        )
        for plant in plants_of(body, stint, ratio)
        if plant.end > stint.start and plant.start < stint.end
    )
    return Clip(
        name=name,
        figure=member.figure,
        rate=scene.rate,
        length_frames=len(frames),
        colour=stint.colour or body.colour,
        keys=keys_of(figure, motion, is_cycle=False),
        plants=plants,
    )
