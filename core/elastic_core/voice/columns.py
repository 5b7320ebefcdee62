"""A column of an exposure sheet, changed as one changes it on paper: a drawing shows from the frame that it is
written on until the next one that is written (rule 7.2). What is changed is by hand from then on."""

from collections.abc import Sequence

from ..errors import Refusal
from ..quantities import MOST_FRAMES
from .exposing import Exposed, MouthByHand, MouthRun


def written(run: MouthRun, frame: int, mouth: str, length: int | None = None) -> MouthByHand:
    """A mouth from a frame on, until the next change of the sheet, or for so many frames.

    Raises Refusal for a frame after the run's last.
    """
    here = run.exposures[_at(run, frame)]
    most = run.frames - frame
    return MouthByHand(
        frame=frame, length=min(most, here.end - frame if length is None else length), mouth=mouth
    )


def held(run: MouthRun, frame: int, frames: int) -> list[MouthByHand]:
    """The exposure at a frame, so many frames longer, over what follows; or shorter, and what follows comes
    earlier.

    Raises Refusal where nothing of it would be left, and where nothing follows that could come earlier.
    """
    place = _at(run, frame)
    here = run.exposures[place]
    length = min(here.length + frames, run.frames - here.frame)
    if length < 1:
        raise Refusal("A drawing shows for at least one frame. Lift it to take it out.")
    if length == here.length:
        raise Refusal("It is held to the end of the line already.")
    longer = MouthByHand(frame=here.frame, length=length, mouth=here.mouth)
    if length > here.length:
        return [longer]
    if place + 1 == len(run.exposures):
        raise Refusal("Nothing follows it that could come earlier.")
    after = run.exposures[place + 1]
    earlier = here.end - longer.end
    next_one = MouthByHand(frame=longer.end, length=after.length + earlier, mouth=after.mouth)
    return [longer, next_one]


def repeated(run: MouthRun, start: int, end: int, times: int) -> list[MouthByHand]:
    """What shows over frames `[start, end)`, once more after them, and again, so many times.

    Raises Refusal where the line is over before that.
    """
    shown = _cut(run, start, end)
    length = end - start
    if end + 1 > run.frames:
        raise Refusal("The line ends there: nothing can follow.")
    found = [
        (one.frame + turn * length, one.length, one.mouth)
        for turn in range(1, times + 1)
        for one in shown
    ]
    return _within(found, run.frames)


def backwards(run: MouthRun, start: int, end: int) -> list[MouthByHand]:
    """What shows over frames `[start, end)`, the last drawing first."""
    return [
        MouthByHand(frame=start + end - one.end, length=one.length, mouth=one.mouth)
        for one in reversed(_cut(run, start, end))
    ]


def filled(run: MouthRun, start: int, end: int, on: int) -> list[MouthByHand]:
    """The drawings of frames `[start, end)`, each for `on` frames, round and round until the end."""
    drawings = [one.mouth for one in _cut(run, start, end)]
    found = [
        (frame, min(on, end - frame), drawings[place % len(drawings)])
        for place, frame in enumerate(range(start, end, on))
    ]
    return _within(found, run.frames)


def _within(found: Sequence[tuple[int, int, str]], frames: int) -> list[MouthByHand]:
    return [
        MouthByHand(frame=frame, length=min(length, frames - frame), mouth=mouth)
        for frame, length, mouth in found
        if frame < frames
    ]


def _cut(run: MouthRun, start: int, end: int) -> list[Exposed]:
    """The exposures of `[start, end)`, cut at both ends. Raises Refusal for a range outside of the run."""
    if not 0 <= start < end <= run.frames:
        raise Refusal(f"The line has frames 1 to {run.frames}, and that is none of its ranges.")
    return [
        one.model_copy(
            update={
                "frame": max(one.frame, start),
                "length": min(one.end, end) - max(one.frame, start),
            }
        )
        for one in run.exposures
        if one.frame < end and one.end > start
    ]


def _at(run: MouthRun, frame: int) -> int:
    """The place of the exposure that shows on a frame. Raises Refusal for a frame that the run lacks."""
    for place, one in enumerate(run.exposures):
        if one.frame <= frame < one.end:
            return place
    raise Refusal(
        f"The line has frames 1 to {run.frames}, and no frame {min(frame, MOST_FRAMES) + 1}."
    )
