"""A figure and its clips out of a glTF file: the joints of its skin, or what its animations move."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import numpy as np

from .. import rotation
from ..arrays import Array
from ..clock import rate_from_frame_time
from ..errors import Refusal
from ..figure import Figure, Joint
from ..motion import Motion
from ..sides import sides_of
from .gltf import GltfClip
from .gltf_document import GltfDocument, read_document
from .gltf_track import LEAST_TURN, Track

HOUSE_RATE = Fraction(24)
MOST_JOINTS, MOST_FRAMES, LONGEST_NAME = 1_000, 200_000, 120
# A joint that strays less than this from where it hangs does not move: a tenth of a millimetre.
_STILL_METRES = 1e-4
_PATHS = {"translation": 3, "rotation": 4, "scale": 3}


@dataclass(frozen=True)
class GltfRead:
    """What a file holds, in metres."""

    figure: Figure
    clips: tuple[GltfClip, ...]


def read_gltf(data: bytes, name: str, rate: Fraction | None = None) -> GltfRead:
    """A figure with its clips, sampled at a rate: that of the file's keys where they stand evenly, else the
    house's.

    Raises Refusal in one sentence for a file that cannot be read, or has no joints.
    """
    document = read_document(data)
    tree = _Tree(document)
    joints = _joints(document, tree)
    rest = _world(tree, joints, tree.resting(1))
    figure = _figure(tree, joints, rest, name)
    moving = {*joints, *tree.above(joints[0])}
    clips = []
    for place, animation in enumerate(document.all("animations"), start=1):
        tracks = [track for track in _tracks(document, animation) if track.node in moving]
        if tracks:
            called = str(animation.get("name") or f"{name} {place}")[:LONGEST_NAME]
            motion, sampled_at = _motion(tree, joints, rest, figure, tracks, rate)
            clips.append(GltfClip(called, motion, sampled_at))
    return GltfRead(figure, tuple(clips))


class _Tree:
    """The nodes: their parents, and how each lies on its own."""

    def __init__(self, document: GltfDocument) -> None:
        self.nodes = document.all("nodes")
        count = len(self.nodes)
        self.parents = [-1] * count
        for parent, node in enumerate(self.nodes):
            for child in node.get("children", []):
                if not isinstance(child, int) or not 0 <= child < count or self.parents[child] >= 0:
                    raise Refusal("This glTF file cannot be read: its nodes are no tree.")
                self.parents[child] = parent
        self.order = self._from_the_top()
        self.places = np.array([_numbers(n, "translation", (0.0, 0, 0)) for n in self.nodes])
        turns = np.array([_numbers(n, "rotation", (0.0, 0, 0, 1)) for n in self.nodes])
        self.turns = _ours(turns.reshape(count, 4))
        self.scales = np.array([_numbers(n, "scale", (1.0, 1, 1)) for n in self.nodes])
        for place, node in enumerate(self.nodes):
            if "matrix" in node:
                self._take_apart(place, np.array(_numbers(node, "matrix", (0.0,) * 16)))

    def _from_the_top(self) -> list[int]:
        """Limb by limb, each node after the one that it hangs on."""
        waiting = [node for node, parent in enumerate(self.parents) if parent < 0][::-1]
        found = []
        while waiting:
            found.append(waiting.pop())
            waiting.extend(reversed(self.nodes[found[-1]].get("children", [])))
        if len(found) != len(self.nodes):
            raise Refusal("This glTF file cannot be read: its nodes are no tree.")
        return found

    def _take_apart(self, place: int, matrix: Array) -> None:
        """A matrix, column by column, as place, turn and scale."""
        whole = matrix.reshape(4, 4).T
        lengths = np.linalg.norm(whole[:3, :3], axis=0)
        if (lengths < 1e-12).any():
            raise Refusal("This glTF file cannot be read: a node in it is flat.")
        axes = whole[:3, :3] / lengths
        if np.linalg.det(axes) < 0:
            axes[:, 0], lengths[0] = -axes[:, 0], -lengths[0]
        self.places[place], self.scales[place] = whole[:3, 3], lengths
        self.turns[place] = rotation.from_basis(axes[:, 0], axes[:, 1], axes[:, 2])

    def resting(self, frames: int) -> "_Local":
        return _Local(
            np.repeat(self.places[None], frames, axis=0),
            np.repeat(self.turns[None], frames, axis=0),
            np.repeat(self.scales[None], frames, axis=0),
        )

    def above(self, node: int) -> list[int]:
        """What a node hangs on, from its parent up."""
        found = []
        while (node := self.parents[node]) >= 0:
            found.append(node)
        return found

    def below(self, node: int) -> set[int]:
        return {other for other in range(len(self.nodes)) if node in (other, *self.above(other))}


@dataclass(frozen=True)
class _Local:
    """How nodes lie on what they hang on. [frames, nodes, 3 or 4]"""

    places: Array
    turns: Array
    scales: Array


@dataclass(frozen=True)
class _World:
    """Where joints are, and how they are turned. [frames, joints, 3 or 4]"""

    places: Array
    turns: Array


def _tracks(document: GltfDocument, animation: dict[str, Any]) -> Iterator[Track]:
    samplers = animation.get("samplers", [])
    for channel in animation.get("channels", []):
        try:
            sampler, target = samplers[channel["sampler"]], channel["target"]
            node, path = target.get("node"), target["path"]
            spans = sampler.get("interpolation", "LINEAR")
            if node is None or path not in _PATHS:
                # Weights of shapes, and what an extension moves: nothing of a skeleton.
                continue
            seconds = document.numbers(sampler["input"])[:, 0]
            values = document.numbers(sampler["output"])
        except (KeyError, TypeError, AttributeError, IndexError):
            raise Refusal("This glTF file cannot be read: an animation is not whole.") from None
        each = 3 if spans == "CUBICSPLINE" else 1
        width = _PATHS[path]
        if (
            not len(seconds)
            or values.shape != (each * len(seconds), width)
            or (np.diff(seconds) < 0).any()
            or not isinstance(node, int)
            or not 0 <= node < len(document.all("nodes"))
        ):
            raise Refusal("This glTF file cannot be read: an animation is not whole.")
        if path == "rotation":
            # Slopes are no turns: only values are of one length.
            own = _ours(values[1::3] if each == 3 else values)
            values = values[:, [3, 0, 1, 2]] if each == 3 else own
        yield Track(node, path, seconds, values, str(spans))


def _joints(document: GltfDocument, tree: _Tree) -> list[int]:
    """The nodes that are joints, each after the one that it hangs on; the first carries the others."""
    skins = document.all("skins")
    if skins:
        wanted = max((_listed(skin) for skin in skins), key=len)
    else:
        wanted = [
            track.node
            for animation in document.all("animations")
            for track in _tracks(document, animation)
        ]
    if not wanted or not all(0 <= node < len(tree.nodes) for node in wanted):
        raise Refusal("There is no skeleton in this glTF file.")
    lines = [[*reversed(tree.above(node)), node] for node in wanted]
    common = 0
    while all(len(line) > common and line[common] == lines[0][common] for line in lines):
        common += 1
    if common == 0:
        raise Refusal("The joints of this glTF file hang on nothing together.")
    top = lines[0][common - 1]
    under = tree.below(top)
    kept = {node for line in lines for node in line if node in under}
    if not skins:
        # What hangs on moving joints and is no picture of something is a joint that keeps still.
        kept |= {n for n in under if not {"mesh", "camera"} & set(tree.nodes[n])}
    found = [node for node in tree.order if node in kept]
    if len(found) > MOST_JOINTS:
        raise Refusal(f"A figure has {MOST_JOINTS:,} joints at the most.")
    return found


def _listed(skin: dict[str, Any]) -> list[int]:
    joints = skin.get("joints", [])
    if not isinstance(joints, list) or not all(isinstance(one, int) for one in joints):
        raise Refusal("This glTF file cannot be read: a skin is not whole.")
    return joints


def _world(tree: _Tree, joints: list[int], local: _Local) -> _World:
    """All joints in the world. What is scaled unevenly is turned as if it were not."""
    frames, count = local.places.shape[:2]
    places: Array = np.zeros((frames, count, 3))
    turns: Array = np.zeros((frames, count, 4))
    scales: Array = np.ones((frames, count, 3))
    for node in tree.order:
        parent = tree.parents[node]
        place, turn, scale = local.places[:, node], local.turns[:, node], local.scales[:, node]
        if parent >= 0:
            reach = place * scales[:, parent]
            place = places[:, parent] + rotation.rotate(turns[:, parent], reach)
            turn = rotation.multiply(turns[:, parent], turn)
            scale = scale * scales[:, parent]
        places[:, node], turns[:, node], scales[:, node] = place, turn, scale
    return _World(places[:, joints], turns[:, joints])


def _figure(tree: _Tree, joints: list[int], rest: _World, name: str) -> Figure:
    """It rests as it stands in the file, over the middle of the stage; its root looks along +z then."""
    index = {node: place for place, node in enumerate(joints)}
    names = _named([str(tree.nodes[node].get("name", "")) for node in joints])
    sides = sides_of(names)
    places, turns = rest.places[0], rest.turns[0].copy()
    # A root has no rest rotation: what hangs on it is told by the world's axes.
    turns[0] = rotation.IDENTITY
    made = []
    for place, node in enumerate(joints):
        parent = index.get(tree.parents[node], -1) if place else -1
        if parent < 0:
            offset, turn = np.array([0.0, places[0, 1], 0.0]), np.array(rotation.IDENTITY)
        else:
            above = rotation.conjugate(turns[parent])
            offset = rotation.rotate(above, places[place] - places[parent])
            turn = rotation.normalise(rotation.multiply(above, turns[place]))
        made.append(
            Joint(
                name=names[place],
                parent=parent,
                offset=tuple(offset.tolist()),
                rest=tuple(turn.tolist()),
                side=sides[place].side,
                mirror=sides[place].mirror,
            )
        )
    return Figure(name=name, joints=tuple(made))


def _motion(
    tree: _Tree,
    joints: list[int],
    rest: _World,
    figure: Figure,
    tracks: list[Track],
    rate: Fraction | None,
) -> tuple[Motion, Fraction]:
    """What tracks move, from their first key to their last, and at which rate it was sampled."""
    start = min(float(track.seconds[0]) for track in tracks)
    end = max(float(track.seconds[-1]) for track in tracks)
    sampled_at = rate or _rate(tracks)
    frames = 1 + round((end - start) * float(sampled_at))
    if frames > MOST_FRAMES:
        raise Refusal(f"A clip has {MOST_FRAMES:,} frames at the most.")
    moments = start + np.arange(frames) / float(sampled_at)
    local = tree.resting(frames)
    for track in tracks:
        kept = {"translation": local.places, "rotation": local.turns, "scale": local.scales}
        kept[track.path][:, track.node] = track.at(moments)
    shown = _world(tree, joints, local)
    world = shown.turns.copy()
    world[:, 0] = rotation.multiply(world[:, 0], rotation.conjugate(rest.turns[0, 0]))
    turns = world.copy()
    moves: dict[int, Array] = {}
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            above = rotation.conjugate(world[:, parent])
            own = rotation.multiply(above, world[:, joint])
            turns[:, joint] = rotation.multiply(rotation.conjugate(figure.rests[joint]), own)
            reach = rotation.rotate(above, shown.places[:, joint] - shown.places[:, parent])
            if np.abs(reach - figure.offsets[joint]).max() > _STILL_METRES:
                moves[joint] = reach
    motion = Motion.from_root(shown.places[:, 0], rotation.normalise(turns), moves)
    return motion, sampled_at


def _rate(tracks: list[Track]) -> Fraction:
    """The rate at which all keys stand, where they stand as evenly as samples do; else the house's."""
    longest = max(tracks, key=lambda track: len(track.seconds)).seconds
    steps = np.diff(longest)
    if len(steps) < 2 or not np.allclose(steps, steps.mean(), rtol=0.01, atol=1e-5):
        return HOUSE_RATE
    rate = rate_from_frame_time(float(steps.mean()))
    return rate if 8 <= rate <= 480 else HOUSE_RATE


def _ours(turns: Array) -> Array:
    """x, y, z, w → w, x, y, z, of length 1. Raises Refusal for a turn that is none."""
    if (np.linalg.norm(turns, axis=-1) < LEAST_TURN).any():
        raise Refusal("This glTF file cannot be read: a turn in it has no direction.")
    return rotation.normalise(turns[:, [3, 0, 1, 2]])


def _numbers(node: dict[str, Any], key: str, usual: tuple[float, ...]) -> list[float]:
    found = node.get(key, usual)
    try:
        numbers = [float(value) for value in found]
    except (TypeError, ValueError):
        numbers = []
    if len(numbers) != len(usual) or not np.isfinite(numbers).all():
        raise Refusal(f"This glTF file cannot be read: a node's {key} is not whole.")
    return numbers


def _named(names: list[str]) -> list[str]:
    """A name for each joint, and no two alike."""
    found: list[str] = []
    for place, name in enumerate(names):
        wanted = name[:LONGEST_NAME] or f"joint {place + 1}"
        fresh, count = wanted, 1
        while fresh in found:
            count += 1
            fresh = f"{wanted[: LONGEST_NAME - 6]} {count}"
        found.append(fresh)
    return found
