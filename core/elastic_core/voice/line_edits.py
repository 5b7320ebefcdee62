"""Edits of a line: named operations, line in → line out (rule 8.1)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..errors import Refusal, refusing
from ..frozen import Frozen
from ..quantities import MOST_FRAMES
from . import columns
from .blinks import Blink, proposed, usual_length
from .chart import MouthKey
from .exposing import MouthByHand, MouthRules, MouthRun, WholeFrames, frames_of_line
from .line import Line, Note, Text
from .phones import phones_of
from .reading import (
    NEAR_SECONDS,
    Reading,
    Seconds,
    SpokenPhone,
    SpokenWord,
    Stretch,
    pauses_between,
)
from .writing import LEAST_PHONE_SECONDS, TypedWord, with_words, words_typed

_LONGEST_IN_LABEL = 40


class LineChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class SetLineText(LineChange):
    """What is said. The reading stays until it is read anew."""

    kind: Literal["set_line_text"] = "set_line_text"
    text: Text


class SetSpeaker(LineChange):
    """Who says it, and in which language."""

    kind: Literal["set_speaker"] = "set_speaker"
    speaker: Annotated[str, Field(max_length=120)] | None = None
    language: Annotated[str, Field(pattern=r"^[a-z]{2,3}$")] | None = None


class SetMouthRules(LineChange):
    """How mouths are exposed."""

    kind: Literal["set_mouth_rules"] = "set_mouth_rules"
    rules: MouthRules


class UseChart(LineChange):
    """Another mouth chart; without one, ours."""

    kind: Literal["use_chart"] = "use_chart"
    chart: Annotated[str, Field(max_length=40)]


class SetReading(LineChange):
    """What was read of a text in the line's sound."""

    kind: Literal["set_reading"] = "set_reading"
    text: Text
    reading: Reading


class ExposeMouths(LineChange):
    """Mouths by hand, one after another; what was set by hand in their place goes."""

    kind: Literal["expose_mouths"] = "expose_mouths"
    mouths: Annotated[tuple[MouthByHand, ...], Field(min_length=1, max_length=5_000)]


class WriteMouth(LineChange):
    """A mouth written on a frame of the sheet: it shows until the next one, or for `length` frames."""

    kind: Literal["write_mouth"] = "write_mouth"
    frame: WholeFrames
    mouth: MouthKey
    length: Annotated[int, Field(ge=1, le=MOST_FRAMES)] | None = None


class HoldMouth(LineChange):
    """The mouth that shows on a frame is held so many frames longer; fewer, and the next comes earlier."""

    kind: Literal["hold_mouth"] = "hold_mouth"
    frame: WholeFrames
    frames: Annotated[int, Field(ge=-MOST_FRAMES, le=MOST_FRAMES)]


class SheetRange(LineChange):
    """Frames `[start, end)` of the sheet."""

    start: WholeFrames
    end: WholeFrames


class RepeatMouths(SheetRange):
    """What shows over some frames, once more after them, and again."""

    kind: Literal["repeat_mouths"] = "repeat_mouths"
    times: Annotated[int, Field(ge=1, le=1_000)] = 1


class TurnMouthsRound(SheetRange):
    """What shows over some frames, the last first."""

    kind: Literal["turn_mouths_round"] = "turn_mouths_round"


class FillOn(SheetRange):
    """The drawings of some frames, each for `on` frames, round and round to the end of them."""

    kind: Literal["fill_on"] = "fill_on"
    on: Annotated[int, Field(ge=1, le=24)] = 2


class BringSheetIn(LineChange):
    """What was changed on the line's sheet outside: mouths by hand, all its notes, and all its blinks where
    its eyes were changed."""

    kind: Literal["bring_sheet_in"] = "bring_sheet_in"
    mouths: Annotated[tuple[MouthByHand, ...], Field(max_length=20_000)]
    notes: Annotated[tuple[Note, ...], Field(max_length=20_000)]
    blinks: Annotated[tuple[Blink, ...], Field(max_length=20_000)] | None = None


class LiftMouths(LineChange):
    """What was set by hand over some frames, `[start, end)`, goes: the rules say what shows."""

    kind: Literal["lift_mouths"] = "lift_mouths"
    start: WholeFrames
    end: WholeFrames


class ProposeBlinks(LineChange):
    """Blinks at the ends of phrases and in between, by a seed; the others go."""

    kind: Literal["propose_blinks"] = "propose_blinks"
    seed: Annotated[int, Field(ge=0, le=999_999)]


class SetBlink(LineChange):
    """A blink on a frame, by hand, or none; one that is under way there goes."""

    kind: Literal["set_blink"] = "set_blink"
    frame: WholeFrames
    blinks: bool = True


