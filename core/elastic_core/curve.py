"""Keyed curves: cubic Hermite spans, the glTF CUBICSPLINE form (rules 3.1 to 3.3)."""

from collections.abc import Mapping
from functools import cached_property
from itertools import pairwise
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
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

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> "Curve":
        """A changed copy, without what was worked out for this one."""
        fields = {"keys": self.keys, "before": self.before, "after": self.after}
        return Curve(**{**fields, **(update or {})})

    def __eq__(self, other: object) -> bool:
        mine = (self.keys, self.before, self.after)
        return isinstance(other, Curve) and mine == (other.keys, other.before, other.after)

    def __hash__(self) -> int:
        return hash((self.keys, self.before, self.after))

    @classmethod
    def still(cls, value: float, beyond: Beyond = "hold") -> "Curve":
        """One key at frame 0."""
        return cls(keys=(Key(time=0.0, value=value),), before=beyond, after=beyond)

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

    def at_frames(self, count: int) -> Array:
        """The curve at frames 0 … count − 1, worked out once."""
        known = self._frames.get(count)
        if known is None:
            known = self._frames[count] = self.values(np.arange(count, dtype=np.float64))
        return known

    @cached_property
    def _frames(self) -> dict[int, Array]:
        return {}

    @cached_property
    def _closed(self) -> "dict[float, Curve]":
        return {}

    def slopes(self) -> tuple[Array, Array]:
        """Incoming and outgoing slope of every key as played, in value per frame.

        A curve that repeats eases through its ends: they count as neighbours.
        """
        return self._slopes

    @cached_property
    def _slopes(self) -> tuple[Array, Array]:
        times, values = self._columns
        eased = round_slopes(times, values) if self.goes_round else monotone_slopes(times, values)
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

    @property
    def goes_round(self) -> bool:
        """Whether it repeats on both sides, with or without an offset."""
        return {self.before, self.after} <= {"repeat", "offset"}

    def rate_of_change(self, times: Array) -> Array:
        """Value per frame at each time; on a key that of the span after it. Shape [...] → [...]."""
        times = real(times)
        keys, _ = self._columns
        inside, _, _ = self._folded(times)
        if self.goes_round and len(keys) > 1:
            # On the end of a round the next one begins.
            inside = keys[0] + np.mod(times - keys[0], keys[-1] - keys[0])
        rate = self._derivative(inside) if len(keys) > 1 else np.zeros_like(times)
        incoming, outgoing = self._slopes
        for where, beyond, slope in (
            (times < keys[0], self.before, outgoing[0]),
            (times > keys[-1], self.after, incoming[-1]),
        ):
            if beyond in ("hold", "continue"):
                rate = np.where(where, slope if beyond == "continue" else 0.0, rate)
            elif beyond == "mirror" and len(keys) > 1:
                back = np.floor((times - keys[0]) / (keys[-1] - keys[0])) % 2 == 1
                rate = np.where(where & back, -rate, rate)
        return rate

    def closed(self, length: float) -> "Curve":
        """As a cycle of this length plays it: without a key of its own for its end, a curve that
        repeats comes round to its first key (rules 1.2 and 3.2)."""
        first, last = self.keys[0], self.keys[-1]
        if not self.goes_round or last.time - first.time >= length:
            return self
        if length not in self._closed:
            end = first.model_copy(update={"time": first.time + length})
            self._closed[length] = self._replaced([*self.keys, end])
        return self._closed[length]

    def going(self, before: Beyond, after: Beyond) -> "Curve":
        """The same curve over its keys, whatever lies before and after them."""
        return Curve(keys=self.keys, before=before, after=after).with_slopes_of(self)

    def with_value(self, time: float, value: float, kind: SpanKind | None = None) -> "Curve":
        """A key at `time` with this value: the one there changed, or a new one.

        A new key takes the kind of the span it falls in, unless one is given.
        """
        times, _ = self._columns
        place = self._place(time)
        if place is not None:
            change: dict[str, object] = {"value": value} | ({"span": kind} if kind else {})
            key = self.keys[place].model_copy(update=change)
            return self._replaced([*self.keys[:place], key, *self.keys[place + 1 :]])
        after = int(np.searchsorted(times, time))
        span = self.keys[max(0, after - 1)].span
        slope = 0.0
        if span == "free" and 0 < after < len(times):
            slope = float(self._derivative(real(time)))
        key = Key(time=time, value=value, in_slope=slope, out_slope=slope, span=kind or span)
        return self._replaced([*self.keys[:after], key, *self.keys[after:]])

    def without(self, chosen: frozenset[int]) -> "Curve | None":
        """The curve without the keys at these places; none where no key is left."""
        kept = [key for place, key in enumerate(self.keys) if place not in chosen]
        return self._replaced(kept) if kept else None

    def with_key(self, time: float) -> "Curve":
        """One key more, and the same curve (rule 3.3): its span is cut at `time`."""
        times, _ = self._columns
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
        return grown.with_slopes_of(self)

    def moved(self, chosen: frozenset[int], frames: float) -> "tuple[Curve, int]":
        """Keys at these places moved in time. Where two meet the moved one wins; says how many."""
        return self.retimed({i: self.keys[i].time + frames for i in chosen})

    def scaled(self, chosen: frozenset[int], pivot: float, factor: float) -> "tuple[Curve, int]":
        """Keys at these places scaled about a pivot in time."""
        return self.retimed({i: pivot + (self.keys[i].time - pivot) * factor for i in chosen})

    def rippled(self, start: float, frames: float) -> "tuple[Curve, int]":
        """Every key from `start` on, moved in time."""
        chosen = (i for i, key in enumerate(self.keys) if key.time >= start)
        return self.moved(frozenset(chosen), frames)

    def snapped(self) -> "tuple[Curve, int]":
        """Every key on the nearest whole frame."""
        return self.retimed({i: float(np.floor(k.time + 0.5)) for i, k in enumerate(self.keys)})

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

    @cached_property
    def _columns(self) -> tuple[Array, Array]:
        times = np.array([key.time for key in self.keys])
        return times, np.array([key.value for key in self.keys])

    @cached_property
    def _kinds(self) -> NDArray[np.str_]:
        """What each span is, the last key's left out."""
        return np.array([key.span for key in self.keys[:-1]], dtype="U5")

    def _replaced(self, keys: list[Key]) -> "Curve":
        return Curve(keys=tuple(keys), before=self.before, after=self.after)

    def with_slopes_of(self, before: "Curve") -> "Curve":
        """Write down the slopes of eased spans that a new key has changed: those of the curve before."""
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

    def retimed(self, times: Mapping[int, float]) -> "tuple[Curve, int]":
        """Keys at these places set to other times. Where two meet the moved one wins; says how many."""
        taken = set(times.values())
        still = [k for i, k in enumerate(self.keys) if i not in times and k.time not in taken]
        moved: dict[float, Key] = {}
        for place, time in times.items():
            moved[time] = self.keys[place].model_copy(update={"time": time})
        keys = sorted([*still, *moved.values()], key=lambda key: key.time)
        return self._replaced(keys), len(self.keys) - len(keys)

    def _folded(self, times: Array) -> tuple[Array, Array, Array]:
        """Times brought between the keys, the offset that repeats add, and the continued line."""
        keys, values = self._columns
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
        keys, _ = self._columns
        return np.clip(np.searchsorted(keys, times, side="right") - 1, 0, max(0, len(keys) - 2))

    def _inside(self, times: Array) -> Array:
        keys, values = self._columns
        if len(keys) == 1:
            return np.full_like(times, values[0])
        span = self._span_of(times)
        incoming, outgoing = self.slopes()
        length = np.diff(keys)[span]
        u = (times - keys[span]) / length
        rise = values[span + 1] - values[span]
        kinds = self._kinds[span]
        curved = (
            values[span]
            + rise * u * u * (3 - 2 * u)
            + length * (outgoing[span] * u * (1 - u) ** 2 - incoming[span + 1] * u * u * (1 - u))
        )
        curved = np.where(kinds == "even", values[span] + rise * u, curved)
        held = np.where(times >= keys[span + 1], values[span + 1], values[span])
        return np.where(kinds == "hold", held, curved)

    def _derivative(self, times: Array) -> Array:
        keys, values = self._columns
        span = self._span_of(times)
        incoming, outgoing = self.slopes()
        length = np.diff(keys)[span]
        u = (times - keys[span]) / length
        steepness: Array = (
            (values[span + 1] - values[span]) * 6 * u * (1 - u) / length
            + outgoing[span] * (1 - u) * (1 - 3 * u)
            + incoming[span + 1] * u * (3 * u - 2)
        )
        return np.where(self._kinds[span] == "hold", 0.0, steepness)


