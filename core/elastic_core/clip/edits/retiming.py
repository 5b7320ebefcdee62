"""An elastic applied to a clip's keys: they move, and so does all that is told by their times (rule 1.6)."""

from typing import Literal

import numpy as np
from pydantic import Field

from ...arrays import Array
from ...clock import Span, nearest_frame
from ...curve import Curve
from ...elastic import Elastic
from ...errors import Refusal
from ...quantities import Frame, LengthFrames
from ...retime.pace import percent, told
from ...retime.pins import pinned_over
from ...retime.ranges import Slowing, slowed
from ...saying import counted
from ..document import Clip
from .base import LONGEST_CLIP_FRAMES, Edit, Edited, Made, Rules, into_keys


class RetimeKeys(Edit):
    """A range of the clip at a pace, or for so many frames, with ramps: keys in it and after it move. With
    `ripple` the clip grows by what is gained; else its ends stay, and the rest makes up for it."""

    kind: Literal["retime_keys"] = "retime_keys"
    start: Frame
    end: Frame
    pace: float | None = Field(default=None, gt=0, le=100)
    length_frames: LengthFrames | None = None
    ramp_frames: float = Field(default=0.0, ge=0, le=10_000)
    ripple: bool = True
    snap: bool = True


def _retime(made: Made, edit: RetimeKeys) -> Edited:
    keyed = made.keyed
    clip = keyed.clip
    if clip.half_linked:
        raise Refusal("The second half follows the first: unlink the halves to retime them apart.")
    length = clip.length_frames
    if not 0 <= edit.start < edit.end <= length:
        raise Refusal(f"A range lies inside 0 to {length}.")
    wanted = Slowing(
        pace=edit.pace,
        length_frames=edit.length_frames,
        ramp_frames=edit.ramp_frames,
        whole=edit.ripple,
    )
    whole = Span(0.0, float(length))
    as_made = pinned_over(Elastic(), whole)
    within = None if edit.ripple else whole
    bent = slowed(as_made, Span(edit.start, edit.end), wanted, within)
    goes = _Through(bent, snap=edit.snap)
    longer = int(nearest_frame(goes.exact(float(length))))
    if longer > LONGEST_CLIP_FRAMES:
        raise Refusal(f"A clip has {LONGEST_CLIP_FRAMES:,} frames at the most.")
    keys = {name: goes.curve(curve) for name, curve in clip.keys.items()}
    changed = clip.model_copy(
        update={
            "keys": keys,
            "length_frames": max(1, longer),
            **goes.told_by_frames(clip, max(1, longer)),
        }
    )
    to = percent(edit.pace) if edit.pace is not None else f"{told(edit.length_frames or 0)} frames"
    label = f"Retime keys of {told(edit.start)} to {told(edit.end - 1)} to {to}"
    notes = [f"{counted(goes.moved, 'key')} moved."]
    if longer != length:
        notes.append(f"The clip has {counted(longer, 'frame')} now.")
    if goes.rounding > 1e-6:
        notes.append(f"Snapped to whole frames, by {goes.rounding:.2f} frames at the most.")
    if goes.replaced:
        was = "was" if goes.replaced == 1 else "were"
        notes.append(f"{counted(goes.replaced, 'key')} that met another {was} replaced.")
    return Edited(changed, label, (*into_keys(made), *notes))


class _Through:
    """Moments of a clip through an elastic, and what came of them: keys moved, replaced, and how far
    snapping took them."""

    def __init__(self, elastic: Elastic, *, snap: bool) -> None:
        self._elastic = elastic
        self._snap = snap
        self.moved = self.replaced = 0
        self.rounding = 0.0

    def exact(self, frame: float) -> float:
        """When what was at a frame plays now."""
        return float(self._elastic.played(frame)[0])

    def __call__(self, frame: float) -> float:
        exact = self.exact(frame)
        return nearest_frame(exact) if self._snap and frame == nearest_frame(frame) else exact

    def curve(self, curve: Curve) -> Curve:
        """A curve with its keys where they play now; slopes by hand run at the pace there."""
        exact = [self.exact(float(time)) for time in curve.times]
        times = [self(float(time)) for time in curve.times]
        self.moved += int(np.sum(np.abs(np.array(times) - curve.times) > 1e-9))
        self.rounding = max([self.rounding, *np.abs(np.subtract(times, exact)).tolist()])
        pace: Array = self._elastic.slope(np.array(exact))
        steeper = curve.with_columns(
            in_slopes=curve.in_slopes * pace, out_slopes=curve.out_slopes * pace
        )
        done, replaced = steeper.retimed(dict(enumerate(times)))
        self.replaced += replaced
        return done

    def told_by_frames(self, clip: Clip, length: int) -> dict[str, object]:
        """Contacts, named poses and beats where they play now. What goes on over a cycle's end does so by as
        much of its new length."""

        def end_of(start: float, end: float) -> float:
            over = end - clip.length_frames
            return self.exact(end) if over <= 0 else length + self.exact(over)

        return {
            "plants": tuple(
                plant.model_copy(
                    update={
                        "start": self.exact(plant.start),
                        "end": end_of(plant.start, plant.end),
                    }
                )
                for plant in clip.plants
            ),
            "poses": tuple(
                pose.model_copy(update={"frame": nearest_frame(self.exact(pose.frame))})
                for pose in clip.poses
            ),
            "beats": tuple(
                beat.model_copy(
                    update={
                        "start": nearest_frame(self.exact(beat.start)),
                        "end": nearest_frame(end_of(beat.start, beat.end)),
                    }
                )
                for beat in clip.beats
            ),
        }


RULES: Rules = {RetimeKeys: _retime}
