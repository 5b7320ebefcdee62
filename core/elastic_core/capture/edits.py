"""Edits of a take: named operations, take in → take out (rule 8.1). None of them touches what was captured."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..beats import AddBeat, RemoveBeat, SetBeat
from ..beats import edited as edited_beats
from ..clock import Span
from ..elastic import PinSpan
from ..errors import Refusal, refusing
from ..frozen import Frozen
from ..quantities import MOST_FRAMES, Frame, LengthFrames, Place, SourceFrame
from ..retime.pace import percent, told, with_level, with_ramp
from ..retime.pins import moved_pin, pinned_source, removed_pin, with_span
from ..sides import spoken
from .by_hand import ByHand, FootMark, SpikeMark
from .recipe import Conform, Recipe, Step, StepName, Trim, moved_step
from .take import Take, TakeOnto

TITLES: dict[StepName, str] = {
    "conform": "Conform",
    "trim": "Trim",
    "ground": "Ground",
    "mend": "Mend",
    "smooth": "Smooth",
    "contacts": "Contacts",
    "hold_feet": "Hold the feet",
    "thin": "Thin",
}


class TakeChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class SetStep(TakeChange):
    """One step's switch and numbers."""

    kind: Literal["set_step"] = "set_step"
    step: Step


class MoveStep(TakeChange):
    """One step so many places later in the recipe, or earlier."""

    kind: Literal["move_step"] = "move_step"
    step: StepName
    places: int = Field(ge=-8, le=8)


class UseRecipe(TakeChange):
    """Another recipe; the range of the take that is used stays this take's own."""

    kind: Literal["use_recipe"] = "use_recipe"
    recipe: Recipe


class RefuseSpike(TakeChange):
    """A spike that is none, or is one after all."""

    kind: Literal["refuse_spike"] = "refuse_spike"
    spike: SpikeMark
    refused: bool


class MarkSpike(TakeChange):
    """Samples to be mended that were not found, or were found too few of; or no longer."""

    kind: Literal["mark_spike"] = "mark_spike"
    spike: SpikeMark
    marked: bool


class PaintFoot(TakeChange):
    """A foot on the ground, or off it, over a range of the take."""

    kind: Literal["paint_foot"] = "paint_foot"
    mark: FootMark


class ForgetFeet(TakeChange):
    """Contacts as they are found, without what was painted."""

    kind: Literal["forget_feet"] = "forget_feet"


class PinTakeSource(TakeChange):
    """“Source 90 plays at 36.” With `ripple` what plays later moves along."""

    kind: Literal["pin_source"] = "pin_source"
    source: SourceFrame
    played: Frame
    ripple: bool = True


class MoveSourcePin(TakeChange):
    """One pin, by its place, to another played or source frame."""

    kind: Literal["move_source_pin"] = "move_source_pin"
    place: Place
    played: Frame | None = None
    source: SourceFrame | None = None
    ripple: bool = True


class SpanAfterPin(TakeChange):
    """The kind of the span after a pin."""

    kind: Literal["span_after_pin"] = "span_after_pin"
    place: Place
    span: PinSpan


class SetSourceLevel(TakeChange):
    """The pace of the span after a pin; without pins it is that of the whole conforming."""

    kind: Literal["set_source_level"] = "set_source_level"
    place: Place
    pace: float = Field(ge=-100, le=100)


class SetSourceRamp(TakeChange):
    """How long the ramp beside a pin is, in played frames."""

    kind: Literal["set_source_ramp"] = "set_source_ramp"
    place: Place
    frames: LengthFrames


class DropSourcePin(TakeChange):
    """A pin taken out."""

    kind: Literal["drop_source_pin"] = "drop_source_pin"
    place: Place


class ForgetElastic(TakeChange):
    """All pins taken out: the take plays at its rate again."""

    kind: Literal["forget_elastic"] = "forget_elastic"


class KeyFrameOfTake(TakeChange):
    """A frame of the take that is always keyed, or no longer."""

    kind: Literal["key_frame"] = "key_frame"
    frame: int = Field(ge=0, le=MOST_FRAMES)
    keyed: bool


class GoOnto(TakeChange):
    """The figure it goes onto, or its own lay figure again."""

    kind: Literal["go_onto"] = "go_onto"
    onto: TakeOnto | None


class CircleTake(TakeChange):
    """The good one, or not."""

    kind: Literal["circle_take"] = "circle_take"
    circled: bool


TakeEdit = Annotated[
    SetStep
    | MoveStep
    | UseRecipe
    | RefuseSpike
    | MarkSpike
    | PaintFoot
    | ForgetFeet
    | PinTakeSource
    | MoveSourcePin
    | SpanAfterPin
    | SetSourceLevel
    | SetSourceRamp
    | DropSourcePin
    | ForgetElastic
    | KeyFrameOfTake
    | GoOnto
    | CircleTake
    | AddBeat
    | SetBeat
    | RemoveBeat,
    Field(discriminator="kind"),
]


