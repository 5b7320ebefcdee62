"""Two clips as one performance: a scene of two stints and their join, and nothing else."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..clip.playable import PlayableClip
from ..errors import Refusal
from ..figure import Figure
from ..ground import ORIGIN
from ..join.alignment import Alignment, HeadingRule
from ..join.where import Planted, moments_of, named
from ..motion import Motion
from .cast import BodyTarget, ClipSource
from .document import JoinShape, Lane, Scene, SceneFigure, Stint
from .evaluate import figure_motion
from .join_report import JoinReport, join_report
from .material import Material


@dataclass(frozen=True, eq=False)
class Chained:
    """A figure, its clip, and how many frames of it there are to show."""

    figure: Figure
    playable: PlayableClip
    frames: int


@dataclass(frozen=True)
class Hand:
    """Where the first clip hands over: its frame and the second one's that meet, over how many frames,
    and how the second is laid. Without a foot it is what is planted in both."""

    out_frame: int
    in_frame: int
    length_frames: int
    shape: JoinShape = "smooth"
    plant: Planted | None = None
    heading: HeadingRule = "keep"


@dataclass(frozen=True, eq=False)
class Chain:
    """The joined motion, on the first one's ground and at its rate; and what the join does to it."""

    motion: Motion
    report: JoinReport
    plant: Planted
    notes: tuple[str, ...]


def chained(first: Chained, second: Chained, hand: Hand, *, hold_feet: bool) -> Chain:
    """The first clip from its start to the join, and the second from there to its end.

    Raises Refusal for clips of two skeletons, and for frames that they do not have.
    """
    if not first.figure.same_skeleton(second.figure):
        raise Refusal("The two files have different skeletons: fit one onto the other first.")
    for name, frame, own in (("first", hand.out_frame, first), ("second", hand.in_frame, second)):
        if not 0 <= frame < own.frames:
            raise Refusal(f"Frame {frame} is not in the {name} file: it has 0 to {own.frames - 1}.")
    if hand.length_frames < 0:
        raise Refusal("A join is some frames long, or none.")
    ratio = float(second.playable.rate / first.playable.rate)
    length = hand.out_frame + int(np.ceil((second.frames - hand.in_frame) / ratio - 1e-9))
    start, end, notes = _overlap(first, second, hand, ratio, length)
    plant = hand.plant or _planted_in_both(first, second, hand)
    stints = (
        Stint(id="a", source=ClipSource(id="a"), start=0, length_frames=end, nailed=ORIGIN),
        Stint(
            id="b",
            source=ClipSource(id="b"),
            start=start,
            length_frames=length - start,
            in_frame=hand.in_frame + ratio * (start - hand.out_frame),
            shape=hand.shape,
            alignment=Alignment(plant=plant, heading=hand.heading),
            holds_join=hold_feet,
        ),
    )
    scene = Scene(
        name="chain",
        rate=first.playable.rate,
        laid_frames=length,
        played_frames=length,
        figures=(SceneFigure(id="f", name="figure", figure="f"),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="f"), stints=stints),),
    )
    clips = (("a", first.playable), ("b", second.playable))
    material = Material.of_clips({"f": first.figure}, clips)
    motion = figure_motion(scene, material, scene.figures[0], np.arange(length, dtype=np.float64))
    return Chain(motion, join_report(scene, material, "b"), plant, notes)


def _overlap(
    first: Chained, second: Chained, hand: Hand, ratio: float, length: int
) -> tuple[int, int, tuple[str, ...]]:
    """The frames `[start, end)` of the join: about where both meet, as far as both have frames."""
    earliest = 1
    if not second.playable.is_cycle:
        earliest = max(earliest, int(np.ceil(hand.out_frame - hand.in_frame / ratio - 1e-9)))
    latest = length - 1 if first.playable.is_cycle else min(length - 1, first.frames)
    if latest < earliest:
        raise Refusal("The two files have no frame in common there.")
    wanted = hand.length_frames
    start = hand.out_frame - wanted // 2
    start = max(earliest, min(start, latest - wanted))
    end = min(start + wanted, latest)
    if end - start == wanted:
        return start, end, ()
    return (
        start,
        end,
        (f"Only {end - start} frames lie in both files there; {wanted} were asked for.",),
    )


def _planted_in_both(first: Chained, second: Chained, hand: Hand) -> Planted:
    pairs: Sequence[tuple[Chained, int]] = ((first, hand.out_frame), (second, hand.in_frame))
    feet = [moments_of(own.figure, own.playable, [frame]).feet[0] for own, frame in pairs]
    return named(feet[0] & feet[1])
