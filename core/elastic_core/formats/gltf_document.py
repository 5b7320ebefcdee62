"""glTF 2.0 as a document: what a file tells, and the numbers that it carries (ISO/IEC 12113:2022)."""

import base64
import binascii
import json
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..arrays import Array
from ..budget import take
from ..errors import Refusal

LARGEST_FILE_BYTES = 256 << 20
MOST_NODES = 10_000
_MAGIC, _JSON, _BINARY = b"glTF", 0x4E4F534A, 0x004E4942
_DATA = "base64,"
_WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
_KINDS = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
# A whole number of so many steps stands for 1 (3.11: normalized integers).
_STEPS = {5120: 127.0, 5121: 255.0, 5122: 32_767.0, 5123: 65_535.0}


@dataclass(frozen=True, eq=False)
class GltfDocument:
    """What a file tells, and its buffers."""

    told: dict[str, Any]
    buffers: tuple[bytes, ...]

    def all(self, name: str) -> list[dict[str, Any]]:
        """The entries of a list of the document; none where it has no such list."""
        found = self.told.get(name, [])
        if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
            raise _broken(f"its {name} are no list")
        return found

    def numbers(self, place: int) -> Array:
        """An accessor's numbers. [count, width] Raises Refusal for one that points outside its buffer."""
        told = _at(self.all("accessors"), place, "accessors")
        count, kind = told.get("count"), told.get("componentType")
        width = _WIDTHS.get(str(told.get("type")))
        if not isinstance(count, int) or count < 0 or kind not in _KINDS or width is None:
            raise _broken("an accessor is of no known kind")
        take(count * width)
        found: Array = np.zeros((count, width))
        if "bufferView" in told:
            found = self._block(told["bufferView"], told.get("byteOffset", 0), kind, count, width)
        if isinstance(sparse := told.get("sparse"), dict):
            found = self._with_sparse(found, sparse, kind, width)
        if told.get("normalized") and kind in _STEPS:
            found = np.maximum(found / _STEPS[kind], -1.0)
        if not np.isfinite(found).all():
            raise _broken("it holds numbers that are none")
        return found

    def _with_sparse(self, found: Array, told: dict[str, Any], kind: int, width: int) -> Array:
        try:
            count, places, values = told["count"], told["indices"], told["values"]
            start = places.get("byteOffset", 0)
            at = self._block(places["bufferView"], start, places["componentType"], count, 1)[:, 0]
            new = self._block(values["bufferView"], values.get("byteOffset", 0), kind, count, width)
            found = found.copy()
            found[at.astype(np.intp)] = new
        except (KeyError, TypeError, AttributeError, IndexError, ValueError):
            raise _broken("a sparse accessor is not whole") from None
        return found

    def _block(self, view: int, offset: int, kind: int, count: int, width: int) -> Array:
        told = _at(self.all("bufferViews"), view, "bufferViews")
        dtype = np.dtype(_KINDS[kind])
        row = dtype.itemsize * width
        start = told.get("byteOffset", 0) + offset
        stride = told.get("byteStride") or row
        data = _at(list(self.buffers), told.get("buffer"), "buffers")
        end = start + stride * (count - 1) + row if count else start
        if min(start, offset, stride - row) < 0 or end > len(data):
            raise _broken("an accessor points outside its buffer")
        rows = np.ndarray((count, width), dtype, data, start, (stride, dtype.itemsize))
        found: Array = rows.astype(np.float64)
        return found


def read_document(data: bytes) -> GltfDocument:
    """A GLB file, or a glTF file that carries its own numbers. Raises Refusal in one sentence for any other."""
    if len(data) > LARGEST_FILE_BYTES:
        raise Refusal(f"The file is larger than {LARGEST_FILE_BYTES >> 20} MB.")
    text, binary = _chunks(data) if data.startswith(_MAGIC) else (data, None)
    try:
        told = json.loads(text)
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError):
        raise Refusal("This is no glTF file: it cannot be read.") from None
    if not isinstance(told, dict) or not isinstance(told.get("asset"), dict):
        raise Refusal("This is no glTF file: it does not say what it is.")
    if not str(told["asset"].get("version", "")).startswith("2."):
        raise Refusal("This glTF file is of another version: bring one of version 2.")
    if needed := told.get("extensionsRequired"):
        raise Refusal(
            f"This glTF file needs {', '.join(map(str, needed))}, which is not read here."
        )
    document = GltfDocument(told, ())
    buffers = tuple(_buffer(one, binary) for one in document.all("buffers"))
    if len(document.all("nodes")) > MOST_NODES:
        raise Refusal(f"A file has {MOST_NODES:,} nodes at the most.")
    return GltfDocument(told, buffers)


def _chunks(data: bytes) -> tuple[bytes, bytes | None]:
    text, binary, at = b"", None, 12
    while at + 8 <= len(data):
        size, kind = struct.unpack_from("<II", data, at)
        chunk = data[at + 8 : at + 8 + size]
        if len(chunk) < size:
            raise Refusal("This glTF file is broken off: it cannot be read to its end.")
        if kind == _JSON and not text:
            text = chunk
        elif kind == _BINARY and binary is None:
            binary = chunk
        at += 8 + size
    return text, binary


def _buffer(told: dict[str, Any], binary: bytes | None) -> bytes:
    uri = told.get("uri")
    if uri is None:
        data = binary or b""
    elif isinstance(uri, str) and uri.startswith("data:") and _DATA in uri:
        try:
            data = base64.b64decode(uri.partition(_DATA)[2], validate=True)
        except (binascii.Error, ValueError):
            raise _broken("a buffer in it is not whole") from None
    else:
        raise Refusal(
            f"This glTF file keeps its numbers in another file, {str(uri)[:80]}: bring it as one GLB file."
        )
    if len(data) < told.get("byteLength", 0):
        raise Refusal("This glTF file is broken off: it cannot be read to its end.")
    return data


def _at(entries: list[Any], place: Any, name: str) -> Any:
    if not isinstance(place, int) or not 0 <= place < len(entries):
        raise _broken(f"it points at {name} that are not there")
    return entries[place]


def _broken(why: str) -> Refusal:
    return Refusal(f"This glTF file cannot be read: {why}.")
