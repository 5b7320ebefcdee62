"""The takes room: what a recipe makes of a take, its frames and curves, its cycles, and clips of it."""

import base64
from typing import Any
from uuid import UUID

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.responses import Status

from documents import editing
from documents.kinds import Opened
from documents.memory import memory
from documents.models import Document
from documents.opening import opened
from documents.telling import told
from elastic_core.capture.clean import Cleaned
from elastic_core.capture.cycles import FoundCycle, find_cycles, similarity
from elastic_core.capture.loop import closed_loop, loop_of
from elastic_core.capture.onto import proposed_rest_frame
from elastic_core.capture.recipe import Recipe, house_recipe
from elastic_core.capture.still import proposed_cuts
from elastic_core.capture.take import Take, TakeOnto
from elastic_core.capture.thin import Tolerance, thinned
from elastic_core.capture.view import CleanedSheet, CurveSeen, cleaned_sheet, curves_of, sheet_of
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.fit import fit
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.scene.document import SceneFigure
from elastic_core.scene.evaluate import FigureFrames
from jobs.asking import ask
from library import clips_of_takes, reading, shelf, takes, taking_in
from library.kinds import CLIP, FIGURE
from library.takes import RECIPE, TAKE, TakeMade

from .access import document, membership, person
from .fits import fit_view
from .jobs import job_view
from .library import clip_card, recipe_card, take_card
from .packs import pack_response, picked_frames
from .rooms import Room, routes_of, to_its_end
from .schemas import (
    ClipCard,
    CutsProposed,
    CyclesFound,
    CyclesWanted,
    FitView,
    JobView,
    KeepRecipeWanted,
    KeepTakeWanted,
    KeysAgainstError,
    KeysAgainstErrorWanted,
    OntoWanted,
    RecipeCard,
    RecipeRunWanted,
    TakeCard,
    TakeCurvesWanted,
    TakeEditWanted,
    TakeFramesWanted,
    TakeInWanted,
    TakeOutcome,
    TakeView,
    TakeWindowWanted,
    ToBenchWanted,
)

makers = Router(tags=["take"])
CAPTURED, CLEANED = "captured", "cleaned"
# The map of a take against itself is shown so fine.
MAP_CELLS = 220
LONG_TAKE_SAMPLES = 1_000_000


def _shown(row: Document, now: Opened[Take], known: Opened[Take] | None) -> dict[str, Any]:
    made: TakeMade = now.made_of
    return {"take": sheet_of(made.take, made.figure)}


ROOM = Room(
    kind=TAKE,
    view=TakeView,
    shown=_shown,
    wanted=TakeEditWanted,
    outcome=TakeOutcome,
    told=lambda edited: {},
)
router = routes_of(ROOM)


@router.get("/{uuid:document_id}/frames", response=None)
def take_frames(request: HttpRequest, document_id: UUID) -> HttpResponse:
    """A frame pack of a few poses of the take as it was captured."""
    found, _ = document(request, TAKE.key, document_id)
    row = told(Document.objects.get(pk=found.pk))
    return pack_response(request, bytes(row.thumbnail))


@router.post("/{uuid:document_id}/cleaned", response=CleanedSheet)
def read_cleaned(request: HttpRequest, document_id: UUID, wanted: TakeWindowWanted) -> CleanedSheet:
    """What the recipe makes of a window of the take, and what each step did."""
    now, window, done = _cleaned(request, document_id, wanted)
    return cleaned_sheet(now.document, now.made_of.plays, done, window)


