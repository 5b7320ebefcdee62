"""Orders and exposures as they are typed: “1-8, 8-1 on 3, 9 hold 12”, and written again."""

import re
from collections.abc import Sequence

from ..errors import Refusal
from ..exposure import LONGEST_HOLD_FRAMES
from .run import MOST_HELD, Held

TWOS = 2
_ITEM = re.compile(r"(\d{1,9})(?:\s*[-–]\s*(\d{1,9}))?(?:\s+(on|hold)\s+(\d{1,9}))?", re.IGNORECASE)


def held_in(text: str, frames: int = TWOS) -> tuple[Held, ...]:
    """What is typed, in order: numbers and ranges, each drawing `frames` long where nothing is said; “on 3”
    says it for each drawing of an item, “hold 12” for one drawing.

    Raises Refusal for what cannot be read.
    """
    found: list[Held] = []
    for item in text.split(","):
        told = _ITEM.fullmatch(item.strip())
        if told is None:
            raise Refusal(
                f"“{item.strip()[:40]}” cannot be read. Type drawings like 1-8, 8-1 on 3, 9 hold 12."
            )
        first, last, how, length = told.groups()
        low, high = int(first), int(last or first)
        if how and how.lower() == "hold" and last:
            raise Refusal(f"“{item.strip()}”: one drawing is held; a range is on so many frames.")
        each = _frames(int(length)) if length else frames
        way = 1 if high >= low else -1
        if len(found) + abs(high - low) + 1 > MOST_HELD:
            raise Refusal(f"A run has {MOST_HELD:,} drawings at the most.")
        found += [Held(drawing=n, frames=each) for n in range(low, high + way, way)]
    return tuple(found)


def written(held: Sequence[Held], frames: int = TWOS) -> str:
    """The same as it is typed, as short as can be: neighbours in a row are a range."""
    items: list[str] = []
    at = 0
    while at < len(held):
        end, way = at, 0
        while end + 1 < len(held) and held[end + 1].frames == held[at].frames:
            step = held[end + 1].drawing - held[end].drawing
            if step not in (1, -1) or (way and step != way):
                break
            end, way = end + 1, step
        first, last = held[at], held[end]
        text = str(first.drawing) if end == at else f"{first.drawing}-{last.drawing}"
        if first.frames != frames:
            text += f" {'hold' if end == at else 'on'} {first.frames}"
        items.append(text)
        at = end + 1
    return ", ".join(items)


def pattern_in(text: str) -> tuple[int, ...]:
    """“2, 2, 3, 1” → how long one drawing after another shows, over and over. Raises Refusal for what is
    none."""
    parts = [part.strip() for part in text.split(",")]
    if not all(part.isdecimal() and part.isascii() and len(part) <= 9 for part in parts):
        raise Refusal(f"“{text[:40]}” is no pattern. Type frames like 2, 2, 3, 1.")
    return tuple(_frames(int(part)) for part in parts)


def on_pattern(drawings: Sequence[int], pattern: Sequence[int]) -> tuple[Held, ...]:
    """Drawings exposed on a pattern, which begins again where it ends."""
    return tuple(
        Held(drawing=drawing, frames=pattern[place % len(pattern)])
        for place, drawing in enumerate(drawings)
    )


def _frames(frames: int) -> int:
    if not 1 <= frames <= LONGEST_HOLD_FRAMES:
        raise Refusal(f"A drawing shows for 1 to {LONGEST_HOLD_FRAMES:,} frames.")
    return frames
