"""Where joints are, frame by frame, as a table that every tool reads (RFC 4180)."""

import csv
import io
from collections.abc import Sequence
from fractions import Fraction

from ..arrays import Array


def places_csv(names: Sequence[str], positions: Array, rate: Fraction, first_frame: int = 0) -> str:
    """A row for each frame: its number, its seconds from the first, and x, y, z of each joint, y up, in what
    the positions are counted in. `positions`: [frames, joints, 3]."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["frame", "seconds", *(f"{name} {axis}" for name in names for axis in "xyz")])
    for place, row in enumerate(positions.reshape(len(positions), -1)):
        seconds = f"{place / float(rate):.6f}"
        table.writerow([first_frame + place, seconds, *(f"{value:.6f}" for value in row)])
    return out.getvalue()
