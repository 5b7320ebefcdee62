"""Who wears the suit: stands with arms out, walks, turns and stumbles when asked to. All of it is made up,
and follows from what is asked alone."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import Literal

import numpy as np

from ... import ground, rotation
from ...anatomy import legs_of
from ...arrays import Array, by_runs
from ...clip.edits import edit_clip
from ...clip.edits.base import Made
from ...clip.edits.cycle import StartWalk
from ...clip.new import blank
from ...clip.playable import PlayableClip
from ...clip.playing import playable_of
from ...cycle.starter import preset
from ...cycle.travel import in_place
from ...figure import forward
from ...foot import foot_of
from ...moments import source
from ...motion import Motion, blend
from .suit import suit

Move = Literal["arms out", "stand", "walk", "turn", "stumble"]
MOVES: tuple[Move, ...] = ("arms out", "stand", "walk", "turn", "stumble")
# A round of the walk in seconds, kept at a rate at which its feet land between no two frames.
_ROUND_SECONDS, _CYCLE_FPS = 1.05, 120
_SETTLES_SECONDS = 0.55
_TURN_DEGREES_A_SECOND = 62.0
_STUMBLE_SECONDS = 0.9
_ARMS_DOWN_DEGREES = 74.0
_STUMBLES = (("Waist", "X", 16.0), ("Ribs", "X", 14.0), ("LeftUpperArm", "Y", -30.0))


@dataclass(frozen=True)
class State:
    """Where the performer is in what they do.

    phase     rounds of the walk gone by
    walks     0 standing … 1 walking; `arms` 0 down … 1 out
    trips     seconds since a stumble began, or none under way
    """

    heading: float = 0.0
    phase: float = 0.0
    walks: float = 0.0
    arms: float = 1.0
    trips: float | None = None


def stepped(state: State, move: Move, seconds: float) -> State:
    """A moment later, doing what is asked."""
    walks_to = 1.0 if move in ("walk", "turn", "stumble") else 0.0
    arms_to = 1.0 if move == "arms out" else 0.0
    trips = state.trips
    if trips is not None:
        trips = trips + seconds if trips + seconds < _STUMBLE_SECONDS else None
    elif move == "stumble":
        trips = 0.0
    pace = 1.0 if trips is None else 1.0 - 0.5 * _bump(trips)
    turned = np.radians(_TURN_DEGREES_A_SECOND) * seconds * state.walks if move == "turn" else 0.0
    return State(
        heading=float(state.heading + turned),
        phase=state.phase + state.walks * pace * seconds / _ROUND_SECONDS,
        walks=_towards(state.walks, walks_to, seconds),
        arms=_towards(state.arms, arms_to, seconds),
        trips=trips,
    )


def performed(plan: Sequence[tuple[Move, float]], fps: float) -> Motion:
    """A whole performance from the origin: moves and how many seconds each lasts."""
    states = [State()]
    for move, seconds in plan:
        for _ in range(round(seconds * fps)):
            states.append(stepped(states[-1], move, 1 / fps))
    return posed(states[1:])


def posed(states: Sequence[State], start: tuple[float, float] = (0.0, 0.0)) -> Motion:
    """The suit's poses at states one after another, from a place on the ground. Whoever walks is carried by
    the foot that stands: it stays where it is."""
    figure, walk = suit(), _walk()
    phase = np.array([state.phase for state in states])
    walking = in_place(walk.at(source(np.mod(phase, 1.0) * walk.length_frames)))
    standing = _standing(np.array([state.arms for state in states]))
    motion = blend(standing, walking, np.array([_eased(state.walks) for state in states]))
    rotations = motion.rotations.copy(order="F")
    bump = np.array([0.0 if s.trips is None else _bump(s.trips) for s in states])
    for joint, axis, degrees in _STUMBLES:
        place = figure.place_of(joint)
        rotations[:, place] = rotation.multiply(
            rotations[:, place], rotation.about_axis(axis, np.radians(degrees) * bump)
        )
    there = replace(motion, rotations=rotations)
    heading = np.array([state.heading for state in states])
    walks = np.array([_eased(state.walks) for state in states])
    path = np.stack([0 * heading, 0 * heading, heading], axis=-1)
    path[:, :2] = np.array(start) + _carried(there, heading, phase, walks)
    return there.carried(by_runs(path))


def _carried(motion: Motion, heading: Array, phase: Array, walks: Array) -> Array:
    """How the hips go over the ground: as the walk does, and where it is not wholly a walk yet so that
    whichever foot stands lower stays where it is; a turn goes about that foot. motion on the spot → [frames,
    2]."""
    placed = forward(suit(), motion)
    soles = [foot.soles(placed) for leg in legs_of(suit()) if (foot := foot_of(suit(), leg))]
    points = np.concatenate(soles, axis=1)
    rows = np.arange(1, motion.frames)
    # From each frame to the next it is the point that stood in the one before.
    stood = points[..., 1].argmin(axis=1)[:-1]
    was, now = points[rows - 1, stood][:, [0, 2]], points[rows, stood][:, [0, 2]]
    period = np.array(_walk().clip.period[:2])
    by_walk = np.diff(phase)[:, None] * period
    share = walks[1:, None]
    step = share * by_walk + (1 - share) * (was - now)
    x, z = ground.turn(heading[:-1], step[:, 0], step[:, 1])
    before, after = (ground.turn(h, now[:, 0], now[:, 1]) for h in (heading[:-1], heading[1:]))
    about = np.stack([before[0] - after[0], before[1] - after[1]], axis=-1)
    steps = np.stack([x, z], axis=-1) + about
    path: Array = np.concatenate([np.zeros((1, 2)), np.cumsum(steps, axis=0)])
    return path


def _standing(arms: Array) -> Motion:
    """Upright, with the arms out by a share. [frames]."""
    figure = suit()
    motion = Motion.resting(len(arms), len(figure.joints), figure.offsets[0])
    down = np.radians(_ARMS_DOWN_DEGREES) * (1 - np.array([_eased(share) for share in arms]))
    for joint, sign in (("LeftUpperArm", -1.0), ("RightUpperArm", 1.0)):
        motion.rotations[:, figure.place_of(joint)] = rotation.about_axis("Z", sign * down)
    return motion


@lru_cache(maxsize=1)
def _walk() -> PlayableClip:
    figure = suit()
    steps = round(_ROUND_SECONDS * _CYCLE_FPS / 2)
    numbers = preset("amble", figure).model_copy(update={"frames_per_step": steps})
    empty = blank(figure, "suit", "walk", Fraction(_CYCLE_FPS), 24, is_cycle=True)
    made = edit_clip(Made(empty, figure), StartWalk(gait=numbers))
    return playable_of(figure, made.clip)


def _towards(value: float, wanted: float, seconds: float) -> float:
    step = seconds / _SETTLES_SECONDS
    return min(wanted, value + step) if wanted > value else max(wanted, value - step)


def _eased(share: float) -> float:
    return share * share * (3 - 2 * share)


def _bump(seconds: float) -> float:
    """A stumble's course: from 0 to 1 and back."""
    return float(np.sin(np.pi * min(seconds / _STUMBLE_SECONDS, 1.0)) ** 2)
