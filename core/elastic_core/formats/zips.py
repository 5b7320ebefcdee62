"""Zips of our own: written so that one state is one file, and read whole or not at all."""

import io
import zipfile
from collections.abc import Collection

from ..errors import Refusal

ZIP_START = b"PK\x03\x04"
# Written times would make two zips of one state differ.
_WRITTEN = (1980, 1, 1, 0, 0, 0)
_LARGEST_BYTES = 1 << 30
# What the library says of a zip that does not hold together.
BROKEN = (zipfile.BadZipFile, NotImplementedError, EOFError, OSError, RuntimeError, ValueError)


def entry_named(name: str, *, packed: bool = False) -> zipfile.ZipInfo:
    """An entry to be written; what is small already is not packed again."""
    entry = zipfile.ZipInfo(name, _WRITTEN)
    entry.compress_type = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
    return entry


def names_in(data: bytes) -> Collection[str]:
    """What a zip has in it; nothing where it is none."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return archive.namelist()
    except BROKEN:
        return ()


def unzipped(data: bytes) -> dict[str, bytes]:
    """All that is in a zip, by its names. Raises Refusal for what is broken, or larger than can be opened."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _LARGEST_BYTES:
                raise Refusal("What is packed in this file is larger than can be opened.")
            return {name: archive.read(name) for name in archive.namelist()}
    except BROKEN:
        raise Refusal("This zip file is broken: it cannot be read to its end.") from None


def file_name(wanted: str, otherwise: str) -> str:
    """A name that every file system takes, from what something is called."""
    plain = "".join("_" if letter in '/\\:*?"<>|' or letter < " " else letter for letter in wanted)
    return plain.strip(". ")[:80] or otherwise
