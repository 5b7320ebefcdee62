"""Edits on the pace of a stint's path over the ground, apart from its body (rule 5.7)."""

from typing import Literal

import numpy as np
from pydantic import Field

from ...clock import Span
from ...elastic import Elastic
from ...errors import Refusal
from ...moments import source as source_frames
from ...quantities import Frame
from ...retime.pace import percent
from ..document import Scene
from ..fitting import body_for
from ..material import Material
from ..retimed import retimed_of
from ..travelling import slowed_path
from .base import Edit, Edited, Rules, replaced, stint_name

LEAST_WAY_METRES = 0.01


class SlowTravel(Edit):
    """A range of a stint's lane over which its path runs at a pace; the body goes on as it does. Its ends
    stay where they are, or it covers so much less of its ground."""

    kind: Literal["slow_travel"] = "slow_travel"
    stint: str
    start: Frame
    end: Frame
    pace: float = Field(ge=0, le=100)
    ramp_frames: float = Field(default=0.0, ge=0, le=10_000)
    keeps_ends: bool = True


class StraightenTravel(Edit):
    """Its path as it was made."""

    kind: Literal["straighten_travel"] = "straighten_travel"
    stint: str


def _slow(scene: Scene, edit: SlowTravel, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    if lane.target.kind != "body":
        raise Refusal(f"{name} moves no figure over the ground.")
    if not stint.path.is_identity:
        raise Refusal(f"The travel of {name} is bent already: straighten it first.")
    held = retimed_of(scene, edit.stint, material)
    over = held.over(edit.start, edit.end)
    ends = np.array([held.ends.start, over.start, over.end, held.ends.end])
    source = held.elastic.source(ends) + held.rounds
    if (np.diff(source) < -1e-9).any() or source[2] <= source[1]:
        raise Refusal(
            f"{name} does not play forwards there: turn it round, or straighten it, first."
        )
    body = body_for(material, scene.figure(lane.figure), stint)
    if np.ptp(body.travel_at(source_frames(source))[:, :2], axis=0).max() < LEAST_WAY_METRES:
        raise Refusal(f"{name} stays where it is: it has no travel to slow.")
    scale = (source[2] - source[1]) / over.length_frames
    path = slowed_path(
        Span(float(source[0]), float(source[3])),
        Span(float(source[1]), float(source[2])),
        edit.pace,
        edit.ramp_frames * float(scale),
        keeps_ends=edit.keeps_ends,
    )
    done = replaced(scene, lane, stint.model_copy(update={"path": path}), material)
    first, last = held.shown_desk(edit.start), held.shown_desk(edit.end - 1)
    label = f"Travel of {name} at {percent(edit.pace)}, {first} to {last}"
    note = "Feet that stand may slide now: the strip under the lane marks where."
    return Edited(done, label, (note,))


def _straighten(scene: Scene, edit: StraightenTravel, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    done = replaced(scene, lane, stint.model_copy(update={"path": Elastic()}), material)
    return Edited(done, f"Straighten the travel of {stint_name(material, stint)}")


RULES: Rules = {SlowTravel: _slow, StraightenTravel: _straighten}
