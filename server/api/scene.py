"""The scene room: the desk, edits, frames, and files out."""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja.responses import Status
from numpy.typing import NDArray

from documents import editing
from documents.kinds import Opened
from documents.memory import memory
from documents.models import Document
from documents.opening import opened
from elastic_core.clock import Span
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.fit import fit
from elastic_core.formats import bvh
from elastic_core.formats.frame_pack import pack, pack_frames
from elastic_core.formats.gltf import GLTF, GltfMember, write_scene_glb
from elastic_core.formats.places_csv import places_csv
from elastic_core.formats.scene_bvh import scene_bvh, scene_bvh_zip
from elastic_core.formats.scene_file import scene_file
from elastic_core.formats.scene_motion import scene_motion
from elastic_core.formats.scene_zip import PackedScene, pictures_of, write_scene_zip
from elastic_core.formats.sound_file import wav_pieces, written_flac
from elastic_core.formats.timeline import write_otioz, write_timeline
from elastic_core.motion import Motion
from elastic_core.retime.strands import Strands
from elastic_core.scene.baking import baked
from elastic_core.scene.checks import marks_of
from elastic_core.scene.desk import Desk, desk_of
from elastic_core.scene.document import Scene
from elastic_core.scene.edits.groups import grouped
from elastic_core.scene.evaluate import (
    FigureFrames,
    camera_of,
    frames_of,
    guides_of,
    layers_of,
    standing_of,
)
from elastic_core.scene.hearing import heard_stamp, mixed, samples_in
from elastic_core.scene.join_report import JoinReport, join_report
from elastic_core.scene.join_search import now_at, pair_at, search
from elastic_core.scene.material import Material
from elastic_core.scene.retimed import strands_of_stint
from elastic_core.sheet.of_scene import sheet_of_scene
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.samples import Samples
from library import pictures, shelf, sounds
from library.kinds import CLIP, FIGURE
from scenes.kinds import SCENE
from scenes.recordings import SceneRecordings

from .access import document, person
from .downloads import download
from .fits import fit_view
from .packs import pack_response, picked_frames
from .rooms import Room, routes_of, to_its_end
from .schemas import (
    BakeMade,
    BakeWanted,
    ChecksWanted,
    EditOutcome,
    EditWanted,
    FitView,
    FrameNumber,
    FramesWanted,
    GroupMade,
    GroupWanted,
    JoinMapWanted,
    JoinPairWanted,
    JoinWanted,
    LaneChecks,
    PieceNumber,
    RevisionNumber,
    SceneView,
    SheetForm,
    StrandsWanted,
)
from .sheets import sheet_out
from .sounds import flac


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
    staged = _opened(request, document_id, wanted)
    scene, material = staged.document, staged.made_of
    end = min(wanted.end, scene.played_frames)
    picked = picked_frames(wanted.start, end, wanted.step)
    metadata = {
        "content": staged.content,
        "start": str(wanted.start),
        "step": str(wanted.step),
        "frames": str(len(picked)),
    }
    figures = frames_of(scene, material, picked)
    packed = pack_frames(
        figures,
        metadata,
        layers_of(scene, material, picked),
        camera_of(scene, picked),
        guides_of(scene, picked),
        standing_of(scene, material, picked, figures),
    )
    return pack_response(request, packed, passing=wanted.edit is not None)


@router.post("/{uuid:document_id}/groups", response={201: GroupMade})
def keep_group(request: HttpRequest, document_id: UUID, wanted: GroupWanted) -> Status[GroupMade]:
    """A run of stints kept as a scene of its own, to be played as one stint here and elsewhere."""
    found, _ = document(request, SCENE.key, document_id, to_change=True)
    inner = grouped(opened(found).document, wanted.stints, wanted.name)
    label = f"Keep {wanted.name} of {found.name}"
    with to_its_end():
        made = editing.create(SCENE, found.production, inner, label, person(request))
    return Status(201, GroupMade(scene=made.pk, figure=inner.figures[0].id))


