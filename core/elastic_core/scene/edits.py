"""Edits: named operations, scene in → scene out (rule 8.1).

Every edit is a frozen model with a `kind`; `apply_edit` gives the new scene, the label that undo and
redo show, and notes on anything that came out otherwise than asked. An edit that cannot be done
raises Refusal and changes nothing (rule 8.3).
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..clip import Clip, GroundTuple, Material
from ..elastic import Elastic
from ..errors import Refusal
from .document import LONGEST_SCENE_FRAMES, GapRule, JoinShape, Lane, Scene, SceneFigure, Stint
from .timing import conform, mean_pace, room_in_clip, source_at

LEAST_FRAMES = 1.0


@dataclass(frozen=True)
class Edited:
    """What came of an edit."""

    scene: Scene
    label: str
    notes: tuple[str, ...] = ()


class Edit(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class PlaceStint(Edit):
    """Lay a clip on a lane. Without a lane, its figure gets a lane (and enters the scene)."""

    kind: Literal["place_stint"] = "place_stint"
    stint: str = Field(min_length=1, max_length=40)
    clip: str
    start: float
    lane: str | None = None
    new_ids: tuple[str, str] | None = None  # (figure, lane) for one that enters the scene


class MoveStint(Edit):
    """When it plays."""

    kind: Literal["move_stint"] = "move_stint"
    stint: str
    start: float


class TrimStint(Edit):
    """Which part of the source plays: an end is moved, and every pose that stays keeps its frame.

    The right end of a cycle can be drawn to any length: that is how a cycle is repeated.
    """

    kind: Literal["trim_stint"] = "trim_stint"
    stint: str
    edge: Literal["start", "end"]
    frame: float


class RepeatStint(Edit):
    """Play a cycle for so many rounds; its start and its pace stay."""

    kind: Literal["repeat_stint"] = "repeat_stint"
    stint: str
    cycles: float = Field(gt=0, le=10_000)


class StretchStint(Edit):
    """How fast it plays: the same part of the source over another length."""

    kind: Literal["stretch_stint"] = "stretch_stint"
    stint: str
    length_frames: float = Field(gt=0)


class PaceStint(Edit):
    """How fast it plays, as a share of as-made; the played length follows."""

    kind: Literal["pace_stint"] = "pace_stint"
    stint: str
    pace: float = Field(gt=0, le=100)


class SplitStint(Edit):
    """Cut a stint in two; no pose changes (rule 5.1)."""

    kind: Literal["split_stint"] = "split_stint"
    stint: str
    frame: float
    new_stint: str = Field(min_length=1, max_length=40)


class DeleteStint(Edit):
    kind: Literal["delete_stint"] = "delete_stint"
    stint: str


class SetJoin(Edit):
    """The length or the shape of the overlap in which the stint before hands over to this one."""

    kind: Literal["set_join"] = "set_join"
    stint: str
    length_frames: float | None = Field(default=None, ge=0)
    shape: JoinShape | None = None


class NailStint(Edit):
    """Give a stint a ground placement of its own, or (with none) chain it again."""

    kind: Literal["nail_stint"] = "nail_stint"
    stint: str
    placement: GroundTuple | None = None


class SetMark(Edit):
    """Where a figure starts."""

    kind: Literal["set_mark"] = "set_mark"
    figure: str
    mark: GroundTuple


class SetGap(Edit):
    kind: Literal["set_gap"] = "set_gap"
    lane: str
    gap: GapRule


class SetLength(Edit):
    """How many frames the scene has."""

    kind: Literal["set_length"] = "set_length"
    length_frames: int = Field(ge=1)


class RenameScene(Edit):
    kind: Literal["rename_scene"] = "rename_scene"
    name: str = Field(min_length=1, max_length=120)


class RemoveFigure(Edit):
    """Take a figure and its lane out of the scene."""

    kind: Literal["remove_figure"] = "remove_figure"
    figure: str


SceneEdit = Annotated[
    PlaceStint
    | MoveStint
    | TrimStint
    | RepeatStint
    | StretchStint
    | PaceStint
    | SplitStint
    | DeleteStint
    | SetJoin
    | NailStint
    | SetMark
    | SetGap
    | SetLength
    | RenameScene
    | RemoveFigure,
    Field(discriminator="kind"),
]


def apply_edit(scene: Scene, edit: SceneEdit, material: Material) -> Edited:
    """The edit's outcome. Raises Refusal where it cannot be done."""
    rule: Callable[[Scene, Any, Material], Edited] = _RULES[type(edit)]
    return rule(scene, edit, material)


