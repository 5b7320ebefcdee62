"""The numbers of a pose, for the card: what each channel of some joints stands at."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from ..channels import AXES, TRAVEL, Kind, channel, joint_of, values_at
from .edits.base import Made
from .edits.pose import pose_at
from .playing import in_keys, played_curves


class PoseNumber(BaseModel):
    """One channel's value at a frame. `keyed`: a key here, elsewhere, or none at all."""

    model_config = ConfigDict(frozen=True)

    channel: str
    joint: str
    axis: str
    kind: Kind
    unit: Literal["degrees", "metres"]
    value: float
    keyed: Literal["here", "elsewhere", "no"]


def numbers_of(made: Made, frame: float, joints: Sequence[str]) -> list[PoseNumber]:
    """The pose that shows at a frame: turns of the joints, moves of those that move."""
    figure = made.figure
    clip = in_keys(figure, made.clip, made.samples)
    curves = played_curves(figure, clip)
    wanted = _channels(joints, figure.names[0], set(curves), clip.is_cycle)
    near = {name: float(curves[name].values(np.array(frame))) for name in wanted if name in curves}
    values = values_at(figure, pose_at(made, frame), 0, near, set(joints))
    rows = []
    for name in wanted:
        about = channel(name)
        times = {key.time for key in curves[name].keys} if name in curves else set()
        rows.append(
            PoseNumber(
                channel=name,
                joint=joint_of(figure, name),
                axis=about.axis,
                kind=about.kind,
                unit=about.unit,
                value=values[name],
                keyed="here" if frame in times else "elsewhere" if times else "no",
            )
        )
    return rows


def _channels(joints: Sequence[str], root: str, known: set[str], is_cycle: bool) -> list[str]:
    names: list[str] = []
    for joint in joints:
        if joint == root:
            names += [f"root.{axis}" for axis in AXES]
            names += [] if is_cycle else [f"travel.{axis}" for axis in TRAVEL]
        names += [f"{joint}.turn.{axis}" for axis in AXES]
        names += [name for axis in AXES if (name := f"{joint}.move.{axis}") in known]
    return names
