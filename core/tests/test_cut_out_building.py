"""A cut-out is built from a layered set, walks, and plays what was made for Odo (rules 2.1, 4.6)."""

from fractions import Fraction

import numpy as np
import pytest
from pydantic import TypeAdapter

from demo.production import demo
from elastic_core.anatomy import legs_of
from elastic_core.channels import turn_axes
from elastic_core.clip.edits import edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.edits.cycle import StartWalk
from elastic_core.clip.edits.pose import KeyPose
from elastic_core.clip.new import blank
from elastic_core.clip.playing import playable_of
from elastic_core.clip.pose import Turn
from elastic_core.clip.view import bench_of
from elastic_core.clock import Span
from elastic_core.cycle.starter import PRESETS, PresetName
from elastic_core.drawings.cut_out import CutOut, figure_of, on_picture
from elastic_core.drawings.cut_out_edits import CutOutEdit, edit_cut_out
from elastic_core.drawings.cut_out_proposed import Box, drawings_of_parts, proposed
from elastic_core.drawings.cut_out_view import cut_out_sheet
from elastic_core.drawings.drawing_set import DrawingSet, Pegs, SetDrawing
from elastic_core.drawings.orders import held_in
from elastic_core.drawings.playing import RunPlayed
from elastic_core.drawings.run import DrawingRun
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.fit import fit
from elastic_core.rotation import rotate
from elastic_core.scene.card_order import AS_MADE
from elastic_core.scene.cast import BodyTarget, ClipSource, RunSource
from elastic_core.scene.checks import marks_of
from elastic_core.scene.document import Lane, Scene, SceneFigure
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.cut_outs import DrawPart, OrderCard
from elastic_core.scene.edits.stints import PlaceStint
from elastic_core.scene.evaluate import frames_of
from elastic_core.scene.material import Material

from .drawn import picture

# Where each of the twelve pictures is painted on the sheet, in heights of it.
PAINTED: dict[str, Box] = {
    "hips": (-0.06, 0.47, 0.06, 0.57),
    "torso": (-0.07, 0.53, 0.07, 0.80),
    "head": (-0.06, 0.78, 0.10, 0.99),
    "near arm": (-0.03, 0.50, 0.03, 0.78),
    "near hand 1": (-0.03, 0.42, 0.03, 0.52),
    "near hand 2": (-0.03, 0.42, 0.05, 0.52),
    "far thigh": (-0.04, 0.27, 0.04, 0.53),
    "far shin": (-0.03, 0.05, 0.03, 0.30),
    "far foot": (-0.04, 0.0, 0.10, 0.07),
    "near thigh": (-0.04, 0.27, 0.04, 0.53),
    "near shin": (-0.03, 0.05, 0.03, 0.30),
    "near foot": (-0.04, 0.0, 0.10, 0.07),
}
RATE = Fraction(24)
EDIT: TypeAdapter[CutOutEdit] = TypeAdapter(CutOutEdit)


def layered() -> DrawingSet:
    drawings = tuple(
        SetDrawing(
            number=n, name=f"odo_{name.replace(' ', '_')}.png", picture=picture(name, 900, 1000)
        )
        for n, name in enumerate(PAINTED, start=1)
    )
    return DrawingSet(name="Paper Odo", drawings=drawings)


LAYERED = layered()
BOXES = dict(zip(LAYERED.numbers, PAINTED.values(), strict=True))
PAPER = proposed("Paper Odo", "layers", LAYERED, BOXES)


def after(cut_out: CutOut, *edits: dict[str, object]) -> CutOut:
    for edit in edits:
        cut_out = edit_cut_out(cut_out, EDIT.validate_python(edit), LAYERED).cut_out
    return cut_out


def paper_odo() -> Figure:
    return figure_of(PAPER, LAYERED)


# What the names tell


