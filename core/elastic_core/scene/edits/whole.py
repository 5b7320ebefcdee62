"""Edits on the scene as a whole."""

from typing import Literal

from pydantic import Field

from ...clip import Material
from ..document import Backdrop, Scene
from .base import Edit, Edited, Name, Rules, checked


class SetLength(Edit):
    """How many frames the scene has."""

    kind: Literal["set_length"] = "set_length"
    length_frames: int = Field(ge=1)


class RenameScene(Edit):
    kind: Literal["rename_scene"] = "rename_scene"
    name: Name


class SetBackdrop(Edit):
    kind: Literal["set_backdrop"] = "set_backdrop"
    backdrop: Backdrop


def _set_length(scene: Scene, edit: SetLength, material: Material) -> Edited:
    resized = checked(scene.model_copy(update={"length_frames": edit.length_frames}))
    return Edited(resized, f"Set the length to {edit.length_frames} frames")


def _rename(scene: Scene, edit: RenameScene, material: Material) -> Edited:
    return Edited(scene.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _set_backdrop(scene: Scene, edit: SetBackdrop, material: Material) -> Edited:
    says = {"paper": "on blank paper", "quay": "on the quay"}[edit.backdrop]
    return Edited(scene.model_copy(update={"backdrop": edit.backdrop}), f"Play {says}")


RULES: Rules = {SetLength: _set_length, RenameScene: _rename, SetBackdrop: _set_backdrop}
