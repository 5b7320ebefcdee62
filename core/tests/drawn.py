"""Drawing sets and runs for tests: pictures by name alone, that nobody looks at."""

import hashlib

from elastic_core.drawings.drawing_set import DrawingSet, SetDrawing
from elastic_core.drawings.orders import held_in
from elastic_core.drawings.run import DrawingRun, Play
from elastic_core.tracing import Picture


def picture(name: str, wide: int = 400, high: int = 300) -> Picture:
    """A picture of some size; the same name is the same file."""
    file = hashlib.sha256(name.encode()).hexdigest()
    return Picture(file=file, width_pixels=wide, height_pixels=high)


def set_of(*numbers: int, name: str = "Flame") -> DrawingSet:
    """A set with these drawings, each a picture of its own."""
    drawings = tuple(SetDrawing(number=n, picture=picture(f"{name} {n}")) for n in numbers)
    return DrawingSet(name=name, drawings=drawings)


def run_of_drawings(
    order: str = "1-3", play: Play = "repeat", seed: int = 1, drawings: str = "flame"
) -> DrawingRun:
    """A run as it is typed."""
    return DrawingRun(name="Flicker", drawings=drawings, held=held_in(order), play=play, seed=seed)
