"""What the takes room shows of a take, and of what its recipe makes of it."""

from typing import Any

import numpy as np

from ..anatomy import legs_of
from ..arrays import Array
from ..beats import Beat
from ..clip.playing import columns_of
from ..clock import Span, format_rate
from ..errors import Refusal
from ..figure import Figure
from ..frozen import Shown
from ..retime.pins import later
from ..retime.strands import Strands, strands_of
from ..sides import Side, spoken
from .by_hand import ByHand, SpikeMark
from .change import Worst
from .clean import Cleaned, StepReport
from .edits import TITLES
from .recipe import Recipe
from .take import Lost, Take, TakeOnto

# Of a longer take so much is cleaned at a time: frames times joints.
LIGHT_SAMPLES = 250_000
MOST_CURVES = 12


class TakeSheet(Shown):
    """A take as the room opens on it: what it is, its recipe, and what was set by hand.

    `first_window` is as much of it as is cleaned while one waits: all of a short take.
    """

    figure: str
    figure_name: str
    rate: str
    clip_rate: str
    frames_per_second: float
    length_frames: int
    joints: list[str]
    labels: list[str]
    recipe: Recipe
    warnings: list[str]
    by_hand: ByHand
    onto: TakeOnto | None
    beats: list[Beat]
    lost: list[Lost]
    circled: bool
    is_light: bool
    first_window: tuple[int, int]


def sheet_of(take: Take, figure: Figure) -> TakeSheet:
    """A take's sheet."""
    window = first_window(take, figure)
    return TakeSheet(
        figure=take.figure,
        figure_name=figure.name,
        rate=format_rate(take.rate),
        clip_rate=format_rate(take.clip_rate),
        frames_per_second=float(take.rate),
        length_frames=take.length_frames,
        joints=list(figure.names),
        labels=[spoken(name) for name in figure.names],
        recipe=take.recipe,
        warnings=list(take.recipe.warnings()),
        by_hand=take.by_hand,
        onto=take.onto,
        beats=list(take.beats),
        lost=list(take.lost),
        circled=take.circled,
        is_light=window == (0, take.length_frames),
        first_window=window,
    )


