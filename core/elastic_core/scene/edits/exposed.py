"""Edits on what a stint of drawings shows when (rule 7.3)."""

from typing import Literal

import numpy as np

from ...drawings.run import Drawing
from ...errors import Refusal
from ...moments import lane_time, source
from ...quantities import Frame
from ..document import Scene
from ..material import Material
from ..timing import source_time, times_of_source
from .base import Edit, Edited, Rules, stint_name
from .elastics import PinSource, pin_source

# Of a stint that runs through more of its run the appearances are not looked through.
MOST_SOURCE_FRAMES = 200_000


class PinShown(Edit):
    """“Drawing 7 at frame 30”: its nearest appearance in the stint begins on that laid frame."""

    kind: Literal["pin_shown"] = "pin_shown"
    stint: str
    drawing: Drawing
    frame: Frame


def _pin(scene: Scene, edit: PinShown, material: Material) -> Edited:
    _, stint = scene.find(edit.stint)
    performance = material.drawings(stint.source)
    ends = source_time(scene, performance, stint, lane_time([stint.start, stint.end]))
    first, last = float(np.floor(ends.min())), float(np.ceil(ends.max()))
    if last - first > MOST_SOURCE_FRAMES:
        raise Refusal(f"{stint_name(material, stint)} runs through too much to be looked through.")
    frames = np.arange(first, last + 1)
    row = performance.drawings_at(source(frames))
    begins = np.flatnonzero((row == edit.drawing) & (np.diff(row, prepend=-1) != 0))
    moments = [
        (abs(time - edit.frame), float(frames[place]))
        for place in begins
        for time in times_of_source(scene, performance, stint, float(frames[place]))
    ]
    if not moments:
        raise Refusal(f"Drawing {edit.drawing} does not come in {stint_name(material, stint)}.")
    _, at = min(moments)
    pinned = pin_source(scene, PinSource(stint=stint.id, source=at, played=edit.frame), material)
    shown = f"{edit.frame + scene.first_frame:g}"
    label = f"{stint_name(material, stint)}: drawing {edit.drawing} at {shown}"
    return Edited(pinned.scene, label, pinned.notes)


RULES: Rules = {PinShown: _pin}
