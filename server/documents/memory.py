"""What was read and worked out, kept in this process up to so many bytes.

A revision never changes once it is saved, so what is made from one can be kept; nothing depends on it.
"""

import threading
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from cachetools import LRUCache
from django.conf import settings

from elastic_core.budget import take

T = TypeVar("T")
# What a thing takes beside its arrays: its place in the memory, its models.
LEAST_BYTES = 2_000
# How long somebody waits before they ask whether they still have to.
_PATIENCE_SECONDS = 0.1


class _Making:
    """A thing that one thread makes, and how many threads it is for."""

    def __init__(self) -> None:
        self.lock = threading.RLock()
        self.wanted_by = 0


class Memory:
    """The things used last, bounded by their bytes; anything larger than the whole is not kept."""

    def __init__(self, most_bytes: int) -> None:
        self._kept: LRUCache[Hashable, tuple[Any, int]] = LRUCache(
            most_bytes, getsizeof=lambda entry: entry[1]
        )
        self._lock = threading.Lock()
        self._making: dict[Hashable, _Making] = {}

    def get(self, key: Hashable) -> Any:
        """What is kept under this key; none where nothing is."""
        with self._lock:
            found = self._kept.get(key)
        return None if found is None else found[0]

    def put(self, key: Hashable, thing: T, weighs: int) -> T:
        """Keep a thing that weighs about so many bytes."""
        weight = weighs + LEAST_BYTES
        with self._lock:
            if weight <= self._kept.maxsize:
                self._kept[key] = (thing, weight)
        return thing

    def made(self, key: Hashable, make: Callable[[], T], weighs: Callable[[T], int]) -> T:
        """What is kept under this key, or made now and kept.

        What several want at the same time is made by one of them, and the others wait: a page asks for a
        figure, its curves and its cycles at once, and all follow from the same thing. Whoever waits may go
        away; where the maker does, the next one makes it.
        """
        found = self.get(key)
        if found is None:
            with self._alone(key):
                found = self.get(key)
                if found is None:
                    thing = make()
                    found = self.put(key, thing, weighs(thing))
        return found  # type: ignore[no-any-return]

    @contextmanager
    def _alone(self, key: Hashable) -> Iterator[None]:
        """Raises OverBudget for whoever waits no longer."""
        with self._lock:
            making = self._making.setdefault(key, _Making())
            making.wanted_by += 1
        try:
            while not making.lock.acquire(timeout=_PATIENCE_SECONDS):
                take()
            try:
                yield
            finally:
                making.lock.release()
        finally:
            with self._lock:
                making.wanted_by -= 1
                if not making.wanted_by:
                    del self._making[key]

    def drop(self, key: Hashable) -> None:
        """Let go of one thing."""
        with self._lock:
            self._kept.pop(key, None)

    @property
    def bytes_kept(self) -> int:
        return int(self._kept.currsize)

    def forget(self) -> None:
        """Let go of everything: for tests, whose revisions are rolled back."""
        with self._lock:
            self._kept.clear()


memory = Memory(settings.MEMORY_BYTES)
