"""The numbers of a pose, for the card: what each channel of some joints stands at."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from ..channels import KINDS, TRAVEL, Kind, Unit, channel, channels_of, joint_of, values_at
from ..figure import Figure
from ..frozen import Frozen
from .edits.base import Made
from .edits.pose import pose_at


class PoseNumber(Frozen):
    """One channel's value at a frame. `keyed`: a key here, elsewhere, or none at all. `row` is where
    the card shows it."""

    channel: str
    joint: str
    row: Kind | Literal["travel"]
    axis: str
    kind: Kind
    unit: Unit
    value: float
    keyed: Literal["here", "elsewhere", "no"]


def numbers_of(made: Made, frame: float, joints: Sequence[str]) -> list[PoseNumber]:
    """The pose that shows at a frame: turns, moves and scales of the joints."""
    figure = made.figure
    curves = made.curves
    wanted = _channels(figure, joints, made.clip.is_cycle)
    near = {name: float(curves[name].values(np.array(frame))) for name in wanted if name in curves}
    values = values_at(figure, pose_at(made, frame), 0, near, set(joints))
    rows = []
    for name in wanted:
        about = channel(name)
        times = set(curves[name].times.tolist()) if name in curves else set()
        rows.append(
            PoseNumber(
                channel=name,
                joint=joint_of(figure, name),
                row="travel" if about.part == "travel" else about.kind,
                axis=about.axis,
                kind=about.kind,
                unit=about.unit,
                value=values[name],
                keyed="here" if frame in times else "elsewhere" if times else "no",
            )
        )
    return rows


def _channels(figure: Figure, joints: Sequence[str], is_cycle: bool) -> list[str]:
    names: list[str] = []
    for joint in joints:
        names += channels_of(figure, joint, frozenset(KINDS))
        if joint == figure.names[0] and not is_cycle:
            names += [f"travel.{axis}" for axis in TRAVEL]
    return names
