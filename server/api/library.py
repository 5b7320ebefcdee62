"""A production's figures, clips and scenes."""

from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.responses import Status

from accounts.models import Production
from documents.history import standing
from documents.models import Document
from elastic_core.clock import format_rate, parse_rate, seconds
from elastic_core.figure import Figure, forward
from elastic_core.formats.clip_file import clip_file
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.moments import source
from elastic_core.motion import Motion
from elastic_core.scene.document import Scene, SceneFigure
from elastic_core.scene.evaluate import FigureFrames
from library import shelf
from scenes import stage

from .access import document, membership, person
from .downloads import download
from .schemas import (
    ClipCard,
    FigureCard,
    FigureOnStage,
    LibraryView,
    NewProduction,
    NewScene,
    Problem,
    SceneCard,
    Seam,
    UsedIn,
)

router = Router(tags=["library"])
items = Router(tags=["library"])


@router.get("/{production_id}", response={200: LibraryView, 404: Problem})
def read_library(request: HttpRequest, production_id: UUID) -> LibraryView:
    """Everything of a production."""
    member = membership(request, production_id)
    rows = member.production.documents.prefetch_related("used_in__scene").order_by("created")
    documents = list(rows)
    figures = {str(d.pk): d for d in documents if d.kind == Document.Kind.FIGURE}
    return LibraryView(
        id=member.production_id,
        name=member.production.name,
        role=member.role,
        clips=[clip_card(d) for d in documents if d.kind == Document.Kind.CLIP],
        figures=[_figure_card(d) for d in figures.values()],
        scenes=[_scene_card(d) for d in documents if d.kind == Document.Kind.SCENE],
    )


@router.patch("/{production_id}", response={200: None, 422: Problem})
def rename_production(request: HttpRequest, production_id: UUID, wanted: NewProduction) -> None:
    """Another name for a production."""
    member = membership(request, production_id, to_own=True)
    Production.objects.filter(pk=member.production_id).update(name=wanted.name)


@router.post("/{production_id}/scenes", response={201: SceneCard, 422: Problem})
def new_scene(request: HttpRequest, production_id: UUID, wanted: NewScene) -> Status[SceneCard]:
    """An empty scene."""
    member = membership(request, production_id, to_change=True)
    scene = Scene(
        name=wanted.name,
        rate=parse_rate(wanted.rate),
        laid_frames=wanted.length_frames,
        played_frames=wanted.length_frames,
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
    return pack_poses(figure, figure.rest_motion)


@items.get("/clips/{clip_id}/frames", response={200: None, 404: Problem})
def clip_frames(request: HttpRequest, clip_id: UUID, most: int = 240) -> HttpResponse:
    """A frame pack of one round of a clip, at most so many poses, evenly spaced."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    playable = shelf.clip_of(found)
    length = playable.clip.length_frames
    count = max(1, min(length, most, 2000))
    motion = playable.at(source(np.floor(np.arange(count) * (length / count))))
    figure = shelf.figure_of(Document.objects.get(pk=playable.clip.figure))
    return pack_poses(figure, motion)


@items.get("/clips/{clip_id}/file", response={200: None, 404: Problem})
def export_clip(request: HttpRequest, clip_id: UUID) -> HttpResponse:
    """The clip with its figure, as a clip file."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    playable = shelf.clip_of(found)
    figure = shelf.figure_of(Document.objects.get(pk=playable.clip.figure))
    text = clip_file(figure, playable).model_dump_json()
    return download(text, f"{found.name}.clip.json", "application/json")


def pack_poses(figure: Figure, motion: Motion) -> HttpResponse:
    member = SceneFigure(id="figure", name=figure.name, figure="")
    shown = FigureFrames(member, motion, forward(figure, motion))
    return HttpResponse(pack_frames([shown], {}), content_type="application/octet-stream")


def _kept(row: Document) -> dict[str, Any]:
    """What the cards of all documents tell."""
    return {
        "id": row.pk,
        "name": row.name,
        "tags": row.tags,
        "archived": row.archived,
        "created": row.created,
        "changed": row.changed,
    }


def _used_in(row: Document) -> list[UsedIn]:
    uses = sorted(row.used_in.all(), key=lambda use: use.scene.name)
    return [UsedIn(id=use.scene_id, name=use.scene.name) for use in uses]


def clip_card(row: Document) -> ClipCard:
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
        **_kept(row),
        figure=UUID(clip.figure),
        figure_name=Document.objects.get(pk=clip.figure).name,
        rate=format_rate(clip.rate),
        length_frames=clip.length_frames,
        length_seconds=seconds(clip.length_frames, clip.rate),
        is_cycle=clip.is_cycle,
        stride_metres=float(np.hypot(*clip.period[:2])),
        colour=clip.colour,
        seam=seam,
        rests=list(clip.rests),
        used_in=_used_in(row),
    )


def _figure_card(row: Document) -> FigureCard:
    figure = shelf.figure_of(row)
    return FigureCard(
        **_kept(row),
        joints=len(figure.joints),
        height_metres=figure.height_metres,
        used_in=_used_in(row),
    )


def _scene_card(row: Document) -> SceneCard:
    scene = Scene.model_validate(standing(row).body)
    return SceneCard(
        **_kept(row),
        rate=format_rate(scene.rate),
        length_frames=scene.played_frames,
        length_seconds=seconds(scene.played_frames, scene.rate),
        figures=[
            FigureOnStage(id=member.id, name=member.name, figure=member.figure)
            for member in scene.figures
        ],
    )
