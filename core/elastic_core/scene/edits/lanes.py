"""Edits on lanes: added, named, coloured, ordered, and how each plays."""

from typing import Literal

from ...colour import Colour
from ...names import Name
from ...quantities import Place
from ..cast import BodyTarget
from ..document import GapRule, Lane, Scene
from ..material import Material
from .base import Edit, Edited, Rules, with_lane
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
    folded: bool | None = None
    muted: bool | None = None
    soloed: bool | None = None
    locked: bool | None = None


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
    ("folded", True): "fold",
    ("folded", False): "unfold",
    ("muted", True): "mute",
    ("muted", False): "let it play",
    ("soloed", True): "solo",
    ("soloed", False): "end the solo",
    ("locked", True): "lock",
    ("locked", False): "unlock",
}


def _add(scene: Scene, edit: AddLane, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    own = list(reversed(scene.lanes_of_figure(member.id)))
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
    if "gap" in changes:
        return f"{who}: {_SAYS[str(changes['gap'])]}"
    return f"{who}: {', '.join(_SAYS[key, bool(value)] for key, value in changes.items())}"


def _move(scene: Scene, edit: MoveLane, material: Material) -> Edited:
    lane = scene.lane(edit.lane)
    others = [other for other in scene.lanes if other.id != lane.id]
    others.insert(min(edit.place, len(others)), lane)
    moved = scene.model_copy(update={"lanes": tuple(others)})
    return Edited(moved, f"Move the lane {lane.name}")


def _remove(scene: Scene, edit: RemoveLane, material: Material) -> Edited:
    gone = scene.lane(edit.lane)
    lanes = tuple(lane for lane in scene.lanes if lane.id != gone.id)
    count = len(gone.stints)
    notes = (f"{count} {'stint' if count == 1 else 'stints'} went with it.",) if count else ()
    return Edited(scene.model_copy(update={"lanes": lanes}), f"Delete the lane {gone.name}", notes)


RULES: Rules = {AddLane: _add, SetLane: _set, MoveLane: _move, RemoveLane: _remove}
