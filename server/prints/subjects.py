"""What can be printed: a scene, a clip by itself, a take as it came and as it was cleaned. Each as a scene."""

from dataclasses import dataclass, replace
from typing import Any

from documents.kinds import Opened
from documents.models import Document
from documents.opening import Shelf, opened
from elastic_core.clip.document import Clip
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import walking_in_place
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.scene.document import Scene
from elastic_core.scene.material import Material
from elastic_core.scene.of_clip import scene_of_clip
from library.clips_of_takes import playable_result
from library.kinds import CLIP
from library.takes import TAKE, cleaned
from scenes.kinds import SCENE

CAPTURED = "as captured"


@dataclass(frozen=True)
class Subject:
    """A revision of a document as a scene that is printed. `content` names what its frames come from."""

    scene: Scene
    material: Material
    content: str


def _made_from(now: Opened[Any]) -> str:
    return f"{now.content}:{now.made_from}"


def subject_of(
    row: Document, revision: int, end: int | None = None, *, in_place: bool = False
) -> Subject:
    """A scene, a clip, or what a take's recipe makes of it, at a revision; a cycle to the played frame `end`.
    A clip may walk `in_place`, as one looks at it on the bench.

    Raises Refusal for a document of another kind, and where it cannot be opened.
    """
    now = opened(row, revision)
    if row.kind == SCENE.key:
        return Subject(now.document, now.made_of, now.content)
    if row.kind == CLIP.key:
        made = now.made_of
        # What walks in place is named so: its frames are others.
        name = f"{_made_from(now)}:in place" if in_place else _made_from(now)
        playable = walking_in_place(made.playable) if in_place else made.playable
        return _of_clip(row, playable, made.figure, name, end)
    if row.kind == TAKE.key:
        done = cleaned(now)
        return _of_clip(row, playable_result(done), done.figure, _made_from(now), None)
    raise Refusal(f"“{row.name}” is nothing that is printed.")


def captured(row: Document, revision: int) -> Subject:
    """A take as it came, frame for frame beside what was made of it, and on the figure that plays that.

    Raises Refusal for what is no take.
    """
    if row.kind != TAKE.key:
        raise Refusal("Only a take is printed beside what it was.")
    now = opened(row, revision)
    done = cleaned(now)
    clip = Clip(
        name=f"{row.name}, {CAPTURED}"[:120],
        figure=now.made_of.plays,
        rate=done.clip.rate,
        length_frames=done.captured.frames,
    )
    return _of_clip(row, PlayableClip(clip, done.captured), done.figure, _made_from(now), None)


def _of_clip(
    row: Document, playable: PlayableClip, figure: Figure, content: str, end: int | None
) -> Subject:
    frames = end if playable.is_cycle else None
    held = str(playable.figure) or "figure"
    named = replace(playable, clip=playable.clip.model_copy(update={"figure": held}))
    scene = scene_of_clip(str(row.pk), named, figure.name, frames)
    drawn = Shelf(row.production_id).documents(figure.dress.drawing_ids, "drawings")
    clips = Material.of_clips({held: figure}, [(str(row.pk), named)])
    return Subject(scene, replace(clips, drawn=drawn), f"{content}:{scene.played_frames}")
