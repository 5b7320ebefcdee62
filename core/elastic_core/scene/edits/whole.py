"""Edits on the scene as a whole."""

from typing import Literal

from pydantic import Field

from ...errors import Refusal
from ...names import Name
from ..cast import ClipSource
from ..document import LONGEST_SCENE_FRAMES, Backdrop, Scene
from ..material import Material
from .base import Edit, Edited, Rules, unheard


class SetLength(Edit):
    """How long the time is that the scene's lanes are laid on."""

    kind: Literal["set_length"] = "set_length"
    laid_frames: int = Field(ge=1, le=LONGEST_SCENE_FRAMES)


class RenameScene(Edit):
    kind: Literal["rename_scene"] = "rename_scene"
    name: Name


class SetBackdrop(Edit):
    kind: Literal["set_backdrop"] = "set_backdrop"
    backdrop: Backdrop


class SwapClip(Edit):
    """All stints of one clip play another one: a copy that only this scene changes."""

    kind: Literal["swap_clip"] = "swap_clip"
    clip: str
    by: str


def _set_length(scene: Scene, edit: SetLength, material: Material) -> Edited:
    resized = scene.with_laid_frames(edit.laid_frames)
    label = f"Set the length to {edit.laid_frames} frames"
    return Edited(resized, label, unheard(resized))


def _rename(scene: Scene, edit: RenameScene, material: Material) -> Edited:
    return Edited(scene.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _set_backdrop(scene: Scene, edit: SetBackdrop, material: Material) -> Edited:
    says = {"paper": "on blank paper", "quay": "on the quay"}[edit.backdrop]
    return Edited(scene.model_copy(update={"backdrop": edit.backdrop}), f"Play {says}")


def _swap_clip(scene: Scene, edit: SwapClip, material: Material) -> Edited:
    source, by = ClipSource(id=edit.clip), ClipSource(id=edit.by)
    was, new = material.performance(source), material.performance(by)
    if source not in scene.sources:
        raise Refusal(f"{was.name} is no longer in the scene.")
    if (was.figure, was.is_cycle) != (new.figure, new.is_cycle):
        raise Refusal(f"{new.name} cannot stand in for {was.name}: it is another kind of clip.")
    if not new.is_cycle and new.length_frames < was.length_frames:
        raise Refusal(f"{new.name} is shorter than {was.name}, so it cannot stand in for it.")
    lanes = tuple(
        lane.model_copy(
            update={
                "stints": tuple(
                    stint.model_copy(update={"source": by}) if stint.source == source else stint
                    for stint in lane.stints
                )
            }
        )
        for lane in scene.lanes
    )
    label = f"Play {new.name} for {was.name}"
    return Edited(scene.model_copy(update={"lanes": lanes}), label)


RULES: Rules = {
    SetLength: _set_length,
    RenameScene: _rename,
    SetBackdrop: _set_backdrop,
    SwapClip: _swap_clip,
}
