"""What a capture stage adds of its own: noise, spikes, flips, a floor that is off, drift. Seeded."""

from dataclasses import dataclass, replace

import numpy as np

from ... import rotation
from ...arrays import Array
from ...motion import Motion


@dataclass(frozen=True)
class Uncleanness:
    """Noise in degrees a joint and millimetres at the hips; spikes of so many a thousand samples; the floor's
    tilt in degrees about x and z, and drift in metres a minute."""

    noise_degrees: float = 0.4
    noise_mm: float = 1.5
    spikes_a_thousand: float = 0.4
    tilt_degrees: tuple[float, float] = (0.0, 0.0)
    drift_metres_a_minute: float = 0.0


@dataclass(frozen=True, eq=False)
class Shake:
    """By how much samples are off: turns [frames, joints, 3] as vectors in radians, places [frames, 3]."""

    turns: Array
    places: Array


def uncleaned(motion: Motion, how: Uncleanness, fps: float, seed: int) -> Motion:
    """A motion as a stage would have captured it."""
    shake = shake_of(how, motion.frames, motion.joints, np.random.default_rng(seed))
    position, rotations = shaken(motion, shake, np.arange(motion.frames) / fps, how)
    made = Motion.from_root(position, rotations, motion.moves)
    return replace(made, scales=motion.scales)


def shake_of(how: Uncleanness, count: int, joints: int, chance: np.random.Generator) -> Shake:
    """Noise and spikes for so many frames."""
    turns = np.radians(how.noise_degrees) * chance.standard_normal((count, joints, 3))
    for _ in range(round(how.spikes_a_thousand / 1000 * count * joints)):
        frame, joint = int(chance.integers(2, max(3, count - 4))), int(chance.integers(1, joints))
        length = int(chance.integers(1, 4))
        axis = chance.standard_normal(3)
        # Now and then a joint flips right over.
        degrees = 180.0 if chance.random() < 0.06 else chance.uniform(12, 70)
        turns[frame : frame + length, joint] += np.radians(degrees) * axis / np.linalg.norm(axis)
    return Shake(turns, how.noise_mm / 1000 * chance.standard_normal((count, 3)))


def shaken(motion: Motion, shake: Shake, seconds: Array, how: Uncleanness) -> tuple[Array, Array]:
    """The root's place and all turns in the world of the stage, whose floor is off; seconds [frames] since
    it began to drift. → [frames, 3], [frames, joints, 4]."""
    position, turned = motion.root_in_world()
    rotations = motion.rotations.copy(order="F")
    rotations[:, 0] = turned
    rotations = rotation.multiply(rotations, rotation.from_vector(shake.turns))
    position = position + shake.places
    position[:, 0] += how.drift_metres_a_minute * seconds / 60
    x, z = how.tilt_degrees
    tilt = rotation.from_vector(np.radians(np.array([x, 0.0, z])))
    rotations[:, 0] = rotation.multiply(tilt, rotations[:, 0])
    return rotation.rotate(tilt, position), rotations