def _place(scene: Scene, edit: PlaceStint, material: Material) -> Edited:
    if any(stint.id == edit.stint for lane in scene.lanes for stint in lane.stints):
        raise Refusal("A stint with that id is in the scene already.")
    clip = material.clip(edit.clip).clip
    scene, lane = _lane_for(scene, edit, clip, material)
    start = _whole(max(0.0, edit.start))
    length = max(LEAST_FRAMES, _whole(clip.length_frames / conform(clip, scene)))
    stint = Stint(id=edit.stint, clip=edit.clip, start=start, length_frames=length)
    placed = _with_lane(scene, _ordered(lane, (*lane.stints, stint), material))
    return _grown(placed, f"Place {clip.name}", stint.end)


def _lane_for(scene: Scene, edit: PlaceStint, clip: Clip, material: Material) -> tuple[Scene, Lane]:
    if edit.lane is not None:
        lane = scene.lane(edit.lane)
        member = scene.figure(lane.figure)
        if member.figure != clip.figure:
            made_for = material.figure(clip.figure).name
            raise Refusal(
                f"“{clip.name}” moves {made_for}, and this lane moves {member.name}. "
                f"Drop it below the lanes to give {made_for} a lane."
            )
        return scene, lane
    for present in scene.figures:
        lane_there = scene.lane_of_figure(present.id)
        if present.figure == clip.figure and lane_there is not None:
            return scene, lane_there
    if edit.new_ids is None:
        raise Refusal("Name the ids of the figure and the lane that enter the scene.")
    figure_id, lane_id = edit.new_ids
    name = material.figure(clip.figure).name
    # Newcomers stand side by side, a long step apart, so that no two figures are drawn through
    # each other.
    mark = (1.2 * len(scene.figures) * (-1) ** len(scene.figures), 0.0, 0.0)
    member = SceneFigure(id=figure_id, name=name, figure=clip.figure, mark=mark)
    lane = Lane(id=lane_id, name="Body", figure=figure_id)
    grown = scene.model_copy(
        update={"figures": (*scene.figures, member), "lanes": (*scene.lanes, lane)}
    )
    return grown, lane


