"""Lines exposed: the rules for mouths (rule 7.2), by property and by example."""

from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from elastic_core.errors import Refusal
from elastic_core.voice.chart import ChartMouths, Mouth, usual_mouths
from elastic_core.voice.exposing import (
    Exposed,
    MouthByHand,
    MouthRules,
    MouthRun,
    exposed,
    frames_of_line,
)
from elastic_core.voice.phones import CLOSURES
from elastic_core.voice.reading import Mouthing, Reading

from .voices import moved, reading_of, readings

CHART = usual_mouths()
FILM = Fraction(24)
RULES = st.builds(
    MouthRules,
    on=st.integers(1, 3),
    shortest=st.integers(1, 5),
    lead=st.integers(0, 3),
    as_spoken=st.booleans(),
    eases_out=st.booleans(),
)
RATES = st.sampled_from([FILM, Fraction(25), Fraction(24000, 1001), Fraction(12), Fraction(60)])


def mouths(run: MouthRun) -> list[tuple[int, str]]:
    return [(one.frame, one.mouth) for one in run.exposures]


def at(run: MouthRun, frame: int) -> Exposed:
    return run.at(frame)


@given(readings(), RULES, RATES)
def test_every_frame_has_one_mouth(line: Reading, rules: MouthRules, rate: Fraction) -> None:
    run = exposed(line, CHART, rate, rules)
    assert run.exposures[0].frame == 0
    assert run.frames == frames_of_line(line, rate)
    assert all(a.end == b.frame and a.mouth != b.mouth for a, b in pairwise(run.exposures))


@given(readings(), RULES, RATES)
def test_no_mouth_is_shorter_than_the_shortest(
    line: Reading, rules: MouthRules, rate: Fraction
) -> None:
    run = exposed(line, CHART, rate, rules)
    assume(run.frames >= rules.least)
    assert run.shortest_frames >= rules.least


def test_lips_that_close_on_a_frame_with_other_sounds_are_shown() -> None:
    at_once = reading_of([("AA", 0.0, 0.03), ("P", 0.03, 0.036), ("AA", 0.036, 0.08)], 0.08)
    run = exposed(at_once, CHART, FILM, MouthRules(on=1, shortest=1, lead=0))
    assert (run.closures_wanted, run.closures_shown) == (1, 1)
    assert mouths(run) == [(0, "mbp"), (1, "ai")]
    # Lips that stay closed for the next one are not opened by what has no room between.
    between = [("AA", 0.0, 0.084), ("P", 0.084, 0.088), ("V", 0.088, 0.092), ("P", 0.092, 0.171)]
    run = exposed(reading_of(between, 0.171), CHART, FILM, MouthRules(on=1, shortest=1, lead=0))
    assert (run.closures_wanted, run.closures_shown) == (2, 2)
    assert mouths(run) == [(0, "ai"), (2, "mbp")]


@given(readings(), RULES, RATES)
def test_every_closure_is_shown(line: Reading, rules: MouthRules, rate: Fraction) -> None:
    run = exposed(line, CHART, rate, rules)
    assume(run.frames >= 2 * rules.least)
    assert run.closures_wanted == sum(phone.phone in CLOSURES for phone in line.phones)
    assert run.closures_shown == run.closures_wanted


@given(readings(), RULES)
def test_on_twos_all_changes_are_on_the_grid(line: Reading, rules: MouthRules) -> None:
    run = exposed(line, CHART, FILM, rules)
    assert all(one.frame % rules.grid == 0 for one in run.exposures)


@given(readings(), RULES, st.integers(1, 20))
def test_a_sound_that_is_moved_takes_its_mouths_along(
    line: Reading, rules: MouthRules, steps: int
) -> None:
    # Where the line begins there is no room to lead, and so no two starts are alike.
    line = moved(line, 1.0)
    frames = steps * rules.grid
    before = exposed(line, CHART, FILM, rules)
    after = exposed(moved(line, frames / 24), CHART, FILM, rules)
    assert mouths(after)[1:] == [(frame + frames, key) for frame, key in mouths(before)[1:]]


