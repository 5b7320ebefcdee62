"""What one piece of work may take, asked in the midst of it: long loops and large arrays say so here.

Whoever asks for the work sets its budget; where none is set, as on the command line, it takes what it
takes. The core has no clock: whether the work is still wanted is for its asker to say.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

from .errors import Refusal

BYTES_A_NUMBER = 8


class OverBudget(Refusal):
    """The work takes more than it may; it was stopped, and nothing was changed."""


@dataclass
class Budget:
    """`most_bytes` of arrays may be made; `still_wanted` raises OverBudget once the work is not."""

    most_bytes: int
    still_wanted: Callable[[], None]
    taken_bytes: int = 0

    def take(self, numbers: int) -> None:
        """Raises OverBudget where so many numbers more are too many."""
        self.still_wanted()
        self.taken_bytes += numbers * BYTES_A_NUMBER
        if self.taken_bytes > self.most_bytes:
            raise OverBudget(
                "That is more than can be worked out at once. Ask for a shorter range."
            )


_budget: ContextVar[Budget | None] = ContextVar("budget", default=None)


@contextmanager
def within(budget: Budget | None) -> Iterator[None]:
    """The work in here has this budget; with none it is worked to its end."""
    outer = _budget.set(budget)
    try:
        yield
    finally:
        _budget.reset(outer)


def take(numbers: int = 0) -> None:
    """So many numbers are about to be made, as the next step of long work.

    Raises OverBudget where they are too many, or nobody wants them any more.
    """
    budget = _budget.get()
    if budget is not None:
        budget.take(numbers)
