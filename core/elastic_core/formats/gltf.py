"""Motion as glTF 2.0 (ISO/IEC 12113:2022), in its binary form: a skeleton, and clips as its animations.

A figure is one node, with a node for each joint under it; everything is in metres, y up, as it is here. A clip
is written as it is shown, frame by frame, with straight spans between; where a joint does not move against its
parent it has no channel.
"""

import json
import struct
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from .. import rotation
from ..arrays import Array
from ..errors import Refusal
from ..figure import Figure, Placed, forward
from ..motion import Motion

GENERATOR = "Elastic Hours"
# Its media type, as it is registered.
GLTF = "model/gltf-binary"
_MAGIC, _VERSION, _JSON, _BINARY = 0x46546C67, 2, 0x4E4F534A, 0x004E4942
_FLOAT = 5126
# Less than so much is no movement: a tenth of a micrometre, and of a microradian.
_STILL = 1e-7
Floats = NDArray[np.float32]
Shape = Literal["SCALAR", "VEC3", "VEC4"]


@dataclass(frozen=True, eq=False)
class GltfClip:
    """A clip by its name: its poses, one a frame, at a rate."""

    name: str
    motion: Motion
    rate: Fraction


@dataclass
class _Buffer:
    """The numbers of the file, one array after the other, and what each of them is."""

    data: bytearray = field(default_factory=bytearray)
    views: list[dict[str, Any]] = field(default_factory=list)
    accessors: list[dict[str, Any]] = field(default_factory=list)

    def add(self, values: Array, shape: Shape, *, bounded: bool = False) -> int:
        """Keep an array; its place among all. With bounds where the standard asks for them."""
        kept: Floats = np.ascontiguousarray(values, dtype="<f4")
        view = {"buffer": 0, "byteOffset": len(self.data), "byteLength": kept.nbytes}
        self.data += kept.tobytes()
        self.views.append(view)
        accessor: dict[str, Any] = {
            "bufferView": len(self.views) - 1,
            "componentType": _FLOAT,
            "count": len(kept),
            "type": shape,
        }
        if bounded:
            accessor |= {"min": [float(kept.min())], "max": [float(kept.max())]}
        self.accessors.append(accessor)
        return len(self.accessors) - 1


def write_glb(figure: Figure, clips: Sequence[GltfClip] = ()) -> bytes:
    """A figure with its clips as one GLB file.

    Raises Refusal for motion of another number of joints, and for numbers that no file can hold.
    """
    buffer = _Buffer()
    nodes = _nodes(figure)
    animations = [animation for clip in clips if (animation := _animation(figure, clip, buffer))]
    told: dict[str, Any] = {
        "asset": {"version": "2.0", "generator": GENERATOR},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": nodes,
    }
    if animations:
        told |= {
            "animations": animations,
            "accessors": buffer.accessors,
            "bufferViews": buffer.views,
            "buffers": [{"byteLength": len(buffer.data)}],
        }
    return _glb(told, bytes(buffer.data) if animations else b"")


def local_turns(figure: Figure, placed: Placed) -> Array:
    """How each joint is turned against its parent, from frame to frame the short way. [frames, joints, 4]"""
    local = placed.rotations.copy()
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            above = rotation.conjugate(placed.rotations[:, parent])
            local[:, joint] = rotation.multiply(above, placed.rotations[:, joint])
    return rotation.align_hemispheres(rotation.normalise(local))


def local_places(figure: Figure, placed: Placed) -> Array:
    """Where each joint hangs on its parent, along the parent's axes. [frames, joints, 3]"""
    local = placed.positions.copy()
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            reach = placed.positions[:, joint] - placed.positions[:, parent]
            above = rotation.conjugate(placed.rotations[:, parent])
            local[:, joint] = rotation.rotate(above, reach)
    result: Array = local
    return result


def _nodes(figure: Figure) -> list[dict[str, Any]]:
    """The figure's own node, then one for each joint as it rests."""
    turns = local_turns(figure, figure.at_rest)[0]
    places = local_places(figure, figure.at_rest)[0]
    children: list[list[int]] = [[] for _ in figure.joints]
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            children[parent].append(joint + 1)
    nodes: list[dict[str, Any]] = [{"name": figure.name, "children": [1]}]
    for joint, name in enumerate(figure.names):
        node: dict[str, Any] = {
            "name": name,
            "translation": _plain(places[joint]),
            "rotation": _plain(turns[joint][[1, 2, 3, 0]]),
        }
        if children[joint]:
            node["children"] = children[joint]
        nodes.append(node)
    return nodes


def _animation(figure: Figure, clip: GltfClip, buffer: _Buffer) -> dict[str, Any] | None:
    """A clip's channels; none where nothing moves from how it rests."""
    placed = forward(figure, clip.motion)
    turns, places = local_turns(figure, placed), local_places(figure, placed)
    if not (np.isfinite(turns).all() and np.isfinite(places).all()):
        raise Refusal(f"“{clip.name}” lies beyond all measure, and cannot be written.")
    seconds = np.arange(clip.motion.frames) / float(clip.rate)
    times: int | None = None
    samplers: list[dict[str, Any]] = []
    channels: list[dict[str, Any]] = []
    rest_turns = local_turns(figure, figure.at_rest)[0]
    rest_places = local_places(figure, figure.at_rest)[0]
    for joint in range(len(figure.joints)):
        paths: list[tuple[str, Array, Shape]] = []
        alike = np.abs((turns[:, joint] * rest_turns[joint]).sum(axis=-1))
        if (1 - alike > _STILL**2).any():
            paths.append(("rotation", turns[:, joint][:, [1, 2, 3, 0]], "VEC4"))
        if np.abs(places[:, joint] - rest_places[joint]).max() > _STILL:
            paths.append(("translation", places[:, joint], "VEC3"))
        for path, values, shape in paths:
            if times is None:
                times = buffer.add(seconds, "SCALAR", bounded=True)
            output = buffer.add(values, shape)
            samplers.append({"input": times, "output": output, "interpolation": "LINEAR"})
            target = {"node": joint + 1, "path": path}
            channels.append({"sampler": len(samplers) - 1, "target": target})
    if not channels:
        return None
    return {"name": clip.name, "samplers": samplers, "channels": channels}


def _plain(values: Array) -> list[float]:
    """As the file's own numbers, so that what is a unit there is told as one."""
    return [float(value) for value in values.astype(np.float32)]


def _glb(told: dict[str, Any], binary: bytes) -> bytes:
    text = json.dumps(told, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode()
    chunks = [_chunk(_JSON, text, b" ")]
    if binary:
        chunks.append(_chunk(_BINARY, binary, b"\0"))
    length = 12 + sum(len(chunk) for chunk in chunks)
    return struct.pack("<III", _MAGIC, _VERSION, length) + b"".join(chunks)


def _chunk(kind: int, data: bytes, padding: bytes) -> bytes:
    padded = data + padding * (-len(data) % 4)
    return struct.pack("<II", len(padded), kind) + padded
