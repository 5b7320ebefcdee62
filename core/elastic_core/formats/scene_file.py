"""Scene files: a scene with its figures and clips embedded, as open JSON (docs/formats.md)."""

from collections.abc import Mapping
from typing import Literal, TypeVar

import numpy as np
from pydantic import BaseModel, Field, ValidationError

from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..clip.playing import playable_of
from ..drawings.drawing_set import DrawingSet
from ..drawings.playing import RunPlayed
from ..drawings.run import DrawingRun
from ..errors import Refusal, in_words
from ..figure import Figure
from ..formats.json_text import refuse_zeros
from ..formats.poses import Poses, SampledPose, poses_to_motion
from ..frozen import Frozen
from ..motion import Motion, join_runs
from ..performance import Performance
from ..scene.cast import LinePart, StintSource
from ..scene.document import Scene
from ..scene.material import Material
from ..scene.part import ScenePart
from ..sound.document import Sound
from ..voice.chart import MouthChart, usual_mouths
from ..voice.line import Line, run_of
from ..voice.playing import LinePlayed


class ClipInFile(Frozen):
    """A clip and its poses."""

    clip: Clip
    poses: Poses


class SceneFile(Frozen):
    """The whole file."""

    format: Literal["elastic-hours-scene"] = "elastic-hours-scene"
    version: Literal[1, 2] = 2
    scene: Scene
    figures: dict[str, Figure]
    clips: dict[str, ClipInFile]
    scenes: dict[str, Scene] = Field(default={})
    sounds: dict[str, Sound] = Field(default={})
    lines: dict[str, Line] = Field(default={})
    charts: dict[str, MouthChart] = Field(default={})
    runs: dict[str, DrawingRun] = Field(default={})
    drawings: dict[str, DrawingSet] = Field(default={})

    def material(self) -> Material:
        """The file's figures, clips and nested scenes, ready to play.

        Raises Refusal where the file does not hold what it uses, or a scene would play itself.
        """
        return self._material_of(self.scene, self.playable_clips(), ())

    def playable_clips(self) -> dict[str, PlayableClip]:
        """The file's clips by their names. Raises Refusal where one's figure is missing."""
        clips = {}
        for name, held in self.clips.items():
            figure = self.figures.get(held.clip.figure)
            if figure is None:
                raise Refusal(
                    f"Clip “{held.clip.name}” is for a figure that the file does not hold."
                )
            clips[name] = playable(held.clip, held.poses, figure)
        return clips

    def _material_of(
        self, scene: Scene, clips: Mapping[str, PlayableClip], outer: tuple[str, ...]
    ) -> Material:
        performances: dict[StintSource, Performance] = {}
        for source in scene.sources:
            if source.kind == "clip" and source.id in clips:
                performances[source] = clips[source.id]
            elif source.kind == "scene" and source.id in self.scenes:
                if source.id in outer:
                    raise Refusal("A scene of the file would play itself.")
                inner = self.scenes[source.id]
                material = self._material_of(inner, clips, (*outer, source.id))
                performances[source] = ScenePart(inner, material, inner.figure(source.figure))
            elif source.kind == "line" and source.id in self.lines:
                performances[source] = self._line(self.lines[source.id], source.part)
            elif source.kind == "run" and source.id in self.runs:
                performances[source] = RunPlayed(self.runs[source.id])
        if scene.sources - set(performances) or scene.figure_ids - set(self.figures):
            raise Refusal("The scene uses a clip, a run or a figure that the file does not hold.")
        if scene.sound_ids - set(self.sounds):
            raise Refusal("The scene uses a sound that the file does not hold.")
        if scene.chart_ids - set(self.charts):
            raise Refusal("The scene uses a mouth chart that the file does not hold.")
        if scene.drawing_ids - set(self.drawings):
            raise Refusal("The scene uses drawings that the file does not hold.")
        return Material(self.figures, performances, self.sounds, self.charts, self.drawings)

    def _line(self, line: Line, part: LinePart) -> LinePlayed:
        """A line of the file, exposed. Raises Refusal where its sound or its chart is not in the file."""
        if line.sound not in self.sounds or (line.chart and line.chart not in self.charts):
            raise Refusal(f"The file does not hold the sound or the chart of “{line.name}”.")
        chart = self.charts.get(line.chart)
        run = run_of(line, chart or usual_mouths(), self.sounds[line.sound].seconds)
        return LinePlayed(line, run, chart.figure if chart else "", part=part)