@router.post("/{uuid:document_id}/poses", response=None)
def take_poses(request: HttpRequest, document_id: UUID, wanted: TakeFramesWanted) -> HttpResponse:
    """A frame pack of the result's frames: the take as it was captured, and as it came out."""
    now, _, done = _cleaned(request, document_id, wanted)
    frames = picked_frames(wanted.start, min(wanted.end, done.motion.frames)).astype(np.intp)
    if not len(frames):
        raise Refusal("That range holds no frame.")
    shown = []
    for name, motion in ((CAPTURED, done.captured), (CLEANED, done.motion)):
        member = SceneFigure(id=name, name=done.figure.name, figure="")
        own = motion.at(frames)
        shown.append(FigureFrames(member, own, forward(done.figure, own)))
    metadata = {"content": now.content, "start": str(wanted.start)}
    return pack_response(request, pack_frames(shown, metadata), passing=wanted.edit is not None)


@router.post("/{uuid:document_id}/curves", response=list[CurveSeen])
def take_curves(
    request: HttpRequest, document_id: UUID, wanted: TakeCurvesWanted
) -> list[CurveSeen]:
    """Joints' turns as they were captured and as they came out, with their keys."""
    _, _, done = _cleaned(request, document_id, wanted)
    return curves_of(done, wanted.joints)


@router.post("/{uuid:document_id}/cycles", response=CyclesFound)
def take_cycles(request: HttpRequest, document_id: UUID, wanted: CyclesWanted) -> CyclesFound:
    """The loops that are hidden in what came out, the best first, with the map they were found on."""
    now, window, done = _cleaned(request, document_id, wanted)
    key = ("cycles", takes.content_of(now), window, wanted.shortest, wanted.longest)
    found: CyclesFound = memory.made(
        key, lambda: _cycles(done, wanted), lambda cycles: 2 * len(cycles.cells)
    )
    return found


def _cycles(done: Cleaned, wanted: CyclesWanted) -> CyclesFound:
    rate, plants = done.clip.rate, done.clip.plants
    try:
        found = find_cycles(done.figure, done.motion, rate, wanted.shortest, wanted.longest, plants)
        says = "" if found else "Nothing here goes round."
    except Refusal as refusal:
        found, says = [], str(refusal)
    seen = similarity(done.figure, done.motion, rate, plants, MAP_CELLS)
    # How far is far: what most pairs of frames are apart.
    far = max(float(np.percentile(seen.score, 80)), 1e-6)
    cells = np.clip(255 * (1 - seen.score / far), 0, 255).astype(np.uint8)
    return CyclesFound(
        cycles=[_cycle(one) for one in found],
        says=says,
        cells=base64.b64encode(cells.tobytes()).decode(),
        cells_a_side=len(cells),
        frames_a_cell=seen.step,
    )


def _cycle(one: FoundCycle) -> dict[str, Any]:
    return {
        "start": one.start,
        "end": one.end,
        "length_frames": one.length_frames,
        "seam_degrees": one.seam_degrees,
        "seam_cm": one.seam_cm,
        "score_cm": 100 * one.score,
        "planted": one.planted,
    }


@router.post("/{uuid:document_id}/to-bench", response={201: ClipCard})
def to_bench(request: HttpRequest, document_id: UUID, wanted: ToBenchWanted) -> Status[ClipCard]:
    """A loop of what came out as a cycle on the bench: closed by a method, its feet held, thinned to keys."""
    now, _, done = _cleaned(request, document_id, wanted, to_change=True)
    before = wanted.frames if wanted.method == "overlap" else 0
    made = loop_of(
        done.figure,
        done.motion,
        done.clip.rate,
        wanted.start,
        wanted.end,
        lead_frames=before,
        name=wanted.name,
        figure_id=now.made_of.plays,
        colour=wanted.colour,
    )
    tolerance = None if wanted.degrees is None else Tolerance(wanted.degrees, wanted.cm)
    closed, _ = closed_loop(made, wanted.method, wanted.frames, tolerance)
    production = document(request, TAKE.key, document_id)[0].production
    with to_its_end():
        row = editing.create(
            CLIP, production, closed.clip, f"Loop of {now.document.name}", person(request)
        )
    return Status(201, clip_card(row))


