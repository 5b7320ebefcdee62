"""Edits on stints. When one plays, which part of its performance, and how fast, are three things (rule 5.1).

With `ripple`, what follows on the same lane keeps its distance to what was changed.
"""

from collections.abc import Iterable
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...clock import nearest_frame
from ...colour import Colour
from ...curve import Curve
from ...drawings.playing import RunPlayed
from ...elastic import Elastic
from ...errors import Refusal
from ...join.alignment import Alignment
from ...names import Id, Name
from ...performance import Performance
from ...quantities import Frame, LengthFrames
from ..cast import StintSource
from ..document import Lane, Scene, Stint
from ..fitting import mapping_of, with_fit
from ..material import Material
from ..timing import conform, mean_pace, room_in_clip, source_at
from .base import (
    LEAST_FRAMES,
    Edit,
    Edited,
    Rules,
    grown,
    ordered,
    replaced,
    stint_name,
    with_lane,
)
from .figures import entered, with_figure

FASTEST_PACE = 100.0
FitMapping = Annotated[dict[str, str], Field(max_length=5_000)]


class PlaceStint(Edit):
    """Lay a clip, or a part of another scene, on a lane. Without a lane, its figure gets a lane (and
    enters the scene). With a `mapping` a clip of another figure plays on the lane's, now and from now on."""

    kind: Literal["place_stint"] = "place_stint"
    stint: Id
    source: StintSource
    start: Frame
    lane: str | None = None
    ripple: bool = False
    mapping: FitMapping | None = None


class MoveStint(Edit):
    """When it plays; with a lane, on that lane of the same kind of figure."""

    kind: Literal["move_stint"] = "move_stint"
    stint: str
    start: Frame
    lane: str | None = None
    ripple: bool = False


class MoveStints(Edit):
    """Several stints earlier or later together."""

    kind: Literal["move_stints"] = "move_stints"
    stints: tuple[str, ...] = Field(min_length=1)
    frames: Frame
    ripple: bool = False


class TrimStint(Edit):
    """Which part of the source plays: an end is moved, and every pose that stays keeps its frame.

    The right end of a cycle can be drawn to any length: that is how a cycle is repeated.
    """

    kind: Literal["trim_stint"] = "trim_stint"
    stint: str
    edge: Literal["start", "end"]
    frame: Frame
    ripple: bool = False


class SlipStint(Edit):
    """Which part of the source plays, in the same place and at the same pace: both ends at once."""

    kind: Literal["slip_stint"] = "slip_stint"
    stint: str
    source_frames: Frame


class MoveCut(Edit):
    """Where the stint before hands over to this one; both keep their poses where they were."""

    kind: Literal["move_cut"] = "move_cut"
    stint: str
    frame: Frame


class RepeatStint(Edit):
    """Play a cycle for so many rounds; its start and its pace stay."""

    kind: Literal["repeat_stint"] = "repeat_stint"
    stint: str
    cycles: float = Field(gt=0, le=10_000)
    ripple: bool = False


class StretchStint(Edit):
    """How fast it plays: the same part of the source over another length."""

    kind: Literal["stretch_stint"] = "stretch_stint"
    stint: str
    length_frames: LengthFrames
    ripple: bool = False


class PaceStint(Edit):
    """How fast it plays, as a share of as-made; the played length follows."""

    kind: Literal["pace_stint"] = "pace_stint"
    stint: str
    pace: float = Field(gt=0, le=FASTEST_PACE)
    ripple: bool = False


class SplitStint(Edit):
    """Cut a stint in two; no pose changes."""

    kind: Literal["split_stint"] = "split_stint"
    stint: str
    frame: Frame
    new_stint: Id


class DeleteStints(Edit):
    kind: Literal["delete_stints"] = "delete_stints"
    stints: tuple[str, ...] = Field(min_length=1)
    ripple: bool = False


class NameStint(Edit):
    """A name of its own; with none it goes by its clip's again."""

    kind: Literal["name_stint"] = "name_stint"
    stint: str
    name: Name | None = None


class ColourStints(Edit):
    """A colour of their own; with none they have their clips' again."""

    kind: Literal["colour_stints"] = "colour_stints"
    stints: tuple[str, ...] = Field(min_length=1)
    colour: Colour | None = None


