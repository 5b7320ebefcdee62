"""The order of a cut-out's cards, keyed with held spans: an arm passes in front, and behind again."""

from collections.abc import Iterable, Mapping
from typing import Annotated

import numpy as np
from pydantic import Field

from ..arrays import Array, Index
from ..frozen import Frozen
from ..quantities import Frame

CardName = Annotated[str, Field(min_length=1, max_length=120)]
Order = Annotated[int, Field(ge=-1_000, le=1_000)]
# Below every order that a card can have.
AS_MADE = -10_000


class CardOrder(Frozen):
    """From a laid frame on a card lies at this place of the order, from back to front."""

    card: CardName
    frame: Frame
    order: Order


def orders_at(keys: Iterable[CardOrder], laid: Array) -> Mapping[str, Index]:
    """The order of each card that has keys at these laid moments; before its first key as it was made: −10,000.
    card → [n]"""
    found: dict[str, Index] = {}
    for key in sorted(keys, key=lambda one: one.frame):
        row = found.setdefault(key.card, np.full(len(laid), AS_MADE, dtype=np.intp))
        row[laid >= key.frame - 1e-9] = key.order
    return found
