"""A production's figures, clips, sounds and scenes."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Any
from uuid import UUID

import numpy as np
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import Router
from ninja.responses import Status

from accounts.models import Production
from documents import editing
from documents.models import Document, Use
from documents.opening import document_of
from documents.telling import told
from elastic_core.body import Body, body_of
from elastic_core.clock import parse_rate, seconds
from elastic_core.errors import Refusal, refusing
from elastic_core.figure import Figure
from elastic_core.formats.clip_file import clip_file_pieces
from elastic_core.formats.gltf import GLTF, GltfClip, write_glb
from elastic_core.moments import source
from elastic_core.scene.document import Scene
from library import shelf
from library.cut_outs import CUT_OUT
from library.drawings import DRAWINGS, RUN
from library.kinds import CLIP, FIGURE, FRAMES_IN_STRIP, SOUND, packed_poses
from library.lines import CHART, LINE
from library.takes import TAKE
from scenes.kinds import SCENE

from .access import document, membership, person
from .answers import written
from .downloads import download
from .packs import pack_response
from .pictures import shown_picture
from .schemas import (
    ChartCard,
    ClipCard,
    Count,
    CutOutCard,
    DrawingsCard,
    FeetWanted,
    FigureCard,
    LibraryView,
    LineCard,
    NewProduction,
    NewScene,
    RecipeCard,
    RunCard,
    SceneCard,
    SoundCard,
    TakeCard,
    Unreadable,
    UsedIn,
)

router = Router(tags=["library"])
items = Router(tags=["library"])


CARDS_A_PAGE = 500


@router.get("/{uuid:production_id}", response=LibraryView)
def read_library(
    request: HttpRequest, production_id: UUID, after: UUID | None = None, most: Count = CARDS_A_PAGE
) -> HttpResponse:
    """What is in a production, in the order it was made, a page at a time; `after` is the last card of
    the page before."""
    member = membership(request, production_id)
    rows = Document.objects.filter(production=member.production_id).order_by("created", "id")
    if after is not None:
        last = rows.filter(pk=after).values_list("created", "id").first()
        if last is not None:
            rows = rows.filter(Q(created__gt=last[0]) | Q(created=last[0], id__gt=last[1]))
    count = max(1, min(most, 2_000))
    page = list(rows.values_list(*_TOLD, named=True)[: count + 1])
    cards, unreadable = _all_told(page[:count])
    uses = _uses(used__production=member.production_id)
    figures = {row.id: row.name for row in cards if row.kind == FIGURE.key}
    missing = {row.figure for row in cards if row.figure} - set(figures)
    if missing:
        named = Document.objects.filter(pk__in=missing).values_list("pk", "name")
        figures |= dict(named)
    view = LibraryView(
        id=member.production_id,
        name=member.production.name,
        role=member.role,
        clips=[clip_card(row, figures, uses) for row in cards if row.kind == CLIP.key],
        figures=[_figure_card(row, uses) for row in cards if row.kind == FIGURE.key],
        scenes=[_scene_card(row) for row in cards if row.kind == SCENE.key],
        sounds=[sound_card(row, uses) for row in cards if row.kind == SOUND.key],
        takes=[take_card(row) for row in cards if row.kind == TAKE.key],
        lines=[line_card(row) for row in cards if row.kind == LINE.key],
        charts=[chart_card(row) for row in cards if row.kind == CHART.key],
        drawings=[drawings_card(row, uses) for row in cards if row.kind == DRAWINGS.key],
        runs=[run_card(row, uses) for row in cards if row.kind == RUN.key],
        cut_outs=[cut_out_card(row) for row in cards if row.kind == CUT_OUT.key],
        unreadable=unreadable,
        after=page[count - 1].id if len(page) > count else None,
    )
    # Written by the models themselves: thousands of cards take the framework three times as long.
    return written(view)


# The columns that cards tell. As named tuples: a document's own class takes half the time of a long list.
_TOLD = (
    "id",
    "kind",
    "name",
    "tags",
    "archived",
    "created",
    "changed",
    "figure",
    "rate",
    "length_frames",
    "facts",
    "head",
    "told_of",
)


def _all_told(rows: list[Any]) -> tuple[list[Any], list[Unreadable]]:
    """What rows tell, as their documents do; and those of which nothing can be told."""
    cards, unreadable = [], list[Unreadable]()
    for row in rows:
        if row.told_of == row.head:
            cards.append(row)
            continue
        try:
            with refusing():
                cards.append(told(Document.objects.get(pk=row.id)))
        except Refusal as refusal:
            unreadable.append(Unreadable(id=row.id, kind=row.kind, name=row.name, why=str(refusal)))
    return cards, unreadable


@router.patch("/{uuid:production_id}", response=None)
def rename_production(request: HttpRequest, production_id: UUID, wanted: NewProduction) -> None:
    """Another name for a production."""
    member = membership(request, production_id, to_own=True)
    Production.objects.filter(pk=member.production_id).update(name=wanted.name)


@router.post("/{uuid:production_id}/scenes", response={201: SceneCard})
def new_scene(request: HttpRequest, production_id: UUID, wanted: NewScene) -> Status[SceneCard]:
    """An empty scene."""
    member = membership(request, production_id, to_change=True)
    scene = Scene(
        name=wanted.name,
        rate=wanted.rate,
        laid_frames=wanted.length_frames,
        played_frames=wanted.length_frames,
    )
    label = f"New scene {scene.name}"
    made = editing.create(SCENE, member.production, scene, label, person(request))
    return Status(201, _scene_card(made))


@items.get("/figures/{uuid:figure_id}", response=Figure)
def read_figure(request: HttpRequest, figure_id: UUID) -> Figure:
    """A figure with its joints and its dress, as it is painted."""
    found, _ = document(request, FIGURE.key, figure_id)
    return shelf.figure_of(found).as_painted


@items.get("/figures/{uuid:figure_id}/pictures/{sha256}", response=None)
def figure_picture(request: HttpRequest, figure_id: UUID, sha256: str) -> HttpResponse:
    """A picture of a cut-out, as large as it is shown."""
    found, _ = document(request, FIGURE.key, figure_id)
    cards = shelf.figure_of(found).dress.cards
    if all(one.picture.file != sha256 for card in cards for one in card.pictures):
        raise Refusal("That picture is none of the figure’s.")
    return shown_picture(found.production, sha256, "shown")


@items.get("/figures/{uuid:figure_id}/body", response=Body)
def read_body(request: HttpRequest, figure_id: UUID) -> Body:
    """A figure's joints as one calls them, and the parts that they make up."""
    found, _ = document(request, FIGURE.key, figure_id)
    return body_of(shelf.figure_of(found))


