"""Array types, and the memory order that keeps evaluation fast.

Motion arrays are indexed [frames, joints, components] and laid out in Fortran order, so that each
component of each joint is one contiguous run of frames. Every rule below then works on whole runs.
"""

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
Index = NDArray[np.intp]


def real(values: ArrayLike) -> Array:
    """Float64, in the memory order it came in."""
    return np.asarray(values, dtype=np.float64)


def by_runs(values: ArrayLike) -> Array:
    """Float64 in Fortran order: one contiguous run of frames per joint and component."""
    return np.asfortranarray(values, dtype=np.float64)


def at_frames(values: Array, index: Index) -> Array:
    """`values[index]` along the first axis, kept in Fortran order. Indices must be in range."""
    gathered: Array = np.take(values.T, index, axis=-1, mode="clip")
    return gathered.T


def runs(flags: "np.ndarray[tuple[int], np.dtype[np.bool_]]") -> list[tuple[int, int]]:
    """Runs of true, half open."""
    edges = np.flatnonzero(np.diff(flags, prepend=False, append=False)).reshape(-1, 2)
    return [(int(start), int(end)) for start, end in edges]
