"""Bringing files in: motion, with a look at it first, and files of our own."""

from pathlib import PurePath
from uuid import UUID, uuid4

import numpy as np
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from accounts.models import Production
from elastic_core.capture.proposing import why_a_take
from elastic_core.clock import format_rate, seconds
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit, retarget
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import inspect
from elastic_core.formats.bvh_motion import (
    figure_from,
    file_from,
    guess_unit,
    motion_from,
    skeleton_from,
)
from elastic_core.formats.gltf_motion import read_gltf
from jobs.asking import ask
from library import files, reading, shelf
from library.bringing_in import BRING_IN, BringIn, bring_in_now, figure_in
from library.kinds import packed_poses
from library.models import StoredFile
from scenes import interchange
from scenes.opening_files import OPEN_FILE, OpenFile

from .access import membership, person
from .doors import MayBringIn
from .fits import fit_view
from .jobs import job_view
from .library import clip_card
from .packs import pack_response
from .schemas import (
    FileOpened,
    FilePosesWanted,
    FileReport,
    FitView,
    FrameNumber,
    Imported,
    ImportWanted,
    JobView,
    UnitMetres,
)

router = Router(tags=["imports"])
LARGEST_GLTF_BYTES = 64 << 20
# So many frames of a file are looked through for spikes.
LOOKED_AT_FRAMES = 1_200
motion_door = MayBringIn(lambda: settings.LARGEST_UPLOAD_BYTES)


