"""Contacts: when a foot is planted, and how far it slides meanwhile (rule 4.5)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from ..anatomy import Leg, leg_length_metres, legs_of
from ..arrays import Array, runs
from ..clip.document import Clip, Plant
from ..clip.playable import PlayableClip
from ..figure import Figure, forward
from ..foot import foot_of, stillest_steps
from ..moments import source

Flags = npt.NDArray[np.bool_]
Progress = Callable[[int], None]

# Thresholds are shares of the leg's length: on under the first, off above the second.
HEIGHT_SHARE = (0.045, 0.08)
SPEED_SHARE_A_SECOND = (0.2, 0.45)
LEAST_PLANT_SECONDS = 0.06
_WINDOW_FRAMES = 1024


@dataclass(frozen=True)
class Contact:
    """A foot on the ground over the clip's frames `[start, end)`, and its slide in centimetres.

    In a cycle a plant over the seam ends beyond the last frame. A foot that `rolls` stands on its heel for
    the first `heel_frames` and on its ball for the last `toe_frames`.
    """

    joint: str
    side: str
    start: int
    end: int
    slide_cm: float
    rolls: bool = False
    heel_frames: int = 0
    toe_frames: int = 0

    @property
    def plant(self) -> Plant:
        return Plant.model_validate(
            {
                "joint": self.joint,
                "side": self.side,
                "start": self.start,
                "end": self.end,
                "rolls": self.rolls,
                "heel_frames": self.heel_frames,
                "toe_frames": self.toe_frames,
            }
        )


def find_contacts(
    figure: Figure, playable: PlayableClip, progress: Progress = lambda frames: None
) -> list[Contact]:
    """Every plant of every foot, in order of their starts. A single pose has no speed, and no plants.

    `progress` hears how many frames have been looked at.
    """
    clip, length = playable.clip, playable.clip.length_frames
    if length < 2:
        return []
    # A cycle is looked at in its middle round.
    rounds = range(-1, 2) if clip.is_cycle else range(1)
    frames = np.arange(rounds[0] * length, (rounds[-1] + 1) * length, dtype=np.float64)
    legs = legs_of(figure)
    points = _points(figure, playable, legs, frames, progress)
    found = [
        contact
        for leg, own in zip(legs, points, strict=True)
        for contact in _contacts_of(figure, clip, leg, frames, own)
    ]
    return sorted(found, key=lambda contact: (contact.start, contact.side))


def with_contacts(
    figure: Figure, playable: PlayableClip, progress: Progress = lambda frames: None
) -> PlayableClip:
    """The clip with its contacts as its plants."""
    plants = tuple(contact.plant for contact in find_contacts(figure, playable, progress))
    clip = playable.clip.model_copy(update={"plants": plants})
    return replace(playable, clip=clip)


def _contacts_of(
    figure: Figure, clip: Clip, leg: Leg, frames: Array, points: Array
) -> list[Contact]:
    """A foot stands while its heel, its ball or its tip does. points [frames, 1 or 3, 3]."""
    length, rate = clip.length_frames, float(clip.rate)
    foot = foot_of(figure, leg)
    reach = leg_length_metres(figure)
    # Where a point lies when it is on the floor: near its lowest over the whole clip.
    floor = np.percentile(points[:, :, 1], 5, axis=0)
    height = (points[:, :, 1] - floor) / reach
    speed = np.linalg.norm(np.gradient(points[:, :, [0, 2]], axis=0), axis=-1) * rate / reach
    near = (height < HEIGHT_SHARE[0]) & (speed < SPEED_SHARE_A_SECOND[0])
    still = (height < HEIGHT_SHARE[1]) & (speed < SPEED_SHARE_A_SECOND[1])
    bears = np.stack([held_over(near[:, k], still[:, k]) for k in range(points.shape[1])], axis=-1)
    planted: Flags = np.any(bears, axis=-1, keepdims=False)
    if clip.is_cycle and planted.all():
        spans = [(0, length)]
    else:
        spans = [(a + int(frames[0]), b + int(frames[0])) for a, b in runs(planted)]
    least = LEAST_PLANT_SECONDS * rate
    contacts = []
    for start, end in spans:
        # Of the three rounds, only the plants that begin in the middle one count.
        if end - start < least or not 0 <= start < length:
            continue
        seen = slice(start - int(frames[0]), end - int(frames[0]))
        slide = float(stillest_steps(points[seen]).sum() * 100)
        if foot is None:
            contacts.append(Contact(figure.names[leg.foot], leg.side, start, end, slide))
            continue
        heel, toes = _rolls_over(bears[seen])
        name = figure.names[leg.foot]
        contacts.append(Contact(name, leg.side, start, end, slide, True, heel, toes))
    return contacts


def _rolls_over(bears: Flags) -> tuple[int, int]:
    """For how many frames at a plant's start its heel bears alone, and at its end its ball. [n, 3 points]"""
    heel, front = bears[:, 0], bears[:, 1:].any(axis=-1)
    if not heel.any() or not front.any():
        return 0, 0
    return int(front.argmax()), int(heel[::-1].argmax())


def _points(
    figure: Figure,
    playable: PlayableClip,
    legs: Sequence[Leg],
    frames: Array,
    progress: Progress,
) -> list[Array]:
    """For each leg where its foot can touch: heel, ball and tip, or its ankle where it has no toes.
    [frames, points, 3]."""
    points: list[list[Array]] = [[] for _ in legs]
    # A window at a time: a take of an hour has no room in memory with all its joints.
    for start in range(0, len(frames), _WINDOW_FRAMES):
        window = source(frames[start : start + _WINDOW_FRAMES])
        placed = forward(figure, playable.at(window))
        for own, leg in zip(points, legs, strict=True):
            foot = foot_of(figure, leg)
            own.append(placed.positions[:, [leg.foot]] if foot is None else foot.soles(placed))
        progress(start + len(window))
    return [np.concatenate(own) for own in points]


def held_over(near: Flags, still: Flags) -> Flags:
    """Hysteresis: every run of `still` that is `near` somewhere."""
    held: Flags = np.zeros(len(still), dtype=bool)
    for start, end in runs(still):
        held[start:end] = near[start:end].any()
    return held
