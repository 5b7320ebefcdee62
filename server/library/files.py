"""Files as they were brought in."""

import hashlib
from collections.abc import Iterable

from django.db import transaction

from accounts.models import Production

from .models import FileChunk, StoredFile

CHUNK_BYTES = 1 << 20


def store(production: Production, name: str, data: bytes) -> StoredFile:
    """Keep a file; the same bytes are kept once for each production."""
    sha256 = hashlib.sha256(data).hexdigest()
    with transaction.atomic():
        file, new = StoredFile.objects.get_or_create(
            production=production,
            sha256=sha256,
            defaults={"name": name[:255], "size_bytes": len(data)},
        )
        if new:
            FileChunk.objects.bulk_create(_chunks(file, data), batch_size=16)
    return file


def load(file: StoredFile) -> bytes:
    """A file's bytes."""
    chunks = file.chunks.order_by("number").values_list("data", flat=True)
    return b"".join(bytes(chunk) for chunk in chunks)


def _chunks(file: StoredFile, data: bytes) -> Iterable[FileChunk]:
    for number, start in enumerate(range(0, len(data), CHUNK_BYTES)):
        yield FileChunk(file=file, number=number, data=data[start : start + CHUNK_BYTES])
