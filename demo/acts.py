"""Odo's acts in place: Stand, Reach and light, Startle, Look back. Key poses, eased between."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from elastic_core.arrays import Array
from elastic_core.clip.document import Clip, Plant
from elastic_core.clip.playable import PlayableClip
from elastic_core.colour import Colour
from elastic_core.curve import Curve, Key
from elastic_core.figure import Figure

from .poser import Arm, Body, Foot, Poser

TAU = 2 * np.pi

# The pose every act starts from and comes back to, as one table of numbers.
STANDING: Mapping[str, float] = {
    "hip_height": 0.888, "hip_side": 0.016, "hip_forward": 0.0, "hip_twist": 0.0, "hip_roll": 2.0,
    "lean": -1.0, "chest_twist": -5.0, "chest_roll": -2.0,
    "head_pitch": 3.0, "head_turn": -10.0, "head_tilt": -2.0,
    "lx": 0.1, "lz": 0.0, "llift": 0.0, "lroll": 0.0, "lout": 14.0,
    "rx": -0.1, "rz": 0.02, "rlift": 0.0, "rroll": 0.0, "rout": 22.0,
    "hand_x": 0.17, "hand_y": -0.115, "hand_z": 0.29,
    "swing": 0.0, "bend": 14.0, "arm_out": 13.0,
    "pole_x": 0.1, "pole_y": 0.95, "pole_z": 0.16, "pole_weight": 0.0,
}  # fmt: skip


@dataclass(frozen=True)
class Act:
    """Key poses by frame: only what differs from standing. A key's numbers hold until they change."""

    name: str
    colour: Colour
    length_frames: int
    poses: Mapping[int, Mapping[str, float]]
    # Feet that stay where they are, by frames.
    plants: tuple[tuple[str, int, int], ...]


REACH = Act(
    name="Reach and light", colour="ochre", length_frames=64,
    plants=(("l", 0, 7), ("l", 16, 50), ("l", 58, 64), ("r", 0, 64)),
    poses={
        0: {},
        # He looks up at the lamp and sinks a little before he steps.
        7: {"hip_height": 0.868, "lean": 5, "head_pitch": -16, "head_turn": 2, "hip_side": -0.03,
            "hip_forward": 0.01, "hip_roll": -2, "chest_roll": 1, "hand_z": 0.27},
        12: {"lz": 0.11, "llift": 0.05, "hip_forward": 0.05, "hip_height": 0.872, "lean": 2,
             "head_pitch": -20, "head_turn": 8, "hip_side": -0.02, "pole_weight": 0.3},
        16: {"lz": 0.19, "llift": 0.0, "hip_forward": 0.09, "hip_height": 0.858, "lean": 3,
             "hip_side": 0.0, "hip_roll": 0, "hand_y": 0.05, "hand_x": 0.22, "pole_weight": 0.75,
             "swing": 26, "bend": 50},
        # Up on his toes, the pole at the lamp.
        26: {"hip_height": 0.899, "hip_forward": 0.13, "lean": -7, "rroll": -28, "lroll": -19, "hip_twist": -6,
             "chest_twist": -16, "chest_roll": -6, "hand_x": 0.28, "hand_y": 0.4, "hand_z": 0.29,
             "pole_weight": 1.0, "head_pitch": -22, "head_turn": 14, "head_tilt": 2,
             "swing": 58, "bend": 62, "arm_out": 16},
        # The wick catches: a small push, and a long look.
        31: {"hip_height": 0.903, "hand_y": 0.425, "lean": -8, "rroll": -31, "lroll": -22},
        36: {"hip_height": 0.898, "hand_y": 0.395, "lean": -6, "rroll": -26, "lroll": -18},
        44: {"hip_height": 0.899, "hand_y": 0.4, "lean": -6, "rroll": -25, "head_tilt": 5},
        # Down again, and back to where he stood.
        50: {"hip_height": 0.866, "hip_forward": 0.06, "lean": 3, "rroll": 0, "lroll": 0, "hip_twist": 0,
             "chest_twist": -6, "chest_roll": -2, "hand_x": 0.2, "hand_y": 0.0, "pole_weight": 0.5,
             "head_pitch": -10, "head_turn": 4, "head_tilt": 0, "swing": 16, "bend": 30,
             "hip_side": -0.02},
        54: {"lz": 0.09, "llift": 0.04, "hip_forward": 0.02, "hip_height": 0.874, "lean": 2,
             "pole_weight": 0.15, "hand_y": -0.08, "hip_side": -0.025},
        58: {"lz": 0.0, "llift": 0.0, "hip_forward": 0.0, "hip_height": 0.876, "hip_side": 0.0,
             "lean": 1, "pole_weight": 0.0, "hand_x": 0.17, "hand_y": -0.125, "hand_z": 0.29,
             "swing": 2, "bend": 18, "arm_out": 13, "head_pitch": 2, "head_turn": -6},
        63: dict(STANDING),
    },
)  # fmt: skip

