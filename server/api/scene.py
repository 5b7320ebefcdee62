"""The scene room: the desk, edits, frames, and files out."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

from documents import editing
from documents.kinds import Opened
from documents.memory import memory
from documents.models import Document
from documents.opening import opened
from elastic_core.formats import bvh
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.formats.scene_bvh import scene_bvh
from elastic_core.formats.scene_file import scene_file
from elastic_core.scene.desk import Desk, desk_of
from elastic_core.scene.document import Scene
from elastic_core.scene.evaluate import frames_of, layers_of
from elastic_core.scene.material import Material
from scenes.kinds import SCENE

from .access import document
from .downloads import download
from .packs import pack_response, picked_frames
from .rooms import Room, routes_of
from .schemas import EditOutcome, EditWanted, FrameNumber, FramesWanted, SceneView


def _shown(row: Document, now: Opened[Scene], known: Opened[Scene] | None) -> dict[str, Any]:
    desk = _desk(now)
    if known is None:
        return {"desk": desk}
    before = {lane.id: lane for lane in _desk(known).lanes}
    lanes = [lane for lane in desk.lanes if before.get(lane.id) != lane]
    return {"desk": desk.model_copy(update={"lanes": lanes})}


def _desk(now: Opened[Scene]) -> Desk:
    """Asked for again with each preview, to tell what differs from it."""
    scene = now.document
    return memory.made(
        ("desk", now.content),
        lambda: desk_of(scene, now.made_of),
        lambda desk: 4_000 * sum(len(lane.stints) + 1 for lane in desk.lanes),
    )


ROOM = Room(
    kind=SCENE,
    view=SceneView,
    shown=_shown,
    wanted=EditWanted,
    outcome=EditOutcome,
    told=lambda edited: {},
)
router = routes_of(ROOM)


@router.post("/{uuid:document_id}/frames", response=None)
def frames(request: HttpRequest, document_id: UUID, wanted: FramesWanted) -> HttpResponse:
    """A frame pack of every figure; as it would be after an edit, for those who could make it."""
    found, _ = document(request, SCENE.key, document_id, to_change=wanted.edit is not None)
    if wanted.edit is None:
        staged = opened(found, wanted.revision)
    else:
        staged = editing.preview(found, wanted.edit).opened
    scene, material = staged.document, staged.made_of
    end = min(wanted.end, scene.played_frames)
    picked = picked_frames(wanted.start, end, wanted.step)
    metadata = {
        "content": staged.content,
        "start": str(wanted.start),
        "step": str(wanted.step),
        "frames": str(len(picked)),
    }
    packed = pack_frames(
        frames_of(scene, material, picked), metadata, layers_of(scene, material, picked)
    )
    return pack_response(request, packed, passing=wanted.edit is not None)


@router.get("/{uuid:document_id}/bvh", response=None)
def export_bvh(
    request: HttpRequest,
    document_id: UUID,
    figure: str,
    start: FrameNumber | None = None,
    end: FrameNumber | None = None,
) -> HttpResponseBase:
    """A figure's motion over the shown frames `[start, end)`, as a BVH file in metres."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    text = bvh.write(scene_bvh(scene, material, figure, start, end))
    name = f"{found.name} {scene.figure(figure).name}.bvh"
    return download(text, name, "text/plain; charset=utf-8")


@router.get("/{uuid:document_id}/file", response=None)
def export_scene(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """The scene with its figures and clips, as a scene file."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    text = scene_file(scene, material).model_dump_json()
    return download(text, f"{found.name}.scene.json", "application/json")


def _standing(row: Document) -> tuple[Scene, Material]:
    now = opened(row)
    return now.document, now.made_of
