"""Closing a seam: the end of a cycle made to meet its start, channel by channel (rule 4.2).

Curves are those of a cycle of `length` frames; its travel is no curve and stays as it is.
"""

from collections.abc import Callable, Mapping
from typing import Literal

import numpy as np

from ..arrays import real
from ..curve import Curve, Key
from ..easing import smooth
from ..errors import Refusal
from ..spans import Span, Spans

Method = Literal["match", "spread", "through", "overlap"]
# Gaps and slopes below this are none (degrees or metres, and those per frame).
ALIKE = 1e-9
_FREE = np.array([Span.FREE], dtype=np.uint8)
SAYS: Mapping[Method, str] = {
    "match": "match ends",
    "spread": "spread",
    "through": "ease through",
    "overlap": "overlap",
}


def close(
    curves: Mapping[str, Curve], length: int, method: Method, frames: int
) -> dict[str, Curve]:
    """Every curve closed. `frames` is the reach of spread, ease through and overlap.

    Raises Refusal for a reach beyond half the cycle, or an overlap with nothing before the start.
    """
    if method != "match" and not 1 <= frames <= length // 2:
        raise Refusal(f"Close over 1 to {length // 2} frames: half the cycle at the most.")
    if method == "overlap":
        _check_lead_in(curves, length, frames)
    rule = _RULES[method]
    return {name: rule(_ended(curve, length), length, frames) for name, curve in curves.items()}


def _ended(curve: Curve, length: int) -> Curve:
    """The curve with keys of its own at both ends of the round, and none beyond the end.

    Keys before the start stay: they are the lead-in that an overlap blends into.
    """
    for time in (0.0, float(length)):
        curve = _with_key(curve, time, length)
    keys = tuple(key for key in curve.keys if key.time <= length)
    return Curve(keys=keys, before=curve.before, after=curve.after)


def _with_key(curve: Curve, time: float, length: int) -> Curve:
    if any(key.time == time for key in curve.keys):
        return curve
    closed = curve.closed(length)
    first, last = closed.keys[0].time, closed.keys[-1].time
    if first < time < last:
        return closed.with_key(time)
    return closed.with_value(time, float(closed.values(real(time))))


def _gap(curve: Curve) -> float:
    """What has to be added to the end to meet the start; full turns are none (and no root sways by
    hundreds of metres)."""
    gap = next(key.value for key in curve.keys if key.time == 0) - curve.keys[-1].value
    return gap - 360.0 * round(gap / 360.0)


def _match(curve: Curve, length: int, frames: int) -> Curve:
    """The last key takes the first's value."""
    gap = _gap(curve)
    return _round(curve, lambda key: gap if key.time == length else 0.0)


def _spread(curve: Curve, length: int, frames: int) -> Curve:
    """A smooth offset: none up to `frames` before the end, the whole gap at the end."""
    gap = _gap(curve)
    start = float(length - frames)
    curve = _with_key(curve, start, length) if gap else curve
    return _round(curve, lambda key: gap * _share((key.time - start) / frames))


def _through(curve: Curve, length: int, frames: int) -> Curve:
    """Both ends meet half-way, with one slope; the change fades over `frames` on either side."""
    gap = _gap(curve)
    leaves, comes = _end_slopes(curve, length)
    if max(abs(gap), abs(leaves - comes)) < ALIKE:
        return _round(curve, lambda key: 0.0)
    slope = (leaves + comes) / 2
    reach = float(frames)
    for time in (reach, length - reach):
        curve = _with_key(curve, time, length)

    def offset(key: Key) -> float:
        if 0 <= key.time <= reach:
            return _fading(key.time / reach, -gap / 2, (slope - leaves) * reach)
        if length - reach <= key.time:
            return _fading((length - key.time) / reach, gap / 2, -(slope - comes) * reach)
        return 0.0

    moved = _round(curve, offset)
    first = next(place for place, key in enumerate(moved.keys) if key.time == 0)
    sloped = _with_slopes(moved, first, slope, None)
    return _with_slopes(sloped, len(moved.keys) - 2, None, slope)


