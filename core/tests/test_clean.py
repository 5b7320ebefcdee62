"""Rules 6.0 and 6.5: a recipe run over a take, and what each step tells of itself."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.capture.by_hand import ByHand, FootMark, SpikeMark
from elastic_core.capture.clean import Cleaned, StepReport, clean
from elastic_core.capture.plants import worst_slide
from elastic_core.capture.recipe import (
    Conform,
    Contacts,
    Ground,
    HoldTheFeet,
    Mend,
    Recipe,
    Smooth,
    Step,
    Thin,
    Trim,
    house_recipe,
    moved_step,
)
from elastic_core.clip.playing import playable_of
from elastic_core.elastic import Elastic, Pin
from elastic_core.errors import Refusal
from elastic_core.motion import Motion

from .captures import (
    FIGURE,
    FPS,
    PutIn,
    errors_degrees,
    noisy,
    spiky,
    turned_in_world,
    walking,
)


def take(frames: int = 1200, spikes: int = 60) -> tuple[Motion, list[PutIn]]:
    """A walk with noise and spikes on a floor that is off."""
    turn = rotation.from_vector(np.radians([2.0, 0.0, 1.5]))
    tipped = turned_in_world(walking(frames), turn, np.array([3.0, 0.2, 1.0]))
    return spiky(noisy(tipped, 0.5), spikes)


def recipe(*steps: Step) -> Recipe:
    return Recipe(name="Test", steps=steps)


def run(motion: Motion, wanted: Recipe, by_hand: ByHand | None = None) -> Cleaned:
    return clean(FIGURE, motion, FPS, wanted, by_hand or ByHand())


def told(done: Cleaned, step: str) -> StepReport:
    return next(report for report in done.reports if report.step == step)


def test_the_house_recipe_makes_a_clean_clip_of_keys_at_the_clips_rate() -> None:
    motion, put_in = take()
    done = run(motion, house_recipe(Fraction(24)))
    assert done.motion.frames == 240
    assert done.clip.rate == 24
    assert done.clip.is_keyed
    assert told(done, "mend").before == pytest.approx(len(put_in), abs=2)
    assert told(done, "mend").after == 0
    assert told(done, "smooth").after < 0.1 * told(done, "smooth").before
    assert told(done, "ground").before == pytest.approx(2.5, abs=0.4)
    assert told(done, "contacts").after >= 18
    assert told(done, "hold_feet").before > 0.5
    assert told(done, "hold_feet").after < 0.1
    assert done.slide is not None
    assert done.slide.amount < 0.1
    assert done.captured_slide is not None
    assert done.captured_slide.amount > 3
    thin = told(done, "thin")
    assert thin.after == sum(len(curve) for curve in done.clip.keys.values())
    assert thin.said["greatest_error_degrees"] == thin.worst.amount <= 2.0  # type: ignore[union-attr]
    played = playable_of(FIGURE, done.clip).samples.whole()
    assert np.array_equal(played.rotations, done.motion.rotations)


def test_run_again_it_gives_the_same_bits() -> None:
    motion, _ = take(600, 20)
    once, again = (run(motion, house_recipe(Fraction(24))) for _ in range(2))
    assert np.array_equal(once.motion.rotations, again.motion.rotations)
    assert np.array_equal(once.motion.travel, again.motion.travel)
    assert once.clip == again.clip
    assert once.reports == again.reports


def test_a_step_that_is_off_leaves_no_trace() -> None:
    motion, _ = take(400, 10)
    steps = (Conform(), Trim(), Ground(), Mend(), Smooth(), Contacts(), HoldTheFeet(), Thin())
    off = recipe(*(step.model_copy(update={"on": False}) for step in steps))
    done = run(motion, off)
    assert done.motion is motion
    assert done.reports == ()
    with_off = recipe(Mend(), Smooth(on=False))
    assert np.array_equal(
        run(motion, with_off).motion.rotations, run(motion, recipe(Mend())).motion.rotations
    )


def test_the_take_itself_is_never_written_to() -> None:
    motion, _ = take(400, 10)
    before = motion.rotations.copy(), motion.travel.copy(), motion.root_move.copy()
    run(motion, house_recipe(Fraction(24)))
    for kept, now in zip(before, (motion.rotations, motion.travel, motion.root_move), strict=True):
        assert np.array_equal(kept, now)


def test_conforming_first_does_not_smear_spikes_before_they_are_mended() -> None:
    truth = walking(1200)
    motion, put_in = spiky(truth, 60)
    first = run(motion, recipe(Conform(rate=Fraction(24)), Mend()))
    assert told(first, "mend").before == len(put_in)
    wanted = run(truth, recipe(Conform(rate=Fraction(24)))).motion
    assert np.percentile(errors_degrees(first.motion, wanted), 99.9) < 0.3


def test_spikes_and_worst_are_told_in_frames_that_can_be_gone_to() -> None:
    motion, put_in = spiky(walking(600), 8)
    done = run(motion, recipe(Conform(rate=Fraction(24)), Trim(start=100, end=600), Mend()))
    inside = {(p.frame, p.end, p.joint) for p in put_in if p.frame >= 101}
    assert {(s.frame, s.end, s.joint) for s in done.spikes} == inside
    worst = told(done, "mend").worst
    assert worst is not None
    largest = max((s for s in done.spikes), key=lambda s: s.degrees)
    assert done.at[worst.frame] == pytest.approx(largest.frame, abs=4)
    assert worst.joint == largest.joint


def test_frame_k_stands_at_its_seconds_of_the_trimmed_take() -> None:
    motion = walking(600)
    done = run(motion, recipe(Conform(rate=Fraction(24)), Trim(start=212, end=512)))
    assert done.at.tolist() == [212 + 5 * k for k in range(60)]
    assert told(done, "trim").before == 600
    assert told(done, "trim").after == 300
    assert (told(done, "conform").before, told(done, "conform").after) == (300, 60)


def test_a_refused_spike_stays_and_one_added_by_hand_is_mended() -> None:
    truth = walking(400)
    motion, put_in = spiky(truth, 6, least=20)
    first = put_in[0]
    refused = SpikeMark(frame=first.frame, end=first.end, joint=first.joint)
    added = SpikeMark(frame=200, end=210, joint="Head")
    done = run(motion, recipe(Mend()), ByHand(refused=(refused,), added=(added,)))
    place = FIGURE.place_of(first.joint)
    kept = slice(first.frame, first.end)
    assert np.array_equal(done.motion.rotations[kept, place], motion.rotations[kept, place])
    assert told(done, "mend").before == len(put_in) + 1
    assert told(done, "mend").notes == ("1 spike refused by hand.",)
    head = FIGURE.place_of("Head")
    off = np.degrees(
        rotation.angle_between(
            done.motion.rotations[200:210, head], motion.rotations[200:210, head]
        )
    )
    assert 0 < off.max() < 3
    assert (refused.frame, refused.end, refused.joint) in {
        (s.frame, s.end, s.joint) for s in done.spikes
    }


def test_feet_painted_by_hand_are_held_as_they_were_painted() -> None:
    motion = walking(1200)
    plain = run(motion, recipe(Conform(rate=Fraction(24)), Contacts(), HoldTheFeet()))
    first = next(p for p in plain.clip.plants if p.side == "left" and p.start > 20)
    off = FootMark(
        side="left", start=int(5 * first.start) - 2, end=int(5 * first.end) + 2, planted=False
    )
    longer = FootMark(side="right", start=500, end=560, planted=True)
    done = run(
        motion,
        recipe(Conform(rate=Fraction(24)), Contacts(), HoldTheFeet()),
        ByHand(feet=(off, longer)),
    )
    left = [(p.start, p.end) for p in done.clip.plants if p.side == "left"]
    assert (first.start, first.end) not in left
    assert len(left) == sum(p.side == "left" for p in plain.clip.plants) - 1
    right = [p for p in done.clip.plants if p.side == "right"]
    assert any(p.start <= 100 and p.end >= 112 for p in right)
    slide = worst_slide(FIGURE, done.motion, done.clip.plants)
    assert slide is not None
    assert slide.amount < 0.1


def test_nothing_moves_by_more_than_it_says() -> None:
    motion, _ = take(600, 20)
    for step in (Mend(), Smooth()):
        done = run(motion, recipe(step))
        said = done.reports[0].said["greatest_change_degrees"]
        assert errors_degrees(done.motion, motion).max() == pytest.approx(said, abs=1e-9)
        assert done.change.worst_turn.amount == pytest.approx(said, abs=1e-9)
    losses = run(motion, recipe(Smooth())).change.losses()
    assert [row.degrees for row in losses] == sorted((row.degrees for row in losses), reverse=True)
    assert {row.joint for row in losses} == set(FIGURE.names)


def test_captured_stands_beside_the_result_on_the_same_ground_and_frames() -> None:
    motion, _ = take(600, 0)
    done = run(motion, recipe(Conform(rate=Fraction(24)), Ground()))
    apart = done.motion.root_in_world()[0] - done.captured.root_in_world()[0]
    assert np.abs(apart).max() < 0.01
    assert np.array_equal(done.captured.rotations[:, 1:], motion.rotations[::5, 1:])
    assert done.captured.travel[0, :2] == pytest.approx([0, 0], abs=0.01)


def test_an_elastic_plays_source_90_at_36_and_is_spent() -> None:
    pins = (Pin(played=0, source=0), Pin(played=36, source=90), Pin(played=72, source=300))
    by_hand = ByHand(elastic=Elastic(pins=pins))
    motion = walking(400)
    done = run(motion, recipe(Conform(rate=Fraction(24))), by_hand)
    assert done.at[36] == 90
    # On at the last pace until the take is over.
    assert done.motion.frames == 72 + int((399 - 300) / (210 / 36)) + 1
    unbaked = motion.at(np.array([90]))
    assert errors_degrees(done.motion.at(np.array([36])), unbaked).max() < 0.5
    # The outcome is a clip like any other: nothing of the elastic is left in it.
    assert "elastic" not in done.clip.model_dump()
    again = clean(FIGURE, done.motion, done.clip.rate, recipe(Conform(rate=Fraction(24))))
    assert np.array_equal(again.motion.rotations, done.motion.rotations)


def test_a_take_that_plays_at_another_pace() -> None:
    done = run(walking(600), recipe(Conform(rate=Fraction(24), pace=2.0)))
    assert done.motion.frames == 60
    assert done.at[10] == 100


@pytest.mark.parametrize(
    ("steps", "said"),
    [
        ((Smooth(), Mend()), "mend first"),
        ((Contacts(), HoldTheFeet(), Smooth()), "slide again"),
        ((HoldTheFeet(), Contacts()), "none are held"),
        ((HoldTheFeet(),), "none are held"),
        ((Contacts(), Ground()), "lay the ground first"),
    ],
)
def test_an_unwise_order_is_told(steps: tuple[Step, ...], said: str) -> None:
    assert any(said in text for text in recipe(*steps).warnings())


def test_the_house_recipe_is_wise_and_a_step_off_warns_of_nothing() -> None:
    assert house_recipe(Fraction(24)).warnings() == ()
    assert recipe(Smooth(on=False), Mend()).warnings() == ()


def test_steps_change_places_as_far_as_it_makes_sense() -> None:
    house = house_recipe(Fraction(24))
    moved = moved_step(house, "smooth", -1)
    assert [step.step for step in moved.steps][3:5] == ["smooth", "mend"]
    for name, places in (("thin", -1), ("conform", 2), ("trim", -1), ("ground", -2)):
        with pytest.raises(Refusal, match="Conform and trim come first"):
            moved_step(house, name, places)  # type: ignore[arg-type]
    with pytest.raises(Refusal, match="at the end"):
        moved_step(house, "thin", 1)


@pytest.mark.parametrize(
    ("steps", "said"),
    [((Mend(), Mend()), "each step once"), ((Thin(), Mend()), "thin comes last")],
)
def test_a_recipe_that_is_none_is_refused(steps: tuple[Step, ...], said: str) -> None:
    with pytest.raises((Refusal, ValueError), match=said):
        recipe(*steps)


@pytest.mark.parametrize("span", [(0, 601), (300, 300), (400, 200)])
def test_a_trim_that_leaves_nothing_is_refused(span: tuple[int, int]) -> None:
    with pytest.raises(Refusal, match="is not inside 0 to 600"):
        run(walking(600), recipe(Trim(start=span[0], end=span[1])))


def test_a_take_without_feet_is_cleaned_as_far_as_it_goes() -> None:
    motion = walking(300)
    flying = motion.travel + np.arange(300)[:, None] * np.array([0.1, 0.0, 0.0])
    done = run(replace(motion, travel=flying), house_recipe(Fraction(24)))
    assert told(done, "contacts").notes == ("No foot stands here, so none can be held.",)
    assert "no floor to be found" in told(done, "ground").notes[0]
    assert done.slide is None


def test_chosen_frames_of_the_take_are_keyed() -> None:
    done = run(
        walking(600),
        recipe(Conform(rate=Fraction(24)), Thin(degrees=5, cm=5)),
        ByHand(keyed=(335,)),
    )
    assert 67 in done.clip.keys["RightShoulder.turn.x"].times.tolist()
