"""The scene room: the desk, edits, frames, and files out."""

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
from elastic_core.formats.scene_file import scene_file
from elastic_core.scene.desk import desk_of
from elastic_core.scene.evaluate import frames_of, layers_of
from scenes import stage

from .access import document, person
from .downloads import download
from .heads import head_of
from .schemas import (
    DocumentHead,
    EditOutcome,
    EditWanted,
    FramesWanted,
    GoBackWanted,
    Problem,
    SceneView,
    StepWanted,
)

router = Router(tags=["scene"])
MOST_FRAMES = 4096


@router.get("/{scene_id}", response={200: SceneView, 404: Problem})
def read_scene(request: HttpRequest, scene_id: UUID, revision: int | None = None) -> SceneView:
    """The scene that stands, or one of its revisions, as the desk shows it."""
    found, member = document(request, Document.Kind.SCENE, scene_id)
    return _view(found, member, stage.at_revision(found, revision), revision)


@router.get("/{scene_id}/head", response={200: DocumentHead, 404: Problem})
def read_head(request: HttpRequest, scene_id: UUID) -> DocumentHead:
    """Which revision stands."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    return head_of(found, stage.made_from(found))


@router.post(
    "/{scene_id}/go-back", response={200: SceneView, 404: Problem, 409: Problem, 422: Problem}
)
def go_back(request: HttpRequest, scene_id: UUID, wanted: GoBackWanted) -> SceneView:
    """An earlier revision stands again, as a new step."""
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    held = stage.go_back(found, wanted.revision, wanted.base_revision, person(request))
    return _view(held, member, stage.standing(held))


@router.post(
    "/{scene_id}/edits", response={200: EditOutcome, 404: Problem, 409: Problem, 422: Problem}
)
def edit_scene(request: HttpRequest, scene_id: UUID, wanted: EditWanted) -> EditOutcome:
    """Make an edit, or with `preview` say what it would give."""
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    if wanted.preview:
        history.check_stands(found, wanted.base_revision)
        staged, edited = stage.preview(found, wanted.edit)
    else:
        found, staged, edited = stage.save_edit(
            found, wanted.edit, wanted.base_revision, person(request), wanted.token
        )
    view = _view(found, member, staged)
    return EditOutcome(scene=view, label=edited.label, notes=list(edited.notes))


@router.post(
    "/{scene_id}/undo", response={200: SceneView, 404: Problem, 409: Problem, 422: Problem}
)
def undo(request: HttpRequest, scene_id: UUID, wanted: StepWanted) -> SceneView:
    """Back one step."""
    return _walk(request, scene_id, wanted, forward=False)


@router.post(
    "/{scene_id}/redo", response={200: SceneView, 404: Problem, 409: Problem, 422: Problem}
)
def redo(request: HttpRequest, scene_id: UUID, wanted: StepWanted) -> SceneView:
    """Forward one step."""
    return _walk(request, scene_id, wanted, forward=True)


@router.post("/{scene_id}/frames", response={200: None, 404: Problem, 422: Problem})
def frames(request: HttpRequest, scene_id: UUID, wanted: FramesWanted) -> HttpResponse:
    """A frame pack of every figure."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    if wanted.edit is None:
        staged = stage.at_revision(found, wanted.revision)
    else:
        staged, _ = stage.preview(found, wanted.edit)
    end = min(wanted.end, staged.scene.played_frames)
    picked = np.arange(wanted.start, end, wanted.step, dtype=np.float64)
    if len(picked) > MOST_FRAMES:
        raise Refusal(f"Ask for {MOST_FRAMES} frames at a time at the most.")
    metadata = {
        "content": staged.content,
        "start": str(wanted.start),
        "step": str(wanted.step),
        "frames": str(len(picked)),
    }
    packed = pack_frames(
        frames_of(staged.scene, staged.material, picked),
        metadata,
        layers_of(staged.scene, staged.material, picked),
    )
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
    return download(text, name, "text/plain; charset=utf-8")


@router.get("/{scene_id}/file", response={200: None, 404: Problem})
def export_scene(request: HttpRequest, scene_id: UUID) -> HttpResponse:
    """The scene with its figures and clips, as a scene file."""
    found, _ = document(request, Document.Kind.SCENE, scene_id)
    staged = stage.standing(found)
    text = scene_file(staged.scene, staged.material).model_dump_json()
    return download(text, f"{found.name}.scene.json", "application/json")


def _walk(request: HttpRequest, scene_id: UUID, wanted: StepWanted, *, forward: bool) -> SceneView:
    found, member = document(request, Document.Kind.SCENE, scene_id, to_change=True)
    held = stage.walk(found, wanted.base_revision, forward=forward)
    return _view(held, member, stage.standing(held))


def _view(
    row: Document, member: Membership, staged: stage.Staged, revision: int | None = None
) -> SceneView:
    """What the page shows; an earlier revision can be looked at, and not changed."""
    steps = history.steps(row)
    stands = revision is None or revision == row.head
    return SceneView(
        id=row.pk,
        production=row.production_id,
        production_name=row.production.name,
        name=staged.scene.name,
        revision=row.head if revision is None else revision,
        head=row.head,
        content=staged.content,
        made_from=stage.made_from(row),
        may_change=member.may_change and stands,
        undo=steps.undo,
        redo=steps.redo,
        desk=desk_of(staged.scene, staged.material),
    )
