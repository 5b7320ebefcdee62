"""What precedes a cycle's start in the take that it was cut from: an overlap blends into it (rule 4.2)."""

from collections.abc import Mapping

import numpy as np

from .. import rotation
from ..arrays import Array, real
from ..channels import AXES
from ..curve import Curve, Key
from ..figure import Figure
from ..motion import Motion


def lead_in(before: Motion, path: Array) -> Motion:
    """Frames −n … −1 as the cycle sees them: on its even path [n, 3], which is then left out."""
    seen = before.relaid(path)
    return seen.carried(np.zeros_like(seen.travel))


def preceded(figure: Figure, curves: Mapping[str, Curve], before: Motion) -> dict[str, Curve]:
    """Curves with a key on each frame of the lead-in, at −n … −1."""
    columns: dict[str, Array] = {}
    for column, axis in enumerate(AXES):
        columns[f"root.{axis}"] = before.root_move[:, column]
    for place, joint in enumerate(figure.names):
        names = [f"{joint}.turn.{axis}" for axis in AXES]
        if any(name in curves for name in names):
            first = [float(curves[n].values(real(0.0))) if n in curves else 0.0 for n in names]
            turns = _turns_before(figure, place, before.rotations[:, place], real(first))
            columns |= {name: turns[:, column] for column, name in enumerate(names)}
    for part, moved in (("move", before.moves), ("scale", before.scales)):
        for place, values in moved.items():
            for column, axis in enumerate(AXES):
                columns[f"{figure.names[place]}.{part}.{axis}"] = values[:, column]
    return {
        name: _with_keys_before(curve, columns[name]) if name in columns else curve
        for name, curve in curves.items()
    }


def _turns_before(figure: Figure, place: int, rotations: Array, first: Array) -> Array:
    """A joint's turns about x, y, z, unrolled backwards from its pose at frame 0. [n, 3] degrees."""
    order = figure.joints[place].euler_order
    columns = ["XYZ".index(axis) for axis in order]
    backwards = rotation.to_euler(rotations[::-1], order)
    unrolled = rotation.unroll(np.concatenate([first[columns][None], backwards]))
    result: Array = unrolled[:0:-1][:, [order.index(axis) for axis in "XYZ"]]
    return result


def _with_keys_before(curve: Curve, values: Array) -> Curve:
    count = len(values)
    keys = tuple(
        Key(time=float(place - count), value=float(value), span="even")
        for place, value in enumerate(values)
    )
    own = tuple(key for key in curve.keys if key.time >= 0)
    return Curve(keys=(*keys, *own), before=curve.before, after=curve.after)


def without_lead_in(curves: Mapping[str, Curve]) -> dict[str, Curve]:
    """Curves without what precedes their start."""
    found = {}
    for name, curve in curves.items():
        own = tuple(key for key in curve.keys if key.time >= 0)
        found[name] = curve if len(own) == len(curve) else curve.with_keys(own)
    return found
