"""Edits on how one stint hands over to the next: where, how laid, and which feet stand (rules 5.2 to 5.5)."""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ... import ground
from ...clip.document import GroundTuple
from ...clock import nearest_frame
from ...errors import Refusal
from ...ground import ORIGIN
from ...join.alignment import HeadingRule, aligned
from ...join.where import Planted
from ...moments import lane_time
from ...names import Id
from ...quantities import MOST_FRAMES, Frame
from ..cast import StintSource
from ..document import JoinShape, JoinSlopes, Lane, Scene, Stint
from ..fitting import body_for
from ..join_report import cost_of, join_of
from ..joining import JoinPlace, Part, handover_frames, searched
from ..material import Material
from ..sizes import ground_at
from ..staging import met_at, placements_of
from ..stepping import in_step
from ..timing import conform, mean_pace, room_in_stint
from .base import LEAST_FRAMES, Edit, Edited, Rules, grown, ordered, replaced, stint_name, with_lane
from .stints import (
    FitMapping,
    TrimStint,
    end_of,
    fitted,
    is_fitted,
    must_fit,
    pushed,
    stint_before,
    trim,
)

JoinFrames = Annotated[float, Field(ge=0, le=MOST_FRAMES)]
# Laying a clip next to a stint tries the best few places, each over some lengths.
# A clean one is worth many frames, and of clean ones the shorter and the more alike is taken.
UNCLEAN_COSTS = 10.0
ONE_FOOT_PLACES_TRIED = 4
# A place that is as far as this from a clean join after so many lengths is given up.
LENGTHS_AT_LEAST, HOPELESS = 4, 0.7
PLACES_TRIED, LENGTHS_TRIED = 8, (8, 10, 12, 14, 15, 16, 17, 18, 19, 20, 21, 22, 24)


class SetJoin(Edit):
    """The length or the shape of the overlap in which the stint before hands over to this one, for the
    upper body another one or the same; and how this one is laid on that. What is left out stays."""

    kind: Literal["set_join"] = "set_join"
    stint: str
    length_frames: JoinFrames | None = None
    shape: JoinShape | None = None
    slopes: JoinSlopes | None = None
    upper_shape: JoinShape | Literal["same"] | None = None
    upper_slopes: JoinSlopes | None = None
    plant: Planted | None = None
    heading: HeadingRule | None = None
    nudge: GroundTuple | None = None
    holds_feet: bool | None = None


class PlaceJoin(Edit):
    """Where the incoming figure's root stands on the ground where both meet: the fine shift and turn of its
    alignment make up the difference."""

    kind: Literal["place_join"] = "place_join"
    stint: str
    root: GroundTuple


class MeetStint(Edit):
    """The stint before shows what it does at a lane frame, and this one meets it there with a frame of
    its own source. What follows on the lane keeps its distance."""

    kind: Literal["meet_stint"] = "meet_stint"
    stint: str
    at: Frame
    in_frame: Frame
    length_frames: JoinFrames | None = None
    plant: Planted | None = None


class LayNext(Edit):
    """Lay a clip next to a stint, where the two join best; what follows makes room."""

    kind: Literal["lay_next"] = "lay_next"
    stint: Id
    source: StintSource
    after: str
    mapping: FitMapping | None = None


class MatchSteps(Edit):
    """Hand over in so many steps: both cycles step together through the join, and their pace goes from
    the one's to the other's."""

    kind: Literal["match_steps"] = "match_steps"
    stint: str
    steps: int = Field(ge=1, le=16)


class HoldStintFeet(Edit):
    """Keep planted feet where they stand through a whole stint, or let them go again."""

    kind: Literal["hold_stint_feet"] = "hold_stint_feet"
    stint: str
    holds: bool


class NailStint(Edit):
    """Give a stint a ground placement of its own (without one, where it stands), or chain it again."""

    kind: Literal["nail_stint"] = "nail_stint"
    stint: str
    nailed: bool = True
    placement: GroundTuple | None = None


