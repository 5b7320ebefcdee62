"""The capture stage: whether it is there, what it shows, and takes that are recorded from it."""

import struct
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from uuid import UUID

from django.http import Http404, HttpRequest, StreamingHttpResponse
from ninja import Router
from ninja.responses import Status

from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.formats.stage_lines import Doing, StageFrame, read_line
from elastic_core.motion import Motion
from elastic_core.scene.document import SceneFigure
from elastic_core.scene.evaluate import FigureFrames
from jobs.models import Job
from library import recording
from library.stage_line import Gone, StageLine, address

from .access import membership, person
from .jobs import job_view
from .schemas import JobView, RecordingView, RecordWanted, StageAsked, StageView

router = Router(tags=["stage"])
LIVE = "live"
# A stream is short, and asked for again: so who may not see it any more does not for long.
_STREAM_SECONDS = 4.0
MOST_WATCHING = 4
_places = threading.BoundedSemaphore(MOST_WATCHING)
# No more pictures than a screen shows.
_APART_S = 0.015
_LISTEN_S = 0.1


@router.get("/{uuid:production_id}/stage", response=StageView)
def read_stage(request: HttpRequest, production_id: UUID) -> StageView:
    """Whether a capture stage answers, who is captured, and the take that is being recorded."""
    member = membership(request, production_id)
    job = (
        member.production.jobs.filter(kind=recording.RECORD.key, state__in=Job.UNDER_WAY)
        .order_by("created")
        .first()
    )
    under_way = None
    if job is not None:
        row = member.production.recordings.filter(pk=job.wish["recording"]).first()
        under_way = (
            None if row is None else RecordingView(id=row.pk, begins=row.begins, job=job_view(job))
        )
    try:
        with StageLine() as line:
            doing = [
                read.move
                for told in line.arrived(_LISTEN_S)
                if isinstance(read := read_line(told, 0), Doing)
            ]
            greeting = line.greeting
            return StageView(
                address=address(),
                rate=greeting.rate,
                run=greeting.run,
                began=greeting.began,
                figure=greeting.figure.as_painted,
                doing=doing[-1] if doing else "",
                recording=under_way,
            )
    except (Refusal, Gone) as problem:
        says = str(problem) or "The stage has hung up."
        return StageView(address=address(), says=says, recording=under_way)


@router.get("/{uuid:production_id}/stage/live", response=None)
def stage_live(request: HttpRequest, production_id: UUID) -> StreamingHttpResponse:
    """What is captured now, for a few seconds: frame packs of one frame, each after its length in four
    bytes, the least first. A pack's `clock` is the stage's."""
    membership(request, production_id)
    line = StageLine()
    response = StreamingHttpResponse(_live(line), content_type="application/octet-stream")
    # Packed together they would wait for one another.
    response.headers["Content-Encoding"] = "identity"
    response.headers["Cache-Control"] = "no-store"
    return response


@router.post("/{uuid:production_id}/stage/asks", response=None)
def ask_stage(request: HttpRequest, production_id: UUID, wanted: StageAsked) -> None:
    """Ask who wears the suit for a move."""
    membership(request, production_id, to_change=True)
    try:
        with StageLine() as line:
            line.ask(wanted.move)
            # Whoever hangs up on a line at once may take back what was said.
            line.arrived(_LISTEN_S)
    except Gone:
        raise Refusal("The stage has hung up.") from None


@router.post("/{uuid:production_id}/stage/recordings", response={202: RecordingView})
def start_recording(
    request: HttpRequest, production_id: UUID, wanted: RecordWanted
) -> Status[RecordingView]:
    """Arm a take, which begins after the countdown."""
    member = membership(request, production_id, to_change=True)
    StageLine().close()
    row, job = recording.start(
        member.production,
        person(request),
        wanted.label,
        wanted.countdown_seconds,
        wanted.clip_rate,
        wanted.onto,
    )
    return Status(202, RecordingView(id=row.pk, begins=row.begins, job=job_view(job)))


@router.post("/{uuid:production_id}/stage/recordings/{uuid:recording_id}/stop", response=JobView)
def stop_recording(request: HttpRequest, production_id: UUID, recording_id: UUID) -> JobView:
    """Enough: what came becomes a take."""
    member = membership(request, production_id, to_change=True)
    job = member.production.jobs.filter(
        kind=recording.RECORD.key, wish__recording=str(recording_id)
    ).first()
    if job is None:
        raise Http404
    for row in member.production.recordings.filter(pk=recording_id):
        recording.stop(row)
    return job_view(job)


def _live(line: StageLine) -> Iterator[bytes]:
    figure, last = line.greeting.figure, time.monotonic() + _STREAM_SECONDS
    joints, shown = len(figure.joints), -1.0
    with line, _watching() as may_watch:
        while may_watch and time.monotonic() < last:
            try:
                lines = line.arrived(_LISTEN_S)
            except Gone:
                return
            newest = max(
                (f for told in lines if isinstance(f := read_line(told, joints), StageFrame)),
                key=lambda frame: frame.clock,
                default=None,
            )
            # A frame that comes late shows what was, and no longer is.
            if newest is not None and newest.clock > shown:
                shown = newest.clock
                packed = _packed(figure, newest)
                yield struct.pack("<I", len(packed)) + packed
                time.sleep(_APART_S)


@contextmanager
def _watching() -> Iterator[bool]:
    """Whether one more may watch: each holds a thread that others could be answered by."""
    may_watch = _places.acquire(blocking=False)
    try:
        yield may_watch
    finally:
        if may_watch:
            _places.release()


def _packed(figure: Figure, frame: StageFrame) -> bytes:
    motion = Motion.from_root(frame.root[None], frame.turns[None])
    placed = forward(figure, motion)
    member = SceneFigure(id=LIVE, name=figure.name, figure="")
    told = {"clock": repr(frame.clock), "frame": str(frame.number)}
    return pack_frames([FigureFrames(member, motion, placed)], told)
