"""Bringing files in: motion, with a look at it first, and files of our own."""

from dataclasses import replace
from pathlib import PurePath
from uuid import UUID

import numpy as np
from django.conf import settings
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from accounts.models import Production
from documents.models import Document
from elastic_core.clock import format_rate, parse_rate, seconds
from elastic_core.colour import COLOURS, Colour
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import Pair, fit, fit_clip, retarget
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in, inspect
from elastic_core.formats.bvh_motion import figure_from, guess_unit, motion_from, skeleton_from
from elastic_core.sides import spoken
from library import files, reading, shelf
from library.kinds import CLIP, FIGURE, packed_poses
from library.models import StoredFile
from scenes import interchange

from .access import membership, person
from .library import clip_card
from .packs import pack_response
from .schemas import (
    FileOpened,
    FilePosesWanted,
    FileReport,
    FitView,
    Imported,
    ImportWanted,
    JointName,
    PairView,
    Problem,
)

router = Router(tags=["imports"])


@router.post("/{production_id}/files", response={200: FileReport, 422: Problem})
def read_file(request: HttpRequest, production_id: UUID, upload: File[UploadedFile]) -> FileReport:
    """Read a motion file and say what it is. A file that cannot be read is not kept."""
    member = membership(request, production_id, to_change=True)
    if (upload.size or 0) > settings.LARGEST_UPLOAD_BYTES:
        raise Refusal(f"The file is larger than {settings.LARGEST_UPLOAD_BYTES >> 20} MB.")
    data = upload.read()
    read = bvh.read(data)
    kept = files.store(member.production, upload.name or "motion.bvh", data)
    return _report(member.production, kept, read, 0, read.frames)


@router.get("/{production_id}/files/{sha256}", response={200: FileReport, 422: Problem})
def read_file_range(
    request: HttpRequest, production_id: UUID, sha256: str, start: int = 0, end: int | None = None
) -> FileReport:
    """What a range of a file is: whether its last pose repeats its first."""
    member = membership(request, production_id)
    kept = _stored(member.production, sha256)
    read = reading.bvh_of(kept)
    return _report(member.production, kept, read, start, read.frames if end is None else end)


@router.get("/{production_id}/files/{sha256}/figure", response={200: Figure, 422: Problem})
def file_figure(request: HttpRequest, production_id: UUID, sha256: str) -> Figure:
    """The lay figure of a file's skeleton."""
    member = membership(request, production_id)
    read = reading.bvh_of(_stored(member.production, sha256))
    return figure_from(read, "figure", guess_unit(read).metres)


@router.get("/{production_id}/files/{sha256}/fit", response={200: FitView, 422: Problem})
def file_fit(
    request: HttpRequest,
    production_id: UUID,
    sha256: str,
    figure: UUID,
    metres_per_unit: float | None = None,
) -> FitView:
    """How a file's motion fits a figure: what plays, what is dropped, what rests."""
    member = membership(request, production_id)
    read = reading.bvh_of(_stored(member.production, sha256))
    owner, target = _figure_in(member.production, figure)
    skeleton = skeleton_from(read, "file", metres_per_unit or guess_unit(read).metres)
    report = fit(skeleton, target, target.spellings)
    return FitView(
        figure=owner.pk,
        figure_name=owner.name,
        plays=[_pair(pair) for pair in report.plays],
        proposed=[_pair(pair) for pair in report.proposed],
        dropped=list(report.dropped),
        rests=list(report.rests),
        clip_joints=list(skeleton.names),
        figure_joints=[JointName(name=name, label=spoken(name)) for name in target.names],
        leg_ratio=report.leg_ratio,
    )


@router.post("/{production_id}/files/{sha256}/frames", response={200: None, 422: Problem})
def file_frames(
    request: HttpRequest, production_id: UUID, sha256: str, wanted: FilePosesWanted
) -> HttpResponse:
    """A frame pack of a file's poses, on its own lay figure or on the one it is to play on."""
    member = membership(request, production_id)
    read = reading.bvh_of(_stored(member.production, sha256))
    end = read.frames if wanted.end is None else min(wanted.end, read.frames)
    if wanted.start >= end:
        raise Refusal("That range holds no frame.")
    count = min(wanted.most, end - wanted.start)
    picked = wanted.start + np.floor(np.arange(count) * ((end - wanted.start) / count))
    metres = wanted.metres_per_unit or guess_unit(read).metres
    figure = skeleton_from(read, "figure", metres)
    rows = bvh.BvhFile(read.joints, read.frame_time, read.values[picked.astype(np.intp)])
    motion = motion_from(rows, metres)
    if wanted.onto is not None:
        _, target = _figure_in(member.production, wanted.onto.figure)
        motion, figure = retarget(figure, motion, target, wanted.onto.mapping), target
    return pack_response(request, packed_poses(figure, motion))