@router.post("/{uuid:document_id}/clips", response={201: list[ClipCard], 202: JobView})
def keep_clips(
    request: HttpRequest, document_id: UUID, wanted: KeepTakeWanted
) -> Status[list[ClipCard]] | Status[JobView]:
    """What came out as a clip, or each of its beats as one; of a take that is long by a job."""
    found, _ = document(request, TAKE.key, document_id, to_change=True)
    now = opened(found)
    made: TakeMade = now.made_of
    window = (0, made.take.length_frames)
    if made.take.length_frames * len(made.figure.joints) > LONG_TAKE_SAMPLES:
        if wanted.by_beats:
            raise Refusal(
                "A take as long as this is kept as one clip: trim it first, then cut it up."
            )
        wish = clips_of_takes.RunRecipe(
            recipe=made.take.recipe, takes=[found.pk], token=wanted.token
        )
        job = ask(clips_of_takes.RUN_RECIPE, found.production, person(request), found.name, wish)
        return Status(202, job_view(job))
    done = takes.cleaned(now, window)
    with to_its_end():
        if wanted.by_beats:
            rows = clips_of_takes.cut_up(found.production, now, done, person(request))
        else:
            name = wanted.name or found.name
            rows = [clips_of_takes.kept_as_clip(found.production, name, person(request), done)]
    return Status(201, [clip_card(row) for row in rows])


@router.post("/{uuid:document_id}/keys-against-error", response=KeysAgainstError)
def read_keys_against_error(
    request: HttpRequest, document_id: UUID, wanted: KeysAgainstErrorWanted
) -> KeysAgainstError:
    """How many keys a tolerance takes, and the error that comes of it."""
    now, window, done = _cleaned(request, document_id, wanted)

    def work() -> KeysAgainstError:
        clip = done.clip.model_copy(update={"keys": {}, "plants": done.plants})
        by_hand = now.document.by_hand
        chosen = [int(np.abs(done.at - frame).argmin()) for frame in by_hand.keyed]
        tolerance = Tolerance(wanted.degrees, wanted.cm)
        keyed = thinned(done.figure, done.motion, clip, tolerance, chosen)
        return KeysAgainstError(
            tolerance=wanted.degrees,
            keys=keyed.keys_after,
            degrees=keyed.worst_turn.amount,
            cm=keyed.worst_end.amount,
        )

    key = ("keys against error", takes.content_of(now), window, wanted.degrees, wanted.cm)
    row: KeysAgainstError = memory.made(key, work, lambda row: 500)
    return row


@router.get("/{uuid:document_id}/fit", response=FitView)
def take_fit(request: HttpRequest, document_id: UUID, figure: UUID) -> FitView:
    """How the take's skeleton fits a figure: what plays, what is dropped, what rests."""
    found, _ = document(request, TAKE.key, document_id)
    made: TakeMade = opened(found).made_of
    owner, _ = document(request, FIGURE.key, figure)
    target = shelf.figure_of(owner)
    return fit_view(owner, made.figure, target, fit(made.figure, target, target.spellings))


@router.post("/{uuid:document_id}/onto", response=TakeOnto | None)
def propose_onto(request: HttpRequest, document_id: UUID, wanted: OntoWanted) -> TakeOnto | None:
    """How the take would go onto a figure: as the last take of its skeleton did, with the rest pose that this
    one stands in, if it does."""
    found, _ = document(request, TAKE.key, document_id)
    made: TakeMade = opened(found).made_of
    owner = Document.objects.get(pk=made.take.figure)
    going = taking_in.onto_of(found.production, owner, wanted.figure)
    if going is None:
        return None
    seconds = 20 * float(made.take.rate)
    start = made.samples.at(np.arange(min(made.take.length_frames, int(seconds))))
    rest = proposed_rest_frame(made.figure, start, made.take.rate)
    return going.model_copy(update={"rest_frame": rest})


