"""A loop that was found in a run of motion, as a cycle on the bench (rules 1.2, 4.2 and 4.4)."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from .. import ground
from ..clip.document import Clip, Plant
from ..clip.edits import edit_clip
from ..clip.edits.base import Made
from ..clip.edits.cycle import CloseSeam
from ..clip.playing import keys_of, playable_of
from ..clock import Rate
from ..colour import Colour
from ..cycle.closing import Method
from ..cycle.contacts import find_contacts
from ..cycle.lead_in import lead_in
from ..cycle.travel import close_as_is, period_between
from ..errors import Refusal
from ..figure import Figure
from ..motion import Motion
from .thin import Thinned, Tolerance, thinned


def loop_of(
    figure: Figure,
    motion: Motion,
    rate: Rate,
    start: int,
    end: int,
    *,
    lead_frames: int = 0,
    name: str = "cycle",
    figure_id: str = "figure",
    colour: Colour = "cobalt",
) -> Made:
    """Frames `[start, end)` as a cycle of keys, with so many frames before it as its lead-in. Frame `end` shows
    frame `start` again; where the motion ends before it, that pose is foretold.

    Raises Refusal for a range that is no cycle.
    """
    if not 0 <= start < end <= motion.frames or end - start < 2:
        raise Refusal(f"The cycle {start}:{end} is not inside 0 to {motion.frames}.")
    length = end - start
    if end < motion.frames:
        shown = motion.at(np.arange(start, end + 1))
    else:
        shown = close_as_is(motion.at(np.arange(start, end))).motion
    period = period_between(shown.travel[0], shown.travel[-1])
    lead = min(lead_frames, start)
    # On an even path, so that what sways is the root's.
    times = np.arange(-lead, length + 1) / length
    even = ground.compose(ground.power(period, times), shown.travel[0])
    keys = keys_of(figure, shown.relaid(even[lead:]), is_cycle=True)
    run = motion.at(np.arange(start - lead, start)) if lead else None
    before = None if run is None else lead_in(run, even[:lead])
    x, z, heading = (float(value) for value in period)
    clip = Clip(
        name=name,
        figure=figure_id,
        rate=rate,
        length_frames=length,
        is_cycle=True,
        period=(x, z, heading),
        colour=colour,
        keys=keys,
    )
    return Made(clip, figure, lead_in=before)


def closed_loop(
    made: Made,
    method: Method,
    frames: int,
    tolerance: Tolerance | None,
    *,
    hold_feet: bool = True,
) -> tuple[Made, Thinned | None]:
    """A cycle with its seam closed by a method over so many frames, its plants found and held, and thinned to
    keys within a tolerance, if there is one.

    Raises Refusal where the method does not fit the cycle.
    """
    closed = edit_clip(made, CloseSeam(method=method, frames=frames))
    clip = closed.clip
    figure = made.figure
    plants: Sequence[Plant] = [c.plant for c in find_contacts(figure, playable_of(figure, clip))]
    kept = tuple(plant.model_copy(update={"held": hold_feet}) for plant in plants)
    clip = clip.model_copy(update={"plants": kept})
    if tolerance is None:
        return replace(made, clip=clip), None
    motion = playable_of(figure, clip).samples.whole()
    done = thinned(figure, motion, clip, tolerance)
    return replace(made, clip=clip.model_copy(update={"keys": done.keys})), done
