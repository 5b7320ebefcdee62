"""What every edit is made of, and the rules that hold for all of them."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict

from ...errors import Refusal
from ...frozen import Frozen
from ..document import Lane, Scene, Stint
from ..material import Material

LEAST_FRAMES = 1.0


@dataclass(frozen=True)
class Edited:
    """What came of an edit."""

    scene: Scene
    label: str
    notes: tuple[str, ...] = ()


class Edit(Frozen):
    model_config = ConfigDict(extra="forbid")


Rules = dict[type[BaseModel], Callable[[Scene, Any, Material], Edited]]
"""What each kind of edit does."""


def stint_name(material: Material, stint: Stint) -> str:
    """A stint's own name, or its clip's."""
    return stint.name or material.performance(stint.source).name


def with_lane(scene: Scene, lane: Lane) -> Scene:
    """The scene with one of its lanes changed."""
    lanes = tuple(lane if other.id == lane.id else other for other in scene.lanes)
    return scene.model_copy(update={"lanes": lanes})


def replaced(scene: Scene, lane: Lane, stint: Stint, material: Material) -> Scene:
    """The scene with one stint of a lane changed."""
    stints = tuple(stint if other.id == stint.id else other for other in lane.stints)
    return with_lane(scene, ordered(lane, stints, material))


def ordered(lane: Lane, stints: tuple[Stint, ...], material: Material) -> Lane:
    """Stints by their starts. At most two may play at one time, and none may hide inside another.

    Raises Refusal for any that do.
    """
    if lane.fixes is not None and stints:
        raise Refusal(f"“{lane.name}” holds fixes: lay clips on another lane, or below the lanes.")
    in_order = tuple(sorted(stints, key=lambda stint: (stint.start, stint.end)))
    if in_order and in_order[0].start < 0:
        raise Refusal(f"{stint_name(material, in_order[0])} would start before the scene does.")
    for before, after in pairwise(in_order):
        if after.end <= before.end or after.start == before.start:
            raise Refusal(
                f"{stint_name(material, before)} and {stint_name(material, after)} would lie on top "
                "of each other. Leave a part of each free, so that one can hand over to the other."
            )
    for first, third in zip(in_order, in_order[2:], strict=False):
        if third.start < first.end:
            raise Refusal(
                f"{stint_name(material, first)} would still be playing when "
                f"{stint_name(material, third)} starts: no more than two stints can be joined at one "
                "time."
            )
    return lane.model_copy(update={"stints": in_order})


def grown(scene: Scene, label: str, end: float, notes: tuple[str, ...] = ()) -> Edited:
    """A scene long enough for what was just laid in it."""
    if end <= scene.laid_frames:
        return Edited(scene, label, notes)
    length = int(np.ceil(end))
    longer = scene.with_laid_frames(length)
    return Edited(longer, label, (*notes, f"The scene is {length} frames long now."))


def unheard(scene: Scene) -> tuple[str, ...]:
    """A note where a scene is over before its sounds are."""
    if scene.heard_frames <= scene.played_frames:
        return ()
    last = scene.heard_frames - 1 + scene.first_frame
    return (f"Its sounds go on until frame {last}: the scene is over before.",)
