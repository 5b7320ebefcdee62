"""What moves one of a node's three in glTF 2.0, read at any moment (3.11 and appendix C)."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from .. import rotation
from ..arrays import Array

# What is shorter turns nothing anywhere.
LEAST_TURN = 1e-9


@dataclass(frozen=True, eq=False)
class Track:
    """Keys at their moments, and their values, of a kind of span; turns are w, x, y, z. Of CUBICSPLINE each key
    has three rows: the slope that arrives, the value, the slope that leaves."""

    node: int
    path: str
    seconds: Array
    values: Array
    spans: str

    def at(self, moments: Array) -> Array:
        """Its values at these moments; before the first key and after the last as there (3.11)."""
        if self.spans == "CUBICSPLINE":
            return self._eased(moments)
        if len(self.seconds) == 1:
            return np.repeat(self.values, len(moments), axis=0)
        low = np.clip(
            np.searchsorted(self.seconds, moments, side="right") - 1, 0, len(self.seconds) - 1
        )
        if self.spans == "STEP":
            stepped: Array = self.values[low]
            return stepped
        low = np.minimum(low, len(self.seconds) - 2)
        share = _share(self.seconds, low, moments)
        a, b = self.values[low], self.values[low + 1]
        if self.path == "rotation":
            return rotation.slerp(a, b, share)
        straight: Array = a + (b - a) * share[:, None]
        return straight

    def _eased(self, moments: Array) -> Array:
        """Cubic Hermite spans; a key has its arriving slope, its value and its leaving slope (appendix C)."""
        keys = self.values.reshape(len(self.seconds), 3, -1)
        if len(self.seconds) == 1:
            found = np.repeat(keys[:, 1], len(moments), axis=0)
        else:
            low = np.searchsorted(self.seconds, moments, side="right") - 1
            low = np.clip(low, 0, len(self.seconds) - 2)
            t = _share(self.seconds, low, moments)[:, None]
            span = (self.seconds[low + 1] - self.seconds[low])[:, None]
            found = (
                (2 * t**3 - 3 * t**2 + 1) * keys[low, 1]
                + span * (t**3 - 2 * t**2 + t) * keys[low, 2]
                + (3 * t**2 - 2 * t**3) * keys[low + 1, 1]
                + span * (t**3 - t**2) * keys[low + 1, 0]
            )
        if self.path != "rotation":
            return found
        # On its way from a turn to its opposite a spline may pass through none.
        is_none = np.linalg.norm(found, axis=-1) < LEAST_TURN
        found[is_none] = keys[0, 1]
        return rotation.normalise(found)


def _share(seconds: Array, low: Any, moments: Array) -> Array:
    span = np.maximum(seconds[low + 1] - seconds[low], 1e-12)
    share: Array = np.clip((moments - seconds[low]) / span, 0.0, 1.0)
    return share
