"""Clip files: one clip with its figure and its poses, as open JSON (docs/formats.md)."""

from typing import Literal

from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..figure import Figure
from ..formats.poses import Poses
from ..frozen import Frozen
from .scene_file import clip_in_file, playable


class ClipFile(Frozen):
    """The whole file. `clip.figure` says nothing here: the file's own figure is meant."""

    format: Literal["elastic-hours-clip"] = "elastic-hours-clip"
    version: Literal[1, 2] = 2
    figure: Figure
    clip: Clip
    poses: Poses

    def playable(self) -> PlayableClip:
        return playable(self.clip, self.poses, self.figure)


def clip_file(figure: Figure, clip: PlayableClip) -> ClipFile:
    """A clip as a file."""
    held = clip_in_file(figure, clip)
    return ClipFile(figure=figure, clip=held.clip, poses=held.poses)
