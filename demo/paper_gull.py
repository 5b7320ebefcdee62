"""The paper gull: a cut-out of five pieces on brads, drawn by our generator, and how it flaps."""

from collections.abc import Callable, Mapping

import numpy as np

from elastic_core.arrays import Array, by_runs
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.drawings.drawing_set import DrawingSet
from elastic_core.drawings.run import DrawingRun, Held
from elastic_core.dress import Card, CardPicture, Dress
from elastic_core.figure import Figure, Joint
from elastic_core.motion import Motion
from elastic_core.rotation import about_axis
from elastic_core.tracing import Picture

from .drawn import INK, Point, path, svg

TAU = 2 * np.pi
METRES_PER_PIXEL = 0.0011
METRES_A_SECOND = 1.25
FPS, LENGTH_FRAMES = 24, 16
# Over the ground he hangs on the wind.
HEIGHT_METRES = 1.75
PAPER, GREY, BEAK = "#FBF6E9", "#B9C3C8", "#E2A13C"
PIECES = ("body", "wing", "tail")
HEADS = 2


def piece(name: str) -> bytes:
    """A piece of paper as an SVG file."""
    return _PIECES[name]().encode()


def _cut(points: list[Point], fill: str) -> str:
    return path(points, f'fill="{fill}" stroke="{INK}" stroke-width="9" stroke-linejoin="round"')


def _body() -> str:
    outline = [
        (20.0, 96.0),
        (130.0, 40.0),
        (300.0, 34.0),
        (410.0, 78.0),
        (330.0, 150.0),
        (150.0, 160.0),
    ]
    return svg(430, 190, _cut(outline, PAPER))


def heads() -> list[tuple[str, bytes]]:
    """The drawings of his head as SVG files: the beak shut, and open."""
    return [(f"head_{k}.svg", _head(k - 1).encode()) for k in range(1, HEADS + 1)]


def calls(drawings: str) -> DrawingRun:
    """He calls twice, and is silent for a while."""
    told = ((1, 26), (2, 4), (1, 3), (2, 5), (1, 10))
    held = tuple(Held(drawing=drawing, frames=frames) for drawing, frames in told)
    return DrawingRun(name="Gull calls", drawings=drawings, held=held, play="repeat", colour="moss")


def _head(opens: int) -> str:
    skull = [
        (30.0, 90.0),
        (60.0, 34.0),
        (124.0, 30.0),
        (150.0, 78.0),
        (120.0, 124.0),
        (58.0, 126.0),
    ]
    above = [(140.0, 58.0), (214.0, 88.0 - 26 * opens), (142.0, 92.0)]
    below = [(138.0, 88.0), (200.0, 98.0 + 26 * opens), (134.0, 108.0)]
    inked = f'fill="{BEAK}" stroke="{INK}" stroke-width="8" stroke-linejoin="round"'
    beak = "".join(
        f'<polygon points="{" ".join(f"{x},{y}" for x, y in half)}" {inked}/>'
        for half in (below, above)
    )
    return svg(
        230, 150, beak + _cut(skull, PAPER) + f'<circle cx="112" cy="66" r="9" fill="{INK}"/>'
    )


def _wing() -> str:
    outline = [
        (70.0, 380.0),
        (20.0, 250.0),
        (40.0, 96.0),
        (96.0, 16.0),
        (120.0, 110.0),
        (170.0, 250.0),
        (160.0, 380.0),
    ]
    feather = path(
        [(60.0, 250.0), (92.0, 262.0), (136.0, 258.0)],
        f'fill="none" stroke="{INK}" stroke-width="6"',
        closed=False,
    )
    return svg(200, 410, _cut(outline, GREY) + feather)


def _tail() -> str:
    outline = [(150.0, 40.0), (40.0, 18.0), (14.0, 62.0), (44.0, 104.0), (150.0, 84.0)]
    return svg(170, 120, _cut(outline, GREY))


_PIECES: Mapping[str, Callable[[], str]] = {"body": _body, "wing": _wing, "tail": _tail}


def paper_gull(pictures: Mapping[str, Picture], heads: DrawingSet, drawings: str) -> Figure:
    """The cut-out, by the pictures of its pieces and the set of its heads: every joint turns in the plane of
    the paper alone."""
    joints = (
        Joint(name="body", parent=-1, offset=(0.0, HEIGHT_METRES, 0.0), plane="x"),
        Joint(name="head", parent=0, offset=(0.0, 0.05, 0.19), plane="x"),
        Joint(name="near_wing", parent=0, offset=(0.0, 0.03, 0.02), plane="x"),
        Joint(name="far_wing", parent=0, offset=(0.0, 0.05, 0.05), plane="x"),
        Joint(name="tail", parent=0, offset=(0.0, 0.0, -0.19), plane="x"),
    )
    # Drawn at a fixed width, the pieces are as large as they were designed.
    widths = {"body": 430, "head": 230, "wing": 200, "tail": 170}
    placed = (
        ("far wing", "far_wing", "wing", (0.55, 0.06), 0),
        ("tail", "tail", "tail", (0.9, 0.5), 1),
        ("body", "body", "body", (0.5, 0.5), 2),
        ("head", "head", "head", (0.22, 0.42), 3),
        ("near wing", "near_wing", "wing", (0.55, 0.06), 4),
    )
    own: dict[str, tuple[CardPicture, ...]] = {
        name: (CardPicture(drawing=1, picture=found),) for name, found in pictures.items()
    }
    own["head"] = tuple(
        CardPicture(drawing=one.number, picture=one.picture) for one in heads.drawings
    )
    cards = tuple(
        Card(
            name=name,
            joint=joint,
            pictures=own[drawn],
            drawings=drawings if drawn == "head" else "",
            pivot=pivot,
            metres_per_pixel=METRES_PER_PIXEL * widths[drawn] / own[drawn][0].picture.width_pixels,
            order=order,
        )
        for name, joint, drawn, pivot, order in placed
    )
    return Figure(name="Paper gull", joints=joints, dress=Dress(cards=cards))


def paper_flap(figure: Figure, figure_id: str) -> PlayableClip:
    """Wingbeats of paper: both wings about their brads, the far one a little later, and he goes along."""
    frames = np.arange(LENGTH_FRAMES + 1)
    phase = TAU * frames / LENGTH_FRAMES
    radians = np.zeros((len(frames), len(figure.joints)))
    radians[:, figure.place_of("near_wing")] = np.radians(20 + 62 * np.sin(phase))
    radians[:, figure.place_of("far_wing")] = np.radians(26 + 56 * np.sin(phase - 0.35))
    radians[:, figure.place_of("head")] = np.radians(-6 * np.sin(phase - 0.6))
    radians[:, figure.place_of("tail")] = np.radians(9 * np.sin(phase - 0.9))
    radians[:, 0] = np.radians(3 * np.sin(phase + 0.4))
    along = METRES_A_SECOND / FPS
    travel: Array = np.zeros((len(frames), 3), order="F")
    travel[:, 1] = along * frames
    root: Array = np.tile(figure.offsets[0], (len(frames), 1))
    root[:, 1] += 0.05 * np.sin(phase - 1.9)
    rotations = by_runs(about_axis("X", radians))
    motion = Motion(travel, by_runs(root), rotations)
    clip = Clip(
        name="Paper flap",
        figure=figure_id,
        rate="24",
        length_frames=LENGTH_FRAMES,
        is_cycle=True,
        period=(0.0, along * LENGTH_FRAMES, 0.0),
        colour="moss",
    )
    return PlayableClip(clip, motion)
