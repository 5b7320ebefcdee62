"""Copied keys carried to another figure (rules 2.4 and 3.3)."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..anatomy import leg_length_metres
from ..arrays import Array, real
from ..channels import AXES, channel, motion_of, turns_of
from ..curve import Curve, Key
from ..figure import Figure
from ..fit import checked_mapping, retarget

Keys = Mapping[str, tuple[Key, ...]]
# Turns that agree so far need no other keys.
ALIKE_DEGREES = 1e-6


@dataclass(frozen=True)
class FittedKeys:
    """Keys for the other figure, the joints whose keys were left out, and what else to say."""

    keys: dict[str, tuple[Key, ...]]
    left_out: tuple[str, ...]
    notes: tuple[str, ...]


def joints_with_keys(source: Figure, keys: Keys) -> list[str]:
    """The joints that the copied keys turn, move or scale, in the figure's order."""
    named = {channel(name).joint for name in keys if keys[name]}
    return [name for name in source.names if name in named]


def fitted_keys(
    source: Figure, figure: Figure, keys: Keys, mapping: Mapping[str, str]
) -> FittedKeys:
    """Keys made for one figure as another plays them; `mapping` says which joint plays which.

    Turns are carried relative to rest, and keep their frames; the root and the travel are scaled by
    leg length. Moves of joints below the root belong to their own figure and are left out.
    """
    known = {name: row for name, row in keys.items() if row}
    mapping = checked_mapping(source, figure, mapping)
    fitted: dict[str, tuple[Key, ...]] = {}
    for name, row in known.items():
        own = channel(name)
        if own.part in ("root", "travel"):
            fitted[name] = _scaled_row(source, figure, name, row)
        elif own.part == "scale" and own.joint in mapping:
            fitted[f"{mapping[own.joint]}.scale.{own.axis}"] = row
    freed = False
    turns = {joint: rows for joint in source.names if (rows := _turns(known, joint))}
    carried = _Carried(source, figure, mapping, turns)
    for joint in turns:
        if joint in mapping:
            there, was_free = carried.rows(joint)
            fitted |= there
            freed |= was_free
    moved = {channel(name).joint for name in known if channel(name).part == "move"}
    left_out = [j for j in source.names if j in moved or (j in turns and j not in mapping)]
    notes = ("Slopes by hand became eased: the turns differ.",) if freed else ()
    return FittedKeys(fitted, tuple(left_out), notes)


def _turns(keys: Keys, joint: str) -> dict[str, tuple[Key, ...]]:
    names = (f"{joint}.turn.{axis}" for axis in AXES)
    return {name: keys[name] for name in names if name in keys}


def _scaled_row(source: Figure, figure: Figure, name: str, row: tuple[Key, ...]) -> tuple[Key, ...]:
    own = channel(name)
    if own.axis == "heading":
        return row
    ratio = leg_length_metres(figure) / leg_length_metres(source)
    rest, there = 0.0, 0.0
    if own.part == "root":
        column = AXES.index(own.axis)
        rest, there = float(source.offsets[0, column]), float(figure.offsets[0, column])
    return tuple(
        key.model_copy(
            update={
                "value": there + (key.value - rest) * ratio,
                "in_slope": key.in_slope * ratio,
                "out_slope": key.out_slope * ratio,
            }
        )
        for key in row
    )


class _Carried:
    """All copied turns at all their frames, as the other figure plays them."""

    def __init__(
        self,
        source: Figure,
        figure: Figure,
        mapping: Mapping[str, str],
        turns: Mapping[str, Mapping[str, tuple[Key, ...]]],
    ) -> None:
        self.figure, self.mapping, self.turns = figure, mapping, turns
        self.curves = {name: Curve(keys=row) for own in turns.values() for name, row in own.items()}
        every = {key.time for curve in self.curves.values() for key in curve.keys}
        self.times = sorted(every)
        if every:
            motion = motion_of(self.curves, source, real(self.times))
            self.motion = retarget(source, motion, figure, mapping)

    def rows(self, joint: str) -> tuple[dict[str, tuple[Key, ...]], bool]:
        """One joint's keys, and whether slopes by hand were lost."""
        own, there = self.turns[joint], self.mapping[joint]
        spans = {key.time: key.span for row in own.values() for key in row}
        times = sorted(spans)
        degrees = self._degrees(joint, times)
        rows: dict[str, tuple[Key, ...]] = {}
        freed = False
        for column, axis in enumerate(AXES):
            copied = own.get(f"{joint}.turn.{axis}", ())
            at = [times.index(key.time) for key in copied]
            same = all(
                abs(degrees[k, column] - key.value) < ALIKE_DEGREES
                for k, key in zip(at, copied, strict=True)
            )
            others = np.delete(degrees[:, column], at)
            if same and (np.abs(others) < ALIKE_DEGREES).all() | (len(copied) == len(times)):
                if copied:
                    rows[f"{there}.turn.{axis}"] = copied
                continue
            freed |= any(key.span == "free" for key in copied)
            rows[f"{there}.turn.{axis}"] = tuple(
                Key(
                    time=time,
                    value=float(degrees[k, column]),
                    span="eased" if spans[time] == "free" else spans[time],
                )
                for k, time in enumerate(times)
            )
        return rows, freed

    def _degrees(self, joint: str, times: list[float]) -> Array:
        """The joint's turns there, by whole turns near to what was copied. [times, 3]."""
        place = self.figure.place_of(self.mapping[joint])
        at = np.searchsorted(self.times, times)
        degrees = turns_of(self.figure, place, self.motion.rotations[at, place])
        for column, axis in enumerate(AXES):
            curve = self.curves.get(f"{joint}.turn.{axis}")
            near = float(curve.values(real(times[0]))) if curve else 0.0
            degrees[:, column] += 360.0 * np.round((near - degrees[0, column]) / 360.0)
        return degrees
