"""Motion in and out of the database."""

import hashlib

import numpy as np
import numpy.typing as npt
from django.db import transaction

from elastic_core.arrays import by_runs
from elastic_core.motion import Motion

from .models import MotionBlock, MotionChunk

CHUNK_FRAMES = 1024


def name_of(motion: Motion) -> str:
    """The name that a motion is kept under: the hash of its layout and its samples."""
    moved, scaled = sorted(motion.moves), sorted(motion.scales)
    layout = f"{motion.joints}:{moved}{scaled or ''}".encode()
    return hashlib.sha256(layout + np.ascontiguousarray(_rows(motion)).tobytes()).hexdigest()


def _rows(motion: Motion) -> npt.NDArray[np.float32]:
    """float32 rows: travel, root move, rotations, moves, scales."""
    return np.concatenate(
        [
            motion.travel,
            motion.root_move,
            motion.rotations.reshape(motion.frames, -1),
            *(motion.moves[joint] for joint in sorted(motion.moves)),
            *(motion.scales[joint] for joint in sorted(motion.scales)),
        ],
        axis=1,
    ).astype("<f4")


def store(motion: Motion) -> str:
    """Keep a motion; the same samples are kept once. Returns its name."""
    name, rows = name_of(motion), _rows(motion)
    with transaction.atomic():
        block, new = MotionBlock.objects.get_or_create(
            sha256=name,
            defaults={
                "frames": motion.frames,
                "joints": motion.joints,
                "moved_joints": sorted(motion.moves),
                "scaled_joints": sorted(motion.scales),
            },
        )
        if new:
            MotionChunk.objects.bulk_create(
                MotionChunk(
                    block=block,
                    number=start // CHUNK_FRAMES,
                    data=np.ascontiguousarray(rows[start : start + CHUNK_FRAMES]).tobytes(),
                )
                for start in range(0, motion.frames, CHUNK_FRAMES)
            )
    return name


def load(name: str) -> Motion:
    """A motion by its name, in float64: the kept numbers as they are, so that they keep their name."""
    block = MotionBlock.objects.get(pk=name)
    data = b"".join(
        bytes(chunk) for chunk in block.chunks.order_by("number").values_list("data", flat=True)
    )
    rows = np.frombuffer(data, dtype="<f4").astype(np.float64).reshape(block.frames, -1)
    turned = 6 + 4 * block.joints
    rotations = rows[:, 6:turned].reshape(block.frames, block.joints, 4)
    threes = [by_runs(rows[:, start : start + 3]) for start in range(turned, rows.shape[1], 3)]
    moved = len(block.moved_joints)
    return Motion(
        by_runs(rows[:, :3]),
        by_runs(rows[:, 3:6]),
        by_runs(rotations),
        dict(zip(block.moved_joints, threes[:moved], strict=True)),
        dict(zip(block.scaled_joints, threes[moved:], strict=True)),
    )
