"""A run over so many frames: squeezed where it has more drawings than frames, and pinned (rule 7.3)."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..arrays import Index
from ..errors import Refusal
from ..quantities import MOST_FRAMES
from .run import DrawingPin, DrawingRun, Held


@dataclass(frozen=True)
class Shown:
    """A drawing from a frame on, for so many frames."""

    frame: int
    length: int
    drawing: int


@dataclass(frozen=True)
class LaidOut:
    """What shows over some frames, every frame once, in order; and the drawings that no frame shows."""

    shown: tuple[Shown, ...]
    fell_out: tuple[int, ...]

    @property
    def row(self) -> Index:
        """A drawing for each frame. [frames]"""
        numbers = [one.drawing for one in self.shown]
        row: Index = np.repeat(numbers, [one.length for one in self.shown]).astype(np.intp)
        return row

    def followed_by(self, drawings: Index) -> "LaidOut":
        """The same with a drawing for each frame that follows."""
        row = np.concatenate([self.row, drawings])
        seen = set(row.tolist())
        return LaidOut(exposures(row), tuple(n for n in self.fell_out if n not in seen))


def exposures(row: Index) -> tuple[Shown, ...]:
    """A drawing for each frame → what shows from when for how long. [frames]"""
    starts = np.flatnonzero(np.diff(row, prepend=row[:1] - 1)) if row.size else row
    lengths = np.diff(starts, append=len(row))
    return tuple(
        Shown(int(start), int(length), int(row[start]))
        for start, length in zip(starts, lengths, strict=True)
    )


def laid_out(run: DrawingRun, frames: int, pins: Iterable[DrawingPin] = ()) -> LaidOut:
    """The run over `frames` frames. With more drawings in a round than frames they are spaced evenly, the first
    and the last kept. Each pin has the nearest appearance of its drawing begin on its frame: the ones beside
    it are held longer or shorter, and the order stays.

    Raises Refusal for no frames, for a pinned drawing that does not come, and for pins against the order.
    """
    if not 1 <= frames <= MOST_FRAMES:
        raise Refusal(f"A run is laid out over 1 to {MOST_FRAMES:,} frames.")
    row = _row_of(run, frames)
    starts = _pinned(row, frames, sorted(pins, key=lambda pin: pin.frame))
    ends = [*starts[1:], max(frames, starts[-1])]
    shown: list[Shown] = []
    for held, start, end in zip(row, starts, ends, strict=True):
        length = min(end, frames) - start
        if length <= 0:
            continue
        last = shown[-1] if shown else None
        if last and last.drawing == held.drawing:
            shown[-1] = Shown(last.frame, last.length + length, last.drawing)
        else:
            shown.append(Shown(start, length, held.drawing))
    seen = {one.drawing for one in shown}
    return LaidOut(tuple(shown), tuple(n for n in run.numbers if n not in seen))


def _row_of(run: DrawingRun, frames: int) -> list[Held]:
    """All that plays until the last frame, in order."""
    once = run.of_one_round
    if len(once) > frames and run.play != "boil":
        places = np.round(np.linspace(0, len(once) - 1, frames)).astype(int)
        return [Held(drawing=once[place].drawing, frames=1) for place in places]
    row: list[Held] = list(run.round(0))
    number = 1
    while run.play != "once" and sum(one.frames for one in row) < frames:
        row += run.round(number)
        number += 1
    return row


def _pinned(row: Sequence[Held], frames: int, pins: Sequence[DrawingPin]) -> list[int]:
    """When each of a row begins."""
    lengths = [one.frames for one in row]
    starts = [0, *np.cumsum(lengths)[:-1].tolist()]
    fixed = [(0, 0)]
    for pin in pins:
        if not 0 <= pin.frame < frames:
            raise Refusal(f"Frame {pin.frame} is not among the {frames} frames of the run.")
        after, low = fixed[-1]
        places = [
            place
            for place, held in enumerate(row)
            if held.drawing == pin.drawing and (place > after or (place, pin.frame) == (0, 0))
        ]
        if not places:
            known = any(held.drawing == pin.drawing for held in row)
            raise Refusal(
                f"Drawing {pin.drawing} cannot begin on frame {pin.frame}: the order stays, and it does "
                "not come after what is there before."
                if known
                else f"Drawing {pin.drawing} is not in the run."
            )
        place = min(places, key=lambda one: abs(starts[one] - pin.frame))
        if pin.frame < low:
            raise Refusal(f"Two drawings are to begin on frame {pin.frame}.")
        _move(starts, lengths, place, pin.frame, (after, low))
        # What is pinned shows for a frame at least.
        fixed.append((place, pin.frame + 1))
    return [int(start) for start in starts]


def _move(
    starts: list[int], lengths: Sequence[int], place: int, frame: int, held: tuple[int, int]
) -> None:
    """Have one of a row begin on a frame. Those before it, back to the one that is held, have a frame each as
    long as there are frames, and the nearest fall out; those after it begin when it is over, and are
    shortened as little."""
    first, low = held
    starts[place] = frame
    # The very first has its frame, unless another is to begin there.
    floor = low if low else min(1, frame)
    between = place - 1 - first
    for nth in range(between):
        before = first + 1 + nth
        latest = frame - (between - nth) if between <= frame - floor else floor + nth
        starts[before] = min(starts[before], latest, frame)
    earliest = frame + lengths[place]
    if place + 1 < len(starts) and starts[place + 1] > earliest and frame < starts[place + 1]:
        starts[place + 1] = earliest
    for after in range(place + 1, len(starts)):
        if starts[after] >= earliest:
            break
        starts[after] = earliest
        earliest += 1