class MoveBoundary(LineChange):
    """Where one phone of the reading ends and the next begins, by the place of the second one; a word's edge
    where that is its first. It goes as far as its neighbours let it."""

    kind: Literal["move_boundary"] = "move_boundary"
    phone: Annotated[int, Field(ge=0, le=100_000)]
    seconds: Seconds


class WriteWords(LineChange):
    """Words written along the wave, from `start` to `end` seconds, in the place of those that are there; how
    one is said may stand after it, between strokes. No text takes away what is there."""

    kind: Literal["write_words"] = "write_words"
    start: Seconds
    end: Seconds
    text: Annotated[str, Field(max_length=1_000)]


class SayWord(LineChange):
    """How a word is said, typed as phones; nothing typed: as the dictionary says."""

    kind: Literal["say_word"] = "say_word"
    word: Annotated[str, Field(min_length=1, max_length=100)]
    phones: Annotated[str, Field(max_length=400)]


class WriteNote(LineChange):
    """A note on a frame of the sheet; an empty one takes it away."""

    kind: Literal["write_note"] = "write_note"
    frame: WholeFrames
    text: Annotated[str, Field(max_length=200)]


LineEdit = Annotated[
    SetLineText
    | SetSpeaker
    | SetMouthRules
    | UseChart
    | SetReading
    | ExposeMouths
    | WriteMouth
    | HoldMouth
    | RepeatMouths
    | TurnMouthsRound
    | FillOn
    | BringSheetIn
    | LiftMouths
    | ProposeBlinks
    | SetBlink
    | MoveBoundary
    | WriteWords
    | SayWord
    | WriteNote,
    Field(discriminator="kind"),
]


@dataclass(frozen=True)
class LineEdited:
    """A line after an edit, what the edit is called, and what it has to say."""

    line: Line
    label: str
    notes: tuple[str, ...] = ()


def edit_line(line: Line, edit: LineEdit, run: MouthRun) -> LineEdited:
    """Do it; `run` is what shows of the line now. Raises Refusal for what cannot be done."""
    with refusing():
        on_sheet = _ON_SHEET.get(type(edit))
        if on_sheet is not None:
            mouths, label = on_sheet(run, edit)
            return LineEdited(_by_hand(line, mouths), label)
        if isinstance(edit, WriteWords):
            return _write_words(line, edit, run)
        return _RULES[type(edit)](line, edit)


def _set_text(line: Line, edit: SetLineText) -> LineEdited:
    text = edit.text.strip()
    if text == line.text:
        raise Refusal("The text says that already.")
    return LineEdited(_with(line, text=text), "Change the text")


def _set_speaker(line: Line, edit: SetSpeaker) -> LineEdited:
    speaker = line.speaker if edit.speaker is None else edit.speaker.strip()
    language = edit.language or line.language
    return LineEdited(_with(line, speaker=speaker, language=language), "Change who speaks")


def _set_rules(line: Line, edit: SetMouthRules) -> LineEdited:
    return LineEdited(_with(line, rules=edit.rules), "Change the rules for mouths")


def _use_chart(line: Line, edit: UseChart) -> LineEdited:
    return LineEdited(_with(line, chart=edit.chart), "Use another mouth chart")


def _set_reading(line: Line, edit: SetReading) -> LineEdited:
    notes = [f"“{word}” is not heard." for word in edit.reading.not_heard[:8]]
    more = len(edit.reading.not_heard) - len(notes)
    notes += [f"{more} more words are not heard."] if more > 0 else []
    notes += [
        f"From {one.start:.2f} to {one.end:.2f} s there is speech that the text lacks."
        for one in edit.reading.extra[:8]
    ]
    label = "Read the sound roughly" if edit.reading.rough else "Read the sound"
    read = _with(line, reading=edit.reading, read_text=edit.text)
    return LineEdited(read, label, tuple(notes))


def _expose(line: Line, edit: ExposeMouths) -> LineEdited:
    mouths = sorted(edit.mouths, key=lambda one: one.frame)
    for before, after in zip(mouths, mouths[1:], strict=False):
        if before.end > after.frame:
            raise Refusal(f"Two mouths are set by hand on frame {after.frame}.")
    count = len(mouths)
    label = f"Expose {mouths[0].mouth}" if count == 1 else f"Expose {count} mouths"
    return LineEdited(_by_hand(line, mouths), label)


def _bring_sheet_in(line: Line, edit: BringSheetIn) -> LineEdited:
    changed = _by_hand(line, sorted(edit.mouths, key=lambda one: one.frame))
    blinks = line.blinks if edit.blinks is None else edit.blinks
    return LineEdited(_with(changed, notes=edit.notes, blinks=blinks), "Open the sheet again")


