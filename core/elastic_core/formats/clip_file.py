"""Clip files: one clip with its figure and its poses, as open JSON (docs/formats.md)."""

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Literal

import numpy as np
import orjson

from ..arrays import Array
from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..figure import Figure
from ..formats.poses import Poses
from ..frozen import Frozen
from ..motion import Motion, Samples
from .scene_file import bare, playable


class ClipFile(Frozen):
    """The whole file. `clip.figure` says nothing here: the file's own figure is meant."""

    format: Literal["elastic-hours-clip"] = "elastic-hours-clip"
    version: Literal[1, 2] = 2
    figure: Figure
    clip: Clip
    poses: Poses

    def playable(self) -> PlayableClip:
        return playable(self.clip, self.poses, self.figure)


def clip_file_pieces(figure: Figure, clip: PlayableClip) -> Iterator[bytes]:
    """A clip as the text of a file, a piece at a time: a long one is never there as a whole."""
    head = {"format": "elastic-hours-clip", "version": 2}
    yield orjson.dumps(head)[:-1]
    yield b',"figure":' + figure.model_dump_json().encode()
    yield b',"clip":' + bare(clip.clip).model_dump_json().encode()
    yield b',"poses":{"kind":"samples","travel":'
    samples = clip.kept_samples
    yield from _rows(window.travel for window in samples.windows())
    yield b',"root_move":'
    yield from _rows(window.root_move for window in samples.windows())
    yield b',"rotations":'
    yield from _rows(window.rotations for window in samples.windows())
    yield b',"moves":{'
    yield from _by_joint(figure, samples, samples.moved_joints, lambda window: window.moves)
    yield b'},"scales":{'
    yield from _by_joint(figure, samples, samples.scaled_joints, lambda window: window.scales)
    yield b"}}}"


def _by_joint(
    figure: Figure,
    samples: Samples,
    joints: Iterable[int],
    rows_of: Callable[[Motion], Mapping[int, Array]],
) -> Iterator[bytes]:
    for place, joint in enumerate(joints):
        yield (b"," if place else b"") + orjson.dumps(figure.names[joint]) + b":"
        yield from _rows(rows_of(window)[joint] for window in samples.windows())


def _rows(windows: Iterable[Array]) -> Iterator[bytes]:
    """Rows of numbers, as one list."""
    between = b"["
    for rows in windows:
        text = orjson.dumps(np.ascontiguousarray(rows), option=orjson.OPT_SERIALIZE_NUMPY)
        yield between + text[1:-1]
        between = b","
    yield b"]"