@pytest.mark.parametrize("looks", ["right", "left"])
def test_it_is_as_tall_as_its_paint(looks: str) -> None:
    def painted(one: SetDrawing, box: Box) -> SetDrawing:
        left, below, right, above = box
        shares = (left / 0.9 + 0.5, below, right / 0.9 + 0.5, above)
        cut = one.picture.model_copy(update={"painted": shares})
        return one.model_copy(update={"picture": cut})

    whole = layered()
    cut = whole.model_copy(
        update={
            "drawings": tuple(
                painted(one, box) for one, box in zip(whole.drawings, PAINTED.values(), strict=True)
            )
        }
    )
    stood = after(PAPER, {"kind": "stand_cut_out", "height_metres": 2.0, "looks": looks})
    made = figure_of(stood, cut)
    # From the soles, which lie on the pegs, to the top of the head at 99 parts of a hundred of the sheet.
    assert made.height_metres == pytest.approx(1.98, abs=1e-9)
    # Where nobody has looked, all of the sheet counts.
    assert figure_of(stood, whole).height_metres == pytest.approx(2.0, abs=1e-9)
    torso = next(card for card in made.dress.cards if card.name == "torso")
    widths = torso.painted_corners[:, 2]
    assert widths.max() - widths.min() == pytest.approx(2.0 * 0.14, abs=1e-9)


def test_twelve_pictures_are_eleven_parts_that_hang_as_a_person_does() -> None:
    hung = {part.name: part.parent for part in PAPER.parts}
    assert hung == {
        "hips": "", "torso": "hips", "head": "torso", "near arm": "torso", "near hand": "near arm",
        "far thigh": "hips", "far shin": "far thigh", "far foot": "far shin",
        "near thigh": "hips", "near shin": "near thigh", "near foot": "near shin",
    }  # fmt: skip
    assert PAPER.part("near hand").drawings == (5, 6)
    back = [part.name for part in sorted(PAPER.parts, key=lambda part: part.order)]
    assert back[:3] == ["far thigh", "far shin", "far foot"]
    assert all(name.startswith("near") for name in back[-5:])
    # A limb turns where it overlaps what it hangs on, the head at its foot.
    assert PAPER.part("near shin").pivot == pytest.approx((0.0, 0.27))
    assert PAPER.part("head").pivot == pytest.approx((0.005, 0.8052))
    # An ankle lies where boot and shin meet, not in the middle of the boot.
    assert PAPER.part("near foot").pivot == pytest.approx((0.0, 0.0616))
    assert PAPER.part("near foot").tip == (0.10, 0.0)


@pytest.mark.parametrize(
    ("names", "parts"),
    [
        (["gull_1.png", "gull_2.png"], ["part 1", "part 2"]),
        (["", ""], ["part 1", "part 2"]),
        (["Odo/l-hand-01.png", "Odo/head.png"], ["l hand", "head"]),
        (["灯守 頭.png", "灯守 体.png"], ["頭", "体"]),
        (["lamp.png"], ["lamp"]),
    ],
)
def test_parts_are_called_as_the_files_are(names: list[str], parts: list[str]) -> None:
    drawings = tuple(
        SetDrawing(number=n, name=name, picture=picture(str(n)))
        for n, name in enumerate(names, start=1)
    )
    assert list(drawings_of_parts(DrawingSet(name="Any", drawings=drawings))) == parts


def test_without_a_word_of_any_part_the_first_carries_the_others() -> None:
    drawings = tuple(SetDrawing(number=n, picture=picture(str(n))) for n in (1, 2, 3))
    made = proposed("Any", "set", DrawingSet(name="Any", drawings=drawings), {})
    assert [part.parent for part in made.parts] == ["", "part 1", "part 1"]
    assert len(figure_of(made, DrawingSet(name="Any", drawings=drawings)).joints) == 3


# The figure


def test_the_figure_stands_as_it_was_drawn() -> None:
    """Every picture of it at rest lies where it lies on the sheet, whichever way it looks."""
    nudged = LAYERED.model_copy(
        update={
            "pegs": Pegs(anchor=(0.4, 0.1), scale=0.8, turn_degrees=5.0),
            "drawings": tuple(
                one.model_copy(
                    update={"shift_pixels": (12.0, -7.0), "turn_degrees": 9.0, "scale": 1.5}
                )
                if one.number in (5, 6)
                else one
                for one in LAYERED.drawings
            ),
        }
    )
    for looks, ahead in (("right", 1.0), ("left", -1.0)):
        cut_out = (
            after(PAPER, {"kind": "stand_cut_out", "height_metres": 2.5, "looks": looks})
            if looks == "left"
            else after(PAPER, {"kind": "stand_cut_out", "height_metres": 2.5})
        )
        figure = figure_of(cut_out, nudged)
        root = cut_out.part("hips").pivot[0]
        for card in figure.dress.cards:
            joint = figure.at_rest.positions[0, figure.place_of(card.joint)]
            for shown in card.pictures:
                corner = np.array(_corner(card, shown))
                stands = joint[[2, 1]] + corner
                wanted = nudged.placed(nudged.drawing(shown.drawing))[:, 2]
                assert stands == pytest.approx(
                    [ahead * 2.5 * (wanted[0] - root), 2.5 * wanted[1]], abs=1e-9
                )
    assert on_picture(nudged, nudged.drawing(1), (0.0, 0.0)) == pytest.approx((0.4, 0.1))


