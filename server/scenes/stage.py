"""Scenes of a production: saved, edited, and made into frames."""

import hashlib
from dataclasses import dataclass
from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import history
from documents.models import Document, Use
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.performance import Performance
from elastic_core.scene.cast import ClipSource, SceneSource, StintSource
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit, apply_edit, brings
from elastic_core.scene.edits.base import Edited
from elastic_core.scene.material import Material
from elastic_core.scene.part import ScenePart
from library import shelf


@dataclass(frozen=True)
class Staged:
    """A scene with all it is made from. `content` names exactly what its frames come from."""

    scene: Scene
    material: Material
    content: str


def create(production: Production, scene: Scene, author: User | None) -> Document:
    with transaction.atomic():
        body = scene.model_dump(mode="json")
        label = f"New scene {scene.name}"
        document = history.create(production, Document.Kind.SCENE, scene.name, body, label, author)
        note_uses(document)
    return document


def standing(document: Document) -> Staged:
    """The scene at the head."""
    return at_revision(document, None)


def at_revision(document: Document, number: int | None) -> Staged:
    """The scene as one of its revisions has it; the standing one without a number."""
    scene = Scene.model_validate(history.revision_of(document, number).body)
    return _staged(document.production, scene)


def made_from(document: Document) -> str:
    """Names what stands of all that the standing scene uses: another name, and its frames differ."""
    heads = document.uses.order_by("used").values_list("used", "used__head")
    listed = ",".join(f"{used}:{head}" for used, head in heads)
    return hashlib.sha256(listed.encode()).hexdigest()[:16]


def preview(document: Document, edit: SceneEdit) -> tuple[Staged, Edited]:
    """What an edit would give; nothing is saved."""
    staged = standing(document)
    material = _material_for(document.production, staged, edit)
    edited = apply_edit(staged.scene, edit, material)
    return _staged(document.production, edited.scene), edited


def save_edit(
    document: Document, edit: SceneEdit, base_revision: int, author: User, token: str | None = None
) -> tuple[Document, Staged, Edited]:
    """Apply an edit and save the outcome as a new revision, in one transaction.

    An edit whose answer was lost can be sent again with its token: it is made once.
    """
    with transaction.atomic():
        row = Document.objects.select_for_update().get(pk=document.pk)
        if (made := history.made_already(row, token)) is not None:
            staged = standing(row)
            return row, staged, Edited(staged.scene, made.label)
        held = history.locked(document, base_revision)
        staged, edited = preview(held, edit)
        body = edited.scene.model_dump(mode="json")
        history.save(held, body, edited.label, author, edited.scene.name, token)
        note_uses(held)
    return held, staged, edited


def walk(document: Document, base_revision: int, *, forward: bool) -> Document:
    """One step back or forward."""
    with transaction.atomic():
        held = history.walk(document, base_revision, forward=forward)
        note_uses(held)
    return held


def go_back(document: Document, revision: int, base_revision: int, author: User) -> Document:
    """An earlier revision stands again, as a new step."""
    with transaction.atomic():
        held = history.locked(document, base_revision)
        history.go_back(held, revision, author)
        note_uses(held)
    return held


def _material_for(production: Production, staged: Staged, edit: SceneEdit) -> Material:
    """The scene's material, with the clips and figures that the edit brings."""
    sources, figure_ids = brings(edit)
    sources -= set(staged.material.performances)
    figure_ids -= set(staged.material.figures)
    if not sources and not figure_ids:
        return staged.material
    new = _Gathered(production)
    performances = new.performances(sources, ())
    figure_ids |= {performance.figure for performance in performances.values()}
    return Material(
        {**staged.material.figures, **new.figures(figure_ids)},
        {**staged.material.performances, **performances},
    )


def _staged(production: Production, scene: Scene) -> Staged:
    gathered = _Gathered(production)
    material = gathered.material(scene, ())
    content = "\n".join([scene.model_dump_json(), *sorted(gathered.heads)])
    return Staged(scene, material, hashlib.sha256(content.encode()).hexdigest()[:32])


class _Gathered:
    """What a scene is made from, taken down from the shelf; `heads` says which revisions stood."""

    def __init__(self, production: Production) -> None:
        self.production = production
        self.heads: set[str] = set()

    def material(self, scene: Scene, outer: tuple[str, ...]) -> Material:
        return Material(self.figures(scene.figure_ids), self.performances(scene.sources, outer))

    def figures(self, ids: set[str]) -> dict[str, Figure]:
        found = self._documents(ids, Document.Kind.FIGURE)
        return {str(row.pk): shelf.figure_of(row) for row in found}

    def performances(
        self, sources: set[StintSource], outer: tuple[str, ...]
    ) -> dict[StintSource, Performance]:
        """What of these sources is here. `outer` are the scenes that are being gathered already."""
        ids = {kind: {s.document for s in sources if s.kind == kind} for kind in ("clip", "scene")}
        clips = self._documents(ids["clip"], Document.Kind.CLIP)
        found: dict[StintSource, Performance] = {
            ClipSource(id=str(row.pk)): shelf.clip_of(row) for row in clips
        }
        scenes = {str(row.pk): row for row in self._documents(ids["scene"], Document.Kind.SCENE)}
        for source in sources:
            if source.kind == "scene" and source.id in scenes:
                found[source] = self._part(scenes[source.id], source, outer)
        return found

    def _part(self, row: Document, source: SceneSource, outer: tuple[str, ...]) -> ScenePart:
        if source.id in outer:
            raise Refusal(f"“{row.name}” would play itself.")
        inner = Scene.model_validate(history.standing(row).body)
        material = self.material(inner, (*outer, source.id))
        return ScenePart(inner, material, inner.figure(source.figure))

    def _documents(self, ids: set[str], kind: str) -> list[Document]:
        """Documents of this production only: an id from elsewhere is simply missing."""
        known = [found for found in map(_uuid, ids) if found]
        rows = list(self.production.documents.filter(pk__in=known, kind=kind)) if known else []
        self.heads |= {f"{row.pk}:{row.head}" for row in rows}
        return rows


def _uuid(name: str) -> UUID | None:
    try:
        return UUID(name)
    except ValueError:
        return None


def note_uses(document: Document) -> None:
    """Write down what the standing revision of a scene uses."""
    scene = Scene.model_validate(history.standing(document).body)
    wanted = {UUID(name) for name in scene.document_ids}
    document.uses.exclude(used__in=wanted).delete()
    present = set(document.uses.values_list("used", flat=True))
    Use.objects.bulk_create(Use(scene=document, used_id=pk) for pk in wanted - present)