@router.get("/{uuid:document_id}/cuts", response=CutsProposed)
def propose_cuts(request: HttpRequest, document_id: UUID) -> CutsProposed:
    """Where the take could be cut up: still stretches and turns."""
    found, _ = document(request, TAKE.key, document_id)
    made: TakeMade = opened(found).made_of
    start, end = made.take.span
    cuts = proposed_cuts(made.figure, made.samples.at(np.arange(start, end)), made.take.rate)
    rows = [{"start": start + c.start, "end": start + c.end, "kind": c.kind} for c in cuts]
    return CutsProposed.model_validate({"cuts": rows})


def _cleaned(
    request: HttpRequest,
    document_id: UUID,
    wanted: TakeWindowWanted,
    *,
    to_change: bool = False,
) -> tuple[Opened[Take], takes.Window, Cleaned]:
    """The take as it is to be looked at, the window, and what its recipe makes of it; as it would be after an
    edit only for those who could make it."""
    changes = to_change or wanted.edit is not None
    found, _ = document(request, TAKE.key, document_id, to_change=changes)
    if wanted.edit is None:
        now = opened(found, wanted.revision)
    else:
        now = editing.preview(found, wanted.edit).opened
    window = takes.window_of(now, wanted.from_frame, wanted.to_frame)
    return now, window, takes.cleaned(now, window, quick=wanted.quick)


@makers.post("/{uuid:production_id}/takes", response={201: TakeCard, 202: JobView})
def new_take(
    request: HttpRequest, production_id: UUID, wanted: TakeInWanted
) -> Status[TakeCard] | Status[JobView]:
    """Keep a file that was read as a take; a large one by a job."""
    member = membership(request, production_id, to_change=True)
    production, author = member.production, person(request)
    wish = taking_in.TakeIn.model_validate(wanted.model_dump())
    if reading.stored(production, wish.file).size_bytes > reading.LIGHT_BYTES:
        return Status(202, job_view(ask(taking_in.TAKE_IN, production, author, wish.name, wish)))
    made = taking_in.take_in_now(production, wish, author)
    return Status(201, take_card(made))


@makers.post("/{uuid:production_id}/recipes", response={201: RecipeCard})
def keep_recipe(
    request: HttpRequest, production_id: UUID, wanted: KeepRecipeWanted
) -> Status[RecipeCard]:
    """A recipe kept in the production, for other takes."""
    member = membership(request, production_id, to_change=True)
    recipe = wanted.recipe.model_copy(update={"name": wanted.name})
    made = editing.create(RECIPE, member.production, recipe, f"Keep {recipe.name}", person(request))
    return Status(201, recipe_card(made))


@makers.get("/{uuid:production_id}/recipes", response=list[RecipeCard])
def read_recipes(request: HttpRequest, production_id: UUID) -> list[RecipeCard]:
    """The production's recipes."""
    member = membership(request, production_id)
    rows = member.production.documents.filter(kind=RECIPE.key).order_by("name")
    return [recipe_card(row) for row in rows]


@makers.post("/{uuid:production_id}/recipe-runs", response={202: JobView})
def run_recipe(
    request: HttpRequest, production_id: UUID, wanted: RecipeRunWanted
) -> Status[JobView]:
    """One recipe over many takes, as one job: each becomes a clip."""
    member = membership(request, production_id, to_change=True)
    recipe = _recipe_of(request, wanted)
    wish = clips_of_takes.RunRecipe(recipe=recipe, takes=wanted.takes, token=wanted.token)
    many = "take" if len(wanted.takes) == 1 else "takes"
    title = f"{recipe.name} over {len(wanted.takes)} {many}"
    return Status(
        202,
        job_view(ask(clips_of_takes.RUN_RECIPE, member.production, person(request), title, wish)),
    )


def _recipe_of(request: HttpRequest, wanted: RecipeRunWanted) -> Recipe:
    if wanted.recipe is None:
        return house_recipe(wanted.rate)
    found: Recipe = opened(document(request, RECIPE.key, wanted.recipe)[0]).document
    return found
