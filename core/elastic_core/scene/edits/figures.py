"""Edits on the figures of a scene: who is on the stage, and where each starts."""

from typing import Annotated, Literal, TypeVar

import numpy as np
from pydantic import Field

from ...clip.document import GroundTuple
from ...curve import Curve, Key
from ...errors import Refusal
from ...names import Name
from ...quantities import Frame
from ...saying import counted
from ..cast import BodyTarget, ClipSource
from ..document import (
    LEAST_SIZE,
    MOST_SIZE,
    Lane,
    Layer,
    RestPose,
    Scene,
    SceneFigure,
    Size,
)
from ..fitting import with_fit
from ..ink import InkBoil
from ..material import Material
from .base import Edit, Edited, Rules, replaced, stint_name

STEP_APART_METRES = 1.2
Rider = TypeVar("Rider", SceneFigure, Layer)


class AddFigure(Edit):
    """Bring a figure on, with a lane and no stint; it stands at rest on its mark."""

    kind: Literal["add_figure"] = "add_figure"
    figure: str


class BoilInk(Edit):
    """A figure's outline boils, or that of a stint of it; without ink it stands, or goes by the figure's."""

    kind: Literal["boil_ink"] = "boil_ink"
    figure: str | None = None
    stint: str | None = None
    ink: InkBoil | None = None


class RenameFigure(Edit):
    kind: Literal["rename_figure"] = "rename_figure"
    figure: str
    name: Name


class SetMark(Edit):
    """Where a figure starts."""

    kind: Literal["set_mark"] = "set_mark"
    figure: str
    mark: GroundTuple


class KeySize(Edit):
    """Key how large a figure is at a frame of the scene; without a size take the key there away.

    It grows or shrinks about the foot it stands on. Where it was nailed down, and its mark, are by the size
    it begins with.
    """

    kind: Literal["key_size"] = "key_size"
    figure: str
    frame: Frame
    size: Size | None = None


class SetSize(Edit):
    """How large a figure is on the stage, all the time; 1 is as it was made."""

    kind: Literal["set_size"] = "set_size"
    figure: str
    size: Size


class FitClips(Edit):
    """How clips made for another figure play on this one: those of `clip`'s figure, all of them."""

    kind: Literal["fit_clips"] = "fit_clips"
    figure: str
    clip: str
    mapping: Annotated[dict[str, str], Field(max_length=5_000)]


class SetRest(Edit):
    """The pose that a figure stands in where nothing plays: a clip's at a frame, or its own rest pose."""

    kind: Literal["set_rest"] = "set_rest"
    figure: str
    clip: str | None = None
    frame: Frame = 0.0


class RemoveFigure(Edit):
    """Take a figure and its lanes out of the scene."""

    kind: Literal["remove_figure"] = "remove_figure"
    figure: str


