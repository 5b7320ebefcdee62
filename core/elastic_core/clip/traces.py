"""Curves to look at: values and rates of change, a few a frame, beyond both ends too."""

from collections.abc import Sequence

import numpy as np

from ..channels import Unit, channel
from ..errors import Refusal
from ..frozen import Frozen
from .edits.base import Made

STEPS_A_FRAME = 4
MOST_STEPS = 40_000


class Trace(Frozen):
    """One channel over `[start, end]` frames, `steps_a_frame` values a frame."""

    channel: str
    unit: Unit
    start: float
    steps_a_frame: int
    values: list[float]
    rates: list[float]


def traces_of(made: Made, channels: Sequence[str], start: float, end: float) -> list[Trace]:
    """The asked curves as they play. Raises Refusal for more than can be drawn at once."""
    steps = round((end - start) * STEPS_A_FRAME) + 1
    if not 2 <= steps * max(1, len(channels)) <= MOST_STEPS:
        raise Refusal("Ask for fewer curves, or over fewer frames.")
    times = start + np.arange(steps) / STEPS_A_FRAME
    curves = made.curves
    return [
        Trace(
            channel=name,
            unit=channel(name).unit,
            start=start,
            steps_a_frame=STEPS_A_FRAME,
            values=curves[name].values(times).tolist(),
            rates=curves[name].rate_of_change(times).tolist(),
        )
        for name in channels
        if name in curves
    ]
