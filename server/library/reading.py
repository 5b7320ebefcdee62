"""Motion files read: small ones while one waits, large ones by a job, and their rows by window."""

from collections.abc import Callable
from functools import lru_cache, partial
from typing import Any

import numpy as np
from pydantic import BaseModel, TypeAdapter

from accounts.models import Production
from documents.memory import memory
from elastic_core.errors import Refusal
from elastic_core.formats import bvh
from elastic_core.formats.bvh_skeleton import BvhJoint
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import files
from .models import MotionIndex, StoredFile

# A file up to this size is read in less time than it takes to ask a worker.
LIGHT_BYTES = 5 << 20
# Goes up when files are read otherwise.
READER = 1
_JOINTS = TypeAdapter(tuple[BvhJoint, ...])


def stored(production: Production, sha256: str) -> StoredFile:
    """A file of the production. Raises Refusal where there is none of this name."""
    found: StoredFile | None = production.files.filter(sha256=sha256).first()
    if found is None:
        raise Refusal("That file is not here any more; choose it again.")
    return found


def motion_of(file: StoredFile) -> bvh.BvhMotion:
    """What a kept file holds: its rows by window, where they are indexed."""
    index = memory.made(("index", file.pk), lambda: _index_of(file), _weighs_index)
    if index is None:
        return _whole(file.pk)
    return bvh.IndexedBvh(index, partial(files.slices, file))


def _index_of(file: StoredFile) -> bvh.BvhIndex | None:
    kept = MotionIndex.objects.filter(file=file, reader=READER).first()
    if kept is None:
        return None
    starts = np.frombuffer(kept.starts, dtype="<i8").astype(np.intp)
    joints = _JOINTS.validate_python(kept.skeleton)
    return bvh.BvhIndex(joints, kept.frame_time, starts, tuple(kept.warnings))


def _weighs_index(index: bvh.BvhIndex | None) -> int:
    return index.starts.nbytes if index else 0


@lru_cache(maxsize=2)
def _whole(pk: int) -> bvh.BvhFile:
    return bvh.read(files.load(StoredFile.objects.get(pk=pk)))


class ReadMotion(BaseModel):
    """A kept file, by its name, that is to be read."""

    file: str


def read_motion(run: Run, wish: ReadMotion) -> None:
    """Read a kept motion file to its end and note where its rows stand; one that is wrong is refused."""
    kept = stored(run.production, wish.file)
    if (known := _index_of(kept)) is not None:
        with run.closing():
            run.outcome = _read_outcome(wish, known)
        return
    found = bvh.stream(files.pieces_of(kept))
    index = bvh.indexed(found, _told(run, found.declared_frames))
    with run.closing():
        MotionIndex.objects.update_or_create(
            file=kept,
            defaults={
                "reader": READER,
                "skeleton": _JOINTS.dump_python(index.joints, mode="json"),
                "frame_time": index.frame_time,
                "warnings": list(index.warnings),
                "starts": index.starts.astype("<i8").tobytes(),
            },
        )
        run.outcome = _read_outcome(wish, index)


def _read_outcome(wish: ReadMotion, index: bvh.BvhIndex) -> dict[str, Any]:
    return {"file": wish.file, "says": [f"{len(index.starts) - 1:,} frames are read."]}


def _told(run: Run, declared: int) -> Callable[[int], None]:
    return lambda rows: run.progress(rows, max(declared, rows), "frames")


def forget_unread(job: Job, wish: ReadMotion) -> None:
    """A file that could not be read, or is not wanted any more, is not kept."""
    others = job.production.jobs.exclude(pk=job.pk).filter(wish=job.wish, kind=job.kind)
    if job.state in Job.UNDER_WAY or others.filter(state__in=Job.UNDER_WAY).exists():
        return
    unread: Any = job.production.files.filter(sha256=wish.file, motion_index=None)
    unread.delete()


READ_MOTION = JobKind("read motion", ReadMotion, read_motion, forget_unread, READER)
