"""Copies of stints: beside the originals, or brought from another lane or scene."""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from ...clock import Rate, nearest_frame
from ...elastic import Elastic
from ...errors import Refusal
from ...frozen import Frozen
from ...names import Id
from ...quantities import Frame, Place
from ..document import Lane, Scene, Stint
from ..material import Material
from ..timing import mean_pace, source_at
from .base import LEAST_FRAMES, Edit, Edited, Rules, grown, ordered, stint_name, with_lane
from .figures import entered
from .stints import FitMapping, fitted, is_fitted, pushed


class DuplicateStints(Edit):
    """Copies right after the last of the chosen; `new_stints` names them in the order of `stints`."""

    kind: Literal["duplicate_stints"] = "duplicate_stints"
    stints: tuple[str, ...] = Field(min_length=1)
    new_stints: tuple[Id, ...]
    ripple: bool = False


class CopiedStint(Frozen):
    """A stint on its way, with its new id; `row` tells which of the copied lanes it lay on."""

    stint: Stint
    row: Place


class PasteStints(Edit):
    """Lay copied stints so that the earliest starts at `frame`.

    `rate` is that of the scene they come from. Copies of one row go to `lane` where one is named;
    several rows go to the lanes of their figures, from the top. With a `mapping` what was made for
    another figure is fitted to that of the lane (rule 2.4).
    """

    kind: Literal["paste_stints"] = "paste_stints"
    copies: tuple[CopiedStint, ...] = Field(min_length=1)
    rate: Rate
    frame: Frame
    lane: str | None = None
    mapping: FitMapping | None = None
    ripple: bool = False


def _duplicate(scene: Scene, edit: DuplicateStints, material: Material) -> Edited:
    if len(edit.new_stints) != len(edit.stints):
        raise Refusal("Every copy needs an id of its own.")
    found = [scene.find(stint) for stint in edit.stints]
    first = min(stint.start for _, stint in found)
    step = max(stint.end for _, stint in found) - first
    laid: dict[str, list[Stint]] = {}
    for (lane, stint), name in zip(found, edit.new_stints, strict=True):
        laid.setdefault(lane.id, []).append(
            stint.model_copy(update={"id": name, "start": stint.start + step, "nailed": None})
        )
    label = _label("Duplicate", [stint for _, stint in found], material)
    return _lay(scene, laid, first + step, label, material, edit.ripple)


def _paste(scene: Scene, edit: PasteStints, material: Material) -> Edited:
    factor = float(scene.rate / edit.rate)
    first = min(copy.stint.start for copy in edit.copies)
    frame = max(0.0, nearest_frame(edit.frame))
    laid: dict[str, list[Stint]] = {}
    stints = []
    if edit.lane is not None:
        performance = material.performance(edit.copies[0].stint.source)
        scene = fitted(scene, scene.lane(edit.lane), performance, edit.mapping, material)
    scene, lane_of_row = _lanes_for(scene, edit, material)
    for copy in sorted(edit.copies, key=lambda copy: copy.stint.start):
        at_rate = _at_rate(copy.stint, factor)
        start = frame + nearest_frame((copy.stint.start - first) * factor)
        stint = at_rate.model_copy(update={"start": start, "nailed": None})
        performance = material.performance(stint.source)
        if is_fitted(scene, scene.lane(lane_of_row[copy.row]), performance):
            stint = stint.model_copy(update={"holds_feet": True})
        _check_plays(scene, stint, material)
        laid.setdefault(lane_of_row[copy.row], []).append(stint)
        stints.append(stint)
    return _lay(scene, laid, frame, _label("Paste", stints, material), material, edit.ripple)


def _check_plays(scene: Scene, stint: Stint, material: Material) -> None:
    """Raises Refusal for a copy that is no frame long, or plays what its clip does not have."""
    name = stint_name(material, stint)
    if stint.length_frames < LEAST_FRAMES:
        raise Refusal(f"The copy of {name} is less than a frame long.")
    performance = material.performance(stint.source)
    if performance.is_cycle:
        return
    slack = 1.5 * abs(mean_pace(stint)) + 1e-6
    edges = [source_at(scene, performance, stint, time) for time in (stint.start, stint.end)]
    if min(edges) < -slack or max(edges) > performance.length_frames + slack:
        raise Refusal(
            f"The copy of {name} plays frames that its clip does not have; "
            f"it has 0 to {performance.length_frames - 1}."
        )