def _corner(card, shown) -> tuple[float, float]:  # type: ignore[no-untyped-def]
    """From the joint to the lower left corner of a picture, as `Card` says, along z and up."""
    wide, high = shown.picture.width_pixels, shown.picture.height_pixels
    metres = card.metres_per_pixel * shown.scale
    z, y = -shown.pivot[0] * wide * metres, -shown.pivot[1] * high * metres
    turn = np.radians(card.turn_degrees + shown.turn_degrees)
    side = -1.0 if card.mirrored else 1.0
    return side * (np.cos(turn) * z + np.sin(turn) * y), -np.sin(turn) * z + np.cos(turn) * y


def test_near_and_far_are_partners_and_turn_in_the_paper_alone() -> None:
    figure = paper_odo()
    joint = figure.joints[figure.place_of("near shin")]
    assert (joint.side, joint.mirror, joint.plane) == ("right", "far shin", "x")
    assert turn_axes(figure, "near shin") == ("x",)
    assert {leg.side for leg in legs_of(figure)} == {"left", "right"}


@pytest.mark.parametrize("name", PRESETS)
def test_it_walks_by_the_walk_starter(name: PresetName) -> None:
    figure = paper_odo()
    walk = edit_clip(
        Made(blank(figure, "paper", "Walk", RATE, 24, is_cycle=True), figure),
        StartWalk(preset=name),
    )
    bench = bench_of(Made(walk.clip, figure))
    assert bench.seam is not None
    assert bench.seam.joints[0].gap_degrees < 0.5
    assert bench.seam.joints[0].gap_cm < 0.25
    assert len(bench.plants) == 2
    assert max(plant.slide_cm for plant in bench.plants) < 0.1
    turns = {name.rsplit(".", 1)[1] for name in walk.clip.keys if ".turn." in name}
    assert turns == {"x"}
    motion = playable_of(figure, walk.clip, None).samples.whole()
    sideways = forward(figure, motion).positions[..., 0]
    assert np.abs(sideways).max() < 1e-9


def test_a_pose_of_the_bench_keys_what_the_paper_can_do() -> None:
    figure = paper_odo()
    made = Made(blank(figure, "paper", "Wave", RATE, 24, is_cycle=True), figure)
    turn = Turn(joint="near arm", axis=(1.0, 1.0, 0.0), degrees=40.0)
    keyed = edit_clip(made, KeyPose(frame=0, changes=(turn,))).clip
    assert [name for name in keyed.keys if name.startswith("near arm")] == ["near arm.turn.x"]
    assert abs(keyed.keys["near arm.turn.x"].keys[0].value) > 20


def test_it_plays_a_clip_made_for_odo_after_the_fit() -> None:
    drawn = demo()
    odo = drawn.figures["odo"]
    figure = paper_odo()
    met = fit(odo, figure)
    legs = {"near thigh", "near shin", "near foot", "far thigh", "far shin", "far foot"}
    # Its one arm is its near one, and goes as Odo's right one does.
    assert legs | {"near arm", "near hand"} <= set(met.mapping().values())
    assert met.mapping()["r_shoulder"] == "near arm"
    amble = ClipSource(id="Amble")
    material = Material({**drawn.figures, "paper": figure}, {amble: drawn.clips["Amble"]})
    scene = Scene(
        name="Paper",
        rate="24",
        laid_frames=96,
        played_frames=96,
        figures=(SceneFigure(id="p", name="Paper", figure="paper"),),
        lanes=(Lane(id="l", name="Body", target=BodyTarget(figure="p")),),
    )
    placed = PlaceStint(stint="s", source=amble, start=0, lane="l", mapping=met.mapping())
    scene = apply_edit(scene, placed, material).scene
    (shown,) = frames_of(scene, material, np.arange(24.0))
    # He goes ahead, his legs swing as Odo's do, and never leaves the paper.
    assert shown.placed.positions[-1, 0, 2] - shown.placed.positions[0, 0, 2] > 0.5
    across = rotate(shown.placed.rotations, np.array([1.0, 0.0, 0.0]))
    assert across[..., 0].min() > 1 - 1e-9
    thigh = figure.place_of("near thigh")
    swing = np.degrees(np.ptp(2 * np.arctan2(*shown.motion.rotations[:, thigh, [1, 0]].T)))
    assert 25 < swing < 90
    arm = figure.place_of("near arm")
    turns = np.degrees(2 * np.arctan2(*shown.motion.rotations[:, arm, [1, 0]].T))
    assert 40 < np.ptp(turns) < 70
    # It does not sway out of the paper, and stands where it treads: all that is told is what was dropped.
    assert np.ptp(shown.placed.positions[:, 0, 0]) < 1e-9
    marks = marks_of(scene, material, scene.lanes[0], Span(0, 24))
    assert [mark.kind for mark in marks] == ["dropped"]


