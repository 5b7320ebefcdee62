"""Files as they were brought in."""

import hashlib
from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import islice

from django.db import connection, transaction

from accounts.models import Production

from .models import FileChunk, StoredFile

CHUNK_BYTES = 1 << 20
_CHUNKS_AT_ONCE = 4


def sha256_of(data: bytes) -> str:
    """The name that a file's bytes go by."""
    return hashlib.sha256(data).hexdigest()


def store(production: Production, name: str, data: bytes) -> StoredFile:
    """Keep a file; the same bytes are kept once for each production."""
    return store_pieces(production, name, lambda: [data])


def store_pieces(
    production: Production, name: str, pieces: Callable[[], Iterable[bytes]]
) -> StoredFile:
    """Keep a file that comes in pieces of any size; they are gone through twice: for its name first."""
    digest, size_bytes = hashlib.sha256(), 0
    for piece in pieces():
        digest.update(piece)
        size_bytes += len(piece)
    with transaction.atomic():
        file, new = StoredFile.objects.get_or_create(
            production=production,
            sha256=digest.hexdigest(),
            defaults={"name": name[:255], "size_bytes": size_bytes},
        )
        if new:
            chunks = _chunks(file, pieces())
            while few := list(islice(chunks, _CHUNKS_AT_ONCE)):
                FileChunk.objects.bulk_create(few)
    return file


def load(file: StoredFile) -> bytes:
    """A file's bytes."""
    return b"".join(pieces_of(file))


def pieces_of(file: StoredFile) -> Iterator[bytes]:
    """A file's bytes, a chunk at a time."""
    chunks = file.chunks.order_by("number").values_list("data", flat=True)
    for start in range(0, -(-file.size_bytes // CHUNK_BYTES), _CHUNKS_AT_ONCE):
        for chunk in chunks.filter(number__gte=start, number__lt=start + _CHUNKS_AT_ONCE):
            yield bytes(chunk)


# Each wanted piece of each chunk, in order: the database cuts them, so that no whole chunk travels.
_SLICES = """
    SELECT wanted.place, substring(chunk.data FROM wanted.first FOR wanted.count)
    FROM unnest(%s::int[], %s::int[], %s::int[], %s::int[]) WITH ORDINALITY
        AS wanted(place, number, first, count, position)
    JOIN library_filechunk chunk ON chunk.file_id = %s AND chunk.number = wanted.number
    ORDER BY wanted.position
"""


def slices(file: StoredFile, ranges: Sequence[tuple[int, int]]) -> list[bytes]:
    """Pieces `[start, end)` of a file's bytes, in one query."""
    cuts = [
        (place, number, max(0, start - number * CHUNK_BYTES) + 1, _length(number, start, end))
        for place, (start, end) in enumerate(ranges)
        for number in range(start // CHUNK_BYTES, -(-end // CHUNK_BYTES))
    ]
    found = [bytearray() for _ in ranges]
    with connection.cursor() as cursor:
        columns = [list(column) for column in zip(*cuts, strict=True)] or [[], [], [], []]
        cursor.execute(_SLICES, [*columns, file.pk])
        for place, data in cursor.fetchall():
            found[place] += data
    return [bytes(piece) for piece in found]


def _length(number: int, start: int, end: int) -> int:
    """How much of `[start, end)` lies in a chunk."""
    first = number * CHUNK_BYTES
    return min(end, first + CHUNK_BYTES) - max(start, first)


def _chunks(file: StoredFile, pieces: Iterable[bytes]) -> Iterator[FileChunk]:
    waiting, number = bytearray(), 0
    for piece in pieces:
        for start in range(0, len(piece), CHUNK_BYTES):
            waiting += piece[start : start + CHUNK_BYTES]
            while len(waiting) >= CHUNK_BYTES:
                yield FileChunk(file=file, number=number, data=bytes(waiting[:CHUNK_BYTES]))
                del waiting[:CHUNK_BYTES]
                number += 1
    if waiting:
        yield FileChunk(file=file, number=number, data=bytes(waiting))
