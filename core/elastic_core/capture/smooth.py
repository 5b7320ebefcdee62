"""Noise smoothed away without lag (rule 6.2)."""

from collections.abc import Collection
from dataclasses import replace
from fractions import Fraction
from functools import partial

import numpy as np
from scipy.signal import butter, sosfiltfilt

from .. import rotation
from ..anatomy import known_joints
from ..arrays import Array, by_runs
from ..figure import Figure
from ..motion import Motion
from .mixing import Mix, by_blocks, mixed_quaternions

_ORDER = 4
# Run forward and backward a filter takes twice as much: so its own cut-off lies higher for the pair to be
# 3 dB down at the one that is named.
_TWICE = float((np.sqrt(2) - 1) ** (1 / (2 * _ORDER)))
# A cut-off this near to what the rate can carry leaves nothing to be taken out.
_HIGHEST_SHARE = 0.95
_ENDS = ("foot", "toe", "hand")
_LIMBS = ("thigh", "shin", "upper arm", "forearm", *_ENDS)
LEAST_FRAMES = 5


def limb_joints(figure: Figure) -> frozenset[int]:
    """Hands and feet, what hangs on them, and the arms and legs that carry them."""
    return figure.once("joints of limbs", lambda: _limb_joints(figure))


def _limb_joints(figure: Figure) -> frozenset[int]:
    known = known_joints(figure)
    found = {place for place, joint in known.items() if joint.part in _LIMBS}
    ends = {place for place, joint in known.items() if joint.part in _ENDS}
    for place, parent in enumerate(figure.parents):
        if parent in ends:
            ends.add(place)
    return frozenset(found | ends)


def smoothed(
    figure: Figure,
    motion: Motion,
    rate: Fraction,
    hz: float,
    limbs_hz: float | None = None,
    joints: Collection[int] | None = None,
) -> Motion:
    """What moves faster than a cut-off taken out of turns and of the root's path. 3 dB are gone at `hz`.

    Arms and legs have a cut-off of their own, so that hands and feet keep what they do. With `joints` only
    those are smoothed. The root's path goes with the root.
    """
    every = range(motion.joints) if joints is None else sorted(set(joints))
    limbs = limb_joints(figure) if limbs_hz is not None else frozenset()
    rotations: Array = np.empty(motion.rotations.shape, order="F")
    position, turned = motion.root_in_world()
    untouched = set(range(motion.joints))
    for own_hz, chosen in (
        (hz, [place for place in every if place not in limbs]),
        (limbs_hz or hz, [place for place in every if place in limbs]),
    ):
        if not _takes_out(motion.frames, rate, own_hz):
            continue
        slow = partial(low_pass, rate=rate, hz=own_hz)

        def work(places: list[int], turns: Array, slow: Mix = slow) -> None:
            rotations[:, places] = mixed_quaternions(turns, slow)

        by_blocks(motion, chosen, work)
        untouched -= set(chosen)
    for place in untouched:
        rotations[:, place] = turned if place == 0 else motion.rotations[:, place]
    moves = dict(motion.moves)
    if _takes_out(motion.frames, rate, hz):
        if 0 in every:
            position = low_pass(position, rate, hz)
        for place in set(every) & set(moves):
            moves[place] = low_pass(moves[place], rate, hz)
    made = Motion.from_root(by_runs(position), rotations, moves, given_away=True)
    return replace(made, scales=motion.scales)


def _takes_out(frames: int, rate: Fraction, hz: float) -> bool:
    return frames >= LEAST_FRAMES and hz < _HIGHEST_SHARE * float(rate) / 2


def low_pass(rows: Array, rate: Fraction, hz: float) -> Array:
    """Rows of numbers without what is faster than a cut-off, forwards and backwards: no phase is left.
    [n, numbers] → [n, numbers]. S. Butterworth, "On the theory of filter amplifiers" (1930)."""
    nyquist = float(rate) / 2
    sections = butter(_ORDER, min(hz / _TWICE, 0.99 * nyquist), fs=float(rate), output="sos")
    # Long enough at both ends for the slowest of what is kept to settle.
    pad = int(min(len(rows) - 1, np.ceil(3 * float(rate) / hz)))
    filtered: Array = sosfiltfilt(sections, rows.T, axis=-1, padlen=pad)
    return filtered.T


def roughness_degrees(rotations: Array) -> float:
    """How much turns shake from frame to frame: the median over frames and joints of what each differs by
    from the middle of its neighbours. [n, joints, 4]."""
    if len(rotations) < 3:
        return 0.0
    middle = rotation.slerp(rotations[:-2], rotations[2:], np.array(0.5))
    return float(np.degrees(np.median(rotation.angle_between(middle, rotations[1:-1]))))
