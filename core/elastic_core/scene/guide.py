"""Guides: marks and turning points that carry figures (rule 7.5). They are seen at work, and in no print."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..arrays import Array
from ..curve import Curve
from ..elastic import Elastic
from ..exposure import ON_ONES, Exposure
from ..frozen import Frozen
from ..moments import LaneTime, Played
from ..names import Id

GuideChannel = Literal["x", "y", "z", "heading"]
GUIDE_CHANNELS: tuple[GuideChannel, ...] = ("x", "y", "z", "heading")


class Guide(Frozen):
    """A guide by curves over laid frames: its place in metres and its heading in degrees, which may go round
    many times. All of its curves have keys at the same frames, one at the least."""

    id: Id
    name: str = Field(min_length=1, max_length=120)
    channels: Annotated[dict[GuideChannel, Curve], Field(min_length=4, max_length=4)]
    keeps_own_time: bool = False
    exposure: Exposure | None = None

    @property
    def frames(self) -> tuple[float, ...]:
        """The frames at which it has keys."""
        return tuple(float(at) for at in self.channels["x"].times)


def guide_at(guide: Guide, time: LaneTime) -> Array:
    """Where a guide is at these moments of its own time: x, y, z in metres and heading in radians. [n, 4]"""
    columns = [guide.channels[name].values(time) for name in GUIDE_CHANNELS]
    columns[3] = np.radians(columns[3])
    return np.stack(columns, axis=-1)


def guide_frames(guide: Guide, elastic: Elastic, at: Played) -> Array:
    """The same at these played frames, by its exposure and the scene's elastic. [n, 4]"""
    shown = (guide.exposure or ON_ONES).sampled(at)
    if not guide.keeps_own_time:
        shown = elastic.source(shown)
    return guide_at(guide, LaneTime(shown))
