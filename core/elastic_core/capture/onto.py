"""A cleaned take onto another figure, with rest poses laid alike, feet on the ground and held (rule 6.7)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

import numpy as np

from .. import rotation
from ..anatomy import known_joints, leg_length_metres, legs_of
from ..arrays import Array
from ..clip.document import Plant
from ..cycle.feet import as_it_rolls
from ..figure import Figure, Placed, forward
from ..fit import Alignment, retarget
from ..foot import foot_of
from ..motion import Motion
from ..reach import Limb, reached
from .plants import found_plants, held_take

_CALIBRATION_SECONDS = 20.0
# A calibration pose is stood in: what turns faster than this on the average joint is on its way.
_STILL_DEGREES_A_SECOND = 8.0


@dataclass(frozen=True, eq=False)
class Onto:
    """The figure a take goes onto, and how: which joint plays which, the frame of the take that is its rest
    pose, joints corrected by degrees, and whether hands go to the same place beside the body."""

    figure: Figure
    mapping: Mapping[str, str]
    rest: Motion | None = None
    corrections: Mapping[str, tuple[float, float, float]] = field(default_factory=dict)
    hands: bool = False


def onto_figure(take_figure: Figure, motion: Motion, onto: Onto) -> Motion:
    """The motion on the figure, as tall as its legs are long; feet not yet on the ground."""
    alignment = Alignment(onto.rest, onto.corrections)
    carried = retarget(take_figure, motion, onto.figure, onto.mapping, alignment)
    return with_hands(take_figure, motion, onto, carried) if onto.hands else carried


def on_the_ground(
    figure: Figure, motion: Motion, plants: Sequence[Plant], rate: Fraction
) -> tuple[Motion, tuple[Plant, ...]]:
    """The motion with its planted feet on the floor they rest on, and the plants as this figure has them;
    where none are known they are found."""
    own = as_planted(figure, motion, plants) if plants else found_plants(figure, motion, rate)
    if not own:
        return motion, ()
    placed = forward(figure, motion)
    over = [height for plant in own for height in _heights(figure, placed, plant)]
    root_move = motion.root_move.copy(order="F")
    root_move[:, 1] -= float(np.median(over))
    return replace(motion, root_move=root_move), own


def held_on(
    figure: Figure, motion: Motion, plants: Sequence[Plant], rate: Fraction
) -> tuple[Motion, tuple[Plant, ...], float]:
    """The same with its feet held; and by how many centimetres the root had to be lowered for it."""
    laid, own = on_the_ground(figure, motion, plants, rate)
    held = held_take(figure, laid, own)
    return held.motion, held.plants, held.lowered_cm


def as_planted(figure: Figure, motion: Motion, plants: Sequence[Plant]) -> tuple[Plant, ...]:
    """Another figure's plants on this one's feet of the same sides."""
    legs = {leg.side: leg for leg in legs_of(figure)}
    placed = forward(figure, motion)
    own: list[Plant] = []
    for plant in plants:
        leg = legs.get(plant.side)
        if leg is None:
            continue
        rolls = foot_of(figure, leg) is not None
        same = plant.rolls and rolls
        update = {"joint": figure.names[leg.foot], "rolls": rolls}
        mine = plant.model_copy(update=update)
        own.append(mine if same else as_it_rolls(figure, placed, mine))
    return tuple(own)


def _heights(figure: Figure, placed: Placed, plant: Plant) -> list[float]:
    """How high the lowest point of a planted foot is over where it rests, at each frame of the plant."""
    leg = next(leg for leg in legs_of(figure) if figure.names[leg.foot] == plant.joint)
    foot = foot_of(figure, leg)
    soles = placed.positions[:, [leg.foot]] if foot is None else foot.soles(placed)
    at_rest = figure.at_rest
    rests = at_rest.positions[:, [leg.foot]] if foot is None else foot.soles(at_rest)
    over = (soles[..., 1] - rests[..., 1]).min(axis=1)
    first, end = (int(np.clip(np.ceil(at), 0, len(over))) for at in (plant.start, plant.end))
    heights: list[float] = over[first:end].tolist()
    return heights


def with_hands(take_figure: Figure, motion: Motion, onto: Onto, carried: Motion) -> Motion:
    """The carried motion with its hands as far from the hips as in the take, in leg lengths, as far as the
    arms reach."""
    figure = onto.figure
    theirs = {name: place for place, name in enumerate(take_figure.names)}
    source_of = {figure.place_of(own): theirs[name] for name, own in onto.mapping.items()}
    limbs = [limb for limb in _arms(figure) if limb.end in source_of]
    if not limbs:
        return carried
    ratio = leg_length_metres(figure) / leg_length_metres(take_figure)
    placed, there = forward(take_figure, motion), forward(figure, carried)
    hips = placed.positions[:, source_of.get(0, 0)]
    targets: list[Array] = []
    for limb in limbs:
        away = placed.positions[:, source_of[limb.end]] - hips
        targets.append(there.positions[:, 0] + ratio * away)
    return reached(figure, carried, limbs, np.stack(targets, axis=1), there)


def _arms(figure: Figure) -> list[Limb]:
    by_part = {(known.side, known.part): place for place, known in known_joints(figure).items()}
    arms = []
    for side in ("left", "right"):
        upper, middle, end = (by_part.get((side, p)) for p in ("upper arm", "forearm", "hand"))
        if upper is not None and middle is not None and end is not None:
            arms.append(Limb(upper, middle, end))
    return arms


def proposed_rest_frame(figure: Figure, motion: Motion, rate: Fraction) -> int | None:
    """The frame in which a calibration pose is stood in: of the still ones near the start the one that is
    nearest to the skeleton's own rest pose. None where nobody stands still."""
    count = min(motion.frames, round(_CALIBRATION_SECONDS * float(rate)))
    if count < 3:
        return None
    seen = motion.rotations[:count, 1:]
    reach = max(1, round(float(rate) / 6))
    ahead = np.minimum(np.arange(count) + reach, count - 1)
    behind = np.maximum(np.arange(count) - reach, 0)
    turned = np.degrees(rotation.angle_between(seen[behind], seen[ahead])).mean(axis=-1)
    speed = turned * float(rate) / np.maximum(ahead - behind, 1)
    away = np.degrees(rotation.angle_between(seen, np.array(rotation.IDENTITY))).mean(axis=-1)
    still = speed < _STILL_DEGREES_A_SECOND
    if not still.any():
        return None
    return int(np.where(still, away, np.inf).argmin())
