"""Clips, as the bench shows them: joints and keys, edits, frames, curves."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.responses import Status

from documents import editing
from documents.kinds import Opened
from documents.models import Document
from documents.opening import opened
from elastic_core.clip.document import Clip
from elastic_core.clip.fitted_keys import fitted_keys, joints_with_keys
from elastic_core.clip.new import baked_frames, blank, from_motion, from_pose
from elastic_core.clip.numbers import PoseNumber, numbers_of
from elastic_core.clip.traces import Trace, traces_of
from elastic_core.clip.view import bench_of
from elastic_core.clock import Rate
from elastic_core.cycle.starter import PRESETS, preset
from elastic_core.cycle.travel import in_place
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.fit import fit
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.moments import source
from elastic_core.scene.document import SceneFigure
from elastic_core.scene.evaluate import FigureFrames, figure_motion
from library import shelf
from library.kinds import CLIP, FIGURE
from scenes.kinds import SCENE

from .access import document, membership, person
from .library import clip_card
from .packs import pack_response, picked_frames
from .rooms import Room, routes_of
from .schemas import (
    BenchOutcome,
    BenchView,
    ClipCard,
    ClipEditWanted,
    ClipFramesWanted,
    FitKeysWanted,
    FittedKeysView,
    GaitCard,
    NewClip,
    NumbersWanted,
    TracesWanted,
    UsedIn,
)

makers = Router(tags=["clip"])
FIGURE_ON_BENCH = "figure"


def _shown(row: Document, now: Opened[Clip], known: Opened[Clip] | None) -> dict[str, Any]:
    uses = row.used_in.filter(document__kind=SCENE.key).order_by("document__name")
    return {
        "bench": bench_of(now.made_of, None if known is None else known.made_of),
        "used_in": [
            UsedIn(id=pk, name=name)
            for pk, name in uses.values_list("document_id", "document__name")
        ],
    }


def _told(edited: Any) -> dict[str, Any]:
    chosen = None if edited is None or edited.chosen is None else dict(edited.chosen)
    return {"chosen": chosen}


ROOM = Room(
    kind=CLIP,
    view=BenchView,
    shown=_shown,
    wanted=ClipEditWanted,
    outcome=BenchOutcome,
    told=_told,
)
router = routes_of(ROOM)


@router.post("/{uuid:document_id}/poses", response=None)
def clip_poses(request: HttpRequest, document_id: UUID, wanted: ClipFramesWanted) -> HttpResponse:
    """A frame pack of the clip's frames; a cycle goes on before its start and beyond its end."""
    now = _opened(request, document_id, wanted)
    picked = picked_frames(wanted.start, wanted.end)
    figure = now.made_of.figure
    motion = now.made_of.playable.at(source(picked))
    if wanted.in_place:
        motion = in_place(motion)
    member = SceneFigure(id=FIGURE_ON_BENCH, name=figure.name, figure="")
    shown = FigureFrames(member, motion, forward(figure, motion))
    metadata = {"content": now.content, "start": str(wanted.start)}
    packed = pack_frames([shown], metadata)
    return pack_response(request, packed, passing=wanted.edit is not None)


@router.post("/{uuid:document_id}/traces", response=list[Trace])
def read_traces(request: HttpRequest, document_id: UUID, wanted: TracesWanted) -> list[Trace]:
    """Curves' values and their rates of change, a few a frame, before their start and beyond."""
    now = _opened(request, document_id, wanted)
    return traces_of(now.made_of, wanted.channels, wanted.start, wanted.end)


@router.post("/{uuid:document_id}/numbers", response=list[PoseNumber])
def read_numbers(
    request: HttpRequest, document_id: UUID, wanted: NumbersWanted
) -> list[PoseNumber]:
    """What the channels of some joints stand at, at one frame."""
    made = _opened(request, document_id, wanted).made_of
    known = [joint for joint in wanted.joints if joint in made.figure.names]
    return numbers_of(made, wanted.frame, known)


@router.post("/{uuid:document_id}/fit-keys", response=FittedKeysView)
def fit_keys(request: HttpRequest, document_id: UUID, wanted: FitKeysWanted) -> FittedKeysView:
    """Keys of another figure as this clip's figure plays them (rule 2.4); nothing is saved."""
    found, _ = document(request, CLIP.key, document_id, to_change=True)
    owner, _ = document(request, FIGURE.key, wanted.figure)
    source, figure = shelf.figure_of(owner), shelf.made_of(found).figure
    mapping = wanted.mapping
    if mapping is None:
        mapping = fit(source, figure, figure.spellings).mapping()
    fitted = fitted_keys(source, figure, wanted.keys, mapping)
    return FittedKeysView(
        figure_name=source.name,
        joints=joints_with_keys(source, wanted.keys),
        mapping=mapping,
        keys=fitted.keys,
        left_out=list(fitted.left_out),
        notes=list(fitted.notes),
    )


