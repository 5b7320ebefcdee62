"""Moments by the clock they are read on, so that no two clocks are mixed up unseen (rule 1.9).

All are float64 arrays of frames. A moment passes from one clock to the next only where a rule says
so: `LaneClock.time` takes played frames to a lane's time, a stint takes that to its source, and a
performance takes its source to a local frame.
"""

from typing import NewType

import numpy as np

FrameArray = np.ndarray[tuple[int, ...], np.dtype[np.float64]]

Played = NewType("Played", FrameArray)
"""Frames as they come out, at the scene's rate."""

LaneTime = NewType("LaneTime", FrameArray)
"""The time that a lane's stints are laid on, at the scene's rate."""

Source = NewType("Source", FrameArray)
"""A performance's own frames at its own rate, counted on through the rounds of a cycle."""

Local = NewType("Local", FrameArray)
"""A performance's own frames within one round."""


def played(frames: object) -> Played:
    """Played frames from numbers."""
    return Played(np.asarray(frames, dtype=np.float64))


def lane_time(frames: object) -> LaneTime:
    """A lane's time from numbers."""
    return LaneTime(np.asarray(frames, dtype=np.float64))


def source(frames: object) -> Source:
    """Source time from numbers."""
    return Source(np.asarray(frames, dtype=np.float64))
