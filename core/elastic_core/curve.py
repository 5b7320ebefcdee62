"""Keyed curves: columns of keys, and the cubic Hermite spans between them (rules 3.1 to 3.3)."""

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from typing import Any, Literal

import numpy as np
from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from .arrays import Array, Index, real
from .clock import nearest_frame
from .errors import Refusal
from .frozen import Frozen
from .quantities import MOST_FRAMES, MOST_SLOPE, MOST_VALUE, NEAR_FRAMES, Frame, Slope, Value
from .spans import Codes, Span, Spans, monotone_slopes, round_slopes, secants

SpanKind = Literal["hold", "even", "eased", "free"]
Beyond = Literal["hold", "repeat", "offset", "mirror", "continue"]
SPAN_KINDS: tuple[SpanKind, ...] = ("hold", "even", "eased", "free")
BEYOND: tuple[Beyond, ...] = ("hold", "repeat", "offset", "mirror", "continue")
_CODES: Mapping[str, int] = {kind: code for code, kind in enumerate(SPAN_KINDS)}
# Up to so many keys are kept as objects once someone has asked for them.
_FEW_KEYS = 256


class Key(Frozen):
    """A value at a time (frames). Slopes are value per frame and count where a span is *free*."""

    time: Frame
    value: Value
    in_slope: Slope = 0.0
    out_slope: Slope = 0.0
    span: SpanKind = "eased"