@items.put("/figures/{uuid:figure_id}/feet", response=Body)
def set_feet(request: HttpRequest, figure_id: UUID, wanted: FeetWanted) -> Body:
    """Which joints the legs end in; without any they are read from names and shape again."""
    found, _ = document(request, FIGURE.key, figure_id, to_change=True)
    return body_of(shelf.set_legs(found, wanted.feet, person(request)))


@items.get("/figures/{uuid:figure_id}/frames", response=None)
def figure_frames(request: HttpRequest, figure_id: UUID) -> HttpResponse:
    """A frame pack of the rest pose."""
    found, _ = document(request, FIGURE.key, figure_id)
    figure = shelf.figure_of(found)
    return pack_response(request, packed_poses(figure, figure.rest_motion))


@items.get("/clips/{uuid:document_id}/frames", response=None)
def clip_frames(request: HttpRequest, document_id: UUID, most: Count = 240) -> HttpResponse:
    """A frame pack of one round of a clip, at most so many poses, evenly spaced."""
    found, _ = document(request, CLIP.key, document_id)
    if most == FRAMES_IN_STRIP:
        row = told(Document.objects.get(pk=found.pk))
        return pack_response(request, bytes(row.thumbnail))
    made = shelf.made_of(found)
    length = made.clip.length_frames
    count = max(1, min(length, most, 2000))
    motion = made.playable.at(source(np.floor(np.arange(count) * (length / count))))
    return pack_response(request, packed_poses(made.figure, motion))


