"""Drawn sequences of the demo, made by a small generator of ours: the lamp's flame, and the sea behind the
quay; and the scene “Sc 07 The flame holds”, in which both play round Odo."""

import math
from collections.abc import Mapping

import numpy as np

from elastic_core.drawings.drawing_set import DrawingSet
from elastic_core.drawings.run import DrawingRun, Held
from elastic_core.exposure import Exposure
from elastic_core.scene.cast import BodyTarget, ClipSource, LayerTarget, PartTarget, RunSource
from elastic_core.scene.document import Attachment, Lane, Layer, Scene, SceneFigure, Stint

from .lamp import POLE_TIP

INK, GOLD, LIGHT, SEA, FOAM = "#22303C", "#EFB356", "#F9E2A4", "#C3D9DF", "#8FB4BF"
FLAMES, WAVES = 6, 6
FLAME_WIDE, FLAME_HIGH = 600, 800
FOOT = FLAME_HIGH - 70.0
SEA_WIDE, SEA_HIGH = 1200, 300
SCENE_FRAMES = 96
Point = tuple[float, float]
DRAWN = ("Flame", "Sea")


def pictures_of(name: str) -> list[tuple[str, bytes]]:
    """The drawings of a set as SVG files, by the names that tell their numbers."""
    make, count = {"Flame": (_flame, FLAMES), "Sea": (_sea, WAVES)}[name]
    return [(f"{name.lower()}_{k:02}.svg", make(k).encode()) for k in range(1, count + 1)]


def run_of(name: str, drawings: str) -> DrawingRun:
    """The run of a set: the flame boils on threes, the sea goes round on fours."""
    if name == "Flame":
        held = tuple(Held(drawing=k, frames=3) for k in range(1, FLAMES + 1))
        return DrawingRun(
            name="Flame flickers", drawings=drawings, held=held, play="boil", seed=5, colour="ochre"
        )
    held = tuple(Held(drawing=k, frames=4) for k in range(1, WAVES + 1))
    return DrawingRun(
        name="Sea swells", drawings=drawings, held=held, play="repeat", colour="slate"
    )


def svg(wide: int, high: int, inside: str) -> str:
    box = f'viewBox="0 0 {wide} {high}" width="{wide}" height="{high}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {box}>{inside}</svg>'


def path(points: list[Point], style: str, *, closed: bool = True) -> str:
    """A smooth line through points (E. Catmull and R. Rom, 1974), as cubic pieces."""
    count = len(points)
    around = points if closed else [points[0], *points, points[-1]]

    def at(place: int) -> Point:
        return around[place % count] if closed else around[place + 1]

    pieces = [f"M{at(0)[0]:.1f} {at(0)[1]:.1f}"]
    for k in range(count if closed else count - 1):
        a, b, c, d = at(k - 1), at(k), at(k + 1), at(k + 2)
        first = (b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6)
        second = (c[0] - (d[0] - b[0]) / 6, c[1] - (d[1] - b[1]) / 6)
        pieces.append(
            f"C{first[0]:.1f} {first[1]:.1f} {second[0]:.1f} {second[1]:.1f} {c[0]:.1f} {c[1]:.1f}"
        )
    return f'<path d="{"".join(pieces)}{"Z" if closed else ""}" {style}/>'


def tip_of(number: int) -> Point:
    """Where the tip of a flame is, in parts of its picture from the left and from the foot."""
    lean, tall, _, _ = _shape(number)
    tip = FOOT - (FOOT - 60) * tall
    return (0.5 + lean / FLAME_WIDE, 1 - tip / FLAME_HIGH)


def with_tips(drawn: DrawingSet) -> DrawingSet:
    """The flames with their tips marked, so that the spacing of those is seen."""
    marked = tuple(
        one.model_copy(update={"points": {"tip": tip_of(one.number)}}) for one in drawn.drawings
    )
    return drawn.model_copy(update={"drawings": marked})


def _shape(number: int) -> tuple[float, float, float, float]:
    """How far a flame leans, how tall and wide it is, and which way it licks; the same every time."""
    chance = np.random.Generator(np.random.PCG64([1907, number]))
    lean, tall, wide = (
        chance.uniform(-90, 90),
        chance.uniform(0.82, 1.0),
        chance.uniform(0.86, 1.06),
    )
    return float(lean), float(tall), float(wide), float(chance.uniform(-1, 1))


def _flame(number: int) -> str:
    """A flame that leans and licks, by its number."""
    lean, tall, wide, lick = _shape(number)
    foot, middle = FOOT, FLAME_WIDE / 2

    def body(size: float, sway: float) -> list[Point]:
        high, half = (foot - 60) * tall * size, 165 * wide * size
        bend = 0.5 * sway * lick
        return [
            (middle, foot),
            (middle - half * 0.82, foot - high * 0.13),
            (middle - half + 0.1 * sway, foot - high * 0.34),
            (middle - half * 0.52 + 0.3 * sway - bend, foot - high * 0.62),
            (middle + sway, foot - high),
            (middle + half * 0.36 + 0.5 * sway + bend, foot - high * 0.66),
            (middle + half * 0.98 + 0.1 * sway, foot - high * 0.36),
            (middle + half * 0.86, foot - high * 0.13),
        ]

    inked = f'stroke="{INK}" stroke-width="13" stroke-linejoin="round"'
    light = body(0.52, 0.5 * lean)
    spark_x, spark_y = middle + 1.15 * lean + 60 * lick, foot - (foot - 60) * tall - 6
    spark = (
        f'<circle cx="{spark_x:.1f}" cy="{max(24.0, spark_y):.1f}" r="13" fill="{GOLD}" '
        f'stroke="{INK}" stroke-width="9"/>'
        if number % 2
        else ""
    )
    bowl = [
        (middle - 112.0, foot - 6),
        (middle + 112.0, foot - 6),
        (middle + 84.0, foot + 46),
        (middle - 84.0, foot + 46),
    ]
    corners = " ".join(f"{x:.1f},{y:.1f}" for x, y in bowl)
    return svg(
        FLAME_WIDE,
        FLAME_HIGH,
        path(body(1.0, lean), f'fill="{GOLD}" {inked}')
        + path(light, f'fill="{LIGHT}" stroke="#C98A2A" stroke-width="6"')
        + f'<polygon points="{corners}" fill="#8A6A48" {inked}/>'
        + spark,
    )


