"""Edits on what a figure rides on (rule 7.5)."""

from typing import Literal

import numpy as np

from ... import rotation
from ...errors import Refusal
from ...moments import played
from ...names import Id
from ...quantities import Frame
from ...sides import spoken
from ..attaching import Rigid, carrying, ridden, riders_in_order
from ..document import Attachment, JointName, Scene, SceneFigure
from ..evaluate import FigureFrames, frames_of
from ..material import Material
from .base import Edit, Edited, Rules
from .figures import with_figure


class AttachFigure(Edit):
    """A figure rides on a joint of another one, or on a guide, from a frame of the desk on. At that frame
    nothing moves, unless its offset is not kept: then its root comes to the joint."""

    kind: Literal["attach_figure"] = "attach_figure"
    attachment: Id
    figure: str
    to: str
    joint: JointName | None = None
    start: Frame
    end: Frame | None = None
    turns: bool = True
    keeps_offset: bool = True


class SetAttachment(Edit):
    """Another range of it; what is left out stays."""

    kind: Literal["set_attachment"] = "set_attachment"
    figure: str
    attachment: str
    start: Frame | None = None
    end: Frame | None = None


class DetachFigure(Edit):
    """It no longer rides there, at no frame."""

    kind: Literal["detach_figure"] = "detach_figure"
    figure: str
    attachment: str


def _attach(scene: Scene, edit: AttachFigure, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    what = _ridden(scene, edit, material)
    if any(own.id == edit.attachment for figure in scene.figures for own in figure.attachments):
        raise Refusal("An attachment with that id is in the scene already.")
    _in_the_scene(scene, edit.start, edit.end)
    attachment = Attachment(
        id=edit.attachment,
        to=edit.to,
        joint=edit.joint,
        start=edit.start,
        end=edit.end,
        turns=edit.turns,
    )
    # Asked for before anything is placed: it says so where a figure would ride on itself.
    rides = with_figure(scene, _with(member, attachment))
    riders_in_order(rides)
    kept = _offset(scene, material, member, attachment, keeps_offset=edit.keeps_offset)
    done = with_figure(scene, _with(member, kept))
    return Edited(done, f"{member.name} rides on {what}")


def _ridden(scene: Scene, edit: AttachFigure, material: Material) -> str:
    """What a figure is to ride on, in words. Raises Refusal where there is no such joint or guide."""
    if edit.joint is None:
        return scene.guide(edit.to).name
    other = scene.figure(edit.to)
    material.figure(other.figure).place_of(edit.joint)
    return f"{other.name}’s {spoken(edit.joint).lower()}"


def _in_the_scene(scene: Scene, start: float, end: float | None) -> None:
    if not 0 <= start < scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    if end is not None and end <= start:
        raise Refusal("A ride ends after it starts.")


def _with(member: SceneFigure, attachment: Attachment) -> SceneFigure:
    """A figure with one ride more; those that it falls into end there."""
    end = np.inf if attachment.end is None else attachment.end
    found = [attachment]
    for own in member.attachments:
        own_end = np.inf if own.end is None else own.end
        if own_end <= attachment.start or own.start >= end:
            found.append(own)
        elif own.start < attachment.start:
            found.append(own.model_copy(update={"end": attachment.start}))
    return _in_order(member, found)


def _in_order(member: SceneFigure, attachments: list[Attachment]) -> SceneFigure:
    ordered = tuple(sorted(attachments, key=lambda own: own.start))
    return member.model_copy(update={"attachments": ordered})


def _offset(
    scene: Scene,
    material: Material,
    member: SceneFigure,
    attachment: Attachment,
    *,
    keeps_offset: bool,
) -> Attachment:
    """The offset at which nothing moves at the ride's first frame, or its root is on the joint."""
    moments = scene.elastic.played(attachment.start)
    at = played([moments[0] if moments else attachment.start])
    shown = {one.figure.id: one for one in frames_of(scene, material, at)}

    def frames(name: str) -> FigureFrames:
        return shown[name]

    now = carrying(scene, material, member, at, lambda name: frames(name).placed)
    on = ridden(scene, material, attachment, at, lambda name: frames(name).placed)
    kept = on.inverse().after(now)
    if not keeps_offset:
        # Where its root is, seen from what carries it, is taken back.
        root = now.inverse().after(Rigid(now.turn, frames(member.id).placed.positions[:, 0]))
        kept = Rigid(kept.turn, -rotation.rotate(kept.turn, root.move))
    turn = rotation.normalise(kept.turn)[0]
    return attachment.model_copy(
        update={
            "offset": tuple(float(value) for value in kept.move[0]),
            "turn": tuple(float(value) for value in turn),
        }
    )


def _find(scene: Scene, figure: str, attachment: str) -> tuple[SceneFigure, Attachment]:
    member = scene.figure(figure)
    for own in member.attachments:
        if own.id == attachment:
            return member, own
    raise Refusal(f"{member.name} no longer rides there.")


def _set(scene: Scene, edit: SetAttachment, material: Material) -> Edited:
    member, own = _find(scene, edit.figure, edit.attachment)
    start = own.start if edit.start is None else edit.start
    end = own.end if edit.end is None else edit.end
    _in_the_scene(scene, start, end)
    others = tuple(other for other in member.attachments if other.id != own.id)
    changed = own.model_copy(update={"start": start, "end": end})
    done = _with(member.model_copy(update={"attachments": others}), changed)
    return Edited(with_figure(scene, done), f"Set when {member.name} rides")


def _detach(scene: Scene, edit: DetachFigure, material: Material) -> Edited:
    member, own = _find(scene, edit.figure, edit.attachment)
    left = [other for other in member.attachments if other.id != own.id]
    return Edited(with_figure(scene, _in_order(member, left)), f"Let {member.name} off")


RULES: Rules = {AttachFigure: _attach, SetAttachment: _set, DetachFigure: _detach}
