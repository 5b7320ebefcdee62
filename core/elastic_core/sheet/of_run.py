"""A run of drawings on its sheet."""

from ..drawings.playing import laid
from ..drawings.run import DrawingRun
from ..drawings.view import shown_frames
from .document import Sheet, SheetCell, SheetColumn


def sheet_of_run(run: DrawingRun) -> Sheet:
    """As much of a run as is shown of it: which drawing shows on each frame."""
    frames = shown_frames(run)
    pinned = {pin.frame for pin in run.pins}
    cells = tuple(
        SheetCell(one.frame, one.length, str(one.drawing), one.frame in pinned)
        for one in laid(run, frames).shown
    )
    return Sheet(run.name, run.rate, frames, (SheetColumn("Drawing", "drawings", cells),))
