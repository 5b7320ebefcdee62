"""A clip's keys as glTF 2.0 tells them: STEP, LINEAR or CUBICSPLINE where what plays is just that.

Curves here are cubic Hermite spans, as CUBICSPLINE has them; but they turn about axes, one after the other,
where the format has quaternions, and what plays may hold feet that no curve knows of. So every path is tried:
its keys, read as the format says (its appendix C), must give every frame within a tolerance, else it is written
frame by frame.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..arrays import Array
from ..channels import channel
from ..clip.document import Clip
from ..clip.playing import motion_at, played_curves
from ..curve import Curve
from ..figure import Figure, forward
from ..spans import Span
from .gltf_pose import local_places, local_turns
from .gltf_track import Track

Interpolation = Literal["STEP", "LINEAR", "CUBICSPLINE"]
Path = Literal["rotation", "translation"]
# All joints of a chain together are off by so much at its end, at the most: under a tenth of a millimetre.
_NEAR_METRES = 9e-5
_LEAST_ARM_METRES = 0.05
# A wide turn is no spline of quaternions; halves of it nearly are, and quarters.
_HALVINGS = 2
# A slope is what is passed through in so much of a frame.
_STEP_FRAMES = 1e-4


@dataclass(frozen=True, eq=False)
class KeptKeys:
    """One path's keys: times [n] in frames; values [n, width], or of CUBICSPLINE [3n, width]: the slope that
    arrives, the value, the slope that leaves, in values per frame."""

    interpolation: Interpolation
    times: Array
    values: Array


class ClipKeys:
    """The keys of a clip, path by path."""

    def __init__(self, figure: Figure, clip: Clip) -> None:
        self._figure, self._clip = figure, clip
        self._by_joint = _by_joint(figure, played_curves(figure, clip))
        self._arms, self._links = _arms(figure), _links(figure)
        self._known: dict[bytes, tuple[Array, Array]] = {}

    def of(self, joint: int, path: Path, shown: Array) -> KeptKeys | None:
        """A joint's path by its keys, where they give what is `shown` on whole frames [frames, width]; else
        None."""
        curves = self._by_joint.get((joint, path), [])
        times = np.unique(np.concatenate([curve.times for curve in curves])) if curves else _NONE
        last = float(len(shown) - 1)
        if not times.size or times[0] < 0 or times[-1] > last or len(times) >= len(shown):
            return None
        frames = np.arange(len(shown), dtype=np.float64)
        for made in self._made(_kinds(curves), times, len(shown), joint, path):
            off = _off(read_at(made, frames, path), shown, path)
            if (
                off * (self._arms[joint] if path == "rotation" else 1.0)
                < _NEAR_METRES / self._links
            ):
                return made
        return None

    def _made(
        self, kinds: set[int], times: Array, frames: int, joint: int, path: Path
    ) -> Iterator[KeptKeys]:
        """From the plainest on."""
        if kinds == {Span.HOLD}:
            yield KeptKeys("STEP", times, self._at(times, joint, path))
            return
        if kinds == {Span.EVEN}:
            yield KeptKeys("LINEAR", times, self._at(times, joint, path))
        for _ in range(_HALVINGS + 1 if path == "rotation" else 1):
            if len(times) < frames:
                yield self._spline(times, joint, path)
            times = np.sort(np.concatenate([times, (times[1:] + times[:-1]) / 2]))

    def _spline(self, times: Array, joint: int, path: Path) -> KeptKeys:
        values = self._at(times, joint, path)
        before = (values - self._at(times - _STEP_FRAMES, joint, path, values)) / _STEP_FRAMES
        after = (self._at(times + _STEP_FRAMES, joint, path, values) - values) / _STEP_FRAMES
        # Outside the first and the last key nothing is passed through.
        before[0], after[-1] = 0.0, 0.0
        rows = np.stack([before, values, after], axis=1).reshape(3 * len(times), -1)
        return KeptKeys("CUBICSPLINE", times, rows)

    def _at(self, times: Array, joint: int, path: Path, near: Array | None = None) -> Array:
        """A joint's path at any times of the clip, as its curves have it; turns on the side of `near`."""
        turns, places = self._local(times)
        if path == "translation":
            return places[:, joint]
        found = turns[:, joint][:, [1, 2, 3, 0]]
        if near is None:
            return found
        sides: Array = np.where((found * near).sum(axis=-1, keepdims=True) < 0, -found, found)
        return sides

    def _local(self, times: Array) -> tuple[Array, Array]:
        name = times.tobytes()
        if name not in self._known:
            inside = np.clip(times, 0.0, None)
            placed = forward(self._figure, motion_at(self._figure, self._clip, inside))
            self._known[name] = (
                local_turns(self._figure, placed),
                local_places(self._figure, placed),
            )
        return self._known[name]


_NONE: Array = np.zeros(0)


def _arms(figure: Figure) -> list[float]:
    """How far from each joint anything that it turns is, at rest; metres."""
    places = figure.at_rest.positions[0]
    arms = [_LEAST_ARM_METRES] * len(places)
    for joint, parent in enumerate(figure.parents):
        while parent >= 0:
            arms[parent] = max(arms[parent], float(np.linalg.norm(places[joint] - places[parent])))
            parent = figure.parents[parent]
    return arms


def _links(figure: Figure) -> int:
    """How many joints the longest chain has."""
    depths: list[int] = []
    for parent in figure.parents:
        depths.append(1 + (depths[parent] if parent >= 0 else 0))
    return max(depths)


def _by_joint(figure: Figure, curves: dict[str, Curve]) -> dict[tuple[int, Path], list[Curve]]:
    """The curves that turn and move each joint against what it hangs on."""
    found: dict[tuple[int, Path], list[Curve]] = {}
    for name, curve in curves.items():
        told = channel(name)
        if told.part == "scale":
            # It moves what hangs on the joint: left to frames.
            continue
        joint = figure.place_of(told.joint) if told.joint else 0
        if told.part == "turn" or told.part == "move":
            path: Path = "rotation" if told.part == "turn" else "translation"
            found.setdefault((joint, path), []).append(curve)
        else:
            # A heading turns the root, and where it sways.
            found.setdefault((joint, "translation"), []).append(curve)
            if told.axis == "heading":
                found.setdefault((joint, "rotation"), []).append(curve)
    return found


def _kinds(curves: list[Curve]) -> set[int]:
    return {int(kind) for curve in curves for kind in curve.kinds[:-1]} or {int(Span.HOLD)}


def _off(read: Array, shown: Array, path: Path) -> float:
    """How far one is from the other at most: metres, or radians."""
    if path == "translation":
        return float(np.linalg.norm(read - shown, axis=-1).max())
    # Of a small turn the sine tells, where the cosine has no digits left.
    sides = np.where((read * shown).sum(axis=-1, keepdims=True) < 0, -1.0, 1.0)
    return float(
        (4 * np.arcsin(np.linalg.norm(read - sides * shown, axis=-1).clip(0, 2) / 2)).max()
    )


def read_at(keys: KeptKeys, frames: Array, path: Path) -> Array:
    """What keys give at these frames, as the format says. [n] → [n, width]"""
    order = [3, 0, 1, 2] if path == "rotation" else [0, 1, 2]
    track = Track(0, path, keys.times, keys.values[:, order], keys.interpolation)
    return track.at(frames)[:, np.argsort(order)]
