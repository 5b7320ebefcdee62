"""The cut-out's room: a figure is cut out of a drawing set, and made."""

from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from ninja.responses import Status

from documents.kinds import Opened
from documents.models import Document
from elastic_core.drawings.cut_out import CutOut
from elastic_core.drawings.cut_out_view import cut_out_sheet
from library.cut_outs import CUT_OUT, drawn_of, make_figure, new_cut_out

from .access import document, membership, person
from .library import cut_out_card
from .rooms import Room, routes_of, to_its_end
from .schemas import (
    CutOutCard,
    CutOutEditWanted,
    CutOutOutcome,
    CutOutView,
    FigureMade,
    NewCutOut,
)

makers = Router(tags=["cut_out"])


def _shown(row: Document, now: Opened[CutOut], known: Opened[CutOut] | None) -> dict[str, Any]:
    drawn = drawn_of(now)
    shown = {one.number: one.picture for one in drawn.drawings}
    return {"cut_out": cut_out_sheet(now.document, drawn), "pictures": shown}


cut_outs = routes_of(
    Room(
        kind=CUT_OUT,
        view=CutOutView,
        shown=_shown,
        wanted=CutOutEditWanted,
        outcome=CutOutOutcome,
        told=lambda edited: {},
    )
)


@makers.post("/{uuid:production_id}/cut-outs", response={201: CutOutCard})
def new_cut_out_of(
    request: HttpRequest, production_id: UUID, wanted: NewCutOut
) -> Status[CutOutCard]:
    """A cut-out of a drawing set: its parts as the names of the drawings propose them."""
    member = membership(request, production_id, to_change=True)
    made = new_cut_out(member.production, wanted.drawings, wanted.name, person(request))
    return Status(201, cut_out_card(made))


@cut_outs.post("/{uuid:document_id}/figure", response=FigureMade)
def make_figure_of(request: HttpRequest, document_id: UUID) -> FigureMade:
    """The figure of a cut-out as it stands, in the library."""
    found, _ = document(request, CUT_OUT.key, document_id, to_change=True)
    with to_its_end():
        figure, says = make_figure(found, person(request))
    return FigureMade(figure=figure.pk, name=figure.name, says=says)
