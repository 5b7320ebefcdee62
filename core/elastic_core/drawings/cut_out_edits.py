"""Edits of a cut-out: named operations, cut-out in → cut-out out (rule 8.1)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..errors import Refusal, refusing
from ..frozen import Frozen
from ..names import Name
from .cut_out import MOST_PARTS, CutOut, CutPart, Looks, PartName, Place
from .drawing_set import DrawingSet
from .run import Drawing


class CutOutChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class MovePivot(CutOutChange):
    """Where a part turns, on the sheet."""

    kind: Literal["move_pivot"] = "move_pivot"
    part: PartName
    to: Place


class MoveTip(CutOutChange):
    """Where a part ends, on the sheet; without a place it ends nowhere."""

    kind: Literal["move_tip"] = "move_tip"
    part: PartName
    to: Place | None = None


class HangPart(CutOutChange):
    """A part on another; on none it carries the figure, and what carried it hangs on it."""

    kind: Literal["hang_part"] = "hang_part"
    part: PartName
    parent: Annotated[str, Field(max_length=60)] = ""


class LayParts(CutOutChange):
    """The order of all the parts, from back to front."""

    kind: Literal["lay_parts"] = "lay_parts"
    parts: Annotated[tuple[PartName, ...], Field(max_length=MOST_PARTS)]


class NamePart(CutOutChange):
    kind: Literal["name_part"] = "name_part"
    part: PartName
    name: Annotated[Name, Field(max_length=60, pattern=r"^[^.]+$")]


class ShowDrawings(CutOutChange):
    """The drawings of a part: the first shows, the others may take its place."""

    kind: Literal["show_drawings"] = "show_drawings"
    part: PartName
    drawings: Annotated[tuple[Drawing, ...], Field(min_length=1, max_length=500)]


class AddPart(CutOutChange):
    """A part of a drawing that is none yet; it lies in front and hangs on what carries the figure."""

    kind: Literal["add_part"] = "add_part"
    part: Annotated[Name, Field(max_length=60, pattern=r"^[^.]+$")]
    drawing: Drawing
    pivot: Place = (0.0, 0.0)


class DropPart(CutOutChange):
    """A part away; what hangs on it hangs on what that hung on."""

    kind: Literal["drop_part"] = "drop_part"
    part: PartName


class StandCutOut(CutOutChange):
    """How high its sheet is, and whether it looks to the right or to the left of it."""

    kind: Literal["stand_cut_out"] = "stand_cut_out"
    height_metres: Annotated[float, Field(gt=0.0, le=1_000.0)] | None = None
    looks: Looks | None = None


class RenameCutOut(CutOutChange):
    kind: Literal["rename_cut_out"] = "rename_cut_out"
    name: Name


CutOutEdit = Annotated[
    MovePivot
    | MoveTip
    | HangPart
    | LayParts
    | NamePart
    | ShowDrawings
    | AddPart
    | DropPart
    | StandCutOut
    | RenameCutOut,
    Field(discriminator="kind"),
]


@dataclass(frozen=True)
class CutOutEdited:
    """A cut-out after an edit, what the edit is called, and what it has to say."""

    cut_out: CutOut
    label: str
    notes: tuple[str, ...] = ()


def edit_cut_out(
    cut_out: CutOut, edit: CutOutEdit, drawn: DrawingSet | None = None
) -> CutOutEdited:
    """Apply one edit, with the drawings of its set where they are there. Raises Refusal where it cannot be."""
    if drawn is not None and isinstance(edit, AddPart | ShowDrawings):
        for number in (edit.drawing,) if isinstance(edit, AddPart) else edit.drawings:
            drawn.drawing(number)
    with refusing():
        edited = _RULES[type(edit)](cut_out, edit)
        whole = CutOut.model_validate(edited.cut_out.model_dump())
    if whole == cut_out:
        raise Refusal("It is like that already.")
    return CutOutEdited(whole, edited.label)


def _pivot(cut_out: CutOut, edit: MovePivot) -> CutOutEdited:
    moved = cut_out.part(edit.part).model_copy(update={"pivot": edit.to})
    return CutOutEdited(_changed(cut_out, moved), f"Move the pivot of {edit.part}")


def _tip(cut_out: CutOut, edit: MoveTip) -> CutOutEdited:
    moved = cut_out.part(edit.part).model_copy(update={"tip": edit.to})
    verb = "Take away" if edit.to is None else "Move"
    return CutOutEdited(_changed(cut_out, moved), f"{verb} the tip of {edit.part}")


def _hang(cut_out: CutOut, edit: HangPart) -> CutOutEdited:
    part = cut_out.part(edit.part)
    if edit.parent:
        cut_out.part(edit.parent)
        if edit.part in (edit.parent, *cut_out.above(edit.parent)):
            raise Refusal(f"{edit.parent} hangs on {edit.part} itself.")
        hung = _changed(cut_out, part.model_copy(update={"parent": edit.parent}))
        return CutOutEdited(hung, f"Hang {edit.part} on {edit.parent}")
    # The way from it up to the carrier turns round.
    way = [edit.part, *cut_out.above(edit.part)]
    turned = dict(zip(way[1:], way, strict=False)) | {edit.part: ""}
    parts = tuple(
        one.model_copy(update={"parent": turned[one.name]}) if one.name in turned else one
        for one in cut_out.parts
    )
    return CutOutEdited(_with(cut_out, parts), f"{edit.part} carries the figure")


def _lay(cut_out: CutOut, edit: LayParts) -> CutOutEdited:
    if sorted(edit.parts) != sorted(cut_out.by_name):
        raise Refusal("The order names every part once.")
    places = {name: place for place, name in enumerate(edit.parts)}
    parts = tuple(one.model_copy(update={"order": places[one.name]}) for one in cut_out.parts)
    return CutOutEdited(_with(cut_out, parts), "Change the order of the parts")


def _name(cut_out: CutOut, edit: NamePart) -> CutOutEdited:
    cut_out.part(edit.part)
    if edit.name != edit.part and edit.name in cut_out.by_name:
        raise Refusal(f"Another part is called {edit.name} already.")

    def called(name: str) -> str:
        return edit.name if name == edit.part else name

    parts = tuple(
        one.model_copy(update={"name": called(one.name), "parent": called(one.parent)})
        for one in cut_out.parts
    )
    return CutOutEdited(_with(cut_out, parts), f"Call {edit.part} {edit.name}")


def _show(cut_out: CutOut, edit: ShowDrawings) -> CutOutEdited:
    drawings = tuple(dict.fromkeys(edit.drawings))
    shown = cut_out.part(edit.part).model_copy(update={"drawings": drawings})
    return CutOutEdited(_changed(cut_out, shown), f"Change the drawings of {edit.part}")


def _add(cut_out: CutOut, edit: AddPart) -> CutOutEdited:
    if edit.part in cut_out.by_name:
        raise Refusal(f"Another part is called {edit.part} already.")
    part = CutPart(
        name=edit.part,
        drawings=(edit.drawing,),
        pivot=edit.pivot,
        parent=next(iter(cut_out.carriers), ""),
        order=max((one.order for one in cut_out.parts), default=-1) + 1,
    )
    return CutOutEdited(_with(cut_out, (*cut_out.parts, part)), f"Add {edit.part}")


def _drop(cut_out: CutOut, edit: DropPart) -> CutOutEdited:
    gone = cut_out.part(edit.part)
    left = [one for one in cut_out.parts if one.name != gone.name]
    # Without the carrier the first that hung on it carries the others.
    heir = next((one.name for one in left if one.parent == gone.name), "")
    above = gone.parent or heir
    parts = tuple(
        one.model_copy(update={"parent": above if one.name != above else ""})
        if one.parent == gone.name
        else one
        for one in left
    )
    return CutOutEdited(_with(cut_out, parts), f"Take out {gone.name}")


def _stand(cut_out: CutOut, edit: StandCutOut) -> CutOutEdited:
    changes = edit.model_dump(exclude={"kind"}, exclude_none=True)
    label = "Change how high it stands" if edit.looks is None else f"It looks to the {edit.looks}"
    return CutOutEdited(cut_out.model_copy(update=changes), label)


def _rename(cut_out: CutOut, edit: RenameCutOut) -> CutOutEdited:
    return CutOutEdited(cut_out.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _changed(cut_out: CutOut, part: CutPart) -> CutOut:
    parts = tuple(part if one.name == part.name else one for one in cut_out.parts)
    return _with(cut_out, parts)


def _with(cut_out: CutOut, parts: tuple[CutPart, ...]) -> CutOut:
    return cut_out.model_copy(update={"parts": parts})


_RULES: dict[type[BaseModel], Callable[[CutOut, Any], CutOutEdited]] = {
    MovePivot: _pivot,
    MoveTip: _tip,
    HangPart: _hang,
    LayParts: _lay,
    NamePart: _name,
    ShowDrawings: _show,
    AddPart: _add,
    DropPart: _drop,
    StandCutOut: _stand,
    RenameCutOut: _rename,
}