@router.post("/{uuid:document_id}/bakes", response={201: BakeMade})
def bake_stint(request: HttpRequest, document_id: UUID, wanted: BakeWanted) -> Status[BakeMade]:
    """A stint as it plays, baked into a clip of the production."""
    found, _ = document(request, SCENE.key, document_id, to_change=True)
    clip = baked(*_standing(found), wanted.stint, wanted.name)
    made = editing.create(CLIP, found.production, clip, f"Bake of {found.name}", person(request))
    return Status(201, BakeMade(clip=made.pk))


@router.get("/{uuid:document_id}/fit", response=FitView)
def read_fit(
    request: HttpRequest,
    document_id: UUID,
    figure: str,
    clip: UUID | None = None,
    group: UUID | None = None,
    part: str = "",
) -> FitView:
    """How a clip, or a figure's part in a group or another scene, fits a figure of the scene; as it was
    confirmed, if it was."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    member = scene.figure(figure)
    owner, _ = document(request, FIGURE.key, UUID(member.figure))
    made_for = UUID(_made_for(request, clip, group, part))
    skeleton = shelf.figure_of(document(request, FIGURE.key, made_for)[0])
    target = material.figure(member.figure)
    known = {fit.figure: fit.mapping for fit in member.fits}
    stored = known.get(str(made_for), target.spellings)
    return fit_view(owner, skeleton, target, fit(skeleton, target, stored))


def _made_for(request: HttpRequest, clip: UUID | None, group: UUID | None, part: str) -> str:
    """The id of the figure that a clip, or somebody's part in a group of stints, was made for."""
    if clip is not None:
        return shelf.clip_of(document(request, CLIP.key, clip)[0]).clip.figure
    if group is None:
        raise Refusal("Say which clip or which group is to be fitted.")
    found: str = opened(document(request, SCENE.key, group)[0]).document.figure(part).figure
    return found


@router.post("/{uuid:document_id}/join", response=JoinReport)
def read_join(request: HttpRequest, document_id: UUID, wanted: JoinWanted) -> JoinReport:
    """What the join before a stint does to the performance, and where that is worst."""
    now = _opened(request, document_id, wanted)
    return join_report(now.document, now.made_of, wanted.stint)


@router.post("/{uuid:document_id}/strands", response=Strands)
def read_strands(request: HttpRequest, document_id: UUID, wanted: StrandsWanted) -> Strands:
    """The picture of an elastic: its pins, its pace, and a thread for each source frame."""
    now = _opened(request, document_id, wanted)
    return strands_of_stint(now.document, wanted.stint, now.made_of)


@router.post("/{uuid:document_id}/join-map", response=None)
def read_join_map(request: HttpRequest, document_id: UUID, wanted: JoinMapWanted) -> HttpResponse:
    """Where a stint could meet the one before it: every pair of frames, and the best of them, as a
    frame pack."""
    now = _opened(request, document_id, wanted)
    scene, material = now.document, now.made_of
    found = search(scene, material, wanted.stint, ends_only=not wanted.whole)
    at, in_frame = now_at(scene, material, wanted.stint)
    arrays: dict[str, NDArray[Any]] = {
        "score": (found.found.score * 100).astype(np.float32),
        "out_frames": found.out_frames.astype(np.float32),
        "in_frames": found.in_frames.astype(np.float32),
        "out_feet": found.outgoing.feet.astype(np.uint8),
        "in_feet": found.incoming.feet.astype(np.uint8),
    }
    best = [
        {
            "at": place.at,
            "in_frame": place.in_frame,
            "score_cm": place.score_metres * 100,
            "planted": place.planted,
        }
        for place in found.best
    ]
    metadata = {
        "content": now.content,
        "best": json.dumps(best),
        "now": json.dumps({"at": at, "in_frame": in_frame}),
    }
    return pack_response(request, pack(arrays, metadata), passing=wanted.edit is not None)