def test_it_swaps_its_hand_and_passes_its_arm_in_front() -> None:
    """The built figure in a scene: the hand by a run of its two drawings, the arm behind the body and back."""
    run = DrawingRun(name="Waves", drawings="layers", held=held_in("5 on 4, 6 on 4"), play="repeat")
    material = Material({"paper": paper_odo()}, {RunSource(id="waves"): RunPlayed(run)})
    scene = Scene(
        name="Paper",
        rate="24",
        laid_frames=24,
        played_frames=24,
        figures=(SceneFigure(id="p", name="Paper", figure="paper"),),
    )
    for edit in (
        DrawPart(figure="p", part="near hand", run="waves", start=4),
        OrderCard(figure="p", card="near arm", frame=8, order=-5),
        OrderCard(figure="p", card="near arm", frame=16, order=300),
    ):
        scene = apply_edit(scene, edit, material).scene
    (shown,) = frames_of(scene, material, np.arange(24.0))
    assert shown.drawings["near hand"].tolist() == [-1] * 4 + ([5] * 4 + [6] * 4) * 2 + [5] * 4
    assert shown.orders["near arm"].tolist() == [AS_MADE] * 8 + [-5] * 8 + [300] * 8
    cards = {card.name: card.order for card in paper_odo().dress.cards}
    assert -5 < min(cards.values()) < max(cards.values()) < 300


# What the page shows


def test_the_page_is_told_what_follows_from_a_cut_out() -> None:
    told = cut_out_sheet(PAPER, LAYERED)
    assert (told.hitch, told.has_legs, told.unused) == (None, True, [])
    assert told.parts[0].part.name == "far thigh"
    partners = {one.part.name: one.partner for one in told.parts}
    assert (partners["near foot"], partners["near arm"]) == ("far foot", None)
    # The pictures are as high as the sheet, and 0.9 of that wide.
    assert told.reach == pytest.approx((-0.45, 0.0, 0.45, 1.0))
    lame = after(PAPER, {"kind": "drop_part", "part": "far foot"})
    assert cut_out_sheet(lame, LAYERED).has_legs is False
    assert cut_out_sheet(lame, LAYERED).unused == [9]
    broken = cut_out_sheet(replace_part(PAPER, "head", parent=""), LAYERED)
    assert broken.hitch is not None
    assert broken.hitch.startswith("hips and head hang on nothing")
    assert broken.swing == []


@pytest.mark.parametrize("looks", ["right", "left"])
def test_it_is_tried_about_its_pivots(looks: str) -> None:
    """Where a part meets the one that it hangs on, their paper stays together."""
    cut_out = PAPER if looks == "right" else after(PAPER, {"kind": "stand_cut_out", "looks": looks})
    told = cut_out_sheet(cut_out, LAYERED)
    place = {one.part.name: k for k, one in enumerate(told.parts)}
    most = 0.0
    for frame in told.swing:
        for one in told.parts:
            if not one.part.parent:
                assert frame[place[one.part.name]] == pytest.approx((1, 0, 0, 1, 0, 0))
                continue
            own, above = (frame[place[name]] for name in (one.part.name, one.part.parent))
            pivot = one.part.pivot
            assert _at(own, pivot) == pytest.approx(_at(above, pivot), abs=1e-5)
            most = max(most, abs(np.degrees(np.arcsin(own[1]))))
    assert 14 < most < 50


