"""Walks and runs of Odo: four poses of each step (contact, down, passing, up), the legs by IK."""

from dataclasses import dataclass

import numpy as np

from elastic_core import ground
from elastic_core.arrays import Array
from elastic_core.clip.document import Clip, NamedPose, Plant
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import keys_of, playable_of
from elastic_core.colour import Colour
from elastic_core.curve import Curve, Key
from elastic_core.figure import Figure
from elastic_core.motion import Motion

from .poser import Arm, Body, Foot, Poser

TAU = 2 * np.pi


@dataclass(frozen=True)
class Gait:
    """Metres, degrees and shares of a cycle. A cycle is two steps; at phase 0 the left heel strikes.

    `duty` is the share of the cycle each foot is down; below one half both feet leave the ground.
    `first_phase` is the phase of the clip's frame 0.
    """

    name: str
    colour: Colour
    length_frames: int
    stride: float
    duty: float
    hip_height: float
    bob: float
    low_at: float
    lean: float
    arm_swing: float
    elbow: float
    elbow_swing: float
    lift: float
    twist: float
    heel: float
    push: float
    first_phase: float


AMBLE = Gait(
    name="Amble", colour="vermilion", length_frames=24, stride=1.12, duty=0.6, hip_height=0.845,
    bob=0.019, low_at=0.07, lean=8, arm_swing=26, elbow=16, elbow_swing=20, lift=0.05, twist=8,
    heel=14, push=44, first_phase=0.25,
)  # fmt: skip
HURRY = Gait(
    name="Hurry", colour="viridian", length_frames=16, stride=1.44, duty=0.44, hip_height=0.806,
    bob=0.034, low_at=0.16, lean=15, arm_swing=34, elbow=52, elbow_swing=16, lift=0.12, twist=11,
    heel=4, push=52, first_phase=0.25,
)  # fmt: skip


POSES = {0.0: "Contact", 0.125: "Down", 0.25: "Passing", 0.375: "Up"}


def gait_clip(figure: Figure, figure_id: str, gait: Gait) -> PlayableClip:
    """A travelling cycle, a pose a frame; its sideways sway and surge stay with the root."""
    phases = gait.first_phase + np.arange(gait.length_frames + 1) / gait.length_frames
    travel = ground.power(np.array([0.0, gait.stride, 0.0]), phases - gait.first_phase)
    return PlayableClip(_clip(figure_id, gait), gait_motion(figure, gait, phases, travel))


def keyed_gait_clip(figure: Figure, figure_id: str, gait: Gait) -> PlayableClip:
    """The same made of keys at contact, down, passing and up of both steps; its feet are held.

    Between contact and down, where the foot rolls onto the ground, every frame is a breakdown.
    """
    eighth = gait.length_frames // 8
    frames = np.array(
        sorted(
            frame
            for frame in range(gait.length_frames)
            if frame % eighth == 0 or _named(gait, frame - frame % eighth) == "Contact"
        )
    )
    phases = gait.first_phase + frames / gait.length_frames
    motion = gait_motion(figure, gait, phases, np.zeros((len(frames), 3)))
    keys = {
        name: Curve(
            keys=tuple(
                Key(time=float(frame), value=key.value)
                for frame, key in zip(frames, _each(curve, len(frames)), strict=True)
            ),
            before="repeat",
            after="repeat",
        )
        for name, curve in keys_of(figure, motion, is_cycle=True).items()
    }
    poses = tuple(
        NamedPose(frame=float(frame), name=_named(gait, frame))
        for frame in frames[frames % eighth == 0]
    )
    clip = _clip(figure_id, gait)
    held = tuple(plant.model_copy(update={"held": True}) for plant in clip.plants)
    made = clip.model_copy(update={"keys": keys, "poses": poses, "plants": held})
    return playable_of(figure, made)


def _clip(figure_id: str, gait: Gait) -> Clip:
    return Clip(
        name=gait.name,
        figure=figure_id,
        rate="24",
        length_frames=gait.length_frames,
        is_cycle=True,
        period=(0.0, gait.stride, 0.0),
        colour=gait.colour,
        plants=_plants(gait),
    )


def _named(gait: Gait, frame: int) -> str:
    """What the pose of an eighth of the cycle is called."""
    return POSES[float((gait.first_phase + frame / gait.length_frames) % 0.5)]


