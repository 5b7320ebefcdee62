"""A clip's poses as plain numbers in files of our own (docs/formats.md)."""

from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import rotation
from ..arrays import Array, by_runs
from ..channels import motion_of
from ..clip.document import GroundTuple
from ..curve import Curve
from ..errors import Refusal
from ..figure import Figure, Quaternion
from ..frozen import Frozen
from ..motion import Motion


class KeyedPose(Frozen):
    """A clip's curves, by the names of their channels."""

    kind: Literal["keys"] = "keys"
    channels: dict[str, Curve]


class SampledPose(Frozen):
    """A clip's poses, one row a frame, as plain numbers: see docs/formats.md."""

    kind: Literal["samples"] = "samples"
    travel: tuple[GroundTuple, ...]
    root_move: tuple[GroundTuple, ...]
    rotations: tuple[tuple[Quaternion, ...], ...]
    moves: dict[str, tuple[GroundTuple, ...]] = Field(default={})
    scales: dict[str, tuple[GroundTuple, ...]] = Field(default={})


Poses = Annotated[KeyedPose | SampledPose, Field(discriminator="kind")]


def poses_to_motion(poses: KeyedPose | SampledPose, figure: Figure, length_frames: int) -> Motion:
    """A clip's keys or plain samples as motion of a figure, one pose a frame.

    Raises Refusal for rows of another shape.
    """
    if isinstance(poses, SampledPose):
        rows = np.array(poses.rotations, dtype=np.float64)
        if rows.shape != (len(poses.travel), len(figure.joints), 4):
            raise Refusal(
                f"The samples have shape {rows.shape}; {len(poses.travel)} frames of "
                f"{len(figure.joints)} joints with 4 numbers were expected."
            )
        return Motion(
            by_runs(np.array(poses.travel)),
            by_runs(np.array(poses.root_move)),
            by_runs(_of_unit_length(rows)),
            _by_place(figure, poses.moves),
            _by_place(figure, poses.scales),
        )
    return motion_of(poses.channels, figure, np.arange(length_frames, dtype=np.float64))


def _by_place(figure: Figure, rows: Mapping[str, tuple[GroundTuple, ...]]) -> dict[int, Array]:
    return {figure.place_of(name): by_runs(np.array(row)) for name, row in rows.items()}


def _of_unit_length(rotations: Array) -> Array:
    """Quaternions put right where they are off; those rounded to float32 stay to the last bit."""
    length = np.linalg.norm(rotations, axis=-1)
    if not (length > 1e-6).all():
        raise Refusal("A rotation of the samples is all zeros.")
    return np.where(
        (np.abs(length - 1) > 1e-6)[..., None], rotation.normalise(rotations), rotations
    )
