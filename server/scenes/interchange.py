"""Scenes and clips as files of our own, and timelines, in again."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import editing
from documents.kinds import Kind
from documents.models import Document
from documents.opening import document_of
from elastic_core.clip.playable import PlayableClip
from elastic_core.drawings.drawing_set import DrawingSet
from elastic_core.drawings.run import DrawingRun
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import SceneFile, read_own_file
from elastic_core.formats.scene_zip import PackedScene, pictures_of, read_packed_scene
from elastic_core.formats.timeline_in import is_otioz, read_otioz, read_timeline
from elastic_core.formats.zips import ZIP_START
from elastic_core.scene.document import Scene, Stint
from elastic_core.sound.document import Sound
from elastic_core.voice.chart import MouthChart
from elastic_core.voice.line import Line
from library import files, motions, pictures, shelf, sounds
from library.drawings import DRAWINGS, RUN
from library.kinds import CLIP
from library.lines import CHART, LINE

from .kinds import SCENE

SNIFFED_BYTES = 4096
NO_IDS: Mapping[str, str] = {}
_SCENE, _CLIP = b"elastic-hours-scene", b"elastic-hours-clip"
_TIMELINE = b'"OTIO_SCHEMA"'


@dataclass(frozen=True)
class Opened:
    """The document made of a file, and how much of each kind came with it."""

    document: Document
    new: Mapping[str, int]
    notes: tuple[str, ...] = ()

    @property
    def says(self) -> list[str]:
        """What came with it, and what did not."""
        came = [
            f"{self.new[word]} new {word if self.new[word] == 1 else word + 's'} came with it."
            for word in ("figure", "clip", "sound", "mouth chart", "line", "drawing set", "run")
            if self.new.get(word)
        ]
        return [*self.notes, *came]


def check_start(start: bytes) -> None:
    """Raises Refusal for a file that does not begin as ours do."""
    known = any(mark in start[:SNIFFED_BYTES] for mark in (_SCENE, _CLIP, _TIMELINE))
    if not known and not start.startswith(ZIP_START):
        raise Refusal("This is no timeline, and neither a scene nor a clip file of Elastic Hours.")


def open_file(production: Production, data: bytes, author: User) -> Opened:
    """A scene or clip file, or a timeline, into a production. What is here already is used, not doubled."""
    check_start(data)
    # A timeline of ours has a scene file in it.
    is_packed = is_otioz(data)
    if is_packed or _TIMELINE in data[:SNIFFED_BYTES]:
        read = read_otioz(data) if is_packed else read_timeline(data, _nothing_beside)
        return replace(_open_scene(production, read.whole(), author), notes=read.notes)
    if data.startswith(ZIP_START) or _SCENE in data[:SNIFFED_BYTES]:
        return _open_scene(production, read_packed_scene(data), author)
    return _open_clip(production, read_own_file(ClipFile, data, "clip"), author)


def _nothing_beside(place: str) -> bytes | None:
    """What a file that comes alone has with it."""
    return None


def _open_scene(production: Production, packed: PackedScene, author: User) -> Opened:
    held = packed.scene
    held.material()
    with transaction.atomic():
        shelved = _Shelved(production, author)
        for file, name in pictures_of(held).items():
            # Checked as any that is brought in; one that would be drawn anew is not the chart's.
            if pictures.store(production, f"{name}, {file[:8]}", packed.files[file]).file != file:
                raise Refusal(f"A picture of “{name}” is none that can be drawn.")
        drawn = {name: shelved.drawn(made) for name, made in held.drawings.items()}
        figures = {name: shelved.figure(made, drawn) for name, made in held.figures.items()}
        ids = drawn | {
            name: shelved.clip(playable, figures[playable.clip.figure])
            for name, playable in held.playable_clips().items()
        }
        ids |= {
            name: shelved.sound(sound, packed.files[sound.file])
            for name, sound in held.sounds.items()
        }
        ids |= {name: shelved.chart(chart, figures) for name, chart in held.charts.items()}
        ids |= {name: shelved.line(line, ids) for name, line in held.lines.items()}
        ids |= {name: shelved.run(run, ids) for name, run in held.runs.items()}
        document = _shelve_scene(held, held.scene, shelved, figures, ids)
    return Opened(document, shelved.new)


def _open_clip(production: Production, held: ClipFile, author: User) -> Opened:
    with transaction.atomic():
        shelved = _Shelved(production, author)
        name = shelved.clip(held.playable(), shelved.figure(held.figure))
    return Opened(Document.objects.get(pk=name), shelved.new)


class _Shelved:
    """Puts what a file holds on the shelf and counts what was not there."""

    def __init__(self, production: Production, author: User) -> None:
        self.production = production
        self.author = author
        self.new: Counter[str] = Counter()

    def figure(self, figure: Figure, ids: Mapping[str, str] = NO_IDS) -> str:
        """`ids` are those of the file's drawing sets here."""
        known = shelf.figure_with_skeleton(self.production, figure)
        if known is None:
            dress = figure.dress.with_drawing_ids(ids)
            figure = figure.model_copy(update={"dress": dress})
            known = shelf.add_figure(self.production, figure, self.author)
            self.new["figure"] += 1
        return str(known.pk)

    def sound(self, sound: Sound, data: bytes) -> str:
        read = sounds.decoded(data, sound.name).model_copy(update={"name": sound.name})
        self.new["sound"] += sounds.known(self.production, read) is None
        files.store(self.production, sound.name, data)
        return str(sounds.shelved(self.production, read, self.author).pk)

    def chart(self, chart: MouthChart, figures: Mapping[str, str]) -> str:
        own = chart.model_copy(update={"figure": figures.get(chart.figure, "")})
        return self._document(CHART, own, "mouth chart")

    def line(self, line: Line, ids: Mapping[str, str]) -> str:
        uses = {"sound": ids[line.sound], "chart": ids.get(line.chart, "")}
        return self._document(LINE, line.model_copy(update=uses), "line")

    def drawn(self, drawn: DrawingSet) -> str:
        return self._document(DRAWINGS, drawn, "drawing set")

    def run(self, run: DrawingRun, ids: Mapping[str, str]) -> str:
        own = run.model_copy(update={"drawings": ids.get(run.drawings, "")})
        return self._document(RUN, own, "run")

    def _document(self, kind: Kind[Any, Any], made: Any, word: str) -> str:
        """The document that is the same, or a new one."""
        for row in self.production.documents.filter(kind=kind.key, name=made.name):
            if document_of(row) == made:
                return str(row.pk)
        self.new[word] += 1
        label = f"Bring in {made.name}"
        return str(editing.create(kind, self.production, made, label, self.author).pk)

    def clip(self, playable: PlayableClip, figure: str) -> str:
        clip = playable.clip.model_copy(update={"figure": figure})
        if not clip.is_keyed:
            motion = motions.name_of(playable.kept_samples)
            clip = clip.model_copy(update={"motion": motion})
        for row in self.production.documents.filter(kind=CLIP.key, name=clip.name):
            known = shelf.clip_of(row).clip
            if known.model_copy(update={"tracing": None, "lead_in": ""}) == clip:
                return str(row.pk)
        self.new["clip"] += 1
        made = shelf.add_clip(
            self.production, PlayableClip(clip, playable.samples, playable.kept), self.author
        )
        return str(made.pk)