STARTLE = Act(
    name="Startle", colour="plum", length_frames=20,
    plants=(("l", 0, 20), ("r", 0, 4), ("r", 9, 20)),
    poses={
        0: {},
        # Head down into the collar first: the smaller the start, the larger the jump.
        3: {"hip_height": 0.862, "lean": 7, "head_pitch": 13, "bend": 34, "hand_y": -0.14,
            "hip_side": 0.03, "arm_out": 10},
        4: {"hip_height": 0.862},
        6: {"hip_height": 0.886, "lean": -11, "hip_forward": -0.06, "head_pitch": -12,
            "head_turn": 18, "rz": -0.14, "rlift": 0.06, "bend": 84, "swing": 24, "arm_out": 34,
            "hand_y": -0.02, "hand_z": 0.26, "chest_twist": 10},
        9: {"hip_height": 0.85, "hip_forward": -0.1, "lean": -9, "rz": -0.24, "rlift": 0.0,
            "rx": -0.13, "hip_side": -0.01, "head_turn": 22, "bend": 92, "arm_out": 30},
        13: {"hip_height": 0.858, "lean": -5, "bend": 84, "head_pitch": -6, "hand_y": -0.06},
        19: {"hip_height": 0.862, "lean": -3, "bend": 72, "swing": 18, "arm_out": 24,
             "head_pitch": -4, "head_turn": 20},
    },
)  # fmt: skip

LOOK_BACK = Act(
    name="Look back", colour="slate", length_frames=36,
    plants=(("l", 0, 36), ("r", 0, 36)),
    poses={
        0: {},
        # The eyes lead: head down and the other way, then round over the right shoulder.
        4: {"head_pitch": 9, "head_turn": 0, "hip_height": 0.882, "chest_twist": -2},
        10: {"head_pitch": 2, "head_turn": -58, "head_tilt": -6, "chest_twist": -22,
             "hip_twist": -5, "hip_side": -0.012, "hip_roll": -1, "bend": 22, "arm_out": 17},
        14: {"head_pitch": -2, "head_turn": -72, "head_tilt": -7, "chest_twist": -30,
             "hip_twist": -8, "hip_side": -0.02, "hip_roll": -2, "hip_height": 0.887, "bend": 26},
        23: {"head_pitch": -3, "head_turn": -74, "head_tilt": -5, "chest_twist": -31,
             "hip_twist": -8, "hip_side": -0.02},
        28: {"head_pitch": 8, "head_turn": -34, "chest_twist": -14, "hip_twist": -3,
             "hip_side": 0.0, "hip_height": 0.881, "bend": 18, "arm_out": 14},
        35: dict(STANDING),
    },
)  # fmt: skip


