"""Small made-up figures, files and scenes that the tests share."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import Array, by_runs
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.figure import Figure, Joint
from elastic_core.motion import Motion
from elastic_core.scene.cast import BodyTarget
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.material import Material


def small_figure(name: str = "Keeper") -> Figure:
    """A hip, a spine with a head, and two legs: enough to turn every way."""
    return Figure(
        name=name,
        joints=(
            Joint(name="hips", parent=-1, offset=(0.0, 0.9, 0.0)),
            Joint(name="spine", parent=0, offset=(0.0, 0.3, 0.02)),
            Joint(name="head", parent=1, offset=(0.0, 0.35, 0.0), euler_order="YXZ"),
            Joint(name="l_knee", parent=0, offset=(0.1, -0.45, 0.0), side="left", mirror="r_knee"),
            Joint(
                name="r_knee", parent=0, offset=(-0.1, -0.45, 0.0), side="right", mirror="l_knee"
            ),
        ),
    )


def random_motion(frames: int, joints: int = 5, seed: int = 3) -> Motion:
    """Smooth wandering poses on a curved path."""
    chance = np.random.default_rng(seed)
    time = np.arange(frames) / 24
    turn = chance.uniform(-40, 40, (joints, 3))
    pace = chance.uniform(0.5, 2.0, (joints, 3))
    degrees = turn * np.sin(pace * time[:, None, None] + chance.uniform(0, 6, (joints, 3)))
    travel = np.stack([0.3 * time, 1.1 * time, 0.4 * time], axis=-1)
    root = np.stack([0.02 * np.sin(time), 0.9 + 0.03 * np.cos(2 * time), 0 * time], axis=-1)
    return Motion(by_runs(travel), by_runs(root), by_runs(rotation.from_axes("ZXY", degrees)))


def turning_cycle(
    length: int = 20, turn_degrees: float = 30.0, name: str = "Round"
) -> PlayableClip:
    """A closed cycle that walks `turn_degrees` round a circle in each round."""
    figure = small_figure()
    phase = 2 * np.pi * np.arange(length + 1) / length
    swing = np.array([[0, 0, 0], [4, 3, 0], [0, 9, 2], [28, 0, 0], [-28, 0, 0]], dtype=float)
    degrees = swing * np.sin(phase)[:, None, None]
    heading = np.radians(turn_degrees)
    period = np.array([0.2, 1.0, heading])
    from elastic_core import ground

    travel = ground.power(period, np.arange(length + 1) / length)
    root = np.stack([0.01 * np.sin(phase), 0.9 + 0.02 * np.cos(2 * phase), 0 * phase], axis=-1)
    motion = Motion(by_runs(travel), by_runs(root), by_runs(rotation.from_axes("ZXY", degrees)))
    x, z, angle = (float(value) for value in period)
    clip = Clip(
        name=name,
        figure="keeper",
        rate="24",
        length_frames=length,
        is_cycle=True,
        period=(x, z, angle),
    )
    assert len(figure.joints) == motion.joints
    return PlayableClip(clip, motion)


def once_clip(
    frames: int = 30, name: str = "Reach", rate: str = "24", seed: int = 5
) -> PlayableClip:
    """A clip that plays once."""
    clip = Clip(name=name, figure="keeper", rate=rate, length_frames=frames)
    return PlayableClip(clip, random_motion(frames, seed=seed))


def material(*clips: PlayableClip) -> Material:
    return Material.of_clips(
        {"keeper": small_figure()}, {playable.clip.name: playable for playable in clips}.items()
    )


def scene_of(stints: Sequence[Stint], length: int = 200, gap: str = "hold") -> Scene:
    """A scene with the keeper on one lane."""
    return Scene.model_validate(
        {
            "name": "Test",
            "rate": "24",
            "laid_frames": length,
            "played_frames": length,
            "figures": (
                SceneFigure(id="k", name="Keeper", figure="keeper", mark=(1.0, -2.0, 0.7)),
            ),
            "lanes": (
                Lane(
                    id="lane",
                    name="Body",
                    target=BodyTarget(figure="k"),
                    gap=gap,
                    stints=tuple(stints),
                ),
            ),
        }
    )


@dataclass(frozen=True)
class FileStyle:
    """How a test's BVH file is written."""

    order: str = "ZXY"
    line_end: str = "\n"
    separator: str = " "
    lower: bool = False
    mark: bool = False
    encoding: str = "utf-8"


def bvh_text(values: Array, style: FileStyle, declared: int | None = None) -> bytes:
    """A file of five joints; one moves, one is rigid, one has no End Site."""
    order = [f"{axis}rotation" for axis in style.order]
    gap = style.separator
    turn = gap.join(["CHANNELS", "3", *order])
    lines = [
        "HIERARCHY",
        "ROOT Hips",
        "{",
        gap.join(["OFFSET", "0", "95", "0"]),
        # Rotations first, positions in another order: both are allowed.
        gap.join(["CHANNELS", "6", *order, "Zposition", "Xposition", "Yposition"]),
        "JOINT Spine Lower",
        "{",
        gap.join(["OFFSET", "0", "30", "2"]),
        turn,
        "JOINT Tail",
        "{",
        gap.join(["OFFSET", "1", "2", "-20"]),
        gap.join(["CHANNELS", "4", "Yposition", *order]),
        "}",
        "JOINT Plate",
        "{",
        gap.join(["OFFSET", "0", "12", "0"]),
        "End Site",
        "{",
        gap.join(["OFFSET", "0", "5", "0"]),
        "}",
        "}",
        "}",
        "JOINT Leg",
        "{",
        gap.join(["OFFSET", "10", "-40", "0"]),
        turn,
        "End Site",
        "{",
        gap.join(["OFFSET", "0", "-50", "0"]),
        "}",
        "}",
        "}",
        "MOTION",
        f"Frames:{gap}{len(values) if declared is None else declared}",
        f"Frame Time:{gap}0.0083333",
    ]
    lines += [gap.join(f"{value:.6f}" for value in row) for row in values]
    text = style.line_end.join(lines) + style.line_end
    if style.lower:
        text = text.lower()
    return (b"\xef\xbb\xbf" if style.mark else b"") + text.encode(style.encoding)


CHANNELS = 16


def bvh_values(frames: int, seed: int = 1) -> Array:
    """Rows for `bvh_text`."""
    chance = np.random.default_rng(seed)
    start = chance.uniform(-80, 80, CHANNELS)
    rows: Array = start + np.cumsum(chance.uniform(-3, 3, (frames, CHANNELS)), axis=0)
    return np.round(rows, 6)
