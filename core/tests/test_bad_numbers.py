"""Every number of every edit, as bad as it can be: a sentence, or a document that opens again (rule 8.3)."""

import copy
import re
from collections.abc import Iterator
from typing import Any, get_args

import numpy as np
import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st
from pydantic import BaseModel, TypeAdapter, ValidationError

from demo.production import demo
from elastic_core.beats import Beat
from elastic_core.clip.document import Clip
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Made
from elastic_core.clip.playing import playable_of
from elastic_core.clip.view import bench_of
from elastic_core.errors import Refusal, in_words, refusing
from elastic_core.figure import Figure
from elastic_core.moments import source
from elastic_core.scene.document import Scene
from elastic_core.scene.edits import SceneEdit

from .test_every_edit import FIELDS, START, check, outcome

NAN, INF = float("nan"), float("inf")
BAD = [
    NAN,
    INF,
    -INF,
    1e300,
    -5e134,
    1e-161,
    -1e-161,
    5e-324,
    2**70,
    -(2**63),
    1e6,
    -1e6,
    1e7,
    0,
    -1,
]
SCENE_EDIT: TypeAdapter[Any] = TypeAdapter(SceneEdit)
CLIP_EDIT: TypeAdapter[Any] = TypeAdapter(ClipEdit)

DEMO = demo()
AMBLE = DEMO.clips["Amble"].clip
BENCH = Made(
    AMBLE.model_copy(update={"beats": (Beat(id="beat", name="Stands", start=2, end=9),)}),
    DEMO.figures["odo"],
)
CHEST = "chest.turn.x"
CHOSEN = {CHEST: BENCH.clip.keys[CHEST].times[:2].tolist()}
KEY = {"time": 3, "value": 10, "in_slope": 0.5, "out_slope": 0.5, "span": "free"}
PICTURE = {"file": "0" * 64, "width_pixels": 640, "height_pixels": 480}
# One good edit of every kind; each of its numbers is then made bad.
GOOD: dict[str, dict[str, Any]] = {
    "key_pose": {
        "frame": 5,
        "changes": [
            {"kind": "turn", "joint": "chest", "axis": [1, 0, 0], "degrees": 20},
            {"kind": "reach", "joint": "r_wrist", "to": [0.4, 1.2, 0.3]},
            {"kind": "move_root", "by": [0.1, 0.0, 0.1]},
            {"kind": "set_value", "channel": "head.turn.y", "value": 12},
        ],
    },
    "insert_keys": {"frame": 5, "joints": ["chest"]},
    "favour": {"frame": 5, "share": 0.5, "joints": ["chest"], "fence_frames": 2},
    "move_keys": {"chosen": CHOSEN, "frames": 2, "snap": False},
    "scale_keys": {"chosen": CHOSEN, "pivot": 1, "factor": 1.5, "snap": False},
    "widen_keys": {"chosen": CHOSEN, "frames": 2, "snap": False},
    "reverse_keys": {"chosen": CHOSEN},
    "retime_keys": {"start": 2, "end": 9, "pace": 0.5, "ramp_frames": 1, "ripple": True},
    "soften_keys": {"chosen": CHOSEN, "share": 0.5},
    "trail_joints": {"joints": ["l_shoulder"], "frames": 2},
    "delete_keys": {"chosen": CHOSEN},
    "snap_keys": {"chosen": CHOSEN},
    "paste_keys": {"keys": {CHEST: [KEY]}, "frame": 4},
    "set_spans": {"chosen": CHOSEN, "span": "even"},
    "set_key": {
        "channel": CHEST, "time": CHOSEN[CHEST][0], "value": 3, "new_time": 1, "in_slope": 1, "out_slope": 1,
    },
    "shift_values": {"chosen": CHOSEN, "by": 4},
    "set_beyond": {"channels": [CHEST], "before": "offset", "after": "offset"},
    "start_walk": {"gait": {"stride_metres": 1.2, "frames_per_step": 10, "lean_degrees": 3}},
    "close_seam": {"method": "spread", "frames": 5},
    "turn_dial": {"frames": 5},
    "link_halves": {"linked": not AMBLE.half_linked},
    "mirror_clip": {},
    "set_cycle": {"is_cycle": False},
    "set_travels": {"travels": False},
    "set_stride": {"metres": 1.3},
    "lay_root": {},
    "find_contacts": {},
    "set_plant": {"place": 0, "start": 2, "end": 9},
    "move_plant": {"place": 0, "grip": "body", "frames": 1},
    "remove_plant": {"place": 0},
    "hold_feet": {"held": True, "places": [0]},
    "set_length": {"length_frames": 30, "how": "fit"},
    "set_rate": {"rate": "30"},
    "set_exposure": {"pattern": [2, 2, 3, 1]},
    "set_colour": {"colour": "moss"},
    "name_pose": {"frame": 3, "name": "Low"},
    "add_beat": {"beat": "new", "name": "Turns", "start": 3, "end": 7},
    "set_beat": {"beat": "beat", "start": 3, "end": 7},
    "remove_beat": {"beat": "beat"},
    "set_tracing": {"pictures": [PICTURE], "right_metres": 0.2, "yaw_degrees": 0, "first_frame": 2},
    "remove_tracing": {},
}  # fmt: skip