@given(readings(), RULES)
def test_the_rules_run_twice_give_the_same(line: Reading, rules: MouthRules) -> None:
    run = exposed(line, CHART, FILM, rules)
    assert exposed(line, CHART, FILM, rules) == run
    # A mouth that stands where the rules put it, set by hand, changes nothing around it.
    one = run.exposures[len(run.exposures) // 2]
    hand = MouthByHand(frame=one.frame, length=one.length, mouth=one.mouth)
    again = exposed(line, CHART, FILM, rules, [hand])
    assert at(again, one.frame).reason == "by hand"
    assert again.frames == run.frames


@given(readings(), RULES, st.data())
def test_what_was_set_by_hand_stays(line: Reading, rules: MouthRules, data: st.DataObject) -> None:
    frames = frames_of_line(line, FILM)
    frame = data.draw(st.integers(0, frames - 1))
    length = data.draw(st.integers(1, 6))
    hand = MouthByHand(frame=frame, length=length, mouth="smile")
    run = exposed(line, CHART, FILM, rules, [hand])
    shown = {at(run, k).mouth for k in range(frame, min(frame + length, frames))}
    assert shown == {"smile"}
    others = [one for one in run.exposures if one.reason != "by hand"]
    assert all(one.length >= min(rules.least, frames) for one in others)


def test_a_mouth_leads_its_sound() -> None:
    line = reading_of([("AA", 0.5, 1.0)], 2.0)
    # Half a second is frame 12.
    assert mouths(exposed(line, CHART, FILM, MouthRules(lead=0)))[1] == (12, "ai")
    assert mouths(exposed(line, CHART, FILM, MouthRules(lead=1)))[1] == (11, "ai")
    # On twos the even frame at or before the lead.
    assert mouths(exposed(line, CHART, FILM, MouthRules(lead=1, on=2)))[1] == (10, "ai")


def test_closed_lips_that_last_a_frame_are_shown_for_two() -> None:
    line = reading_of([("AA", 0.5, 0.9), ("M", 0.9, 0.94), ("IY", 0.94, 1.3)], 2.0)
    run = exposed(line, CHART, FILM, MouthRules(on=2))
    closed = next(one for one in run.exposures if one.mouth == "mbp")
    assert (closed.frame, closed.length, closed.reason) == (20, 2, "closed lips")
    assert (run.closures_wanted, run.closures_shown) == (1, 1)


def test_where_time_is_short_the_stressed_vowel_is_shown() -> None:
    phones = [
        ("T", 0.5, 0.54), ("UW", 0.54, 0.58), ("S", 0.58, 0.62), ("AA", 0.62, 0.66), ("K", 0.66, 0.7),
    ]  # fmt: skip
    run = exposed(reading_of(phones, 1.5, stressed="AA"), CHART, FILM, MouthRules(shortest=3))
    assert "ai" in {one.mouth for one in run.exposures}
    other = exposed(reading_of(phones, 1.5, stressed="UW"), CHART, FILM, MouthRules(shortest=3))
    assert "uw" in {one.mouth for one in other.exposures}
    assert run.joined >= 2


def test_two_sounds_with_one_mouth_have_one_exposure() -> None:
    line = reading_of([("T", 0.5, 0.7), ("S", 0.7, 0.9), ("N", 0.9, 1.1)], 2.0)
    run = exposed(line, CHART, FILM, MouthRules(eases_out=False))
    assert [key for _, key in mouths(run)] == ["rest", "consonants", "rest"]
    assert run.joined == 0


def test_pauses_rest_and_an_open_mouth_eases_out() -> None:
    line = reading_of([("AA", 0.5, 1.0), ("AA", 2.0, 2.5)], 4.0)
    run = exposed(line, CHART, FILM, MouthRules())
    assert mouths(run) == [
        (0, "rest"), (11, "ai"), (24, "consonants"), (26, "rest"), (47, "ai"), (60, "consonants"), (62, "rest"),
    ]  # fmt: skip
    straight = exposed(line, CHART, FILM, MouthRules(eases_out=False))
    assert at(straight, 24).mouth == "rest"


def test_a_line_without_words_rests() -> None:
    run = exposed(Reading(seconds=2.0), CHART, FILM)
    assert mouths(run) == [(0, "rest")]
    assert run.frames == 48


def test_a_rough_reading_is_exposed_by_how_open_the_mouth_is() -> None:
    line = Reading(
        seconds=2.0,
        rough=(
            Mouthing(start=0.0, end=0.5, opening="closed"),
            Mouthing(start=0.5, end=1.0, opening="open"),
            Mouthing(start=1.0, end=1.5, opening="narrow"),
            Mouthing(start=1.5, end=2.0, opening="closed"),
        ),
    )
    run = exposed(line, CHART, FILM, MouthRules(eases_out=False))
    assert mouths(run) == [(0, "rest"), (11, "ai"), (23, "uw"), (36, "rest")]


BEAK = ChartMouths(
    mouths=(
        Mouth(key="rest", drawing=1, name="Shut", phones=("M", "B", "P")),
        Mouth(key="half", drawing=2, name="Half", phones=("S", "T", "K")),
        Mouth(key="open", drawing=3, name="Open", phones=("AA",)),
    )
)


def test_what_a_chart_lacks_is_stood_in_for_and_told() -> None:
    line = reading_of([("AA", 0.5, 0.8), ("IY", 0.8, 1.2), ("M", 1.2, 1.5)], 2.0)
    run = exposed(line, BEAK, FILM, MouthRules(eases_out=False))
    assert [one.drawing for one in run.exposures] == [1, 3, 2, 1]
    assert run.stood_in == {"IY": "half"}
    # The beak is shut for M: its closures are shown.
    assert (run.closures_wanted, run.closures_shown) == (1, 1)


def test_loudness_chooses_among_mouths_of_one_vowel() -> None:
    chart = ChartMouths(
        mouths=(
            *CHART.mouths,
            Mouth(key="ai_small", drawing=11, name="A small", phones=("AA",), size="small"),
            Mouth(key="ai_shout", drawing=12, name="A shouted", phones=("AA",), size="shouted"),
        )
    )
    assert chart.shown("AA", 0.0).mouth.key == "ai"
    assert chart.shown("AA", -12.0).mouth.key == "ai_small"
    assert chart.shown("AA", 8.0).mouth.key == "ai_shout"
    assert chart.shown("AE", 8.0).mouth.key == "ai"


def test_rest_never_stands_for_closed_lips_while_they_are_there() -> None:
    assert CHART.standing_for("mbp").mouth.key == "mbp"
    without = ChartMouths(mouths=tuple(m for m in CHART.mouths if m.key != "mbp"))
    shown = without.shown("M")
    assert (shown.mouth.key, shown.instead_of) == ("rest", "mbp")


def test_two_mouths_by_hand_on_one_frame_are_refused() -> None:
    line = reading_of([("AA", 0.5, 1.0)], 2.0)
    hands = [
        MouthByHand(frame=4, length=4, mouth="smile"),
        MouthByHand(frame=6, length=2, mouth="rest"),
    ]
    with pytest.raises(Refusal, match="Two mouths are set by hand on frame 6"):
        exposed(line, CHART, FILM, MouthRules(), hands)
    with pytest.raises(Refusal, match="no mouth “grin”"):
        exposed(line, CHART, FILM, MouthRules(), [MouthByHand(frame=4, length=4, mouth="grin")])


def test_a_chart_with_one_number_twice_is_refused() -> None:
    with pytest.raises(Refusal, match="Two mouths of the chart have the drawing 1"):
        ChartMouths(mouths=(CHART.mouths[0], CHART.mouths[1].model_copy(update={"drawing": 1})))