def _at(lies: tuple[float, ...], place: tuple[float, float]) -> tuple[float, float]:
    a, b, c, d, e, f = lies
    x, y = place
    return a * x + c * y + e, b * x + d * y + f


# Edits


def test_parts_are_hung_otherwise_and_never_in_a_ring() -> None:
    head_first = after(PAPER, {"kind": "hang_part", "part": "torso"})
    assert head_first.carriers == ["torso"]
    assert head_first.part("hips").parent == "torso"
    assert head_first.part("near foot").parent == "near shin"
    with pytest.raises(Refusal, match="near shin hangs on near thigh itself"):
        after(PAPER, {"kind": "hang_part", "part": "near thigh", "parent": "near shin"})
    with pytest.raises(Refusal, match="no part called “lamp”"):
        after(PAPER, {"kind": "hang_part", "part": "near thigh", "parent": "lamp"})
    ring = [part.model_copy(update={"parent": "head"}) if part.name == "torso" else part
            for part in PAPER.parts]  # fmt: skip
    with pytest.raises(Refusal, match="would hang on itself"):
        CutOut.model_validate({**PAPER.model_dump(), "parts": [part.model_dump() for part in ring]})


def test_a_part_goes_and_what_hung_on_it_hangs_higher() -> None:
    assert (
        after(PAPER, {"kind": "drop_part", "part": "near arm"}).part("near hand").parent == "torso"
    )
    without = after(PAPER, {"kind": "drop_part", "part": "hips"})
    assert without.carriers == ["torso"]
    assert without.part("near thigh").parent == "torso"


def test_the_other_edits_do_what_they_say() -> None:
    made = after(
        PAPER,
        {"kind": "move_pivot", "part": "head", "to": (0.01, 0.79)},
        {"kind": "name_part", "part": "torso", "name": "coat"},
        {"kind": "show_drawings", "part": "near hand", "drawings": (6, 5, 6)},
        {"kind": "move_tip", "part": "near foot"},
        {"kind": "drop_part", "part": "far foot"},
        {"kind": "add_part", "part": "boot", "drawing": 9, "pivot": (0.0, 0.06)},
        {"kind": "rename_cut_out", "name": "紙のオド"},
    )
    assert made.part("head").pivot == (0.01, 0.79)
    assert made.part("head").parent == "coat"
    assert made.part("near hand").drawings == (6, 5)
    assert made.part("near foot").tip is None
    assert (made.part("boot").parent, made.part("boot").order) == ("hips", made.parts[-1].order)
    assert made.name == "紙のオド"
    order = [part.name for part in made.parts][::-1]
    laid = after(made, {"kind": "lay_parts", "parts": order})
    assert [part.name for part in sorted(laid.parts, key=lambda part: part.order)] == order
    for edit, complaint in (
        ({"kind": "lay_parts", "parts": order[1:]}, "names every part once"),
        ({"kind": "name_part", "part": "head", "name": "boot"}, "Another part is called boot"),
        ({"kind": "add_part", "part": "boot", "drawing": 1}, "Another part is called boot"),
        ({"kind": "add_part", "part": "hat", "drawing": 40}, "has no drawing 40"),
        ({"kind": "show_drawings", "part": "head", "drawings": (3, 41)}, "has no drawing 41"),
        ({"kind": "move_pivot", "part": "head", "to": (0.01, 0.79)}, "like that already"),
        ({"kind": "move_pivot", "part": "head", "to": (0.01, 790)}, "less than or equal"),
    ):
        with pytest.raises((Refusal, ValueError), match=complaint):
            after(laid, edit)


def test_what_cannot_be_made_is_said() -> None:
    two = replace_part(PAPER, "head", parent="")
    with pytest.raises(Refusal, match="hips and head hang on nothing"):
        figure_of(two, LAYERED)
    with pytest.raises(Refusal, match="has no parts yet"):
        figure_of(PAPER.model_copy(update={"parts": ()}), LAYERED)
    with pytest.raises(Refusal, match="has no drawing 99"):
        figure_of(replace_part(PAPER, "head", drawings=(99,)), LAYERED)


def replace_part(cut_out: CutOut, name: str, **changes: object) -> CutOut:
    parts = tuple(
        part.model_copy(update=changes) if part.name == name else part for part in cut_out.parts
    )
    return cut_out.model_copy(update={"parts": parts})