def scene_file(scene: Scene, material: Material) -> SceneFile:
    """A scene with all that it uses, scenes that it plays parts of included."""
    figures, clips, scenes = dict(material.figures), dict(material.clips), dict[str, Scene]()
    sounds = {name: material.sound(name) for name in scene.sound_ids}
    lines = {name: played.line for name, played in material.lines.items()}
    sounds |= {line.sound: material.sound(line.sound) for line in lines.values()}
    charts = dict(material.charts)
    runs = {name: played.run for name, played in material.runs.items()}
    drawings = {name: material.drawing_set(name) for name in scene.drawing_ids}
    of_cards = {name for figure in figures.values() for name in figure.dress.drawing_ids}
    drawings |= {name: material.drawn[name] for name in of_cards & set(material.drawn)}
    for source, performance in material.performances.items():
        if isinstance(performance, ScenePart):
            held = scene_file(performance.scene, performance.material)
            figures |= held.figures
            clips |= performance.material.clips
            scenes |= {source.id: performance.scene, **held.scenes}
            sounds |= held.sounds
            lines |= held.lines
            charts |= held.charts
            runs |= held.runs
            drawings |= held.drawings
    return SceneFile(
        scene=scene,
        figures=figures,
        clips={
            name: clip_in_file(figures[playable.clip.figure], playable)
            for name, playable in clips.items()
        },
        scenes=scenes,
        sounds=sounds,
        lines=lines,
        charts=charts,
        runs=runs,
        drawings=drawings,
    )


def clip_in_file(figure: Figure, clip: PlayableClip) -> ClipInFile:
    """A clip and its poses."""
    return ClipInFile(clip=bare(clip.clip), poses=sampled(clip.kept_samples.whole(), figure))


def bare(clip: Clip) -> Clip:
    """A clip as it goes into a file: without the pictures under its stage, and its lead-in."""
    return clip.model_copy(update={"tracing": None, "lead_in": ""})


def playable(clip: Clip, poses: Poses, figure: Figure) -> PlayableClip:
    """A clip ready to play. A cycle that leaves out the pose for frame L closes on frame 0.

    A clip of keys plays from them; its poses are in the file for other readers.
    """
    clip = bare(clip)
    if clip.is_keyed:
        return playable_of(figure, clip)
    motion = poses_to_motion(poses, figure, clip.length_frames + clip.is_cycle)
    if clip.is_cycle and motion.frames == clip.length_frames:
        first = motion.at(np.zeros(1, dtype=np.intp)).moved(np.array(clip.period))
        motion = join_runs([motion, first])
    return playable_of(figure, clip, motion)


def sampled(motion: Motion, figure: Figure) -> SampledPose:
    """Motion as the plain numbers of a file."""
    return SampledPose.model_validate(
        {
            "travel": motion.travel.tolist(),
            "root_move": motion.root_move.tolist(),
            "rotations": motion.rotations.tolist(),
            "moves": {figure.names[j]: move.tolist() for j, move in motion.moves.items()},
            "scales": {figure.names[j]: scale.tolist() for j, scale in motion.scales.items()},
        }
    )


def read_scene_file(text: bytes) -> SceneFile:
    """A scene file's bytes. Raises Refusal in one sentence."""
    return read_own_file(SceneFile, text, "scene")


F = TypeVar("F", bound=BaseModel)


def read_own_file(model: type[F], text: bytes, kind: str) -> F:
    """A file of our own. Raises Refusal in one sentence that says where it is wrong."""
    try:
        refuse_zeros(text)
        return model.model_validate_json(text)
    except ValidationError as problem:
        first = problem.errors(include_url=False)[0]
        where = ".".join(str(part) for part in first["loc"][:6])
        reason = in_words(first) + (f" It is at {where}." if where else "")
    except Refusal as refusal:
        reason = str(refusal)
    raise Refusal(f"This is not a {kind} file that can be read. {reason}")