def pushed(lane: Lane, since: float, frames: float, but: Iterable[str] = ()) -> Lane:
    """The lane with every stint that starts at `since` or later moved by so many frames.

    Not yet put in order: the caller lays something in or takes something out first.
    """
    kept = set(but)
    stints = tuple(
        stint.model_copy(update={"start": stint.start + frames})
        if stint.start >= since and stint.id not in kept
        else stint
        for stint in lane.stints
    )
    return lane.model_copy(update={"stints": stints})


def _place(scene: Scene, edit: PlaceStint, material: Material) -> Edited:
    if any(stint.id == edit.stint for stint in scene.stints):
        raise Refusal("A stint with that id is in the scene already.")
    performance = material.performance(edit.source)
    scene, lane = _lane_for(scene, edit, performance, material)
    start = nearest_frame(max(0.0, edit.start))
    length = max(
        LEAST_FRAMES, nearest_frame(performance.length_frames / conform(performance, scene))
    )
    stint = Stint(
        id=edit.stint,
        source=edit.source,
        start=start,
        length_frames=length,
        holds_feet=is_fitted(scene, lane, performance),
    )
    if edit.ripple:
        lane = pushed(lane, start, length)
    placed = with_lane(scene, ordered(lane, (*lane.stints, stint), material))
    return grown(placed, f"Place {performance.name}", end_of(placed, lane))


def _lane_for(
    scene: Scene, edit: PlaceStint, performance: Performance, material: Material
) -> tuple[Scene, Lane]:
    if edit.lane is not None:
        scene = fitted(scene, scene.lane(edit.lane), performance, edit.mapping, material)
        lane = scene.lane(edit.lane)
        must_fit(scene, lane, performance, material)
        return scene, lane
    if isinstance(performance, RunPlayed):
        raise Refusal(f"“{performance.name}” needs a layer: drop it on one, or add its drawings.")
    for member in scene.figures:
        lanes = scene.lanes_of_figure(member.id)
        if member.figure == performance.figure and lanes:
            return scene, next((lane for lane in lanes if not lane.locked), lanes[0])
    return entered(scene, performance.figure, material)


def fitted(
    scene: Scene,
    lane: Lane,
    performance: Performance,
    mapping: FitMapping | None,
    material: Material,
) -> Scene:
    """The scene with a mapping for the lane's figure, where one is given for a clip of another."""
    if mapping is None or lane.target.kind != "body":
        return scene
    member = scene.figure(lane.figure)
    if member.figure == performance.figure:
        return scene
    return with_figure(scene, with_fit(member, material, performance, mapping))


def is_fitted(scene: Scene, lane: Lane, performance: Performance) -> bool:
    """Whether a lane plays a clip of another figure, so that its feet have to be held anew."""
    if lane.target.kind != "body":
        return False
    return mapping_of(scene.figure(lane.figure), performance) is not None


def drawings_of_lane(scene: Scene, lane: Lane, material: Material) -> set[str]:
    """The drawing sets whose runs a lane shows: its layer's, its chart's, or that of the part of a cut-out."""
    found = set(lane.charts[:1])
    layer = scene.layer_of(lane)
    if layer is not None:
        found.add(layer.drawings)
    if lane.target.kind == "part":
        dress = material.figure(scene.figure(lane.figure).figure).dress
        found |= {card.drawings for card in dress.cards if card.name == lane.target.part}
    return found - {""}


def must_fit(scene: Scene, lane: Lane, performance: Performance, material: Material) -> None:
    """Raises Refusal for a performance that a lane cannot play."""
    if lane.target.takes not in performance.channels:
        raise Refusal(f"“{performance.name}” has nothing for the lane “{lane.name}” to play.")
    if isinstance(performance, RunPlayed):
        if performance.run.drawings not in drawings_of_lane(scene, lane, material):
            raise Refusal(
                f"The run “{performance.name}” has other drawings than “{lane.name}” shows."
            )
        return
    if not lane.figure:
        return
    member = scene.figure(lane.figure)
    if member.figure != performance.figure and mapping_of(member, performance) is None:
        made_for = material.figure(performance.figure).name
        raise Refusal(
            f"“{performance.name}” moves {made_for}, and this lane moves {member.name}. "
            f"Drop it below the lanes to give {made_for} a lane."
        )


