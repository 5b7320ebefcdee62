"""Bringing a BVH file in: what it is, and the figure and clip made from it."""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ..arrays import real
from ..clip import Clip, Colour, PlayableClip
from ..clock import seconds
from ..cycle.travel import close_as_is, close_on_repeat, last_repeats_first
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion
from .bvh import BvhFile
from .bvh_motion import figure_from, guess_unit, motion_from


@dataclass(frozen=True)
class Inspection:
    """What a file is, before anything is made of it."""

    joints: int
    frames: int
    rate: Fraction
    length_seconds: float
    channels: int
    height_in_file: float
    unit: str
    metres_per_unit: float
    last_repeats_first: bool
    warnings: tuple[str, ...]


@dataclass(frozen=True)
class Wanted:
    """How a file is to be brought in. Frames are the file's, `[start, end)`."""

    name: str
    start: int = 0
    end: int | None = None
    rate: Fraction | None = None
    metres_per_unit: float | None = None
    is_cycle: bool | None = None
    colour: Colour = "cobalt"


def inspect(file: BvhFile) -> Inspection:
    """What a file is."""
    guess = guess_unit(file)
    figure = figure_from(file, "rest", guess.metres)
    ends = file.values[[0, -1]] if file.frames > 1 else file.values
    repeat = file.frames > 2 and last_repeats_first(
        figure, motion_from(BvhFile(file.joints, file.frame_time, ends[[0, 0, -1]]), guess.metres)
    )
    return Inspection(
        joints=len(file.joints),
        frames=file.frames,
        rate=file.rate,
        length_seconds=seconds(file.frames, file.rate),
        channels=file.channels,
        height_in_file=guess.height_in_file,
        unit=guess.unit,
        metres_per_unit=guess.metres,
        last_repeats_first=repeat,
        warnings=file.warnings,
    )


def bring_in(file: BvhFile, wanted: Wanted, figure_id: str) -> tuple[Figure, PlayableClip]:
    """The lay figure of a file and a clip of its motion, in metres."""
    end = file.frames if wanted.end is None else wanted.end
    if not 0 <= wanted.start < end <= file.frames:
        raise Refusal(f"The range {wanted.start} to {end} is not inside 0 to {file.frames}.")
    metres = wanted.metres_per_unit or guess_unit(file).metres
    if not 1e-6 <= metres <= 1e3:
        raise Refusal("A unit is between a thousandth of a millimetre and a kilometre long.")
    figure = figure_from(file, wanted.name, metres)
    motion = motion_from(file, metres, slice(wanted.start, end))
    rate = wanted.rate or file.rate
    repeats = last_repeats_first(figure, motion)
    motion = conformed(motion, file.rate, rate)
    is_cycle = repeats if wanted.is_cycle is None else wanted.is_cycle
    if is_cycle and motion.frames < 2:
        raise Refusal("A cycle has two frames at the least.")
    period = (0.0, 0.0, 0.0)
    length = motion.frames
    if is_cycle:
        cycle = close_on_repeat(motion) if repeats else close_as_is(motion)
        motion, period, length = cycle.motion, cycle.period, cycle.length_frames
    clip = Clip(
        name=wanted.name,
        figure=figure_id,
        rate=rate,
        length_frames=length,
        is_cycle=is_cycle,
        period=period,
        colour=wanted.colour,
    )
    return figure, PlayableClip(clip, motion)


def conformed(motion: Motion, from_rate: Fraction, to_rate: Fraction) -> Motion:
    """Sampled at another rate; where frames of the two rates meet the pose is the same."""
    if from_rate == to_rate:
        return motion
    step = from_rate / to_rate
    count = int((motion.frames - 1) / step) + 1
    # Exact rationals first, so that whole frames stay whole after thousands of them.
    times = real([float(step * k) for k in range(count)])
    whole = Clip(name="take", figure="", rate=from_rate, length_frames=motion.frames)
    return PlayableClip(whole, motion).at(np.minimum(times, motion.frames - 1))
