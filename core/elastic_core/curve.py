"""Keyed curves: cubic Hermite spans, the glTF CUBICSPLINE form (rules 3.1 to 3.3)."""

from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, field_validator

from .arrays import Array, Index, real
from .errors import Refusal

SpanKind = Literal["hold", "even", "eased", "free"]
Beyond = Literal["hold", "repeat", "offset", "mirror", "continue"]


class Key(BaseModel):
    """A value at a time (frames). Slopes are value per frame and count where a span is *free*."""

    model_config = ConfigDict(frozen=True)

    time: float
    value: float
    in_slope: float = 0.0
    out_slope: float = 0.0
    span: SpanKind = "eased"


class Curve(BaseModel):
    """Keys in order of time, and what happens before the first and after the last (rule 3.2)."""

    model_config = ConfigDict(frozen=True)

    keys: tuple[Key, ...]
    before: Beyond = "hold"
    after: Beyond = "hold"

    @field_validator("keys")
    @classmethod
    def _ordered(cls, keys: tuple[Key, ...]) -> tuple[Key, ...]:
        if not keys:
            raise Refusal("A curve has one key at least.")
        for earlier, later in pairwise(keys):
            if later.time <= earlier.time:
                raise Refusal(f"Two keys cannot share frame {later.time:g}.")
        return keys

    def values(self, times: Array) -> Array:
        """The curve at each time. Shape [...] → [...]."""
        times = real(times)
        inside, offset, line = self._folded(times)
        return self._inside(inside) + offset + line

    def slopes(self) -> tuple[Array, Array]:
        """Incoming and outgoing slope of every key as played, in value per frame."""
        times, values = self._columns()
        eased = monotone_slopes(times, values)
        secants = np.diff(values) / np.diff(times) if len(times) > 1 else np.zeros(0)
        incoming, outgoing = eased.copy(), eased.copy()
        for index, key in enumerate(self.keys[:-1]):
            following = self.keys[index + 1]
            if key.span == "free":
                outgoing[index], incoming[index + 1] = key.out_slope, following.in_slope
            elif key.span == "even":
                outgoing[index] = incoming[index + 1] = secants[index]
            elif key.span == "hold":
                outgoing[index] = incoming[index + 1] = 0.0
        return incoming, outgoing

    def with_key(self, time: float) -> "Curve":
        """One key more, and the same curve (rule 3.3): its span is cut at `time`."""
        times, _ = self._columns()
        if time in times:
            return self
        value = float(self.values(real(time)))
        after = int(np.searchsorted(times, time))
        if after in (0, len(times)):
            if (self.after if after else self.before) != "hold":
                raise Refusal("A key can be added without a change only between two keys.")
            key = Key(time=time, value=value, span="hold")
            if after == 0:
                return self._replaced([key, *self.keys])
            last = self.keys[-1].model_copy(update={"span": "hold"})
            return self._replaced([*self.keys[:-1], last, key])
        left = self.keys[after - 1]
        if left.span in ("hold", "even"):
            key = Key(time=time, value=value, span=left.span)
        else:
            slope = float(self._derivative(real(time)))
            key = Key(time=time, value=value, in_slope=slope, out_slope=slope, span="free")
        grown = self._replaced([*self.keys[:after], key, *self.keys[after:]])
        return grown._with_slopes_of(self)

    def moved(self, chosen: frozenset[int], frames: float) -> "tuple[Curve, int]":
        """Keys at these places moved in time. Where two meet the moved one wins; says how many."""
        return self._retimed({i: self.keys[i].time + frames for i in chosen})

    def scaled(self, chosen: frozenset[int], pivot: float, factor: float) -> "tuple[Curve, int]":
        """Keys at these places scaled about a pivot in time."""
        return self._retimed({i: pivot + (self.keys[i].time - pivot) * factor for i in chosen})

    def rippled(self, start: float, frames: float) -> "tuple[Curve, int]":
        """Every key from `start` on, moved in time."""
        chosen = (i for i, key in enumerate(self.keys) if key.time >= start)
        return self.moved(frozenset(chosen), frames)

    def snapped(self) -> "tuple[Curve, int]":
        """Every key on the nearest whole frame."""
        return self._retimed({i: float(np.floor(k.time + 0.5)) for i, k in enumerate(self.keys)})

    def reversed(self) -> "Curve":
        """The same shape played backwards over the same span of time."""
        first, last = self.keys[0].time, self.keys[-1].time
        kinds = [key.span for key in self.keys]
        incoming, outgoing = self.slopes()
        keys = [
            Key(
                time=first + last - key.time,
                value=key.value,
                in_slope=-float(outgoing[i]),
                out_slope=-float(incoming[i]),
                span=kinds[i - 1] if i else kinds[-1],
            )
            for i, key in reversed(list(enumerate(self.keys)))
        ]
        return Curve(keys=tuple(keys), before=self.after, after=self.before)

    def mirrored(self, about: float = 0.0) -> "Curve":
        """Every value reflected about `about`."""
        keys = tuple(
            key.model_copy(
                update={
                    "value": 2 * about - key.value,
                    "in_slope": -key.in_slope,
                    "out_slope": -key.out_slope,
                }
            )
            for key in self.keys
        )
        return self.model_copy(update={"keys": keys})

    # How the curve is worked out

    def _columns(self) -> tuple[Array, Array]:
        times = np.array([key.time for key in self.keys])
        return times, np.array([key.value for key in self.keys])

    def _replaced(self, keys: list[Key]) -> "Curve":
        return Curve(keys=tuple(keys), before=self.before, after=self.after)

    def _with_slopes_of(self, before: "Curve") -> "Curve":
        """Write down the slopes of eased spans that a new key would have changed."""
        places = [before._place(key.time) for key in self.keys]
        was_in, was_out = before.slopes()
        now_in, now_out = self.slopes()
        keys = list(self.keys)
        for start, (here, there) in enumerate(pairwise(places)):
            if keys[start].span not in ("eased", "free"):
                continue
            # The new key has its slopes written down already.
            wanted_out = keys[start].out_slope if here is None else was_out[here]
            wanted_in = keys[start + 1].in_slope if there is None else was_in[there]
            if wanted_out == now_out[start] and wanted_in == now_in[start + 1]:
                continue
            out_of = {"out_slope": float(wanted_out), "span": "free"}
            keys[start] = keys[start].model_copy(update=out_of)
            keys[start + 1] = keys[start + 1].model_copy(update={"in_slope": float(wanted_in)})
        return self._replaced(keys)

    def _place(self, time: float) -> int | None:
        return next((place for place, key in enumerate(self.keys) if key.time == time), None)

    def _retimed(self, times: dict[int, float]) -> "tuple[Curve, int]":
        taken = set(times.values())
        still = [k for i, k in enumerate(self.keys) if i not in times and k.time not in taken]
        moved: dict[float, Key] = {}
        for place, time in times.items():
            moved[time] = self.keys[place].model_copy(update={"time": time})
        keys = sorted([*still, *moved.values()], key=lambda key: key.time)
        return self._replaced(keys), len(self.keys) - len(keys)

    def _folded(self, times: Array) -> tuple[Array, Array, Array]:
        """Times brought between the keys, the offset that repeats add, and the continued line."""
        keys, values = self._columns()
        first, last = keys[0], keys[-1]
        length = last - first
        offset, line = np.zeros_like(times), np.zeros_like(times)
        if length == 0:
            return np.full_like(times, first), offset, line
        rounds = np.floor((times - first) / length)
        within = times - first - rounds * length
        inside = np.clip(times, first, last)
        incoming, outgoing = self.slopes()
        outside = (
            (times < first, self.before, outgoing[0]),
            (times > last, self.after, incoming[-1]),
        )
        for where, beyond, slope in outside:
            if beyond in ("repeat", "offset"):
                inside = np.where(where, first + within, inside)
            elif beyond == "mirror":
                back = np.where(rounds % 2 == 1, length - within, within)
                inside = np.where(where, first + back, inside)
            if beyond == "offset":
                offset = np.where(where, rounds * (values[-1] - values[0]), offset)
            if beyond == "continue":
                edge = np.where(times < first, first, last)
                line = np.where(where, (times - edge) * slope, line)
        return inside, offset, line

    def _span_of(self, times: Array) -> Index:
        keys, _ = self._columns()
        return np.clip(np.searchsorted(keys, times, side="right") - 1, 0, max(0, len(keys) - 2))

    def _inside(self, times: Array) -> Array:
        keys, values = self._columns()
        if len(keys) == 1:
            return np.full_like(times, values[0])
        span = self._span_of(times)
        incoming, outgoing = self.slopes()
        length = np.diff(keys)[span]
        u = (times - keys[span]) / length
        rise = values[span + 1] - values[span]
        kinds = np.array([key.span for key in self.keys[:-1]])[span]
        curved = (
            values[span]
            + rise * u * u * (3 - 2 * u)
            + length * (outgoing[span] * u * (1 - u) ** 2 - incoming[span + 1] * u * u * (1 - u))
        )
        curved = np.where(kinds == "even", values[span] + rise * u, curved)
        held = np.where(times >= keys[span + 1], values[span + 1], values[span])
        return np.where(kinds == "hold", held, curved)

    def _derivative(self, times: Array) -> Array:
        keys, values = self._columns()
        span = self._span_of(times)
        incoming, outgoing = self.slopes()
        length = np.diff(keys)[span]
        u = (times - keys[span]) / length
        return (
            (values[span + 1] - values[span]) * 6 * u * (1 - u) / length
            + outgoing[span] * (1 - u) * (1 - 3 * u)
            + incoming[span + 1] * u * (3 * u - 2)
        )


def monotone_slopes(times: Array, values: Array) -> Array:
    """Slopes that neither overshoot nor ring: F. N. Fritsch and R. E. Carlson, "Monotone piecewise
    cubic interpolation", SIAM J. Numer. Anal. 17 (1980). Flat at both ends and at extremes."""
    slopes = np.zeros(len(times))
    if len(times) < 3:
        return slopes
    secants = np.diff(values) / np.diff(times)
    left, right = secants[:-1], secants[1:]
    slopes[1:-1] = np.where(left * right > 0, (left + right) / 2, 0.0)
    for index, secant in enumerate(secants):
        if secant == 0:
            slopes[index] = slopes[index + 1] = 0.0
            continue
        a, b = slopes[index] / secant, slopes[index + 1] / secant
        size = np.hypot(a, b)
        if size > 3:
            slopes[index], slopes[index + 1] = 3 * a / size * secant, 3 * b / size * secant
    return slopes
