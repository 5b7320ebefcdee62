"""The kinds of documents: what each of them is, told once, where its app starts.

Reading, saving, undoing, histories, uses, the library's columns and the routes are made from this.
A worked example of a new kind is in docs/a-new-kind.md.
"""

import hashlib
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Generic, Protocol, TypeVar

from pydantic import BaseModel

from .models import Document

if TYPE_CHECKING:
    from .opening import Shelf

D = TypeVar("D")
E = TypeVar("E")


class Edited(Protocol):
    """What came of an edit, as the core tells it."""

    @property
    def label(self) -> str: ...

    @property
    def notes(self) -> tuple[str, ...]: ...


@dataclass(frozen=True)
class Facts:
    """What the library tells of a document, and may search by."""

    figure: str | None = None
    rate: str = ""
    length_frames: int | None = None
    grade: str = ""
    rest: Mapping[str, Any] = field(default_factory=dict)
    thumbnail: bytes = b""


@dataclass(frozen=True)
class Opened(Generic[D]):
    """A document of one kind with all that it takes to show it and to work on it.

    `made_of` is what it plays from, of the kind's own type. `content` names exactly what its frames
    come from, `made_from` what stands of all that it uses, `id` is the
    document's own, and `weighs` about how many bytes all of it takes.
    """

    document: D
    made_of: Any
    content: str
    made_from: str = ""
    id: str = ""
    weighs: int = 0


@dataclass(frozen=True)
class Kind(Generic[D, E]):
    """One kind of document: D its model in the core, E its edits.

    read      a revision's body → the document, whatever version wrote it
    write     the document → the body of a new revision; dense data is put aside in blocks
    weighs    about how many bytes it takes in memory
    uses      the ids of the documents that it uses
    open      a document and its name (“id:key”, see opening) → with what it is made from
    edit      an opened document and an edit → what came of it, and that opened
    facts     what the library tells of it
    keep      what was worked out for an opened document, kept for when it is opened under this name
    """

    key: str
    read: Callable[[Any], D]
    write: Callable[[D], dict[str, Any]]
    weighs: Callable[[D], int]
    uses: Callable[[D], set[str]]
    open: "Callable[[Shelf, D, str], Opened[D]]"
    edit: "Callable[[Shelf, Opened[D], E], tuple[Opened[D], Edited]]"
    facts: Callable[[Opened[D]], Facts]
    keep: Callable[[Opened[D], str], None] = lambda opened, name: None


# PostgreSQL keeps no sign of a zero, so what is read again has none.
_NEGATIVE_ZERO = re.compile(r"-0\.0(?=[,\]}])")


def content_name(told: str, *made_from: str) -> str:
    """Names what follows from a document, told as JSON, and from what it is made from: one name, whether it was
    edited in this process or read from the database in another."""
    text = "\n".join([_NEGATIVE_ZERO.sub("0.0", told), *made_from])
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def edit_digest(edit: BaseModel) -> str:
    """A short name of exactly this edit, for what is worked out of it."""
    return hashlib.sha256(edit.model_dump_json().encode()).hexdigest()[:16]


_KINDS: dict[str, Kind[Any, Any]] = {}


def register(kind: Kind[Any, Any]) -> None:
    """Make a kind known. Said once, when its app starts."""
    _KINDS[kind.key] = kind


def kind_of(document: Document) -> Kind[Any, Any]:
    """The kind of a document."""
    return _KINDS[document.kind]
