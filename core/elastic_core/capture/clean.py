"""A recipe run over a take: the clip that comes out, and what each step did (rules 6.0 to 6.6).

Equal takes, recipes and marks give equal results to the last bit, and a step that is off leaves no trace.
Conform says *when* frames play; they are sampled once, by the first step that has to see them, so that mending
and smoothing work on all that was captured.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Literal

import numpy as np

from ..arrays import Array
from ..budget import take as take_budget
from ..clip.document import Clip, Plant
from ..clip.playing import playable_of
from ..clock import format_rate
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion, Samples, between
from ..saying import counted
from .by_hand import ByHand
from .change import Change, Worst, changed
from .conform import MOST_FRAMES, Moments, by_elastic, by_rate, conformed
from .level import (
    DRIFT_HZ,
    MOST_DEGREES,
    drift_of,
    floor_of,
    levelling,
    placement,
    without_drift,
)
from .mend import Spike, find_spikes, mended
from .onto import Onto, on_the_ground, onto_figure
from .plants import found_plants, held_take, painted, worst_slide
from .recipe import (
    Conform,
    Contacts,
    Ground,
    HoldTheFeet,
    Mend,
    Recipe,
    Smooth,
    StepName,
    Thin,
    Trim,
)
from .smooth import roughness_degrees, smoothed
from .thin import Tolerance, thinned, to_share

Progress = Callable[[StepName, int, int], None]
"""Hears which step is about to run: its name, its place, and how many there are."""


@dataclass(frozen=True)
class StepReport:
    """What a step did. `before` and `after` are in its `unit`; `worst` is where it did most, with the result's
    frame; `said` holds what else it measured."""

    step: StepName | Literal["onto"]
    before: float
    after: float
    unit: str
    worst: Worst | None = None
    said: dict[str, object] = field(default_factory=dict)
    notes: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Cleaned:
    """What a recipe makes of a take.

    clip       the result: keys where it was thinned, else its poses are `motion`
    motion     as it plays, one pose a frame
    captured   the take as it came, at the same frames and on the same ground
    at         [frames] the take's frame that each of the result's plays
    figure     the figure that plays it
    plants     as they are held, where they are: keys are to keep them
    """

    clip: Clip
    motion: Motion
    captured: Motion
    at: Array
    figure: Figure
    spikes: tuple[Spike, ...]
    reports: tuple[StepReport, ...]
    change: Change
    captured_slide: Worst | None
    slide: Worst | None
    plants: tuple[Plant, ...] = ()


def clean(
    figure: Figure,
    samples: Samples,
    take_rate: Fraction,
    recipe: Recipe,
    by_hand: ByHand = ByHand(),  # noqa: B008  frozen
    *,
    onto: Onto | None = None,
    window: tuple[int, int] | None = None,
    name: str = "Take",
    figure_id: str = "",
    progress: Progress = lambda step, place, count: None,
) -> Cleaned:
    """Run a recipe, over the whole take or over a `window` of its frames `[start, end)`; `onto` a figure, if
    there is one, before keys are made. `figure_id` is that of the figure that plays the result.

    Raises Refusal for a trim or an elastic that leaves nothing, and for marks that lie outside the take.
    """
    work = _begin(samples, take_rate, recipe, by_hand, window)
    runner = _Runner(figure, recipe, by_hand, work, onto, name, figure_id)
    for place, step in enumerate(recipe.running):
        progress(step.step, place, len(recipe.running))
        take_budget()
        runner.run(step)
    return runner.done()


def _begin(
    samples: Samples,
    take_rate: Fraction,
    recipe: Recipe,
    by_hand: ByHand,
    window: tuple[int, int] | None,
) -> "_Work":
    """The trimmed take, and when its frames play."""
    trim, conform = recipe.get(Trim), recipe.get(Conform)
    start, end = trimmed(trim, samples.frames)
    if window is not None:
        start, end = max(start, window[0]), min(end, window[1])
        if start >= end:
            raise Refusal(f"Nothing of the take is used from {window[0]} to {window[1]}.")
    frames = np.arange(start, end)
    motion = samples.whole() if (start, end) == (0, samples.frames) else samples.at(frames)
    rate, moments = take_rate, None
    if conform is not None:
        rate = conform.rate or take_rate
        if by_hand.elastic is not None:
            moments = _through(by_hand, start, end)
        elif rate != take_rate or conform.pace != 1:
            moments = by_rate(end - start, take_rate, rate, conform.pace)
    return _Work(motion, motion, take_rate, rate, start, moments, samples.frames)


def trimmed(trim: Trim | None, frames: int) -> tuple[int, int]:
    """What is left of so many frames. Raises Refusal where nothing is."""
    if trim is None:
        return 0, frames
    end = frames if trim.end is None else trim.end
    if not 0 <= trim.start < end <= frames:
        raise Refusal(f"The range {trim.start}:{end} is not inside 0 to {frames}.")
    return trim.start, end


def _through(by_hand: ByHand, start: int, end: int) -> Moments:
    """The moments of an elastic, from its first frame until the trimmed take is over."""
    elastic = by_hand.elastic
    assert elastic is not None
    last = elastic.pins[-1]
    leaves = float(elastic.slope(np.array(last.played)))
    until = last.played + max(0.0, (end - 1 - last.source) / leaves if leaves > 0 else 0.0)
    if until > MOST_FRAMES:
        raise Refusal(f"That would play for more than {MOST_FRAMES:,} frames.")
    length = int(np.floor(until + 1e-6)) + 1
    every = by_elastic(10**9, elastic, max(1, length))
    # What plays before the range that is used, or after it, is not played at all.
    inside = np.flatnonzero((every.at >= start - 1e-9) & (every.at <= end - 1 + 1e-9))
    if not inside.size:
        raise Refusal("Its pins play nothing of the frames that are used.")
    plays = slice(int(inside[0]), int(inside[-1]) + 1)
    return Moments(np.clip(every.at[plays] - start, 0.0, end - start - 1.0), every.step[plays])


@dataclass(frozen=True, eq=False)
class _Work:
    """What goes from step to step. `moments` are still to be sampled; `captured` is the take as it came, on the
    same ground."""

    motion: Motion
    captured: Motion
    take_rate: Fraction
    clip_rate: Fraction
    start: int
    moments: Moments | None
    take_frames: int
    at: Array | None = None
    plants: tuple[Plant, ...] = ()

    @property
    def rate(self) -> Fraction:
        """The rate of `motion`."""
        return self.take_rate if self.at is None else self.clip_rate

    @property
    def take_at(self) -> Array:
        """The take's frame of each frame of `motion`."""
        if self.at is not None:
            return self.at
        return self.start + np.arange(self.motion.frames, dtype=np.float64)

    def result_frame(self, frame: int) -> int:
        """The result's frame nearest to one of `motion`'s."""
        if self.at is not None or self.moments is None:
            return frame
        return int(np.abs(self.moments.at - frame).argmin())

    def baked(self) -> "_Work":
        """Sampled on the result's frames."""
        if self.at is not None:
            return self
        if self.moments is None:
            return replace(self, at=self.take_at)
        low = np.floor(self.moments.at).astype(np.intp)
        return replace(
            self,
            motion=conformed(self.motion, self.moments),
            captured=between(self.captured, low, self.moments.at - low),
            at=self.moments.at + self.start,
            moments=None,
        )


