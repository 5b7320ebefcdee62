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
    moved = sorted(motion.moves)
    layout = f"{motion.joints}:{moved}".encode()
    return hashlib.sha256(layout + np.ascontiguousarray(_rows(motion)).tobytes()).hexdigest()


def _rows(motion: Motion) -> npt.NDArray[np.float32]:
    """float32 rows: travel, root move, rotations, moves."""
    return np.concatenate(
        [
            motion.travel,
            motion.root_move,
            motion.rotations.reshape(motion.frames, -1),
            *(motion.moves[joint] for joint in sorted(motion.moves)),
        ],
        axis=1,
    ).astype("<f4")


def store(motion: Motion) -> str:
    """Keep a motion; the same samples are kept once. Returns its name."""
    name, rows, moved = name_of(motion), _rows(motion), sorted(motion.moves)
    with transaction.atomic():
        block, new = MotionBlock.objects.get_or_create(
            sha256=name,
            defaults={"frames": motion.frames, "joints": motion.joints, "moved_joints": moved},
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
    return Motion(
        by_runs(rows[:, :3]),
        by_runs(rows[:, 3:6]),
        by_runs(rotations),
        {
            joint: by_runs(rows[:, turned + 3 * place : turned + 3 * place + 3])
            for place, joint in enumerate(block.moved_joints)
        },
    )
