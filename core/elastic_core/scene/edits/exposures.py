"""How long each pose stays: on the scene, a lane, a stint, or some joints (rule 1.8)."""

from typing import Literal

from pydantic import Field

from ...clock import Rate
from ...errors import Refusal
from ...exposure import Exposure, Pattern
from ...exposure import said as said_exposure
from ...quantities import Frame
from ...saying import said
from ..document import JointExposure, JointName, Lane, Scene
from ..material import Material
from .base import Edit, Edited, Rules, replaced, stint_name, with_lane


class Expose(Edit):
    """On ones, twos, a pattern, or so many drawings a second; with neither as what lies above it says.

    Of a stint or a lane; of some joints of a lane, or of its `place` on the ground; without any of the whole
    scene. The anchor is a played
    frame at which a hold begins, of a stint counted from its first.
    """

    kind: Literal["expose"] = "expose"
    stint: str | None = None
    lane: str | None = None
    joints: tuple[JointName, ...] | None = Field(default=None, min_length=1, max_length=2_000)
    place: bool = False
    pattern: Pattern | None = None
    drawings_a_second: Rate | None = None
    anchor: Frame = 0.0


def _set(scene: Scene, edit: Expose, material: Material) -> Edited:
    exposure = _wanted(scene, edit)
    says = "exposure as above" if exposure is None else said_exposure(exposure.pattern)
    if edit.stint is not None:
        lane, stint = scene.find(edit.stint)
        changed = stint.model_copy(update={"exposure": exposure})
        done = replaced(scene, lane, changed, material)
        return Edited(done, f"{stint_name(material, stint)}: {says}")
    if edit.lane is None:
        if edit.joints is not None or edit.place:
            raise Refusal("Say on which lane these joints are.")
        whole = exposure or Exposure()
        label = f"The scene: {said_exposure(whole.pattern)}"
        return Edited(scene.model_copy(update={"exposure": whole}), label)
    lane = scene.lane(edit.lane)
    who = f"{scene.figure(lane.figure).name}, {lane.name}" if lane.figure else lane.name
    if edit.place:
        return _of_place(scene, lane, exposure)
    if edit.joints is None:
        done = with_lane(scene, lane.model_copy(update={"exposure": exposure}))
        return Edited(done, f"{who}: {says}")
    return _of_joints(scene, lane, edit.joints, exposure, material)


def _wanted(scene: Scene, edit: Expose) -> Exposure | None:
    if edit.drawings_a_second is not None:
        if edit.pattern is not None:
            raise Refusal("Say a pattern or so many drawings a second, not both.")
        return Exposure.of_drawings(edit.drawings_a_second, scene.rate, edit.anchor)
    return None if edit.pattern is None else Exposure(pattern=edit.pattern, anchor=edit.anchor)


def _of_place(scene: Scene, lane: Lane, exposure: Exposure | None) -> Edited:
    """Where a figure is, on an exposure of its own: it slides under the poses that stay."""
    if lane.target.kind != "body":
        raise Refusal(f"The lane “{lane.name}” drives no body.")
    says = "with its poses" if exposure is None else said_exposure(exposure.pattern)
    done = with_lane(scene, lane.model_copy(update={"place_exposure": exposure}))
    return Edited(done, f"{scene.figure(lane.figure).name}, place: {says}")


def _of_joints(
    scene: Scene,
    lane: Lane,
    joints: tuple[str, ...],
    exposure: Exposure | None,
    material: Material,
) -> Edited:
    """Joints on an exposure to themselves; each is in one group only."""
    if lane.target.kind != "body":
        raise Refusal(f"The lane “{lane.name}” drives no body.")
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    wanted = {figure.names[figure.place_of(name)] for name in joints}
    groups = []
    for group in lane.joint_exposures:
        left = tuple(name for name in group.joints if name not in wanted)
        if left:
            groups.append(group.model_copy(update={"joints": left}))
    in_order = tuple(name for name in figure.names if name in wanted)
    if exposure is not None:
        groups.append(JointExposure(joints=in_order, exposure=exposure))
    done = with_lane(scene, lane.model_copy(update={"joint_exposures": tuple(groups)}))
    says = "with the rest" if exposure is None else said_exposure(exposure.pattern)
    return Edited(done, f"{member.name}, {said(figure, list(in_order))}: {says}")


RULES: Rules = {Expose: _set}