def numbers_in(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where in a JSON value numbers stand."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from numbers_in(inner, (*path, key))
    elif isinstance(value, list):
        for place, inner in enumerate(value):
            yield from numbers_in(inner, (*path, place))
    elif isinstance(value, int | float) and not isinstance(value, bool):
        yield path


def with_number(value: Any, path: tuple[Any, ...], number: float) -> Any:
    changed = copy.deepcopy(value)
    inner = changed
    for step in path[:-1]:
        inner = inner[step]
    inner[path[-1]] = number
    return changed


def said(wanted: dict[str, Any], adapter: TypeAdapter[Any]) -> tuple[BaseModel | None, str]:
    try:
        return adapter.validate_python(wanted), ""
    except ValidationError as problem:
        return None, in_words(problem.errors()[0])
    except Refusal as refusal:
        return None, str(refusal)


def made_of(edit: Any) -> tuple[Clip | None, str]:
    """What comes of an edit of the clip, as it is read again."""
    try:
        clip = edit_clip(BENCH, edit).clip
        with refusing():
            again = Clip.model_validate_json(clip.model_dump_json())
    except Refusal as refusal:
        return None, str(refusal)
    assert again == clip
    return clip, ""


def is_a_sentence(text: str) -> bool:
    return re.fullmatch(r"[“A-Z][^\n]{5,250}[.]", text) is not None and "nput should" not in text


CASES = [
    (kind, path, bad) for kind, good in GOOD.items() for path in numbers_in(good) for bad in BAD
]


def test_the_table_names_every_kind_of_clip_edit_and_each_is_good() -> None:
    kinds = {kind.model_fields["kind"].default for kind in get_args(get_args(ClipEdit)[0])}
    assert set(GOOD) == kinds
    unmade = []
    for kind, good in GOOD.items():
        try:
            edit_clip(BENCH, CLIP_EDIT.validate_python({"kind": kind, **good}))
        except Refusal:
            unmade.append(kind)
    # These say that it is so already; their numbers are none.
    assert set(unmade) <= {
        "mirror_clip", "lay_root", "remove_tracing", "hold_feet", "set_beyond", "snap_keys",
    }  # fmt: skip
    assert len(CASES) > 600


@pytest.mark.parametrize("kind", sorted(GOOD))
def test_a_bad_number_in_a_clip_edit_is_refused_or_does_no_harm(kind: str) -> None:
    for _, path, bad in (case for case in CASES if case[0] == kind):
        wanted = with_number({"kind": kind, **GOOD[kind]}, path, bad)
        edit, sentence = said(wanted, CLIP_EDIT)
        if edit is None:
            assert is_a_sentence(sentence), (path, bad, sentence)
            continue
        assert np.isfinite(bad), (path, bad)
        clip, sentence = made_of(edit)
        if clip is None:
            assert is_a_sentence(sentence), (path, bad, sentence)
            continue
        frames = np.linspace(0, min(clip.length_frames, 60), 13)
        motion = playable_of(BENCH.figure, clip).at(source(frames))
        for rows in (motion.travel, motion.root_move, motion.rotations):
            assert np.isfinite(rows.astype(np.float32)).all(), (path, bad)
        text = bench_of(Made(clip, BENCH.figure)).model_dump_json()
        assert "NaN" not in text
        assert "Infinity" not in text


def bad_scene_edits() -> st.SearchStrategy[dict[str, Any]]:
    def spoilt(wanted: dict[str, Any]) -> st.SearchStrategy[dict[str, Any]]:
        plain = SCENE_EDIT.validate_python(wanted).model_dump(mode="json")
        paths = list(numbers_in(plain))
        if not paths:
            return st.just(plain)
        changes = st.tuples(st.sampled_from(paths), st.sampled_from(BAD))
        return changes.map(lambda change: with_number(plain, *change))

    def of(kind: str) -> st.SearchStrategy[dict[str, Any]]:
        return st.fixed_dictionaries({"kind": st.just(kind), **FIELDS[kind]}).flatmap(spoilt)

    return st.sampled_from(sorted(FIELDS)).flatmap(of)


@settings(max_examples=400)
@given(bad_scene_edits())
def test_a_bad_number_in_a_scene_edit_is_refused_or_does_no_harm(wanted: dict[str, Any]) -> None:
    edit, sentence = said(wanted, SCENE_EDIT)
    if edit is None:
        assert is_a_sentence(sentence), sentence
        return
    edited, refusal = outcome(START, edit)  # type: ignore[arg-type]
    if edited is None:
        assert is_a_sentence(refusal), refusal
        return
    scene = edited.scene
    try:
        with refusing():
            again = Scene.model_validate_json(scene.model_dump_json())
    except Refusal as beyond:
        # It is refused as it is saved.
        event(str(beyond))
        return
    assert again == scene
    if scene.played_frames <= 2_000:
        check(scene)


@pytest.mark.parametrize("of", [SceneEdit, ClipEdit, Scene, Clip, Figure])
def test_every_number_is_bounded(of: Any) -> None:
    """What is bounded at the door cannot overflow further in."""

    def unbounded(schema: Any, where: str) -> Iterator[str]:
        if isinstance(schema, dict):
            is_number = schema.get("type") in ("number", "integer")
            if is_number and not {"const", "enum"} & set(schema):
                low = {"minimum", "exclusiveMinimum"} & set(schema)
                high = {"maximum", "exclusiveMaximum"} & set(schema)
                if not (low and high):
                    yield where
            for key, inner in schema.items():
                yield from unbounded(inner, f"{where}.{key}")
        elif isinstance(schema, list):
            for place, inner in enumerate(schema):
                yield from unbounded(inner, f"{where}.{place}")

    assert list(unbounded(TypeAdapter(of).json_schema(), "")) == []
