"""Lanes over lanes by mask and weight, gaps that ease, chosen rest poses, and free shapes (rules 5.2, 5.6)."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from demo.production import demo
from elastic_core.anatomy import body_parts
from elastic_core.clock import Span
from elastic_core.curve import Curve, Key
from elastic_core.errors import Refusal
from elastic_core.figure import forward
from elastic_core.moments import lane_time, source
from elastic_core.motion import Motion, blend
from elastic_core.scene.alone import alone
from elastic_core.scene.cast import BodyTarget, ClipSource
from elastic_core.scene.checks import marks_of
from elastic_core.scene.desk import desk_of
from elastic_core.scene.document import Lane, Scene, SceneFigure, Stint
from elastic_core.scene.edits import SceneEdit, apply_edit
from elastic_core.scene.edits.figures import SetRest
from elastic_core.scene.edits.joins import SetJoin
from elastic_core.scene.edits.lanes import MaskLane, SetGap, SetLane
from elastic_core.scene.edits.stints import SplitStint, StretchStint, TrimStint
from elastic_core.scene.edits.weights import FadeStint, KeyWeight
from elastic_core.scene.evaluate import figure_motion
from elastic_core.scene.fades import Fades, fades_of, weight_curve
from elastic_core.scene.join import shaped
from elastic_core.scene.staging import staged_with

DEMO = demo()
ODO, MATERIAL = DEMO.figures["odo"], DEMO.material
PARTS = body_parts(ODO)
UPPER = tuple(PARTS["Upper body"])
LEGS = [ODO.place_of(name) for name in PARTS["Lower body"]]


def stint(name: str, clip: str, start: float, length: float, **more: object) -> Stint:
    fields = {"id": name, "source": ClipSource(id=clip), "start": start, "length_frames": length}
    return Stint.model_validate({**fields, **more})


def reaching() -> Scene:
    """Odo reaches for the lamp while he walks."""
    body = BodyTarget(figure="o")
    return Scene(
        name="Test",
        rate="24",
        laid_frames=120,
        played_frames=120,
        figures=(SceneFigure(id="o", name="Odo", figure="odo"),),
        lanes=(
            Lane(
                id="over",
                name="Over",
                target=body,
                mask=UPPER,
                stints=(stint("reach", "Reach and light", 30, 64),),
            ),
            Lane(id="under", name="Body", target=body, stints=(stint("walk", "Amble", 0, 120),)),
        ),
    )


def motion(scene: Scene, frames: np.ndarray | None = None) -> Motion:
    every = np.arange(120.0) if frames is None else frames
    return figure_motion(scene, MATERIAL, scene.figures[0], every)


def after(scene: Scene, *edits: SceneEdit) -> Scene:
    for edit in edits:
        scene = apply_edit(scene, edit, MATERIAL).scene
    return scene


def muted(scene: Scene, lane: str = "over") -> Motion:
    return motion(after(scene, SetLane(lane=lane, muted=True)))


def test_parts_are_the_trades_own() -> None:
    assert list(PARTS) == ["Upper body", "Lower body", "Left arm", "Right arm", "Head"]
    assert set(PARTS["Upper body"]) | set(PARTS["Lower body"]) == set(ODO.names)
    assert {"hips", "l_hip", "r_toe"} <= set(PARTS["Lower body"])
    assert "l_wrist" in PARTS["Left arm"]
    assert not set(PARTS["Left arm"]) & set(PARTS["Right arm"])


def test_a_reach_over_a_walk_leaves_the_legs_to_the_bit() -> None:
    """Done when 5."""
    both, walk = motion(reaching()), muted(reaching())
    assert np.array_equal(both.rotations[:, LEGS], walk.rotations[:, LEGS])
    assert np.array_equal(both.travel, walk.travel)
    assert np.array_equal(both.root_move, walk.root_move)
    inside = slice(30, 94)
    reach = DEMO.clips["Reach and light"].at(source(np.arange(64.0)))
    chest = ODO.place_of("chest")
    assert np.array_equal(both.rotations[inside, chest], reach.rotations[:, chest])
    assert np.array_equal(both.rotations[:30], walk.rotations[:30])
    assert np.array_equal(both.rotations[94:], walk.rotations[94:])


def test_weights_fade_and_are_keyed_from_the_stints_start() -> None:
    plain, walk = motion(reaching()), muted(reaching())
    faded = after(reaching(), FadeStint(stint="reach", fade_in=10, fade_out=20, weight=0.5))
    shown = motion(faded)
    wrist = ODO.place_of("l_elbow")

    def share(frame: int) -> float:
        """How far the joint is from the walk's rotation towards the reach's."""
        apart = [
            2
            * np.arccos(min(1.0, abs(float(a.rotations[frame, wrist] @ b.rotations[frame, wrist]))))
            for a, b in ((walk, shown), (walk, plain))
        ]
        return float(apart[0] / apart[1])

    assert np.array_equal(shown.rotations[30], walk.rotations[30])
    assert share(35) == pytest.approx(0.25, abs=1e-6)
    assert share(55) == pytest.approx(0.5, abs=1e-6)
    assert share(84) == pytest.approx(0.25, abs=1e-6)
    assert np.array_equal(shown.rotations[:, LEGS], walk.rotations[:, LEGS])
    keyed = after(faded, KeyWeight(stint="reach", frame=60, weight=1.0))
    assert [key.time for key in keyed.find("reach")[1].weight.keys] == [0, 10, 30, 44, 64]  # type: ignore[union-attr]
    assert np.allclose(motion(keyed).rotations[60], plain.rotations[60])
    taken = after(keyed, KeyWeight(stint="reach", frame=60))
    assert np.array_equal(motion(taken).rotations, shown.rotations)
    plain_again = after(faded, FadeStint(stint="reach"))
    assert plain_again.find("reach")[1].weight is None
    with pytest.raises(Refusal, match="the fades would overlap"):
        after(reaching(), FadeStint(stint="reach", fade_in=40, fade_out=40))
    with pytest.raises(Refusal, match="has no key of its weight there"):
        after(faded, KeyWeight(stint="reach", frame=61))


def test_weights_keep_their_frames_when_a_stint_is_trimmed_or_split_and_stretch_with_it() -> None:
    faded = after(reaching(), FadeStint(stint="reach", fade_in=10, fade_out=20))
    shown = motion(faded)
    split = after(faded, SplitStint(stint="reach", frame=60, new_stint="rest"))
    assert np.abs(motion(split).rotations - shown.rotations).max() < 1e-12
    cut = after(faded, TrimStint(stint="reach", edge="start", frame=45))
    assert np.abs(motion(cut).rotations[45:] - shown.rotations[45:]).max() < 1e-12
    long = after(faded, StretchStint(stint="reach", length_frames=80)).find("reach")[1]
    assert [key.time for key in long.weight.keys] == [0, 12.5, 55, 80]  # type: ignore[union-attr]


def test_a_lane_with_the_root_in_its_mask_carries_the_figure() -> None:
    whole = after(reaching(), MaskLane(lane="over", joints=None))
    assert whole.lane("over").mask is None
    half = after(whole, FadeStint(stint="reach", weight=0.5))
    between = motion(half).travel[60]
    walk, over = muted(reaching()).travel[60], motion(whole).travel[60]
    assert np.allclose(between, (walk + over) / 2, atol=1e-12)


def test_what_a_mask_cannot_be_says_why() -> None:
    for edit, says in (
        (MaskLane(lane="over", joints=()), "would do nothing"),
        (MaskLane(lane="under", joints=("chest",)), "The lowest lane drives the whole figure"),
        (MaskLane(lane="over", joints=("wing",)), "has no joint called “wing”"),
    ):
        with pytest.raises(Refusal, match=says):
            after(reaching(), edit)
    done = apply_edit(reaching(), MaskLane(lane="over", joints=("head", "chest")), MATERIAL)
    assert done.label == "Odo, Over: drive 2 joints"
    # In the figure's own order.
    assert done.scene.lane("over").mask == ("chest", "head")
    every = apply_edit(reaching(), MaskLane(lane="over", joints=tuple(ODO.names)), MATERIAL)
    assert every.scene.lane("over").mask is None


def two(gap: str, own: str | None = None) -> Scene:
    scene = reaching()
    stints = (
        stint("a", "Stand", 0, 30, gap=own),
        stint("b", "Look back", 60, 36, in_frame=10),
    )
    under = scene.lane("under").model_copy(update={"stints": stints, "gap": gap})
    return scene.model_copy(update={"lanes": (under,)})


def test_a_gap_eases_over_its_last_frames() -> None:
    held, eased = motion(two("hold")), motion(two("ease"))
    assert np.array_equal(eased.rotations[:52], held.rotations[:52])
    assert np.abs(eased.rotations[59] - eased.rotations[60]).max() < 0.02
    assert np.abs(held.rotations[59] - held.rotations[60]).max() > 0.1
    head = ODO.place_of("head")
    turned = [
        abs(float(eased.rotations[f, head] @ held.rotations[30, head])) for f in range(51, 61)
    ]
    assert all(a >= b - 1e-12 for a, b in zip(turned, turned[1:], strict=False))
    longer = after(two("ease"), SetLane(lane="under", ease_frames=20))
    assert not np.array_equal(motion(longer).rotations[45], held.rotations[45])
    label = apply_edit(two("ease"), SetLane(lane="under", ease_frames=20), MATERIAL).label
    assert label == "Odo, Body: ease over 20 frames"


def test_a_gap_may_have_a_rule_of_its_own() -> None:
    own = after(two("hold"), SetGap(stint="a", gap="rest"))
    assert np.array_equal(motion(own).rotations[45], ODO.rest_motion.rotations[0])
    gaps = desk_of(own, MATERIAL).lanes[0].gaps
    assert [(gap.rule, gap.own, gap.after) for gap in gaps] == [
        ("rest", True, "a"),
        ("hold", False, "b"),
    ]
    back = after(own, SetGap(stint="a"))
    assert np.array_equal(motion(back).rotations, motion(two("hold")).rotations)


def test_the_rest_pose_can_be_any_clips() -> None:
    chosen = after(two("rest"), SetRest(figure="o", clip="Reach and light", frame=30))
    pose = DEMO.clips["Reach and light"].at(source([30.0]))
    shown = motion(chosen)
    assert np.array_equal(shown.rotations[45], pose.rotations[0])
    assert np.array_equal(shown.root_move[45], pose.root_move[0])
    # Where it stood.
    assert np.array_equal(shown.travel[45], motion(two("rest")).travel[45])
    assert "Reach and light" in chosen.clip_ids
    empty = chosen.model_copy(update={"lanes": ()})
    assert np.array_equal(motion(empty).rotations[0], pose.rotations[0])
    assert after(chosen, SetRest(figure="o")).figures[0].rest is None
    with pytest.raises(Refusal, match="was made for another figure"):
        after(two("rest"), SetRest(figure="o", clip="Flap"))


def test_a_free_shape_holds_the_others_and_never_goes_back() -> None:
    share = np.linspace(-0.2, 1.2, 57)
    for shape, slopes in (
        ("even", (1, 1)),
        ("smooth", (0, 0)),
        ("early", (3, 0)),
        ("late", (0, 3)),
    ):
        assert np.allclose(shaped(share, "free", slopes), shaped(share, shape), atol=1e-12)
    for slopes in ((3.0, 3.0), (0.0, 2.4), (2.9, 0.3)):
        weights = shaped(share, "free", slopes)
        assert weights[0] == 0
        assert weights[-1] == 1
        assert np.diff(weights).min() > -1e-12


def test_the_upper_body_hands_over_in_its_own_way() -> None:
    scene = DEMO.scene
    plain = figure_motion(scene, MATERIAL, scene.figures[0], np.arange(288.0))
    own = after(scene, SetJoin(stint="hurry", upper_shape="late"))
    shown = figure_motion(own, MATERIAL, own.figures[0], np.arange(288.0))
    assert np.array_equal(shown.rotations[:, LEGS], plain.rotations[:, LEGS])
    assert np.array_equal(shown.travel, plain.travel)
    chest = ODO.place_of("chest")
    assert not np.array_equal(shown.rotations[165, chest], plain.rotations[165, chest])
    late = after(scene, SetJoin(stint="hurry", shape="late"))
    whole = figure_motion(late, MATERIAL, late.figures[0], np.arange(288.0))
    assert np.array_equal(shown.rotations[165, chest], whole.rotations[165, chest])
    # What the clips explain is told joint by joint.
    stage, lane = staged_with(own, MATERIAL, own.lane("odo-body"))
    turned, _ = alone(stage, lane, Span(160, 174)).beyond_clips
    assert turned.max() < 15
    assert marks_of(own, MATERIAL, own.lane("odo-body"), Span(0, 288)) == []
    same = after(own, SetJoin(stint="hurry", upper_shape="same"))
    assert same.find("hurry")[1].upper_shape is None


def test_world_poses_of_a_masked_reach_stand_on_the_walks_feet() -> None:
    both, walk = (forward(ODO, one) for one in (motion(reaching()), muted(reaching())))
    assert np.array_equal(both.positions[:, LEGS], walk.positions[:, LEGS])
    hand = ODO.place_of("l_wrist")
    assert np.linalg.norm(both.positions[60, hand] - walk.positions[60, hand]) > 0.1


def test_weights_sum_to_one_wherever_a_stint_plays() -> None:
    scene = after(
        DEMO.scene, SetJoin(stint="hurry", shape="free", slopes=(2.5, 0.4), upper_shape="late")
    )
    stage, lane = staged_with(scene, MATERIAL, scene.lane("odo-body"))
    shown = alone(stage, lane, Span(0, 288))
    moments = lane_time(np.arange(0.25, 288, 0.5))
    weights = sum(shown.weights(place, moments) for place in range(len(lane.lane.stints)))
    assert np.abs(np.asarray(weights) - 1).max() < 1e-12


def test_a_blend_is_the_same_whichever_sign_a_rotation_has() -> None:
    first = DEMO.clips["Amble"].at(source(np.arange(16.0)))
    second = DEMO.clips["Hurry"].at(source(np.arange(16.0)))
    weight = np.linspace(0, 1, 16)
    plain = blend(first, second, weight)
    flipped = blend(replace(first, rotations=-first.rotations), second, weight)
    dots = np.abs((plain.rotations * flipped.rotations).sum(axis=-1))
    assert np.abs(dots - 1).max() < 1e-12


@given(
    length=st.integers(1, 400),
    shares=st.tuples(st.floats(0, 1), st.floats(0, 1)),
    weight=st.floats(0.01, 1),
)
def test_fades_are_read_back_from_their_keys(
    length: int, shares: tuple[float, float], weight: float
) -> None:
    fade_in = round(shares[0] * length)
    fade_out = round(shares[1] * (length - fade_in))
    fades = Fades(fade_in=fade_in, fade_out=fade_out, weight=weight)
    curve = weight_curve(fades, length)
    assert fades_of(curve, length) == fades
    if curve is not None:
        assert curve.values(np.array([float(fade_in)]))[0] == pytest.approx(weight)


def test_a_weight_with_keys_of_its_own_is_no_fade() -> None:
    plain = Curve(keys=(Key(time=0.0, value=0.0), Key(time=10.0, value=1.0)))
    assert fades_of(plain, 10.0) == Fades(fade_in=10.0)
    assert fades_of(plain, 24.0) is None
    assert fades_of(plain.with_value(4.0, 0.9), 10.0) is None
    assert fades_of(None, 10.0) == Fades()
    # Keys that lie beyond a stint that was trimmed.
    whole = weight_curve(Fades(fade_in=4.0, fade_out=6.0), 60.0)
    assert fades_of(whole, 30.0) is None
    assert fades_of(whole, 2.0) is None
