"""A figure's part in a scene, or in a group of stints, as something to place on a lane (rule 9.4)."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np

from ..arrays import Array
from ..clip.document import Plant
from ..clock import Span
from ..colour import Colour
from ..moments import Played, Source
from ..motion import Motion
from ..performance import ChannelKind
from .clock import Asked
from .document import Scene, SceneFigure
from .evaluate import motion_of
from .held import lane_plants
from .layers import travel_of
from .material import Material
from .sizes import ground_at
from .staged import StagedFigure
from .staging import staged


@dataclass(frozen=True, eq=False)
class ScenePart:
    """It plays exactly as it lies there, composed and never resampled; it plays once."""

    scene: Scene
    material: Material
    member: SceneFigure
    colour: Colour = "slate"
    is_cycle: bool = False
    rests: tuple[str, ...] = ()

    @cached_property
    def plants(self) -> tuple[Plant, ...]:
        """Those of the uppermost lane, where the scene's time runs as it is laid."""
        lanes = self._stage.lanes
        if not lanes or not self.scene.elastic.is_identity:
            return ()
        return tuple(lane_plants(lanes[-1], Span(0.0, float(self.length_frames))))

    @property
    def name(self) -> str:
        return f"{self.scene.name}, {self.member.name}"

    @property
    def figure(self) -> str:
        return self.member.figure

    @property
    def rate(self) -> Fraction:
        return self.scene.rate

    @property
    def length_frames(self) -> int:
        return self.scene.played_frames

    @property
    def channels(self) -> frozenset[ChannelKind]:
        return frozenset({"body"})

    @property
    def joints(self) -> int:
        return len(self._stage.figure.joints)

    @property
    def moved(self) -> frozenset[int]:
        return self._stage.moved

    @property
    def scaled(self) -> frozenset[int]:
        if self.member.size != 1 or self.member.sizes is not None:
            return frozenset(range(self.joints))
        return self._stage.scaled

    def at(self, source: Source) -> Motion:
        """Its poses at these source times [frames]."""
        return motion_of(self._stage, self._inside(source))

    def as_laid(self, source: Source) -> Motion:
        """The same, with no feet held through its joins."""
        return motion_of(self._stage, self._inside(source), holds=False)

    def travel_at(self, source: Source) -> Array:
        """Only the travel of `at`. [frames] → [frames, 3]."""
        lanes = self._stage.lanes
        if not lanes:
            return np.tile(np.array(self.member.mark, dtype=np.float64), (len(source), 1))
        inside = self._inside(source)
        travel = travel_of(lanes, self.member, Asked(inside))
        return ground_at(self._stage, self._stage.clock.time(inside)).on_stage(travel)

    def _inside(self, source: Source) -> Played:
        """Its source is what the other scene plays; before and after it the ends are held."""
        return Played(np.clip(source, 0.0, self.length_frames - 1.0))

    @cached_property
    def _stage(self) -> StagedFigure:
        return staged(self.scene, self.material, self.member)
