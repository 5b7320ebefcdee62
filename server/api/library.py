"""Productions, their figures and clips, and bringing motion files in."""

from pathlib import PurePath
from uuid import UUID

import numpy as np
from django.conf import settings
from django.db import transaction
from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from accounts.models import Membership, Production
from documents.history import standing
from documents.models import Document
from elastic_core.clip import COLOURS, Colour, PlayableClip
from elastic_core.clock import format_rate, parse_rate, seconds
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in, inspect
from elastic_core.formats.bvh_motion import skeleton_from
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.motion import Motion
from elastic_core.scene.document import Scene, SceneFigure
from elastic_core.scene.evaluate import FigureFrames
from library import files, shelf
from library.models import StoredFile
from scenes import stage

from .access import document, membership, person
from .schemas import (
    ClipCard,
    FigureCard,
    FigureOnStage,
    FileReport,
    Imported,
    ImportWanted,
    LibraryView,
    NewScene,
    Problem,
    ProductionRow,
    SceneCard,
    Seam,
)

router = Router(tags=["library"])
items = Router(tags=["library"])


@router.get("", response=list[ProductionRow])
def list_productions(request: HttpRequest) -> list[ProductionRow]:
    """The productions that the person belongs to."""
    rows = (
        Membership.objects.filter(user=person(request))
        .select_related("production")
        .annotate(
            scenes=Count("production__documents", filter=Q(production__documents__kind="scene")),
            clips=Count("production__documents", filter=Q(production__documents__kind="clip")),
        )
        .order_by("production__name")
    )
    return [
        ProductionRow(
            id=row.production_id,
            name=row.production.name,
            role=row.role,
            scenes=row.scenes,
            clips=row.clips,
        )
        for row in rows
    ]


@router.get("/{production_id}", response={200: LibraryView, 404: Problem})
def read_library(request: HttpRequest, production_id: UUID) -> LibraryView:
    """Everything of a production."""
    member = membership(request, production_id)
    documents = member.production.documents.prefetch_related("used_in__scene").order_by("created")
    figures = {str(d.pk): d for d in documents if d.kind == Document.Kind.FIGURE}
    return LibraryView(
        id=member.production_id,
        name=member.production.name,
        role=member.role,
        clips=[_clip_card(d) for d in documents if d.kind == Document.Kind.CLIP],
        figures=[_figure_card(d) for d in figures.values()],
        scenes=[_scene_card(d) for d in documents if d.kind == Document.Kind.SCENE],
    )


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
    read = bvh.read(files.load(kept))
    return _report(member.production, kept, read, start, read.frames if end is None else end)


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
    figure, playable = bring_in(bvh.read(files.load(kept)), choices, figure_id="")
    with transaction.atomic():
        known = shelf.figure_with_skeleton(production, figure)
        owner = known or shelf.add_figure(production, figure, author)
        clip = playable.clip.model_copy(update={"figure": str(owner.pk)})
        document = shelf.add_clip(production, PlayableClip(clip, playable.samples), author)
    says = [f"It plays on {owner.name}." if known else f"{owner.name} is a new lay figure."]
    if clip.is_cycle:
        says.insert(0, f"A cycle of {clip.length_frames} frames, 0 to {clip.length_frames - 1}.")
    return Status(201, Imported(clip=_clip_card(document), figure_is_new=known is None, says=says))


@router.post("/{production_id}/scenes", response={201: SceneCard, 422: Problem})
def new_scene(request: HttpRequest, production_id: UUID, wanted: NewScene) -> Status[SceneCard]:
    """An empty scene."""
    member = membership(request, production_id, to_change=True)
    scene = Scene(
        name=wanted.name, rate=parse_rate(wanted.rate), length_frames=wanted.length_frames
    )
    return Status(201, _scene_card(stage.create(member.production, scene, person(request))))


@items.get("/figures/{figure_id}", response={200: Figure, 404: Problem})
def read_figure(request: HttpRequest, figure_id: UUID) -> Figure:
    """A figure with its joints and its dress."""
    found, _ = document(request, Document.Kind.FIGURE, figure_id)
    return shelf.figure_of(found)


@items.get("/figures/{figure_id}/frames", response={200: None, 404: Problem})
def figure_frames(request: HttpRequest, figure_id: UUID) -> HttpResponse:
    """A frame pack of the rest pose."""
    found, _ = document(request, Document.Kind.FIGURE, figure_id)
    figure = shelf.figure_of(found)
    return _pack(figure, figure.rest_motion)


@items.get("/clips/{clip_id}/frames", response={200: None, 404: Problem})
def clip_frames(request: HttpRequest, clip_id: UUID, most: int = 240) -> HttpResponse:
    """A frame pack of one round of a clip, at most so many poses, evenly spaced."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    playable = shelf.clip_of(found)
    length = playable.clip.length_frames
    count = max(1, min(length, most, 2000))
    motion = playable.at(np.floor(np.arange(count) * (length / count)))
    figure = shelf.figure_of(Document.objects.get(pk=playable.clip.figure))
    return _pack(figure, motion)


def _pack(figure: Figure, motion: Motion) -> HttpResponse:
    member = SceneFigure(id="figure", name=figure.name, figure="")
    shown = FigureFrames(member, motion, forward(figure, motion))
    return HttpResponse(pack_frames([shown], {}), content_type="application/octet-stream")


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
    clips = production.documents.filter(kind=Document.Kind.CLIP).count()
    return COLOURS[clips % len(COLOURS)]


def _tidy(filename: str) -> str:
    """A clip's name from a file's: `walk_slow-01.bvh` → `Walk slow 01`."""
    stem = PurePath(filename).stem.replace("_", " ").replace("-", " ")
    words = " ".join(stem.split())[:120]
    return words[:1].upper() + words[1:] if words else "Motion"


def _clip_card(row: Document) -> ClipCard:
    clip = shelf.clip_of(row).clip
    report = shelf.seam_of(row)
    seam = None
    if report is not None:
        worst = report.worst
        seam = Seam(
            grade=report.grade,
            joint=worst.joint,
            gap_degrees=worst.gap_degrees,
            gap_cm=worst.gap_cm,
            gap_degrees_per_frame=worst.gap_degrees_per_frame,
        )
    return ClipCard(
        id=row.pk,
        name=clip.name,
        figure=UUID(clip.figure),
        figure_name=Document.objects.get(pk=clip.figure).name,
        rate=format_rate(clip.rate),
        length_frames=clip.length_frames,
        length_seconds=seconds(clip.length_frames, clip.rate),
        is_cycle=clip.is_cycle,
        stride_metres=float(np.hypot(*clip.period[:2])),
        colour=clip.colour,
        seam=seam,
        used_in=sorted(use.scene.name for use in row.used_in.select_related("scene")),
    )


def _figure_card(row: Document) -> FigureCard:
    figure = shelf.figure_of(row)
    return FigureCard(
        id=row.pk, name=row.name, joints=len(figure.joints), height_metres=figure.height_metres
    )


def _scene_card(row: Document) -> SceneCard:
    scene = Scene.model_validate(standing(row).body)
    return SceneCard(
        id=row.pk,
        name=row.name,
        rate=format_rate(scene.rate),
        length_frames=scene.length_frames,
        length_seconds=seconds(scene.length_frames, scene.rate),
        figures=[
            FigureOnStage(id=member.id, name=member.name, figure=member.figure)
            for member in scene.figures
        ],
    )