@router.post("/{uuid:document_id}/join-pair", response=None)
def read_join_pair(request: HttpRequest, document_id: UUID, wanted: JoinPairWanted) -> HttpResponse:
    """Both poses of a place to join, laid on each other: a frame pack of two frames, the outgoing one's
    first, under the figure's name."""
    now = _opened(request, document_id, wanted)
    scene = now.document
    lane, _ = scene.find(wanted.stint)
    pair = pair_at(scene, now.made_of, wanted.stint, wanted.at, wanted.in_frame, wanted.plant)
    shown = FigureFrames(scene.figure(lane.figure), pair.motion, pair.placed)
    return pack_response(request, pack_frames([shown], {"content": now.content}), passing=True)


@router.post("/{uuid:document_id}/checks", response=list[LaneChecks])
def read_checks(request: HttpRequest, document_id: UUID, wanted: ChecksWanted) -> list[LaneChecks]:
    """The check strips: the frames of every lane of a body at which something is off."""
    found, _ = document(request, SCENE.key, document_id)
    now = opened(found, wanted.revision)
    scene, material = now.document, now.made_of
    end = min(wanted.end, scene.laid_frames)
    picked_frames(wanted.start, end)
    span = Span(wanted.start, end)
    return memory.made(
        ("checks", now.content, wanted.start, end),
        lambda: [
            LaneChecks(lane=lane.id, marks=marks_of(scene, material, lane, span))
            for lane in scene.lanes
            if lane.target.kind == "body" and end > wanted.start
        ],
        lambda checks: 1_000 + 400 * sum(len(lane.marks) for lane in checks),
    )


def _opened(
    request: HttpRequest, document_id: UUID, wanted: FramesWanted | JoinWanted | StrandsWanted
) -> Opened[Scene]:
    """The scene as it is to be looked at; as it would be after an edit only for those who could make
    it."""
    found, _ = document(request, SCENE.key, document_id, to_change=wanted.edit is not None)
    if wanted.edit is None:
        return opened(found, wanted.revision)
    return editing.preview(found, wanted.edit).opened


@router.get("/{uuid:document_id}/sheet", response=None)
def scene_sheet(request: HttpRequest, document_id: UUID, form: SheetForm) -> HttpResponseBase:
    """The scene's exposure sheet as it plays: as CSV, or on paper as PDF."""
    now = opened(document(request, SCENE.key, document_id)[0])
    return sheet_out(sheet_of_scene(now.document, now.made_of), form)


@router.get("/{uuid:document_id}/sound", response=None)
def hear_scene(
    request: HttpRequest,
    document_id: UUID,
    heard: str,
    piece: PieceNumber,
    revision: RevisionNumber | None = None,
) -> HttpResponse:
    """Ten seconds of all that is heard of the scene, as a FLAC file; `heard` is what the desk calls it, so
    that what is kept under this address never changes."""
    found, _ = document(request, SCENE.key, document_id)
    now = opened(found, revision)
    scene: Scene = now.document
    if heard != heard_stamp(scene):
        raise Refusal("The sound was changed meanwhile.")
    start = piece * sounds.CHUNK_SAMPLES
    count = max(0, min(sounds.CHUNK_SAMPLES, samples_in(scene) - start))
    if not count:
        raise Refusal("The scene is over by then.")
    heard_there = mixed(scene, SceneRecordings(now.made_of), start, count)
    return flac(written_flac(heard_there, HOUSE_RATE))