def _lay(
    scene: Scene,
    laid: dict[str, list[Stint]],
    frame: float,
    label: str,
    material: Material,
    ripple: bool,
) -> Edited:
    """Lay stints on their lanes; where there is no room, further on, all by the same frames."""
    taken = {stint.id for stint in scene.stints}
    if any(stint.id in taken for stints in laid.values() for stint in stints):
        raise Refusal("A stint with that id is in the scene already.")
    notes: tuple[str, ...] = ()
    if ripple:
        end = max(stint.end for stints in laid.values() for stint in stints)
        for lane_id in laid:
            pushed_lane = pushed(scene.lane(lane_id), frame, end - frame)
            scene = with_lane(scene, pushed_lane)
    elif not all(_free(scene.lane(lane_id), stints) for lane_id, stints in laid.items()):
        ends = [stint.end for lane_id in laid for stint in scene.lane(lane_id).stints]
        step = max(ends) - frame
        laid = {
            lane_id: [s.model_copy(update={"start": s.start + step}) for s in stints]
            for lane_id, stints in laid.items()
        }
        notes = (f"Laid at {int(max(ends)) + scene.first_frame}, where there is room.",)
    for lane_id, stints in laid.items():
        lane = scene.lane(lane_id)
        scene = with_lane(scene, ordered(lane, (*lane.stints, *stints), material))
    end = max(stint.end for stints in laid.values() for stint in stints)
    return grown(scene, label, end, notes)


def _free(lane: Lane, stints: Sequence[Stint]) -> bool:
    return not any(
        there.start < stint.end and stint.start < there.end
        for there in lane.stints
        for stint in stints
    )


def _lanes_for(scene: Scene, edit: PasteStints, material: Material) -> tuple[Scene, dict[int, str]]:
    """The lane that each copied row goes to; figures that are missing enter the scene."""
    figures = {
        copy.row: material.performance(copy.stint.source).figure
        for copy in sorted(edit.copies, key=lambda copy: copy.row)
    }
    lane_of_row: dict[int, str] = {}
    for row, figure in figures.items():
        named = scene.lane(edit.lane) if edit.lane is not None else None
        if len(figures) == 1 and named and named.figure:
            owner = scene.figure(named.figure)
            if figure in {owner.figure, *(fit.figure for fit in owner.fits)}:
                lane_of_row[row] = named.id
                continue
        member = next((m for m in scene.figures if m.figure == figure), None)
        lanes = list(reversed(scene.lanes_of_figure(member.id))) if member else []
        free = [lane for lane in lanes if lane.id not in lane_of_row.values()]
        if not free and member is not None:
            raise Refusal(f"{member.name} has too few lanes for these stints. Add a lane first.")
        if not free:
            scene, new = entered(scene, figure, material)
            free = [new]
        lane_of_row[row] = free[0].id
    return scene, lane_of_row


def _at_rate(stint: Stint, factor: float) -> Stint:
    """The same seconds in a scene of another rate; lengths land on whole frames."""
    if factor == 1:
        return stint
    # Source and played are both scene frames here, so slopes stay.
    pins = tuple(
        pin.model_copy(update={"played": pin.played * factor, "source": pin.source * factor})
        for pin in stint.elastic.pins
    )
    elastic = Elastic(pins=pins, before=stint.elastic.before, after=stint.elastic.after)
    length = max(1.0, nearest_frame(stint.length_frames * factor))
    return stint.model_copy(update={"length_frames": length, "elastic": elastic})


def _label(verb: str, stints: Sequence[Stint], material: Material) -> str:
    if len(stints) == 1:
        return f"{verb} {stint_name(material, stints[0])}"
    return f"{verb} {len(stints)} stints"


RULES: Rules = {DuplicateStints: _duplicate, PasteStints: _paste}
