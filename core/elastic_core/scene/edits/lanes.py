"""Edits on lanes: added, named, coloured, ordered, and how each plays."""

from typing import Literal

from pydantic import Field

from ...colour import Colour
from ...errors import Refusal
from ...names import Name
from ...quantities import LengthFrames, Place
from ...saying import counted
from ..cast import BodyTarget
from ..document import GapRule, JointName, Lane, Scene
from ..material import Material
from .base import Edit, Edited, Rules, replaced, stint_name, with_lane
from .figures import free_id


class AddLane(Edit):
    """A new lane over the others of a figure."""

    kind: Literal["add_lane"] = "add_lane"
    figure: str
    name: Name | None = None


class SetLane(Edit):
    """Another name, colour, gap rule or switch of a lane; what is left out stays."""

    kind: Literal["set_lane"] = "set_lane"
    lane: str
    name: Name | None = None
    colour: Colour | None = None
    gap: GapRule | None = None
    ease_frames: LengthFrames | None = None
    folded: bool | None = None
    muted: bool | None = None
    soloed: bool | None = None
    locked: bool | None = None
    keeps_own_time: bool | None = None


class MaskLane(Edit):
    """Which joints a lane over others drives; without a list the whole figure."""

    kind: Literal["mask_lane"] = "mask_lane"
    lane: str
    joints: tuple[JointName, ...] | None = Field(default=None, max_length=2_000)


class SetGap(Edit):
    """What the figure does after a stint until the next one; without a rule as the lane says."""

    kind: Literal["set_gap"] = "set_gap"
    stint: str
    gap: GapRule | None = None


class MoveLane(Edit):
    """Another place among the lanes, counted from the top."""

    kind: Literal["move_lane"] = "move_lane"
    lane: str
    place: Place


class RemoveLane(Edit):
    """Take a lane and its stints out; a figure's last lane goes and the figure stays, at rest."""

    kind: Literal["remove_lane"] = "remove_lane"
    lane: str


_SAYS = {
    "rest": "rest in gaps",
    "hold": "hold in gaps",
    "wait": "wait in gaps",
    "ease": "ease over gaps",
    ("folded", True): "fold",
    ("folded", False): "unfold",
    ("muted", True): "mute",
    ("muted", False): "let it play",
    ("soloed", True): "solo",
    ("soloed", False): "end the solo",
    ("locked", True): "lock",
    ("locked", False): "unlock",
    ("keeps_own_time", True): "keep its own time",
    ("keeps_own_time", False): "go by the scene's time",
}


def _add(scene: Scene, edit: AddLane, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    own = list(reversed(scene.lanes_of_figure(member.id)))
    # A fix lane stays over all that it corrects.
    name = edit.name or ("Body" if not own else f"Over {own[0].name}"[:120])
    lane = Lane(
        id=free_id("lane", [lane.id for lane in scene.lanes]),
        name=name,
        target=BodyTarget(figure=member.id),
    )
    place = scene.lanes.index(own[0]) if own else len(scene.lanes)
    lanes = (*scene.lanes[:place], lane, *scene.lanes[place:])
    return Edited(scene.model_copy(update={"lanes": lanes}), f"Add a lane to {member.name}")


def _set(scene: Scene, edit: SetLane, material: Material) -> Edited:
    lane = scene.lane(edit.lane)
    changes = edit.model_dump(exclude={"kind", "lane"}, exclude_none=True)
    changed = lane.model_copy(update=changes)
    return Edited(with_lane(scene, changed), _label(scene, lane, changes))


def _label(scene: Scene, lane: Lane, changes: dict[str, object]) -> str:
    who = f"{scene.figure(lane.figure).name}, {lane.name}" if lane.figure else lane.name
    if "name" in changes:
        return f"Rename the lane {lane.name} to {changes['name']}"
    if "colour" in changes:
        return f"{who}: colour"
    if "ease_frames" in changes:
        return f"{who}: ease over {edit_frames(changes['ease_frames'])} frames"
    if "gap" in changes:
        return f"{who}: {_SAYS[str(changes['gap'])]}"
    return f"{who}: {', '.join(_SAYS[key, bool(value)] for key, value in changes.items())}"


def edit_frames(frames: object) -> str:
    """A number of frames as a label writes it."""
    return f"{frames:g}" if isinstance(frames, float) else str(frames)


def _mask(scene: Scene, edit: MaskLane, material: Material) -> Edited:
    lane = scene.lane(edit.lane)
    if lane.target.kind != "body":
        raise Refusal(f"The lane “{lane.name}” drives no body.")
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    for joint in edit.joints or ():
        figure.place_of(joint)
    if edit.joints is not None and not edit.joints:
        raise Refusal("A lane that drives no joint would do nothing: mute it instead.")
    if edit.joints is not None and lane in scene.lanes_of_figure(member.id)[:1]:
        raise Refusal("The lowest lane drives the whole figure: a mask is for a lane over it.")
    whole = edit.joints is None or set(edit.joints) == set(figure.names)
    mask = None if whole else tuple(name for name in figure.names if name in set(edit.joints or ()))
    what = "the whole figure" if mask is None else counted(len(mask), "joint")
    done = with_lane(scene, lane.model_copy(update={"mask": mask}))
    return Edited(done, f"{member.name}, {lane.name}: drive {what}")


def _set_gap(scene: Scene, edit: SetGap, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    says = "as the lane says" if edit.gap is None else _SAYS[edit.gap].split(" ", maxsplit=1)[0]
    changed = stint.model_copy(update={"gap": edit.gap})
    done = replaced(scene, lane, changed, material)
    return Edited(done, f"After {stint_name(material, stint)}: {says}")


def _move(scene: Scene, edit: MoveLane, material: Material) -> Edited:
    lane = scene.lane(edit.lane)
    others = [other for other in scene.lanes if other.id != lane.id]
    others.insert(min(edit.place, len(others)), lane)
    moved = scene.model_copy(update={"lanes": tuple(others)})
    return Edited(moved, f"Move the lane {lane.name}")


def _remove(scene: Scene, edit: RemoveLane, material: Material) -> Edited:
    gone = scene.lane(edit.lane)
    lanes = tuple(lane for lane in scene.lanes if lane.id != gone.id)
    things = ((gone.stints, "stint"), (gone.fixes or (), "fix"))
    notes = tuple(f"{_counted(len(held), thing)} went with it." for held, thing in things if held)
    update: dict[str, object] = {"lanes": lanes}
    layer = scene.layer_of(gone)
    if layer is not None and all(lane.target != gone.target for lane in lanes):
        # Nothing would ever show of it.
        update["layers"] = tuple(other for other in scene.layers if other.id != layer.id)
        notes = (*notes, f"The layer {layer.name} went with it.")
    return Edited(scene.model_copy(update=update), f"Delete the lane {gone.name}", notes)


def _counted(count: int, thing: str) -> str:
    return counted(count, thing) if thing != "fix" or count == 1 else f"{count:,} fixes"


RULES: Rules = {
    AddLane: _add,
    SetLane: _set,
    MaskLane: _mask,
    SetGap: _set_gap,
    MoveLane: _move,
    RemoveLane: _remove,
}
