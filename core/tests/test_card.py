"""The card of a stint (rule 5.1): changing one number never silently changes another."""

from itertools import permutations

import pytest

from elastic_core.elastic import Elastic
from elastic_core.errors import Refusal
from elastic_core.scene.cast import ClipSource
from elastic_core.scene.document import Scene, Stint
from elastic_core.scene.edits import apply_edit
from elastic_core.scene.edits.card import FOLLOWS, CardNumber, SetNumber, card_numbers

from .motions import material, once_clip, scene_of, turning_cycle

MATERIAL = material(turning_cycle(length=20), once_clip(30))
NUMBERS: tuple[CardNumber, ...] = tuple(FOLLOWS)
STINTS = {
    "a cycle": Stint(id="s", source=ClipSource(id="Round"), start=12, length_frames=50, in_frame=7),
    "a cycle at half pace": Stint(
        id="s",
        source=ClipSource(id="Round"),
        start=12,
        length_frames=40,
        elastic=Elastic.at_pace(0.5),
    ),
    "played once": Stint(
        id="s", source=ClipSource(id="Reach"), start=12, length_frames=16, in_frame=8
    ),
    "backwards": Stint(
        id="s",
        source=ClipSource(id="Reach"),
        start=12,
        length_frames=16,
        in_frame=24,
        elastic=Elastic.at_pace(-1),
    ),
}
CHANGES: dict[CardNumber, float] = {
    "scene_from": 3,
    "scene_to": -4,
    "clip_from": 2,
    "clip_to": -2,
    "pace": 0.25,
}


def numbers(scene: Scene) -> dict[str, float]:
    stint = scene.find("s")[1]
    return card_numbers(scene, MATERIAL.performance(stint.source), stint).model_dump()


@pytest.mark.parametrize("stint", STINTS.values(), ids=STINTS)
@pytest.mark.parametrize(("changed", "other"), list(permutations(NUMBERS, 2)))
def test_only_what_is_told_beforehand_follows(
    stint: Stint, changed: CardNumber, other: CardNumber
) -> None:
    scene = scene_of([stint])
    before = numbers(scene)
    step = CHANGES[changed]
    if before["clip_to"] < before["clip_from"] and changed in ("clip_from", "clip_to"):
        step = -step
    wanted = abs(before["pace"]) * (1 + step) if changed == "pace" else before[changed] + step
    edit = SetNumber(stint="s", number=changed, value=wanted)
    after = numbers(apply_edit(scene, edit, MATERIAL).scene)
    if other == FOLLOWS[changed]:
        assert after[other] != pytest.approx(before[other])
        return
    # Stretched lengths land on whole frames, so a pace is met as nearly as that allows.
    tolerance = 1e-9
    assert after[other] == pytest.approx(before[other], abs=tolerance)
    if changed == "pace":
        assert abs(after["pace"]) == pytest.approx(wanted, rel=0.5 / 10)
    else:
        assert after[changed] == pytest.approx(wanted, abs=0.5)


def test_numbers_that_cannot_be_are_refused_in_words() -> None:
    scene = scene_of([STINTS["played once"]])
    with pytest.raises(Refusal, match="A pace is more than 0 %"):
        apply_edit(scene, SetNumber(stint="s", number="pace", value=0), MATERIAL)
    with pytest.raises(Refusal, match="A pace is 10,000 % at the most"):
        apply_edit(scene, SetNumber(stint="s", number="pace", value=101), MATERIAL)
    over = apply_edit(scene, SetNumber(stint="s", number="clip_to", value=99), MATERIAL)
    assert over.notes == ("Reach ends here: it plays once, and has no more frames.",)
    assert numbers(over.scene)["clip_to"] == 30


def test_a_cycles_part_is_told_from_within_its_first_round() -> None:
    far = STINTS["a cycle"].model_copy(update={"in_frame": 67.0})
    shown = numbers(scene_of([far]))
    assert (shown["clip_from"], shown["clip_to"]) == (7, 57)
