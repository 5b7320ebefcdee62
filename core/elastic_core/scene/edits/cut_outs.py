"""Edits on the parts of a cut-out in a scene: which drawing a part shows, and which part lies over which."""

from typing import Literal

from ...clock import nearest_frame
from ...dress import Card
from ...errors import Refusal
from ...names import Id
from ...quantities import Frame
from ..card_order import CardName, CardOrder, Order
from ..cast import PartTarget, RunSource
from ..document import Lane, Scene, SceneFigure, Stint
from ..material import Material
from ..timing import conform
from .base import LEAST_FRAMES, Edit, Edited, Rules, ordered, with_lane
from .figures import free_id, with_figure


class DrawPart(Edit):
    """A run of drawings on a part of a cut-out, on a lane of its own: a hand that is swapped, a beak that
    opens. It plays from a laid frame on, over its length, or over the rest of the scene where it goes round."""

    kind: Literal["draw_part"] = "draw_part"
    figure: str
    part: CardName
    run: Id
    lane: Id | None = None
    start: Frame = 0.0


class OrderCard(Edit):
    """From a laid frame on a part lies at this place of the order, from back to front; without one the key
    there is taken away."""

    kind: Literal["order_card"] = "order_card"
    figure: str
    card: CardName
    frame: Frame
    order: Order | None = None


def card_of(scene: Scene, figure: str, part: str, material: Material) -> tuple[SceneFigure, Card]:
    """A part of a cut-out. Raises Refusal where the figure has no such card."""
    member = scene.figure(figure)
    for card in material.figure(member.figure).dress.cards:
        if card.name == part:
            return member, card
    raise Refusal(f"{member.name} has no part of paper called “{part}”.")


def _draw(scene: Scene, edit: DrawPart, material: Material) -> Edited:
    member, card = card_of(scene, edit.figure, edit.part, material)
    source = RunSource(id=edit.run)
    performance = material.drawings(source)
    if not card.drawings or material.runs[edit.run].run.drawings != card.drawings:
        raise Refusal(f"The run “{performance.name}” has other drawings than {card.name}.")
    target = PartTarget(figure=member.id, part=card.name)
    if any(lane.target == target for lane in scene.lanes):
        raise Refusal(f"{member.name}’s {card.name} has a lane already: drop the run on it.")
    taken = [lane.id for lane in scene.lanes]
    if edit.lane in taken:
        raise Refusal("A lane with that id is in the scene already.")
    start = nearest_frame(max(0.0, edit.start))
    if start >= scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    length = scene.laid_frames - start
    if not performance.is_cycle:
        own = nearest_frame(performance.length_frames / conform(performance, scene))
        length = max(LEAST_FRAMES, own)
    lane = Lane(
        id=edit.lane or free_id("lane", taken),
        name=card.name.capitalize(),
        target=target,
        gap="rest",
    )
    stint = Stint(
        id=free_id("stint", [stint.id for stint in scene.stints]),
        source=source,
        start=start,
        length_frames=length,
    )
    own_lanes = [other for other in scene.lanes if other.figure == member.id]
    place = scene.lanes.index(own_lanes[0]) if own_lanes else 0
    lanes = (*scene.lanes[:place], lane, *scene.lanes[place:])
    done = scene.model_copy(update={"lanes": lanes})
    done = with_lane(done, ordered(lane, (stint,), material))
    return Edited(done, f"{member.name}’s {card.name} shows {performance.name}")


def _order(scene: Scene, edit: OrderCard, material: Material) -> Edited:
    member, card = card_of(scene, edit.figure, edit.card, material)
    if not 0 <= edit.frame < scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")
    others = tuple(
        key for key in member.card_orders if (key.card, key.frame) != (card.name, edit.frame)
    )
    at = f"{edit.frame + scene.first_frame:g}"
    if edit.order is None:
        if len(others) == len(member.card_orders):
            raise Refusal(f"{card.name} has no key of its order there.")
        label = f"{member.name}: delete the order of {card.name} at {at}"
        return Edited(_with(scene, member, others), label)
    key = CardOrder(card=card.name, frame=edit.frame, order=edit.order)
    label = f"{member.name}: {card.name} lies {edit.order} from {at}"
    return Edited(_with(scene, member, (*others, key)), label)


def _with(scene: Scene, member: SceneFigure, keys: tuple[CardOrder, ...]) -> Scene:
    in_order = tuple(sorted(keys, key=lambda key: (key.frame, key.card)))
    return with_figure(scene, member.model_copy(update={"card_orders": in_order}))


RULES: Rules = {DrawPart: _draw, OrderCard: _order}
