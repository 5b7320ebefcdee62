"""Cut-outs, as a kind of document: how a figure is cut out of a drawing set; and the figure made of it."""

from uuid import UUID

from django.contrib.auth.models import User
from django.db import transaction

from accounts.models import Production
from documents import editing, history
from documents.kinds import Facts, Kind, Opened, edit_digest
from documents.models import Document, Use
from documents.opening import Shelf, document_of
from elastic_core.drawings.cut_out import CutOut, figure_of
from elastic_core.drawings.cut_out_edits import CutOutEdit, CutOutEdited, edit_cut_out
from elastic_core.drawings.cut_out_proposed import Box, proposed
from elastic_core.drawings.drawing_set import DrawingSet, SetDrawing
from elastic_core.errors import Refusal

from . import pictures, shelf
from .drawings import drawings_in
from .kinds import FIGURE


def _uses(cut_out: CutOut) -> set[str]:
    return {cut_out.drawings, cut_out.figure} - {""}


def _open(shelf: Shelf, cut_out: CutOut, name: str) -> Opened[CutOut]:
    drawn = shelf.documents([cut_out.drawings], "drawings").get(cut_out.drawings)
    return Opened(cut_out, drawn, name, shelf.made_from(_uses(cut_out)))


def _edit(
    shelf: Shelf, before: Opened[CutOut], edit: CutOutEdit
) -> tuple[Opened[CutOut], CutOutEdited]:
    edited = edit_cut_out(before.document, edit, before.made_of)
    content = f"{before.content}:{edit_digest(edit)}"
    return Opened(edited.cut_out, before.made_of, content, before.made_from), edited


CUT_OUT: Kind[CutOut, CutOutEdit] = Kind(
    key="cut_out",
    read=CutOut.model_validate,
    write=lambda cut_out: cut_out.model_dump(mode="json"),
    weighs=lambda cut_out: 1_000 + 400 * len(cut_out.parts),
    uses=_uses,
    open=_open,
    edit=_edit,
    facts=lambda now: Facts(
        rest={"drawings": now.document.drawings, "parts": len(now.document.parts)}
    ),
)


def drawn_of(now: Opened[CutOut]) -> DrawingSet:
    """A cut-out's set. Raises Refusal where it is not there any more."""
    if not isinstance(now.made_of, DrawingSet):
        raise Refusal(f"The drawings of “{now.document.name}” are not here any more.")
    return now.made_of


def new_cut_out(production: Production, drawings: UUID, name: str | None, author: User) -> Document:
    """A cut-out of a set of the production: its parts as the names of the drawings propose them."""
    row, drawn = drawings_in(production, drawings)
    boxes = {one.number: painted(production, drawn, one) for one in drawn.drawings}
    made = proposed(name or row.name, str(row.pk), drawn, boxes)
    return editing.create(CUT_OUT, production, made, f"New cut-out {made.name}", author)


def painted(production: Production, drawn: DrawingSet, drawing: SetDrawing) -> Box:
    """Where a drawing is painted, on the sheet: left, below, right and above."""
    picture = drawing.picture
    left, below, right, above = picture.painted or pictures.painted(production, picture.file)
    laid = drawn.placed(drawing)
    shares = [(left, below), (right, above), (left, above), (right, below)]
    corners = [laid[:, :2] @ share + laid[:, 2] for share in shares]
    xs, ys = [float(x) for x, _ in corners], [float(y) for _, y in corners]
    return min(xs), min(ys), max(xs), max(ys)


def make_figure(row: Document, author: User) -> tuple[Document, str]:
    """The figure of a cut-out as it stands: the one that was made of it changes, as long as what was made for
    that still plays on it; else there is another one. With what there is to say."""
    with transaction.atomic():
        held = history.held(row)
        cut_out: CutOut = document_of(held)
        _, drawn = drawings_in(held.production, UUID(cut_out.drawings))
        figure = figure_of(cut_out, drawn)
        if cut_out.figure:
            before = held.production.documents.get(kind=FIGURE.key, pk=cut_out.figure)
            known = shelf.figure_of(before)
            if known == figure:
                return before, f"{figure.name} is as it was made."
            is_used = Use.objects.filter(used=before).exclude(document=held).exists()
            if known.same_skeleton(figure) or not is_used:
                editing.saved(history.held(before), figure, f"Cut {figure.name} out anew", author)
                return before, f"{figure.name} in the library is changed."
        made = shelf.add_figure(held.production, figure, author)
        linked = cut_out.model_copy(update={"figure": str(made.pk)})
        editing.saved(held, linked, f"Make {figure.name}", author)
        if not cut_out.figure:
            return made, f"{figure.name} is in the library."
        return made, f"{figure.name} is another figure now: the one before is used as it was."
