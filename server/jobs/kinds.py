"""The kinds of jobs: what each of them does, told once, where its app starts."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Generic, TypeVar

from pydantic import BaseModel

if TYPE_CHECKING:
    from .models import Job
    from .running import Run

W = TypeVar("W", bound=BaseModel)
# What takes long waits in one queue, what has to begin at once in another; a night of prints holds up neither.
LONG_WORK, AT_ONCE, PRINTS = "long work", "at once", "prints"
QUEUES = (LONG_WORK, AT_ONCE, PRINTS)


@dataclass(frozen=True)
class JobKind(Generic[W]):
    """One kind of job: W is what is asked for, from which alone its outcome follows.

    version   goes up when the same wish would come out otherwise
    queue     where it waits for a worker
    work      does it, tells of its progress, and closes it
    tidy      throws away what an attempt that was broken off, refused or cancelled has left
    """

    key: str
    wish: type[W]
    work: "Callable[[Run, W], None]"
    tidy: "Callable[[Job, W], None]"
    version: int = 1
    queue: str = LONG_WORK


_KINDS: dict[str, JobKind[Any]] = {}


def register(kind: JobKind[Any]) -> None:
    """Make a kind known. Said once, when its app starts."""
    _KINDS[kind.key] = kind


def kind_of(job: "Job") -> JobKind[Any]:
    """The kind of a job."""
    return _KINDS[job.kind]
