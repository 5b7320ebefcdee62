"""Bringing a BVH file in: what it is, and the figure and clip made from it."""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from .. import ground
from ..arrays import real
from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..clock import seconds
from ..colour import Colour
from ..cycle.contacts import with_contacts
from ..cycle.lead_in import lead_in
from ..cycle.travel import Cycle, close_as_is, close_on_repeat, last_repeats_first
from ..errors import Refusal
from ..figure import Figure
from ..moments import source
from ..motion import Motion, join_runs
from .bvh import BvhFile
from .bvh_motion import figure_from, guess_unit, motion_from, skeleton_from


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
    cycle_length_frames: int | None
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
    figure = skeleton_from(file, "rest", guess.metres)
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
        cycle_length_frames=file.frames - 1 if repeat else None,
        warnings=file.warnings,
    )


def bring_in(file: BvhFile, wanted: Wanted, figure_id: str) -> tuple[Figure, PlayableClip]:
    """The lay figure of a file and a clip of its motion, in metres.

    Raises Refusal for a range outside the file, a unit that none is, or a cycle of one frame.
    """
    end = file.frames if wanted.end is None else wanted.end
    if not 0 <= wanted.start < end <= file.frames:
        raise Refusal(f"The range {wanted.start} to {end} is not inside 0 to {file.frames}.")
    metres = wanted.metres_per_unit or guess_unit(file).metres
    if not 1e-6 <= metres <= 1e3:
        raise Refusal("A unit is between a thousandth of a millimetre and a kilometre long.")
    figure = figure_from(file, wanted.name, metres)
    before = min(wanted.start, (end - wanted.start) // 2)
    run = motion_from(file, metres, slice(wanted.start - before, end + 1))
    motion = run.at(np.arange(before, before + end - wanted.start))
    rate = wanted.rate or file.rate
    repeats = last_repeats_first(figure, motion)
    is_cycle = repeats if wanted.is_cycle is None else wanted.is_cycle
    if is_cycle and motion.frames < 2:
        raise Refusal("A cycle has two frames at the least.")
    period = ground.ORIGIN
    lead: Motion | None = None
    if is_cycle:
        # Closed first: at another rate the repeated pose may fall between two frames.
        cycle = _cycle(motion, run, repeats=repeats)
        motion, period = conformed_cycle(cycle, file.rate, rate), cycle.period
        if before:
            lead = _lead_in(run.at(np.arange(before + 1)), cycle, motion.frames - 1)
    else:
        motion = conformed(motion, file.rate, rate)
    length = motion.frames - is_cycle
    clip = Clip(
        name=wanted.name,
        figure=figure_id,
        rate=rate,
        length_frames=length,
        is_cycle=is_cycle,
        period=period,
        colour=wanted.colour,
    )
    return figure, with_contacts(figure, PlayableClip(clip, motion, lead_in=lead))


def _cycle(motion: Motion, run: Motion, *, repeats: bool) -> Cycle:
    """The range as a cycle. Where the file goes on, its next pose is the one made for frame L."""
    if repeats:
        return close_on_repeat(motion)
    if run.frames == motion.frames or np.array_equal(run.travel[-1], motion.travel[-1]):
        return close_as_is(motion)
    return close_on_repeat(join_runs([motion, run.at(np.array([run.frames - 1]))]))


def _lead_in(run: Motion, cycle: Cycle, length_frames: int) -> Motion | None:
    """What precedes the start, at the clip's own rate. `run`: those frames and the first of the cycle."""
    before = run.frames - 1
    step = cycle.length_frames / length_frames
    count = int(before / step)
    if not count:
        return None
    path = ground.power(np.array(cycle.period), np.arange(-before, 1) / cycle.length_frames)
    times = before - step * np.arange(count, 0, -1)
    return _as_take(lead_in(run, path), Fraction(1)).at(source(times))


def conformed_cycle(cycle: Cycle, from_rate: Fraction, to_rate: Fraction) -> Motion:
    """A cycle at another rate: the nearest whole number of frames, evenly over one round.

    A round of 12.8 frames is kept as 13: a hair slower, and it closes.
    """
    if from_rate == to_rate:
        return cycle.motion
    length = max(2, round(cycle.length_frames * to_rate / from_rate))
    step = Fraction(cycle.length_frames, length)
    times = real([float(step * k) for k in range(length + 1)])
    return _as_take(cycle.motion, from_rate).at(source(times))


def conformed(motion: Motion, from_rate: Fraction, to_rate: Fraction) -> Motion:
    """Sampled at another rate; where frames of the two rates meet the pose is the same."""
    if from_rate == to_rate:
        return motion
    step = from_rate / to_rate
    count = int((motion.frames - 1) / step) + 1
    # Exact rationals first, so that whole frames stay whole after thousands of them.
    times = real([float(step * k) for k in range(count)])
    return _as_take(motion, from_rate).at(source(np.minimum(times, motion.frames - 1)))


def _as_take(motion: Motion, rate: Fraction) -> PlayableClip:
    """Every sample of a motion, to be asked for times between them."""
    clip = Clip(name="take", figure="", rate=rate, length_frames=motion.frames)
    return PlayableClip(clip, motion)