@items.get("/clips/{uuid:document_id}/file", response=None)
def export_clip(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """The clip with its figure, as a clip file."""
    found, _ = document(request, CLIP.key, document_id)
    made = shelf.made_of(found)
    pieces = clip_file_pieces(made.figure, made.playable)
    return download(pieces, f"{found.name}.clip.json", "application/json")


@items.get("/clips/{uuid:document_id}/gltf", response=None)
def export_clip_gltf(request: HttpRequest, document_id: UUID) -> HttpResponseBase:
    """The clip with its figure, as glTF in metres; a cycle ends on its first pose."""
    found, _ = document(request, CLIP.key, document_id)
    made = shelf.made_of(found)
    clip = GltfClip.of(made.playable, found.name)
    return download(write_glb(made.figure, [clip]), f"{found.name}.glb", GLTF)


def _kept(row: Document) -> dict[str, Any]:
    """What the cards of all documents tell."""
    return {
        "id": row.id,
        "name": row.name,
        "tags": row.tags,
        "archived": row.archived,
        "created": row.created,
        "changed": row.changed,
    }


@lru_cache(maxsize=4_096)
def _seconds(length_frames: int, rate: str) -> float:
    """How long rows are that tell the same: of thousands many do."""
    return seconds(length_frames, parse_rate(rate))


Uses = Mapping[UUID, list[UsedIn]]


def _uses(**of: Any) -> Uses:
    """The scenes that use each of these documents, by name."""
    uses = Use.objects.filter(document__kind=SCENE.key, **of)
    named = uses.order_by("document__name").values_list("used", "document", "document__name")
    found: dict[UUID, list[UsedIn]] = {}
    for used, scene, name in named:
        found.setdefault(used, []).append(UsedIn(id=scene, name=name))
    return found


def clip_card(
    row: Document, figures: Mapping[UUID, str] | None = None, uses: Uses | None = None
) -> ClipCard:
    """A clip's card, from what its row tells; `figures` are the names of those that are known."""
    assert row.figure is not None
    assert row.length_frames is not None
    name = (figures or {}).get(row.figure)
    facts = row.facts
    return ClipCard(
        **_kept(row),
        figure=row.figure,
        figure_name=name or Document.objects.values_list("name", flat=True).get(pk=row.figure),
        rate=row.rate,
        length_frames=row.length_frames,
        length_seconds=_seconds(row.length_frames, row.rate),
        is_cycle=facts["is_cycle"],
        stride_metres=facts["stride_metres"],
        colour=facts["colour"],
        seam=facts["seam"],
        rests=facts["rests"],
        used_in=(_uses(used=row) if uses is None else uses).get(row.id, []),
    )


def _figure_card(row: Document, uses: Uses) -> FigureCard:
    facts = row.facts
    return FigureCard(
        **_kept(row),
        joints=facts["joints"],
        height_metres=facts["height_metres"],
        used_in=uses.get(row.id, []),
    )


def sound_card(row: Document, uses: Uses | None = None) -> SoundCard:
    """A sound's card, from what its row tells."""
    told = {name: row.facts[name] for name in ("form", "rate_hz", "channels", "length_seconds")}
    used_in = (_uses(used=row) if uses is None else uses).get(row.id, [])
    return SoundCard(**_kept(row), **told, used_in=used_in)


def take_card(row: Document) -> TakeCard:
    """A take's card, from what its row tells."""
    assert row.figure is not None
    assert row.length_frames is not None
    told = {name: row.facts[name] for name in ("joints", "colour", "circled", "recipe", "lost")}
    return TakeCard(
        **_kept(row),
        **told,
        figure=row.figure,
        rate=row.rate,
        length_frames=row.length_frames,
        length_seconds=_seconds(row.length_frames, row.rate),
    )


def recipe_card(row: Document) -> RecipeCard:
    """A recipe's card, with the recipe itself."""
    return RecipeCard(**_kept(row), recipe=document_of(row))


def line_card(row: Document) -> LineCard:
    """A line's card, from what its row tells."""
    assert row.length_frames is not None
    return LineCard(**_kept(row), **row.facts, rate=row.rate, length_frames=row.length_frames)


def chart_card(row: Document) -> ChartCard:
    """A mouth chart's card, from what its row tells."""
    return ChartCard(**_kept(row), **row.facts, figure=row.figure)


def drawings_card(row: Document, uses: Uses | None = None) -> DrawingsCard:
    """A drawing set's card, from what its row tells."""
    used_in = (_uses(used=row) if uses is None else uses).get(row.id, [])
    return DrawingsCard(**_kept(row), **row.facts, used_in=used_in)


def run_card(row: Document, uses: Uses | None = None) -> RunCard:
    """A run's card, from what its row tells."""
    assert row.length_frames is not None
    used_in = (_uses(used=row) if uses is None else uses).get(row.id, [])
    return RunCard(
        **_kept(row),
        **{**row.facts, "drawings": row.facts["drawings"] or None},
        rate=row.rate,
        length_frames=row.length_frames,
        length_seconds=_seconds(row.length_frames, row.rate),
        used_in=used_in,
    )


def cut_out_card(row: Document) -> CutOutCard:
    """A cut-out's card, from what its row tells."""
    return CutOutCard(**_kept(row), **row.facts)


def _scene_card(row: Document) -> SceneCard:
    assert row.length_frames is not None
    return SceneCard(
        **_kept(row),
        rate=row.rate,
        length_frames=row.length_frames,
        length_seconds=_seconds(row.length_frames, row.rate),
        figures=row.facts["figures"],
    )
