"""Motion in and out of the database, in chunks of 1,024 frames; a long one is read by window."""

import hashlib
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from uuid import uuid4

import numpy as np
import numpy.typing as npt
from django.db import transaction

from documents.memory import memory
from elastic_core.arrays import Array, Index, by_runs
from elastic_core.motion import Motion, Samples

from .models import MotionBlock, MotionChunk

CHUNK_FRAMES = 1024
# A motion up to this size is taken whole; of a longer one only what is wanted is read.
WHOLE_BYTES = 8 << 20
# So many chunks are held at a time while one is gathered.
_CHUNKS_AT_ONCE = 16
Rows = npt.NDArray[np.float32]


@dataclass(frozen=True)
class Layout:
    """What the columns of a motion's rows are: travel, root move, rotations, moves, scales."""

    joints: int
    moved: tuple[int, ...]
    scaled: tuple[int, ...]

    @classmethod
    def of(cls, motion: Samples) -> "Layout":
        return cls(
            motion.joints,
            tuple(sorted(motion.moved_joints)),
            tuple(sorted(motion.scaled_joints)),
        )

    @property
    def columns(self) -> int:
        return 6 + 4 * self.joints + 3 * (len(self.moved) + len(self.scaled))

    @property
    def name(self) -> bytes:
        """What it adds to the name that a motion is kept under."""
        return f"{self.joints}:{list(self.moved)}{list(self.scaled) or ''}".encode()

    def rows(self, motion: Motion) -> Rows:
        """A motion's rows, as they are kept."""
        columns = [
            motion.travel,
            motion.root_move,
            motion.rotations.reshape(motion.frames, -1),
            *(motion.moves[joint] for joint in self.moved),
            *(motion.scales[joint] for joint in self.scaled),
        ]
        return np.ascontiguousarray(np.concatenate(columns, axis=1).astype("<f4"))

    def motion(self, rows: Rows) -> Motion:
        """Rows as motion in float64: the kept numbers as they are, so that they keep their name."""
        turned = 6 + 4 * self.joints
        threes = [by_runs(rows[:, start : start + 3]) for start in range(turned, self.columns, 3)]
        return Motion(
            by_runs(rows[:, :3]),
            by_runs(rows[:, 3:6]),
            by_runs(rows[:, 6:turned].reshape(len(rows), self.joints, 4)),
            dict(zip(self.moved, threes[: len(self.moved)], strict=True)),
            dict(zip(self.scaled, threes[len(self.moved) :], strict=True)),
        )


@dataclass(frozen=True, eq=False)
class KeptMotion:
    """A motion that stays in the database: its frames are read by window."""

    name: str
    frames: int
    layout: Layout

    @property
    def joints(self) -> int:
        return self.layout.joints

    @cached_property
    def moved_joints(self) -> frozenset[int]:
        return frozenset(self.layout.moved)

    @cached_property
    def scaled_joints(self) -> frozenset[int]:
        return frozenset(self.layout.scaled)

    def at(self, index: Index) -> Motion:
        """The poses at these frames."""
        return self.layout.motion(self._rows(index, self.layout.columns))

    def travel_at(self, index: Index) -> Array:
        """Only the travel at these frames. [n, 3]."""
        return by_runs(self._rows(index, 3))

    def whole(self) -> Motion:
        """All of them at hand."""
        return self.at(np.arange(self.frames))

    def windows(self) -> Iterator[Motion]:
        """All of them, one chunk after another."""
        for start in range(0, self.frames, CHUNK_FRAMES):
            yield self.at(np.arange(start, min(start + CHUNK_FRAMES, self.frames)))

    def _rows(self, index: Index, columns: int) -> Rows:
        frames = np.clip(index, 0, self.frames - 1)
        rows: Rows = np.empty((len(frames), columns), dtype="<f4")
        numbers = frames // CHUNK_FRAMES
        wanted = np.unique(numbers)
        for first in range(0, len(wanted), _CHUNKS_AT_ONCE):
            few = wanted[first : first + _CHUNKS_AT_ONCE]
            for number, chunk in self._chunks([int(number) for number in few]):
                here = np.flatnonzero(numbers == number)
                rows[here] = chunk[frames[here] - number * CHUNK_FRAMES, :columns]
        return rows

    def _chunks(self, numbers: list[int]) -> Iterator[tuple[int, Rows]]:
        found = {number: memory.get(("motion", self.name, number)) for number in numbers}
        missing = [number for number, chunk in found.items() if chunk is None]
        if missing:
            kept = MotionChunk.objects.filter(block=self.name, number__in=missing)
            for number, data in kept.values_list("number", "data"):
                chunk = np.frombuffer(data, dtype="<f4").reshape(-1, self.layout.columns)
                memory.put(("motion", self.name, number), chunk, chunk.nbytes)
                found[number] = chunk
        yield from found.items()