def _end_slopes(curve: Curve, length: int) -> tuple[float, float]:
    """How a curve leaves its start and comes to its end, in value per frame.

    Where every frame has a key the chords say too little: then from four frames on either side.
    """
    start = next(place for place, key in enumerate(curve.keys) if key.time == 0)
    if not _is_dense(curve, start) or length < 8:
        incoming, outgoing = curve.slopes()
        return float(outgoing[start]), float(incoming[-1])
    after = curve.values(real([0.0, 1.0, 2.0, 3.0]))
    before = curve.values(real([length, length - 1.0, length - 2.0, length - 3.0]))
    # Third-order one-sided difference.
    weights = real([-11.0, 18.0, -9.0, 2.0]) / 6
    return float(weights @ after), -float(weights @ before)


def _is_dense(curve: Curve, place: int) -> bool:
    """Whether the span after a key is an even one of a frame."""
    here, after = curve.keys[place], curve.keys[place + 1]
    return here.span == "even" and after.time - here.time <= 1.0


def _with_slopes(curve: Curve, place: int, out: float | None, into: float | None) -> Curve:
    """A span that leaves and arrives with these slopes; held spans, and those of a frame, stay."""
    incoming, outgoing = curve.slopes()
    keys = list(curve.keys)
    if keys[place].span == "hold" or _is_dense(curve, place):
        return curve
    leaves = float(outgoing[place]) if out is None else out
    arrives = float(incoming[place + 1]) if into is None else into
    keys[place] = keys[place].model_copy(update={"span": "free", "out_slope": leaves})
    keys[place + 1] = keys[place + 1].model_copy(update={"in_slope": arrives})
    return Curve(keys=tuple(keys), before=curve.before, after=curve.after)


def _overlap(curve: Curve, length: int, frames: int) -> Curve:
    """The last frames blend into what precedes the start."""
    start = float(length - frames)
    for frame in range(frames + 1):
        curve = _with_key(curve, start + frame, length)
    gap = _gap(curve)
    before = curve.values(real([key.time - length for key in curve.keys]))
    # The lead-in is laid as near to the end as full turns allow.
    zero = next(key.value for key in curve.keys if key.time == 0)
    shift = (curve.keys[-1].value + gap) - zero
    wanted = {key.time: float(value) + shift for key, value in zip(curve.keys, before, strict=True)}
    return _round(
        curve,
        lambda key: (
            (wanted[key.time] - key.value) * _share((key.time - start) / frames)
            if key.time >= start
            else 0.0
        ),
    )


def _round(curve: Curve, offset: Callable[[Key], float]) -> Curve:
    """Keys moved by an offset; the curve goes round from now on."""
    keys = tuple(
        key.model_copy(update={"value": key.value + more}) if (more := offset(key)) else key
        for key in curve.keys
    )
    return Curve(keys=keys, before="repeat", after="repeat")


def _share(share: float) -> float:
    return float(smooth(np.clip(share, 0.0, 1.0)))


def _fading(u: float, value: float, slope: float) -> float:
    """Hermite from (value, slope) at u = 0 to nothing at u = 1."""
    fading = Spans(real([0, 1]), real([value, 0]), real([slope]), real([0]), _FREE)
    return float(fading.at(real(u)))


def _check_lead_in(curves: Mapping[str, Curve], length: int, frames: int) -> None:
    if any(curve.keys[0].time > -frames for curve in curves.values() if len(curve.keys) > 1):
        raise Refusal(
            f"Nothing precedes the start by {frames} frames: an overlap needs motion before it. "
            "Spread the gap, or bring the clip in with frames before its start."
        )


_RULES: Mapping[Method, Callable[[Curve, int, int], Curve]] = {
    "match": _match,
    "spread": _spread,
    "through": _through,
    "overlap": _overlap,
}
