"""Edits of a drawing set: named operations, set in → set out (rule 8.1)."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..errors import Refusal, refusing
from ..frozen import Frozen
from ..names import Name
from ..saying import counted
from ..tracing import MOST_PICTURES, Picture
from .drawing_set import (
    MOST_POINTS,
    Degrees,
    DrawingSet,
    Pegs,
    Pixels,
    PointName,
    SetDrawing,
    Share,
    Times,
)
from .run import Drawing


class SetChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class AddDrawings(SetChange):
    """Drawings brought in under their numbers. With `replace` a picture takes the place of one that has its
    number, and of nothing else of that; without, numbers that are taken are refused."""

    kind: Literal["add_drawings"] = "add_drawings"
    drawings: Annotated[tuple[SetDrawing, ...], Field(min_length=1, max_length=MOST_PICTURES)]
    replace: bool = False


class ReplaceDrawing(SetChange):
    """Another picture for a drawing: its number, its place and all exposures stay."""

    kind: Literal["replace_drawing"] = "replace_drawing"
    number: Drawing
    picture: Picture
    name: Annotated[str, Field(max_length=255)] = ""


class RenumberDrawing(SetChange):
    """Another number for a drawing; runs show it under the new one where they are told to."""

    kind: Literal["renumber_drawing"] = "renumber_drawing"
    number: Drawing
    to: Drawing


class DropDrawings(SetChange):
    kind: Literal["drop_drawings"] = "drop_drawings"
    numbers: Annotated[tuple[Drawing, ...], Field(min_length=1, max_length=MOST_PICTURES)]


class SetPegs(SetChange):
    """How all sheets of the set lie; what is left out stays."""

    kind: Literal["set_pegs"] = "set_pegs"
    anchor: tuple[Share, Share] | None = None
    scale: Times | None = None
    turn_degrees: Degrees | None = None


class NudgeDrawing(SetChange):
    """How a drawing lies on its pegs; what is left out stays."""

    kind: Literal["nudge_drawing"] = "nudge_drawing"
    number: Drawing
    shift_pixels: tuple[Pixels, Pixels] | None = None
    scale: Times | None = None
    turn_degrees: Degrees | None = None


class MarkPoint(SetChange):
    """Where a point that is followed lies on a drawing, in parts of it; without a place it is taken away."""

    kind: Literal["mark_point"] = "mark_point"
    number: Drawing
    point: PointName
    at: tuple[Share, Share] | None = None


class RenameSet(SetChange):
    kind: Literal["rename_set"] = "rename_set"
    name: Name


SetEdit = Annotated[
    AddDrawings
    | ReplaceDrawing
    | RenumberDrawing
    | DropDrawings
    | SetPegs
    | NudgeDrawing
    | MarkPoint
    | RenameSet,
    Field(discriminator="kind"),
]


@dataclass(frozen=True)
class SetEdited:
    """A set after an edit, what the edit is called, and what it has to say."""

    drawn: DrawingSet
    label: str
    notes: tuple[str, ...] = ()


def edit_set(drawn: DrawingSet, edit: SetEdit) -> SetEdited:
    """Do it. Raises Refusal for what cannot be done."""
    with refusing():
        edited = _RULES[type(edit)](drawn, edit)
        edited.drawn.checked()
    return edited


def told_of(drawn: DrawingSet) -> tuple[str, ...]:
    """What is odd about a set's numbers and pictures, in sentences."""
    says = []
    if drawn.missing:
        says.append(
            f"{listed(drawn.missing)} {'is' if len(drawn.missing) == 1 else 'are'} missing."
        )
    says += [f"{listed(numbers)} are the same picture." for numbers in drawn.same]
    return tuple(says)


def listed(numbers: Iterable[int], most: int = 8) -> str:
    """“7”, “7 and 9”, “7, 9, 12 and 40 more”."""
    told = [f"{number}" for number in numbers]
    if len(told) > most:
        told = [*told[:most], f"{len(told) - most:,} more"]
    return told[0] if len(told) == 1 else f"{', '.join(told[:-1])} and {told[-1]}"


