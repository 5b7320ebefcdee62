"""The bench: one clip's joints and keys, edits, frames, curves."""

from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.responses import Status

from accounts.models import Membership
from documents import history
from documents.models import Document
from elastic_core.clip.document import Clip
from elastic_core.clip.fitted_keys import fitted_keys, joints_with_keys
from elastic_core.clip.new import blank, from_motion, from_pose
from elastic_core.clip.numbers import PoseNumber, numbers_of
from elastic_core.clip.traces import Trace, traces_of
from elastic_core.clip.view import bench_of
from elastic_core.clock import Rate, parse_rate
from elastic_core.cycle.starter import PRESETS, preset
from elastic_core.cycle.travel import in_place
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.fit import fit
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.moments import source
from elastic_core.scene.document import SceneFigure
from elastic_core.scene.evaluate import FigureFrames, frames_of
from library import clips, shelf
from scenes import stage

from .access import document, membership, person
from .heads import head_of
from .library import clip_card
from .schemas import (
    BenchOutcome,
    BenchView,
    ClipCard,
    ClipEditWanted,
    ClipFramesWanted,
    DocumentHead,
    FitKeysWanted,
    FittedKeysView,
    GaitCard,
    GoBackWanted,
    NewClip,
    NumbersWanted,
    Problem,
    StepWanted,
    TracesWanted,
    UsedIn,
)

router = Router(tags=["bench"])
makers = Router(tags=["bench"])
MOST_FRAMES = 4096
FIGURE = "figure"


@router.get("/{clip_id}", response={200: BenchView, 404: Problem, 422: Problem})
def read_clip(request: HttpRequest, clip_id: UUID, revision: int | None = None) -> BenchView:
    """The clip that stands, or one of its revisions, as the bench shows it."""
    found, member = document(request, Document.Kind.CLIP, clip_id)
    return _view(found, member, clips.opened(found, revision), revision)


@router.get("/{clip_id}/head", response={200: DocumentHead, 404: Problem})
def read_clip_head(request: HttpRequest, clip_id: UUID) -> DocumentHead:
    """Which revision stands."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    return head_of(found)


@router.post(
    "/{clip_id}/edits", response={200: BenchOutcome, 404: Problem, 409: Problem, 422: Problem}
)
def edit_clip(request: HttpRequest, clip_id: UUID, wanted: ClipEditWanted) -> BenchOutcome:
    """Make an edit, or with `preview` say what it would give."""
    found, member = document(request, Document.Kind.CLIP, clip_id, to_change=True)
    if wanted.preview:
        history.check_stands(found, wanted.base_revision)
        opened, edited = clips.preview(found, wanted.edit)
    else:
        found, opened, edited = clips.save_edit(
            found, wanted.edit, wanted.base_revision, person(request), wanted.token
        )
    return BenchOutcome(
        clip=_view(found, member, opened),
        label=edited.label,
        notes=list(edited.notes),
        chosen=None if edited.chosen is None else dict(edited.chosen),
    )


@router.post("/{clip_id}/undo", response={200: BenchView, 404: Problem, 409: Problem, 422: Problem})
def undo_clip(request: HttpRequest, clip_id: UUID, wanted: StepWanted) -> BenchView:
    """Back one step."""
    return _walk(request, clip_id, wanted, forward=False)


@router.post("/{clip_id}/redo", response={200: BenchView, 404: Problem, 409: Problem, 422: Problem})
def redo_clip(request: HttpRequest, clip_id: UUID, wanted: StepWanted) -> BenchView:
    """Forward one step."""
    return _walk(request, clip_id, wanted, forward=True)


@router.post(
    "/{clip_id}/go-back", response={200: BenchView, 404: Problem, 409: Problem, 422: Problem}
)
def go_back_clip(request: HttpRequest, clip_id: UUID, wanted: GoBackWanted) -> BenchView:
    """An earlier revision stands again, as a new step."""
    found, member = document(request, Document.Kind.CLIP, clip_id, to_change=True)
    held = clips.go_back(found, wanted.revision, wanted.base_revision, person(request))
    return _view(held, member, clips.opened(held))


@router.post("/{clip_id}/poses", response={200: None, 404: Problem, 422: Problem})
def clip_poses(request: HttpRequest, clip_id: UUID, wanted: ClipFramesWanted) -> HttpResponse:
    """A frame pack of the clip's frames; a cycle goes on before its start and beyond its end."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    opened = _opened(found, wanted)
    picked = np.arange(wanted.start, wanted.end, dtype=np.float64)
    if len(picked) > MOST_FRAMES:
        raise Refusal(f"Ask for {MOST_FRAMES} frames at a time at the most.")
    figure = opened.made.figure
    motion = opened.made.playable.at(source(picked))
    if wanted.in_place:
        motion = in_place(motion)
    member = SceneFigure(id=FIGURE, name=figure.name, figure="")
    shown = FigureFrames(member, motion, forward(figure, motion))
    metadata = {"content": opened.content, "start": str(wanted.start)}
    packed = pack_frames([shown], metadata)
    return HttpResponse(packed, content_type="application/octet-stream")