@router.post("/{production_id}/clips", response={201: Imported, 422: Problem})
def import_clip(
    request: HttpRequest, production_id: UUID, wanted: ImportWanted
) -> Status[Imported]:
    """Make a clip of a file that was read, and a lay figure if its skeleton is new."""
    member = membership(request, production_id, to_change=True)
    production, author = member.production, person(request)
    kept = _stored(production, wanted.file)
    rate = parse_rate(wanted.rate) if wanted.rate else None
    choices = Wanted(
        name=wanted.name,
        start=wanted.start,
        end=wanted.end,
        rate=rate,
        metres_per_unit=wanted.metres_per_unit,
        is_cycle=wanted.is_cycle,
        colour=wanted.colour or _next_colour(production),
    )
    figure, playable = bring_in(reading.bvh_of(kept), choices, figure_id="")
    if wanted.figure_name is not None:
        figure = figure.model_copy(update={"name": wanted.figure_name})
    with transaction.atomic():
        if wanted.onto is None:
            known = shelf.figure_with_skeleton(production, figure)
            owner = known or shelf.add_figure(production, figure, author)
            clip = playable.clip.model_copy(update={"figure": str(owner.pk)})
            playable = replace(playable, clip=clip)
        else:
            known, target = _figure_in(production, wanted.onto.figure)
            owner, mapping = known, wanted.onto.mapping
            playable = fit_clip(figure, playable, target, str(known.pk), mapping)
            shelf.learn_spellings(known, mapping, author)
        document = shelf.add_clip(production, playable, author)
    clip = playable.clip
    says = [f"It plays on {owner.name}." if known else f"{owner.name} is a new lay figure."]
    if clip.rests:
        says.append(f"{len(clip.rests)} of its joints rest.")
    if clip.is_cycle:
        says.insert(0, f"A cycle of {clip.length_frames} frames, 0 to {clip.length_frames - 1}.")
    return Status(201, Imported(clip=clip_card(document), figure_is_new=known is None, says=says))


@router.post("/{production_id}/own-files", response={201: FileOpened, 422: Problem})
def open_own_file(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> Status[FileOpened]:
    """A scene or a clip from a file of our own."""
    member = membership(request, production_id, to_change=True)
    if (upload.size or 0) > settings.LARGEST_UPLOAD_BYTES:
        raise Refusal(f"The file is larger than {settings.LARGEST_UPLOAD_BYTES >> 20} MB.")
    opened = interchange.open_file(member.production, upload.read(), person(request))
    says = [
        f"{count} new {word if count == 1 else word + 's'} came with it."
        for count, word in ((opened.new_figures, "figure"), (opened.new_clips, "clip"))
        if count
    ]
    made = opened.document
    return Status(201, FileOpened(kind=made.kind, id=made.pk, name=made.name, says=says))


def _figure_in(production: Production, figure: UUID) -> tuple[Document, Figure]:
    found = production.documents.filter(kind=FIGURE.key, pk=figure).first()
    if found is None:
        raise Refusal("That figure is not in this production.")
    return found, shelf.figure_of(found)


def _pair(pair: Pair) -> PairView:
    return PairView(clip_joint=pair.clip_joint, figure_joint=pair.figure_joint)


def _stored(production: Production, sha256: str) -> StoredFile:
    found = production.files.filter(sha256=sha256).first()
    if found is None:
        raise Refusal("That file is not here any more; choose it again.")
    return found


def _report(
    production: Production, kept: StoredFile, read: bvh.BvhFile, start: int, end: int
) -> FileReport:
    if not 0 <= start < end <= read.frames:
        raise Refusal(f"The range {start} to {end} is not inside 0 to {read.frames}.")
    cut = bvh.BvhFile(read.joints, read.frame_time, read.values[start:end], read.warnings)
    found = inspect(cut)
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
        known_figure=known.name if known else None,
    )


def _next_colour(production: Production) -> Colour:
    """The clip colours in turn, so that neighbours in the drawer differ."""
    clips = production.documents.filter(kind=CLIP.key).count()
    return COLOURS[clips % len(COLOURS)]


def _tidy(filename: str) -> str:
    """A clip's name from a file's: `walk_slow-01.bvh` → `Walk slow 01`."""
    stem = PurePath(filename).stem.replace("_", " ").replace("-", " ")
    words = " ".join(stem.split())[:120]
    return words[:1].upper() + words[1:] if words else "Motion"
