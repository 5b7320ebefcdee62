"""The five numbers of a stint's card, and which edit each one is (rule 5.1).

Four of them are free, so a change of one takes another with it. Which one that is, is always the
same and told beforehand: `FOLLOWS`. The other three stay.
"""

from typing import Literal

import numpy as np

from ...errors import Refusal
from ...frozen import Shown
from ...performance import Performance
from ...quantities import Value
from ..document import Scene, Stint
from ..material import Material
from ..timing import mean_pace, source_at, times_of_source
from . import stints
from .base import Edit, Edited, Rules

CardNumber = Literal["scene_from", "scene_to", "clip_from", "clip_to", "pace"]

FOLLOWS: dict[CardNumber, CardNumber] = {
    "scene_from": "scene_to",  # move: it plays earlier or later, as long as before
    "scene_to": "clip_to",  # trim the end
    "clip_from": "scene_from",  # trim the start: every pose that stays keeps its frame
    "clip_to": "scene_to",  # trim the end
    "pace": "scene_to",  # stretch: the same part of the clip takes longer
}


class CardNumbers(Shown):
    """A stint in numbers: scene frames from 0 and the clip's frames, both half open; pace 1 = as made."""

    scene_from: float
    scene_to: float
    clip_from: float
    clip_to: float
    pace: float


class SetNumber(Edit):
    """Change one number of a stint's card; only the one that `FOLLOWS` names goes with it."""

    kind: Literal["set_number"] = "set_number"
    stint: str
    number: CardNumber
    value: Value
    ripple: bool = False


def card_numbers(scene: Scene, performance: Performance, stint: Stint) -> CardNumbers:
    """The card of a stint. A cycle's part is told from within its first round."""
    start, end = (source_at(scene, performance, stint, at) for at in (stint.start, stint.end))
    rounds = _rounds_before(performance, start)
    return CardNumbers(
        scene_from=stint.start,
        scene_to=stint.end,
        clip_from=start - rounds,
        clip_to=end - rounds,
        pace=mean_pace(stint),
    )


def _rounds_before(performance: Performance, source: float) -> float:
    """Source frames of the whole rounds that lie before an in-point."""
    return (
        float(np.floor(source / performance.length_frames)) * performance.length_frames
        if performance.is_cycle
        else 0
    )


def _set_number(scene: Scene, edit: SetNumber, material: Material) -> Edited:
    _, stint = scene.find(edit.stint)
    performance = material.performance(stint.source)
    made = _edit_for(scene, performance, stint, edit)
    return stints.RULES[type(made)](scene, made, material)


def _edit_for(scene: Scene, performance: Performance, stint: Stint, edit: SetNumber) -> Edit:
    name, ripple = stint.id, edit.ripple
    if edit.number == "scene_from":
        return stints.MoveStint(stint=name, start=edit.value, ripple=ripple)
    if edit.number == "scene_to":
        return stints.TrimStint(stint=name, edge="end", frame=edit.value, ripple=ripple)
    if edit.number == "pace":
        if edit.value <= 0:
            raise Refusal("A pace is more than 0 %.")
        if edit.value > stints.FASTEST_PACE:
            raise Refusal(f"A pace is {100 * stints.FASTEST_PACE:,.0f} % at the most.")
        return stints.PaceStint(stint=name, pace=edit.value, ripple=ripple)
    edge: Literal["start", "end"] = "start" if edit.number == "clip_from" else "end"
    frame = _frame_of_source(scene, performance, stint, edge, edit.value)
    return stints.TrimStint(stint=name, edge=edge, frame=frame, ripple=ripple)


def _frame_of_source(
    scene: Scene,
    performance: Performance,
    stint: Stint,
    edge: Literal["start", "end"],
    value: float,
) -> float:
    """When the stint shows, or would show if it were longer, this frame of its performance."""
    rounds = _rounds_before(performance, source_at(scene, performance, stint, stint.start))
    times = times_of_source(scene, performance, stint, value + rounds)
    here = stint.start if edge == "start" else stint.end
    if not times:
        raise Refusal(f"{performance.name} never comes to its frame {value:g} here.")
    return min(times, key=lambda time: abs(time - here))


RULES: Rules = {SetNumber: _set_number}
