"""Scenes, as a kind of document; and what stints play, by the kind of its source."""

from typing import Any

from documents.kinds import Facts, Kind, Opened, content_name
from documents.memory import memory
from documents.opening import Shelf
from elastic_core.clock import format_rate
from elastic_core.drawings.playing import RunPlayed
from elastic_core.errors import Refusal
from elastic_core.performance import Performance
from elastic_core.scene.cast import LineSource, SceneSource, StintSource
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit, brings
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.material import Material
from elastic_core.scene.part import ScenePart
from elastic_core.voice.playing import LinePlayed
from library.kinds import made_of
from library.lines import line_played


def _open(shelf: Shelf, scene: Scene, name: str) -> Opened[Scene]:
    own = name.partition(":")[0]
    if any(source.kind in ("scene", "line") for source in scene.sources):
        # What its parts are made of in turn is not told by the heads of what it uses.
        return _opened(shelf, scene, _material(shelf, scene, (own,)), own)
    key = ("opened", name, shelf.made_from(scene.document_ids))
    return memory.made(
        key,
        lambda: _opened(shelf, scene, _material(shelf, scene, (own,)), own),
        lambda opened: opened.weighs,
    )


def _opened(shelf: Shelf, scene: Scene, material: Material, own: str) -> Opened[Scene]:
    """`content` names exactly what the scene's frames come from."""
    made_of_ids = _made_of(scene, material)
    shelf.heads(made_of_ids)
    stands = sorted(shelf.revision(name) for name in made_of_ids)
    content = content_name(scene.model_dump_json(), *stands)
    return Opened(scene, material, content, shelf.made_from(scene.document_ids), own, 20_000)


def _made_of(scene: Scene, material: Material) -> set[str]:
    """The ids of all documents that the scene's frames come from, those of its parts too."""
    names = set(scene.document_ids)
    for source in scene.sources:
        performance = material.performances.get(source)
        if performance is not None:
            names |= {performance.figure} - {""}
        if isinstance(performance, LinePlayed):
            names.update(performance.made_from)
        if isinstance(performance, ScenePart):
            names |= _made_of(performance.scene, performance.material)
    return names


def _material(shelf: Shelf, scene: Scene, outer: tuple[str, ...]) -> Material:
    shelf.heads(scene.document_ids)
    performances = _performances(shelf, scene.sources, outer)
    # A fitted clip is carried over from the figure that it was made for.
    made_for = {performance.figure for performance in performances.values()} - {""}
    lines = [one for one in performances.values() if isinstance(one, LinePlayed)]
    figures = shelf.documents(scene.figure_ids | made_for, "figure")
    of_cards = {name for figure in figures.values() for name in figure.dress.drawing_ids}
    return Material(
        figures,
        performances,
        shelf.documents(scene.sound_ids | {one.line.sound for one in lines}, "sound"),
        shelf.documents(scene.chart_ids | {one.line.chart for one in lines} - {""}, "chart"),
        shelf.documents(scene.drawing_ids | of_cards, "drawings"),
    )


def _performances(
    shelf: Shelf, sources: set[StintSource], outer: tuple[str, ...]
) -> dict[StintSource, Performance]:
    """What of these sources is here. `outer` are the scenes that are being opened already."""
    found: dict[StintSource, Performance] = {}
    for kind, perform in _PERFORM.items():
        own = [source for source in sources if source.kind == kind]
        documents = shelf.documents((source.document for source in own), kind)
        for source in own:
            if source.document in documents:
                found[source] = perform(shelf, documents[source.document], source, outer)
    return found


def _clip(shelf: Shelf, clip: Any, source: StintSource, outer: tuple[str, ...]) -> Performance:
    return made_of(shelf, clip, shelf.revision(source.document)).playable


def _part(shelf: Shelf, inner: Any, source: StintSource, outer: tuple[str, ...]) -> Performance:
    if source.document in outer:
        raise Refusal(f"“{inner.name}” would play itself.")
    assert isinstance(source, SceneSource)
    material = _material(shelf, inner, (*outer, source.document))
    return ScenePart(inner, material, inner.figure(source.figure))


def _line(shelf: Shelf, line: Any, source: StintSource, outer: tuple[str, ...]) -> Performance:
    assert isinstance(source, LineSource)
    return line_played(shelf, line, shelf.revision(source.document), source.part)


def _run(shelf: Shelf, run: Any, source: StintSource, outer: tuple[str, ...]) -> Performance:
    return RunPlayed(run)


# What a stint plays, by the kind of its source: another kind of performance is one line more.
_PERFORM = {"clip": _clip, "scene": _part, "line": _line, "run": _run}


def _edit(shelf: Shelf, before: Opened[Scene], edit: Any) -> tuple[Opened[Scene], Edited]:
    scene = before.document
    sources, others = brings(edit)
    material: Material = before.made_of
    sources -= set(material.performances)
    others -= {*material.figures, *material.sounds, *material.charts, *material.drawn}
    shelf.heads(scene.document_ids | {source.document for source in sources} | others)
    if sources or others:
        performances = _performances(shelf, sources, (before.id,))
        figures = others | {performance.figure for performance in performances.values()}
        material = Material(
            {**material.figures, **shelf.documents(figures - {""}, "figure")},
            {**material.performances, **performances},
            {**material.sounds, **shelf.documents(others, "sound")},
            {**material.charts, **shelf.documents(others, "chart")},
            {**material.drawn, **shelf.documents(others, "drawings")},
        )
    edited = apply_edit(scene, edit, material)
    return _opened(shelf, edited.scene, material, before.id), edited


def _facts(opened: Opened[Scene]) -> Facts:
    scene = opened.document
    return Facts(
        rate=format_rate(scene.rate),
        length_frames=scene.played_frames,
        rest={
            "figures": [
                {"id": member.id, "name": member.name, "figure": member.figure}
                for member in scene.figures
            ]
        },
    )


SCENE: Kind[Scene, SceneEdit] = Kind(
    key="scene",
    read=Scene.model_validate,
    write=lambda scene: scene.model_dump(mode="json"),
    weighs=lambda scene: 2_000 + 2_000 * sum(len(lane.stints) + 1 for lane in scene.lanes),
    uses=lambda scene: scene.document_ids,
    open=_open,
    edit=_edit,
    facts=_facts,
)
