"""Edits on how much of a stint shows over the lanes below it (rule 5.6)."""

from typing import Literal

from ...curve import Curve, Key
from ...errors import Refusal
from ...quantities import Frame
from ..document import Scene
from ..fades import FadeFrames, Fades, Weight, weight_curve
from ..material import Material
from .base import Edit, Edited, Rules, replaced, stint_name


class FadeStint(Edit):
    """Let a stint come in and go out over so many frames, with one weight between."""

    kind: Literal["fade_stint"] = "fade_stint"
    stint: str
    fade_in: FadeFrames = 0.0
    fade_out: FadeFrames = 0.0
    weight: Weight = 1.0


class KeyWeight(Edit):
    """Key a stint's weight at a frame of the scene; without one take the key there away."""

    kind: Literal["key_weight"] = "key_weight"
    stint: str
    frame: Frame
    weight: Weight | None = None


def _fade(scene: Scene, edit: FadeStint, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    fades = Fades(fade_in=edit.fade_in, fade_out=edit.fade_out, weight=edit.weight)
    name = stint_name(material, stint)
    weight = weight_curve(fades, stint.length_frames, name)
    faded = stint.model_copy(update={"weight": weight})
    return Edited(replaced(scene, lane, faded, material), f"Fade {name}")


def _key(scene: Scene, edit: KeyWeight, material: Material) -> Edited:
    lane, stint = scene.find(edit.stint)
    name = stint_name(material, stint)
    if not stint.start <= edit.frame <= stint.end:
        raise Refusal(f"{name} does not play at that frame.")
    time = edit.frame - stint.start
    if edit.weight is None:
        if stint.weight is None or stint.weight.place_of(time) is None:
            raise Refusal(f"{name} has no key of its weight there.")
        place = stint.weight.place_of(time)
        left = stint.weight.without(frozenset() if place is None else frozenset({place}))
        keyed = stint.model_copy(update={"weight": left})
        return Edited(replaced(scene, lane, keyed, material), f"Delete a weight key of {name}")
    curve = stint.weight or Curve(keys=(Key(time=time, value=edit.weight),))
    keyed = stint.model_copy(update={"weight": curve.with_value(time, edit.weight)})
    label = f"Weight of {name} {round(100 * edit.weight)} %"
    return Edited(replaced(scene, lane, keyed, material), label)


RULES: Rules = {FadeStint: _fade, KeyWeight: _key}
