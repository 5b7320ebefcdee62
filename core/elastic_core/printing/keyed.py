"""The frames of a scene on which a key of what plays comes up: those that an animator drew."""

import numpy as np

from ..arrays import Array
from ..clip.playable import PlayableClip
from ..clip.playing import played_curves
from ..errors import Refusal
from ..figure import Figure
from ..moments import LaneTime
from ..scene.document import Scene, Stint
from ..scene.material import Material
from ..scene.timing import source_time

# A key falls on a frame that is so near behind it.
_NEAR_FRAMES = 1e-6


def key_frames(scene: Scene, material: Material, span: range) -> list[int]:
    """The played frames of a span on which a key is first seen, and those on which a stint begins.

    Raises Refusal where nothing that plays has keys.
    """
    played = np.arange(float(span.start), float(span.stop))
    laid = scene.elastic.source(played)
    found: set[int] = set()
    has_keys = False
    for lane in scene.lanes:
        if lane.target.kind != "body" or not scene.plays(lane):
            continue
        time = played if lane.keeps_own_time else laid
        for stint in lane.stints:
            clip = material.performances.get(stint.source)
            if not isinstance(clip, PlayableClip) or not clip.clip.is_keyed:
                continue
            has_keys = True
            inside = np.flatnonzero((time >= stint.start) & (time < stint.end))
            if inside.size:
                keys = _keys(material.figure(clip.figure), clip)
                count = _passed(keys, scene, clip, stint, time[inside])
                is_new = np.concatenate([[True], np.diff(count) != 0])
                found.update(int(frame) for frame in played[inside[is_new]])
    if not has_keys:
        raise Refusal(f"Nothing that plays in “{scene.name}” has keys: print every so many frames.")
    return sorted(found)


def _keys(figure: Figure, clip: PlayableClip) -> Array:
    """When a clip has keys, those of a half that follows the other among them. [n]"""
    curves = played_curves(figure, clip.clip).values()
    keys = np.concatenate([curve.times for curve in curves])
    # Frame L is frame 0 of the next round.
    return np.unique(np.mod(keys, clip.length_frames) if clip.is_cycle else keys)


def _passed(keys: Array, scene: Scene, clip: PlayableClip, stint: Stint, time: Array) -> Array:
    """How many keys lie at or before what the stint shows, counted on through its rounds. [n] → [n]."""
    source = np.asarray(source_time(scene, clip, stint, LaneTime(time))) + _NEAR_FRAMES
    rounds = np.floor(source / clip.length_frames) if clip.is_cycle else np.zeros_like(source)
    within = source - rounds * clip.length_frames
    passed: Array = rounds * len(keys) + np.searchsorted(keys, within, side="right")
    return passed


def every(span: range, frames: int) -> list[int]:
    """Every nth frame of a span, its first among them."""
    return list(span[::frames])
