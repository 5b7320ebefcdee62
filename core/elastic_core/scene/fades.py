"""Fades: a weight that comes in over some frames, stands, and goes out over some (rule 5.6)."""

from typing import Annotated

from pydantic import Field

from ..curve import Curve, Key
from ..errors import Refusal
from ..frozen import Frozen
from ..quantities import MOST_FRAMES

Weight = Annotated[float, Field(ge=0.0, le=1.0)]
FadeFrames = Annotated[float, Field(ge=0.0, le=MOST_FRAMES)]


class Fades(Frozen):
    """Frames to come in and to go out over, and the weight between."""

    fade_in: FadeFrames = 0.0
    fade_out: FadeFrames = 0.0
    weight: Weight = 1.0


def weight_curve(fades: Fades, length_frames: float, name: str = "It") -> Curve | None:
    """The keys of fades over so many frames; none where all of it shows all the time.

    Raises Refusal for fades that are longer than that together.
    """
    if fades.fade_in + fades.fade_out > length_frames:
        raise Refusal(f"{name} is {length_frames:g} frames long: the fades would overlap.")
    if fades.weight == 1 and not fades.fade_in and not fades.fade_out:
        return None
    times = {0.0: 0.0 if fades.fade_in else fades.weight}
    times |= {fades.fade_in: fades.weight, length_frames - fades.fade_out: fades.weight}
    if fades.fade_out:
        times[length_frames] = 0.0
    return Curve(keys=tuple(Key(time=time, value=value) for time, value in sorted(times.items())))


def fades_of(weight: Curve | None, length_frames: float) -> Fades | None:
    """The fades that a weight comes to over so many frames; none where it has other keys."""
    if weight is None:
        return Fades()
    times, values = weight.times, weight.values_of_keys
    most = float(values.max())
    fades = len(times) > 1 and most > 0
    fade_in = float(times[1]) if fades and values[0] == 0 else 0.0
    fade_out = length_frames - float(times[-2]) if fades and values[-1] == 0 else 0.0
    if most > 1 or min(fade_in, fade_out) < 0 or fade_in + fade_out > length_frames:
        return None
    found = Fades(fade_in=fade_in, fade_out=fade_out, weight=most)
    return found if weight_curve(found, length_frames) == weight else None