@router.post(
    "/{uuid:production_id}/files", auth=motion_door, response={200: FileReport, 202: JobView}
)
def read_file(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> FileReport | Status[JobView]:
    """Read a motion file and say what it is; a large one by a job. What cannot be read is not kept."""
    member = membership(request, production_id, to_change=True)
    size_bytes = motion_door.taken(upload).size or 0
    production, name = member.production, upload.name or "motion.bvh"
    if size_bytes > reading.LIGHT_BYTES:
        bvh.refuse_other_kinds(_start_of(upload))
        kept = files.store_pieces(production, name, upload.chunks)
        wish = reading.ReadMotion(file=kept.sha256)
        return Status(
            202, job_view(ask(reading.READ_MOTION, production, person(request), name, wish))
        )
    data = upload.read()
    read = bvh.read(data)
    return _report(production, files.store(production, name, data), read, 0, read.frames)


@router.post("/{uuid:production_id}/gltf-files", auth=motion_door, response={200: list[FileReport]})
def read_gltf_file(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> list[FileReport]:
    """Read a glTF file and say what its clips are. Each is kept as a motion file of its own, and goes on as any
    other does."""
    member = membership(request, production_id, to_change=True)
    taken = motion_door.taken(upload)
    if (taken.size or 0) > LARGEST_GLTF_BYTES:
        raise Refusal(
            f"A glTF file is {LARGEST_GLTF_BYTES >> 20} MB at the most: take its pictures out, or make a BVH"
            " file of it with hours convert."
        )
    stem = PurePath(upload.name or "Motion").stem[:120] or "Motion"
    read = read_gltf(upload.read(), stem)
    if not read.clips:
        raise Refusal("Nothing moves in this glTF file.")
    reports = []
    for clip in read.clips:
        text = bvh.write(file_from(read.figure, clip.motion, clip.rate)).encode()
        name = f"{clip.name if len(read.clips) > 1 else stem}.bvh"
        kept = files.store(member.production, name, text)
        file = bvh.read(text)
        reports.append(_report(member.production, kept, file, 0, file.frames))
    return reports


@router.get("/{uuid:production_id}/files/{sha256}", response=FileReport)
def read_file_range(
    request: HttpRequest,
    production_id: UUID,
    sha256: str,
    start: FrameNumber = 0,
    end: FrameNumber | None = None,
) -> FileReport:
    """What a range of a file is: whether its last pose repeats its first."""
    member = membership(request, production_id)
    kept = reading.stored(member.production, sha256)
    read = reading.motion_of(kept)
    return _report(member.production, kept, read, start, read.frames if end is None else end)


@router.get("/{uuid:production_id}/files/{sha256}/figure", response=Figure)
def file_figure(request: HttpRequest, production_id: UUID, sha256: str) -> Figure:
    """The lay figure of a file's skeleton."""
    member = membership(request, production_id)
    read = reading.motion_of(reading.stored(member.production, sha256))
    return figure_from(read, "figure", guess_unit(read).metres).as_painted


@router.get("/{uuid:production_id}/files/{sha256}/fit", response=FitView)
def file_fit(
    request: HttpRequest,
    production_id: UUID,
    sha256: str,
    figure: UUID,
    metres_per_unit: UnitMetres | None = None,
) -> FitView:
    """How a file's motion fits a figure: what plays, what is dropped, what rests."""
    member = membership(request, production_id)
    read = reading.motion_of(reading.stored(member.production, sha256))
    owner, target = figure_in(member.production, figure)
    skeleton = skeleton_from(read, "file", metres_per_unit or guess_unit(read).metres)
    return fit_view(owner, skeleton, target, fit(skeleton, target, target.spellings))


@router.post("/{uuid:production_id}/files/{sha256}/frames", response=None)
def file_frames(
    request: HttpRequest, production_id: UUID, sha256: str, wanted: FilePosesWanted
) -> HttpResponse:
    """A frame pack of a file's poses, on its own lay figure or on the one it is to play on."""
    member = membership(request, production_id)
    read = reading.motion_of(reading.stored(member.production, sha256))
    end = read.frames if wanted.end is None else min(wanted.end, read.frames)
    if wanted.start >= end:
        raise Refusal("That range holds no frame.")
    count = min(wanted.most, end - wanted.start)
    picked = wanted.start + np.floor(np.arange(count) * ((end - wanted.start) / count))
    metres = wanted.metres_per_unit or guess_unit(read).metres
    figure = skeleton_from(read, "figure", metres)
    motion = motion_from(read, metres, picked.astype(np.intp))
    if wanted.onto is not None:
        _, target = figure_in(member.production, wanted.onto.figure)
        motion, figure = retarget(figure, motion, target, wanted.onto.mapping), target
    return pack_response(request, packed_poses(figure, motion))


@router.post("/{uuid:production_id}/clips", response={201: Imported, 202: JobView})
def import_clip(
    request: HttpRequest, production_id: UUID, wanted: ImportWanted
) -> Status[Imported] | Status[JobView]:
    """Make a clip of a file that was read, and a lay figure if its skeleton is new; of a large file by
    a job."""
    member = membership(request, production_id, to_change=True)
    production, author = member.production, person(request)
    wish = BringIn.model_validate(wanted.model_dump())
    if reading.stored(production, wish.file).size_bytes > reading.LIGHT_BYTES:
        return Status(202, job_view(ask(BRING_IN, production, author, wish.name, wish)))
    brought = bring_in_now(production, wish, author)
    imported = Imported(
        clip=clip_card(brought.document), figure_is_new=brought.figure_is_new, says=brought.says
    )
    return Status(201, imported)


@router.post(
    "/{uuid:production_id}/own-files",
    auth=motion_door,
    response={201: FileOpened, 202: JobView},
)
def open_own_file(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> Status[FileOpened] | Status[JobView]:
    """A scene or a clip from a file of our own; a large one by a job."""
    member = membership(request, production_id, to_change=True)
    production, author = member.production, person(request)
    if (motion_door.taken(upload).size or 0) > reading.LIGHT_BYTES:
        interchange.check_start(_start_of(upload))
        name = upload.name or "file"
        kept = files.store_pieces(production, name, upload.chunks)
        wish = OpenFile(file=kept.sha256, token=uuid4().hex)
        return Status(202, job_view(ask(OPEN_FILE, production, author, name, wish)))
    opened = interchange.open_file(production, upload.read(), author)
    made = opened.document
    return Status(201, FileOpened(kind=made.kind, id=made.pk, name=made.name, says=opened.says))


def _start_of(upload: UploadedFile) -> bytes:
    """Enough of a file to tell what it is."""
    start: bytes = upload.read(interchange.SNIFFED_BYTES)
    upload.seek(0)
    return start


def _report(
    production: Production, kept: StoredFile, read: bvh.BvhMotion, start: int, end: int
) -> FileReport:
    found = inspect(read, start, end)
    skeleton = skeleton_from(read, "figure", found.metres_per_unit)
    known = shelf.figure_with_skeleton(production, skeleton)
    return FileReport(
        file=kept.sha256,
        suggested_name=_tidy(kept.name),
        joints=found.joints,
        channels=found.channels,
        frames=read.frames,
        rate=format_rate(found.rate),
        frames_per_second=float(found.rate),
        length_seconds=seconds(read.frames, read.rate),
        height_in_file=found.height_in_file,
        height_metres=found.height_in_file * found.metres_per_unit,
        unit=found.unit,
        metres_per_unit=found.metres_per_unit,
        start=start,
        end=end,
        cycle_length_frames=found.cycle_length_frames,
        warnings=list(found.warnings),
        why_a_take=list(_why_a_take(skeleton, read, found.metres_per_unit)),
        known_figure=known.name if known else None,
    )


def _why_a_take(skeleton: Figure, read: bvh.BvhMotion, metres_per_unit: float) -> tuple[str, ...]:
    start = motion_from(read, metres_per_unit, slice(0, min(read.frames, LOOKED_AT_FRAMES)))
    return why_a_take(skeleton, start, read.rate, seconds(read.frames, read.rate))


def _tidy(filename: str) -> str:
    """A clip's name from a file's: `walk_slow-01.bvh` → `Walk slow 01`."""
    stem = PurePath(filename).stem.replace("_", " ").replace("-", " ")
    words = " ".join(stem.split())[:120]
    return words[:1].upper() + words[1:] if words else "Motion"
