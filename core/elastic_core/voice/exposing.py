"""From a reading to a run of mouths: the rules by which a line is exposed (rule 7.2).

Each sound wants its mouth on one frame: the one that it begins on, less the lead, and on twos the even frame
at or before that. Where time is short they are placed in order of precedence: what was set by hand, closed
lips, teeth on the lip, long pauses, stressed vowels, other vowels, other consonants. What finds no room is
joined to a neighbour.
"""

import math
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..errors import Refusal
from ..frozen import Frozen
from ..quantities import MOST_FRAMES
from .chart import REST, ChartMouths, Mouth, MouthKey
from .phones import CLOSURES, TEETH, VOWELS
from .reading import LEAST_PAUSE_SECONDS, Opening, Reading

Reason = Literal[
    "by hand",
    "closed lips",
    "teeth on lip",
    "pause",
    "stressed vowel",
    "vowel",
    "consonant",
    "short pause",
    "ease out",
    "from the sound",
]
WholeFrames = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
# The earlier in the list, the sooner it is placed.
_PRECEDENCE: tuple[Reason, ...] = (
    "closed lips",
    "teeth on lip",
    "pause",
    "stressed vowel",
    "vowel",
    "from the sound",
    "consonant",
    "short pause",
    "ease out",
)
_SILENT = ("pause", "short pause", "ease out")
# What an open mouth goes through on its way to rest.
_EASED = {"ai": "consonants", "o": "uw", "e": "consonants"}
_OPENINGS: dict[Opening, str] = {"closed": REST, "narrow": "uw", "half": "e", "open": "ai"}
# Times are told to a microsecond: less than that before a frame is on it.
_HAIR_FRAMES = 1e-4