def first_window(take: Take, figure: Figure) -> tuple[int, int]:
    """As much of a take as is cleaned while one waits, from where it is used."""
    most = max(1, LIGHT_SAMPLES // len(figure.joints))
    if take.length_frames <= most:
        return 0, take.length_frames
    start, _ = take.span
    return start, min(take.length_frames, start + most)


def checked_window(take: Take, figure: Figure, start: int, end: int) -> tuple[int, int]:
    """A window that is asked for, cut to the take. Raises Refusal for one that is empty or too long."""
    most = max(1, LIGHT_SAMPLES // len(figure.joints))
    start, end = max(0, start), min(take.length_frames, end)
    if start >= end:
        raise Refusal("That window holds no frame of the take.")
    if end - start > most:
        raise Refusal(f"{most:,} frames of this take are cleaned at a time, and no more.")
    return start, end


class WorstSeen(Shown):
    """Where something is greatest: the result's frame, the take's, and the joint."""

    frame: int
    take_frame: float
    joint: str
    label: str
    amount: float


class StepSeen(Shown):
    """A step's card: what it measured before and after, in its unit."""

    step: str
    title: str
    before: float
    after: float
    unit: str
    worst: WorstSeen | None
    said: dict[str, Any]
    notes: list[str]


class SpikeSeen(Shown):
    """A spike in frames of the take, and where the result shows it."""

    mark: SpikeMark
    label: str
    degrees: float
    at: int
    refused: bool
    by_hand: bool


class PlantSeen(Shown):
    """A plant in frames of the result, with those of the take at both its ends."""

    side: Side
    joint: str
    toe_joint: str | None
    start: float
    end: float
    heel_frames: float
    toe_frames: float
    held: bool
    take_start: int
    take_end: int


class LossSeen(Shown):
    """What one joint lost: how far it was turned, and moved in the world, at the most, and when."""

    joint: str
    label: str
    degrees: float
    degrees_frame: int
    cm: float
    cm_frame: int


class CleanedSheet(Shown):
    """What the recipe makes of a window of a take.

    `at` tells the take's frame of each frame of the result. `strands` are those of its conforming, in frames of
    the result; its elastic plays them from `played_from` on.
    """

    window: tuple[int, int]
    frames: int
    rate: str
    frames_per_second: float
    at: list[float]
    figure: str
    figure_name: str
    joints: list[str]
    labels: list[str]
    reports: list[StepSeen]
    spikes: list[SpikeSeen]
    plants: list[PlantSeen]
    losses: list[LossSeen]
    slide_cm: float | None
    captured_slide_cm: float | None
    keys: int | None
    played_from: float
    strands: Strands


def cleaned_sheet(
    take: Take, figure_id: str, done: Cleaned, window: tuple[int, int]
) -> CleanedSheet:
    """The sheet of what came out. `figure_id` is that of the figure that plays it."""
    figure, rate = done.figure, done.clip.rate
    elastic = take.elastic
    played_from = min(elastic.played(float(done.at[0])), default=0.0)
    from_here = elastic.with_pins([later(pin, -played_from) for pin in elastic.pins])
    return CleanedSheet(
        window=window,
        frames=done.motion.frames,
        rate=format_rate(rate),
        frames_per_second=float(rate),
        at=[round(float(at), 4) for at in done.at],
        figure=figure_id,
        figure_name=figure.name,
        joints=list(figure.names),
        labels=[spoken(name) for name in figure.names],
        reports=[_step(report, done.at) for report in done.reports],
        spikes=_spikes(take, done),
        plants=_plants(done),
        losses=[
            LossSeen(
                joint=row.joint,
                label=spoken(row.joint),
                degrees=row.degrees,
                degrees_frame=row.degrees_frame,
                cm=row.cm,
                cm_frame=row.cm_frame,
            )
            for row in done.change.losses()
        ],
        slide_cm=done.slide.amount if done.slide else None,
        captured_slide_cm=done.captured_slide.amount if done.captured_slide else None,
        keys=sum(len(curve) for curve in done.clip.keys.values()) if done.clip.is_keyed else None,
        played_from=played_from,
        strands=strands_of(
            from_here,
            Span(0.0, float(max(1, done.motion.frames - 1))),
            unit=float(take.rate / rate),
        ),
    )


def _step(report: StepReport, at: Array) -> StepSeen:
    title = "Onto the figure" if report.step == "onto" else TITLES[report.step]
    said = {name: value for name, value in report.said.items() if name not in ("spikes", "plants")}
    return StepSeen(
        step=report.step,
        title=title,
        before=report.before,
        after=report.after,
        unit=report.unit,
        worst=None if report.worst is None else _worst(report.worst, at),
        said=said,
        notes=list(report.notes),
    )


def _worst(worst: Worst, at: Array) -> WorstSeen:
    return WorstSeen(
        frame=worst.frame,
        take_frame=float(at[min(worst.frame, len(at) - 1)]),
        joint=worst.joint,
        label=spoken(worst.joint),
        amount=worst.amount,
    )


def _spikes(take: Take, done: Cleaned) -> list[SpikeSeen]:
    hand = take.by_hand
    seen = [
        SpikeSeen(
            mark=SpikeMark(frame=spike.frame, end=spike.end, joint=spike.joint),
            label=spoken(spike.joint),
            degrees=spike.degrees,
            at=int(np.abs(done.at - spike.frame).argmin()),
            refused=any(m.meets(spike.frame, spike.end, spike.joint) for m in hand.refused),
            by_hand=False,
        )
        for spike in done.spikes
    ]
    seen += [
        SpikeSeen(
            mark=mark,
            label=spoken(mark.joint),
            degrees=0.0,
            at=int(np.abs(done.at - mark.frame).argmin()),
            refused=False,
            by_hand=True,
        )
        for mark in hand.added
    ]
    return sorted(seen, key=lambda spike: (spike.mark.frame, spike.mark.joint))


def _plants(done: Cleaned) -> list[PlantSeen]:
    last = len(done.at) - 1
    names = done.figure.names
    toes = {names[leg.foot]: leg.toe for leg in legs_of(done.figure)}

    def toe_of(joint: str) -> str | None:
        toe = toes.get(joint)
        return None if toe is None else names[toe]

    return [
        PlantSeen(
            side=plant.side,
            joint=plant.joint,
            toe_joint=toe_of(plant.joint),
            start=plant.start,
            end=plant.end,
            heel_frames=plant.heel_frames,
            toe_frames=plant.toe_frames,
            held=plant.held,
            take_start=int(done.at[min(int(plant.start), last)]),
            take_end=int(np.ceil(done.at[min(int(plant.end) - 1, last)])) + 1,
        )
        for plant in done.clip.plants
    ]


class CurveSeen(Shown):
    """A channel as it was captured and as it came out, one value a frame, and the frames of its keys."""

    channel: str
    captured: list[float]
    cleaned: list[float]
    keys: list[float]


def curves_of(done: Cleaned, joints: list[str]) -> list[CurveSeen]:
    """The turns of some joints about their axes, in degrees. Raises Refusal for a joint that is not there, and
    for more of them than can be shown."""
    if len(joints) > MOST_CURVES:
        raise Refusal(f"{MOST_CURVES} joints are shown at a time, and no more.")
    figure = done.figure
    for joint in joints:
        figure.place_of(joint)
    before = columns_of(figure, done.captured, is_cycle=False)
    after = columns_of(figure, done.motion, is_cycle=False)
    seen: list[CurveSeen] = []
    for joint in joints:
        for axis in "xyz":
            name = f"{joint}.turn.{axis}"
            still = np.zeros(done.motion.frames)
            was, now = before.get(name, still), after.get(name, still)
            # Full turns apart they are the same: the captured one is laid beside the result.
            was = was + 360.0 * np.round((now - was).mean() / 360.0)
            keys = done.clip.keys.get(name)
            seen.append(
                CurveSeen(
                    channel=name,
                    captured=[round(float(value), 3) for value in was],
                    cleaned=[round(float(value), 3) for value in now],
                    keys=[] if keys is None else keys.times.tolist(),
                )
            )
    return seen
