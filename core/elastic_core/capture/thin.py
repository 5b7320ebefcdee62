"""A take thinned to keys that can be worked on, within a tolerance that is kept on every frame (rule 6.3)."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.signal import find_peaks

from ..anatomy import legs_of
from ..arrays import Array, Index
from ..channels import channel
from ..clip.document import Clip, Plant
from ..clip.playing import columns_of, playable_of
from ..curve import Beyond, Curve
from ..cycle.rolling import RELEASE_FRAMES
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion
from ..spans import Span
from .change import Change, Worst, changed
from .fewest import Flags, keyed_within

DEGREES, CM = 0.5, 0.5
# An extreme that stands out by less than so many times the tolerance, or by less of its channel's range, is a
# ripple.
_STANDS_OUT, _STANDS_OUT_SHARE = 4.0, 0.15
# A channel that moves within so much of its tolerance stands still.
_STANDS_STILL = 0.5
# A joint that is off by too much is thinned to less each time: the less, the more it is off.
_TIGHTER, _TIGHTEST, _MOST_ROUNDS = 0.85, 0.4, 24
_ROOT_SHARE = 0.5
# Known to such a share of its tolerance the root is known to a hair.
_HAIR = 0.02
_STILL = 1e-9
LOOSEST_DEGREES = 30.0


@dataclass(frozen=True)
class Tolerance:
    """How far a turn may be off in degrees, and a hand or a foot in centimetres."""

    degrees: float = DEGREES
    cm: float = CM


@dataclass(frozen=True, eq=False)
class Thinned:
    """The keys, how many there were and are, and what the result is off by: measured on every frame."""

    keys: dict[str, Curve]
    keys_before: int
    keys_after: int
    change: Change

    @property
    def worst_turn(self) -> Worst:
        """Where a turn is off most."""
        return self.change.worst_turn

    @property
    def worst_end(self) -> Worst:
        """Where a hand or a foot is off most."""
        return self.change.worst_end


def thinned(
    figure: Figure,
    motion: Motion,
    clip: Clip,
    tolerance: Tolerance = Tolerance(),
    chosen_frames: Collection[int] = (),
) -> Thinned:
    """The fewest keys that stay within the tolerance on every frame, as the clip plays them.

    `clip` says whether it is a cycle, and which plants are held. Extremes, the frames at which plants begin and
    end, and `chosen_frames` are keyed.
    Raises Refusal for a tolerance that is none.
    """
    if not (0 < tolerance.degrees <= LOOSEST_DEGREES and tolerance.cm > 0):
        raise Refusal(f"A tolerance lies between 0 and {LOOSEST_DEGREES:g} degrees, and over 0 cm.")
    rows = _Rows(figure, motion, clip, chosen_frames)
    allowed = {row: rows.usual(row, tolerance) for row in rows.names}
    keys = {row: rows.keys(row, allowed[row]) for row in rows.names}
    for _ in range(_MOST_ROUNDS):
        done = _result(figure, motion, clip, keys, rows)
        off = rows.too_far(done.change, tolerance, allowed)
        if not off:
            return done
        for row, tighter in off.items():
            allowed[row] *= tighter
            keys[row] = rows.keys(row, allowed[row])
    # What still is off has a key on every frame, and so has the root, which held feet are reached from.
    for row in set(off) | (rows.roots | rows.leg_rows if set(off) & rows.leg_rows else set()):
        keys[row] = rows.keys(row, 0.0 * allowed[row])
    return _result(figure, motion, clip, keys, rows)


def to_share(
    figure: Figure, motion: Motion, clip: Clip, share: float, chosen_frames: Collection[int] = ()
) -> tuple[Thinned, Tolerance]:
    """The tightest tolerance that leaves at most this share of the keys, and what it comes to.

    Raises Refusal for a share that is none, or that no tolerance comes down to.
    """
    if not 0 < share <= 1:
        raise Refusal("A share of the keys lies between 0 and 100 %.")
    low, high = 0.02, LOOSEST_DEGREES
    best: tuple[Thinned, Tolerance] | None = None
    for _ in range(9):
        middle = float(np.sqrt(low * high))
        tried = Tolerance(middle, middle * CM / DEGREES)
        done = thinned(figure, motion, clip, tried, chosen_frames)
        if done.keys_after <= share * done.keys_before:
            best, high = (done, tried), middle
        else:
            low = middle
    if best is None:
        raise Refusal("Extremes and contacts alone are more keys than that share.")
    return best


def _result(
    figure: Figure,
    motion: Motion,
    clip: Clip,
    keys: Mapping[str, dict[str, Curve]],
    rows: "_Rows",
) -> Thinned:
    curves = {name: curve for row in keys.values() for name, curve in row.items()}
    keyed = clip.model_copy(update={"keys": curves, "motion": ""})
    played = playable_of(figure, keyed).samples.whole()
    count = clip.length_frames
    shown = np.arange(count)
    return Thinned(
        curves,
        sum(count if np.ptp(values) > _STILL else 1 for values in rows.columns.values()),
        sum(len(curve) for curve in curves.values()),
        changed(figure, motion.at(shown), played.at(shown)),
    )


class _Rows:
    """A motion's channels, those of one joint together: they are keyed on the same frames."""

    def __init__(
        self, figure: Figure, motion: Motion, clip: Clip, chosen_frames: Collection[int]
    ) -> None:
        self.figure, self.clip = figure, clip
        self.columns = columns_of(figure, motion, is_cycle=clip.is_cycle)
        self.names: dict[str, list[str]] = {}
        for name in self.columns:
            own = channel(name)
            self.names.setdefault(f"{own.joint}.{own.part}" if own.joint else own.part, []).append(
                name
            )
        self.roots = {"root", "travel", f"{figure.names[0]}.turn"} & set(self.names)
        self._chosen = [frame for frame in chosen_frames if 0 <= frame < motion.frames]
        self._plants = _leg_rows(figure, clip.plants)
        self.leg_rows = set(self._plants) & set(self.names)
        self._chains = _chains(figure)
        self._feet = {place for leg in legs_of(figure) for place in (leg.foot, leg.toe)}
        self._held = _held_frames(figure, clip.plants, clip.length_frames, goes_round=clip.is_cycle)

    def usual(self, row: str, tolerance: Tolerance) -> Array:
        """What a row's channels may be off by. [channels], degrees or metres."""
        units = {
            "degrees": tolerance.degrees,
            "metres": _ROOT_SHARE * tolerance.cm / 100,
            "times": 0.002,
        }
        return np.array([units[channel(name).unit] for name in self.names[row]], dtype=np.float64)

    def keys(self, row: str, allowed: Array) -> dict[str, Curve]:
        """The row's curves with as few keys as its tolerance lets it have; with none, one on every frame."""
        names = self.names[row]
        values = np.stack([self.columns[name] for name in names], axis=-1)
        beyond: Beyond = "repeat" if self.clip.is_cycle else "hold"
        still: Flags = np.ptp(values, axis=0) < np.maximum(_STILL, _STANDS_STILL * allowed)
        round_ = self.clip.is_cycle
        slopes = np.zeros_like(values)
        if still.all():
            frames = np.zeros(1, dtype=np.intp)
        elif not allowed.any():
            return {name: self._every(values[:, k], beyond) for k, name in enumerate(names)}
        else:
            forced = self._forced(row, values / allowed)
            frames, fitted = keyed_within((values / allowed)[:, ~still], forced, goes_round=round_)
            frames, fitted = (frames[:-1], fitted[:-1]) if round_ else (frames, fitted)
            slopes = np.zeros((len(frames), len(names)))
            slopes[:, ~still] = fitted * allowed[~still]
        middles = (values.max(axis=0) + values.min(axis=0)) / 2
        return {
            name: Curve.still(float(middles[k]), beyond)
            if still[k]
            else _curve(frames, values[frames, k], slopes[:, k], beyond)
            for k, name in enumerate(names)
        }

    def _every(self, values: Array, beyond: Beyond) -> Curve:
        """A key on every frame."""
        if np.ptp(values) < _STILL:
            return Curve.still(float(values[0]), beyond)
        count = len(values) - self.clip.is_cycle
        return Curve.even(np.arange(count, dtype=np.float64), values[:count].copy(), beyond)

    def too_far(
        self, change: Change, tolerance: Tolerance, allowed: Mapping[str, Array]
    ) -> dict[str, float]:
        """The rows that are to blame for a turn, a hand or a foot that is off by too much, and what share of
        their tolerance they are to be thinned to.

        While a foot is held its leg is bent to reach it: there the root is to blame, as long as that is not
        known to a hair.
        """
        rows: dict[str, float] = {}
        turns = [
            (place, {f"{name}.turn"}, change.degrees[:, place] / tolerance.degrees)
            for place, name in enumerate(self.figure.names)
        ]
        ends = [(end, self._chains[end], change.cm[:, end] / tolerance.cm) for end in change.ends]
        for place, own, times in (*turns, *ends):
            off = times > 1
            if not off.any():
                continue
            tighter = float(np.clip(0.9 / times.max(), _TIGHTEST, _TIGHTER))
            for row in self._to_blame(place, off, own, tolerance, allowed) & set(self.names):
                rows[row] = min(tighter, rows.get(row, 1.0))
        return rows

    def _to_blame(
        self,
        place: int,
        off: Flags,
        own: set[str],
        tolerance: Tolerance,
        allowed: Mapping[str, Array],
    ) -> set[str]:
        if place == 0:
            return own | {"travel"}
        held = self._held.get(place)
        if held is None or not (off & held).any():
            return own
        rows = set() if not (off & ~held).any() else own
        roots = {
            row
            for row in self.roots
            if row in allowed and (allowed[row] > _HAIR * self.usual(row, tolerance)).any()
        }
        if place in self._feet:
            # A foot that is let go comes away from the ground with all that the leg over it is off by.
            return rows | self._chains[place]
        # A knee is bent by what the thigh over it leaves open.
        return rows | (roots or self._chains[place] - self.roots)

    def _forced(self, row: str, values: Array) -> Flags:
        forced: Flags = np.zeros(len(values), dtype=np.bool_)
        forced[[0, -1]] = True
        forced[self._chosen] = True
        for frame in self._plants.get(row, ()):
            at = frame % self.clip.length_frames if self.clip.is_cycle else frame
            if 0 <= at < len(values):
                forced[at] = True
        # A joint turns over where the channel does that moves most.
        widths = np.ptp(values, axis=0)
        largest = int(widths.argmax())
        stands_out = max(_STANDS_OUT, _STANDS_OUT_SHARE * float(widths[largest]))
        for way in (1, -1):
            peaks, _ = find_peaks(way * values[:, largest], prominence=stands_out)
            forced[peaks] = True
        return forced


