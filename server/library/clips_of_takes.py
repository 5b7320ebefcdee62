"""What recipes make of takes, put on the shelf as clips: whole, cut up by beats, or of many takes by a job."""

from dataclasses import replace
from uuid import UUID

import numpy as np
from django.contrib.auth.models import User
from django.db import transaction
from pydantic import BaseModel

from accounts.models import Production
from documents.kinds import Opened
from documents.models import Document
from documents.opening import opened
from elastic_core.budget import Budget, within
from elastic_core.capture.clean import Cleaned
from elastic_core.capture.edits import UseRecipe, edit_take
from elastic_core.capture.part import part_of
from elastic_core.capture.recipe import Recipe
from elastic_core.capture.take import Take
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import playable_of
from elastic_core.errors import Refusal
from jobs.kinds import JobKind
from jobs.running import Run

from . import shelf
from .takes import TAKE, clean_now


def playable_result(done: Cleaned) -> PlayableClip:
    """What came out, as a clip that can be shelved."""
    clip = done.clip
    if clip.is_keyed:
        return playable_of(done.figure, clip)
    return PlayableClip(clip.model_copy(update={"motion": ""}), done.motion)


def kept_as_clip(production: Production, name: str, author: User, done: Cleaned) -> Document:
    """What the recipe made of a take, as a clip of the production."""
    playable = playable_result(done)
    renamed = replace(playable, clip=playable.clip.model_copy(update={"name": name}))
    return shelf.add_clip(production, renamed, author)


def cut_up(
    production: Production, now: Opened[Take], done: Cleaned, author: User
) -> list[Document]:
    """Every beat of a take as a clip that is named after it. Raises Refusal for a take without any that lies
    in what came out."""
    take: Take = now.document
    made: list[Document] = []
    with transaction.atomic():
        for beat in take.beats:
            inside = np.flatnonzero((done.at >= beat.start) & (done.at < beat.end))
            if not inside.size:
                continue
            piece = part_of(done, int(inside[0]), int(inside[-1]) + 1, beat.name)
            coloured = replace(piece, clip=piece.clip.model_copy(update={"colour": beat.colour}))
            made.append(shelf.add_clip(production, coloured, author))
    if not made:
        raise Refusal("No beat lies in what came out: mark some first.")
    return made


class RunRecipe(BaseModel):
    """A recipe over many takes, each of which becomes a clip; `token` names the wish."""

    recipe: Recipe
    takes: list[UUID]
    token: str = ""


def run_recipe(run: Run, wish: RunRecipe) -> None:
    """Clean every take by the recipe, and put the clips on the shelf once all are done."""
    rows = {
        row.pk: row for row in run.production.documents.filter(kind=TAKE.key, pk__in=wish.takes)
    }
    if not rows:
        raise Refusal("None of these takes is here any more.")
    steps = max(1, len(wish.recipe.running))
    of = len(rows) * steps
    results: list[PlayableClip] = []
    says: list[str] = []
    for place, row in enumerate(rows.values()):
        run.progress(place * steps, of, f"steps, at {row.name}")
        now = opened(row)
        edited = edit_take(now.document, UseRecipe(recipe=wish.recipe)).take
        made = replace(now.made_of, take=edited)

        def told(
            step: str, at: int, count: int, first: int = place * steps, name: str = row.name
        ) -> None:
            run.progress(first + at, of, f"steps, at {name}")

        with within(_wanted_by(run, place * steps, of, row.name)):
            done = clean_now(made, progress=told)
        results.append(playable_result(done))
        says.append(_said_of(row.name, done))
    with run.closing():
        clips = [shelf.add_clip(run.production, playable, run.person) for playable in results]
        run.outcome = {"clips": [str(clip.pk) for clip in clips], "says": says}


def _wanted_by(run: Run, figure: int, of: int, name: str) -> Budget:
    """A budget that stops the core in the midst of a step once nobody waits for the job."""

    def still_wanted() -> None:
        run.progress(figure, of, f"steps, at {name}")

    return Budget(most_bytes=1 << 40, still_wanted=still_wanted)


def _said_of(name: str, done: Cleaned) -> str:
    slide = 0.0 if done.slide is None else done.slide.amount
    keys = sum(len(curve) for curve in done.clip.keys.values())
    told = f"{keys:,} keys, " if keys else ""
    return f"{name}: {done.motion.frames} frames, {told}foot slide {slide:.1f} cm."


RUN_RECIPE = JobKind("run recipe", RunRecipe, run_recipe, lambda job, wish: None)