def entered(scene: Scene, figure: str, material: Material) -> tuple[Scene, Lane]:
    """The scene with one figure more, and its lane.

    Newcomers stand side by side, a long step apart, so that no two are drawn through each other.
    """
    count = len(scene.figures)
    mark = (STEP_APART_METRES * ((count + 1) // 2) * (-1) ** count, 0.0, 0.0)
    base = material.figure(figure).name
    taken = {member.name for member in scene.figures}
    names = (base if k == 1 else f"{base} {k}" for k in range(1, count + 2))
    member = SceneFigure(
        id=free_id("figure", [other.id for other in scene.figures]),
        name=next(name for name in names if name not in taken),
        figure=figure,
        mark=mark,
    )
    lane = Lane(
        id=free_id("lane", [other.id for other in scene.lanes]),
        name="Body",
        target=BodyTarget(figure=member.id),
    )
    update = {"figures": (*scene.figures, member), "lanes": (*scene.lanes, lane)}
    return scene.model_copy(update=update), lane


def free_id(stem: str, taken: list[str]) -> str:
    """The first of stem-1, stem-2 … that is not taken."""
    return next(name for k in range(len(taken) + 1) if (name := f"{stem}-{k + 1}") not in taken)


def _add(scene: Scene, edit: AddFigure, material: Material) -> Edited:
    with_figure, lane = entered(scene, edit.figure, material)
    return Edited(with_figure, f"Bring on {with_figure.figure(lane.figure).name}")


def _rename(scene: Scene, edit: RenameFigure, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    renamed = member.model_copy(update={"name": edit.name})
    return Edited(with_figure(scene, renamed), f"Call {member.name} {edit.name}")


def _set_mark(scene: Scene, edit: SetMark, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    marked = member.model_copy(update={"mark": edit.mark})
    return Edited(with_figure(scene, marked), f"Set {member.name}’s mark")


def _fit_clips(scene: Scene, edit: FitClips, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    performance = material.performance(ClipSource(id=edit.clip))
    if performance.figure == member.figure:
        raise Refusal(f"“{performance.name}” was made for {member.name}: nothing has to be fitted.")
    fitted = with_fit(member, material, performance, edit.mapping)
    made_for = material.figure(performance.figure).name
    return Edited(with_figure(scene, fitted), f"Fit the clips of {made_for} to {member.name}")


def _set_size(scene: Scene, edit: SetSize, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    sized = member.model_copy(update={"size": edit.size, "sizes": None})
    gone = len(member.sizes) if member.sizes else 0
    notes = (f"{counted(gone, 'key')} of its size went.",) if gone else ()
    return Edited(with_figure(scene, sized), f"{member.name} at {100 * edit.size:.3g} %", notes)


def _key_size(scene: Scene, edit: KeySize, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    if not 0 <= edit.frame <= scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    if edit.size is None:
        place = None if member.sizes is None else member.sizes.place_of(edit.frame)
        if member.sizes is None or place is None:
            raise Refusal(f"{member.name} has no key of its size there.")
        left = member.sizes.without(frozenset({place}))
        return Edited(_sized_by(scene, member, left), f"Delete a size key of {member.name}")
    first = Curve(keys=(Key(time=0.0, value=member.size),))
    keyed = (member.sizes or first).with_value(edit.frame, edit.size)
    label = f"{member.name} at {100 * edit.size:.3g} % at {edit.frame + scene.first_frame:g}"
    return Edited(_sized_by(scene, member, keyed), label)


def _sized_by(scene: Scene, member: SceneFigure, sizes: Curve | None) -> Scene:
    size = member.size if sizes is None else float(sizes.values(np.zeros(1))[0])
    within = float(np.clip(size, LEAST_SIZE, MOST_SIZE))
    return with_figure(scene, member.model_copy(update={"size": within, "sizes": sizes}))


def _set_rest(scene: Scene, edit: SetRest, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    if edit.clip is None:
        rest, says = None, "its own rest pose"
    else:
        body = material.body(ClipSource(id=edit.clip))
        if body.figure != member.figure:
            raise Refusal(f"“{body.name}” was made for another figure.")
        rest, says = RestPose(clip=edit.clip, frame=edit.frame), f"{body.name} {edit.frame:g}"
    resting = member.model_copy(update={"rest": rest})
    return Edited(with_figure(scene, resting), f"{member.name} rests in {says}")


def _remove(scene: Scene, edit: RemoveFigure, material: Material) -> Edited:
    member = scene.figure(edit.figure)
    update = {
        "figures": tuple(
            not_riding_on(other, member.id) for other in scene.figures if other.id != member.id
        ),
        "layers": tuple(not_riding_on(layer, member.id) for layer in scene.layers),
        "lanes": tuple(lane for lane in scene.lanes if lane.figure != member.id),
    }
    return Edited(scene.model_copy(update=update), f"Take {member.name} out")


def not_riding_on(rider: Rider, gone: str) -> Rider:
    """A figure or a layer without its rides on something that goes."""
    left = tuple(ride for ride in rider.attachments if ride.to != gone)
    return rider.model_copy(update={"attachments": left})


def with_figure(scene: Scene, member: SceneFigure) -> Scene:
    """The scene with one of its figures changed."""
    figures = tuple(member if other.id == member.id else other for other in scene.figures)
    return scene.model_copy(update={"figures": figures})


def _boil_ink(scene: Scene, edit: BoilInk, material: Material) -> Edited:
    says = "ink boils" if edit.ink else "ink stands"
    if edit.stint is not None:
        lane, stint = scene.find(edit.stint)
        if lane.target.kind != "body":
            raise Refusal(f"{stint_name(material, stint)} has no ink of its own.")
        changed = stint.model_copy(update={"ink": edit.ink})
        label = f"{stint_name(material, stint)}: {says if edit.ink else 'ink as the figure’s'}"
        return Edited(replaced(scene, lane, changed, material), label)
    member = scene.figure(edit.figure or "")
    done = with_figure(scene, member.model_copy(update={"ink": edit.ink}))
    return Edited(done, f"{member.name}: {says}")


RULES: Rules = {
    BoilInk: _boil_ink,
    AddFigure: _add,
    RenameFigure: _rename,
    SetMark: _set_mark,
    FitClips: _fit_clips,
    SetSize: _set_size,
    KeySize: _key_size,
    SetRest: _set_rest,
    RemoveFigure: _remove,
}
