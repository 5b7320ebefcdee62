"""Keys shaped by what stands beside them: softened or sharpened, and joints that trail along a chain."""

from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...arrays import Array
from ...channels import joint_of
from ...curve import Curve
from ...errors import Refusal
from ...figure import Figure
from ...quantities import NEAR_FRAMES
from ...saying import counted, said
from ..document import Clip
from .base import Chosen, Edit, Edited, Made, Rules, into_keys, with_curves
from .keys import chosen_places

MOST_TRAIL_FRAMES = 120


class SoftenKeys(Edit):
    """Chosen keys go by a share towards what their neighbours would give (1: all the way), or, below 0,
    away from it: sharpened."""

    kind: Literal["soften_keys"] = "soften_keys"
    chosen: Chosen
    share: Annotated[float, Field(ge=-2.0, le=1.0)]


class TrailJoints(Edit):
    """Joints follow later, each by so many frames more than the one above it in the chain; in a cycle
    round the seam. With `hold_feet` the feet stay where they stand."""

    kind: Literal["trail_joints"] = "trail_joints"
    joints: tuple[str, ...] = Field(min_length=1, max_length=2_000)
    frames: Annotated[float, Field(ge=-MOST_TRAIL_FRAMES, le=MOST_TRAIL_FRAMES)]
    hold_feet: bool = True


def _soften(made: Made, edit: SoftenKeys) -> Edited:
    keyed = made.keyed
    places = chosen_places(keyed, edit.chosen)
    changed: dict[str, Curve] = {}
    moved = alone = 0
    for name, chosen in places.items():
        curve = keyed.clip.keys[name]
        between = _between_neighbours(keyed.clip, curve)
        values = curve.values_of_keys.copy()
        for place in chosen:
            if np.isnan(between[place]):
                alone += 1
                continue
            values[place] += edit.share * (between[place] - values[place])
            moved += 1
        if keyed.clip.is_cycle and curve.goes_round:
            own_end, rise = _round_of(keyed.clip, curve)
            if own_end:
                # Both are one moment: the seam stays as it was.
                values[-1] = values[0] + rise
        changed[name] = curve.with_columns(values=values)
    if not moved:
        raise Refusal("A key is softened between two others: these have none on both sides.")
    word = "Soften" if edit.share >= 0 else "Sharpen"
    label = f"{word} {counted(moved, 'key')} by {abs(100 * edit.share):.0f} %"
    notes = list(into_keys(made))
    if alone:
        notes.append(f"{counted(alone, 'key')} at an end stayed: nothing stands on its other side.")
    return Edited(with_curves(keyed.clip, changed), label, tuple(notes))


def _between_neighbours(clip: Clip, curve: Curve) -> Array:
    """What a straight line between the keys on both sides gives at each key [n]; no number where there are
    none. In a cycle the neighbours go round."""
    times, values = curve.times, curve.values_of_keys
    found: Array = np.full(len(times), np.nan)
    if clip.is_cycle and curve.goes_round:
        own_end, rise = _round_of(clip, curve)
        ring = len(times) - own_end
        if ring > 1:
            length = float(clip.length_frames)
            times, values = times[:ring], values[:ring]
            times = np.concatenate([[times[-1] - length], times, [times[0] + length]])
            values = np.concatenate([[values[-1] - rise], values, [values[0] + rise]])
            found[:ring] = _lines(times, values)
            if own_end:
                found[-1] = found[0] + rise
        return found
    if len(times) > 2:
        found[1:-1] = _lines(times, values)
    return found


def _round_of(clip: Clip, curve: Curve) -> tuple[bool, float]:
    """Whether a curve that goes round has a key of its own on the end of its round, and what a round adds."""
    own_end = bool(curve.times[-1] - curve.times[0] > clip.length_frames - NEAR_FRAMES)
    return own_end, float(curve.values_of_keys[-1] - curve.values_of_keys[0]) if own_end else 0.0


def _lines(times: Array, values: Array) -> Array:
    """Straight lines over each inner key, from the one before it to the one after. [n] → [n − 2]"""
    share = (times[1:-1] - times[:-2]) / (times[2:] - times[:-2])
    found: Array = values[:-2] + share * (values[2:] - values[:-2])
    return found


def _trail(made: Made, edit: TrailJoints) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    if clip.half_linked:
        raise Refusal(
            "The second half follows the first, mirrored: unlink the halves to let it trail."
        )
    depths = _depths(figure, edit.joints)
    changed: dict[str, Curve] = {}
    for name, curve in clip.keys.items():
        depth = depths.get(joint_of(figure, name))
        # Where it goes over the ground the root does not trail: its feet would.
        if depth is None or name.startswith(("travel.", "root.")):
            continue
        changed[name] = _later(clip, curve, depth * edit.frames)
    if not changed:
        raise Refusal("None of these joints has keys to trail.")
    trailed = with_curves(clip, changed)
    if edit.hold_feet and trailed.plants:
        plants = tuple(plant.model_copy(update={"held": True}) for plant in trailed.plants)
        trailed = trailed.model_copy(update={"plants": plants})
    deepest = max(depths[joint_of(figure, name)] for name in changed)
    who = said(figure, [name for name in figure.names if name in depths])
    label = f"Trail {who} by {edit.frames:g}"
    notes = (f"The last of the chain comes {abs(deepest * edit.frames):g} frames "
             f"{'later' if edit.frames >= 0 else 'earlier'}.")  # fmt: skip
    return Edited(trailed, label, (*into_keys(made), notes))


def _depths(figure: Figure, joints: tuple[str, ...]) -> Mapping[str, int]:
    """How far down its chain each joint stands, among those that are chosen: the uppermost is the first."""
    chosen = {figure.place_of(name) for name in joints}
    found: dict[str, int] = {}
    for place in sorted(chosen):
        parent, depth = figure.parents[place], 1
        while parent >= 0:
            depth += parent in chosen
            parent = figure.parents[parent]
        found[figure.names[place]] = depth
    return found


def _later(clip: Clip, curve: Curve, frames: float) -> Curve:
    """A curve so many frames later: the same shape, in a cycle round the seam. One that plays once keeps its
    first and its last key where they are, so that it begins and ends on its poses."""
    if not clip.is_cycle:
        last = len(curve) - 1
        edges = curve.times[[0, -1]]
        times = {
            place: float(
                np.clip(curve.times[place] + frames, edges[0] + place, edges[1] - (last - place))
            )
            for place in range(1, last)
        }
        return curve.retimed(times)[0] if times else curve
    if not curve.goes_round:
        return curve.retimed(
            {place: float(time) + frames for place, time in enumerate(curve.times)}
        )[0]
    length = float(clip.length_frames)
    own_end, rise = _round_of(clip, curve)
    ring = curve.keys[: len(curve) - own_end]
    keys = []
    for key in ring:
        rounds = float(np.floor((key.time + frames) / length))
        landed = {"time": key.time + frames - rounds * length, "value": key.value - rounds * rise}
        keys.append(key.model_copy(update=landed))
    keys.sort(key=lambda key: key.time)
    if own_end:
        end = {"time": keys[0].time + length, "value": keys[0].value + rise}
        keys.append(keys[0].model_copy(update=end))
    return curve.with_keys(keys)


RULES: Rules = {SoftenKeys: _soften, TrailJoints: _trail}
