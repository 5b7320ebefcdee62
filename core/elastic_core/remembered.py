"""What was worked out of a performance before: while one stint is drawn, the others lie as they lay."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import TypeVar
from weakref import WeakKeyDictionary

from .figure import Figure
from .performance import BodyPerformance

T = TypeVar("T")

# So many things of each performance are remembered; they go with it.
REMEMBERED = 512


def remembered(figure: Figure, body: BodyPerformance, key: Hashable, make: Callable[[], T]) -> T:
    """What follows from a performance on a figure under a key, worked out once. It must not be changed."""
    known: WeakKeyDictionary[BodyPerformance, OrderedDict[Hashable, T]] = figure.once(
        "of its performances", WeakKeyDictionary
    )
    own = known.setdefault(body, OrderedDict())
    found = own.get(key)
    if found is None:
        found = own[key] = make()
        while len(own) > REMEMBERED:
            own.popitem(last=False)
    return found