def _move(scene: Scene, edit: MoveStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    start = nearest_frame(max(0.0, edit.start))
    moved = stint.model_copy(update={"start": start})
    label = f"Move {stint_name(material, stint)}"
    if edit.lane is not None and edit.lane != lane.id:
        goal = scene.lane(edit.lane)
        must_fit(scene, goal, material.performance(stint.source), material)
        left = tuple(other for other in lane.stints if other.id != stint.id)
        scene = with_lane(scene, lane.model_copy(update={"stints": left}))
        if edit.ripple:
            goal = pushed(goal, start, stint.length_frames)
        done = with_lane(scene, ordered(goal, (*goal.stints, moved), material))
        return grown(done, f"{label} to {goal.name}", end_of(done, goal))
    if edit.ripple:
        lane = pushed(lane, stint.start, start - stint.start, but=[stint.id])
    done = replaced(scene, lane, moved, material)
    return grown(done, label, end_of(done, lane))


def _move_several(scene: Scene, edit: MoveStints, material: Material) -> Edited:
    found = [scene.find(stint) for stint in edit.stints]
    first = min(stint.start for _, stint in found)
    step = max(nearest_frame(edit.frames), -np.floor(first))
    chosen = set(edit.stints)
    touched = {lane.id for lane, _ in found}
    ends = [0.0]
    for lane_id in sorted(touched):
        lane = scene.lane(lane_id)
        starts = min(stint.start for stint in lane.stints if stint.id in chosen)
        stints = tuple(
            stint.model_copy(update={"start": stint.start + step})
            if stint.id in chosen or (edit.ripple and stint.start >= starts)
            else stint
            for stint in lane.stints
        )
        moved = ordered(lane, stints, material)
        scene = with_lane(scene, moved)
        ends.append(end_of(scene, moved))
    label = f"Move {_several([stint for _, stint in found], material)}"
    return grown(scene, label, max(ends))


def trim(scene: Scene, edit: TrimStint, material: Material) -> Edited:
    """Move an end of a stint, within what its clip has."""
    lane, stint = scene.find(edit.stint)
    performance = material.performance(stint.source)
    name = stint_name(material, stint)
    frame, notes = within_clip(scene, performance, stint, edit.edge, edit.frame)
    if edit.edge == "end":
        frame = max(frame, stint.start + LEAST_FRAMES)
        trimmed = stint.model_copy(update={"length_frames": frame - stint.start})
        repeats = performance.is_cycle and trimmed.length_frames > stint.length_frames
        label = f"Repeat {name}" if repeats else f"Trim the end of {name}"
        return lengthened(scene, lane, stint, trimmed, label, material, edit.ripple, notes)
    frame = min(max(frame, 0.0), stint.end - LEAST_FRAMES)
    trimmed = _from(scene, performance, stint, frame)
    if edit.ripple:
        # The stint and what follows close up, so that it starts where it started before.
        by = stint.start - frame
        lane = pushed(lane, stint.start, by, but=[stint.id])
        trimmed = trimmed.model_copy(update={"start": stint.start})
    done = replaced(scene, lane, trimmed, material)
    return grown(done, f"Trim the start of {name}", end_of(done, lane), notes)


def lengthened(
    scene: Scene,
    lane: Lane,
    before: Stint,
    after: Stint,
    label: str,
    material: Material,
    ripple: bool,
    notes: tuple[str, ...] = (),
) -> Edited:
    """A stint with another end; with ripple, what follows keeps its distance to that end."""
    if ripple:
        others = [stint.start for stint in lane.stints if stint.start > before.start]
        if others:
            lane = pushed(lane, min(others), after.end - before.end)
    done = replaced(scene, lane, after, material)
    return grown(done, label, end_of(done, lane), notes)


def within_clip(
    scene: Scene,
    performance: Performance,
    stint: Stint,
    edge: Literal["start", "end"],
    wanted: float,
) -> tuple[float, tuple[str, ...]]:
    """The frame asked for, held to where the clip has poses."""
    frame = nearest_frame(wanted)
    earliest, latest = room_in_clip(scene, performance, stint)
    held = min(max(frame, np.ceil(earliest - 1e-6)), np.floor(latest + 1e-6))
    if held == frame:
        return frame, ()
    says = "ends" if edge == "end" else "begins"
    return float(held), (f"{performance.name} {says} here: it plays once, and has no more frames.",)


def _from(scene: Scene, performance: Performance, stint: Stint, frame: float) -> Stint:
    """The same poses at the same frames, from a later or earlier start."""
    return stint.model_copy(
        update={
            "start": frame,
            "length_frames": stint.end - frame,
            "in_frame": source_at(scene, performance, stint, frame),
            "elastic": stint.elastic.shifted(frame - stint.start),
            "weight": _retimed(stint.weight, 1.0, stint.start - frame),
        }
    )


def _retimed(weight: Curve | None, factor: float, frames: float) -> Curve | None:
    """A weight's keys at other times: so many times as far from the start, and then later."""
    if weight is None:
        return None
    times = {place: key.time * factor + frames for place, key in enumerate(weight.keys)}
    return weight.retimed(times)[0]


def _slip(scene: Scene, edit: SlipStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    performance = material.performance(stint.source)
    by = edit.source_frames
    notes: tuple[str, ...] = ()
    if not performance.is_cycle:
        ends = sorted(source_at(scene, performance, stint, at) for at in (stint.start, stint.end))
        low, high = -ends[0], performance.length_frames - ends[1]
        held = float(np.clip(by, min(low, 0.0), max(high, 0.0)))
        if held != by:
            by, notes = held, (f"{performance.name} has no more frames that way: it plays once.",)
    slipped = stint.model_copy(update={"in_frame": stint.in_frame + by})
    done = replaced(scene, lane, slipped, material)
    return Edited(done, f"Slip {stint_name(material, stint)}", notes)


def _move_cut(scene: Scene, edit: MoveCut, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    before = stint_before(lane, stint, material)
    if before.end < stint.start:
        raise Refusal(
            f"There is a gap between {stint_name(material, before)} and "
            f"{stint_name(material, stint)}, and no cut to move."
        )
    frame = nearest_frame(edit.frame)
    overlap = before.end - stint.start
    outgoing, incoming = (material.performance(s.source) for s in (before, stint))
    latest, before_notes = within_clip(scene, outgoing, before, "end", frame + overlap)
    earliest, notes = within_clip(scene, incoming, stint, "start", frame)
    if before_notes or notes:
        frame = min(latest - overlap, earliest) if before_notes else earliest
    frame = min(max(frame, before.start + LEAST_FRAMES), stint.end - LEAST_FRAMES - overlap)
    stints = {
        before.id: before.model_copy(update={"length_frames": frame + overlap - before.start}),
        stint.id: _from(scene, incoming, stint, frame),
    }
    moved = ordered(lane, tuple(stints.get(s.id, s) for s in lane.stints), material)
    names = f"{stint_name(material, before)} to {stint_name(material, stint)}"
    return Edited(with_lane(scene, moved), f"Move the cut {names}", (*before_notes, *notes))


def _repeat(scene: Scene, edit: RepeatStint, material: Material) -> Edited:
    _, stint = scene.find(edit.stint)
    performance = material.performance(stint.source)
    if not performance.is_cycle:
        raise Refusal(f"{performance.name} plays once; only a cycle can be repeated.")
    pace = abs(mean_pace(stint)) * conform(performance, scene)
    if pace == 0:
        raise Refusal(f"{performance.name} stands still here, so it never comes round.")
    end = stint.start + edit.cycles * performance.length_frames / pace
    wanted = TrimStint(stint=edit.stint, edge="end", frame=end, ripple=edit.ripple)
    return trim(scene, wanted, material)


def _stretch(scene: Scene, edit: StretchStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    length = max(LEAST_FRAMES, nearest_frame(edit.length_frames))
    factor = length / stint.length_frames
    stretched = stint.model_copy(
        update={
            "length_frames": length,
            "elastic": stint.elastic.stretched(factor),
            "weight": _retimed(stint.weight, factor, 0.0),
        }
    )
    if abs(mean_pace(stretched) - 1) < 1e-9 and len(stretched.elastic.pins) == 2:
        stretched = stretched.model_copy(update={"elastic": Elastic()})
    label = f"Stretch {stint_name(material, stint)} to {round(100 * mean_pace(stretched))} %"
    return lengthened(scene, lane, stint, stretched, label, material, edit.ripple)


def _pace(scene: Scene, edit: PaceStint, material: Material) -> Edited:
    return paced(scene, edit.stint, edit.pace, material, ripple=edit.ripple)


def paced(scene: Scene, stint_id: str, pace: float, material: Material, *, ripple: bool) -> Edited:
    """A stint stretched as a whole until it plays at a pace, a share of as-made above 0.

    Raises `Refusal` for a stint that stands still.
    """
    _, stint = scene.find(stint_id)
    now = abs(mean_pace(stint))
    if now == 0:
        raise Refusal(f"{stint_name(material, stint)} stands still and has no pace to change.")
    length = stint.length_frames * now / pace
    stretch = StretchStint(stint=stint_id, length_frames=length, ripple=ripple)
    return _stretch(scene, stretch, material)


def _split(scene: Scene, edit: SplitStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    performance = material.performance(stint.source)
    name = stint_name(material, stint)
    frame = nearest_frame(edit.frame)
    if any(other.id == edit.new_stint for other in scene.stints):
        raise Refusal("A stint with that id is in the scene already.")
    if not stint.start < frame < stint.end:
        raise Refusal(f"{name} can be split between its first and its last frame only.")
    if any(
        max(a.start, b.start) < frame < min(a.end, b.end)
        for a, b in lane.neighbours()
        if stint.id in (a.id, b.id)
    ):
        raise Refusal(f"{name} cannot be split inside a join; shorten the join first.")
    left = stint.model_copy(update={"length_frames": frame - stint.start})
    right = _from(scene, performance, stint, frame).model_copy(
        update={
            "id": edit.new_stint,
            "nailed": None,
            "alignment": Alignment(),
            "holds_join": False,
        }
    )
    others = tuple(other for other in lane.stints if other.id != stint.id)
    split = ordered(lane, (*others, left, right), material)
    return Edited(with_lane(scene, split), f"Split {name}")


def _delete(scene: Scene, edit: DeleteStints, material: Material) -> Edited:
    found = [scene.find(stint) for stint in edit.stints]
    label = f"Delete {_several([stint for _, stint in found], material)}"
    for _, stint in sorted(found, key=lambda pair: -pair[1].start):
        lane, stint = scene.find(stint.id)
        stints = tuple(other for other in lane.stints if other.id != stint.id)
        left = lane.model_copy(update={"stints": stints})
        later = [other.start for other in stints if other.start > stint.start]
        if edit.ripple and later:
            # The next one starts where this one did; a gap behind it stays as wide as it was.
            left = pushed(left, min(later), stint.start - min(stint.end, *later))
        scene = with_lane(scene, ordered(left, left.stints, material))
    return Edited(scene, label)


def _name_stint(scene: Scene, edit: NameStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    named = stint.model_copy(update={"name": edit.name})
    label = f"Rename {stint_name(material, stint)} to {stint_name(material, named)}"
    return Edited(replaced(scene, lane, named, material), label)


def _colour(scene: Scene, edit: ColourStints, material: Material) -> Edited:
    found = [scene.find(stint)[1] for stint in edit.stints]
    for name in edit.stints:
        lane, stint = scene.find(name)
        coloured = stint.model_copy(update={"colour": edit.colour})
        scene = replaced(scene, lane, coloured, material)
    return Edited(scene, f"Colour {_several(found, material)}")


def stint_before(lane: Lane, stint: Stint, material: Material) -> Stint:
    """The stint before one on its lane. Raises Refusal where there is none."""
    place = [other.id for other in lane.stints].index(stint.id)
    if place == 0:
        raise Refusal(f"Nothing comes before {stint_name(material, stint)} on its lane.")
    return lane.stints[place - 1]


def _several(stints: list[Stint], material: Material) -> str:
    if len(stints) == 1:
        return stint_name(material, stints[0])
    return f"{len(stints)} stints"


def end_of(scene: Scene, lane: Lane) -> float:
    """Where the last stint of a lane ends."""
    return max((stint.end for stint in scene.lane(lane.id).stints), default=0.0)


RULES: Rules = {
    PlaceStint: _place,
    MoveStint: _move,
    MoveStints: _move_several,
    TrimStint: trim,
    SlipStint: _slip,
    MoveCut: _move_cut,
    RepeatStint: _repeat,
    StretchStint: _stretch,
    PaceStint: _pace,
    SplitStint: _split,
    DeleteStints: _delete,
    NameStint: _name_stint,
    ColourStints: _colour,
}