@dataclass(frozen=True)
class TakeEdited:
    """What came of an edit."""

    take: Take
    label: str
    notes: tuple[str, ...] = ()


def edit_take(take: Take, edit: TakeEdit) -> TakeEdited:
    """The edit's outcome. Raises Refusal where it cannot be done."""
    with refusing():
        return _RULES[type(edit)](take, edit)


def _set_step(take: Take, edit: SetStep) -> TakeEdited:
    name = edit.step.step
    before = next((step for step in take.recipe.steps if step.step == name), None)
    if before is None:
        raise Refusal("The recipe has no such step.")
    steps = tuple(edit.step if step.step == name else step for step in take.recipe.steps)
    changed = _with(take, recipe=take.recipe.model_copy(update={"steps": steps}))
    if isinstance(edit.step, Trim):
        start, end = changed.span
        label = f"Trim to {start}–{end}" if edit.step.on else "Leave Trim out"
    elif before.on != edit.step.on:
        label = f"{'Run' if edit.step.on else 'Leave out'} {TITLES[name]}"
    else:
        label = f"Set {TITLES[name]}"
    return TakeEdited(changed, label, _told_of_elastic(take, edit.step))


def _told_of_elastic(take: Take, step: Step) -> tuple[str, ...]:
    if isinstance(step, Conform) and step.on and take.by_hand.elastic is not None:
        return ("Its pins say when it plays: a pace counts once they are taken out.",)
    return ()


def _move_step(take: Take, edit: MoveStep) -> TakeEdited:
    recipe = moved_step(take.recipe, edit.step, edit.places)
    way = "later" if edit.places > 0 else "earlier"
    return TakeEdited(_with(take, recipe=recipe), f"{TITLES[edit.step]} {way}", recipe.warnings())


def _use_recipe(take: Take, edit: UseRecipe) -> TakeEdited:
    own = next((step for step in take.recipe.steps if isinstance(step, Trim)), None)
    steps = tuple(own if own and isinstance(step, Trim) else step for step in edit.recipe.steps)
    recipe = edit.recipe.model_copy(update={"steps": steps})
    return TakeEdited(
        _with(take, recipe=recipe), f"Use the recipe {recipe.name}", recipe.warnings()
    )


def _refuse_spike(take: Take, edit: RefuseSpike) -> TakeEdited:
    _inside(take, edit.spike.frame, edit.spike.end)
    hand, mark = take.by_hand, edit.spike
    others = tuple(m for m in hand.refused if not mark.meets(m.frame, m.end, m.joint))
    refused = (*others, mark) if edit.refused else others
    label = (
        f"{'Refuse' if edit.refused else 'Mend'} the spike of {spoken(mark.joint)} at {mark.frame}"
    )
    return TakeEdited(_by_hand(take, refused=refused), label)


def _mark_spike(take: Take, edit: MarkSpike) -> TakeEdited:
    _inside(take, edit.spike.frame, edit.spike.end)
    hand, mark = take.by_hand, edit.spike
    others = tuple(m for m in hand.added if not mark.meets(m.frame, m.end, m.joint))
    if not edit.marked and len(others) == len(hand.added):
        raise Refusal("Nothing is marked there.")
    added = (*others, mark) if edit.marked else others
    verb = "Mark" if edit.marked else "Unmark"
    label = f"{verb} {mark.frame}–{mark.end} of {spoken(mark.joint)} to be mended"
    return TakeEdited(_by_hand(take, added=added), label)


def _paint_foot(take: Take, edit: PaintFoot) -> TakeEdited:
    mark = edit.mark
    _inside(take, mark.start, mark.end)
    where = "on the ground" if mark.planted else "off the ground"
    label = f"Put the {mark.side} foot {where}, {mark.start}–{mark.end}"
    return TakeEdited(_by_hand(take, feet=(*take.by_hand.feet, mark)), label)


def _forget_feet(take: Take, edit: ForgetFeet) -> TakeEdited:
    if not take.by_hand.feet:
        raise Refusal("No contact was set by hand.")
    return TakeEdited(_by_hand(take, feet=()), "Contacts as they are found")


def _pin_source(take: Take, edit: PinTakeSource) -> TakeEdited:
    _conforms(take)
    elastic = take.elastic
    span = Span(elastic.pins[0].played, elastic.pins[-1].played)
    pinned = pinned_source(elastic, edit.source, edit.played, span, ripple=edit.ripple)
    label = f"Source {told(edit.source)} plays at {told(edit.played)}"
    return TakeEdited(_by_hand(take, elastic=pinned), label)


def _move_pin(take: Take, edit: MoveSourcePin) -> TakeEdited:
    _conforms(take)
    moved = moved_pin(take.elastic, edit.place, edit.played, edit.source, ripple=edit.ripple)
    pin = moved.pins[edit.place]
    label = f"Source {told(pin.source)} plays at {told(pin.played)}"
    return TakeEdited(_by_hand(take, elastic=moved), label)


