"""Plants of a cleaned take: found, painted over by hand, and held (rules 4.5 and 5.5)."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ..anatomy import legs_of
from ..arrays import Array, runs
from ..clip.document import Clip, Plant
from ..clip.playable import PlayableClip
from ..cycle.contacts import find_contacts
from ..cycle.feet import as_it_rolls, hold_feet, sole_paths
from ..cycle.rolling import phase_of
from ..figure import Figure, Placed, forward
from ..foot import foot_of
from ..motion import Motion
from .by_hand import FootMark
from .change import Worst


def found_plants(figure: Figure, motion: Motion, rate: Fraction) -> tuple[Plant, ...]:
    """The plants of a motion that plays once, each rolling over heel and toe as the foot's own tilt shows
    it."""
    clip = Clip(name="take", figure="", rate=rate, length_frames=motion.frames)
    found = [contact.plant for contact in find_contacts(figure, PlayableClip(clip, motion))]
    if not found:
        return ()
    placed = forward(figure, motion)
    return tuple(as_it_rolls(figure, placed, plant) for plant in found)


def painted(
    figure: Figure, motion: Motion, plants: Sequence[Plant], at: Array, marks: Sequence[FootMark]
) -> tuple[Plant, ...]:
    """The plants with what was painted over them. at [frames]: the take's frame of each of the motion's."""
    if not marks:
        return tuple(plants)
    placed: Placed | None = None
    kept: list[Plant] = []
    for leg in legs_of(figure):
        name = figure.names[leg.foot]
        own = [plant for plant in plants if plant.side == leg.side]
        stands = np.zeros(motion.frames, dtype=np.bool_)
        for plant in own:
            stands[int(plant.start) : int(plant.end)] = True
        for mark in marks:
            if mark.side == leg.side:
                stands[(at >= mark.start) & (at < mark.end)] = mark.planted
        as_found = {(int(plant.start), int(plant.end)): plant for plant in own}
        for start, end in runs(stands):
            found = as_found.get((start, end))
            if found is None:
                rolls = foot_of(figure, leg) is not None
                drawn = Plant(joint=name, side=leg.side, start=start, end=end, rolls=rolls)
                placed = placed or forward(figure, motion)
                found = as_it_rolls(figure, placed, drawn)
            kept.append(found)
    return tuple(sorted(kept, key=lambda plant: (plant.start, plant.side)))


@dataclass(frozen=True, eq=False)
class HeldTake:
    """The motion with its plants held, and how far its root had to be lowered for it at the most."""

    motion: Motion
    plants: tuple[Plant, ...]
    lowered_cm: float


def held_take(figure: Figure, motion: Motion, plants: Sequence[Plant]) -> HeldTake:
    """Every plant held where it stands: heel from its strike, then the flat foot, then the toe until it
    leaves."""
    kept = tuple(plant.model_copy(update={"held": True}) for plant in plants)
    held = hold_feet(figure, motion, kept, None)
    return HeldTake(held.motion, kept, held.lowered_cm)


def worst_slide(figure: Figure, motion: Motion, plants: Sequence[Plant]) -> Worst | None:
    """The plant in which a foot gets farthest from where it stands, by its first frame, in centimetres.

    Of captured motion that says more than the ground that is covered: noise covers much and gets nowhere.
    """
    if not plants:
        return None
    placed = forward(figure, motion)
    slides = [_farthest_cm(figure, placed, plant) for plant in plants]
    place = int(np.argmax(slides))
    return Worst(int(plants[place].start), plants[place].joint, slides[place])


def _farthest_cm(figure: Figure, placed: Placed, plant: Plant) -> float:
    """How far the point that bears gets from its middle place, both ways: heel, then the flat foot, then
    ball."""
    times = np.arange(np.ceil(plant.start), np.ceil(plant.end), dtype=np.float64)
    leg = next((leg for leg in legs_of(figure) if figure.names[leg.foot] == plant.joint), None)
    foot = foot_of(figure, leg) if leg and plant.rolls else None
    if foot is None:
        points = placed.positions[times.astype(np.intp), figure.place_of(plant.joint)]
        return _spread_cm(points)
    soles = sole_paths(foot, placed, times, None)
    phase = phase_of(plant, times)
    return max(_spread_cm(soles[phase <= 0, 0]), _spread_cm(soles[phase >= 0, 1]))


def _spread_cm(points: Array) -> float:
    if len(points) < 2:
        return 0.0
    level = points[:, [0, 2]]
    away = np.linalg.norm(level - np.median(level, axis=0), axis=-1)
    return float(200 * away.max())