class MouthRules(Frozen):
    """How mouths are exposed: changes `on` ones, twos or threes, none shorter than `shortest` frames, each
    `lead` frames before its sound. `as_spoken` every sound is shown that a frame can show, wherever it
    falls."""

    on: Annotated[int, Field(ge=1, le=4)] = 1
    shortest: Annotated[int, Field(ge=1, le=24)] = 2
    lead: Annotated[int, Field(ge=0, le=12)] = 1
    as_spoken: bool = False
    shows_closures: bool = True
    eases_out: bool = True

    @property
    def grid(self) -> int:
        return 1 if self.as_spoken else self.on

    @property
    def least(self) -> int:
        """The shortest mouth there can be between two changes."""
        return 1 if self.as_spoken else -(-self.shortest // self.on) * self.on


class MouthByHand(Frozen):
    """A mouth that a person chose: it shows from `frame` for `length` frames, whatever the rules say."""

    frame: WholeFrames
    length: Annotated[int, Field(ge=1, le=MOST_FRAMES)]
    mouth: MouthKey

    @property
    def end(self) -> int:
        return self.frame + self.length


class Exposed(Frozen):
    """One exposure of a run: a mouth, and why it shows."""

    frame: WholeFrames
    length: Annotated[int, Field(ge=1, le=MOST_FRAMES)]
    mouth: MouthKey
    drawing: int
    reason: Reason

    @property
    def end(self) -> int:
        return self.frame + self.length


class MouthRun(Frozen):
    """A line exposed: every frame once, in order."""

    exposures: tuple[Exposed, ...]
    closures_wanted: int = 0
    closures_shown: int = 0
    joined: int = 0
    changes_a_second: float = 0.0
    stood_in: dict[str, str] = Field(default={})

    @model_validator(mode="after")
    def _without_gaps(self) -> Self:
        for before, after in pairwise(self.exposures):
            if before.end != after.frame:
                raise Refusal("The exposures of a run follow each other without a gap.")
        return self

    @property
    def frames(self) -> int:
        return self.exposures[-1].end if self.exposures else 0

    @property
    def shortest_frames(self) -> int:
        """How long the shortest mouth shows, those set by hand apart."""
        lengths = [one.length for one in self.exposures if one.reason != "by hand"]
        return min(lengths, default=0)

    def at(self, frame: int) -> Exposed:
        """What shows on a frame; before the run its first, after it its last."""
        place = bisect_right([one.frame for one in self.exposures], frame) - 1
        return self.exposures[max(0, place)]


@dataclass(frozen=True)
class _Wanted:
    """A mouth that is wanted: from `frame` on, while its sound lasts, until `end`. `order` is its place among
    all that are. Of several sounds with one mouth the last begins on the frame `last`."""

    order: int
    frame: int
    end: int
    mouth: Mouth
    reason: Reason
    last: int = 0

    @property
    def must(self) -> bool:
        """Whether it is seen at once when it does not show."""
        return self.reason in ("closed lips", "teeth on lip")

    def least_end(self, start: int, rules: MouthRules) -> int:
        """When it may be over at the soonest where it begins on `start`: not before the last of its sounds."""
        soonest = start + rules.least
        if self.must and self.last >= soonest:
            soonest = (self.last // rules.grid + 1) * rules.grid
        return soonest


@dataclass(frozen=True)
class _Placed:
    wanted: _Wanted
    start: int
    least_end: int
    # The last of the sounds that it shows for, where it holds for a later one too.
    holds_for: int = -1


def frames_of_line(reading: Reading, rate: Fraction) -> int:
    """How many frames a line takes."""
    return max(1, math.ceil(reading.seconds * rate - _HAIR_FRAMES))


def exposed(
    reading: Reading,
    chart: ChartMouths,
    rate: Fraction,
    rules: MouthRules = MouthRules(),  # noqa: B008  frozen
    by_hand: Iterable[MouthByHand] = (),
) -> MouthRun:
    """Expose a line: one mouth on every frame of its sound.

    Raises Refusal for a mouth set by hand that the chart lacks, and for two on one frame.
    """
    frames = frames_of_line(reading, rate)
    hands = _hands(by_hand, frames)
    wanted = _wanted(reading, chart, rate, rules, frames)
    exposures: list[Exposed] = []
    at, placed_orders = 0, set[int]()
    for hand in [*hands, None]:
        end = frames if hand is None else hand.frame
        if at < end:
            part, placed = _exposed_part(wanted, at, end, rules, chart)
            is_short = end - at < rules.least and (exposures or hand is not None)
            if is_short and exposures and exposures[-1].reason == "by hand":
                exposures[-1] = exposures[-1].model_copy(
                    update={"length": end - exposures[-1].frame}
                )
            elif is_short and hand is not None:
                hand = hand.model_copy(update={"frame": at, "length": hand.end - at})
            else:
                exposures += part
                placed_orders |= placed
        if hand is not None:
            mouth = chart.mouth(hand.mouth)
            exposures.append(
                Exposed(
                    frame=hand.frame,
                    length=hand.length,
                    mouth=mouth.key,
                    drawing=mouth.drawing,
                    reason="by hand",
                )
            )
            at = hand.end
    run = _joined_where_equal(exposures)
    by_hand_frames = {frame for hand in hands for frame in range(hand.frame, hand.end)}
    covered = {one.order for one in wanted if one.frame in by_hand_frames}
    wanted_closures, shown_closures = _closures(reading, chart, rate, rules, run)
    dropped = [w for w in wanted if w.order not in placed_orders | covered]
    return MouthRun(
        exposures=tuple(run),
        closures_wanted=wanted_closures,
        closures_shown=shown_closures,
        joined=len([w for w in dropped if w.reason not in _SILENT]),
        changes_a_second=(len(run) - 1) / (frames / float(rate)),
        stood_in=_stood_in(reading, chart),
    )


def _hands(by_hand: Iterable[MouthByHand], frames: int) -> list[MouthByHand]:
    """What was set by hand inside the line, in order. Raises Refusal where two are on one frame."""
    hands = sorted((hand for hand in by_hand if hand.frame < frames), key=lambda one: one.frame)
    for before, after in pairwise(hands):
        if before.end > after.frame:
            raise Refusal(f"Two mouths are set by hand on frame {after.frame}.")
    return [
        hand.model_copy(update={"length": min(hand.length, frames - hand.frame)}) for hand in hands
    ]


def _wanted(
    reading: Reading, chart: ChartMouths, rate: Fraction, rules: MouthRules, frames: int
) -> list[_Wanted]:
    """All mouths that the sounds of a line want, and those of its pauses, in order."""
    fps, grid = float(rate), rules.grid

    def led(seconds: float) -> int:
        """The frame on which the mouth of a sound that begins here is wanted."""
        frame = math.floor(seconds * fps + _HAIR_FRAMES) - rules.lead
        return min(frames - 1, max(0, frame // grid * grid))

    def over(seconds: float) -> int:
        """The first frame, on the grid, at which a sound that ends here is over."""
        return min(frames, -(-math.ceil(seconds * fps - _HAIR_FRAMES) // grid) * grid)

    found: list[tuple[int, int, Mouth, Reason]] = []
    lasts: dict[int, int] = {}
    sounds = _sounds(reading, chart, rules)
    at = 0.0
    rest = chart.rest
    for place, (start, end, mouth, reason) in enumerate(sounds):
        if place == 0 or start - at >= LEAST_PAUSE_SECONDS:
            found += _resting(at if place else 0.0, start, found, over, rules, chart, fps)
        if found and found[-1][2] == mouth and found[-1][3] not in _SILENT:
            first, _, _, before = found[-1]
            best = min(reason, before, key=_PRECEDENCE.index)
            found[-1] = (first, over(end), mouth, best)
            lasts[len(found) - 1] = led(start)
        else:
            found.append((led(start), over(end), mouth, reason))
        at = end
    if not found:
        found.append((0, frames, rest, "pause"))
    elif over(at) < frames:
        found += _resting(at, reading.seconds, found, over, rules, chart, fps)
    return [_Wanted(place, *one, last=lasts.get(place, 0)) for place, one in enumerate(found)]


def _resting(
    start: float,
    end: float,
    found: Sequence[tuple[int, int, Mouth, Reason]],
    over: Callable[[float], int],
    rules: MouthRules,
    chart: ChartMouths,
    fps: float,
) -> list[tuple[int, int, Mouth, Reason]]:
    """The mouths of a pause: rest, and before that what eases an open mouth shut."""
    first, last = (over(start) if found else 0), max(over(start), math.floor(end * fps))
    last_mouth = found[-1][2].key if found else REST
    eased = _EASED.get(last_mouth)
    if rules.eases_out and eased in chart.by_key and last - first >= 3 * rules.least:
        ease = (first, first + rules.least, chart.by_key[eased], "ease out")
        return [ease, (first + rules.least, last, chart.rest, "pause")]  # type: ignore[list-item]
    is_long = last - first >= 2 * rules.least or not found
    return [(first, last, chart.rest, "pause" if is_long else "short pause")]


def _sounds(
    reading: Reading, chart: ChartMouths, rules: MouthRules
) -> list[tuple[float, float, Mouth, Reason]]:
    """What is heard, in seconds, with its mouth and the reason for that."""
    if not reading.words:
        return [
            (one.start, one.end, chart.standing_for(_OPENINGS[one.opening]).mouth, "from the sound")
            for one in reading.rough
            if one.opening != "closed"
        ]
    return [
        (
            phone.start,
            phone.end,
            chart.shown(phone.phone, phone.loudness_db).mouth,
            _reason(phone.phone, phone.stressed, rules),
        )
        for phone in reading.phones
    ]


def _reason(phone: str, stressed: bool, rules: MouthRules) -> Reason:
    if rules.shows_closures and phone in CLOSURES:
        return "closed lips"
    if rules.shows_closures and phone in TEETH:
        return "teeth on lip"
    if phone in VOWELS:
        return "stressed vowel" if stressed else "vowel"
    return "consonant"


def _exposed_part(
    wanted: Sequence[_Wanted], first: int, end: int, rules: MouthRules, chart: ChartMouths
) -> tuple[list[Exposed], set[int]]:
    """The frames `[first, end)`, where nothing is set by hand; and which of what is wanted shows there."""
    # All that is wanted on the first frame; where nothing is, what is under way there.
    begins = bisect_left(wanted, first, key=_frame_of)
    if begins == len(wanted) or wanted[begins].frame > first:
        begins -= 1
    here = list(wanted[max(0, begins) : bisect_left(wanted, end, key=_frame_of)])
    here = [replace(here[0], frame=first), *here[1:]] if here else []
    placed: list[_Placed] = []
    for reason in _PRECEDENCE:
        for one in here:
            if one.reason == reason:
                _place(placed, one, first, end, rules)
    if not placed:
        rest = _Wanted(-1, first, end, chart.rest, "pause")
        placed = [_Placed(here[0] if here else rest, first, end)]
    # Something shows on the first frame: what is under way there if there is room, else what comes first.
    placed[0] = replace(placed[0], start=first)
    ends = [*(one.start for one in placed[1:]), end]
    exposures = [
        Exposed(
            frame=one.start,
            length=until - one.start,
            mouth=one.wanted.mouth.key,
            drawing=one.wanted.mouth.drawing,
            reason=one.wanted.reason,
        )
        for one, until in zip(placed, ends, strict=True)
    ]
    return exposures, {one.wanted.order for one in placed}


def _frame_of(wanted: _Wanted) -> int:
    return wanted.frame


def _order_of(placed: _Placed) -> int:
    return placed.wanted.order


def _place(placed: list[_Placed], one: _Wanted, first: int, end: int, rules: MouthRules) -> None:
    """Find room for a mouth between those that are placed already, as near as can be to where it is wanted."""
    least, grid = rules.least, rules.grid
    place = bisect_left(placed, one.order, key=_order_of)
    before = placed[place - 1] if place else None
    after = placed[place] if place < len(placed) else None
    if before is not None and before.holds_for > one.order:
        # Nothing comes between two sounds that one mouth holds for.
        return
    low = before.least_end if before else first
    high = (after.start if after else end) - least
    if before is not None and before.wanted.mouth == one.mouth and one.frame < low + 1:
        # It shows already: it holds until this sound has had its time.
        if after is None or one.frame + least <= after.start:
            held = max(before.least_end, min(one.least_end(one.frame, rules), end))
            placed[place - 1] = replace(before, least_end=held, holds_for=one.order)
        return
    if after is not None and after.wanted.mouth == one.mouth and high < one.frame:
        # It may begin early, where nothing else would show until then.
        placed[place] = replace(after, start=max(low, min(one.frame, after.start)))
        return
    if high < low:
        return
    start = min(high, max(low, one.frame))
    if start % grid and start != first:
        down = start // grid * grid
        start = down if down >= low else down + grid
        if start > high:
            return
    # A mouth that would come when its sound is over says nothing.
    if (start >= one.end and not one.must) or one.frame - start > least:
        return
    latest = after.start if after else end
    placed.insert(
        place, _Placed(one, start, min(one.least_end(start, rules), max(latest, start + least)))
    )


def _joined_where_equal(exposures: Sequence[Exposed]) -> list[Exposed]:
    """Of two neighbours with one mouth there is one exposure; what was set by hand stays by itself."""
    joined: list[Exposed] = []
    for one in exposures:
        last = joined[-1] if joined else None
        if last and last.mouth == one.mouth and "by hand" not in (last.reason, one.reason):
            best = min(last.reason, one.reason, key=_PRECEDENCE.index)
            joined[-1] = last.model_copy(
                update={"length": last.length + one.length, "reason": best}
            )
        else:
            joined.append(one)
    return joined


def _closures(
    reading: Reading,
    chart: ChartMouths,
    rate: Fraction,
    rules: MouthRules,
    run: Sequence[Exposed],
) -> tuple[int, int]:
    """How many sounds have their lips closed, and for how many a closed mouth shows while they last."""
    fps = float(rate)
    wanted = [phone for phone in reading.phones if phone.phone in CLOSURES]
    closed = {key for key, mouth in chart.by_key.items() if chart.closes(mouth)}
    spans = [one for one in run if one.mouth in closed]
    ends = [one.end for one in spans]
    shown = 0
    for phone in wanted:
        low = math.floor(phone.start * fps + _HAIR_FRAMES) - rules.lead - rules.grid
        high = math.ceil(phone.end * fps) + 1
        # The first of them that is not over yet.
        place = bisect_right(ends, low)
        shown += place < len(spans) and spans[place].frame < high
    return len(wanted), shown


def _stood_in(reading: Reading, chart: ChartMouths) -> dict[str, str]:
    used = {phone.phone for phone in reading.phones}
    return {phone: key for phone, key in chart.stood_in.items() if phone in used}