def act_clip(figure: Figure, figure_id: str, act: Act) -> PlayableClip:
    """An act as a clip that plays once."""
    frames = np.arange(act.length_frames, dtype=np.float64)
    numbers = _curves(act, frames)
    motion = Poser(figure, len(frames)).pose(_body(numbers), np.zeros((len(frames), 3)))
    clip = Clip(
        name=act.name,
        figure=figure_id,
        rate="24",
        length_frames=act.length_frames,
        colour=act.colour,
        plants=tuple(
            Plant(
                joint=f"{foot}_toe",
                side="left" if foot == "l" else "right",
                start=start,
                end=end,
            )
            for foot, start, end in act.plants
        ),
    )
    return PlayableClip(clip, motion)


def stand_clip(figure: Figure, figure_id: str, length_frames: int = 48) -> PlayableClip:
    """Two breaths, and the weight going from one leg to the other and back."""
    phase = np.arange(length_frames + 1) / length_frames
    breath = np.sin(2 * TAU * phase)
    sway = np.sin(TAU * phase)
    numbers: dict[str, Any] = dict(STANDING)
    numbers["hip_height"] = (
        STANDING["hip_height"] + 0.0025 * breath - 0.001 * np.cos(2 * TAU * phase)
    )
    numbers["hip_side"] = STANDING["hip_side"] + 0.007 * sway
    numbers["hip_roll"] = STANDING["hip_roll"] + 0.6 * sway
    numbers["lean"] = STANDING["lean"] - 0.9 * breath
    numbers["chest_roll"] = STANDING["chest_roll"] - 0.5 * sway
    numbers["head_turn"] = STANDING["head_turn"] + 4.0 * np.sin(TAU * (phase - 0.1))
    numbers["head_pitch"] = STANDING["head_pitch"] + 0.8 * np.sin(2 * TAU * (phase - 0.08))
    numbers["bend"] = STANDING["bend"] + 1.6 * np.sin(2 * TAU * (phase - 0.12))
    numbers["arm_out"] = STANDING["arm_out"] + 0.8 * breath
    motion = Poser(figure, len(phase)).pose(_body(numbers), np.zeros((len(phase), 3)))
    clip = Clip(
        name="Stand",
        figure=figure_id,
        rate="24",
        length_frames=length_frames,
        is_cycle=True,
        colour="cobalt",
        plants=(
            Plant(joint="l_toe", side="left", start=0, end=length_frames),
            Plant(joint="r_toe", side="right", start=0, end=length_frames),
        ),
    )
    return PlayableClip(clip, motion)


def _curves(act: Act, frames: Array) -> dict[str, Array]:
    """Every number over the frames, eased from key to key."""
    numbers: dict[str, Array] = {}
    for name, standing in STANDING.items():
        value, keys = standing, []
        for frame, pose in sorted(act.poses.items()):
            value = pose.get(name, value)
            keys.append(Key(time=frame, value=value))
        numbers[name] = Curve(keys=tuple(keys)).values(frames)
    return numbers


def _body(n: Mapping[str, Any]) -> Body:
    return Body(
        hip_height=n["hip_height"],
        hip_side=n["hip_side"],
        hip_forward=n["hip_forward"],
        hip_twist=n["hip_twist"],
        hip_roll=n["hip_roll"],
        lean=n["lean"],
        chest_twist=n["chest_twist"],
        chest_roll=n["chest_roll"],
        head_pitch=n["head_pitch"],
        head_turn=n["head_turn"],
        head_tilt=n["head_tilt"],
        left_foot=Foot(n["lx"], n["lz"], n["llift"], n["lroll"], 0.0, n["lout"]),
        right_foot=Foot(n["rx"], n["rz"], n["rlift"], n["rroll"], 0.0, n["rout"]),
        left_arm=Arm(target=(n["hand_x"], n["hand_y"], n["hand_z"]), elbow=(0.7, -0.9, -0.3)),
        right_arm=Arm(swing=n["swing"], bend=n["bend"], out=n["arm_out"]),
        pole=(n["pole_x"], n["pole_y"], n["pole_z"]),
        pole_weight=n["pole_weight"],
    )
