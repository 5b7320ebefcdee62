"""Frames before a cycle's start are kept for an overlap (rule 4.2), at any rate, on any figure."""

from fractions import Fraction

import numpy as np
import pytest

from demo.production import demo
from elastic_core import rotation
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import CloseSeam, MirrorClip, StartWalk, TurnDial
from elastic_core.clip.edits.pose import KeyPose
from elastic_core.clip.edits.whole import SetClipLength
from elastic_core.clip.playable import PlayableClip
from elastic_core.clip.playing import playable_of
from elastic_core.cycle.seam import seam_report
from elastic_core.errors import Refusal
from elastic_core.figure import Figure
from elastic_core.fit import fit, fit_clip
from elastic_core.formats import bvh
from elastic_core.formats.bvh_clip import Wanted, bring_in
from elastic_core.formats.bvh_motion import motion_from

from .makes import slow_make

TAKE = bvh.read(slow_make())
ODO = demo().figures["odo"]


def cut(start: int, end: int, rate: Fraction | None = None) -> tuple[Figure, PlayableClip]:
    wanted = Wanted(
        name="Cut", start=start, end=end, rate=rate, is_cycle=True, metres_per_unit=0.01
    )
    return bring_in(TAKE, wanted, "f")


def made_of(figure: Figure, playable: PlayableClip) -> Made:
    clip = playable.clip.model_copy(update={"motion": "kept", "lead_in": "kept too"})
    return Made(clip, figure, playable.samples, playable.lead_in)


def test_the_frames_before_the_start_are_those_of_the_take() -> None:
    _, playable = cut(8, 20)
    lead = playable.lead_in
    assert lead is not None
    # As many as half the cycle, and no more than there are.
    assert lead.frames == 6
    take = motion_from(TAKE, 0.01)
    turned = rotation.angle_between(lead.rotations[:, 1:], take.rotations[2:8, 1:])
    assert np.degrees(turned).max() < 1e-9
    short = cut(2, 20)[1].lead_in
    assert short is not None
    assert short.frames == 2
    assert cut(0, 20)[1].lead_in is None


def test_the_lead_in_runs_on_into_the_first_frame() -> None:
    _, playable = cut(8, 20)
    assert playable.lead_in is not None
    # Seen from the path the root sways; it does not jump by the way that was walked.
    heights = [*playable.lead_in.root_move[:, 1], playable.samples.root_move[0, 1]]
    assert np.abs(np.diff(heights)).max() < 0.02
    assert np.abs(playable.lead_in.root_move[:, [0, 2]]).max() < 0.3
    assert np.abs(playable.lead_in.travel).max() == 0


def test_at_another_rate_it_is_sampled_between_the_takes_frames() -> None:
    _, playable = cut(8, 20, rate=TAKE.rate / 2)
    lead = playable.lead_in
    assert lead is not None
    assert (playable.clip.length_frames, lead.frames) == (6, 3)
    take = motion_from(TAKE, 0.01)
    turned = rotation.angle_between(lead.rotations[:, 1:], take.rotations[[2, 4, 6], 1:])
    assert np.degrees(turned).max() < 1e-6


@pytest.mark.parametrize("onto_odo", [False, True])
def test_an_overlap_closes_the_seam_with_it_and_is_refused_without(*, onto_odo: bool) -> None:
    figure, playable = cut(8, 20)
    if onto_odo:
        playable = fit_clip(figure, playable, ODO, "odo", fit(figure, ODO).mapping())
        figure = ODO
    made = made_of(figure, playable)
    before = seam_report(figure, made.playable).worst
    assert before.gap_degrees > 0.5
    closed = edit_clip(made, CloseSeam(method="overlap", frames=5)).clip
    after = seam_report(figure, playable_of(figure, closed))
    assert after.worst.gap_degrees < 1e-6
    assert after.worst.gap_cm < 1e-6
    # What shows has no frame before its start.
    assert min(key.time for curve in closed.keys.values() for key in curve.keys) == 0
    with pytest.raises(Refusal, match="Nothing precedes the start by 6 frames"):
        edit_clip(Made(made.clip, figure, playable.samples), CloseSeam(method="overlap", frames=6))


def test_what_starts_the_cycle_elsewhere_lets_the_lead_in_go() -> None:
    figure, playable = cut(8, 20)
    made = made_of(figure, playable)
    assert edit_clip(made, KeyPose(frame=3)).clip.lead_in == "kept too"
    match = edit_clip(made, CloseSeam(method="match"))
    assert match.clip.lead_in == "kept too"
    closed = Made(match.clip, figure)
    for edit in (TurnDial(frames=3), MirrorClip(), SetClipLength(length_frames=30)):
        assert edit_clip(closed, edit).clip.lead_in == ""
    assert edit_clip(made_of(ODO, cut_for_odo()), StartWalk(preset="amble")).clip.lead_in == ""


def cut_for_odo() -> PlayableClip:
    figure, playable = cut(8, 20)
    return fit_clip(figure, playable, ODO, "odo", fit(figure, ODO).mapping())
