"""The gull that goes with Odo on the wind, and the capstan on the quay."""

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import Array, by_runs
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.colour import Colour
from elastic_core.figure import Figure
from elastic_core.motion import Motion

TAU = 2 * np.pi
# He hangs on the wind, so he keeps pace with a man who walks.
GULL_METRES_A_SECOND = 1.25
FPS = 24


def flap_clip(figure: Figure, figure_id: str) -> PlayableClip:
    """Wingbeats: the mid wing and the tip follow the shoulder, each a little later."""
    length = 12
    phase = TAU * np.arange(length + 1) / length
    degrees = np.zeros((length + 1, len(figure.joints), 3))
    _beat(figure, degrees, 8 + 34 * np.sin(phase), "wing")
    _beat(figure, degrees, -12 + 26 * np.sin(phase - 0.9), "mid")
    _beat(figure, degrees, -8 + 18 * np.sin(phase - 1.5), "tip")
    degrees[:, figure.place_of("tail"), 1] = 5 * np.sin(phase - 1.0)
    degrees[:, figure.place_of("head"), 1] = -4 * np.sin(phase)
    # The downstroke lifts him.
    height = 1.62 - 0.05 * np.sin(phase + 0.6)
    return _gull(figure, figure_id, "Flap", "moss", degrees, height)


def glide_clip(figure: Figure, figure_id: str) -> PlayableClip:
    """Wings held, leaning a little from side to side."""
    length = 48
    phase = TAU * np.arange(length + 1) / length
    degrees = np.zeros((length + 1, len(figure.joints), 3))
    _beat(figure, degrees, 9 + 2 * np.sin(phase), "wing")
    _beat(figure, degrees, -13 + 2 * np.sin(2 * phase), "mid")
    _beat(figure, degrees, -9 + 3 * np.sin(2 * phase - 0.7), "tip")
    degrees[:, 0, 0] = 7 * np.sin(phase)
    degrees[:, figure.place_of("head"), 0] = -7 * np.sin(phase)
    degrees[:, figure.place_of("head"), 2] = 14 * np.sin(phase - 0.4)
    height = 1.62 + 0.04 * np.sin(phase)
    return _gull(figure, figure_id, "Glide", "slate", degrees, height)


def turn_clip(figure: Figure, figure_id: str) -> PlayableClip:
    """The capstan's drum, once round at one speed: it turns for ever without a stop."""
    length = 96
    rows = length + 1
    rotations: Array = np.zeros((rows, len(figure.joints), 4), order="F")
    rotations[..., 0] = 1.0
    rotations[:, figure.place_of("drum")] = rotation.about_axis("Y", TAU * np.arange(rows) / length)
    root: Array = np.tile(figure.offsets[0], (rows, 1))
    motion = Motion(np.zeros((rows, 3), order="F"), by_runs(root), rotations)
    clip = Clip(
        name="Turn",
        figure=figure_id,
        rate="24",
        length_frames=length,
        is_cycle=True,
        colour="rose",
    )
    return PlayableClip(clip, motion)


def _beat(figure: Figure, degrees: Array, angle: Array, part: str) -> None:
    """Both wings alike: about z the left one rises with +, the right one with −."""
    degrees[:, figure.place_of(f"l_{part}"), 0] = angle
    degrees[:, figure.place_of(f"r_{part}"), 0] = -angle


def _gull(
    figure: Figure, figure_id: str, name: str, colour: Colour, degrees: Array, height: Array
) -> PlayableClip:
    rows = len(degrees)
    length = rows - 1
    metres = GULL_METRES_A_SECOND * length / FPS
    travel = np.zeros((rows, 3))
    travel[:, 1] = metres * np.arange(rows) / length
    root = np.zeros((rows, 3))
    root[:, 1] = height
    rotations = by_runs(rotation.from_axes("ZXY", degrees))
    clip = Clip(
        name=name,
        figure=figure_id,
        rate="24",
        length_frames=length,
        is_cycle=True,
        period=(0.0, metres, 0.0),
        colour=colour,
    )
    return PlayableClip(clip, Motion(by_runs(travel), by_runs(root), rotations))