def _set_join(scene: Scene, edit: SetJoin, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    before = stint_before(lane, stint, material)
    label = f"Set the join {stint_name(material, before)} to {stint_name(material, stint)}"
    laid = {"plant": edit.plant, "heading": edit.heading, "nudge": edit.nudge}
    alignment = stint.alignment.model_copy(
        update={name: value for name, value in laid.items() if value is not None}
    )
    update = {
        "shape": edit.shape or stint.shape,
        "slopes": edit.slopes or stint.slopes,
        "upper_shape": _upper_shape(edit, stint),
        "upper_slopes": edit.upper_slopes or stint.upper_slopes,
        "alignment": alignment,
        "holds_join": stint.holds_join if edit.holds_feet is None else edit.holds_feet,
    }
    scene = replaced(scene, lane, stint.model_copy(update=update), material)
    if edit.length_frames is None:
        return Edited(scene, label)
    end = stint.start + nearest_frame(edit.length_frames)
    edited = trim(scene, TrimStint(stint=before.id, edge="end", frame=end), material)
    return Edited(edited.scene, label, edited.notes)


def _upper_shape(edit: SetJoin, stint: Stint) -> JoinShape | None:
    if edit.upper_shape == "same":
        return None
    return stint.upper_shape if edit.upper_shape is None else edit.upper_shape


def _place_join(scene: Scene, edit: PlaceJoin, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    before = stint_before(lane, stint, material)
    if stint.nailed is not None:
        raise Refusal(f"{stint_name(material, stint)} is nailed down: chain it first.")
    plain = stint.alignment.model_copy(update={"nudge": ORIGIN})
    join = join_of(
        replaced(scene, lane, stint.model_copy(update={"alignment": plain}), material),
        material,
        stint.id,
    )
    leaving, arriving = met_at(join.lane, join.lane.placements[join.place - 1], join.place)
    meets = lane_time([join.span.start])
    root = ground_at(join.stage, meets).off_stage(np.array([edit.root]))[0]
    turn = float(root[2]) - arriving.moved(join.lane.placements[join.place]).root[2]
    turned = plain.model_copy(update={"nudge": (0.0, 0.0, turn)})
    heading = join.stage.member.mark[2]
    stands = arriving.moved(aligned(leaving, arriving, turned, heading)).root
    x, z = ground.turn(
        -leaving.root[2],
        np.asarray(root[0] - stands[0]),
        np.asarray(root[1] - stands[1]),
    )
    nudge = (float(x), float(z), float(ground.nearest_turn(np.asarray(turn))))
    alignment = plain.model_copy(update={"nudge": nudge})
    label = f"Set down {stint_name(material, stint)} after {stint_name(material, before)}"
    nudged = stint.model_copy(update={"alignment": alignment})
    return Edited(replaced(scene, lane, nudged, material), label)


def _meet(scene: Scene, edit: MeetStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    before = stint_before(lane, stint, material)
    length = max(0.0, before.end - stint.start)
    if edit.length_frames is not None:
        length = nearest_frame(edit.length_frames)
    outgoing, incoming = (_part(scene, material, one) for one in (before, stint))
    label = f"Join {stint_name(material, before)} to {stint_name(material, stint)}"
    plant = stint.alignment.plant if edit.plant is None else edit.plant
    met, notes = _met(outgoing, incoming, edit.at, edit.in_frame, length)
    alignment = stint.alignment.model_copy(update={"plant": plant})
    met = (met[0], met[1].model_copy(update={"alignment": alignment}))
    return _laid(scene, lane, met, label, material, notes)


def _lay_next(scene: Scene, edit: LayNext, material: Material) -> Edited:
    if any(stint.id == edit.stint for stint in scene.stints):
        raise Refusal("A stint with that id is in the scene already.")
    lane, before = scene.find(edit.after)
    performance = material.performance(edit.source)
    scene = fitted(scene, lane, performance, edit.mapping, material)
    must_fit(scene, lane, performance, material)
    length = max(
        LEAST_FRAMES, nearest_frame(performance.length_frames / conform(performance, scene))
    )
    stint = Stint(
        id=edit.stint,
        source=edit.source,
        start=before.end,
        length_frames=length,
        holds_feet=is_fitted(scene, lane, performance),
    )
    place = lane.stints.index(before) + 1
    follows = lane.stints[place:]
    shift = length if follows and follows[0].start <= before.end else 0.0
    later = tuple(one.model_copy(update={"start": one.start + shift}) for one in follows)
    room = lane.model_copy(update={"stints": (*lane.stints[:place], stint, *later)})
    scene = with_lane(scene, room)
    label = f"Lay {performance.name} next to {stint_name(material, before)}"
    return _best_laid(scene, room, (before, stint), label, material)


@dataclass(frozen=True)
class _Attempt:
    """Two stints laid with a join, what speaks against it, and how far it is from a clean one."""

    edited: Edited
    price: float
    unclean: float


def _best_laid(
    scene: Scene, room: Lane, pair: tuple[Stint, Stint], label: str, material: Material
) -> Edited:
    """A lane with both stints where they join best: of the best few places, each over some lengths, the
    one that is clean; of clean ones the shorter and the more alike. Raises Refusal where none can be."""
    stint = pair[1]
    parts = _part(scene, material, pair[0]), _part(scene, material, stint)
    search = searched(material.figure(scene.figure(room.figure).figure), *parts)

    def lay(spot: JoinPlace, frames: int) -> _Attempt:
        met, notes = _met(*parts, spot.at, spot.in_frame, float(frames))
        plant = stint.alignment.model_copy(update={"plant": spot.planted})
        incoming = met[1].model_copy(update={"alignment": plant, "holds_join": True})
        edited = _laid(scene, room, (met[0], incoming), label, material, notes)
        unclean = max(0.0, cost_of(join_of(edited.scene, material, stint.id)) - 1.0)
        price = UNCLEAN_COSTS * unclean + spot.score_metres + frames / 100
        return _Attempt(edited, price, unclean)

    attempts: list[_Attempt] = []
    refused = Refusal("The two clips have no frames that could meet.")
    # With both feet down a standing figure would have to stride at once: on one foot it steps off.
    for spots in (search.best[:PLACES_TRIED], search.on_one_foot[:ONE_FOOT_PLACES_TRIED]):
        for spot in spots:
            here: list[_Attempt] = []
            for frames in sorted({handover_frames(*parts, spot), *LENGTHS_TRIED}):
                try:
                    here.append(lay(spot, frames))
                except Refusal as refusal:
                    refused = refusal
                    continue
                nearest = min(attempt.unclean for attempt in here)
                if not nearest or (len(here) >= LENGTHS_AT_LEAST and nearest > HOPELESS):
                    break
            attempts += here
        if any(not attempt.unclean for attempt in attempts):
            break
    if not attempts:
        raise refused
    return min(attempts, key=lambda attempt: attempt.price).edited


def _met(
    outgoing: Part, incoming: Part, at: float, in_frame: float, length: float
) -> tuple[tuple[Stint, Stint], tuple[str, ...]]:
    """Both stints as they are when they meet there, over a join of about so many frames."""
    before, stint = outgoing.stint, incoming.stint
    last_frame = incoming.body.length_frames - 1
    if not incoming.body.is_cycle and not 0 <= in_frame <= last_frame:
        raise Refusal(f"{incoming.body.name} has the frames 0 to {last_frame}.")
    # How far the two have frames: the incoming one about the moment, the outgoing one after it.
    here = stint.model_copy(update={"start": at, "in_frame": in_frame, "length_frames": 0.5})
    earliest, last = room_in_stint(incoming.body, here, incoming.ratio)
    _, latest = room_in_stint(outgoing.body, before, outgoing.ratio)
    low = max(before.start + LEAST_FRAMES, outgoing.free_from, float(np.ceil(earliest - 1e-6)))
    high = float(np.floor(min(latest, last - LEAST_FRAMES) + 1e-6))
    if high < low:
        raise Refusal(f"{outgoing.body.name} ends before {incoming.body.name} could begin there.")
    start = nearest_frame(at - length / 2)
    start = max(low, min(start, high - length))
    end = min(start + length, high)
    notes: tuple[str, ...] = ()
    if end - start < length:
        notes = (f"Only {end - start:g} frames lie in both clips there.",)
    first = in_frame - (incoming.source(stint.start + (at - start)) - stint.in_frame)
    # A cycle goes on for as long as it did, a clip that plays once to where it ended.
    stops = stint.end + (start - stint.start)
    pace = mean_pace(stint) * incoming.ratio
    if not incoming.body.is_cycle and pace > 0:
        stops = start + nearest_frame((incoming.source(stint.end) - first) / pace)
    stops = min(max(stops, end + LEAST_FRAMES), last)
    moved = stint.model_copy(
        update={"start": start, "in_frame": first, "length_frames": stops - start}
    )
    return (before.model_copy(update={"length_frames": end - before.start}), moved), notes


def _laid(
    scene: Scene,
    lane: Lane,
    met: tuple[Stint, Stint],
    label: str,
    material: Material,
    notes: tuple[str, ...] = (),
) -> Edited:
    """A lane with both stints of a join as they are now; what follows keeps its distance."""
    now = {stint.id: stint for stint in met}
    was = next(stint for stint in lane.stints if stint.id == met[1].id)
    later = [stint.start for stint in lane.stints if stint.start > was.start]
    if later:
        lane = pushed(lane, min(later), met[1].end - was.end, but=now)
    stints = tuple(now.get(stint.id, stint) for stint in lane.stints)
    done = with_lane(scene, ordered(lane, stints, material))
    return grown(done, label, end_of(done, lane), notes)


def _match_steps(scene: Scene, edit: MatchSteps, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    before = stint_before(lane, stint, material)
    names = f"{stint_name(material, before)} to {stint_name(material, stint)}"
    if before.end < stint.start:
        raise Refusal(f"There is a gap in {names}: let one hand over to the other first.")
    met = in_step(_part(scene, material, before), _part(scene, material, stint), edit.steps)
    now = {one.id: one for one in met}
    stints = tuple(now.get(one.id, one) for one in lane.stints)
    done = with_lane(scene, ordered(lane, stints, material))
    return Edited(done, f"Step from {names} in {edit.steps}")


def _hold_feet(scene: Scene, edit: HoldStintFeet, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    held = stint.model_copy(update={"holds_feet": edit.holds})
    label = f"Hold the feet of {name}" if edit.holds else f"Let the feet of {name} go"
    return Edited(replaced(scene, lane, held, material), label)


def _nail(scene: Scene, edit: NailStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    if not edit.nailed:
        chained = stint.model_copy(update={"nailed": None})
        return Edited(replaced(scene, lane, chained, material), f"Chain {name}")
    place = edit.placement
    if place is None:
        x, z, heading = placements_of(scene, material, lane)[lane.stints.index(stint)]
        place = (float(x), float(z), float(heading))
    nailed = stint.model_copy(update={"nailed": place})
    return Edited(replaced(scene, lane, nailed, material), f"Nail down {name}")


def _part(scene: Scene, material: Material, stint: Stint) -> Part:
    lane, _ = scene.find(stint.id)
    body = body_for(material, scene.figure(lane.figure), stint)
    place = lane.stints.index(stint)
    joined_until = lane.stints[place - 1].end if place else -np.inf
    return Part(stint, body, conform(body, scene), joined_until)


RULES: Rules = {
    SetJoin: _set_join,
    PlaceJoin: _place_join,
    MeetStint: _meet,
    LayNext: _lay_next,
    MatchSteps: _match_steps,
    HoldStintFeet: _hold_feet,
    NailStint: _nail,
}
