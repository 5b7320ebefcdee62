"""What a scene is made from: figures, and the performances that its stints place."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from ..clip.playable import PlayableClip
from ..drawings.drawing_set import DrawingSet
from ..drawings.playing import RunPlayed
from ..errors import Refusal
from ..figure import Figure
from ..performance import BodyPerformance, DrawingPerformance, Performance, is_body, is_drawings
from ..sound.document import Sound
from ..voice.chart import MouthChart
from ..voice.playing import LinePlayed
from .cast import ClipSource, StintSource


@dataclass(frozen=True)
class Material:
    """What a scene is made from: figures, sounds, mouth charts and drawing sets by their ids, and performances
    by their sources."""

    figures: Mapping[str, Figure]
    performances: Mapping[StintSource, Performance] = field(default_factory=dict)
    sounds: Mapping[str, Sound] = field(default_factory=dict)
    charts: Mapping[str, MouthChart] = field(default_factory=dict)
    drawn: Mapping[str, DrawingSet] = field(default_factory=dict)

    @classmethod
    def of_clips(
        cls, figures: Mapping[str, Figure], clips: Iterable[tuple[str, PlayableClip]]
    ) -> "Material":
        """Figures and clips by their ids."""
        return cls(figures, {ClipSource(id=name): clip for name, clip in clips})

    @property
    def clips(self) -> dict[str, PlayableClip]:
        """The clips among the performances, by their ids."""
        return {
            source.id: performance
            for source, performance in self.performances.items()
            if isinstance(performance, PlayableClip)
        }

    @property
    def lines(self) -> dict[str, LinePlayed]:
        """The lines among the performances, by their ids."""
        return {
            source.id: performance
            for source, performance in self.performances.items()
            if isinstance(performance, LinePlayed)
        }

    @property
    def runs(self) -> dict[str, RunPlayed]:
        """The runs of drawings among the performances, by their ids."""
        return {
            source.id: performance
            for source, performance in self.performances.items()
            if isinstance(performance, RunPlayed)
        }

    def drawing_set(self, name: str) -> DrawingSet:
        """A drawing set by its id. Raises Refusal where it is missing."""
        if name not in self.drawn:
            raise Refusal("A drawing set of the scene is missing.")
        return self.drawn[name]

    def figure(self, name: str) -> Figure:
        """A figure by its id. Raises Refusal where it is missing."""
        if name not in self.figures:
            raise Refusal("A figure of the scene is missing.")
        return self.figures[name]

    def sound(self, name: str) -> Sound:
        """A sound by its id. Raises Refusal where it is missing."""
        if name not in self.sounds:
            raise Refusal("A sound of the scene is missing.")
        return self.sounds[name]

    def performance(self, source: StintSource) -> Performance:
        """What a stint plays. Raises Refusal where it is missing."""
        if source not in self.performances:
            raise Refusal(f"A {source.kind} of the scene is missing.")
        return self.performances[source]

    def body(self, source: StintSource) -> BodyPerformance:
        """What a stint of a body lane plays. Raises Refusal where it poses no body."""
        found = self.performance(source)
        if not is_body(found):
            raise Refusal(f"“{found.name}” poses no figure.")
        return found

    def drawings(self, source: StintSource) -> DrawingPerformance:
        """What a stint of drawings plays. Raises Refusal where it has none."""
        found = self.performance(source)
        if not is_drawings(found):
            raise Refusal(f"“{found.name}” has no drawings.")
        return found
