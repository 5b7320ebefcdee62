"""What the page draws of a drawing set and of a run, worked out."""

from collections import Counter
from dataclasses import asdict

import numpy as np

from ..frozen import Shown
from .drawing_set import DrawingSet
from .laid_out import LaidOut
from .orders import written
from .playing import RunPlayed, laid, pinned_frames
from .run import DrawingRun
from .run_edits import places_of_round
from .spacing import spacing

# So much of a run that goes on for ever is shown.
LEAST_SHOWN_FRAMES, TWICE_SHOWN_FRAMES = 48, 1_200
EVEN_ROUNDS = 10


class PlacedDrawing(Shown):
    """Where a drawing's picture lies: what takes a place on it to the sheet, row by row (see
    `DrawingSet.placed`)."""

    number: int
    across: tuple[float, float, float]
    up: tuple[float, float, float]


class SetSheet(Shown):
    """A set, with what follows from it: the numbers that lack, and those that are the same picture."""

    drawn: DrawingSet
    height_pixels: int
    missing: list[int]
    same: list[list[int]]
    placed: list[PlacedDrawing]


class DrawingShown(Shown):
    """A drawing from a frame of the run on, for so many frames: which exposure of the order it is, by its
    place, where it is one of them."""

    frame: int
    length: int
    drawing: int
    place: int | None


class RoundUses(Shown):
    """How often the drawings of a boil show in so many rounds: the rarest and the most frequent."""

    rounds: int
    least: int
    most: int


class FollowedPoint(Shown):
    """Where a point is on a drawing, in pixels of the sheet from its pegs, y up."""

    drawing: int
    x_pixels: float
    y_pixels: float


class PointStep(Shown):
    """How far it goes between two drawings."""

    before: int
    after: int
    pixels: float


class PointSpacing(Shown):
    """A followed point through the run, in the order of its drawings."""

    point: str
    places: list[FollowedPoint]
    steps: list[PointStep]
    largest: PointStep | None


class RunSheet(Shown):
    """A run, with what plays of it over `frames` frames: `rounds` says where later ones begin. `lacking` are
    drawings that the set has not, `unused` those of the set that the run has not, and `fell_out` those that
    no frame shows."""

    run: DrawingRun
    fps: float
    order: str
    pattern: list[int] | None
    order_frames: int
    round_frames: int
    frames: int
    shown: list[DrawingShown]
    rounds: list[int]
    fell_out: list[int]
    lacking: list[int]
    unused: list[int]
    uses: RoundUses | None
    spacing: list[PointSpacing]


def set_sheet(drawn: DrawingSet) -> SetSheet:
    """A set, worked out."""
    return SetSheet(
        drawn=drawn,
        height_pixels=drawn.height_pixels,
        missing=list(drawn.missing),
        same=[list(numbers) for numbers in drawn.same],
        placed=[
            PlacedDrawing(number=one.number, across=across, up=up)
            for one in drawn.drawings
            for across, up in [drawn.placed(one).tolist()]
        ],
    )


def run_sheet(run: DrawingRun, drawn: DrawingSet | None) -> RunSheet:
    """A run, worked out; a set that is not there has no drawings."""
    frames = shown_frames(run)
    plays = laid(run, frames)
    known = drawn.by_number if drawn else {}
    lengths = {one.frames for one in run.held}
    round_frames = run.length_frames
    return RunSheet(
        run=run,
        fps=float(run.rate),
        order=written(run.held),
        pattern=[lengths.pop()] if len(lengths) == 1 else None,
        order_frames=sum(one.frames for one in run.held),
        round_frames=round_frames,
        frames=frames,
        shown=_shown(run, plays),
        rounds=[] if run.play == "once" else list(range(round_frames, frames, round_frames)),
        fell_out=list(plays.fell_out),
        lacking=[number for number in sorted(run.numbers) if number not in known],
        unused=sorted(set(known) - set(run.numbers)),
        uses=_uses(run) if run.play == "boil" else None,
        spacing=_spacing(run, drawn) if drawn else [],
    )


def shown_frames(run: DrawingRun) -> int:
    """How much of a run is shown: all of one that plays once, else a round, or two that are not long, and what
    its pins shape."""
    played = RunPlayed(run)
    if run.play == "once":
        return played.length_frames
    length = run.length_frames
    rounds = 2 if length <= TWICE_SHOWN_FRAMES else 1
    return max(LEAST_SHOWN_FRAMES, rounds * length, pinned_frames(run))


def _shown(run: DrawingRun, plays: LaidOut) -> list[DrawingShown]:
    row: list[int] = []
    if run.play != "boil" and not run.pins:
        order = places_of_round(run)
        row = np.repeat(order, [run.held[place].frames for place in order]).tolist()
    return [
        DrawingShown(**asdict(one), place=row[one.frame % len(row)] if row else None)
        for one in plays.shown
    ]


def _uses(run: DrawingRun) -> RoundUses:
    times = Counter(one.drawing for k in range(EVEN_ROUNDS) for one in run.round(k))
    return RoundUses(rounds=EVEN_ROUNDS, least=min(times.values()), most=max(times.values()))


def _spacing(run: DrawingRun, drawn: DrawingSet) -> list[PointSpacing]:
    """Every point that is followed on the set's drawings, in the order in which those play."""
    row = laid(run).row
    order = row[np.flatnonzero(np.diff(row, prepend=row[:1] - 1))].tolist()
    names = dict.fromkeys(name for one in drawn.drawings for name in one.points)
    return [PointSpacing(**asdict(spacing(drawn, order, name))) for name in names]
