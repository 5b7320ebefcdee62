"""Where a stint of a scene could meet the one before it, and both as they would stand there (rule 5.4)."""

from dataclasses import dataclass

import numpy as np

from ..figure import Placed, forward
from ..join.alignment import aligned, bearing, on_heels, standing
from ..join.where import Planted
from ..moments import lane_time, source
from ..motion import Motion, join_runs
from .document import Scene
from .join import meeting_time
from .join_report import Met, join_of
from .joining import Part, Search, searched
from .material import Material
from .sizes import sized


@dataclass(frozen=True, eq=False)
class Pair:
    """The outgoing figure's pose and the incoming one's, laid on it: two frames in the scene's ground."""

    motion: Motion
    placed: Placed


def search(scene: Scene, material: Material, stint_id: str, *, ends_only: bool) -> Search:
    """Every pair of frames about a join, and the best. Raises Refusal where nothing hands over."""
    outgoing, incoming = _parts(join_of(scene, material, stint_id))
    lane, _ = scene.find(stint_id)
    figure = material.figure(scene.figure(lane.figure).figure)
    return searched(figure, outgoing, incoming, ends_only=ends_only)


def now_at(scene: Scene, material: Material, stint_id: str) -> tuple[float, float]:
    """Where both meet as it is: the lane frame, and the incoming one's source frame in its first round."""
    join = join_of(scene, material, stint_id)
    _, incoming = _parts(join)
    before, stint = join.lane.lane.stints[join.place - 1 : join.place + 1]
    out_time, in_time = meeting_time(before, stint)
    shown = incoming.source(in_time)
    return out_time, shown % incoming.body.length_frames if incoming.body.is_cycle else shown


def pair_at(
    scene: Scene, material: Material, stint_id: str, at: float, in_frame: float, plant: Planted
) -> Pair:
    """Both poses as they would stand if they met there, with this foot laid on the other."""
    join = join_of(scene, material, stint_id)
    lane, place = join.lane, join.place
    stint = lane.lane.stints[place]
    leaves = lane.source_of(place - 1, lane_time([at]))
    arrives = source([in_frame])
    bodies = (lane.bodies[place - 1], lane.bodies[place])
    heels = on_heels(bearing(bodies[0], float(leaves[0])), bearing(bodies[1], in_frame))
    out = bodies[0].as_laid(leaves).moved(lane.placements[place - 1])
    incoming = bodies[1].as_laid(arrives)
    alignment = stint.alignment.model_copy(update={"plant": plant})
    laid = aligned(
        standing(lane.figure, out, heels),
        standing(lane.figure, incoming, heels),
        alignment,
        join.stage.member.mark[2],
    )
    poses = join_runs([_bare(out), _bare(incoming.moved(laid))])
    both = sized(join.stage, lane_time([at, at]), poses)
    return Pair(both, forward(lane.figure, both))


def _bare(motion: Motion) -> Motion:
    """Without what only one of two clips may move or scale."""
    return Motion(motion.travel, motion.root_move, motion.rotations)


def _parts(join: Met) -> tuple[Part, Part]:
    lane, place = join.lane, join.place
    stints = lane.lane.stints
    free_from = stints[place - 2].end if place > 1 else -np.inf
    return (
        Part(stints[place - 1], lane.bodies[place - 1], lane.ratios[place - 1], free_from),
        Part(stints[place], lane.bodies[place], lane.ratios[place]),
    )