def _by_hand(line: Line, mouths: Sequence[MouthByHand]) -> Line:
    """The line with these, and without what was set by hand in their place."""
    kept = list(line.by_hand)
    for mouth in mouths:
        kept = _without(kept, mouth.frame, mouth.end)
    return _with(line, by_hand=tuple(sorted([*kept, *mouths], key=lambda one: one.frame)))


# An edit of the sheet, by what shows on it now: the mouths that it sets by hand, and what it is called.
OnSheet = tuple[list[MouthByHand], str]


def _write_mouth(run: MouthRun, edit: WriteMouth) -> OnSheet:
    mouth = columns.written(run, edit.frame, edit.mouth, edit.length)
    return [mouth], f"Expose {edit.mouth} on {edit.frame + 1}"


def _hold(run: MouthRun, edit: HoldMouth) -> OnSheet:
    mouths = columns.held(run, edit.frame, edit.frames)
    return mouths, f"Hold {mouths[0].mouth} for {mouths[0].length} frames"


def _repeat(run: MouthRun, edit: RepeatMouths) -> OnSheet:
    return columns.repeated(run, edit.start, edit.end, edit.times), f"Repeat {_range(edit)}"


def _turn_round(run: MouthRun, edit: TurnMouthsRound) -> OnSheet:
    return columns.backwards(run, edit.start, edit.end), f"Turn {_range(edit)} round"


def _fill(run: MouthRun, edit: FillOn) -> OnSheet:
    words = {1: "ones", 2: "twos", 3: "threes", 4: "fours"}
    on = words.get(edit.on, f"{edit.on} frames")
    return columns.filled(run, edit.start, edit.end, edit.on), f"Fill {_range(edit)} on {on}"


def _propose_blinks(line: Line, edit: ProposeBlinks) -> LineEdited:
    reading = _read(line)
    frames = frames_of_line(reading, line.rate)
    blinks = proposed(reading, frames, float(line.rate), edit.seed)
    if not blinks:
        raise Refusal("The line is too short for a blink. Set one by hand.")
    told = _with(line, blinks=blinks, blink_seed=edit.seed)
    return LineEdited(
        told, f"Propose {len(blinks)} blinks" if len(blinks) > 1 else "Propose a blink"
    )


def _set_blink(line: Line, edit: SetBlink) -> LineEdited:
    made = Blink(frame=edit.frame, length=usual_length(float(line.rate)))
    if edit.blinks:
        others = [one for one in line.blinks if one.end <= made.frame or one.frame >= made.end]
        blinks = sorted([*others, made], key=lambda one: one.frame)
        return LineEdited(_with(line, blinks=tuple(blinks)), f"Blink on {edit.frame + 1}")
    left = tuple(one for one in line.blinks if not one.frame <= edit.frame < one.end)
    if left == line.blinks:
        raise Refusal("The eyes are open there.")
    return LineEdited(_with(line, blinks=left), "Lift a blink")


def _range(edit: SheetRange) -> str:
    return f"{edit.start + 1}–{edit.end}"


def _lift(line: Line, edit: LiftMouths) -> LineEdited:
    kept = tuple(_without(line.by_hand, edit.start, edit.end))
    if kept == line.by_hand:
        raise Refusal("Nothing is set by hand there.")
    return LineEdited(_with(line, by_hand=kept), "Leave it to the rules")


def _without(mouths: Sequence[MouthByHand], start: int, end: int) -> list[MouthByHand]:
    """What is set by hand outside `[start, end)`; what reaches into it is cut."""
    kept = []
    for one in mouths:
        if one.frame < start:
            length = min(one.end, start) - one.frame
            kept.append(one.model_copy(update={"length": length}))
        if one.end > end:
            first = max(one.frame, end)
            kept.append(one.model_copy(update={"frame": first, "length": one.end - first}))
    return kept


def _move_boundary(line: Line, edit: MoveBoundary) -> LineEdited:
    reading = _read(line)
    phones = list(reading.phones)
    if edit.phone >= len(phones):
        raise Refusal("That phone is no longer in the reading.")
    after = phones[edit.phone]
    before = phones[edit.phone - 1] if edit.phone else None
    meet = before is not None and after.start - before.end < LEAST_PHONE_SECONDS
    low = 0.0 if before is None else before.end
    if before is not None and meet:
        low = before.start + LEAST_PHONE_SECONDS
    high = after.end - LEAST_PHONE_SECONDS
    # Whoever draws it past its neighbours has it as far as they let it.
    seconds = max(low, min(high, edit.seconds))
    if abs(seconds - after.start) < NEAR_SECONDS or low > high:
        raise Refusal(f"That boundary lies between {low:.2f} and {max(low, high):.2f} seconds.")
    phones[edit.phone] = after.model_copy(update={"start": seconds, "by_hand": True})
    if before is not None and meet:
        phones[edit.phone - 1] = before.model_copy(update={"end": seconds})
    moved = with_phones(reading, phones)
    return LineEdited(_with(line, reading=moved), f"Move where {after.phone} begins")


