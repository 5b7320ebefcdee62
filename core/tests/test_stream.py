"""Rule 6.8: frames of a stream are laid on their own clock; gaps are filled and listed, or marked."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from elastic_core import rotation
from elastic_core.arrays import Array, Index
from elastic_core.capture.stage.broadcast import Broadcast, Hiccups
from elastic_core.capture.stage.performer import Move, performed
from elastic_core.capture.stage.suit import suit
from elastic_core.capture.stage.unclean import Uncleanness
from elastic_core.capture.stream import Arrived, laid
from elastic_core.capture.take import Lost
from elastic_core.errors import Refusal
from elastic_core.formats.stage_lines import (
    StageFrame,
    doing_line,
    frame_line,
    greeting_line,
    greeting_of,
    read_ask,
    read_greeting,
    read_record,
)
from elastic_core.motion import Motion

FPS = Fraction(120)
SUIT = suit()


def in_the_world(motion: Motion) -> Motion:
    """The same motion, its heading told from its root as that of a stream is."""
    position, turned = motion.root_in_world()
    rotations = motion.rotations.copy()
    rotations[:, 0] = turned
    return Motion.from_root(position, rotations)


WALK = in_the_world(performed([("stand", 0.5), ("walk", 2.5)], 120))
MOVED: tuple[Move, ...] = ("stand", "walk", "walk")
CALM = Uncleanness(noise_degrees=0.0, noise_mm=0.0, spikes_a_thousand=0.0)


def sent(motion: Motion, frames: Index | None = None, clocks: Array | None = None) -> Arrived:
    """Frames of a motion as they would arrive, on time unless other clocks are given."""
    position, turned = motion.root_in_world()
    rotations = motion.rotations.copy()
    rotations[:, 0] = turned
    at = np.arange(motion.frames) if frames is None else frames
    when = at / 120 if clocks is None else clocks
    return Arrived(when + 31.25, position[at], rotations[at])


def degrees_off(a: Motion, b: Motion) -> Array:
    between = rotation.multiply(rotation.conjugate(a.rotations), b.rotations)
    return np.degrees(np.linalg.norm(rotation.vector(between), axis=-1))


def test_frames_that_came_on_time_are_as_they_came() -> None:
    done = laid(sent(WALK), FPS)
    assert done.motion.frames == WALK.frames
    assert degrees_off(done.motion, WALK).max() < 1e-9
    assert np.abs(done.motion.travel - WALK.travel).max() < 1e-12
    assert (done.lost, done.doubled, done.late) == ((), 0, 0)


def test_doubled_frames_are_dropped_and_late_ones_put_where_they_belong() -> None:
    order = np.arange(WALK.frames).tolist()
    order.insert(41, 40)
    order.insert(201, 200)
    late = order.pop(100)
    order.insert(108, late)
    done = laid(sent(WALK, np.array(order)), FPS)
    assert (done.doubled, done.late, done.lost) == (2, 1, ())
    assert degrees_off(done.motion, WALK).max() < 1e-9


@pytest.mark.parametrize(("length", "filled"), [(1, True), (30, True), (31, False), (90, False)])
def test_a_gap_up_to_a_quarter_of_a_second_is_filled_and_listed(length: int, filled: bool) -> None:
    came = np.concatenate([np.arange(150), np.arange(150 + length, WALK.frames)])
    done = laid(sent(WALK, came), FPS)
    assert done.lost == (Lost(start=150, end=150 + length, filled=filled),)
    assert done.motion.frames == WALK.frames
    off = degrees_off(done.motion, WALK)
    assert off[came].max() < 1e-9
    assert off[150 : 150 + length].max() < (0.1 if length == 1 else 35.0)


@pytest.mark.parametrize(("length", "share_of_line"), [(3, 0.75), (9, 0.7), (18, 0.8)])
def test_a_filled_gap_is_entered_and_left_at_the_pace_it_had(
    length: int, share_of_line: float
) -> None:
    """All through the walk the curve is nearer to what was lost than straight in-betweens are."""
    squares = []
    for start in range(80, 320, 13):
        end = start + length
        came = np.concatenate([np.arange(start), np.arange(end, WALK.frames)])
        lost = WALK.at(np.arange(start, end))
        filled = laid(sent(WALK, came), FPS).motion.at(np.arange(start, end))
        off = degrees_off(filled, lost)
        share = (np.arange(1, length + 1) / (length + 1))[:, None]
        straight = rotation.slerp(WALK.rotations[start - 1][None], WALK.rotations[end][None], share)
        by_line = degrees_off(lost, replace(lost, rotations=straight))
        squares.append([(off**2).mean(), (by_line**2).mean()])
    curve, line = np.sqrt(np.mean(squares, axis=0))
    assert curve < share_of_line * line


def test_a_clock_that_is_off_the_frames_is_followed() -> None:
    """A stage at 119.5 frames a second that says 120: what it sent is laid where its clock says."""
    at = np.arange(240)
    clocks = at / 119.5
    done = laid(sent(WALK, at, clocks), FPS)
    assert done.motion.frames == 241
    # Half-way between two of its frames the pose is half-way between theirs.
    spot = 120
    moment = spot / 120 * 119.5
    low = int(moment)
    expected = rotation.slerp(
        WALK.rotations[low, 1:], WALK.rotations[low + 1, 1:], np.full(25, moment - low)
    )
    between = rotation.multiply(rotation.conjugate(expected), done.motion.rotations[spot, 1:])
    assert np.degrees(np.linalg.norm(rotation.vector(between), axis=-1)).max() < 1e-6


def test_a_clock_without_a_time_and_no_frame_at_all_are_refused() -> None:
    with pytest.raises(Refusal, match="No frame came from the stage"):
        laid(sent(WALK, np.array([], dtype=int)), FPS)
    with pytest.raises(Refusal, match="clock tells no time"):
        laid(sent(WALK, np.arange(2), np.array([0.0, np.nan])), FPS)
    assert laid(sent(WALK, np.array([5])), FPS).motion.frames == 1


def test_the_protocol_carries_the_suit_and_its_frames() -> None:
    position, rotations = sent(WALK).positions, sent(WALK).rotations
    lines = [greeting_line(greeting_of(SUIT, "run one", FPS, 1_800_000_000.25)), doing_line("walk")]
    for k in range(WALK.frames):
        lines.append(frame_line(StageFrame(k, k / 120, position[k], rotations[k])))
    lines[90] = b'{"frame": 88, "clo'
    lines[91] = b'{"frame": 89, "clock": 0.741667, "root": [0, 1, 0], "turns": [[0, 0, 0, 0]]}\n'
    # Far away, and of another time: one is no frame, the other none of this take.
    lines.append(frame_line(StageFrame(400, 3.3, position[0] + 1e9, rotations[0])))
    record = read_record(lines)
    assert record.greeting.figure.same_skeleton(SUIT)
    assert record.greeting.figure.joints[-1].mirror == SUIT.joints[-1].mirror
    assert (len(record.frames), record.spoilt) == (WALK.frames - 2, 3)
    record.frames.append(StageFrame(401, 1e12, position[0], rotations[0]))
    done = laid(record.arrived, record.greeting.rate)
    assert done.lost == (Lost(start=88, end=90, filled=True),)
    off = degrees_off(done.motion, WALK)
    assert np.delete(off, [88, 89], axis=0).max() < 0.001


@pytest.mark.parametrize(
    ("line", "says"),
    [
        (b"GET / HTTP/1.1\r\n", "This is not JSON"),
        (b'{"hello": 1}', "What answers there is no capture stage."),
        (b'{"stage": "elastic hours capture stage", "version": 2}', "a later version"),
        (b'{"stage": "elastic hours capture stage", "version": 1}', "missing"),
    ],
)
def test_what_is_no_stage_is_refused(line: bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says):
        read_greeting(line)


def test_a_skeleton_that_is_no_tree_is_refused() -> None:
    told = greeting_line(greeting_of(SUIT, "run", FPS, 0.0))
    with pytest.raises(Refusal):
        _ = read_greeting(told.replace(b'"parent":0', b'"parent":40', 1)).figure


def test_only_known_moves_are_heard() -> None:
    assert read_ask(b'{"ask": "stumble"}\n') == "stumble"
    assert read_ask(b'{"ask": "fly"}') is None
    assert read_ask(b'{"ask": ["walk"]}') is None
    assert read_ask(b"[1]") is None
    assert read_ask(b"walk") is None


def test_the_stage_is_seeded_however_its_frames_are_asked_for() -> None:
    def frames(seed: int, beats: list[int]) -> list[tuple[int, float]]:
        stage = Broadcast(120, seed)
        going = [frame for count in beats for frame in stage.sent("walk", count)]
        return [(frame.number, round(float(frame.rotations[4, 1]), 6)) for frame in going]

    once, again = frames(7, [2] * 150), frames(7, [5] * 60)
    assert once == again
    assert frames(8, [5] * 60) != again


def test_its_hiccups_are_as_many_as_it_says_and_its_walk_comes_through() -> None:
    hiccups = Hiccups(lost=4.0, longest_lost=12, late=10.0, doubled=10.0)
    stage = Broadcast(120, 3, how=CALM, hiccups=hiccups)
    going = [f for move in MOVED for _ in range(20) for f in stage.sent(move, 24)]
    numbers = np.array([frame.number for frame in going])
    assert len(set(numbers.tolist())) < 1440
    assert 5 <= len(numbers) - len(set(numbers.tolist())) <= 30
    record = Arrived(
        numbers / 120,
        np.array([frame.position for frame in going]),
        np.array([frame.rotations for frame in going]),
    )
    done = laid(record, FPS)
    assert done.doubled == len(numbers) - len(set(numbers.tolist()))
    assert 5 <= done.late <= 30
    assert sum(lost.end - lost.start for lost in done.lost) == 1440 - len(set(numbers.tolist()))
    calm = Broadcast(120, 3, how=CALM, hiccups=Hiccups(lost=0.0, late=0.0, doubled=0.0))
    whole = [f for move in MOVED for _ in range(20) for f in calm.sent(move, 24)]
    assert [frame.number for frame in whole] == list(range(1440))
    first = min(numbers)
    path = np.array([frame.position for frame in whole])[first:][: done.motion.frames]
    assert np.abs(done.motion.root_in_world()[0] - path).max() < 0.03


def test_whoever_walks_on_and_on_stays_in_the_room() -> None:
    stage = Broadcast(120, 3, how=CALM)
    far = []
    for _ in range(120):
        stage.sent("walk", 60)
        far.append(float(np.hypot(*stage.at)))
    assert 3.0 < max(far) < 5.0
    # A minute of walking is no walk on the spot.
    assert stage.state.phase > 50