def monotone_slopes(times: Array, values: Array) -> Array:
    """Slopes that neither overshoot nor ring: F. N. Fritsch and R. E. Carlson, "Monotone piecewise
    cubic interpolation", SIAM J. Numer. Anal. 17 (1980). Flat at both ends and at extremes."""
    slopes = np.zeros(len(times))
    if len(times) < 3:
        return slopes
    secants = np.diff(values) / np.diff(times)
    left, right = secants[:-1], secants[1:]
    slopes[1:-1] = np.where(left * right > 0, (left + right) / 2, 0.0)
    level = secants == 0
    safe = np.where(level, 1.0, secants)
    size = np.hypot(slopes[:-1] / safe, slopes[1:] / safe)
    # Both ends of a span shrink until they lie in the circle of radius 3; shrinking further for the
    # other neighbour keeps them there.
    shrink = np.where(level, 0.0, 3 / np.maximum(size, 3.0))
    result: Array = slopes * np.minimum(
        np.concatenate([[1.0], shrink]), np.concatenate([shrink, [1.0]])
    )
    return result


def round_slopes(times: Array, values: Array) -> Array:
    """The same for keys that go round and round: the first follows the last, one rise higher."""
    if len(times) < 2:
        return np.zeros(len(times))
    length, rise = times[-1] - times[0], values[-1] - values[0]
    rounds = range(-2, 3)
    # Each round but the last leaves out its end, which is the next one's start.
    inner = len(times) - 1
    long = np.concatenate([times[:-1] + k * length for k in rounds])
    high = np.concatenate([values[:-1] + k * rise for k in rounds])
    middle = monotone_slopes(long, high)[2 * inner : 3 * inner]
    return np.append(middle, middle[0])