@router.post("/{clip_id}/traces", response={200: list[Trace], 404: Problem, 422: Problem})
def read_traces(request: HttpRequest, clip_id: UUID, wanted: TracesWanted) -> list[Trace]:
    """Curves' values and their rates of change, a few a frame, before their start and beyond."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    opened = _opened(found, wanted)
    return traces_of(opened.made, wanted.channels, wanted.start, wanted.end)


@router.post("/{clip_id}/numbers", response={200: list[PoseNumber], 404: Problem, 422: Problem})
def read_numbers(request: HttpRequest, clip_id: UUID, wanted: NumbersWanted) -> list[PoseNumber]:
    """What the channels of some joints stand at, at one frame."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    made = _opened(found, wanted).made
    known = [joint for joint in wanted.joints if joint in made.figure.names]
    return numbers_of(made, wanted.frame, known)


@router.post("/{clip_id}/fit-keys", response={200: FittedKeysView, 404: Problem, 422: Problem})
def fit_keys(request: HttpRequest, clip_id: UUID, wanted: FitKeysWanted) -> FittedKeysView:
    """Keys of another figure as this clip's figure plays them (rule 2.4); nothing is saved."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    owner, _ = document(request, Document.Kind.FIGURE, wanted.figure)
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


@router.get("/{clip_id}/gaits", response={200: list[GaitCard], 404: Problem})
def read_gaits(request: HttpRequest, clip_id: UUID) -> list[GaitCard]:
    """Our gaits in the size of the clip's figure."""
    found, _ = document(request, Document.Kind.CLIP, clip_id)
    figure = shelf.made_of(found).figure
    return [GaitCard(name=name, gait=preset(name, figure)) for name in PRESETS]


@makers.post("/{production_id}/new-clips", response={201: ClipCard, 404: Problem, 422: Problem})
def new_clip(request: HttpRequest, production_id: UUID, wanted: NewClip) -> Status[ClipCard]:
    """A clip from blank paper, from a pose or a range of another clip, or from a range of a scene."""
    member = membership(request, production_id, to_change=True)
    clip, label = _made_new(request, production_id, wanted)
    made = clips.create(member.production, clip, person(request), label)
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
        found = _source(request, production_id, Document.Kind.SCENE, wanted)
        staged = stage.standing(found)
        scene = staged.scene
        member = scene.figure(wanted.scene_figure or "")
        end = min(wanted.end or scene.played_frames, scene.played_frames)
        frames = np.arange(wanted.start, end, dtype=np.float64)
        shown = next(
            f for f in frames_of(scene, staged.material, frames) if f.figure.id == member.id
        )
        figure = staged.material.figure(member.figure)
        clip = from_motion(
            figure, member.figure, wanted.name, scene.rate, shown.motion, wanted.colour
        )
        return clip, f"Bake {member.name} of {scene.name}"
    if wanted.source in ("pose", "range"):
        found = _source(request, production_id, Document.Kind.CLIP, wanted)
        made = shelf.made_of(found)
        playable = made.playable
        if wanted.source == "range":
            end = wanted.end or made.clip.length_frames
            frames = np.arange(wanted.start, end, dtype=np.float64)
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
    found = _source(request, production_id, Document.Kind.FIGURE, wanted)
    figure = shelf.figure_of(found)
    empty = _blank(str(found.pk), figure, wanted, parse_rate(wanted.rate))
    if wanted.source == "rest":
        return from_pose(figure, empty, figure.rest_motion), f"Rest pose of {figure.name}"
    return empty, f"New clip {wanted.name}"


def _blank(figure_id: str, figure: Figure, wanted: NewClip, rate: Rate) -> Clip:
    clip = blank(
        figure, figure_id, wanted.name, rate, wanted.length_frames, is_cycle=wanted.is_cycle
    )
    return clip.model_copy(update={"colour": wanted.colour})


def _walk(request: HttpRequest, clip_id: UUID, wanted: StepWanted, *, forward: bool) -> BenchView:
    found, member = document(request, Document.Kind.CLIP, clip_id, to_change=True)
    held = clips.walk(found, wanted.base_revision, forward=forward)
    return _view(held, member, clips.opened(held))


def _opened(
    found: Document, wanted: ClipFramesWanted | TracesWanted | NumbersWanted
) -> clips.Opened:
    if wanted.edit is None:
        return clips.opened(found, wanted.revision)
    return clips.preview(found, wanted.edit)[0]


def _view(
    row: Document, member: Membership, opened: clips.Opened, revision: int | None = None
) -> BenchView:
    """What the page shows; an earlier revision can be looked at, and not changed."""
    steps = history.steps(row)
    stands = revision is None or revision == row.head
    uses = row.used_in.select_related("scene").order_by("scene__name")
    return BenchView(
        id=row.pk,
        production=row.production_id,
        production_name=row.production.name,
        name=opened.made.clip.name,
        revision=row.head if revision is None else revision,
        head=row.head,
        content=opened.content,
        may_change=member.may_change and stands,
        undo=steps.undo,
        redo=steps.redo,
        bench=bench_of(opened.made),
        used_in=[UsedIn(id=use.scene_id, name=use.scene.name) for use in uses],
    )
