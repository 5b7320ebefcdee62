"""A figure's frames as they were: while one figure is drawn, the others play what they played."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from ..elastic import Elastic
from ..exposure import Exposure
from ..figure import Figure
from ..moments import Played
from ..performance import Performance
from .cast import ClipSource
from .document import Lane, Scene, SceneFigure
from .material import Material

T = TypeVar("T")

# So many runs of frames are remembered for a figure of a scene, of so many frames at the most.
REMEMBERED, MOST_FRAMES = 4, 256


@dataclass(frozen=True, eq=False)
class _ComesFrom:
    """All that a figure's frames come from. Documents never change: what is the same object is the same."""

    frames: Played
    member: SceneFigure
    lanes: tuple[Lane, ...]
    plays: tuple[bool, ...]
    elastic: Elastic
    exposure: Exposure
    rate: object
    performances: tuple[Performance | None, ...]
    figures: tuple[Figure | None, ...]

    def is_same(self, other: "_ComesFrom") -> bool:
        return (
            np.array_equal(self.frames, other.frames)
            and self.member is other.member
            and _are(self.lanes, other.lanes)
            and self.plays == other.plays
            and self.elastic == other.elastic
            and self.exposure == other.exposure
            and self.rate == other.rate
            and _are(self.performances, other.performances)
            and _are(self.figures, other.figures)
        )


def as_before(
    scene: Scene, material: Material, member: SceneFigure, frames: Played, make: Callable[[], T]
) -> T:
    """What `make` gives for a figure at these frames; worked out anew only where what it comes from is
    another. It must not be changed."""
    if len(frames) > MOST_FRAMES:
        return make()
    figure = material.figure(member.figure)
    known: list[tuple[_ComesFrom, T]] = figure.once(("frames before", member.id), list)
    now = _comes_from(scene, material, member, frames)
    for before, made in list(known):
        if before.is_same(now):
            return made
    found = make()
    known.insert(0, (now, found))
    del known[REMEMBERED:]
    return found


def _comes_from(
    scene: Scene, material: Material, member: SceneFigure, frames: Played
) -> _ComesFrom:
    lanes = tuple(lane for lane in scene.lanes if lane.figure == member.id)
    sources = [stint.source for lane in lanes for stint in lane.stints]
    if member.rest is not None:
        sources.append(ClipSource(id=member.rest.clip))
    performances = tuple(material.performances.get(source) for source in dict.fromkeys(sources))
    owners = {performance.figure for performance in performances if performance is not None}
    return _ComesFrom(
        frames,
        member,
        lanes,
        tuple(scene.plays(lane) for lane in lanes),
        scene.elastic,
        scene.exposure,
        scene.rate,
        performances,
        tuple(material.figures.get(name) for name in sorted({member.figure, *owners})),
    )


def _are(these: tuple[object, ...], those: tuple[object, ...]) -> bool:
    return len(these) == len(those) and all(a is b for a, b in zip(these, those, strict=True))
