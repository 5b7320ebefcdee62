"""Sounds: brought in, looked at, and heard."""

from uuid import UUID, uuid4

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile
from ninja.responses import Status

from documents.models import Document
from documents.opening import document_of
from elastic_core.errors import Refusal
from elastic_core.formats.frame_pack import pack
from elastic_core.formats.sound_file import flac_of, form_of, written_flac
from elastic_core.sound.document import HOUSE_RATE, Sound
from elastic_core.sound.peaks import SAMPLES_A_PEAK
from elastic_core.sound.stretching import stretched
from jobs.asking import ask
from library import files, sounds
from library.kinds import SOUND

from .access import document, membership, person
from .doors import MayBringIn
from .jobs import job_view
from .library import sound_card
from .packs import pack_response
from .schemas import JobView, Pace, PieceNumber, SoundCard

router = Router(tags=["sounds"])
items = Router(tags=["sounds"])
LARGEST_BYTES = 256 << 20
sound_door = MayBringIn(lambda: LARGEST_BYTES)


@router.post(
    "/{uuid:production_id}/sounds", auth=sound_door, response={201: SoundCard, 202: JobView}
)
def bring_in_sound(
    request: HttpRequest, production_id: UUID, upload: File[UploadedFile]
) -> Status[SoundCard] | Status[JobView]:
    """A WAV, AIFF, FLAC, OGG, MP3 or M4A file becomes a sound; a large one by a job."""
    member = membership(request, production_id, to_change=True)
    size_bytes = sound_door.taken(upload).size or 0
    production, name = member.production, upload.name or "sound"
    if size_bytes > sounds.LIGHT_BYTES:
        form_of(next(iter(upload.chunks())), name)
        kept = files.store_pieces(production, name, upload.chunks)
        wish = sounds.BringInSound(file=kept.sha256, file_name=name[-120:], token=uuid4().hex)
        return Status(
            202, job_view(ask(sounds.BRING_IN_SOUND, production, person(request), name, wish))
        )
    made = sounds.bring_in(production, name, upload.read(), person(request))
    return Status(201, sound_card(Document.objects.get(pk=made.pk)))


@items.get("/sounds/{uuid:document_id}/peaks", response=None)
def read_peaks(request: HttpRequest, document_id: UUID) -> HttpResponse:
    """A sound's picture: the least and the greatest value of each bin, as a frame pack."""
    sound = _sound(request, document_id)
    found = np.frombuffer(sounds.peaks(sound), dtype=np.uint8).reshape(-1, 2)
    told = {"seconds_a_peak": repr(SAMPLES_A_PEAK / HOUSE_RATE), "seconds": repr(sound.seconds)}
    return _lasting(pack_response(request, pack({"peaks": found}, told)))


@items.get("/sounds/{uuid:document_id}/heard", response=None)
def hear_sound(
    request: HttpRequest, document_id: UUID, piece: PieceNumber | None = None, pace: Pace = 1.0
) -> HttpResponse:
    """A whole sound, as a FLAC file at the house rate; or one ten seconds of it, by their number, at another
    pace and with the pitch it has."""
    kept = sounds.kept(_sound(request, document_id))
    if piece is None:
        return flac(flac_of(kept.pieces(), kept.channels, HOUSE_RATE))
    start = piece * sounds.CHUNK_SAMPLES
    count = min(sounds.CHUNK_SAMPLES, kept.count - start)
    if count <= 0:
        raise Refusal("The sound is over by then.")
    samples = kept.samples(start, count)
    return flac(written_flac(stretched(samples, round(count / pace)), HOUSE_RATE))


def flac(data: bytes) -> HttpResponse:
    """A FLAC file as an answer. What it is named by never changes."""
    return _lasting(HttpResponse(data, content_type="audio/flac"))


def _lasting(response: HttpResponse) -> HttpResponse:
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def _sound(request: HttpRequest, document_id: UUID) -> Sound:
    found: Sound = document_of(document(request, SOUND.key, document_id)[0])
    return found
