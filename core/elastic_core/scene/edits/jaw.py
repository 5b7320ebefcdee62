"""A jaw that goes with a laid line's mouths: ordinary fixes on a fix lane, one for each opening (rule 5.6)."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ... import rotation
from ...errors import Refusal
from ...moments import lane_time
from ...names import Id
from ...voice.chart import usual_mouths
from ...voice.openness import openness_by_drawing
from ..cast import BodyTarget, LineSource
from ..document import Fix, Lane, Scene, Stint
from ..material import Material
from ..timing import source_time
from .base import Edit, Edited, Rules, stint_name, with_lane
from .figures import free_id

# Ids have forty characters: four say that it is a jaw's, and ten are for a point and a frame.
_PREFIX_CHARACTERS = 26


class DriveJaw(Edit):
    """Open a joint by how open a laid line's mouths are: about the figure's left and right, `degrees` down
    where it is widest. Where the mouth changes the jaw has arrived, over `ease_frames`. Fixes that were made
    so before, of the same stint, go."""

    kind: Literal["drive_jaw"] = "drive_jaw"
    stint: Id
    joint: Annotated[str, Field(min_length=1, max_length=200)]
    degrees: Annotated[float, Field(ge=-90.0, le=90.0)] = 18.0
    ease_frames: Annotated[int, Field(ge=1, le=24)] = 2


@dataclass(frozen=True)
class _Opening:
    """Frames `[start, end)` of a lane over which a mouth is open as far."""

    start: int
    end: int
    share: float


def _drive(scene: Scene, edit: DriveJaw, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    if not isinstance(stint.source, LineSource) or stint.source.part != "mouth":
        raise Refusal(f"{name} has no mouths that a jaw could go by.")
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    if figure.place_of(edit.joint) == 0:
        raise Refusal("The root carries the whole figure: choose the joint of its jaw.")
    if abs(edit.degrees) < 0.01:
        raise Refusal("By how many degrees the jaw opens is missing.")
    openings = list(_openings(scene, lane, stint, material))
    prefix = f"jaw.{stint.id[:_PREFIX_CHARACTERS]}"
    fixes = tuple(_fixes(openings, edit, prefix))
    if not fixes:
        raise Refusal(f"{name} does not open its mouth there.")
    now, jaws = _lane_of(scene, lane, prefix)
    kept = [fix for fix in jaws.fixes or () if not fix.id.startswith(prefix)]
    placed = tuple(sorted([*kept, *fixes], key=lambda fix: fix.at))
    done = with_lane(now, jaws.model_copy(update={"fixes": placed}))
    return Edited(done, f"Drive {edit.joint} by {name}")


def _openings(scene: Scene, lane: Lane, stint: Stint, material: Material) -> Iterator[_Opening]:
    """How open the mouth is over the stint, frame by frame of its lane; equal ones are one."""
    chart = material.charts[lane.charts[0]] if lane.charts else usual_mouths()
    shares = openness_by_drawing(chart)
    frames = np.arange(math.ceil(stint.start - 1e-6), math.ceil(stint.end - 1e-6))
    performance = material.drawings(stint.source)
    source = source_time(scene, performance, stint, lane_time(frames))
    open_now = [shares.get(int(drawing), 0.0) for drawing in performance.drawings_at(source)]
    start = 0
    for place in range(1, len(frames) + 1):
        if place == len(frames) or open_now[place] != open_now[start]:
            yield _Opening(int(frames[start]), int(frames[place - 1]) + 1, open_now[start])
            start = place


def _fixes(openings: list[_Opening], edit: DriveJaw, prefix: str) -> Iterator[Fix]:
    """One fix for each opening. Two that follow each other fade over the same frames, so that the jaw goes
    straight from the one to the other."""
    for place, now in enumerate(openings):
        if now.share == 0.0:
            continue
        before = openings[place - 1] if place else None
        ease_in = _ease(before, edit.ease_frames) if before else edit.ease_frames
        is_last = place + 1 == len(openings)
        ease_out = edit.ease_frames if is_last else _ease(now, edit.ease_frames)
        # The last one stands on its last frame, and closes after it.
        stands = now.end - now.start - (1 if is_last else ease_out)
        turn = rotation.about_axis("X", np.array(math.radians(edit.degrees * now.share)))
        w, x, y, z = turn.tolist()
        yield Fix(
            id=f"{prefix}.{now.start}",
            at=float(now.start),
            fade_in=float(ease_in),
            fade_out=float(ease_out),
            stands_frames=float(stands),
            turns={edit.joint: (w, x, y, z)},
        )


def _ease(opening: _Opening, frames: int) -> int:
    return min(frames, opening.end - opening.start)


def _lane_of(scene: Scene, mouths: Lane, prefix: str) -> tuple[Scene, Lane]:
    """The fix lane that this was driven on before, or a new one over the figure's body lanes; it goes by the
    time that the mouths go by."""
    own = scene.body_lanes(mouths.figure)
    for lane in own:
        if lane.keeps_own_time == mouths.keeps_own_time and any(
            fix.id.startswith(prefix) for fix in lane.fixes or ()
        ):
            return scene, lane
    made = Lane(
        id=free_id("lane", [lane.id for lane in scene.lanes]),
        name="Jaw",
        target=BodyTarget(figure=mouths.figure),
        keeps_own_time=mouths.keeps_own_time,
        fixes=(),
    )
    place = scene.lanes.index(own[-1]) if own else len(scene.lanes)
    lanes = (*scene.lanes[:place], made, *scene.lanes[place:])
    return scene.model_copy(update={"lanes": lanes}), made


RULES: Rules = {DriveJaw: _drive}
