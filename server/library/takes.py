"""Takes and recipes as kinds of documents, and what a recipe makes of a take, worked out once."""

from dataclasses import dataclass, replace

import numpy as np

from documents.kinds import Facts, Kind, Opened, content_name, edit_digest
from documents.memory import memory
from documents.opening import Shelf
from elastic_core.capture.clean import Cleaned, Progress, clean
from elastic_core.capture.edits import TakeEdit, TakeEdited, edit_take
from elastic_core.capture.onto import Onto
from elastic_core.capture.recipe import Recipe
from elastic_core.capture.take import Take
from elastic_core.capture.view import checked_window
from elastic_core.clock import format_rate
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit
from elastic_core.motion import Samples

from . import motions
from .kinds import FRAMES_IN_STRIP, NoEdit, packed_poses

_JOINT_BYTES, _ROOT_BYTES = 8 * 4, 8 * 6
Window = tuple[int, int]


@dataclass(frozen=True, eq=False)
class TakeMade:
    """A take with its skeleton and samples at hand, and the figure that it goes onto, if there is one."""

    take: Take
    figure: Figure
    samples: Samples
    target: Figure | None

    @property
    def onto(self) -> Onto | None:
        """How it goes onto its figure."""
        wanted = self.take.onto
        if wanted is None or self.target is None:
            return None
        rest = None
        if wanted.rest_frame is not None:
            rest = self.samples.at(np.array([wanted.rest_frame]))
        mapping = wanted.mapping or fit(self.figure, self.target, self.target.spellings).mapping()
        return Onto(self.target, mapping, rest, wanted.corrections, wanted.hands)

    @property
    def plays(self) -> str:
        """The id of the figure that plays the result."""
        return self.take.onto.figure if self.take.onto else self.take.figure


def _uses(take: Take) -> set[str]:
    return {take.figure} | ({take.onto.figure} if take.onto else set())


def _open(shelf_: Shelf, take: Take, name: str) -> Opened[Take]:
    figures = shelf_.documents(_uses(take), "figure")
    if take.figure not in figures:
        raise Refusal(f"The figure of “{take.name}” is missing.")
    target = figures.get(take.onto.figure) if take.onto else None
    if take.onto and target is None:
        raise Refusal(f"The figure that “{take.name}” goes onto is not in this production.")
    made = TakeMade(take, figures[take.figure], _samples(take.motion), target)
    return Opened(take, made, name, shelf_.made_from(_uses(take)), weighs=20_000)


def _samples(name: str) -> Samples:
    """A take's samples: a drag opens it tens of times a second. Of a long one each window is kept by itself."""

    def weighs(samples: Samples) -> int:
        if isinstance(samples, motions.KeptMotion):
            return 1_000
        return samples.frames * (_ROOT_BYTES + _JOINT_BYTES * samples.joints)

    found: Samples = memory.made(("samples", name), lambda: motions.load(name), weighs)
    return found


def _edit(shelf_: Shelf, before: Opened[Take], edit: TakeEdit) -> tuple[Opened[Take], TakeEdited]:
    edited = edit_take(before.document, edit)
    after = _open(shelf_, edited.take, f"{before.content}:{edit_digest(edit)}")
    return after, edited


def _facts(now: Opened[Take]) -> Facts:
    take, made = now.document, now.made_of
    count = max(1, min(take.length_frames, FRAMES_IN_STRIP))
    strip = made.samples.at(
        np.floor(np.arange(count) * (take.length_frames / count)).astype(np.intp)
    )
    return Facts(
        figure=take.figure,
        rate=format_rate(take.rate),
        length_frames=take.length_frames,
        rest={
            "joints": len(made.figure.joints),
            "colour": take.colour,
            "circled": take.circled,
            "recipe": take.recipe.name,
            "lost": sum(lost.end - lost.start for lost in take.lost),
        },
        thumbnail=packed_poses(made.figure, strip),
    )


TAKE: Kind[Take, TakeEdit] = Kind(
    key="take",
    read=Take.model_validate,
    write=lambda take: take.model_dump(mode="json"),
    weighs=lambda take: 8_000,
    uses=_uses,
    open=_open,
    edit=_edit,
    facts=_facts,
)


def _no_edit(
    shelf_: Shelf, before: Opened[Recipe], edit: NoEdit
) -> tuple[Opened[Recipe], TakeEdited]:
    raise Refusal("A recipe is changed in the takes room, and kept there.")


RECIPE: Kind[Recipe, NoEdit] = Kind(
    key="recipe",
    read=Recipe.model_validate,
    write=lambda recipe: recipe.model_dump(mode="json"),
    weighs=lambda recipe: 2_000,
    uses=lambda recipe: set(),
    open=lambda shelf_, recipe, name: Opened(recipe, recipe, name),
    edit=_no_edit,
    facts=lambda now: Facts(rest={"steps": [step.step for step in now.document.running]}),
)


def cleaned(now: Opened[Take], window: Window | None = None, *, quick: bool = False) -> Cleaned:
    """What the recipe makes of a take, or of a window of it; worked out once for what it follows from. With
    `quick` it is not thinned to keys."""
    made: TakeMade = now.made_of
    if quick:
        steps = tuple(step for step in made.take.recipe.steps if step.step != "thin")
        recipe = made.take.recipe.model_copy(update={"steps": steps})
        made = replace(made, take=made.take.model_copy(update={"recipe": recipe}))
    return memory.made(
        ("cleaned", content_of(now), window, quick),
        lambda: clean_now(made, window),
        lambda done: 3 * done.motion.frames * (_ROOT_BYTES + _JOINT_BYTES * done.motion.joints),
    )


def content_of(now: Opened[Take]) -> str:
    """Names exactly what a cleaned take follows from: two revisions that differ in a beat alone share it."""
    take = now.document
    told = take.model_dump_json(include={"motion", "rate", "recipe", "by_hand", "onto"})
    return content_name(told, now.made_from)


def clean_now(
    made: TakeMade,
    window: Window | None = None,
    progress: Progress = lambda step, place, count: None,
) -> Cleaned:
    """The recipe run over a take."""
    take = made.take
    if window == (0, take.length_frames):
        window = None
    return clean(
        made.figure,
        made.samples,
        take.rate,
        take.recipe,
        take.by_hand,
        onto=made.onto,
        window=window,
        name=take.name,
        figure_id=made.plays,
        progress=progress,
    )


def window_of(now: Opened[Take], start: int, end: int) -> Window:
    """A window that is asked for. Raises Refusal as the core does."""
    made: TakeMade = now.made_of
    return checked_window(made.take, made.figure, start, end)
