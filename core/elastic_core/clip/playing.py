"""A clip made ready to play: its keys evaluated, its held feet kept where they stand."""

from dataclasses import replace

import numpy as np

from .. import ground
from ..arrays import Array
from ..budget import take
from ..channels import AXES, TRAVEL, motion_at_frames, motion_of, turn_axes, turns_of
from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..curve import Beyond, Curve
from ..cycle.feet import Held
from ..cycle.held_before import hold_feet_as_before
from ..cycle.mirror import with_other_half
from ..cycle.travel import in_place
from ..figure import Figure
from ..motion import Motion, Samples

# A channel that moves less than this is one key (degrees or metres).
STILL = 1e-9
_REST_IDENTITY = np.array([1.0, 0.0, 0.0, 0.0])


def playable_of(figure: Figure, clip: Clip, samples: Samples | None = None) -> PlayableClip:
    """The clip with its poses: from its keys, or from the samples that it is kept as."""
    if samples is not None and not clip.is_keyed and clip.travels and not clip.holds_feet:
        # They play as they lie, and may stay where they are.
        return PlayableClip(clip, samples, kept=samples)
    motion = held(figure, clip, laid(figure, clip, samples)).motion
    return PlayableClip(clip, motion if clip.travels else in_place(motion), kept=samples)


def walking_in_place(playable: PlayableClip) -> PlayableClip:
    """A clip as it plays, and goes nowhere."""
    clip = playable.clip.model_copy(update={"travels": False})
    return replace(playable, clip=clip, samples=in_place(playable.samples.whole()))


def laid(figure: Figure, clip: Clip, samples: Samples | None = None) -> Motion:
    """The clip's poses one a frame, a cycle's with the one made for frame L; feet not yet held."""
    if samples is not None and not clip.is_keyed:
        return samples.whole()
    count = clip.length_frames + clip.is_cycle
    motion = motion_at_frames(played_curves(figure, clip), figure, count)
    return _travelling(clip, motion, np.arange(count, dtype=np.float64))


def motion_at(figure: Figure, clip: Clip, times: Array) -> Motion:
    """A keyed clip's poses at any times of its first round, feet not held."""
    return _travelling(clip, motion_of(played_curves(figure, clip), figure, times), times)


def _travelling(clip: Clip, motion: Motion, times: Array) -> Motion:
    if clip.is_cycle:
        # A cycle travels evenly along the path of its period; sway and surge are the root's.
        return motion.carried(ground.power(np.array(clip.period), times / clip.length_frames))
    return motion


def held(figure: Figure, clip: Clip, motion: Motion) -> Held:
    """The motion with the clip's held feet kept in place."""
    return hold_feet_as_before(figure, motion, clip.plants, round_of(clip))


def round_of(clip: Clip) -> tuple[int, Array] | None:
    """A cycle's length and period."""
    return (clip.length_frames, np.array(clip.period)) if clip.is_cycle else None


def played_curves(figure: Figure, clip: Clip) -> dict[str, Curve]:
    """The curves as they play: the other half made, and rounds closed on their first keys."""
    curves = clip.keys
    if clip.is_cycle and clip.half_linked:
        curves = with_other_half(figure, curves, clip.length_frames)
    if not clip.is_cycle:
        return dict(curves)
    return {
        name: curve.closed(clip.length_frames)
        for name, curve in curves.items()
        if not name.startswith("travel.")
    }


def keys_of(figure: Figure, motion: Motion, *, is_cycle: bool) -> dict[str, Curve]:
    """Motion as keys, one a frame with even spans, so that every frame is as it was.

    Joints that rest are left out, and what stands still is one key. A cycle's travel is no curve.
    """
    beyond: Beyond = "repeat" if is_cycle else "hold"
    columns = columns_of(figure, motion, is_cycle=is_cycle)
    return {name: _curve(values, beyond) for name, values in columns.items()}


def columns_of(figure: Figure, motion: Motion, *, is_cycle: bool) -> dict[str, Array]:
    """Motion as the numbers of its channels, one a frame: metres, and unrolled degrees. Channel → [frames].

    Joints that rest are left out. A cycle's travel is no channel.
    """
    columns: dict[str, Array] = {}
    if not is_cycle:
        for column, axis in enumerate(TRAVEL):
            path = motion.travel[:, column]
            columns[f"travel.{axis}"] = np.degrees(path) if axis == "heading" else path
    for column, axis in enumerate(AXES):
        columns[f"root.{axis}"] = motion.root_move[:, column]
    for place, joint in enumerate(figure.names):
        take(3 * motion.frames)
        turns = motion.rotations[:, place]
        if np.abs(np.abs(turns) - _REST_IDENTITY).max() < 1e-12:
            continue
        degrees = turns_of(figure, place, turns)
        for axis in turn_axes(figure, joint):
            columns[f"{joint}.turn.{axis}"] = degrees[:, AXES.index(axis)]
    for place, move in motion.moves.items():
        for column, axis in enumerate(AXES):
            columns[f"{figure.names[place]}.move.{axis}"] = move[:, column]
    for place, scale in motion.scales.items():
        for column, axis in enumerate(AXES):
            columns[f"{figure.names[place]}.scale.{axis}"] = scale[:, column]
    return columns


def _curve(values: Array, beyond: Beyond) -> Curve:
    if np.ptp(values) < STILL:
        return Curve.still(float(values[0]), beyond)
    return Curve.even(np.arange(len(values), dtype=np.float64), values.copy(), beyond)


def in_keys(figure: Figure, clip: Clip, samples: Samples | None) -> Clip:
    """The clip as keys: as it is, or with one for every frame of its samples."""
    if clip.is_keyed or samples is None:
        return clip
    motion = samples.whole()
    if clip.is_cycle:
        even = np.arange(motion.frames) / clip.length_frames
        motion = motion.relaid(ground.power(np.array(clip.period), even))
    keys = keys_of(figure, motion, is_cycle=clip.is_cycle)
    return clip.model_copy(update={"keys": keys, "motion": ""})