class _Runner:
    """One run: the work, and what has been told of it."""

    def __init__(
        self,
        figure: Figure,
        recipe: Recipe,
        by_hand: ByHand,
        work: _Work,
        onto: Onto | None,
        name: str,
        figure_id: str,
    ) -> None:
        self.onto = onto
        self.figure, self.recipe, self.by_hand = figure, recipe, by_hand
        self.name, self.figure_id = name, figure_id
        self.work = work
        self.reports: list[StepReport] = []
        self.spikes: tuple[Spike, ...] = ()
        self.clip: Clip | None = None

    def run(self, step: object) -> None:
        """One step, by its kind."""
        match step:
            case Conform():
                self._conform(step)
            case Trim():
                self._trim()
            case Ground():
                self._ground(step)
            case Mend():
                self._mend(step)
            case Smooth():
                self._smooth(step)
            case Contacts():
                self._contacts()
            case HoldTheFeet():
                self._hold()
            case Thin():
                self._carry()
                self._thin(step)

    def done(self) -> Cleaned:
        """The result."""
        self._carry()
        work = self.work.baked()
        clip = self.clip or self._bare(work).model_copy(update={"motion": "motion"})
        plants = work.plants
        return Cleaned(
            clip,
            work.motion,
            work.captured,
            work.take_at,
            self.figure,
            self.spikes,
            tuple(self.reports),
            changed(self.figure, work.captured, work.motion),
            worst_slide(self.figure, work.captured, plants),
            worst_slide(self.figure, work.motion, plants),
            plants,
        )

    def _carry(self) -> None:
        """Onto the figure, if there is one; its feet on the ground, and held if the recipe holds feet."""
        onto, self.onto = self.onto, None
        if onto is None:
            return
        work = self.work.baked()
        carried = [onto_figure(self.figure, m, onto) for m in (work.motion, work.captured)]
        motion, plants = on_the_ground(onto.figure, carried[0], work.plants, work.clip_rate)
        down = motion.root_move[:1, 1] - carried[0].root_move[:1, 1]
        root_move = carried[1].root_move.copy(order="F")
        root_move[:, 1] += down
        captured = replace(carried[1], root_move=root_move)
        before = worst_slide(onto.figure, motion, plants)
        lowered = 0.0
        if self.recipe.get(HoldTheFeet) is not None and plants:
            held = held_take(onto.figure, motion, plants)
            motion, plants, lowered = held.motion, held.plants, held.lowered_cm
        after = worst_slide(onto.figure, motion, plants)
        self.work = replace(work, motion=motion, captured=captured, plants=plants)
        self.figure = onto.figure
        said: dict[str, object] = {"lowered_cm": lowered, "plays": len(onto.mapping)}
        slides = [0.0 if slide is None else slide.amount for slide in (before, after)]
        self.reports.append(StepReport("onto", slides[0], slides[1], "cm", before, said))

    def _bare(self, work: _Work) -> Clip:
        return Clip(
            name=self.name,
            figure=self.figure_id,
            rate=work.clip_rate,
            length_frames=work.motion.frames,
            plants=tuple(plant.model_copy(update={"held": False}) for plant in work.plants),
        )

    def _conform(self, step: Conform) -> None:
        work = self.work
        after = work.motion.frames if work.moments is None else len(work.moments)
        rates = {"from_rate": format_rate(work.take_rate), "to_rate": format_rate(work.clip_rate)}
        self.reports.append(
            StepReport(
                "conform",
                float(work.motion.frames),
                float(after),
                "frames",
                said={**rates, "pace": step.pace},
            )
        )

    def _trim(self) -> None:
        work = self.work
        said: dict[str, object] = {"start": work.start, "end": work.start + work.motion.frames}
        self.reports.append(
            StepReport(
                "trim", float(work.take_frames), float(work.motion.frames), "frames", said=said
            )
        )

    def _ground(self, step: Ground) -> None:
        work, figure = self.work, self.figure
        notes: list[str] = []
        said: dict[str, object] = {}
        floor = floor_of(figure, work.motion, work.rate)
        before = after = 0.0 if floor is None else floor.tilt_degrees
        if floor is None:
            notes.append("Nothing stands in this take, so there is no floor to be found.")
        elif step.level:
            level = levelling(floor, work.motion)
            work = replace(
                work, motion=level.applied(work.motion), captured=level.applied(work.captured)
            )
            after = max(0.0, before - MOST_DEGREES)
            said |= {"plants": floor.plants, "raised_cm": -100 * float(level.about[1])}
            if after:
                notes.append(
                    f"The floor is {before:.1f}° from level; no more than {MOST_DEGREES:g}° are taken out."
                )
        if step.drift:
            drift = drift_of(figure, work.motion, work.rate)
            said["drift_cm"] = 100 * float(np.linalg.norm(drift, axis=-1).max())
            said["drift_hz"] = DRIFT_HZ
            work = replace(
                work,
                motion=without_drift(work.motion, drift),
                captured=without_drift(work.captured, drift),
            )
        if step.to_mark:
            place = placement(work.motion, work.rate, step.mark)
            work = replace(
                work, motion=work.motion.moved(place), captured=work.captured.moved(place)
            )
            said["turned_degrees"] = float(
                np.degrees(np.arctan2(np.sin(place[2]), np.cos(place[2])))
            )
        self.work = work
        self.reports.append(
            StepReport("ground", before, after, "degrees", said=said, notes=tuple(notes))
        )

    def _mend(self, step: Mend) -> None:
        work, figure, hand = self.work, self.figure, self.by_hand
        found = find_spikes(figure, work.motion, work.rate, step.over_degrees)
        told = [self._in_take(spike) for spike in found]
        keeps = [
            (own, spike)
            for own, spike in zip(found, told, strict=True)
            if not any(mark.meets(spike.frame, spike.end, spike.joint) for mark in hand.refused)
        ]
        by_hand = [
            own
            for mark in hand.added
            if (own := self._here(mark.frame, mark.end, mark.joint)) is not None
        ]
        motion = mended(figure, work.motion, [*(own for own, _ in keeps), *by_hand])
        change = changed(figure, work.motion, motion)
        left = len(find_spikes(figure, motion, work.rate, step.over_degrees)) if found else 0
        self.work = replace(work, motion=motion)
        self.spikes = tuple(told)
        refused = len(found) - len(keeps)
        notes = (f"{counted(refused, 'spike')} refused by hand.",) if refused else ()
        listed = [
            {"frame": s.frame, "end": s.end, "joint": s.joint, "degrees": s.degrees} for s in told
        ]
        self.reports.append(
            StepReport(
                "mend",
                float(len(found) + len(by_hand)),
                float(left),
                "spikes",
                self._told(change.worst_turn),
                {"spikes": listed, **_ends(change)},
                notes,
            )
        )

    def _smooth(self, step: Smooth) -> None:
        work, figure = self.work, self.figure
        joints = [figure.place_of(name) for name in step.joints] or None
        motion = smoothed(figure, work.motion, work.rate, step.hz, step.limbs_hz, joints)
        change = changed(figure, work.motion, motion)
        before, after = (roughness_degrees(m.rotations) for m in (work.motion, motion))
        self.work = replace(work, motion=motion)
        self.reports.append(
            StepReport(
                "smooth",
                before,
                after,
                "degrees of shake",
                self._told(change.worst_turn),
                {"hz": step.hz, "limbs_hz": step.limbs_hz, **_ends(change)},
            )
        )

    def _contacts(self) -> None:
        work = self.work.baked()
        found = found_plants(self.figure, work.motion, work.clip_rate)
        plants = painted(self.figure, work.motion, found, work.take_at, self.by_hand.feet)
        self.work = replace(work, plants=plants)
        sides = {side: sum(p.side == side for p in plants) for side in ("left", "right", "middle")}
        notes = () if plants else ("No foot stands here, so none can be held.",)
        listed = [
            {"side": p.side, "joint": p.joint, "start": p.start, "end": p.end} for p in plants
        ]
        self.reports.append(
            StepReport(
                "contacts", float(len(found)), float(len(plants)), "plants",
                said={**sides, "plants": listed}, notes=notes,
            )
        )  # fmt: skip

    def _hold(self) -> None:
        work = self.work.baked()
        held = held_take(self.figure, work.motion, work.plants)
        before = worst_slide(self.figure, work.motion, work.plants)
        after = worst_slide(self.figure, held.motion, held.plants)
        change = changed(self.figure, work.motion, held.motion)
        self.work = replace(work, motion=held.motion, plants=held.plants)
        self.reports.append(
            StepReport(
                "hold_feet",
                before.amount if before else 0.0,
                after.amount if after else 0.0,
                "cm",
                before,
                {"lowered_cm": held.lowered_cm, **_ends(change)},
            )
        )

    def _thin(self, step: Thin) -> None:
        work = self.work.baked()
        clip = self._bare(work).model_copy(update={"plants": work.plants})
        tolerance = Tolerance(step.degrees, step.cm)
        chosen = [int(np.abs(work.take_at - frame).argmin()) for frame in self.by_hand.keyed]
        if step.share is None:
            done = thinned(self.figure, work.motion, clip, tolerance, chosen)
        else:
            done, tolerance = to_share(self.figure, work.motion, clip, step.share, chosen)
        self.clip = clip.model_copy(update={"keys": done.keys})
        self.work = replace(work, motion=playable_of(self.figure, self.clip).samples.whole())
        turn, end = done.worst_turn, done.worst_end
        self.reports.append(
            StepReport(
                "thin",
                float(done.keys_before),
                float(done.keys_after),
                "keys",
                turn,
                {
                    "keys_before": done.keys_before,
                    "keys_after": done.keys_after,
                    "greatest_error_degrees": turn.amount,
                    "greatest_error_cm": end.amount,
                    "error_cm_frame": end.frame,
                    "error_cm_joint": end.joint,
                    "tolerance_degrees": tolerance.degrees,
                    "tolerance_cm": tolerance.cm,
                },
            )
        )

    def _in_take(self, spike: Spike) -> Spike:
        """A spike in frames of the take."""
        at = self.work.take_at
        return replace(spike, frame=int(at[spike.frame]), end=int(at[spike.end - 1]) + 1)

    def _here(self, frame: int, end: int, joint: str) -> Spike | None:
        """Frames of the take among those at hand."""
        inside = np.flatnonzero((self.work.take_at >= frame) & (self.work.take_at < end))
        if not inside.size:
            return None
        return Spike(int(inside[0]), int(inside[-1]) + 1, joint, 0.0)

    def _told(self, worst: Worst) -> Worst:
        return replace(worst, frame=self.work.result_frame(worst.frame))


def _ends(change: Change) -> dict[str, object]:
    end = change.worst_end
    return {
        "greatest_change_degrees": change.worst_turn.amount,
        "greatest_change_cm": end.amount,
        "change_cm_joint": end.joint,
    }