def _add(drawn: DrawingSet, edit: AddDrawings) -> SetEdited:
    taken = [one.number for one in edit.drawings if one.number in drawn.by_number]
    if taken and not edit.replace:
        is_one = len(taken) == 1
        raise Refusal(
            f"“{drawn.name}” has {'a drawing' if is_one else 'drawings'} {listed(taken)} already: "
            f"replace {'it' if is_one else 'them'}, or give other numbers."
        )
    found = dict(drawn.by_number)
    for one in edit.drawings:
        there = found.get(one.number)
        found[one.number] = one if there is None else _repainted(there, one.picture, one.name)
    done = _with(drawn, found.values())
    new = len(edit.drawings) - len(taken)
    if not new:
        label = f"Replace {counted(len(taken), 'drawing')}"
    else:
        label = f"Add {counted(new, 'drawing')}"
    return SetEdited(done, label, told_of(done))


def _replace(drawn: DrawingSet, edit: ReplaceDrawing) -> SetEdited:
    one = _repainted(drawn.drawing(edit.number), edit.picture, edit.name)
    return SetEdited(_changed(drawn, one), f"Replace drawing {edit.number}")


def _repainted(drawing: SetDrawing, picture: Picture, name: str) -> SetDrawing:
    return drawing.model_copy(update={"picture": picture, "name": name or drawing.name})


def _renumber(drawn: DrawingSet, edit: RenumberDrawing) -> SetEdited:
    one = drawn.drawing(edit.number)
    if edit.to in drawn.by_number and edit.to != edit.number:
        raise Refusal(f"There is a drawing {edit.to} already.")
    others = [other for other in drawn.drawings if other.number != edit.number]
    done = _with(drawn, [*others, one.model_copy(update={"number": edit.to})])
    return SetEdited(done, f"Drawing {edit.number} becomes {edit.to}", told_of(done))


def _drop(drawn: DrawingSet, edit: DropDrawings) -> SetEdited:
    for number in edit.numbers:
        drawn.drawing(number)
    gone = set(edit.numbers)
    left = [one for one in drawn.drawings if one.number not in gone]
    if not left:
        raise Refusal("A set has at least one drawing.")
    what = f"drawing {edit.numbers[0]}" if len(gone) == 1 else counted(len(gone), "drawing")
    return SetEdited(_with(drawn, left), f"Take out {what}")


def _pegs(drawn: DrawingSet, edit: SetPegs) -> SetEdited:
    changes = edit.model_dump(exclude={"kind"}, exclude_none=True)
    pegs: Pegs = drawn.pegs.model_copy(update=changes)
    return SetEdited(drawn.model_copy(update={"pegs": pegs}), "Move the pegs")


def _nudge(drawn: DrawingSet, edit: NudgeDrawing) -> SetEdited:
    changes = edit.model_dump(exclude={"kind", "number"}, exclude_none=True)
    nudged = drawn.drawing(edit.number).model_copy(update=changes)
    return SetEdited(_changed(drawn, nudged), f"Nudge drawing {edit.number}")


def _mark(drawn: DrawingSet, edit: MarkPoint) -> SetEdited:
    one = drawn.drawing(edit.number)
    points = {name: at for name, at in one.points.items() if name != edit.point}
    if edit.at is not None:
        if len(points) == MOST_POINTS:
            raise Refusal(f"{MOST_POINTS} points are followed on a drawing at the most.")
        points[edit.point] = edit.at
    elif edit.point not in one.points:
        raise Refusal(f"Drawing {edit.number} has no point “{edit.point}”.")
    done = _changed(drawn, one.model_copy(update={"points": points}))
    verb = "Take away" if edit.at is None else "Mark"
    return SetEdited(done, f"{verb} {edit.point} on drawing {edit.number}")


def _rename(drawn: DrawingSet, edit: RenameSet) -> SetEdited:
    return SetEdited(drawn.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _changed(drawn: DrawingSet, drawing: SetDrawing) -> DrawingSet:
    return _with(drawn, {**drawn.by_number, drawing.number: drawing}.values())


def _with(drawn: DrawingSet, drawings: Iterable[SetDrawing]) -> DrawingSet:
    in_order = tuple(sorted(drawings, key=lambda one: one.number))
    return drawn.model_copy(update={"drawings": in_order})


_RULES: dict[type[BaseModel], Callable[[DrawingSet, Any], SetEdited]] = {
    AddDrawings: _add,
    ReplaceDrawing: _replace,
    RenumberDrawing: _renumber,
    DropDrawings: _drop,
    SetPegs: _pegs,
    NudgeDrawing: _nudge,
    MarkPoint: _mark,
    RenameSet: _rename,
}