def _span_after(take: Take, edit: SpanAfterPin) -> TakeEdited:
    _conforms(take)
    return TakeEdited(
        _by_hand(take, elastic=with_span(take.elastic, edit.place, edit.span)),
        f"Go on {edit.span} after the pin",
    )


def _set_level(take: Take, edit: SetSourceLevel) -> TakeEdited:
    _conforms(take)
    elastic, label = take.by_hand.elastic, f"At {percent(edit.pace)}"
    if elastic is None:
        conform = take.recipe.get(Conform)
        assert conform is not None
        if edit.pace <= 0:
            raise Refusal("A take plays forwards: pins can hold it and turn it round.")
        step = conform.model_copy(update={"pace": edit.pace})
        return replace(_set_step(take, SetStep(step=step)), label=label)
    unit = _unit(take)
    paced = with_level(elastic, edit.place, edit.pace * unit, unit, ripple=True, whole=True)
    return TakeEdited(_by_hand(take, elastic=paced), label)


def _set_ramp(take: Take, edit: SetSourceRamp) -> TakeEdited:
    _conforms(take)
    ramped = with_ramp(take.elastic, edit.place, edit.frames, _unit(take), ripple=True, whole=True)
    return TakeEdited(_by_hand(take, elastic=ramped), f"A ramp of {told(edit.frames)} frames")


def _unit(take: Take) -> float:
    """Frames of the take in one of the clip, where it plays as it was captured."""
    return float(take.rate / take.clip_rate)


def _drop_pin(take: Take, edit: DropSourcePin) -> TakeEdited:
    if take.by_hand.elastic is None:
        raise Refusal("This take has no pins.")
    kept = removed_pin(take.by_hand.elastic, edit.place)
    return TakeEdited(
        _by_hand(take, elastic=kept if len(kept.pins) > 1 else None), "Take out a pin"
    )


def _forget_elastic(take: Take, edit: ForgetElastic) -> TakeEdited:
    if take.by_hand.elastic is None:
        raise Refusal("This take has no pins.")
    return TakeEdited(_by_hand(take, elastic=None), "Take out all pins")


def _key_frame(take: Take, edit: KeyFrameOfTake) -> TakeEdited:
    _inside(take, edit.frame, edit.frame + 1)
    others = tuple(frame for frame in take.by_hand.keyed if frame != edit.frame)
    keyed = tuple(sorted((*others, edit.frame))) if edit.keyed else others
    verb = "Always key" if edit.keyed else "Key as it comes"
    return TakeEdited(_by_hand(take, keyed=keyed), f"{verb} {edit.frame}")


def _go_onto(take: Take, edit: GoOnto) -> TakeEdited:
    onto = edit.onto
    if onto is not None and onto.rest_frame is not None:
        _inside(take, onto.rest_frame, onto.rest_frame + 1)
    label = "On its own lay figure" if onto is None else "Onto another figure"
    return TakeEdited(_with(take, onto=onto), label)


def _circle(take: Take, edit: CircleTake) -> TakeEdited:
    label = "Circle the take" if edit.circled else "Rub out the circle"
    return TakeEdited(_with(take, circled=edit.circled), label)


def _beats(take: Take, edit: AddBeat | SetBeat | RemoveBeat) -> TakeEdited:
    beats, label = edited_beats(take.beats, edit, take.length_frames, "the take")
    return TakeEdited(_with(take, beats=beats), label)


def _conforms(take: Take) -> None:
    if take.recipe.get(Conform) is None:
        raise Refusal("Pins are part of Conform: switch it on first.")


def _inside(take: Take, start: int, end: int) -> None:
    if not 0 <= start < end <= take.length_frames:
        raise Refusal(f"The take has frames 0 to {take.length_frames - 1}.")


def _with(take: Take, **changes: Any) -> Take:
    return take.model_copy(update=changes)


def _by_hand(take: Take, **changes: Any) -> Take:
    hand: ByHand = take.by_hand.model_copy(update=changes)
    return _with(take, by_hand=hand)


_RULES: dict[type[BaseModel], Callable[[Take, Any], TakeEdited]] = {
    SetStep: _set_step,
    MoveStep: _move_step,
    UseRecipe: _use_recipe,
    RefuseSpike: _refuse_spike,
    MarkSpike: _mark_spike,
    PaintFoot: _paint_foot,
    ForgetFeet: _forget_feet,
    PinTakeSource: _pin_source,
    MoveSourcePin: _move_pin,
    SpanAfterPin: _span_after,
    SetSourceLevel: _set_level,
    SetSourceRamp: _set_ramp,
    DropSourcePin: _drop_pin,
    ForgetElastic: _forget_elastic,
    KeyFrameOfTake: _key_frame,
    GoOnto: _go_onto,
    CircleTake: _circle,
    AddBeat: _beats,
    SetBeat: _beats,
    RemoveBeat: _beats,
}