class Curve:
    """Keys in order of time, and what happens before the first and after the last (rule 3.2).

    The keys are columns [n]: `times`, `values`, `in_slopes`, `out_slopes`, and `kinds` (codes of the
    span after each key). They never change; what is worked out from them is kept beside them.
    Raises Refusal for no key at all, for keys out of order and for numbers that are not finite.
    """

    def __init__(
        self, keys: Iterable[Key] = (), before: Beyond = "hold", after: Beyond = "hold"
    ) -> None:
        rows = list(keys)
        self._set(
            real([key.time for key in rows]),
            real([key.value for key in rows]),
            real([key.in_slope for key in rows]),
            real([key.out_slope for key in rows]),
            np.array([_CODES[key.span] for key in rows], dtype=np.uint8),
            before,
            after,
        )

    @classmethod
    def of_columns(
        cls,
        times: Array,
        values: Array,
        in_slopes: Array,
        out_slopes: Array,
        kinds: Codes,
        before: Beyond = "hold",
        after: Beyond = "hold",
    ) -> "Curve":
        """A curve of columns that are at hand [n]; they are kept as they are, not copied."""
        made = cls.__new__(cls)
        made._set(times, values, in_slopes, out_slopes, kinds, before, after)
        return made

    @classmethod
    def even(cls, times: Array, values: Array, beyond: Beyond = "hold") -> "Curve":
        """Even spans from key to key."""
        still = np.zeros(len(times))
        kinds = np.full(len(times), Span.EVEN, dtype=np.uint8)
        return cls.of_columns(real(times), real(values), still, still, kinds, beyond, beyond)

    @classmethod
    def still(cls, value: float, beyond: Beyond = "hold") -> "Curve":
        """One key at frame 0."""
        return cls(keys=(Key(time=0.0, value=value),), before=beyond, after=beyond)

    def _set(
        self,
        times: Array,
        values: Array,
        in_slopes: Array,
        out_slopes: Array,
        kinds: Codes,
        before: Beyond,
        after: Beyond,
    ) -> None:
        if not len(times):
            raise Refusal("A curve has one key at least.")
        columns = (times, values, in_slopes, out_slopes)
        mosts = (MOST_FRAMES, MOST_VALUE, MOST_SLOPE, MOST_SLOPE)
        for numbers, most in zip(columns, mosts, strict=True):
            # Written so that what is no number is refused too.
            if not (np.abs(numbers) <= most).all():
                raise Refusal(
                    "A key's time, value and slopes are plain numbers, and none is beyond all measure."
                )
        together = np.flatnonzero(np.diff(times) < NEAR_FRAMES)
        if together.size:
            raise Refusal(f"Two keys cannot share frame {times[together[0] + 1]:g}.")
        for column in (*columns, kinds):
            column.setflags(write=False)
        self.times, self.values_of_keys = times, values
        self.in_slopes, self.out_slopes, self.kinds = in_slopes, out_slopes, kinds
        self.before, self.after = before, after

    def __len__(self) -> int:
        return len(self.times)

    def __eq__(self, other: object) -> bool:
        if self is other:
            return True
        return (
            isinstance(other, Curve)
            and (self.before, self.after) == (other.before, other.after)
            and len(self) == len(other)
            and np.array_equal(self.kinds, other.kinds)
            and all(map(np.array_equal, self._numbers, other._numbers))
        )

    def __hash__(self) -> int:
        return hash(self.fingerprint)

    def __repr__(self) -> str:
        first, last = self.times[0], self.times[-1]
        return f"Curve({len(self)} keys, {first:g} to {last:g}, {self.before}, {self.after})"

    @cached_property
    def fingerprint(self) -> str:
        """SHA-256 of the columns and of what lies beyond them: equal curves have one name."""
        digest = hashlib.sha256(f"{self.before}|{self.after}|".encode())
        for column in self._numbers:
            digest.update(np.ascontiguousarray(column).tobytes())
        digest.update(np.ascontiguousarray(self.kinds).tobytes())
        return digest.hexdigest()

    @cached_property
    def nbytes(self) -> int:
        """Bytes of the columns, without what was worked out from them."""
        return self.kinds.nbytes + sum(column.nbytes for column in self._numbers)

    @property
    def keys(self) -> tuple[Key, ...]:
        """The keys one by one; of a curve with many they are made anew each time."""
        known = self.__dict__.get("_keys")
        if known is not None:
            return known  # type: ignore[no-any-return]
        made = tuple(self.key(place) for place in range(len(self)))
        if len(made) <= _FEW_KEYS:
            self.__dict__["_keys"] = made
        return made

    def key(self, place: int) -> Key:
        """One key by its place."""
        return Key.model_construct(
            time=float(self.times[place]),
            value=float(self.values_of_keys[place]),
            in_slope=float(self.in_slopes[place]),
            out_slope=float(self.out_slopes[place]),
            span=SPAN_KINDS[self.kinds[place]],
        )

    def place_of(self, time: float) -> int | None:
        """Where the key at this time stands among the keys."""
        place = int(np.searchsorted(self.times, time - NEAR_FRAMES, side="right"))
        here = place < len(self) and self.times[place] - time < NEAR_FRAMES
        return place if here else None

    # What the curve is

    def values(self, times: Array) -> Array:
        """The curve at each time. Shape [...] → [...]."""
        times = real(times)
        inside, offset = self._folded(times)
        value = self._spans.at(inside)
        return value if offset is None else value + offset

    def at_frames(self, count: int) -> Array:
        """The curve at frames 0 … count − 1, worked out once."""
        known = self._frames.get(count)
        if known is None:
            known = self._frames[count] = self.values(np.arange(count, dtype=np.float64))
        return known

    def slopes(self) -> tuple[Array, Array]:
        """Incoming and outgoing slope of every key as played, in value per frame.

        A curve that repeats eases through its ends: they count as neighbours.
        """
        return self._slopes

    @property
    def goes_round(self) -> bool:
        """Whether it repeats on both sides, with or without an offset."""
        return {self.before, self.after} <= {"repeat", "offset"}

    def rate_of_change(self, times: Array) -> Array:
        """Value per frame at each time; on a key that of the span after it. Shape [...] → [...]."""
        times = real(times)
        first, last = self.times[0], self.times[-1]
        inside, _ = self._folded(times)
        if len(self) == 1:
            return np.zeros_like(times)
        if self.goes_round:
            # On the end of a round the next one begins.
            inside = first + np.mod(times - first, last - first)
        rate = self._spans.slope(inside)
        for where, beyond in ((times < first, self.before), (times > last, self.after)):
            if beyond == "hold":
                rate = np.where(where, 0.0, rate)
            elif beyond == "mirror":
                back = np.floor((times - first) / (last - first)) % 2 == 1
                rate = np.where(where & back, -rate, rate)
        return rate

    def closed(self, length: float) -> "Curve":
        """As a cycle of this length plays it: without a key of its own for its end, a curve that
        repeats comes round to its first key (rules 1.2 and 3.2)."""
        if not self.goes_round or self.times[-1] - self.times[0] > length - NEAR_FRAMES:
            return self
        if length not in self._closed:
            end = self.key(0).model_copy(update={"time": float(self.times[0]) + length})
            self._closed[length] = self._with_key_at(len(self), end)
        return self._closed[length]

    # Changed curves

    def going(self, before: Beyond, after: Beyond) -> "Curve":
        """The same curve over its keys, whatever lies before and after them."""
        return self._changed(before=before, after=after).with_slopes_of(self)

    def with_beyond(self, before: Beyond, after: Beyond) -> "Curve":
        """The same keys; what lies before and after them as it is said."""
        return self._changed(before=before, after=after)

    def with_keys(self, keys: Iterable[Key]) -> "Curve":
        """Other keys, the same beyond them."""
        return Curve(keys, self.before, self.after)

    def only(self, chosen: "np.ndarray[Any, np.dtype[np.bool_]]") -> "Curve | None":
        """The keys that are chosen [n]; none where no key is left."""
        if chosen.all():
            return self
        return self._picked(np.flatnonzero(chosen)) if chosen.any() else None

    def with_columns(
        self,
        values: Array | None = None,
        in_slopes: Array | None = None,
        out_slopes: Array | None = None,
    ) -> "Curve":
        """Other values or slopes for the same keys [n]; times and kinds stay."""
        return self._changed(values=values, in_slopes=in_slopes, out_slopes=out_slopes)

    def with_value(self, time: float, value: float, kind: SpanKind | None = None) -> "Curve":
        """A key at `time` with this value: the one there changed, or a new one.

        A new key takes the kind of the span it falls in, unless one is given.
        """
        place = self.place_of(time)
        if place is not None:
            values, kinds = self.values_of_keys.copy(), self.kinds.copy()
            values[place] = value
            kinds[place] = self.kinds[place] if kind is None else _CODES[kind]
            return self._changed(values=values, kinds=kinds)
        after = int(np.searchsorted(self.times, time))
        span = SPAN_KINDS[self.kinds[max(0, after - 1)]]
        slope = 0.0
        if span == "free" and 0 < after < len(self):
            slope = float(self._spans.slope(real(time)))
        key = Key(time=time, value=value, in_slope=slope, out_slope=slope, span=kind or span)
        return self._with_key_at(after, key)

    def without(self, chosen: frozenset[int]) -> "Curve | None":
        """The curve without the keys at these places; none where no key is left."""
        return self.only(~_at(chosen, len(self)))

    def with_key(self, time: float) -> "Curve":
        """One key more, and the same curve (rule 3.3): its span is cut at `time`.

        Raises Refusal beyond the ends of a curve that does not hold there.
        """
        if self.place_of(time) is not None:
            return self
        value = float(self.values(real(time)))
        after = int(np.searchsorted(self.times, time))
        if after in (0, len(self)):
            if (self.after if after else self.before) != "hold":
                raise Refusal("A key can be added without a change only between two keys.")
            key = Key(time=time, value=value, span="hold")
            kinds = self.kinds.copy()
            if after:
                kinds[-1] = Span.HOLD
            return self._changed(kinds=kinds)._with_key_at(after, key)
        left = SPAN_KINDS[self.kinds[after - 1]]
        if left in ("hold", "even"):
            key = Key(time=time, value=value, span=left)
        else:
            slope = float(self._spans.slope(real(time)))
            key = Key(time=time, value=value, in_slope=slope, out_slope=slope, span="free")
        return self._with_key_at(after, key).with_slopes_of(self)

    def moved(self, chosen: frozenset[int], frames: float) -> "tuple[Curve, int]":
        """Keys at these places moved in time. Where two meet the moved one wins; says how many."""
        return self.retimed({i: float(self.times[i]) + frames for i in chosen})

    def scaled(self, chosen: frozenset[int], pivot: float, factor: float) -> "tuple[Curve, int]":
        """Keys at these places scaled about a pivot in time."""
        return self.retimed({i: pivot + (float(self.times[i]) - pivot) * factor for i in chosen})

    def rippled(self, start: float, frames: float) -> "tuple[Curve, int]":
        """Every key from `start` on, moved in time."""
        return self.moved(frozenset(np.flatnonzero(self.times >= start).tolist()), frames)

    def snapped(self) -> "tuple[Curve, int]":
        """Every key on the nearest whole frame."""
        return self.retimed({i: nearest_frame(time) for i, time in enumerate(self.times.tolist())})

    def retimed(self, times: Mapping[int, float]) -> "tuple[Curve, int]":
        """Keys at these places set to other times. Where two meet the moved one wins; says how many."""
        # Of two that are set to one time the later named one wins.
        winners = {round(time / NEAR_FRAMES): (place, time) for place, time in times.items()}
        won = [place for place, _ in winners.values()]
        landed = real([time for _, time in winners.values()])
        keeps = ~_at(times, len(self)) & ~_near(self.times, landed)
        places = np.concatenate([np.flatnonzero(keeps), won]).astype(np.intp)
        new = np.concatenate([self.times[keeps], landed])
        order = np.argsort(new, kind="stable")
        picked = self._picked(places[order], times=new[order])
        return picked, len(self) - len(picked)

    def reversed(self) -> "Curve":
        """The same shape played backwards over the same span of time."""
        incoming, outgoing = self.slopes()
        kinds = np.concatenate([self.kinds[:-1][::-1], self.kinds[-1:]])
        return Curve.of_columns(
            (self.times[0] + self.times[-1] - self.times)[::-1].copy(),
            self.values_of_keys[::-1].copy(),
            -outgoing[::-1],
            -incoming[::-1],
            kinds,
            self.after,
            self.before,
        )

    def mirrored(self, about: float = 0.0) -> "Curve":
        """Every value reflected about `about`."""
        return self._changed(
            values=2 * about - self.values_of_keys,
            in_slopes=-self.in_slopes,
            out_slopes=-self.out_slopes,
        )

    def with_slopes_of(self, before: "Curve") -> "Curve":
        """Write down the slopes of eased spans that a new key has changed: those of the curve before."""
        place = np.searchsorted(before.times, self.times).clip(max=len(before) - 1)
        known = before.times[place] == self.times
        was_in, was_out = (slopes[place] for slopes in before.slopes())
        now_in, now_out = self.slopes()
        # A new key has its slopes written down already.
        leaves = np.where(known, was_out, self.out_slopes)[:-1]
        arrives = np.where(known, was_in, self.in_slopes)[1:]
        bends = np.isin(self.kinds[:-1], (Span.EASED, Span.FREE))
        differ = bends & ((leaves != now_out[:-1]) | (arrives != now_in[1:]))
        if not differ.any():
            return self
        in_slopes, out_slopes = self.in_slopes.copy(), self.out_slopes.copy()
        kinds = self.kinds.copy()
        out_slopes[:-1][differ] = leaves[differ]
        in_slopes[1:][differ] = arrives[differ]
        kinds[:-1][differ] = Span.FREE
        return self._changed(in_slopes=in_slopes, out_slopes=out_slopes, kinds=kinds)

    # How the curve is worked out

    @property
    def _numbers(self) -> tuple[Array, Array, Array, Array]:
        return self.times, self.values_of_keys, self.in_slopes, self.out_slopes

    @cached_property
    def _frames(self) -> dict[int, Array]:
        return {}

    @cached_property
    def _closed(self) -> "dict[float, Curve]":
        return {}

    @cached_property
    def _slopes(self) -> tuple[Array, Array]:
        times, values, kinds = self.times, self.values_of_keys, self.kinds[:-1]
        eased = round_slopes(times, values) if self.goes_round else monotone_slopes(times, values)
        incoming, outgoing = eased.copy(), eased.copy()
        if len(times) > 1:
            free, even = kinds == Span.FREE, kinds == Span.EVEN
            lines = np.where(even, secants(times, values), 0.0)
            straight = even | (kinds == Span.HOLD)
            outgoing[:-1] = np.where(straight, lines, outgoing[:-1])
            incoming[1:] = np.where(straight, lines, incoming[1:])
            outgoing[:-1] = np.where(free, self.out_slopes[:-1], outgoing[:-1])
            incoming[1:] = np.where(free, self.in_slopes[1:], incoming[1:])
        return incoming, outgoing

    @cached_property
    def _spans(self) -> Spans:
        incoming, outgoing = self._slopes
        return Spans(self.times, self.values_of_keys, outgoing[:-1], incoming[1:], self.kinds[:-1])

    def _folded(self, times: Array) -> tuple[Array, Array | None]:
        """Times brought between the keys, and the offset that repeats add; none where there is none.

        Where the curve continues they stay outside: spans go on in a straight line.
        """
        first, last = self.times[0], self.times[-1]
        length = last - first
        if length == 0:
            return np.full_like(times, first), None
        inside = times
        below, above = times < first, times > last
        if not (below.any() or above.any()):
            return times, None
        offset = None
        rounds = np.floor((times - first) / length)
        within = times - first - rounds * length
        for where, beyond, edge in ((below, self.before, first), (above, self.after, last)):
            if beyond == "hold":
                inside = np.where(where, edge, inside)
            elif beyond in ("repeat", "offset"):
                inside = np.where(where, first + within, inside)
            elif beyond == "mirror":
                back = np.where(rounds % 2 == 1, length - within, within)
                inside = np.where(where, first + back, inside)
            if beyond == "offset":
                rise = self.values_of_keys[-1] - self.values_of_keys[0]
                offset = np.where(where, rounds * rise, 0.0 if offset is None else offset)
        return inside, offset

    def _changed(
        self,
        times: Array | None = None,
        values: Array | None = None,
        in_slopes: Array | None = None,
        out_slopes: Array | None = None,
        kinds: Codes | None = None,
        before: Beyond | None = None,
        after: Beyond | None = None,
    ) -> "Curve":
        return Curve.of_columns(
            self.times if times is None else times,
            self.values_of_keys if values is None else values,
            self.in_slopes if in_slopes is None else in_slopes,
            self.out_slopes if out_slopes is None else out_slopes,
            self.kinds if kinds is None else kinds,
            before or self.before,
            after or self.after,
        )

    def _picked(self, places: Index, times: Array | None = None) -> "Curve":
        own, values, in_slopes, out_slopes = (column[places] for column in self._numbers)
        return self._changed(
            own if times is None else times, values, in_slopes, out_slopes, self.kinds[places]
        )

    def _with_key_at(self, place: int, key: Key) -> "Curve":
        numbers = (key.time, key.value, key.in_slope, key.out_slope)
        columns = (
            np.insert(column, place, number)
            for column, number in zip(self._numbers, numbers, strict=True)
        )
        times, values, in_slopes, out_slopes = columns
        kinds = np.insert(self.kinds, place, _CODES[key.span])
        return self._changed(times, values, in_slopes, out_slopes, kinds)

    # As part of a document

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(
            cls.from_document,
            serialization=core_schema.plain_serializer_function_ser_schema(
                cls.as_document, return_schema=core_schema.any_schema()
            ),
        )

    @classmethod
    def __get_pydantic_json_schema__(
        cls, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        return {"type": "object"}

    @classmethod
    def from_document(cls, written: Any) -> "Curve":
        """A curve as documents have it: columns, or key by key as the first version wrote it.

        Raises Refusal in one sentence where it is neither.
        """
        if isinstance(written, cls):
            return written
        if not isinstance(written, Mapping):
            raise Refusal("A curve has times and values.")
        before, after = (_one_of(written.get(e, "hold"), BEYOND) for e in ("before", "after"))
        if "keys" in written:
            return cls((Key.model_validate(key) for key in written["keys"]), before, after)
        values = _numbers(written.get("values"))
        count = len(values)
        times = _numbers(written["times"]) if "times" in written else np.arange(count, dtype=float)
        spans = written.get("spans", "eased")
        each = [spans] * count if isinstance(spans, str) else spans
        arrives, leaves = (
            _numbers(written[name]) if name in written else np.zeros(count)
            for name in ("in_slopes", "out_slopes")
        )
        if any(len(column) != count for column in (times, arrives, leaves, each)):
            raise Refusal("A curve has one time, one span and one value for each key.")
        kinds = np.array([_CODES[_one_of(kind, SPAN_KINDS)] for kind in each], dtype=np.uint8)
        return cls.of_columns(times, values, arrives, leaves, kinds, before, after)

    def as_document(self) -> dict[str, Any]:
        """The columns as plain lists; what goes without saying is left out (docs/formats.md)."""
        written: dict[str, Any] = {"values": self.values_of_keys.tolist()}
        if not np.array_equal(self.times, np.arange(len(self))):
            written["times"] = self.times.tolist()
        if (self.kinds == self.kinds[0]).all():
            written["spans"] = SPAN_KINDS[self.kinds[0]]
        else:
            written["spans"] = [SPAN_KINDS[kind] for kind in self.kinds]
        for name, slopes in (("in_slopes", self.in_slopes), ("out_slopes", self.out_slopes)):
            if slopes.any():
                written[name] = slopes.tolist()
        return {**written, "before": self.before, "after": self.after}


def _near(times: Array, others: Array) -> "np.ndarray[Any, np.dtype[np.bool_]]":
    """Which of these times are the same as one of the others [n]."""
    walls = np.concatenate([[-np.inf], np.sort(others), [np.inf]])
    after = np.searchsorted(walls, times)
    near: np.ndarray[Any, np.dtype[np.bool_]] = (
        np.minimum(times - walls[after - 1], walls[after] - times) < NEAR_FRAMES
    )
    return near


def _at(places: Iterable[int], count: int) -> "np.ndarray[Any, np.dtype[np.bool_]]":
    chosen = np.zeros(count, dtype=np.bool_)
    chosen[list(places)] = True
    return chosen


def _numbers(written: Any) -> Array:
    try:
        numbers = np.array(written, dtype=np.float64)
    except (TypeError, ValueError, OverflowError):
        raise Refusal("A curve's times and values are plain numbers.") from None
    if numbers.ndim != 1:
        raise Refusal("A curve's times and values are plain rows of numbers.")
    return numbers


def _one_of(written: Any, known: Sequence[Any]) -> Any:
    if written not in known:
        raise Refusal(f"A curve knows {', '.join(known)}, and not “{written}”.")
    return written
