"""How many requests of one person are being answered at the same time, in this process."""

import threading
from collections import Counter

from django.conf import settings

_lock = threading.Lock()
_running: Counter[int] = Counter()


def begin(person: int) -> bool:
    """One more of this person's; false where that would take the room of others."""
    with _lock:
        if _running[person] >= settings.MOST_AT_ONCE:
            return False
        _running[person] += 1
        return True


def end(person: int) -> None:
    """One of this person's is answered."""
    with _lock:
        _running[person] -= 1
        if not _running[person]:
            del _running[person]
