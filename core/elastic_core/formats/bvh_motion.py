"""BVH files as figures and motion in metres, and back."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from .. import rotation
from ..arrays import Array, Index, by_runs
from ..errors import Refusal
from ..figure import Figure, Joint, Placed, forward, hanging
from ..lay_figure import lay_dress
from ..motion import Motion
from ..sides import sides_of
from .bvh import BvhBuilder, BvhFile, BvhMotion
from .bvh_skeleton import BvhJoint

UNITS = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254, "ft": 0.3048}
SMALLEST_UNIT_METRES, LARGEST_UNIT_METRES = 1e-6, 1e3
_PERSON_METRES = 1.7
_PLAUSIBLE_METRES = (1.2, 2.3)


@dataclass(frozen=True)
class UnitGuess:
    """How long one unit of a file is, and why."""

    unit: str
    metres: float
    height_in_file: float


def guess_unit(file: BvhMotion) -> UnitGuess:
    """The unit in which the figure is of a person's height; else the scale that makes it one.

    Raises Refusal for a figure of which nobody could say how tall it is.
    """
    rest = skeleton_from(file, "rest", metres_per_unit=1.0)
    placed = forward(rest, motion_from(file, 1.0, frames=slice(0, 1)))
    standing = placed.positions[0, :, 1]
    height = max(rest.height_metres, float(standing.max() - standing.min()))
    if height <= 0:
        return UnitGuess("m", 1.0, 0.0)
    low, high = _PLAUSIBLE_METRES
    fitting = [(name, size) for name, size in UNITS.items() if low <= height * size <= high]
    if not fitting:
        own = _PERSON_METRES / height
        if not SMALLEST_UNIT_METRES <= own <= LARGEST_UNIT_METRES:
            raise Refusal(
                f"The figure in this file is {height:,.6g} units tall: its offsets cannot be right."
            )
        return UnitGuess("own", own, height)
    name, size = min(fitting, key=lambda unit: abs(np.log(height * unit[1] / _PERSON_METRES)))
    return UnitGuess(name, size, height)


def figure_from(file: BvhMotion, name: str, metres_per_unit: float) -> Figure:
    """A lay figure with the file's skeleton."""
    bare = skeleton_from(file, name, metres_per_unit)
    return bare.model_copy(update={"dress": lay_dress(bare)})


def skeleton_from(file: BvhMotion, name: str, metres_per_unit: float) -> Figure:
    """The file's skeleton as a figure without a dress."""
    names = [joint.name for joint in file.joints]
    sides = sides_of(names)
    joints = tuple(
        Joint(
            name=joint.name,
            parent=joint.parent,
            offset=_scaled(joint.offset, metres_per_unit),
            euler_order=_full_order(joint.columns("rotation")[0]),
            side=sides[place].side,
            mirror=sides[place].mirror,
            rigid=not joint.columns("rotation")[0],
            end_sites=tuple(_scaled(site, metres_per_unit) for site in joint.end_sites),
        )
        for place, joint in enumerate(file.joints)
    )
    return Figure(name=name, joints=joints)


def motion_from(
    file: BvhMotion, metres_per_unit: float, frames: slice | Index = slice(None)
) -> Motion:
    """The file's motion in metres. A file that moves a joint replaces that joint's offset."""
    picked = np.arange(file.frames)[frames] if isinstance(frames, slice) else frames
    values = file.rows(picked)
    rotations: Array = np.empty((len(values), len(file.joints), 4), order="F")
    moves: dict[int, Array] = {}
    for place, joint in enumerate(file.joints):
        axes, columns = joint.columns("rotation")
        rotations[:, place] = rotation.from_axes(axes, values[:, columns])
        axes, columns = joint.columns("position")
        if axes or place == 0:
            moves[place] = by_runs(_positions(joint, values) * metres_per_unit)
    return Motion.from_root(moves.pop(0), rotations, moves)


def _positions(joint: BvhJoint, values: Array) -> Array:
    position = np.tile(np.array(joint.offset), (len(values), 1))
    axes, columns = joint.columns("position")
    for axis, column in zip(axes, columns, strict=True):
        position[:, "XYZ".index(axis)] = values[:, column]
    return position


def positions_in_file_units(file: BvhMotion) -> Placed:
    """World positions and rotations of the real joints, in the file's own unit."""
    return forward(skeleton_from(file, "file", 1.0), motion_from(file, 1.0))


def file_from(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    metres_per_unit: float = 1.0,
) -> BvhFile:
    """A figure's motion as a BVH file. Rest rotations are folded into the channels; a joint that hangs on
    a scaled one is moved, as the format knows no scale."""
    built = BvhBuilder()
    root_position, root_rotation = motion.root_in_world()
    hung = hanging(figure, motion)
    for place, joint in enumerate(figure.joints):
        turned = (
            root_rotation
            if place == 0
            else rotation.multiply(figure.rests[place], motion.rotations[:, place])
        )
        move = root_position if place == 0 else hung.get(place)
        channels: list[str] = []
        columns: list[Array] = []
        if move is not None:
            channels += ["Xposition", "Yposition", "Zposition"]
            columns += list((move / metres_per_unit).T)
        still = bool(
            (np.abs(rotation.angle_between(turned, np.array(rotation.IDENTITY))) < 1e-9).all()
        )
        if not (joint.rigid and still):
            channels += [f"{axis}rotation" for axis in joint.euler_order]
            euler = rotation.to_euler(turned, joint.euler_order)
            columns += list(rotation.unroll(euler).T)
        built.add(
            BvhJoint(
                joint.name,
                joint.parent,
                _scaled(joint.offset, 1 / metres_per_unit),
                tuple(channels),
                end_sites=tuple(_scaled(site, 1 / metres_per_unit) for site in joint.end_sites),
            ),
            columns,
        )
    return built.file(float(1 / rate))


def _full_order(axes: str) -> str:
    """An Euler order for joints that turn about fewer than three axes."""
    if not axes:
        return "ZXY"
    return axes + "".join(axis for axis in "ZXY" if axis not in axes)


def _scaled(vector: Sequence[float], factor: float) -> tuple[float, float, float]:
    x, y, z = vector
    return x * factor, y * factor, z * factor
