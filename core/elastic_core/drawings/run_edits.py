"""Edits of a run of drawings: named operations, run in → run out (rule 8.1)."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..clock import Rate, format_rate
from ..colour import Colour
from ..errors import Refusal, refusing
from ..exposure import HoldFrames, Pattern, said
from ..frozen import Frozen
from ..names import Name
from .orders import TWOS, held_in
from .playing import laid
from .run import MOST_HELD, Drawing, DrawingPin, DrawingRun, Held, PinnedFrame, Play, Seed
from .set_edits import listed
from .squeezed import Squeeze, squeezed

HeldPlace = Annotated[int, Field(ge=0, lt=MOST_HELD)]
Frames = Annotated[int, Field(ge=1, le=1_000_000)]
PLAYED: dict[Play, str] = {
    "once": "plays once",
    "repeat": "repeats",
    "bounce": "goes there and back",
    "backwards": "goes backwards",
    "boil": "boils",
}


class RunChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class OrderRun(RunChange):
    """The drawings as they are typed: “1-8, 8-1 on 2, 9 hold 12”; where nothing is said of it, each shows for
    `frames`."""

    kind: Literal["order_run"] = "order_run"
    order: Annotated[str, Field(min_length=1, max_length=40_000)]
    frames: HoldFrames = TWOS


class ExposeRun(RunChange):
    """Every drawing on a pattern, which begins again where it ends."""

    kind: Literal["expose_run"] = "expose_run"
    pattern: Pattern


class HoldDrawing(RunChange):
    """How long one exposure shows, by its place in the order; the rest is moved."""

    kind: Literal["hold_drawing"] = "hold_drawing"
    place: HeldPlace
    frames: HoldFrames


class ShowDrawing(RunChange):
    """Another drawing in the place of one, for as long."""

    kind: Literal["show_drawing"] = "show_drawing"
    place: HeldPlace
    drawing: Drawing


class InsertDrawings(RunChange):
    """Exposures put in before a place in the order, or at its end."""

    kind: Literal["insert_drawings"] = "insert_drawings"
    place: HeldPlace
    held: Annotated[tuple[Held, ...], Field(min_length=1, max_length=MOST_HELD)]


class MoveDrawings(RunChange):
    """Exposures to another place in the order, counted without them."""

    kind: Literal["move_drawings"] = "move_drawings"
    place: HeldPlace
    count: Annotated[int, Field(ge=1, le=MOST_HELD)] = 1
    to: HeldPlace


class TakeOutDrawings(RunChange):
    """Exposures taken out of the order."""

    kind: Literal["take_out_drawings"] = "take_out_drawings"
    places: Annotated[tuple[HeldPlace, ...], Field(min_length=1, max_length=MOST_HELD)]


class WriteDrawing(RunChange):
    """A drawing written on a frame, as on a sheet: it shows from there to the end of the exposure that is
    there. On a frame of a later round it is the same exposure that is written; there and back, where the ends
    show once, all of it."""

    kind: Literal["write_drawing"] = "write_drawing"
    frame: PinnedFrame
    drawing: Drawing


class PlayRun(RunChange):
    """How it plays: once, over and over, there and back, backwards, or boiling."""

    kind: Literal["play_run"] = "play_run"
    play: Play


class SeedRun(RunChange):
    """A boil by another number: drawn anew."""

    kind: Literal["seed_run"] = "seed_run"
    seed: Seed


class PinDrawing(RunChange):
    """A drawing begins on a frame: its nearest appearance comes there. A pin of the same drawing that is
    `instead` is moved."""

    kind: Literal["pin_drawing"] = "pin_drawing"
    drawing: Drawing
    frame: PinnedFrame
    instead: PinnedFrame | None = None


class UnpinDrawing(RunChange):
    """The pin on a frame taken away."""

    kind: Literal["unpin_drawing"] = "unpin_drawing"
    frame: PinnedFrame


class SqueezeRun(RunChange):
    """The run over fewer or more frames, each drawing at least once, or evenly spaced."""

    kind: Literal["squeeze_run"] = "squeeze_run"
    frames: Frames
    how: Squeeze = "even"


class SetRunRate(RunChange):
    """Another number of frames a second."""

    kind: Literal["set_run_rate"] = "set_run_rate"
    rate: Rate


class RenameRun(RunChange):
    kind: Literal["rename_run"] = "rename_run"
    name: Name


class ColourRun(RunChange):
    kind: Literal["colour_run"] = "colour_run"
    colour: Colour


RunEdit = Annotated[
    OrderRun
    | ExposeRun
    | HoldDrawing
    | ShowDrawing
    | InsertDrawings
    | MoveDrawings
    | TakeOutDrawings
    | WriteDrawing
    | PlayRun
    | SeedRun
    | PinDrawing
    | UnpinDrawing
    | SqueezeRun
    | SetRunRate
    | RenameRun
    | ColourRun,
    Field(discriminator="kind"),
]


@dataclass(frozen=True)
class RunEdited:
    """A run after an edit, what the edit is called, and what it has to say."""

    run: DrawingRun
    label: str
    notes: tuple[str, ...] = ()


def edit_run(run: DrawingRun, edit: RunEdit) -> RunEdited:
    """Do it. Raises Refusal for what cannot be done."""
    with refusing():
        edited = _RULES[type(edit)](run, edit)
        edited.run.checked()
        return _with_pins(edited)


def _with_pins(edited: RunEdited) -> RunEdited:
    """Pins of drawings that are in the run no longer go, and so do those that the order does not allow."""
    run = edited.run
    numbers = set(run.numbers)
    kept = tuple(pin for pin in run.pins if pin.drawing in numbers)
    while kept:
        try:
            laid(run.model_copy(update={"pins": kept}))
            break
        except Refusal:
            kept = kept[:-1]
    gone = [pin for pin in run.pins if pin not in kept]
    if not gone:
        return edited
    says = tuple(f"Drawing {pin.drawing} is no longer pinned to {pin.frame + 1}." for pin in gone)
    return RunEdited(run.model_copy(update={"pins": kept}), edited.label, edited.notes + says)


def _order(run: DrawingRun, edit: OrderRun) -> RunEdited:
    return _held(run, held_in(edit.order, edit.frames), "Write the order")


def _expose(run: DrawingRun, edit: ExposeRun) -> RunEdited:
    count = len(edit.pattern)
    held = [
        one.model_copy(update={"frames": edit.pattern[place % count]})
        for place, one in enumerate(run.held)
    ]
    return _held(run, held, f"Expose {said(edit.pattern)}")


def _hold(run: DrawingRun, edit: HoldDrawing) -> RunEdited:
    one = _at(run, edit.place).model_copy(update={"frames": edit.frames})
    return _held(run, _replaced(run, edit.place, one), f"Hold drawing {one.drawing} {edit.frames}")


def _show(run: DrawingRun, edit: ShowDrawing) -> RunEdited:
    one = _at(run, edit.place).model_copy(update={"drawing": edit.drawing})
    return _held(run, _replaced(run, edit.place, one), f"Show drawing {edit.drawing}")


def _insert(run: DrawingRun, edit: InsertDrawings) -> RunEdited:
    place = min(edit.place, len(run.held))
    held = (*run.held[:place], *edit.held, *run.held[place:])
    return _held(run, held, f"Put in {_said(edit.held)}")


def _move(run: DrawingRun, edit: MoveDrawings) -> RunEdited:
    _at(run, edit.place)
    moved = run.held[edit.place : edit.place + edit.count]
    others = (*run.held[: edit.place], *run.held[edit.place + edit.count :])
    to = min(edit.to, len(others))
    return _held(run, (*others[:to], *moved, *others[to:]), f"Move {_said(moved)}")


def _take_out(run: DrawingRun, edit: TakeOutDrawings) -> RunEdited:
    for place in edit.places:
        _at(run, place)
    gone = set(edit.places)
    left = [one for place, one in enumerate(run.held) if place not in gone]
    if not left:
        raise Refusal("A run has at least one drawing.")
    return _held(run, left, f"Take out {_said([run.held[place] for place in sorted(gone)])}")


def _write(run: DrawingRun, edit: WriteDrawing) -> RunEdited:
    if run.play == "boil" or run.pins:
        why = "it boils" if run.play == "boil" else "it has pins"
        raise Refusal(
            f"What shows on a frame follows from the whole run, since {why}: write the order."
        )
    place, within = exposure_at(run, edit.frame)
    there = run.held[place]
    if run.play == "bounce":
        one = there.model_copy(update={"drawing": edit.drawing})
        return _held(run, _replaced(run, place, one), f"Write drawing {edit.drawing}")
    parts = [(there.drawing, within), (edit.drawing, there.frames - within)]
    if run.play == "backwards":
        # What follows on the sheet comes before it in the order.
        parts.reverse()
    new = tuple(Held(drawing=drawing, frames=frames) for drawing, frames in parts if frames)
    held = (*run.held[:place], *new, *run.held[place + 1 :])
    return _held(run, _joined(held), f"Write drawing {edit.drawing}")


def exposure_at(run: DrawingRun, frame: int) -> tuple[int, int]:
    """Which exposure of the order shows on a frame, and for how many frames it has shown by then. Raises
    Refusal where the run is over by then."""
    if run.play == "once" and frame >= run.length_frames:
        raise Refusal(
            f"The run is over by {frame + 1}: hold its last drawing longer, or put in others."
        )
    left = frame % run.length_frames
    for place in places_of_round(run):
        if left < run.held[place].frames:
            return place, left
        left -= run.held[place].frames
    raise AssertionError("A round is as long as what it shows.")


def places_of_round(run: DrawingRun) -> list[int]:
    """What of the order a round shows, one after the other, by places; of a boil in no order of its own."""
    places = list(range(len(run.held)))
    if run.play == "bounce":
        return places + places[-2:0:-1]
    return places[::-1] if run.play == "backwards" else places


def _joined(held: Sequence[Held]) -> list[Held]:
    """Neighbours that show one drawing are one exposure."""
    return [
        Held(drawing=drawing, frames=sum(one.frames for one in same))
        for drawing, same in groupby(held, key=lambda one: one.drawing)
    ]


def _play(run: DrawingRun, edit: PlayRun) -> RunEdited:
    return RunEdited(
        run.model_copy(update={"play": edit.play}), f"{run.name} {PLAYED[edit.play]}"[:120]
    )


def _seed(run: DrawingRun, edit: SeedRun) -> RunEdited:
    return RunEdited(run.model_copy(update={"seed": edit.seed}), f"Boil by {edit.seed}")


def _pin(run: DrawingRun, edit: PinDrawing) -> RunEdited:
    if edit.drawing not in run.numbers:
        raise Refusal(f"Drawing {edit.drawing} is not in the run.")
    left = [pin for pin in run.pins if pin.frame not in (edit.frame, edit.instead)]
    pins = sorted(
        [*left, DrawingPin(drawing=edit.drawing, frame=edit.frame)], key=lambda pin: pin.frame
    )
    pinned = run.model_copy(update={"pins": tuple(pins)})
    notes = _fell_out(set(laid(pinned).fell_out) - set(laid(run).fell_out))
    return RunEdited(pinned, f"Pin drawing {edit.drawing} to {edit.frame + 1}", notes)


def _unpin(run: DrawingRun, edit: UnpinDrawing) -> RunEdited:
    left = tuple(pin for pin in run.pins if pin.frame != edit.frame)
    if len(left) == len(run.pins):
        raise Refusal(f"Nothing is pinned to {edit.frame + 1}.")
    return RunEdited(
        run.model_copy(update={"pins": left}), f"Take the pin at {edit.frame + 1} away"
    )


def _squeeze(run: DrawingRun, edit: SqueezeRun) -> RunEdited:
    done = squeezed(run.held, edit.frames, edit.how)
    edited = _held(run, done.held, f"Squeeze into {edit.frames}")
    return RunEdited(edited.run, edited.label, _fell_out(done.fell_out))


def _fell_out(numbers: Iterable[int]) -> tuple[str, ...]:
    gone = sorted(numbers)
    return (f"{listed(gone)} fell out.",) if gone else ()


def _rate(run: DrawingRun, edit: SetRunRate) -> RunEdited:
    label = f"{format_rate(edit.rate)} frames a second"
    return RunEdited(run.model_copy(update={"rate": edit.rate}), label)


def _rename(run: DrawingRun, edit: RenameRun) -> RunEdited:
    return RunEdited(run.model_copy(update={"name": edit.name}), f"Rename to {edit.name}")


def _colour(run: DrawingRun, edit: ColourRun) -> RunEdited:
    return RunEdited(run.model_copy(update={"colour": edit.colour}), f"Colour {edit.colour}")


def _held(run: DrawingRun, held: Sequence[Held], label: str) -> RunEdited:
    if len(held) > MOST_HELD:
        raise Refusal(f"A run has {MOST_HELD:,} drawings at the most.")
    return RunEdited(run.model_copy(update={"held": tuple(held)}), label)


def _at(run: DrawingRun, place: int) -> Held:
    if place >= len(run.held):
        raise Refusal(f"The run has {len(run.held)} exposures.")
    return run.held[place]


def _replaced(run: DrawingRun, place: int, held: Held) -> tuple[Held, ...]:
    return (*run.held[:place], held, *run.held[place + 1 :])


def _said(held: Iterable[Held]) -> str:
    numbers = [number for number, _ in groupby(one.drawing for one in held)]
    return f"drawing {numbers[0]}" if len(numbers) == 1 else f"{len(numbers)} drawings"


_RULES: dict[type[BaseModel], Callable[[DrawingRun, Any], RunEdited]] = {
    OrderRun: _order,
    ExposeRun: _expose,
    HoldDrawing: _hold,
    ShowDrawing: _show,
    InsertDrawings: _insert,
    MoveDrawings: _move,
    TakeOutDrawings: _take_out,
    WriteDrawing: _write,
    PlayRun: _play,
    SeedRun: _seed,
    PinDrawing: _pin,
    UnpinDrawing: _unpin,
    SqueezeRun: _squeeze,
    SetRunRate: _rate,
    RenameRun: _rename,
    ColourRun: _colour,
}
