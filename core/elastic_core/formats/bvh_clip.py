"""Bringing a BVH file in: what it is, and the figure and clip made from it."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from .. import ground
from ..arrays import Array, real
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
from ..motion import Motion, between, join_runs
from .bvh import BvhMotion
from .bvh_motion import (
    LARGEST_UNIT_METRES,
    SMALLEST_UNIT_METRES,
    figure_from,
    guess_unit,
    motion_from,
    skeleton_from,
)

WINDOW_FRAMES = 1024


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


@dataclass(frozen=True)
class Plan:
    """What a file's range will be: a lay figure, and a clip whose contacts are not known yet."""

    figure: Figure
    clip: Clip
    metres_per_unit: float
    start: int
    end: int
    repeats: bool

    @property
    def is_cycle(self) -> bool:
        return self.clip.is_cycle


def inspect(file: BvhMotion, start: int = 0, end: int | None = None) -> Inspection:
    """What a range of a file is. Raises Refusal for one that is not inside it."""
    end = _checked_end(file, start, end)
    guess = guess_unit(file)
    figure = skeleton_from(file, "rest", guess.metres)
    repeat = _repeats(file, figure, guess.metres, start, end)
    return Inspection(
        joints=len(file.joints),
        frames=end - start,
        rate=file.rate,
        length_seconds=seconds(end - start, file.rate),
        channels=file.channels,
        height_in_file=guess.height_in_file,
        unit=guess.unit,
        metres_per_unit=guess.metres,
        last_repeats_first=repeat,
        cycle_length_frames=end - start - 1 if repeat else None,
        warnings=file.warnings,
    )


def _checked_end(file: BvhMotion, start: int, end: int | None) -> int:
    end = file.frames if end is None else end
    if not 0 <= start < end <= file.frames:
        raise Refusal(f"The range {start} to {end} is not inside 0 to {file.frames}.")
    return end


def _repeats(file: BvhMotion, figure: Figure, metres: float, start: int, end: int) -> bool:
    ends = motion_from(file, metres, np.array([start, start, end - 1]))
    return end - start > 2 and last_repeats_first(figure, ends)


def planned(file: BvhMotion, wanted: Wanted, figure_id: str) -> Plan:
    """What is to be made of a file, from its skeleton and the ends of the range alone.

    Raises Refusal for a range outside the file, a unit that none is, or a cycle of one frame.
    """
    start, end = wanted.start, _checked_end(file, wanted.start, wanted.end)
    metres = wanted.metres_per_unit or guess_unit(file).metres
    if not SMALLEST_UNIT_METRES <= metres <= LARGEST_UNIT_METRES:
        raise Refusal("A unit is between a thousandth of a millimetre and a kilometre long.")
    figure = figure_from(file, wanted.name, metres)
    repeats = _repeats(file, figure, metres, start, end)
    is_cycle = repeats if wanted.is_cycle is None else wanted.is_cycle
    if is_cycle and end - start < 2:
        raise Refusal("A cycle has two frames at the least.")
    rate = wanted.rate or file.rate
    clip = Clip(
        name=wanted.name,
        figure=figure_id,
        rate=rate,
        length_frames=len(_conformed_times(end - start, file.rate, rate)),
        is_cycle=is_cycle,
        colour=wanted.colour,
    )
    return Plan(figure, clip, metres, start, end, repeats)


def bring_in(file: BvhMotion, wanted: Wanted, figure_id: str) -> tuple[Figure, PlayableClip]:
    """The lay figure of a file and a clip of its motion, in metres. Raises Refusal as `planned` does."""
    plan = planned(file, wanted, figure_id)
    if plan.is_cycle:
        playable = closed_cycle(file, plan)
    else:
        playable = PlayableClip(plan.clip, join_runs([*take_windows(file, plan)]))
    return plan.figure, with_contacts(plan.figure, playable)


def closed_cycle(file: BvhMotion, plan: Plan) -> PlayableClip:
    """A planned cycle at its own rate, closed, with what precedes its start."""
    before = min(plan.start, (plan.end - plan.start) // 2)
    run = motion_from(file, plan.metres_per_unit, slice(plan.start - before, plan.end + 1))
    motion = run.at(np.arange(before, before + plan.end - plan.start))
    # Closed first: at another rate the repeated pose may fall between two frames.
    cycle = _cycle(motion, run, repeats=plan.repeats)
    motion = conformed_cycle(cycle, file.rate, plan.clip.rate)
    lead: Motion | None = None
    if before:
        lead = _lead_in(run.at(np.arange(before + 1)), cycle, motion.frames - 1)
    clip = plan.clip.model_copy(update={"length_frames": motion.frames - 1, "period": cycle.period})
    return PlayableClip(clip, motion, lead_in=lead)


def take_windows(file: BvhMotion, plan: Plan) -> Iterator[Motion]:
    """A planned clip that plays once, at its own rate, a window of its frames at a time.

    Where frames of the two rates meet the pose is the same.
    """
    last = plan.end - plan.start - 1
    times = _conformed_times(last + 1, file.rate, plan.clip.rate)
    known, heading = 0, 0.0
    for start in range(0, len(times), WINDOW_FRAMES):
        window = times[start : start + WINDOW_FRAMES]
        low = np.floor(window).astype(np.intp)
        first, end = min(known, int(low[0])), min(int(low[-1]) + 1, last)
        picked = np.arange(plan.start + first, plan.start + end + 1)
        run = motion_from(file, plan.metres_per_unit, picked)
        if start:
            # The heading goes on from the last window's, however often it has gone round.
            turns = round((heading - run.travel[known - first, 2]) / (2 * np.pi))
            run.travel[:, 2] += turns * 2 * np.pi
        known, heading = end, float(run.travel[-1, 2])
        yield between(run, low - first, window - low)


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
    times = _conformed_times(motion.frames, from_rate, to_rate)
    return _as_take(motion, from_rate).at(source(times))


def _conformed_times(frames: int, from_rate: Fraction, to_rate: Fraction) -> Array:
    """Where the frames of another rate stand in a run that plays once."""
    step = from_rate / to_rate
    count = int((frames - 1) / step) + 1
    # Exact rationals first, so that whole frames stay whole after thousands of them.
    return np.minimum(real([float(step * k) for k in range(count)]), frames - 1)


def _as_take(motion: Motion, rate: Fraction) -> PlayableClip:
    """Every sample of a motion, to be asked for times between them."""
    clip = Clip(name="take", figure="", rate=rate, length_frames=motion.frames)
    return PlayableClip(clip, motion)