def _write_words(line: Line, edit: WriteWords, run: MouthRun) -> LineEdited:
    standing = line.reading or Reading(seconds=run.frames / float(line.rate))
    end = min(edit.end, standing.seconds)
    if end - edit.start < LEAST_PHONE_SECONDS:
        raise Refusal("A word is written over some part of the sound.")
    typed = words_typed(edit.text, line.said) if edit.text.strip() else []
    reading = with_words(standing, Stretch(start=edit.start, end=end), typed)
    if not typed and reading.words == standing.words:
        raise Refusal("No word lies there.")
    changes: dict[str, Any] = {"reading": reading}
    # The text of a line that has only words by hand is theirs.
    if line.text == _spelt(standing.words):
        changes |= {"text": _spelt(reading.words), "read_text": _spelt(reading.words)}
    said = {word.word.lower(): word.phones for word in typed if word.is_said_so}
    if said:
        changes["said"] = {**line.said, **said}
    label = f"Write “{_shortened(_spelt(typed))}”" if typed else "Take words away"
    told = ("The rough reading makes way for words.",) if standing.rough else ()
    return LineEdited(_with(line, **changes), label, told)


def _spelt(words: Sequence[SpokenWord] | Sequence[TypedWord]) -> str:
    return " ".join(word.word for word in words)


def _shortened(text: str) -> str:
    return text if len(text) <= _LONGEST_IN_LABEL else f"{text[: _LONGEST_IN_LABEL - 1]}…"


def _say_word(line: Line, edit: SayWord) -> LineEdited:
    word, said = edit.word.lower(), dict(line.said)
    if edit.phones.strip():
        said[word] = phones_of(edit.phones)
    elif word not in said:
        raise Refusal(f"“{edit.word}” is said as the dictionary says already.")
    else:
        del said[word]
    return LineEdited(_with(line, said=said), f"Say “{edit.word}” so")


def _write_note(line: Line, edit: WriteNote) -> LineEdited:
    notes = [note for note in line.notes if note.frame != edit.frame]
    text = edit.text.strip()
    if text:
        notes.append(Note(frame=edit.frame, text=text))
    notes.sort(key=lambda note: note.frame)
    return LineEdited(_with(line, notes=tuple(notes)), "Write a note" if text else "Lift a note")


def _read(line: Line) -> Reading:
    if line.reading is None:
        raise Refusal("The sound has not been read yet.")
    return line.reading


def with_phones(reading: Reading, phones: Sequence[SpokenPhone]) -> Reading:
    """The same words with other times for their phones; pauses lie where nothing is said."""
    rest = iter(phones)
    words: list[SpokenWord] = []
    for word in reading.words:
        own = tuple(next(rest) for _ in word.phones)
        ends = {"start": own[0].start, "end": own[-1].end} if own else {}
        words.append(word.model_copy(update={"phones": own, **ends}))
    spoken = [Stretch(start=phone.start, end=phone.end) for phone in phones]
    return reading.model_copy(
        update={
            "words": tuple(words),
            "pauses": pauses_between([*spoken, *reading.extra], reading.seconds),
        }
    )


def _with(line: Line, **changes: Any) -> Line:
    return line.model_copy(update=changes)


_ON_SHEET: dict[type[BaseModel], Callable[[MouthRun, Any], OnSheet]] = {
    WriteMouth: _write_mouth,
    HoldMouth: _hold,
    RepeatMouths: _repeat,
    TurnMouthsRound: _turn_round,
    FillOn: _fill,
}
_RULES: dict[type[BaseModel], Callable[[Line, Any], LineEdited]] = {
    SetLineText: _set_text,
    SetSpeaker: _set_speaker,
    SetMouthRules: _set_rules,
    UseChart: _use_chart,
    SetReading: _set_reading,
    ExposeMouths: _expose,
    BringSheetIn: _bring_sheet_in,
    LiftMouths: _lift,
    ProposeBlinks: _propose_blinks,
    SetBlink: _set_blink,
    MoveBoundary: _move_boundary,
    SayWord: _say_word,
    WriteNote: _write_note,
}
