"""Edits on how much of a stint shows over the lanes below it (rule 5.6)."""

from typing import Annotated, Literal

from pydantic import Field

from ...curve import Curve, Key
from ...errors import Refusal
from ...quantities import MOST_FRAMES, Frame
from ..document import Scene
from ..material import Material
from .base import Edit, Edited, Rules, replaced, stint_name

Weight = Annotated[float, Field(ge=0.0, le=1.0)]
FadeFrames = Annotated[float, Field(ge=0.0, le=MOST_FRAMES)]


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
    name = stint_name(material, stint)
    length = stint.length_frames
    if edit.fade_in + edit.fade_out > length:
        raise Refusal(f"{name} is {length:g} frames long: the fades would overlap.")
    times = {0.0: 0.0 if edit.fade_in else edit.weight}
    times |= {edit.fade_in: edit.weight, length - edit.fade_out: edit.weight}
    if edit.fade_out:
        times[length] = 0.0
    keys = tuple(Key(time=time, value=value) for time, value in sorted(times.items()))
    plain = edit.weight == 1 and not edit.fade_in and not edit.fade_out
    weight = None if plain else Curve(keys=keys)
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
