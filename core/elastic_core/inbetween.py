"""Favour: in-betweens by share, from the key before to the key after (rule 4.7)."""

from collections.abc import Mapping

import numpy as np

from . import rotation
from .arrays import real
from .channels import AXES, KINDS, Kind, channels_of, turn_near, turned
from .curve import Curve
from .errors import Refusal
from .figure import Figure


def favour(
    figure: Figure,
    curves: Mapping[str, Curve],
    frame: float,
    share: float,
    joints: list[str],
    kinds: frozenset[Kind],
    fence_frames: float | None = None,
    round_frames: int | None = None,
) -> dict[str, Curve]:
    """Curves with a key at `frame` that stands between its neighbours: 0 is the key before, 1 the
    key after; below 0 anticipates, above 1 overshoots.

    With a fence the curves are keyed first that many frames before and after, so that nothing
    outside changes. `round_frames` is a cycle's length: past its last key comes its first. Past the
    last key of a clip that plays once, the key before that one and the last are the neighbours.

    Raises Refusal where no chosen joint has two keys to stand between.
    """
    changed = dict(curves)
    touched = False
    for joint in joints:
        for kind in KINDS:
            if kind not in kinds:
                continue
            names = channels_of(figure, joint, frozenset({kind}))
            own = {name: _round(curves[name], round_frames) for name in names if name in curves}
            around = _neighbours(own, frame)
            if around is None:
                continue
            touched = True
            wanted = _between(figure, joint, kind, own, around, share, frame)
            for name, value in wanted.items():
                changed[name] = (
                    _fenced(curves[name], frame, value, fence_frames, round_frames)
                    if fence_frames
                    else curves[name].with_value(frame, value)
                )
    if not touched:
        raise Refusal("There are no two keys here to stand between: key the chosen joints first.")
    return changed


def with_post(curve: Curve, time: float, round_frames: int | None) -> Curve:
    """A key that changes nothing, also where a cycle comes round to its first key."""
    closed = _round(curve, round_frames)
    if round_frames:
        time %= round_frames
    if not closed.times[0] < time < closed.times[-1]:
        return curve
    keyed = closed.with_key(time)
    return keyed if closed is curve else _opened(curve, keyed)


def _fenced(
    curve: Curve, frame: float, value: float, fence_frames: float, round_frames: int | None
) -> Curve:
    """A key between two that are made first, and every slope outside them as it was."""
    for post in (frame - fence_frames, frame + fence_frames):
        curve = with_post(curve, post, round_frames)
    closed = _round(curve, round_frames)
    keyed = _round(curve.with_value(frame, value), round_frames)
    around = [_nearest(closed, frame - fence_frames), _nearest(closed, frame + fence_frames)]
    rise = float(np.diff(closed.values(real(around)))[0])
    slope = rise / max(around[1] - around[0], 1e-9)
    keys = tuple(
        key.model_copy(update={"in_slope": slope, "out_slope": slope}) if key.time == frame else key
        for key in keyed.keys
    )
    kept = keyed.with_keys(keys).with_slopes_of(closed)
    return kept if round_frames is None or closed is curve else _opened(curve, kept)


def _nearest(curve: Curve, time: float) -> float:
    return float(np.clip(time, curve.times[0], curve.times[-1]))


def _opened(curve: Curve, closed: Curve) -> Curve:
    """The key that stood for the first one goes again, and the first keeps its slope."""
    *keys, end = closed.keys
    keys[0] = keys[0].model_copy(update={"in_slope": end.in_slope})
    return curve.with_keys(keys)


def _round(curve: Curve, round_frames: int | None) -> Curve:
    return curve.closed(round_frames) if round_frames else curve


def _neighbours(curves: Mapping[str, Curve], frame: float) -> tuple[float, float] | None:
    """The times of the keys on either side, over all of a joint's channels of a kind."""
    if not curves:
        return None
    times = np.unique(np.concatenate([curve.times for curve in curves.values()]))
    before, after = times[times < frame], times[times > frame]
    if len(before) and len(after):
        return float(before[-1]), float(after[0])
    if len(before) > 1:
        return float(before[-2]), float(before[-1])
    return None


def _between(
    figure: Figure,
    joint: str,
    kind: Kind,
    curves: Mapping[str, Curve],
    around: tuple[float, float],
    share: float,
    frame: float,
) -> dict[str, float]:
    """The wanted value of each channel that has a curve."""
    times = real([*around, frame])
    if kind != "turn":
        return {
            name: float(values[0] + (values[1] - values[0]) * share)
            for name, curve in curves.items()
            for values in (curve.values(times),)
        }
    place = figure.place_of(joint)
    degrees = np.zeros((3, 3))
    for column, axis in enumerate(AXES):
        if (curve := curves.get(f"{joint}.turn.{axis}")) is not None:
            degrees[:, column] = curve.values(times)
    poses = turned(figure, place, degrees[:2])
    found = rotation.slerp(poses[:1], poses[1:], real([share]))[0]
    # Nearest to a straight line between the neighbours, so that no channel turns over.
    near = degrees[0] + (degrees[1] - degrees[0]) * share
    values = turn_near(figure, place, found, near)
    return {
        f"{joint}.turn.{axis}": float(values[column])
        for column, axis in enumerate(AXES)
        if f"{joint}.turn.{axis}" in curves
    }
