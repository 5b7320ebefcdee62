"""Whether motion that comes in is a take to be cleaned, rather than a clip as it is."""

from ..clock import Rate
from ..figure import Figure
from ..motion import Motion
from .mend import find_spikes

LONG_SECONDS, FAST_FPS = 10.0, 60


def why_a_take(figure: Figure, start: Motion, rate: Rate, length_seconds: float) -> tuple[str, ...]:
    """What speaks for a take: its length, its rate, spikes in its first frames. Nothing does for a clip."""
    reasons: list[str] = []
    if length_seconds > LONG_SECONDS:
        reasons.append(f"it is {length_seconds:.0f} s long")
    if rate > FAST_FPS:
        reasons.append(f"it has {float(rate):g} frames a second")
    if spikes := len(find_spikes(figure, start, rate)):
        reasons.append(f"{spikes} spikes are in it" if spikes > 1 else "a spike is in it")
    return tuple(reasons)