def _curve(frames: Index, values: Array, slopes: Array, beyond: Beyond) -> Curve:
    kinds = np.full(len(frames), Span.FREE, dtype=np.uint8)
    leaving, arriving = slopes.copy(), slopes.copy()
    return Curve.of_columns(
        frames.astype(np.float64), values.copy(), arriving, leaving, kinds, beyond, beyond
    )


def _held_frames(
    figure: Figure, plants: Sequence[Plant], frames: int, *, goes_round: bool
) -> dict[int, Flags]:
    """For a leg's joints the frames at which its foot is held, or is let go."""
    held: dict[int, Flags] = {}
    for leg in legs_of(figure):
        below = [leg.foot] if leg.toe is None else [leg.foot, leg.toe]
        flags: Flags = np.zeros(frames, dtype=np.bool_)
        for plant in plants:
            if plant.held and plant.joint in {figure.names[place] for place in below}:
                span = np.arange(int(plant.start - RELEASE_FRAMES), int(plant.end + RELEASE_FRAMES))
                # A plant over the seam of a cycle goes on at its start.
                flags[span % frames if goes_round else span[(span >= 0) & (span < frames)]] = True
        if flags.any():
            held |= dict.fromkeys((leg.thigh, leg.shin, *below), flags)
    return held


def _leg_rows(figure: Figure, plants: Sequence[Plant]) -> dict[str, list[int]]:
    """The frames on which a leg's joints are keyed for its plants: the first and the last of each."""
    rows: dict[str, list[int]] = {}
    for leg in legs_of(figure):
        below = {leg.foot} if leg.toe is None else {leg.foot, leg.toe}
        own = [p for p in plants if p.joint in {figure.names[j] for j in below}]
        frames = [f for p in own for f in (int(np.ceil(p.start)), int(np.ceil(p.end)) - 1)]
        for place in (leg.thigh, leg.shin, *below):
            rows[f"{figure.names[place]}.turn"] = frames
    return rows


def _chains(figure: Figure) -> dict[int, set[str]]:
    """For every joint the rows of all that it hangs on."""
    chains: dict[int, set[str]] = {}
    for place, parent in enumerate(figure.parents):
        own = {f"{figure.names[place]}.{part}" for part in ("turn", "move", "scale")}
        chains[place] = own | (chains[parent] if parent >= 0 else {"root", "travel"})
    return chains
