"""What a join does to the performance: slides, jumps, changes of speed and heading (rules 5.2 to 5.5)."""

from dataclasses import dataclass

import numpy as np

from .. import ground
from ..arrays import Array
from ..checks import GROUND_CM, JUMP_CM, sunk
from ..clip.document import Plant
from ..clock import Span
from ..cycle.feet import steps_of_plant
from ..errors import Refusal
from ..frozen import Shown
from ..join.alignment import feet_swapped
from ..sides import spoken
from .alone import LaneAlone, alone
from .document import Scene
from .held import correction_over, lane_plants
from .material import Material
from .planted import clipped
from .staged import StagedFigure, StagedLane
from .staging import met_at, staged_with

# Of a plant that goes on and on, so much beyond the join is looked at.
MARGIN_FRAMES = 2.0
# A join is clean while it does no more than this.
CLEAN_JUMP_DEGREES, CLEAN_SLIDE_CM, CLEAN_LOWERED_CM = 8.0, 0.5, 3.0


class Worst(Shown):
    """The frame and the joint at which something is greatest, in its unit; up to how much is clean.
    `label` is the joint as one would say it."""

    amount: float
    frame: float
    joint: str
    label: str
    clean: float | None = None

    @classmethod
    def of(cls, amount: float, frame: float, joint: str, clean: float | None = None) -> "Worst":
        """With what one calls the joint."""
        label = spoken(joint) if joint else ""
        return cls(amount=amount, frame=frame, joint=joint, label=label, clean=clean)


class JoinReport(Shown):
    """A join's read-outs, in lane frames from 0.

    slide           the most that a planted foot covers in the join, cm
    jump            the most that a joint turns from one frame to the next beyond what both clips do,
                    degrees
    speed           the greatest change of the root's speed over the ground from one frame to the next,
                    metres a second
    heading_change  from the outgoing figure's heading to the incoming one's where they meet, degrees
    lowered         how far the root is lowered so that held feet can be reached, cm
    swapped         the feet have changed places: the legs would cross
    """

    outgoing: str
    incoming: str
    start: float
    end: float
    slide: Worst
    jump: Worst
    speed: Worst
    heading_change_degrees: float
    lowered: Worst
    swapped: bool


@dataclass(frozen=True, eq=False)
class Met:
    """A stint and the one before it on a lane that is ready to play."""

    stage: StagedFigure
    lane: StagedLane
    place: int
    frames_per_second: float

    @property
    def span(self) -> Span:
        before, stint = self.lane.lane.stints[self.place - 1 : self.place + 1]
        return Span(min(stint.start, before.end), max(stint.start, before.end))


def join_of(scene: Scene, material: Material, stint_id: str) -> Met:
    """A stint of a body lane where it meets the one before it. Raises Refusal where it meets none."""
    lane, stint = scene.find(stint_id)
    place = lane.stints.index(stint)
    if lane.target.kind != "body":
        raise Refusal("Only stints of a figure’s body are joined.")
    if place == 0 or lane.stints[place - 1].end < stint.start:
        raise Refusal("Nothing hands over to that stint: there is a gap before it.")
    stage, ready = staged_with(scene, material, lane)
    return Met(stage, ready, place, float(scene.rate))


def join_report(scene: Scene, material: Material, stint_id: str) -> JoinReport:
    """The read-outs of the join in which the stint before hands over to this one.

    Raises Refusal where it meets none.
    """
    return report_of(join_of(scene, material, stint_id))


def report_of(join: Met) -> JoinReport:
    """The read-outs of a join that is ready to play."""
    return _report(join, _shown(join))


def cost_of(join: Met) -> float:
    """How far a join is from a clean one: the worst of its read-outs, by what is still clean; 1 is just
    clean."""
    shown = _shown(join)
    report = _report(join, shown)
    sinks = sunk(join.stage.figure, shown.placed, shown.first)
    return max(
        report.jump.amount / CLEAN_JUMP_DEGREES,
        float(shown.jolts.max(initial=0.0)) * 100 / JUMP_CM,
        report.slide.amount / CLEAN_SLIDE_CM,
        report.lowered.amount / CLEAN_LOWERED_CM,
        max((mark.amount for mark in sinks), default=0.0) / GROUND_CM,
        10.0 if report.swapped else 0.0,
    )


def _seen(join: Met) -> Span:
    return Span(join.span.start - MARGIN_FRAMES, join.span.end + MARGIN_FRAMES)


def _shown(join: Met) -> LaneAlone:
    return alone(join.stage, join.lane, _seen(join))


def _report(join: Met, shown: LaneAlone) -> JoinReport:
    lane, place, span = join.lane, join.place, join.span
    before, stint = lane.lane.stints[place - 1 : place + 1]
    leaving, arriving = met_at(lane, lane.placements[place - 1], place)
    arrives = arriving.moved(lane.placements[place])
    turn = float(ground.nearest_turn(np.asarray(arrives.root[2] - leaving.root[2])))
    return JoinReport(
        outgoing=before.id,
        incoming=stint.id,
        start=span.start,
        end=span.end,
        slide=_slide(shown, lane_plants(lane, span), _seen(join)),
        jump=_jump(shown),
        speed=_speed(shown, join.frames_per_second),
        heading_change_degrees=float(np.degrees(turn)),
        lowered=_lowered(shown, span),
        swapped=feet_swapped(leaving, arriving),
    )


def _slide(shown: LaneAlone, plants: list[Plant], seen: Span) -> Worst:
    found = Worst.of(0.0, seen.start, "", CLEAN_SLIDE_CM)
    for plant in plants:
        inside = clipped(plant, seen)
        if inside is None:
            continue
        since = {"start": inside.start - shown.first, "end": inside.end - shown.first}
        steps = steps_of_plant(shown.stage.figure, shown.placed, inside.model_copy(update=since))
        total = float(steps.sum() * 100)
        if total > found.amount:
            frame = np.ceil(inside.start) + float(steps.argmax()) + 1
            found = Worst.of(total, frame, plant.joint, CLEAN_SLIDE_CM)
    return found


def _jump(shown: LaneAlone) -> Worst:
    turned, _ = shown.beyond_clips
    place, joint = np.unravel_index(int(turned.argmax()), turned.shape)
    return Worst.of(
        amount=float(turned[place, joint]),
        frame=float(shown.first + place + 1),
        joint=shown.stage.figure.names[int(joint)],
        clean=CLEAN_JUMP_DEGREES,
    )


def _speed(shown: LaneAlone, frames_per_second: float) -> Worst:
    steps = np.diff(shown.motion.travel[:, :2], axis=0)
    speed: Array = np.linalg.norm(steps, axis=-1) * frames_per_second
    change = np.abs(np.diff(speed))
    place = int(change.argmax())
    return Worst.of(
        amount=float(change[place]),
        frame=float(shown.first + place + 1),
        joint=shown.stage.figure.names[0],
    )


def _lowered(shown: LaneAlone, span: Span) -> Worst:
    root = shown.stage.figure.names[0]
    correction = correction_over(shown.stage, shown.lane, span)
    if correction is None:
        return Worst.of(0.0, span.start, root, CLEAN_LOWERED_CM)
    frames = correction.first + np.arange(len(correction.drop))
    drop = np.where((frames >= span.start) & (frames <= span.end), correction.drop, 0.0)
    place = int(drop.argmax())
    frame = float(frames[place]) if drop[place] > 0 else span.start
    return Worst.of(float(drop[place]) * 100, frame, root, CLEAN_LOWERED_CM)
