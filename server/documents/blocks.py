"""Dense data of documents put aside, named by its content: revisions share what is the same."""

from collections.abc import Callable, Iterable, Mapping
from typing import TypeVar

from .models import Block

T = TypeVar("T")


def load(names: Iterable[str]) -> dict[str, bytes]:
    """Blocks by their names, in one query."""
    wanted = set(names)
    if not wanted:
        return {}
    rows = Block.objects.filter(pk__in=wanted).values_list("sha256", "data")
    return {name: bytes(data) for name, data in rows}


def store(things: Mapping[str, T], make: Callable[[T], bytes]) -> None:
    """Keep things by the names of their content; only those that are not here are made into bytes."""
    if not things:
        return
    here = set(Block.objects.filter(pk__in=things).values_list("pk", flat=True))
    Block.objects.bulk_create(
        (
            Block(sha256=name, data=make(thing))
            for name, thing in things.items()
            if name not in here
        ),
        batch_size=32,
        ignore_conflicts=True,
    )
