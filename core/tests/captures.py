"""Captured motion with the truth known: a walk of our own generator, and what was done to it."""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import Array
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import StartWalk
from elastic_core.clip.new import blank
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import playable_of
from elastic_core.cycle.mannequin import mannequin
from elastic_core.cycle.starter import PresetName, preset
from elastic_core.figure import Figure
from elastic_core.moments import source
from elastic_core.motion import Motion

FPS = Fraction(120)
FIGURE: Figure = mannequin()


@lru_cache(maxsize=8)
def gait(name: PresetName = "amble", fps: int = 120, frames_per_step: int = 60) -> PlayableClip:
    """A closed cycle of the house's walk starter."""
    numbers = preset(name, FIGURE).model_copy(update={"frames_per_step": frames_per_step})
    empty = blank(FIGURE, "figure", "walk", Fraction(fps), 24, is_cycle=True)
    made = edit_clip(Made(empty, FIGURE), StartWalk(gait=numbers))
    return playable_of(FIGURE, made.clip)


@lru_cache(maxsize=16)
def walking(
    frames: int, name: PresetName = "amble", fps: int = 120, frames_per_step: int = 60
) -> Motion:
    """So many frames of it, walked on and on."""
    return gait(name, fps, frames_per_step).at(source(np.arange(frames)))


def noisy(motion: Motion, degrees: float, seed: int = 1) -> Motion:
    """Every joint below the root turned by chance, by so many degrees about each axis."""
    chance = np.random.default_rng(seed)
    shake = np.radians(degrees) * chance.standard_normal((*motion.rotations.shape[:2], 3))
    shake[:, 0] = 0.0
    turned = rotation.multiply(motion.rotations, rotation.from_vector(shake))
    return replace(motion, rotations=turned)


@dataclass(frozen=True)
class PutIn:
    """A spike that was put in."""

    frame: int
    end: int
    joint: str
    degrees: float


def spiky(
    motion: Motion, count: int, least: float = 8.0, most: float = 60.0, seed: int = 2
) -> tuple[Motion, list[PutIn]]:
    """So many spikes of one to three samples, none near another of its joint."""
    chance = np.random.default_rng(seed)
    rotations = motion.rotations.copy(order="F")
    taken = np.zeros(rotations.shape[:2], dtype=bool)
    put_in: list[PutIn] = []
    while len(put_in) < count:
        frame = int(chance.integers(2, motion.frames - 6))
        joint = int(chance.integers(1, motion.joints))
        length = int(chance.integers(1, 4))
        if taken[max(0, frame - 6) : frame + length + 6, joint].any():
            continue
        taken[frame : frame + length, joint] = True
        axis = chance.standard_normal(3)
        degrees = float(chance.uniform(least, most))
        off = rotation.from_vector(np.radians(degrees) * axis / np.linalg.norm(axis))
        here = rotations[frame : frame + length, joint]
        rotations[frame : frame + length, joint] = rotation.multiply(here, off)
        put_in.append(PutIn(frame, frame + length, FIGURE.names[joint], degrees))
    return replace(motion, rotations=rotations), put_in


def turned_in_world(motion: Motion, turn: Array, shift: Array) -> Motion:
    """The whole stage tilted and moved."""
    position, root = motion.root_in_world()
    rotations = motion.rotations.copy(order="F")
    rotations[:, 0] = rotation.multiply(turn, root)
    return Motion.from_root(rotation.rotate(turn, position) + shift, rotations, motion.moves)


def errors_degrees(motion: Motion, truth: Motion) -> Array:
    """How far every turn is from the truth, the root's in the world. [frames, joints]."""
    off = np.degrees(rotation.angle_between(motion.rotations, truth.rotations))
    off[:, 0] = np.degrees(
        rotation.angle_between(motion.root_in_world()[1], truth.root_in_world()[1])
    )
    return off