def name_of(motion: Samples) -> str:
    """The name that a motion is kept under: the hash of its layout and its samples."""
    if isinstance(motion, KeptMotion):
        return motion.name
    layout = Layout.of(motion)
    return hashlib.sha256(layout.name + layout.rows(motion.whole()).tobytes()).hexdigest()


def store(motion: Samples) -> str:
    """Keep a motion; the same samples are kept once. Returns its name."""
    if isinstance(motion, KeptMotion):
        return motion.name
    name = name_of(motion)
    if MotionBlock.objects.filter(pk=name).exists():
        return name
    with transaction.atomic():
        return store_windows([motion.whole()], uuid4().hex)


def store_windows(
    windows: Iterable[Motion], under: str, progress: Callable[[int], None] = lambda frames: None
) -> str:
    """Keep a motion that comes a window at a time, and return its name; `progress` hears the frames
    that are kept. Until all of it is here it lies under a name of its own: what an attempt that was
    broken off left there is thrown away first.
    """
    forget_windows(under)
    block: MotionBlock | None = None
    digest, waiting, frames, chunks = hashlib.sha256(), bytearray(), 0, 0
    layout: Layout | None = None
    for window in windows:
        if layout is None or block is None:
            layout = Layout.of(window)
            digest.update(layout.name)
            block = _new_block(_incoming(under), layout, 0)
        rows = layout.rows(window).tobytes()
        digest.update(rows)
        waiting += rows
        frames += window.frames
        size = CHUNK_FRAMES * layout.columns * 4
        while len(waiting) >= size:
            MotionChunk.objects.create(block=block, number=chunks, data=bytes(waiting[:size]))
            del waiting[:size]
            chunks += 1
        progress(frames)
    assert layout is not None
    assert block is not None
    if waiting:
        MotionChunk.objects.create(block=block, number=chunks, data=bytes(waiting))
    name = digest.hexdigest()
    with transaction.atomic():
        if not MotionBlock.objects.filter(pk=name).exists():
            kept = _new_block(name, layout, frames)
            MotionChunk.objects.filter(block=block).update(block=kept)
        forget_windows(under)
    return name


def forget_windows(under: str) -> None:
    """Throw away what lies under a name of its own: of a motion that will not be finished."""
    MotionChunk.objects.filter(block=_incoming(under)).delete()
    MotionBlock.objects.filter(pk=_incoming(under)).delete()


def _incoming(under: str) -> str:
    return f"in:{under}"


def _new_block(name: str, layout: Layout, frames: int) -> MotionBlock:
    return MotionBlock.objects.create(
        sha256=name,
        frames=frames,
        joints=layout.joints,
        moved_joints=list(layout.moved),
        scaled_joints=list(layout.scaled),
    )


def load(name: str) -> Samples:
    """A motion by its name: whole, or to be read by window where it is long."""
    block = MotionBlock.objects.get(pk=name)
    layout = Layout(block.joints, tuple(block.moved_joints), tuple(block.scaled_joints))
    kept = KeptMotion(name, block.frames, layout)
    if block.frames * layout.columns * 4 > WHOLE_BYTES:
        return kept
    data = block.chunks.order_by("number").values_list("data", flat=True)
    rows = np.frombuffer(b"".join(bytes(chunk) for chunk in data), dtype="<f4")
    return layout.motion(rows.reshape(block.frames, -1))