def _each(curve: Curve, count: int) -> list[Key]:
    """A key for each pose, also where all are alike."""
    return list(curve.keys) if len(curve.keys) > 1 else [curve.keys[0]] * count


def gait_motion(figure: Figure, gait: Gait, phases: Array, travel: Array) -> Motion:
    """Poses at these phases (whole numbers are whole cycles)."""
    swing = np.cos(TAU * (phases - 0.02))
    late = np.cos(TAU * (phases - 0.06))
    # Twice a cycle: lowest just after each contact, highest past the passing pose.
    bounce = -np.cos(2 * TAU * (phases - gait.low_at))
    body = Body(
        hip_height=gait.hip_height + gait.bob * bounce,
        hip_side=0.02 * np.sin(TAU * (phases + 0.02)),
        hip_twist=-gait.twist * swing,
        hip_roll=3.0 * np.sin(TAU * (phases - 0.03)),
        lean=gait.lean - 1.5 * bounce,
        chest_twist=gait.twist * 0.9 * late,
        chest_roll=-2.0 * np.sin(TAU * (phases - 0.03)),
        head_pitch=3 + 1.6 * np.cos(2 * TAU * (phases - gait.low_at - 0.06)),
        left_foot=_foot(gait, phases, 0.068),
        right_foot=_foot(gait, phases + 0.5, -0.068),
        left_arm=Arm(
            target=(0.16, -0.115 + 0.012 * bounce, 0.31 - 0.02 * late), elbow=(0.6, -0.9, -0.35)
        ),
        right_arm=Arm(
            swing=gait.arm_swing * late + 2,
            bend=gait.elbow + gait.elbow_swing * (0.5 + 0.5 * np.cos(TAU * (phases - 0.12))),
            out=9,
        ),
    )
    return Poser(figure, len(phases)).pose(body, travel)


def _foot(gait: Gait, phases: Array, x: float) -> Foot:
    """One foot's path, as seen from the travel: it stands still on the ground while it is down."""
    phase = np.mod(phases, 1.0)
    duty = gait.duty
    # In the air: from where it left to where it lands, leaving and landing at the ground's speed.
    u = np.clip((phase - duty) / (1 - duty), 0.0, 1.0)
    air = _hermite(-duty / 2, duty / 2, -(1 - duty), -(1 - duty), u)
    z = gait.stride * np.where(phase < duty, duty / 2 - phase, air)
    roll = _periodic(
        phase,
        {
            0.0: gait.heel,
            0.2 * duty: 0.0,
            0.55 * duty: 0.0,
            duty: -gait.push,
            duty + 0.22 * (1 - duty): -gait.push - 6,
            duty + 0.72 * (1 - duty): 6.0,
            duty + 0.92 * (1 - duty): gait.heel + 2,
        },
    )
    lift = gait.lift * np.where(phase < duty, 0.0, np.sin(np.pi * u) ** 2)
    toe = _periodic(phase, {0.0: 1.0, 0.3 * duty: 0.0, duty: 0.0, duty + 0.4 * (1 - duty): 1.0})
    return Foot(x=x, z=z, lift=lift, roll=roll, toe=toe)


def _plants(gait: Gait) -> tuple[Plant, ...]:
    """From the flat foot to the moment the toes leave, in the clip's frames."""
    found = []
    for joint, side, shift in (("l_toe", "left", 0.0), ("r_toe", "right", 0.5)):
        start = (0.2 * gait.duty - shift - gait.first_phase) % 1.0
        length = 0.8 * gait.duty
        found.append(
            Plant(
                joint=joint,
                side="left" if side == "left" else "right",
                start=start * gait.length_frames,
                end=(start + length) * gait.length_frames,
            )
        )
    return tuple(found)


def _hermite(a: float, b: float, out_slope: float, in_slope: float, u: Array) -> Array:
    return (
        a
        + (b - a) * u * u * (3 - 2 * u)
        + out_slope * u * (1 - u) ** 2
        - in_slope * u * u * (1 - u)
    )


def _periodic(phase: Array, keys: dict[float, float]) -> Array:
    """Eased keys of one round, repeated on either side so that slopes meet across the seam."""
    rounds = [
        Key(time=time + k, value=value) for k in (-1, 0, 1, 2) for time, value in keys.items()
    ]
    return Curve(keys=tuple(rounds)).values(phase)
