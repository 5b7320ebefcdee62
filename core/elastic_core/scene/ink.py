"""Boiling ink: a figure's outline as if every drawing of it were traced anew (rule 7.4)."""

from typing import Annotated

import numpy as np
from pydantic import Field

from ..arrays import Array
from ..drawings.boil import boiled
from ..exposure import HoldFrames
from ..frozen import Frozen
from ..moments import Played

# So many tracings of one drawing, in turn by chance.
TRACINGS = 5
_HAIR_FRAMES = 1e-6


class InkBoil(Frozen):
    """How far the ink strays, in centimetres of the figure's own, by which seed, and for how many frames each
    tracing stays."""

    amount_cm: Annotated[float, Field(gt=0.0, le=20.0)] = 0.6
    seed: Annotated[int, Field(ge=0, le=999_999)] = 1
    on: HoldFrames = 2


def ink_frames(ink: InkBoil | None, at: Played) -> Array:
    """How far the ink strays at these played frames, in metres, and the number of the tracing, from 1; zeros
    without. [n, 2]"""
    rows = np.zeros((len(at), 2))
    if ink is None:
        return rows
    held = np.floor((np.asarray(at) + _HAIR_FRAMES) / ink.on).astype(np.intp)
    rounds, within = np.divmod(held, TRACINGS)
    rows[:, 0] = ink.amount_cm / 100
    for number in np.unique(rounds):
        here = rounds == number
        order = np.array(boiled(TRACINGS, int(number), ink.seed))
        # Another seed has tracings of its own.
        rows[here, 1] = 1 + ink.seed % 1_000 * TRACINGS + order[within[here]]
    return rows
