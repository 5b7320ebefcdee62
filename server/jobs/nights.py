"""What is to be done by itself each night, told by the apps that do it, where they start."""

import logging
from collections.abc import Callable

from django.db import connections

log = logging.getLogger(__name__)

_NIGHTLY: list[Callable[[], None]] = []


def each_night(work: Callable[[], None]) -> None:
    """Have this asked again and again: it knows itself whether tonight’s is done."""
    _NIGHTLY.append(work)


def look() -> None:
    """Do what is to be done tonight. What fails is tried again at the next look, and holds up nothing else."""
    try:
        for work in _NIGHTLY:
            try:
                work()
            except Exception:
                log.exception("What is done each night")
    finally:
        # The next look may be another thread's.
        connections.close_all()
