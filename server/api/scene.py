"""The scene room: the desk, edits, frames, and files out."""

from urllib.parse import quote
from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router

from accounts.models import Membership
from documents import history
from documents.models import Document
from elastic_core.errors import Refusal
from elastic_core.formats import bvh
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.formats.scene_bvh import scene_bvh
from elastic_core.formats.scene_file import ClipInFile, SceneFile, sampled
from elastic_core.scene.desk import desk_of
from elastic_core.scene.evaluate import frames_of
from scenes import stage

from .access import document, person
from .schemas import (
    EditOutcome,
    EditWanted,
    FigureOnStage,
    FramesWanted,
    Problem,
    SceneView,
    StepWanted,
)

router = Router(tags=["scene"])
MOST_FRAMES = 4096


@router.get("/{scene_id}", response={200: SceneView, 404: Problem})
def read_scene(request: HttpRequest, scene_id: UUID) -> SceneView:
    """The scene that stands, as the desk shows it."""
    found, member = document(request, Document.Kind.SCENE, scene_id)
    return _view(found, member, stage.standing(found))


@router.post(
    "/{scene_id}/edits", response={200: EditOutcome, 404: Problem, 409: Problem, 422: Problem}
)
def edit_scene(request: HttpRequest, scene_id: UUID, wanted: EditWanted) -> EditOutcome:
    """Make an edit, or with `preview` say what it would give."""
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    if wanted.preview:
        if found.head != wanted.base_revision:
            raise history.Outdated(found)
        staged, edited = stage.preview(found, wanted.edit)
    else:
        found, staged, edited = stage.save_edit(
            found, wanted.edit, wanted.base_revision, person(request)
        )
    view = _view(found, member, staged)
    return EditOutcome(scene=view, label=edited.label, notes=list(edited.notes))


@router.post(
    "/{scene_id}/undo", response={200: SceneView, 404: Problem, 409: Problem, 422: Problem}
)
def undo(request: HttpRequest, scene_id: UUID, wanted: StepWanted) -> SceneView:
    """Back one step."""
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    held = stage.undo(found, wanted.base_revision)
    return _view(held, member, stage.standing(held))


@router.post(
    "/{scene_id}/redo", response={200: SceneView, 404: Problem, 409: Problem, 422: Problem}
)
def redo(request: HttpRequest, scene_id: UUID, wanted: StepWanted) -> SceneView:
    """Forward one step."""
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    held = stage.redo(found, wanted.base_revision)
    return _view(held, member, stage.standing(held))


@router.post("/{scene_id}/frames", response={200: None, 404: Problem, 422: Problem})
def frames(request: HttpRequest, scene_id: UUID, wanted: FramesWanted) -> HttpResponse:
    """A frame pack of every figure."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    if wanted.edit is None:
        staged = stage.standing(found)
    else:
        staged, _ = stage.preview(found, wanted.edit)
    end = min(wanted.end, staged.scene.length_frames)
    picked = np.arange(wanted.start, end, wanted.step, dtype=np.float64)
    if len(picked) > MOST_FRAMES:
        raise Refusal(f"Ask for {MOST_FRAMES} frames at a time at the most.")
    metadata = {
        "content": staged.content,
        "start": str(wanted.start),
        "step": str(wanted.step),
        "frames": str(len(picked)),
    }
    packed = pack_frames(frames_of(staged.scene, staged.material, picked), metadata)
    return HttpResponse(packed, content_type="application/octet-stream")


@router.get("/{scene_id}/bvh", response={200: None, 404: Problem, 422: Problem})
def export_bvh(
    request: HttpRequest,
    scene_id: UUID,
    figure: str,
    start: int | None = None,
    end: int | None = None,
) -> HttpResponse:
    """A figure's motion over the shown frames `[start, end)`, as a BVH file in metres."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    staged = stage.standing(found)
    text = bvh.write(scene_bvh(staged.scene, staged.material, figure, start, end))
    name = f"{found.name} {staged.scene.figure(figure).name}.bvh"
    return _download(text, name, "text/plain; charset=utf-8")


@router.get("/{scene_id}/file", response={200: None, 404: Problem})
def export_scene(request: HttpRequest, scene_id: UUID) -> HttpResponse:
    """The scene with its figures and clips, as a scene file."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    staged = stage.standing(found)
    clips = {
        name: ClipInFile(
            clip=playable.clip,
            poses=sampled(playable.samples, staged.material.figure(playable.clip.figure)),
        )
        for name, playable in staged.material.clips.items()
    }
    held = SceneFile(scene=staged.scene, figures=dict(staged.material.figures), clips=clips)
    return _download(held.model_dump_json(), f"{found.name}.json", "application/json")


def _download(text: str, name: str, content_type: str) -> HttpResponse:
    response = HttpResponse(text, content_type=content_type)
    response.headers["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(name)}"
    return response


def _view(row: Document, member: Membership, staged: stage.Staged) -> SceneView:
    steps = history.steps(row)
    return SceneView(
        id=row.pk,
        production=row.production_id,
        production_name=row.production.name,
        name=staged.scene.name,
        revision=row.head,
        content=staged.content,
        may_change=member.may_change,
        undo=steps.undo,
        redo=steps.redo,
        figures=[
            FigureOnStage(id=figure.id, name=figure.name, figure=figure.figure)
            for figure in staged.scene.figures
        ],
        desk=desk_of(staged.scene, staged.material),
    )
