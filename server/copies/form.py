"""A production as one file: a zip of plain JSON and of what was brought in, byte for byte (docs/formats.md).

    production.json        what it is, its people, its files and its prints
    documents/ID.jsonl     a document, then its revisions, a line each
    files/SHA-256          what was brought in or printed
    blocks/SHA-256         dense data of documents
    motions/SHA-256.json   samples of clips; their rows lie beside it: motions/SHA-256/0000 …
    sounds/SHA-256.json    sounds as they were decoded; their pieces lie beside it
    indexes/SHA-256.json   where the rows of a motion file stand
    end.json               how many entries there are before it

Two copies of what has not changed are equal, byte for byte.
"""

from datetime import datetime
from typing import Any, Literal, Self
from uuid import UUID

from django.db.models import Model
from pydantic import BaseModel, ConfigDict

MANIFEST = "production.json"
END = "end.json"
ENDING = ".production.zip"


class Kept(BaseModel):
    """What is written down as JSON; bytes in base64."""

    model_config = ConfigDict(ser_json_bytes="base64", val_json_bytes="base64")

    @classmethod
    def of(cls, row: Model, **told: Any) -> Self:
        """What a row has, and what is told of it beside."""
        names = set(cls.model_fields) - set(told)
        values = {name: getattr(row, name) for name in names}
        plain = {
            name: bytes(value) if isinstance(value, memoryview) else value
            for name, value in values.items()
        }
        return cls(**plain, **told)


class Person(Kept):
    """Somebody with an account: a member with a role, or an author who is none any more."""

    account: str
    first_name: str
    last_name: str
    role: str | None


class KeptFile(Kept):
    sha256: str
    name: str
    size_bytes: int
    created: datetime


class KeptPrint(Kept):
    """See prints.models.Print; its film is one of the files."""

    id: UUID
    document: UUID | None
    name: str
    revision: int
    beside: int | None = None
    captured: bool = False
    form: str
    look: dict[str, Any]
    first: int
    frames: int
    rounds: int
    first_frame: int
    rate: str
    shown_rate: str = ""
    has_sound: bool
    film: str
    author: str | None
    created: datetime


class Manifest(Kept):
    """`migrations` names the newest step of each of our tables: with one that is unknown here, the file is of a
    newer version."""

    format: Literal["elastic-hours-production"] = "elastic-hours-production"
    version: Literal[1] = 1
    migrations: dict[str, str]
    id: UUID
    name: str
    created: datetime
    people: list[Person]
    files: list[KeptFile]
    prints: list[KeptPrint]
    documents: list[UUID]


class KeptDocument(Kept):
    """See documents.models.Document; `head` is the number of the revision that stands."""

    id: UUID
    kind: str
    name: str
    head: int
    tags: list[str]
    archived: bool
    created: datetime
    changed: datetime
    figure: UUID | None
    rate: str
    length_frames: int | None
    grade: str
    facts: dict[str, Any]
    thumbnail: bytes
    told_of: int
    uses: list[UUID]


class KeptRevision(Kept):
    """See documents.models.Revision."""

    number: int
    parent: int | None
    label: str
    author: str | None
    created: datetime
    body: Any
    token: str | None


class KeptMotion(Kept):
    frames: int
    joints: int
    moved_joints: list[int]
    scaled_joints: list[int]
    chunks: int


class KeptSound(Kept):
    form: str
    rate_hz: int
    channels: int
    samples: int
    heard_channels: int
    peaks: bytes
    chunks: int


class KeptIndex(Kept):
    reader: int
    skeleton: Any
    frame_time: float
    warnings: list[Any]
    starts: bytes


class End(Kept):
    entries: int


def chunk_name(folder: str, name: str, number: int) -> str:
    """Where a piece of a motion or of a sound lies."""
    return f"{folder}/{name}/{number:04}"
