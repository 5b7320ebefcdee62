"""Sounds as they are heard: decoded once, kept in pieces of ten seconds, and read by window."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from pydantic import BaseModel

from accounts.models import Production
from documents import editing
from documents.memory import memory
from documents.models import Document
from elastic_core.errors import Refusal
from elastic_core.formats.sound_file import (
    form_of,
    name_of_sound,
    read_flac,
    read_sound,
    written_flac,
)
from elastic_core.names import Name
from elastic_core.sound.document import HOUSE_RATE, Sound
from elastic_core.sound.peaks import peaks_of
from elastic_core.sound.samples import Samples
from jobs.kinds import JobKind
from jobs.models import Job
from jobs.running import Run

from . import files
from .kinds import SOUND
from .models import SoundBlock, SoundChunk, StoredFile
from .reading import stored

# A file up to this size is decoded in less time than it takes to ask a worker.
LIGHT_BYTES = 4 << 20
CHUNK_SAMPLES = 10 * HOUSE_RATE
_SAMPLE_BYTES = 4
Progress = Callable[[int, int, str], None]


def _untold(figure: int, of: int, unit: str) -> None:
    pass


def bring_in(production: Production, file_name: str, data: bytes, author: User) -> Document:
    """A sound file as a sound of the production. Raises Refusal for what cannot be read."""
    sound = decoded(data, file_name)
    with transaction.atomic():
        files.store(production, file_name, data)
        return shelved(production, sound, author)


def decoded(data: bytes, file_name: str, progress: Progress = _untold) -> Sound:
    """What a file holds, its samples kept; the same bytes are decoded once. Raises Refusal as reading does."""
    form_of(data, file_name)
    name = files.sha256_of(data)
    kept = SoundBlock.objects.filter(pk=name).first() or _decode(name, data, file_name, progress)
    return Sound(
        name=name_of_sound(file_name),
        file=name,
        form=kept.form,
        rate_hz=kept.rate_hz,
        channels=kept.channels,
        samples=kept.samples,
    )


def _decode(name: str, data: bytes, file_name: str, progress: Progress) -> SoundBlock:
    read = read_sound(data, file_name)
    starts = range(0, len(read.samples), CHUNK_SAMPLES)
    chunks = []
    for number, start in enumerate(starts):
        piece = read.samples[start : start + CHUNK_SAMPLES]
        chunks.append(written_flac(piece, HOUSE_RATE, fine=True))
        progress(number + 1, len(starts), "pieces of ten seconds")
    with transaction.atomic():
        block, is_new = SoundBlock.objects.get_or_create(
            sha256=name,
            defaults={
                "form": read.form,
                "rate_hz": read.rate_hz,
                "channels": read.channels,
                "samples": len(read.samples),
                "heard_channels": read.samples.shape[1],
                "peaks": peaks_of(read.samples).tobytes(),
            },
        )
        if is_new:
            rows = (SoundChunk(block=block, number=k, data=chunk) for k, chunk in enumerate(chunks))
            SoundChunk.objects.bulk_create(rows, batch_size=4)
    return block


def known(production: Production, sound: Sound) -> Document | None:
    """The same sound under the same name, where it is on the shelf."""
    for row in production.documents.filter(kind=SOUND.key, name=sound.name, archived=False):
        if row.facts.get("file") == sound.file:
            return row
    return None


def shelved(production: Production, sound: Sound, author: User | None) -> Document:
    """The sound on the shelf: the one that is there under its name, or a new one."""
    there = known(production, sound)
    if there is not None:
        return there
    return editing.create(SOUND, production, sound, f"Bring in {sound.name}", author)


@dataclass(frozen=True)
class KeptSound:
    """A decoded sound that stays in the database: its samples are read by window."""

    file: str
    count: int
    channels: int

    def samples(self, start: int, count: int) -> Samples:
        """Samples `[start, start + count)`, silence beyond both ends. [count, 1 or 2]"""
        window = np.zeros((count, self.channels), dtype=np.float32)
        low, high = max(0, start), min(self.count, start + count)
        numbers = range(low // CHUNK_SAMPLES, -(-high // CHUNK_SAMPLES)) if low < high else ()
        found = {k: memory.get(("sound", self.file, k)) for k in numbers}
        missing = [number for number, chunk in found.items() if chunk is None]
        if missing:
            kept = SoundChunk.objects.filter(block=self.file, number__in=missing)
            for number, data in kept.values_list("number", "data"):
                chunk = read_flac(bytes(data))
                found[number] = memory.put(("sound", self.file, number), chunk, chunk.nbytes)
        for number, chunk in found.items():
            first = number * CHUNK_SAMPLES
            here, over = max(low, first), min(high, first + len(chunk))
            window[here - start : over - start] = chunk[here - first : over - first]
        return window

    def pieces(self) -> Iterator[Samples]:
        """All of it, ten seconds at a time."""
        for start in range(0, self.count, CHUNK_SAMPLES):
            yield self.samples(start, min(CHUNK_SAMPLES, self.count - start))


def kept(sound: Sound) -> KeptSound:
    """A sound's samples. Raises Refusal where they are missing."""
    return KeptSound(sound.file, sound.samples, _block(sound).heard_channels)


def peaks(sound: Sound) -> bytes:
    """A sound's picture, as `peaks_of` gives it. Raises Refusal where it is missing."""
    return bytes(SoundBlock.objects.values_list("peaks", flat=True).get(pk=_block(sound).pk))


def files_of(production: Production, wanted: Iterable[Sound]) -> dict[str, bytes]:
    """Sound files as they were brought in, by their names. Raises Refusal where one is missing."""
    return {sound.file: files.load(stored(production, sound.file)) for sound in wanted}


def _block(sound: Sound) -> SoundBlock:
    def read() -> SoundBlock | None:
        return SoundBlock.objects.defer("peaks").filter(pk=sound.file).first()

    found: SoundBlock | None = memory.made(("sound", sound.file), read, lambda block: 0)
    if found is None:
        raise Refusal(f"The samples of “{sound.name}” are missing.")
    return found


class BringInSound(BaseModel):
    """A kept file, by its name, that is to become a sound; `token` names the wish."""

    file: str
    file_name: Name
    token: str


def bring_in_kept(run: Run, wish: BringInSound) -> None:
    """Decode a kept file and shelve it, as a job."""
    data = files.load(stored(run.production, wish.file))
    run.progress(0, 1, "file read")
    sound = decoded(data, wish.file_name, run.progress)
    with run.closing():
        made = shelved(run.production, sound, run.person)
        run.outcome = {"sound": str(made.pk), "says": [f"{made.name} is in the library."]}


def _forget(job: Job, wish: BringInSound) -> None:
    """A file that is no sound, or is not wanted any more, is not kept."""
    if job.state in Job.UNDER_WAY or SoundBlock.objects.filter(pk=wish.file).exists():
        return
    StoredFile.objects.filter(
        production=job.production, sha256=wish.file, motion_index=None
    ).delete()


BRING_IN_SOUND = JobKind("bring in sound", BringInSound, bring_in_kept, _forget)
