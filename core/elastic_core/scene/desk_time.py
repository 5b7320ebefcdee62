"""The desk's picture of time: which laid frame plays when, and how long each pose stays (rules 1.8, 1.9)."""

import numpy as np

from ..exposure import Exposure
from ..exposure import said as said_exposure
from ..figure import Figure
from ..frozen import Shown
from ..moments import played
from ..saying import said
from .clock import clock_of
from .document import Lane, Scene

# Of a longer scene the holds are not drawn.
_MOST_HOLD_FRAMES = 20_000


class DeskExposure(Shown):
    """How long each pose stays: frames one after the other, from a played frame on, and in words."""

    pattern: list[int]
    anchor: float
    said: str
    is_own: bool


class DeskJoints(Shown):
    """Joints with an exposure of their own."""

    joints: list[str]
    said: str
    exposure: DeskExposure


def exposure(of: Exposure, *, is_own: bool) -> DeskExposure:
    """An exposure as the desk shows it."""
    return DeskExposure(
        pattern=list(of.pattern),
        anchor=of.anchor,
        said=said_exposure(of.pattern),
        is_own=is_own,
    )


def laid(scene: Scene) -> list[float] | None:
    """The laid frame at each played one; nothing where the scene plays as it is laid."""
    if scene.elastic.is_identity:
        return None
    frames = np.arange(scene.played_frames, dtype=np.float64)
    return [round(float(at), 6) for at in scene.elastic.source(frames)]


def holds(scene: Scene, lane: Lane) -> list[float]:
    """The lane frames at which a new pose comes up; nothing on ones, or in a very long scene."""
    clock = clock_of(scene, lane)
    on_ones = {clock.exposure.pattern, *(own.exposure.pattern for own in clock.stints)} == {(1,)}
    if on_ones or scene.played_frames > _MOST_HOLD_FRAMES:
        return []
    frames = played(np.arange(scene.played_frames))
    shown = np.unique(clock.sampled(frames))
    return [round(float(at), 6) for at in clock.elastic.source(shown)]


def joint_exposures(lane: Lane, figure: Figure | None) -> list[DeskJoints]:
    """The joints of a lane that have an exposure of their own."""
    if figure is None:
        return []
    return [
        DeskJoints(
            joints=list(group.joints),
            said=said(figure, list(group.joints)),
            exposure=exposure(group.exposure, is_own=True),
        )
        for group in lane.joint_exposures
    ]
