"""Fit: which of a clip's channels a figure can play, and motion carried from one figure to another.

Rule 2.4. Channels meet joints by name, then by a stored mapping; sides and spelling variants are
proposed, and a person confirms them. Nothing is dropped without being named.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from . import rotation
from .anatomy import Known, Part, known_joints, leg_length_metres, same_spelling
from .arrays import Array, by_runs
from .clip.document import Clip
from .clip.playable import PlayableClip
from .cycle.contacts import with_contacts
from .errors import Refusal
from .figure import Figure, Placed, forward
from .motion import Motion

How = Literal["name", "stored", "proposed"]
# Bones that are laid along each other before rotations are compared: arms that rest raised in one
# figure and hanging in the other then move alike. Pelvis, trunk, head and feet rest alike already.
_ALIGNED: tuple[Part, ...] = ("collar", "upper arm", "forearm", "thigh", "shin")


@dataclass(frozen=True)
class Pair:
    """A clip's joint and the figure's joint that plays it."""

    clip_joint: str
    figure_joint: str
    how: How


@dataclass(frozen=True)
class Fit:
    """What plays, what is dropped and what rests."""

    plays: tuple[Pair, ...]
    proposed: tuple[Pair, ...]
    dropped: tuple[str, ...]
    rests: tuple[str, ...]
    leg_ratio: float

    def mapping(self, *, with_proposed: bool = True) -> dict[str, str]:
        """Clip joint → figure joint."""
        pairs = (*self.plays, *self.proposed) if with_proposed else self.plays
        return {pair.clip_joint: pair.figure_joint for pair in pairs}


def fit(clip_figure: Figure, figure: Figure, stored: Mapping[str, str] | None = None) -> Fit:
    """How a clip made for one skeleton fits a figure."""
    ours = set(figure.names)
    plays: list[Pair] = []
    for name in clip_figure.names:
        if name in (stored or {}) and (stored or {})[name] in ours:
            plays.append(Pair(name, (stored or {})[name], "stored"))
        elif name in ours:
            plays.append(Pair(name, name, "name"))
    met = {pair.clip_joint for pair in plays}
    taken = {pair.figure_joint for pair in plays}
    proposed = [
        Pair(theirs, own, "proposed")
        for theirs, own in _proposals(clip_figure, figure)
        if theirs not in met and own not in taken
    ]
    met |= {pair.clip_joint for pair in proposed}
    taken |= {pair.figure_joint for pair in proposed}
    return Fit(
        plays=tuple(plays),
        proposed=tuple(proposed),
        dropped=tuple(name for name in clip_figure.names if name not in met),
        rests=tuple(name for name in figure.names if name not in taken),
        leg_ratio=leg_length_metres(figure) / leg_length_metres(clip_figure),
    )


def _proposals(clip_figure: Figure, figure: Figure) -> list[tuple[str, str]]:
    """Joints of the same part and side, then joints that are only spelt differently. Each once."""
    theirs, ours = known_joints(clip_figure), known_joints(figure)
    pairs = _by_part(theirs, ours) + _trunks(theirs, ours)
    found = [(clip_figure.names[a], figure.names[b]) for a, b in pairs]
    used_theirs, used_ours = {a for a, _ in found}, {b for _, b in found}
    spelt = {same_spelling(name): name for name in reversed(figure.names)}
    for name in clip_figure.names:
        own = spelt.get(same_spelling(name))
        if own is not None and name not in used_theirs and own not in used_ours:
            found.append((name, own))
            used_ours.add(own)
    return found


def _by_part(theirs: Mapping[int, Known], ours: Mapping[int, Known]) -> list[tuple[int, int]]:
    places = {known: place for place, known in ours.items() if known.part != "trunk"}
    return [(place, places[known]) for place, known in theirs.items() if known in places]


def _trunks(theirs: Mapping[int, Known], ours: Mapping[int, Known]) -> list[tuple[int, int]]:
    """Two spines of different lengths, met evenly from the top down: chest always plays chest."""
    a = [place for place, known in theirs.items() if known.part == "trunk"]
    b = [place for place, known in ours.items() if known.part == "trunk"]
    count = min(len(a), len(b))
    return [
        (a[(k + 1) * len(a) // count - 1], b[(k + 1) * len(b) // count - 1]) for k in range(count)
    ]


def checked_mapping(
    clip_figure: Figure, figure: Figure, mapping: Mapping[str, str]
) -> dict[str, str]:
    """A confirmed mapping: real joints only, each of the figure's played by one.

    Raises Refusal for a joint that is not there, or one that two would play.
    """
    for theirs, own in mapping.items():
        clip_figure.place_of(theirs)
        figure.place_of(own)
    doubles = [own for own in set(mapping.values()) if list(mapping.values()).count(own) > 1]
    if doubles:
        raise Refusal(f"Two joints of the clip would play “{doubles[0]}”.")
    if not mapping:
        raise Refusal(f"No joint of the clip meets one of {figure.name}; nothing would play.")
    return dict(mapping)


@dataclass(frozen=True, eq=False)
class Alignment:
    """How two skeletons are laid alike before their turns are compared (rule 6.7).

    pose         one frame of the clip's figure that stands for its rest pose, or its own rest pose
    corrections  the figure's joint → degrees about its own x, y and z by which it is laid otherwise
    """

    pose: Motion | None = None
    corrections: Mapping[str, tuple[float, float, float]] = field(default_factory=dict)


AT_REST = Alignment()


def retarget(
    clip_figure: Figure,
    motion: Motion,
    figure: Figure,
    mapping: Mapping[str, str],
    alignment: Alignment = AT_REST,
) -> Motion:
    """The motion on another figure: rotations relative to the aligned rest poses kept, the path scaled by leg
    length.

    What no joint of the clip plays, rests. Positions of joints below the root are not carried over.
    """
    mapping = checked_mapping(clip_figure, figure, mapping)
    source_of = {figure.place_of(own): clip_figure.place_of(name) for name, own in mapping.items()}
    ratio = leg_length_metres(figure) / leg_length_metres(clip_figure)
    # Worked out as seen from the travel, so that headings stay out of it.
    here = motion.carried(np.zeros_like(motion.travel, order="F"))
    pose = clip_figure.rest_motion if alignment.pose is None else alignment.pose
    placed = forward(clip_figure, here)
    at_rest = forward(clip_figure, pose.carried(np.zeros_like(pose.travel)))
    turned, rests = placed.rotations, at_rest.rotations[0]
    own_rests = figure.at_rest.rotations[0]
    laid = _laid_alike(at_rest, figure, source_of, by_frame=alignment.pose is not None)
    _correct(figure, laid, alignment.corrections)
    world: Array = np.empty((motion.frames, len(figure.joints), 4), order="F")
    rotations: Array = np.zeros((motion.frames, len(figure.joints), 4), order="F")
    rotations[..., 0] = 1.0
    for place, parent in enumerate(figure.parents):
        above = world[:, parent] if place else np.array(rotation.IDENTITY)
        resting = rotation.multiply(above, figure.rests[place])
        source = source_of.get(place)
        if source is None:
            world[:, place] = np.broadcast_to(resting, (motion.frames, 4))
            continue
        since_rest = rotation.multiply(turned[:, source], rotation.conjugate(rests[source]))
        world[:, place] = rotation.multiply(
            since_rest, rotation.multiply(laid[place], own_rests[place])
        )
        own = rotation.multiply(rotation.conjugate(resting), world[:, place])
        rotations[:, place] = figure.turned_in_plane(place, own)
        if figure.joints[place].plane is not None:
            # What hangs on it is turned by as much as the paper could follow.
            world[:, place] = rotation.multiply(resting, rotations[:, place])
    travel = motion.travel * np.array([ratio, ratio, 1.0])
    # The joint that plays the root need not be the clip's own root.
    pelvis = source_of.get(0, 0)
    root_move = (placed.positions[:, pelvis] - at_rest.positions[0, pelvis]) * ratio
    root_move += figure.offsets[0]
    if (plane := figure.joints[0].plane) is not None:
        # Paper does not sway out of itself, and a foot that did would slide.
        across = "xyz".index(plane)
        root_move[:, across] = figure.offsets[0][across]
    return Motion(by_runs(travel), by_runs(root_move), by_runs(rotation.normalise(rotations)))


def _laid_alike(
    at_rest: Placed, figure: Figure, source_of: Mapping[int, int], *, by_frame: bool
) -> dict[int, Array]:
    """For each played joint the turn that lays the figure's resting bone along the clip's. In a frame that
    was named as the rest pose the trunk is laid too."""
    known = known_joints(figure)
    theirs, ours = at_rest.positions[0], figure.at_rest.positions[0]
    aligned = {*_ALIGNED, *(("trunk", "neck") if by_frame else ())}
    laid: dict[int, Array] = {}
    for place, source in source_of.items():
        part = known[place].part if place in known else None
        if part in aligned and (below := _next_played(figure, place, source_of)) is not None:
            laid[place] = rotation.least(
                ours[below] - ours[place], theirs[source_of[below]] - theirs[source]
            )
        elif part == "hand" or part is None:
            # Hands and what hangs on them go with the arm they rest on.
            laid[place] = laid.get(_above(figure, place, laid), np.array(rotation.IDENTITY))
        else:
            laid[place] = np.array(rotation.IDENTITY)
    return laid


def _correct(
    figure: Figure, laid: dict[int, Array], corrections: Mapping[str, tuple[float, float, float]]
) -> None:
    """Joints laid otherwise by hand: turned about their own axes as they rest."""
    for name, degrees in corrections.items():
        place = figure.place_of(name)
        if place in laid:
            rest = figure.at_rest.rotations[0, place]
            own = rotation.from_axes("XYZ", np.array([degrees], dtype=np.float64))[0]
            turned = rotation.multiply(rotation.multiply(rest, own), rotation.conjugate(rest))
            laid[place] = rotation.multiply(laid[place], turned)


def _next_played(figure: Figure, place: int, played: Mapping[int, int]) -> int | None:
    """The first played joint below, the one that the bone leads to."""
    children = [j for j, parent in enumerate(figure.parents) if parent == place]
    return next((j for j in children if j in played), None)


def _above(figure: Figure, place: int, known: Mapping[int, Array]) -> int:
    above = figure.parents[place]
    while above > 0 and above not in known:
        above = figure.parents[above]
    return above


def fit_clip(
    clip_figure: Figure,
    playable: PlayableClip,
    figure: Figure,
    figure_id: str,
    mapping: Mapping[str, str],
) -> PlayableClip:
    """The clip carried to another figure, with its contacts found anew and its resting joints named."""
    motion = retarget(clip_figure, playable.samples.whole(), figure, mapping)
    clip = fitted(clip_figure, playable.clip, figure, figure_id, mapping)
    before = playable.lead_in and retarget(clip_figure, playable.lead_in, figure, mapping)
    return with_contacts(figure, PlayableClip(clip, motion, lead_in=before))


def fitted(
    clip_figure: Figure, clip: Clip, figure: Figure, figure_id: str, mapping: Mapping[str, str]
) -> Clip:
    """The document of a clip that is carried to another figure, its motion left aside."""
    ratio = leg_length_metres(figure) / leg_length_metres(clip_figure)
    x, z, heading = clip.period
    played = set(mapping.values())
    return clip.model_copy(
        update={
            "figure": figure_id,
            "period": (x * ratio, z * ratio, heading),
            "rests": tuple(name for name in figure.names if name not in played),
        }
    )
