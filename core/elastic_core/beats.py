"""Beats: named, coloured ranges of a scene's or a clip's time, and the edits on them."""

from typing import Literal

import numpy as np
from pydantic import ConfigDict, Field

from .clock import nearest_frame
from .colour import Colour
from .errors import Refusal
from .frozen import Frozen
from .names import Id, Name
from .quantities import Frame


class Beat(Frozen):
    """A named, coloured range of time, `[start, end)`."""

    id: Id
    name: str = Field(min_length=1, max_length=120)
    colour: Colour = "ochre"
    start: Frame
    end: Frame


class StretchedBeat(Beat):
    """A beat with the stretches of its clip that it covers, half open: two where it goes over the seam."""

    stretches: tuple[tuple[float, float], ...]


def stretched(beat: Beat, round_frames: int | None) -> StretchedBeat:
    """A beat with its stretches; `round_frames` is a cycle's length."""
    own = [(beat.start, beat.end)]
    if round_frames is not None and beat.end > round_frames:
        own = [(beat.start, float(round_frames)), (0.0, beat.end - round_frames)]
    return StretchedBeat(**beat.model_dump(), stretches=tuple(own))


class BeatEdit(Frozen):
    model_config = ConfigDict(extra="forbid")


class AddBeat(BeatEdit):
    kind: Literal["add_beat"] = "add_beat"
    beat: Id
    name: Name
    colour: Colour = "ochre"
    start: Frame
    end: Frame


class SetBeat(BeatEdit):
    """Another name, colour, start or end; what is left out stays."""

    kind: Literal["set_beat"] = "set_beat"
    beat: str
    name: Name | None = None
    colour: Colour | None = None
    start: Frame | None = None
    end: Frame | None = None


class RemoveBeat(BeatEdit):
    kind: Literal["remove_beat"] = "remove_beat"
    beat: str


Beats = tuple[Beat, ...]


def edited(
    beats: Beats,
    edit: AddBeat | SetBeat | RemoveBeat,
    length_frames: int,
    inside: str,
    *,
    goes_round: bool = False,
) -> tuple[Beats, str]:
    """The beats after an edit, in order, and what the edit is called. `inside`: “the scene”.

    In a cycle, which `goes_round`, a beat may run on over the seam.

    Raises Refusal for a beat that is not there, shares an id, or lies outside.
    """
    if isinstance(edit, AddBeat):
        if any(beat.id == edit.beat for beat in beats):
            raise Refusal(f"A beat with that id is in {inside} already.")
        start, end = _range(edit.start, edit.end, length_frames, inside, goes_round)
        added = Beat(id=edit.beat, name=edit.name, colour=edit.colour, start=start, end=end)
        return _in_order((*beats, added)), f"Add the beat {added.name}"
    found = next((beat for beat in beats if beat.id == edit.beat), None)
    if found is None:
        raise Refusal(f"That beat is no longer in {inside}.")
    others = tuple(beat for beat in beats if beat.id != edit.beat)
    if isinstance(edit, RemoveBeat):
        return others, f"Delete the beat {found.name}"
    start, end = _range(
        found.start if edit.start is None else edit.start,
        found.end if edit.end is None else edit.end,
        length_frames,
        inside,
        goes_round,
    )
    wanted = {"name": edit.name or found.name, "colour": edit.colour or found.colour}
    changed = found.model_copy(update={**wanted, "start": start, "end": end})
    return _in_order((*others, changed)), _label(found, changed)


def _label(before: Beat, after: Beat) -> str:
    if after.name != before.name:
        return f"Rename the beat {before.name} to {after.name}"
    if after.colour != before.colour:
        return f"Colour the beat {before.name}"
    moved = after.end - after.start == before.end - before.start
    return f"{'Move' if moved else 'Trim'} the beat {before.name}"


def _range(
    start: float, end: float, length_frames: int, inside: str, goes_round: bool
) -> tuple[float, float]:
    """Whole frames inside the document, one at the least."""
    first, last = nearest_frame(start), nearest_frame(end)
    if last <= first:
        raise Refusal("A beat ends after it starts.")
    if goes_round and last - first <= length_frames:
        rounds = np.floor(first / length_frames) * length_frames
        return first - float(rounds), last - float(rounds)
    if first < 0 or last > length_frames:
        raise Refusal(f"A beat lies inside {inside}.")
    return first, last


def scaled(beats: Beats, factor: float) -> Beats:
    """Beats of a document whose time was fitted to another length, on whole frames."""
    found = []
    for beat in beats:
        start = nearest_frame(beat.start * factor)
        end = max(start + 1, nearest_frame(beat.end * factor))
        found.append(beat.model_copy(update={"start": start, "end": end}))
    return tuple(found)


def trimmed(beats: Beats, length_frames: int) -> Beats:
    """What of the beats lies in a document that ends here."""
    inside = (beat for beat in beats if beat.start < length_frames)
    return tuple(
        beat.model_copy(update={"end": min(beat.end, float(length_frames))}) for beat in inside
    )


def turned(beats: Beats, shift: int, length_frames: int) -> Beats:
    """The beats of a cycle that starts on its frame `shift` now."""
    found = []
    for beat in beats:
        start = (beat.start - shift) % length_frames
        update = {"start": start, "end": start + beat.end - beat.start}
        found.append(beat.model_copy(update=update))
    return _in_order(tuple(found))


def _in_order(beats: Beats) -> Beats:
    return tuple(sorted(beats, key=lambda beat: (beat.start, beat.end)))
