"""Boiling: drawings in a random order that never shows one twice running and uses all alike (rule 7.4).

Each round is a shuffle of all of them (R. Durstenfeld, 1964, “Algorithm 235: Random permutation”) by numbers
that are the same on every machine (M. O'Neill, 2014, PCG64 as NumPy has it). A round that would begin with the
drawing that ended the one before begins with its second one.
"""

from functools import lru_cache

import numpy as np

# With two drawings there is only one order: they take turns.
_TAKE_TURNS = 2


@lru_cache(maxsize=4_096)
def boiled(count: int, round_number: int, seed: int) -> tuple[int, ...]:
    """The order of `count` drawings in a round: their places. Any round is known by itself."""
    if count <= _TAKE_TURNS:
        return tuple(range(count))
    order = _shuffled(count, round_number, seed)
    # Swapping its first two leaves its last one, so no round hangs on those before the one before it.
    if _last(count, round_number - 1, seed) == order[0]:
        order[0], order[1] = order[1], order[0]
    return tuple(order)


def _last(count: int, round_number: int, seed: int) -> int:
    return _shuffled(count, round_number, seed)[-1]


def _shuffled(count: int, round_number: int, seed: int) -> list[int]:
    side = 0 if round_number >= 0 else 1
    chance = np.random.Generator(np.random.PCG64([seed, side, abs(round_number)]))
    order: list[int] = list(range(count))
    for last in range(count - 1, 0, -1):
        other = int(chance.integers(0, last + 1))
        order[last], order[other] = order[other], order[last]
    return order
