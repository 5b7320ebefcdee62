"""Crossing the stage: a walk from here to there in so many frames, its feet on the ground (rules 4.4, 5.5)."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ... import ground
from ...arrays import Array
from ...clock import nearest_frame
from ...elastic import Elastic
from ...errors import Refusal
from ...moments import source
from ...performance import BodyPerformance
from ...quantities import LengthFrames, Metres
from ..document import Lane, Scene, SceneFigure, Stint
from ..fitting import body_for
from ..material import Material
from ..staged import off_stage, on_stage
from ..striding import LEAST_WAY_METRES, straight_round_metres
from ..timing import conform
from .base import LEAST_FRAMES, Edit, Edited, Rules, with_lane
from .figures import with_figure
from .stints import lengthened

Stride = Literal["made", "fitted"]
# Beyond these a walk would be another one.
LEAST_PACE, MOST_PACE = 0.2, 3.0
LEAST_STRIDE, MOST_STRIDE = 0.5, 1.6


class CrossStage(Edit):
    """Walk from one place of the ground to another in so many frames.

    With its stride as `made` the steps come faster or slower; `fitted` they keep their pace, in half
    rounds, and are longer or shorter. Its feet are held. The figure's first stint sets its mark; another
    one is nailed down. It is there when the next stint begins, a frame after the last that it shows.
    """

    kind: Literal["cross_stage"] = "cross_stage"
    stint: str
    start: tuple[Metres, Metres]
    to: tuple[Metres, Metres]
    frames: LengthFrames
    stride: Stride = "made"
    ripple: bool = False


@dataclass(frozen=True)
class _Way:
    """How a walk covers its way: rounds, pace, and its stride as a share of what it was made."""

    rounds: float
    pace: float
    stride: float


def _cross(scene: Scene, edit: CrossStage, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    if lane.target.kind != "body":
        raise Refusal("Only a figure crosses the stage.")
    member = scene.figure(lane.figure)
    if member.sizes is not None:
        raise Refusal(f"The size of {member.name} is keyed: give it one size before it crosses.")
    plain = stint.model_copy(update={"stride": 1.0})
    body = body_for(material, member, plain)
    frames = max(LEAST_FRAMES, nearest_frame(edit.frames))
    start, to = (off_stage(np.array([*place, 0.0]), member)[:2] for place in (edit.start, edit.to))
    metres = float(np.hypot(*(to - start)))
    round_metres = _round_metres(body)
    if metres < LEAST_WAY_METRES:
        raise Refusal("There is no way to go from there to there.")
    way = _way(body, metres / round_metres, frames * conform(body, scene), edit.stride)
    walks = plain.model_copy(
        update={
            "length_frames": frames,
            "elastic": Elastic() if abs(way.pace - 1) < 1e-9 else Elastic.at_pace(way.pace),
            "stride": way.stride,
            "holds_feet": True,
            "weight": None,
        }
    )
    placement = _placement(body_for(material, member, walks), walks, way, (start, to))
    scene, lane, walks = _set_down(scene, lane, walks, placement, member, edit.start, body)
    label = f"{stint.name or body.name} crosses the stage in {frames:g} frames"
    said = _said(way, round_metres * member.size)
    return lengthened(scene, lane, stint, walks, label, material, edit.ripple, (said,))


def _round_metres(body: BodyPerformance) -> float:
    """How far a round goes. Raises Refusal for what goes nowhere straight."""
    metres = straight_round_metres(body)
    if metres is None:
        raise Refusal(
            f"“{body.name}” is no straight walk: only a cycle that goes straight on crosses the stage."
        )
    return metres


def _way(body: BodyPerformance, rounds: float, source_frames: float, stride: Stride) -> _Way:
    """`rounds` as made cover the way; `source_frames` play in the time that there is."""
    length = body.length_frames
    if stride == "made":
        way = _Way(rounds, rounds * length / source_frames, 1.0)
        if not LEAST_PACE <= way.pace <= MOST_PACE:
            frames = source_frames * way.pace
            raise Refusal(
                f"“{body.name}” would have to go at {100 * way.pace:.0f} % of its pace: it covers that "
                f"way in {frames:.0f} of its frames."
            )
        return way
    halves = max(1, round(2 * source_frames / length))
    way = _Way(halves / 2, halves * length / (2 * source_frames), 2 * rounds / halves)
    if not LEAST_STRIDE <= way.stride <= MOST_STRIDE:
        raise Refusal(
            f"The stride of “{body.name}” would be {100 * way.stride:.0f} % of what it was made. Give it "
            f"about {source_frames * way.stride:.0f} of its frames."
        )
    return way


def _placement(
    body: BodyPerformance, walks: Stint, way: _Way, between: tuple[Array, Array]
) -> Array:
    """The ground placement with which a walk goes from the one place to the other, in own metres. [3]"""
    ends = walks.in_frame + way.rounds * body.length_frames
    arrives, leaves = body.travel_at(source([walks.in_frame, ends]))
    goes = leaves - arrives
    wanted = between[1] - between[0]
    heading = float(np.arctan2(wanted[0], wanted[1]) - np.arctan2(goes[0], goes[1]))
    x, z = ground.turn(np.asarray(heading), arrives[0], arrives[1])
    nearest = float(ground.nearest_turn(np.asarray(heading)))
    return np.array([between[0][0] - x, between[0][1] - z, nearest])


def _set_down(
    scene: Scene,
    lane: Lane,
    walks: Stint,
    placement: Array,
    member: SceneFigure,
    start: tuple[float, float],
    body: BodyPerformance,
) -> tuple[Scene, Lane, Stint]:
    """The walk where it goes: from the figure's mark, or nailed down."""
    is_first = lane.stints[0].id == walks.id and lane in scene.lanes_of_figure(member.id)[:1]
    if not is_first:
        placed = on_stage(placement, member)
        return scene, lane, walks.model_copy(update={"nailed": tuple(placed.tolist())})
    arrives = body.travel_at(source([walks.in_frame]))[0]
    mark = (start[0], start[1], float(placement[2] + arrives[2]))
    scene = with_figure(scene, member.model_copy(update={"mark": mark}))
    return with_lane(scene, lane), lane, walks.model_copy(update={"nailed": None})


def _said(way: _Way, round_metres: float) -> str:
    stride = f"{round_metres * way.stride:.2f} m"
    rounds = f"{way.rounds:.3g} round{'' if way.rounds == 1 else 's'}"
    if way.stride == 1:
        return f"{rounds} at {100 * way.pace:.0f} % of its pace; its stride stays {stride}."
    return f"{rounds}; its stride is {stride}, {100 * way.stride:.0f} % of what it was made."


RULES: Rules = {CrossStage: _cross}