@router.get("/{uuid:document_id}/wav", response=None)
def export_sound(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """All that is heard of the scene, mixed, as a WAV file: it goes out as it is mixed."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    if heard_stamp(scene) is None:
        raise Refusal(f"“{scene.name}” has no sound.")
    recordings, length = SceneRecordings(material), samples_in(scene)

    def pieces() -> Iterator[Samples]:
        for start in range(0, length, sounds.CHUNK_SAMPLES):
            yield mixed(scene, recordings, start, min(sounds.CHUNK_SAMPLES, length - start))

    return download(wav_pieces(pieces(), length), f"{found.name}.wav", "audio/wav")


@router.get("/{uuid:document_id}/bvh", response=None)
def export_bvh(
    request: HttpRequest,
    document_id: UUID,
    figure: str | None = None,
    start: FrameNumber | None = None,
    end: FrameNumber | None = None,
) -> HttpResponseBase:
    """A figure's motion over the shown frames `[start, end)`, as a BVH file in metres; without one every
    figure's, in a zip."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    if figure is None:
        packed = scene_bvh_zip(scene, material, start, end)
        return download(packed, f"{found.name} BVH.zip", "application/zip")
    text = bvh.write(scene_bvh(scene, material, figure, start, end))
    name = f"{found.name} {scene.figure(figure).name}.bvh"
    return download(text, name, "text/plain; charset=utf-8")


@router.get("/{uuid:document_id}/places", response=None)
def export_places(
    request: HttpRequest,
    document_id: UUID,
    figure: str,
    start: FrameNumber | None = None,
    end: FrameNumber | None = None,
) -> HttpResponseBase:
    """Where a figure's joints are over the shown frames `[start, end)`, as a CSV table in metres."""
    out = _motion_out(request, document_id, figure, start, end)
    first = out.scene.first_frame if start is None else start
    positions = forward(out.figure, out.motion).positions
    table = places_csv(out.figure.names, positions, out.scene.rate, first)
    return download(table, f"{out.name}.csv", "text/csv; charset=utf-8")


@router.get("/{uuid:document_id}/gltf", response=None)
def export_gltf(
    request: HttpRequest,
    document_id: UUID,
    figure: str | None = None,
    start: FrameNumber | None = None,
    end: FrameNumber | None = None,
) -> HttpResponseBase:
    """A figure with its motion over the shown frames `[start, end)`, as glTF in metres; without one all
    figures, in one file."""
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    members = [
        GltfMember(
            one.name, material.figure(one.figure), scene_motion(scene, material, one.id, start, end)
        )
        for one in ([scene.figure(figure)] if figure else scene.figures)
    ]
    if not members:
        raise Refusal(f"There is no figure in “{scene.name}”.")
    name = f"{found.name} {members[0].name}" if figure else found.name
    return download(write_scene_glb(scene.name, scene.rate, members), f"{name}.glb", GLTF)


@dataclass(frozen=True)
class _MotionOut:
    """A figure's motion in a scene, on its way out."""

    name: str
    scene: Scene
    figure: Figure
    motion: Motion


def _motion_out(
    request: HttpRequest, document_id: UUID, figure: str, start: int | None, end: int | None
) -> _MotionOut:
    found, _ = document(request, SCENE.key, document_id)
    scene, material = _standing(found)
    member = scene.figure(figure)
    motion = scene_motion(scene, material, figure, start, end)
    name = f"{found.name} {member.name}"
    return _MotionOut(name, scene, material.figure(member.figure), motion)


@router.get("/{uuid:document_id}/file", response=None)
def export_scene(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """The scene with its figures and clips, as a scene file; with its sounds and the pictures of its mouths
    beside it, as a zip."""
    found, _ = document(request, SCENE.key, document_id)
    packed = _packed(found)
    if not packed.files:
        text = packed.scene.model_dump_json()
        return download(text, f"{found.name}.scene.json", "application/json")
    return download(write_scene_zip(packed), f"{found.name}.scene.zip", "application/zip")


@router.get("/{uuid:document_id}/timeline", response=None)
def export_timeline(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """The scene as an OpenTimelineIO timeline; with its sounds and pictures in it, as a zip."""
    found, _ = document(request, SCENE.key, document_id)
    packed = _packed(found)
    if not packed.files:
        return download(write_timeline(packed.scene), f"{found.name}.otio", "application/json")
    return download(write_otioz(packed), f"{found.name}.otioz", "application/zip")


def _packed(row: Document) -> PackedScene:
    """A scene as a file, with its sounds and the pictures that it shows."""
    held = scene_file(*_standing(row))
    files = sounds.files_of(row.production, held.sounds.values()) if held.sounds else {}
    drawn = {name: pictures.load(row.production, name).data for name in pictures_of(held)}
    return PackedScene(held, files | drawn)


def _standing(row: Document) -> tuple[Scene, Material]:
    now = opened(row)
    return now.document, now.made_of