def _sea(number: int) -> str:
    """A strip of sea that meets itself at its sides: every swell goes into its width whole times."""
    turn = 2 * math.pi * number / WAVES

    def swell(base: float, height: float, times: int, way: float) -> list[Point]:
        return [
            (x, base + height * math.sin(2 * math.pi * times * x / SEA_WIDE + way))
            for x in np.linspace(0, SEA_WIDE, 49)
        ]

    top = swell(46, 14, 3, turn)
    body = (
        "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in top) + f"L{SEA_WIDE} {SEA_HIGH}L0 {SEA_HIGH}Z"
    )
    line = f'fill="none" stroke="{INK}" stroke-width="6"'
    foam = f'fill="none" stroke="{FOAM}" stroke-width="5" stroke-linecap="round"'
    waves = [(112.0, 9, 4, -turn), (176.0, 11, 3, turn + 2.0), (244.0, 8, 5, -turn + 4.0)]
    return svg(
        SEA_WIDE,
        SEA_HIGH,
        f'<path d="{body}" fill="{SEA}"/>'
        + path(top, line, closed=False)
        + "".join(path(swell(*wave), foam, closed=False) for wave in waves),
    )


def the_flame_holds(
    figures: Mapping[str, str],
    clips: Mapping[str, str],
    drawn: Mapping[str, str],
    runs: Mapping[str, str],
) -> Scene:
    """Odo walks the quay on twos with the pole; the flame boils on threes at its tip and goes along on ones, a
    paper gull flaps beside him, and behind all the sea swells on fours. The mappings give the ids that names
    have."""
    walk = Stint(
        id="walks", source=ClipSource(id=clips["Amble"]), start=0, length_frames=SCENE_FRAMES
    )
    plays = {
        "flame": Stint(
            id="flickers",
            source=RunSource(id=runs["Flame"]),
            start=0,
            length_frames=SCENE_FRAMES,
        ),
        "sea": Stint(
            id="swells", source=RunSource(id=runs["Sea"]), start=0, length_frames=SCENE_FRAMES
        ),
    }
    return Scene(
        name="Sc 07 The flame holds",
        rate="24",
        laid_frames=SCENE_FRAMES,
        played_frames=SCENE_FRAMES,
        figures=(
            SceneFigure(id="odo", name="Odo", figure=figures["odo"], mark=(0.0, -1.2, 0.0)),
            SceneFigure(
                id="paper-gull",
                name="Paper gull",
                figure=figures["paper gull"],
                mark=(1.1, -3.0, 0.0),
            ),
        ),
        layers=(
            Layer(
                id="flame",
                name="Flame",
                drawings=drawn["Flame"],
                height_metres=0.34,
                faces_camera=True,
                attachments=(
                    Attachment(
                        id="ride", to="odo", joint="pole", start=0.0, offset=POLE_TIP, turns=False
                    ),
                ),
            ),
            Layer(
                id="sea",
                name="Sea",
                drawings=drawn["Sea"],
                stands="behind",
                place=(6.0, -0.3, 0.0),
                heading_degrees=-90.0,
                height_metres=1.6,
                repeats=True,
            ),
        ),
        lanes=(
            Lane(
                id="flame-lane",
                name="Drawings",
                target=LayerTarget(layer="flame"),
                stints=(plays["flame"],),
            ),
            Lane(
                id="odo-body",
                name="Body",
                target=BodyTarget(figure="odo"),
                exposure=Exposure(pattern=(2,)),
                stints=(walk,),
            ),
            Lane(
                id="paper-gull-head",
                name="Head",
                target=PartTarget(figure="paper-gull", part="head"),
                stints=(
                    Stint(
                        id="calls",
                        source=RunSource(id=runs["Gull heads"]),
                        start=0,
                        length_frames=SCENE_FRAMES,
                    ),
                ),
            ),
            Lane(
                id="paper-gull-body",
                name="Body",
                target=BodyTarget(figure="paper-gull"),
                exposure=Exposure(pattern=(2,)),
                stints=(
                    Stint(
                        id="paper-flaps",
                        source=ClipSource(id=clips["Paper flap"]),
                        start=0,
                        length_frames=SCENE_FRAMES,
                    ),
                ),
            ),
            Lane(
                id="sea-lane",
                name="Drawings",
                target=LayerTarget(layer="sea"),
                stints=(plays["sea"],),
            ),
        ),
    )
