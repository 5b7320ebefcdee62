"""Edits on a scene's beats."""

from ...beats import AddBeat, RemoveBeat, SetBeat, edited
from ..document import Scene
from ..material import Material
from .base import Edited, Rules


def _edit(scene: Scene, edit: AddBeat | SetBeat | RemoveBeat, material: Material) -> Edited:
    beats, label = edited(scene.beats, edit, scene.laid_frames, "the scene")
    return Edited(scene.model_copy(update={"beats": beats}), label)


RULES: Rules = {AddBeat: _edit, SetBeat: _edit, RemoveBeat: _edit}
