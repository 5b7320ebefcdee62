"""The capture stage's protocol: lines of JSON, described in docs/formats.md.

The stage says who is captured and at what rate, then a line a frame; it can be asked for a move.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Annotated, Any, Literal

import numpy as np
import orjson
from pydantic import Field

from ..arrays import Array
from ..capture.stage.performer import Move
from ..capture.stream import Arrived
from ..clock import Rate
from ..errors import Refusal, refusing
from ..figure import Figure, Joint, Vector
from ..frozen import Frozen
from ..lay_figure import lay_dress
from ..names import Name
from ..quantities import MOST_METRES
from ..sides import sides_of
from .json_text import read_json

STAGE = "elastic hours capture stage"
VERSION = 1
# A line longer than this is none of this protocol.
LONGEST_LINE_BYTES = 1 << 18
# How far a turn's length may be off one: further off it is none.
_OFF_ONE = 0.1


class StageJoint(Frozen):
    """One joint of who is captured; `parent` is its parent's place in the list, -1 for the root."""

    name: Name
    parent: Annotated[int, Field(ge=-1, le=4096)]
    offset: Vector
    ends: tuple[Vector, ...] = ()


class Greeting(Frozen):
    """The stage's first line. `run` names the time since it was started, and `began` is when its clock stood
    at zero, in seconds since 1970."""

    stage: Literal["elastic hours capture stage"]
    version: Annotated[int, Field(ge=1, le=VERSION)]
    run: Name
    rate: Rate
    began: float
    name: Name
    joints: tuple[StageJoint, ...] = Field(min_length=1, max_length=2048)

    @property
    def figure(self) -> Figure:
        """Who is captured, as a lay figure."""
        sides = sides_of([joint.name for joint in self.joints])
        with refusing():
            bare = Figure(
                name=self.name,
                joints=tuple(
                    Joint(
                        name=joint.name,
                        parent=joint.parent,
                        offset=joint.offset,
                        side=side.side,
                        mirror=side.mirror,
                        end_sites=joint.ends,
                    )
                    for joint, side in zip(self.joints, sides, strict=True)
                ),
            )
        return bare.model_copy(update={"dress": lay_dress(bare)})


@dataclass(frozen=True)
class StageFrame:
    """A frame: its number, seconds on the stage's clock, the root's place, and turns [joints][4]."""

    number: int
    clock: float
    root: Array
    turns: Array


@dataclass(frozen=True)
class Doing:
    """What the stage has been asked for last."""

    move: str


def greeting_of(figure: Figure, run: str, rate: Fraction, began: float) -> Greeting:
    """What a stage says first."""
    joints = tuple(
        StageJoint(name=j.name, parent=j.parent, offset=j.offset, ends=j.end_sites)
        for j in figure.joints
    )
    return Greeting(
        stage="elastic hours capture stage",
        version=VERSION,
        run=run,
        rate=rate,
        began=began,
        name=figure.name,
        joints=joints,
    )


def greeting_line(greeting: Greeting) -> bytes:
    """The first line."""
    return greeting.model_dump_json().encode() + b"\n"


def frame_line(frame: StageFrame) -> bytes:
    """A frame's line: micrometres, and turns to a ten-thousandth of a degree."""
    told = {
        "frame": frame.number,
        "clock": round(frame.clock, 6),
        "root": np.round(frame.root, 6).tolist(),
        "turns": np.round(frame.turns, 6).tolist(),
    }
    return orjson.dumps(told) + b"\n"


def doing_line(move: str) -> bytes:
    """What the stage does now."""
    return orjson.dumps({"doing": move}) + b"\n"


def ask_line(move: Move) -> bytes:
    """Asks a stage for a move."""
    return orjson.dumps({"ask": move}) + b"\n"


def read_ask(line: bytes) -> Move | None:
    """The move that a line asks for; None where it asks for none that is known."""
    try:
        told = read_json(line)
    except Refusal:
        return None
    move = told.get("ask") if isinstance(told, dict) else None
    moves: dict[str, Move] = {
        "arms out": "arms out",
        "stand": "stand",
        "walk": "walk",
        "turn": "turn",
        "stumble": "stumble",
    }
    return moves.get(move) if isinstance(move, str) else None


def read_greeting(line: bytes) -> Greeting:
    """The first line of a stage. Raises Refusal where it is another's."""
    told = read_json(line)
    if not isinstance(told, dict) or told.get("stage") != STAGE:
        raise Refusal("What answers there is no capture stage.")
    if isinstance(told.get("version"), int) and told["version"] > VERSION:
        raise Refusal("The capture stage speaks a later version of the protocol than this one.")
    with refusing():
        return Greeting.model_validate(told)


def read_line(line: bytes, joints: int) -> StageFrame | Doing | None:
    """A later line; None for one that cannot be read, which is as good as lost."""
    try:
        told: Any = orjson.loads(line)
        if "doing" in told:
            return Doing(str(told["doing"]))
        root = np.array(told["root"], dtype=np.float64)
        turns = np.array(told["turns"], dtype=np.float64)
        number, clock = int(told["frame"]), float(told["clock"])
    except (ValueError, TypeError, KeyError):
        return None
    if root.shape != (3,) or turns.shape != (joints, 4):
        return None
    lengths = np.linalg.norm(turns, axis=-1)
    near_one = (np.abs(lengths - 1) < _OFF_ONE).all()
    if not (np.isfinite(clock) and (np.abs(root) <= MOST_METRES).all() and near_one):
        return None
    return StageFrame(number, clock, root, turns)


@dataclass
class StageRecord:
    """What a stage sent while it was recorded, read line by line."""

    greeting: Greeting
    frames: list[StageFrame] = field(default_factory=list)
    spoilt: int = 0

    @property
    def arrived(self) -> Arrived:
        """Its frames, as they came."""
        joints = len(self.greeting.joints)
        return Arrived(
            clocks=np.array([frame.clock for frame in self.frames]),
            positions=np.array([frame.root for frame in self.frames]).reshape(-1, 3),
            rotations=np.array([frame.turns for frame in self.frames]).reshape(-1, joints, 4),
        )


def read_record(lines: Iterable[bytes]) -> StageRecord:
    """A recording: the stage's first line, and what came after it. Raises Refusal where it has none."""
    coming = iter(lines)
    first = next(coming, None)
    if first is None:
        raise Refusal("Nothing came from the stage.")
    record = StageRecord(read_greeting(first))
    joints = len(record.greeting.joints)
    for line in coming:
        read = read_line(line, joints)
        if isinstance(read, StageFrame):
            record.frames.append(read)
        elif read is None:
            record.spoilt += 1
    return record