@router.get("/{uuid:document_id}/gaits", response=list[GaitCard])
def read_gaits(request: HttpRequest, document_id: UUID) -> list[GaitCard]:
    """Our gaits in the size of the clip's figure."""
    found, _ = document(request, CLIP.key, document_id)
    figure = shelf.made_of(found).figure
    return [GaitCard(name=name, gait=preset(name, figure)) for name in PRESETS]


@makers.post("/{uuid:production_id}/new-clips", response={201: ClipCard})
def new_clip(request: HttpRequest, production_id: UUID, wanted: NewClip) -> Status[ClipCard]:
    """A clip from blank paper, from a pose or a range of another clip, or from a range of a scene."""
    member = membership(request, production_id, to_change=True)
    clip, label = _made_new(request, production_id, wanted)
    made = editing.create(CLIP, member.production, clip, label, person(request))
    return Status(201, clip_card(made))


def _source(request: HttpRequest, production_id: UUID, kind: str, wanted: NewClip) -> Document:
    """What a new clip is made from: of the same production, or its figure would be missing."""
    if wanted.of is None:
        raise Refusal("Say what the clip is to be made from.")
    found, _ = document(request, kind, wanted.of)
    if found.production_id != production_id:
        raise Refusal(f"“{found.name}” belongs to another production.")
    return found


def _made_new(request: HttpRequest, production_id: UUID, wanted: NewClip) -> tuple[Clip, str]:
    if wanted.source == "scene":
        found = _source(request, production_id, SCENE.key, wanted)
        staged = opened(found)
        scene, material = staged.document, staged.made_of
        member = scene.figure(wanted.scene_figure or "")
        figure = material.figure(member.figure)
        end = min(wanted.end or scene.played_frames, scene.played_frames)
        frames = baked_frames(figure, wanted.start, end)
        motion = figure_motion(scene, material, member, frames)
        clip = from_motion(figure, member.figure, wanted.name, scene.rate, motion, wanted.colour)
        return clip, f"Bake {member.name} of {scene.name}"
    if wanted.source in ("pose", "range"):
        found = _source(request, production_id, CLIP.key, wanted)
        made = shelf.made_of(found)
        playable = made.playable
        if wanted.source == "range":
            end = wanted.end or made.clip.length_frames
            frames = baked_frames(made.figure, wanted.start, end)
            clip = from_motion(
                made.figure,
                made.clip.figure,
                wanted.name,
                made.clip.rate,
                playable.at(source(frames)),
                wanted.colour,
            )
            return clip, f"Bake frames {wanted.start} to {end - 1} of {made.clip.name}"
        empty = _blank(made.clip.figure, made.figure, wanted, made.clip.rate)
        pose = playable.at(source([float(wanted.start)]))
        return from_pose(made.figure, empty, pose), f"Pose {wanted.start} of {made.clip.name}"
    found = _source(request, production_id, FIGURE.key, wanted)
    figure = shelf.figure_of(found)
    empty = _blank(str(found.pk), figure, wanted, wanted.rate)
    if wanted.source == "rest":
        return from_pose(figure, empty, figure.rest_motion), f"Rest pose of {figure.name}"
    return empty, f"New clip {wanted.name}"


def _blank(figure_id: str, figure: Figure, wanted: NewClip, rate: Rate) -> Clip:
    clip = blank(
        figure, figure_id, wanted.name, rate, wanted.length_frames, is_cycle=wanted.is_cycle
    )
    return clip.model_copy(update={"colour": wanted.colour})


def _opened(
    request: HttpRequest,
    document_id: UUID,
    wanted: ClipFramesWanted | TracesWanted | NumbersWanted,
) -> Opened[Clip]:
    """The clip as it is to be looked at; as it would be after an edit only for those who could make it."""
    would_change = wanted.edit is not None
    found, _ = document(request, CLIP.key, document_id, to_change=would_change)
    if wanted.edit is None:
        return opened(found, wanted.revision)
    return editing.preview(found, wanted.edit).opened