def _move(scene: Scene, edit: MoveStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    moved = stint.model_copy(update={"start": _whole(max(0.0, edit.start))})
    name = _name(material, stint)
    return _grown(_replaced(scene, lane, moved, material), f"Move {name}", moved.end)


def _trim(scene: Scene, edit: TrimStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    clip = material.clip(stint.clip).clip
    frame, notes = _within_clip(scene, clip, stint, edit)
    if edit.edge == "end":
        frame = max(frame, stint.start + LEAST_FRAMES)
        trimmed = stint.model_copy(update={"length_frames": frame - stint.start})
        repeats = clip.is_cycle and trimmed.length_frames > stint.length_frames
        label = f"Repeat {clip.name}" if repeats else f"Trim the end of {clip.name}"
        return _grown(_replaced(scene, lane, trimmed, material), label, trimmed.end, notes)
    frame = min(max(frame, 0.0), stint.end - LEAST_FRAMES)
    trimmed = _from(scene, clip, stint, frame)
    replaced = _replaced(scene, lane, trimmed, material)
    return Edited(replaced, f"Trim the start of {clip.name}", notes)


def _repeat(scene: Scene, edit: RepeatStint, material: Material) -> Edited:
    _, stint = scene.find(edit.stint)
    clip = material.clip(stint.clip).clip
    if not clip.is_cycle:
        raise Refusal(f"{clip.name} plays once; only a cycle can be repeated.")
    pace = abs(mean_pace(stint)) * conform(clip, scene)
    if pace == 0:
        raise Refusal(f"{clip.name} stands still here, so it never comes round.")
    end = stint.start + edit.cycles * clip.length_frames / pace
    return _trim(scene, TrimStint(stint=edit.stint, edge="end", frame=end), material)


def _within_clip(
    scene: Scene, clip: Clip, stint: Stint, edit: TrimStint
) -> tuple[float, tuple[str, ...]]:
    """The frame asked for, held to where the clip has poses."""
    frame = _whole(edit.frame)
    earliest, latest = room_in_clip(scene, clip, stint)
    held = min(max(frame, np.ceil(earliest - 1e-6)), np.floor(latest + 1e-6))
    if held == frame:
        return frame, ()
    end = "ends" if edit.edge == "end" else "begins"
    return float(held), (f"{clip.name} {end} here: it plays once, and has no more frames.",)


def _from(scene: Scene, clip: Clip, stint: Stint, frame: float) -> Stint:
    """The same poses at the same frames, from a later or earlier start."""
    return stint.model_copy(
        update={
            "start": frame,
            "length_frames": stint.end - frame,
            "in_frame": source_at(scene, clip, stint, frame),
            "elastic": stint.elastic.shifted(frame - stint.start),
        }
    )


def _stretch(scene: Scene, edit: StretchStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    length = max(LEAST_FRAMES, _whole(edit.length_frames))
    factor = length / stint.length_frames
    stretched = stint.model_copy(
        update={"length_frames": length, "elastic": stint.elastic.stretched(factor)}
    )
    if abs(mean_pace(stretched) - 1) < 1e-9 and len(stretched.elastic.pins) == 2:
        stretched = stretched.model_copy(update={"elastic": Elastic()})
    label = f"Stretch {_name(material, stint)} to {round(100 * mean_pace(stretched))} %"
    return _grown(_replaced(scene, lane, stretched, material), label, stretched.end)


def _pace(scene: Scene, edit: PaceStint, material: Material) -> Edited:
    _, stint = scene.find(edit.stint)
    now = abs(mean_pace(stint))
    if now == 0:
        raise Refusal(f"{_name(material, stint)} stands still here and has no pace to change.")
    length = stint.length_frames * now / edit.pace
    return _stretch(scene, StretchStint(stint=edit.stint, length_frames=length), material)


def _split(scene: Scene, edit: SplitStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    clip = material.clip(stint.clip).clip
    frame = _whole(edit.frame)
    if not stint.start < frame < stint.end:
        raise Refusal(f"{clip.name} can be split between its first and its last frame only.")
    if any(
        max(a.start, b.start) < frame < min(a.end, b.end)
        for a, b in lane.neighbours()
        if stint.id in (a.id, b.id)
    ):
        raise Refusal(f"{clip.name} cannot be split inside a join; shorten the join first.")
    left = stint.model_copy(update={"length_frames": frame - stint.start})
    right = _from(scene, clip, stint, frame).model_copy(
        update={"id": edit.new_stint, "nailed": None}
    )
    others = tuple(other for other in lane.stints if other.id != stint.id)
    split = _ordered(lane, (*others, left, right), material)
    return Edited(_with_lane(scene, split), f"Split {clip.name}")


def _delete(scene: Scene, edit: DeleteStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    stints = tuple(other for other in lane.stints if other.id != stint.id)
    left = lane.model_copy(update={"stints": stints})
    return Edited(_with_lane(scene, left), f"Delete {_name(material, stint)}")


def _set_join(scene: Scene, edit: SetJoin, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    place = [other.id for other in lane.stints].index(stint.id)
    if place == 0:
        raise Refusal(f"Nothing comes before {_name(material, stint)} on its lane.")
    before = lane.stints[place - 1]
    names = f"{_name(material, before)} to {_name(material, stint)}"
    if edit.shape is not None:
        shaped = stint.model_copy(update={"shape": edit.shape})
        scene = _replaced(scene, lane, shaped, material)
    if edit.length_frames is None:
        return Edited(scene, f"Shape the join {names}")
    # The outgoing stint plays on into the incoming one; neither start moves.
    end = stint.start + _whole(edit.length_frames)
    reach = TrimStint(stint=before.id, edge="end", frame=end)
    edited = _trim(scene, reach, material)
    return Edited(edited.scene, f"Set the join {names}", edited.notes)


def _nail(scene: Scene, edit: NailStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    nailed = stint.model_copy(update={"nailed": edit.placement})
    verb = "Chain" if edit.placement is None else "Nail down"
    return Edited(_replaced(scene, lane, nailed, material), f"{verb} {_name(material, stint)}")


def _set_mark(scene: Scene, edit: SetMark, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    if not np.isfinite(edit.mark).all():
        raise Refusal("A mark is a place on the ground and a heading.")
    figures = tuple(
        other.model_copy(update={"mark": edit.mark}) if other.id == member.id else other
        for other in scene.figures
    )
    return Edited(scene.model_copy(update={"figures": figures}), f"Set {member.name}’s mark")


def _set_gap(scene: Scene, edit: SetGap, material: Material) -> Edited:
    lane = scene.lane(edit.lane).model_copy(update={"gap": edit.gap})
    says = {"rest": "rest in gaps", "hold": "hold in gaps", "wait": "wait in gaps"}[edit.gap]
    return Edited(_with_lane(scene, lane), f"{scene.figure(lane.figure).name}: {says}")


def _set_length(scene: Scene, edit: SetLength, material: Material) -> Edited:
    resized = _checked(scene.model_copy(update={"length_frames": edit.length_frames}))
    return Edited(resized, f"Set the length to {edit.length_frames} frames")


def _rename(scene: Scene, edit: RenameScene, material: Material) -> Edited:
    return Edited(scene.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _remove_figure(scene: Scene, edit: RemoveFigure, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    update = {
        "figures": tuple(other for other in scene.figures if other.id != member.id),
        "lanes": tuple(lane for lane in scene.lanes if lane.figure != member.id),
    }
    return Edited(scene.model_copy(update=update), f"Take {member.name} out")


_RULES: dict[type[Edit], Callable[[Scene, Any, Material], Edited]] = {
    PlaceStint: _place,
    MoveStint: _move,
    TrimStint: _trim,
    RepeatStint: _repeat,
    StretchStint: _stretch,
    PaceStint: _pace,
    SplitStint: _split,
    DeleteStint: _delete,
    SetJoin: _set_join,
    NailStint: _nail,
    SetMark: _set_mark,
    SetGap: _set_gap,
    SetLength: _set_length,
    RenameScene: _rename,
    RemoveFigure: _remove_figure,
}


def _whole(frame: float) -> float:
    """The nearest whole frame."""
    if not np.isfinite(frame):
        raise Refusal("That is not a frame.")
    return float(np.floor(frame + 0.5))


def _name(material: Material, stint: Stint) -> str:
    return material.clip(stint.clip).clip.name


def _with_lane(scene: Scene, lane: Lane) -> Scene:
    lanes = tuple(lane if other.id == lane.id else other for other in scene.lanes)
    return scene.model_copy(update={"lanes": lanes})


def _replaced(scene: Scene, lane: Lane, stint: Stint, material: Material) -> Scene:
    stints = tuple(stint if other.id == stint.id else other for other in lane.stints)
    return _with_lane(scene, _ordered(lane, stints, material))


def _ordered(lane: Lane, stints: tuple[Stint, ...], material: Material) -> Lane:
    """Stints by their starts. At most two may play at one time, and none may hide inside another."""
    ordered = tuple(sorted(stints, key=lambda stint: (stint.start, stint.end)))
    for before, after in pairwise(ordered):
        if after.end <= before.end or after.start == before.start:
            raise Refusal(
                f"{_name(material, before)} and {_name(material, after)} would lie on top of each "
                "other. Leave a part of each free, so that one can hand over to the other."
            )
    for first, third in zip(ordered, ordered[2:], strict=False):
        if third.start < first.end:
            raise Refusal(
                f"{_name(material, first)} would still be playing when {_name(material, third)} "
                "starts: no more than two stints can be joined at one time."
            )
    return lane.model_copy(update={"stints": ordered})


def _grown(scene: Scene, label: str, end: float, notes: tuple[str, ...] = ()) -> Edited:
    """A scene long enough for what was just laid in it."""
    if end <= scene.length_frames:
        return Edited(scene, label, notes)
    length = int(np.ceil(end))
    grown = _checked(scene.model_copy(update={"length_frames": length}))
    return Edited(grown, label, (*notes, f"The scene is {length} frames long now."))


def _checked(scene: Scene) -> Scene:
    """Refuse lengths that no scene can have."""
    if scene.length_frames > LONGEST_SCENE_FRAMES:
        raise Refusal(f"A scene has {LONGEST_SCENE_FRAMES:,} frames at the most.")
    return scene