def _shelve_scene(
    held: SceneFile,
    scene: Scene,
    shelved: _Shelved,
    figures: dict[str, str],
    ids: dict[str, str],
) -> Document:
    """A scene of the file as a document, after those that it plays parts of. `ids` grows by them."""
    for source in scene.sources:
        if source.kind == "scene" and source.id not in ids:
            inner = _shelve_scene(held, held.scenes[source.id], shelved, figures, ids)
            ids[source.id] = str(inner.pk)
    scene = _with_ids(scene, figures, ids)
    label = f"New scene {scene.name}"
    return editing.create(SCENE, shelved.production, scene, label, shelved.author)


def _with_ids(scene: Scene, figures: dict[str, str], ids: dict[str, str]) -> Scene:
    """The scene with the file's names of documents replaced by the production's."""

    def renamed(stint: Stint) -> Stint:
        source = stint.source.model_copy(update={"id": ids[stint.source.id]})
        return stint.model_copy(update={"source": source})

    lanes = tuple(
        lane.model_copy(
            update={
                "stints": tuple(renamed(stint) for stint in lane.stints),
                "charts": tuple(ids[chart] for chart in lane.charts),
            }
        )
        for lane in scene.lanes
    )
    members = tuple(
        member.model_copy(
            update={
                "figure": figures[member.figure],
                "fits": tuple(
                    fit.model_copy(update={"figure": figures[fit.figure]})
                    for fit in member.fits
                    if fit.figure in figures
                ),
                "rest": member.rest
                and member.rest.model_copy(update={"clip": ids[member.rest.clip]}),
            }
        )
        for member in scene.figures
    )
    sound_lanes = tuple(
        lane.with_sounds(
            [laid.model_copy(update={"sound": ids[laid.sound]}) for laid in lane.sounds]
        )
        for lane in scene.sound_lanes
    )
    layers = tuple(
        layer.model_copy(update={"drawings": ids[layer.drawings]}) for layer in scene.layers
    )
    update = {"lanes": lanes, "figures": members, "sound_lanes": sound_lanes, "layers": layers}
    return scene.model_copy(update=update)
