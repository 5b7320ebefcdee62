"""The check strip of a lane: the frames at which something in it is off. Empty means clean."""

from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from ..checks import Kind, Mark, Unit, crossings, in_order, jumps, slides, sunk
from ..clock import Span
from ..frozen import Shown
from ..join.alignment import feet_swapped
from ..moments import lane_time
from ..sides import spoken
from .alone import LaneAlone, alone
from .cues import covered
from .document import Lane, Scene
from .fitting import dropped_by
from .held import lane_plants
from .material import Material
from .planted import clipped
from .staged import StagedFigure, StagedLane
from .staging import met_at, staged_with

# Of a foot that stands on and on, so much on either side of the frames asked for is looked at.
LOOKED_AT_FRAMES = 240.0


class LaneMark(Shown):
    """Lane frames `[frame, end)` from 0 at which something is off; `label` is the joint as one says it."""

    frame: int
    end: int
    kind: Kind
    joint: str
    label: str
    amount: float
    unit: Unit


def marks_of(scene: Scene, material: Material, lane: Lane, span: Span) -> list[LaneMark]:
    """What is off on a lane of a figure's body over a span of its frames, in order.

    A mark that goes on beyond the span is cut to it. Raises Refusal where material is missing.
    """
    if lane.target.kind != "body" or not lane.stints:
        return []
    stage, ready = staged_with(scene, material, lane)
    return [
        LaneMark(
            frame=mark.frame,
            end=mark.end,
            kind=mark.kind,
            joint=mark.joint,
            label=spoken(mark.joint),
            amount=mark.amount,
            unit=mark.unit,
        )
        for mark in _cut(
            [*_marks(stage, ready, span), *_dropped(scene, material, lane)], span, lane
        )
    ]


def _marks(stage: StagedFigure, lane: StagedLane, span: Span) -> list[Mark]:
    looked_at = Span(span.start - LOOKED_AT_FRAMES, span.end + LOOKED_AT_FRAMES)
    plants = [cut for plant in lane_plants(lane, span) if (cut := clipped(plant, looked_at))]
    first = min(span.start - 1, *(plant.start for plant in plants), span.start - 1)
    last = max(span.end + 1, *(plant.end for plant in plants), span.end + 1)
    shown = alone(stage, lane, Span(first, last))
    names = stage.figure.names
    marks = [
        *slides(stage.figure, shown.placed, plants, shown.first),
        *jumps(names, shown.beyond_clips[0], shown.jolts, shown.first + 1),
        *crossings(stage.figure, shown.placed, shown.first),
        *sunk(stage.figure, shown.placed, shown.first),
        *_swapped(shown, span),
    ]
    return in_order(marks)


def _swapped(shown: LaneAlone, span: Span) -> Iterator[Mark]:
    """The joins in which the feet change places."""
    lane = shown.lane
    left = shown.stage.figure.names[0]
    for place, (before, stint) in enumerate(lane.lane.neighbours(), start=1):
        if before.end < stint.start or before.end < span.start or stint.start > span.end:
            continue
        leaving, arriving = met_at(lane, lane.placements[place - 1], place)
        if feet_swapped(leaving, arriving):
            apart = arriving.moved(lane.placements[place]).feet - leaving.feet
            amount = float(np.linalg.norm(apart, axis=-1).max() * 100)
            end = max(int(np.ceil(before.end)), int(stint.start) + 1)
            yield Mark(int(stint.start), end, "crossed", left, amount, "cm")


def _dropped(scene: Scene, material: Material, lane: Lane) -> Iterator[Mark]:
    """The stints of whose clips something is dropped."""
    member = scene.figure(lane.figure)
    for stint in lane.stints:
        dropped = dropped_by(material, member, material.performance(stint.source))
        if dropped:
            first, end = int(np.floor(stint.start)), int(np.ceil(stint.end))
            count = float(len(dropped))
            yield Mark(first, end, "dropped", dropped[0], count, "channels")


def _cut(marks: Iterable[Mark], span: Span, lane: Lane) -> Iterator[Mark]:
    """The parts of marks inside the span, where the lane has a stint."""
    first, last = int(np.floor(span.start)), int(np.ceil(span.end))
    for mark in marks:
        frame, end = max(mark.frame, first), min(mark.end, last)
        if end > frame and covered(lane, lane_time(np.arange(frame, end))).any():
            yield replace(mark, frame=frame, end=end)
