"""Motion as glTF 2.0 (ISO/IEC 12113:2022), in its binary form: dressed skeletons, and clips as animations.

A figure is one node, with a node for each joint under it; everything is in metres, y up, as it is here. Its
hulls are one mesh that its joints carry. A clip is written by its keys where the format can say them, and else
as it is shown, frame by frame, with straight spans between; where a joint does not move against its parent it
has no channel.
"""

import json
import struct
from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, Literal

import numpy as np

from ..arrays import Array
from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..errors import Refusal
from ..figure import Figure, forward
from ..motion import Motion
from .gltf_keys import ClipKeys, KeptKeys, Path
from .gltf_mesh import Corners, linear, mesh_parts
from .gltf_pose import local_places, local_turns

GENERATOR = "Elastic Hours"
# Its media type, as it is registered.
GLTF = "model/gltf-binary"
_MAGIC, _VERSION, _JSON, _BINARY = 0x46546C67, 2, 0x4E4F534A, 0x004E4942
_FLOAT, _SHORT, _INT = 5126, 5123, 5125
_TYPES = {_FLOAT: "<f4", _SHORT: "<u2", _INT: "<u4"}
# What a view of the buffer is for: corners by their numbers, or what stands at them.
_CORNERS, _AT_CORNERS = 34_963, 34_962
# Less than so much is no movement: a tenth of a micrometre, and of a microradian.
_STILL = 1e-7
Shape = Literal["SCALAR", "VEC3", "VEC4", "MAT4"]


@dataclass(frozen=True, eq=False)
class GltfClip:
    """A clip by its name: its poses, one a frame, at a rate; and its keys, where it has any."""

    name: str
    motion: Motion
    rate: Fraction
    keyed: Clip | None = None

    @classmethod
    def of(cls, playable: PlayableClip, name: str | None = None) -> "GltfClip":
        """A clip as it is kept, keys and all; a cycle ends on its first pose."""
        clip = playable.clip
        keyed = clip if clip.is_keyed else None
        return cls(name or clip.name, playable.kept_samples.whole(), clip.rate, keyed)


@dataclass(frozen=True, eq=False)
class GltfMember:
    """A figure of a scene by its name there, and all that it does."""

    name: str
    figure: Figure
    motion: Motion


@dataclass
class _Buffer:
    """The numbers of the file, one array after the other, and what each of them is."""

    data: bytearray = field(default_factory=bytearray)
    views: list[dict[str, Any]] = field(default_factory=list)
    accessors: list[dict[str, Any]] = field(default_factory=list)

    def add(
        self,
        values: Array | Corners,
        shape: Shape,
        *,
        component: int = _FLOAT,
        bounded: bool = False,
        target: int | None = None,
    ) -> int:
        """Keep an array; its place among all. With bounds where the standard asks for them."""
        kept = np.ascontiguousarray(values, dtype=_TYPES[component])
        view = {"buffer": 0, "byteOffset": len(self.data), "byteLength": kept.nbytes}
        if target is not None:
            view["target"] = target
        self.data += kept.tobytes() + b"\0" * (-kept.nbytes % 4)
        self.views.append(view)
        accessor: dict[str, Any] = {
            "bufferView": len(self.views) - 1,
            "componentType": component,
            "count": len(kept),
            "type": shape,
        }
        if bounded:
            rows = kept.reshape(len(kept), -1)
            accessor |= {
                "min": rows.min(axis=0).astype(float).tolist(),
                "max": rows.max(axis=0).astype(float).tolist(),
            }
        self.accessors.append(accessor)
        return len(self.accessors) - 1


class _File:
    """A file that grows: figures with their dress, and what they do."""

    def __init__(self) -> None:
        self.buffer = _Buffer()
        self.told: dict[str, list[Any]] = {
            key: [] for key in ("nodes", "meshes", "skins", "materials", "animations")
        }
        self._roots: list[int] = []

    def stand(self, figure: Figure, name: str) -> int:
        """A figure at rest, in its dress; the node of its root joint."""
        nodes = self.told["nodes"]
        first = len(nodes)
        self._roots.append(first)
        nodes += _nodes(figure, name, first)
        self._dress(figure, name, first + 1)
        return first + 1

    def _dress(self, figure: Figure, name: str, root: int) -> None:
        parts = mesh_parts(figure)
        if not parts:
            return
        primitives = []
        for part in parts:
            weights = part.weights / part.weights.sum(axis=-1, keepdims=True)
            # What counts for nothing is told as no joint.
            joints = np.where(weights > 0, part.joints, 0)
            attributes = {
                "POSITION": self._at_corners(part.places, "VEC3", bounded=True),
                "NORMAL": self._at_corners(_units(part.normals), "VEC3"),
                "JOINTS_0": self._at_corners(_four(joints), "VEC4", component=_SHORT),
                "WEIGHTS_0": self._at_corners(_four(weights), "VEC4"),
            }
            corners = self.buffer.add(
                part.corners, "SCALAR", component=_INT, bounded=True, target=_CORNERS
            )
            primitives.append(
                {"attributes": attributes, "indices": corners, "material": self._paint(part.colour)}
            )
        self.told["meshes"].append({"name": f"{name}, dressed", "primitives": primitives})
        bind = self.buffer.add(_inverse_bind(figure), "MAT4")
        joints_at = list(range(root, root + len(figure.joints)))
        self.told["skins"].append({"joints": joints_at, "inverseBindMatrices": bind})
        # What joints carry stands at the scene’s root: nothing else moves it.
        self._roots.append(len(self.told["nodes"]))
        worn = len(self.told["meshes"]) - 1
        self.told["nodes"].append({"name": f"{name}, dressed", "mesh": worn, "skin": worn})

    def _at_corners(self, values: Array | Corners, shape: Shape, **told: Any) -> int:
        return self.buffer.add(values, shape, target=_AT_CORNERS, **told)

    def _paint(self, colour: str) -> int:
        materials = self.told["materials"]
        for place, material in enumerate(materials):
            if material["name"] == colour:
                return place
        painted = {"baseColorFactor": [*linear(colour), 1.0], "metallicFactor": 0.0}
        materials.append({"name": colour, "pbrMetallicRoughness": painted})
        return len(materials) - 1

    def play(self, name: str, parts: Sequence[tuple[int, Figure, GltfClip]]) -> None:
        """An animation of figures by the nodes of their root joints; none where nothing moves."""
        samplers: list[dict[str, Any]] = []
        channels: list[dict[str, Any]] = []
        inputs: dict[bytes, int] = {}
        for root, figure, clip in parts:
            for joint, path, keys in _paths(figure, clip):
                seconds = keys.times / float(clip.rate)
                told = seconds.tobytes()
                if told not in inputs:
                    inputs[told] = self.buffer.add(seconds[:, None], "SCALAR", bounded=True)
                values = keys.values
                if keys.interpolation == "CUBICSPLINE":
                    # The format counts slopes by the second.
                    values = values.copy()
                    for slope in (0, 2):
                        values[slope::3] *= float(clip.rate)
                output = self.buffer.add(values, "VEC4" if path == "rotation" else "VEC3")
                samplers.append(
                    {"input": inputs[told], "output": output, "interpolation": keys.interpolation}
                )
                target = {"node": root + joint, "path": path}
                channels.append({"sampler": len(samplers) - 1, "target": target})
        if channels:
            self.told["animations"].append(
                {"name": name, "samplers": samplers, "channels": channels}
            )

    def packed(self) -> bytes:
        told: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": GENERATOR},
            "scene": 0,
            "scenes": [{"nodes": self._roots}],
            **{key: rows for key, rows in self.told.items() if rows},
        }
        if self.buffer.data:
            told |= {
                "accessors": self.buffer.accessors,
                "bufferViews": self.buffer.views,
                "buffers": [{"byteLength": len(self.buffer.data)}],
            }
        return _glb(told, bytes(self.buffer.data))


def write_glb(figure: Figure, clips: Sequence[GltfClip] = ()) -> bytes:
    """A figure with its clips as one GLB file.

    Raises Refusal for motion of another number of joints, and for numbers that no file can hold.
    """
    file = _File()
    root = file.stand(figure, figure.name)
    for clip in clips:
        file.play(clip.name, [(root, figure, clip)])
    return file.packed()


def write_scene_glb(name: str, rate: Fraction, members: Sequence[GltfMember]) -> bytes:
    """All that figures do together, as one GLB file with one animation.

    Raises Refusal as `write_glb` does.
    """
    file = _File()
    parts = [
        (file.stand(one.figure, one.name), one.figure, GltfClip(name, one.motion, rate))
        for one in members
    ]
    file.play(name, parts)
    return file.packed()


def _nodes(figure: Figure, name: str, first: int) -> list[dict[str, Any]]:
    """The figure's own node, which is the `first`, then one for each joint as it rests."""
    turns = local_turns(figure, figure.at_rest)[0]
    places = local_places(figure, figure.at_rest)[0]
    children: list[list[int]] = [[] for _ in figure.joints]
    for joint, parent in enumerate(figure.parents):
        if parent >= 0:
            children[parent].append(first + joint + 1)
    nodes: list[dict[str, Any]] = [{"name": name, "children": [first + 1]}]
    for joint, called in enumerate(figure.names):
        node: dict[str, Any] = {
            "name": called,
            "translation": _plain(places[joint]),
            "rotation": _plain(turns[joint][[1, 2, 3, 0]]),
        }
        if children[joint]:
            node["children"] = children[joint]
        nodes.append(node)
    return nodes


def _paths(figure: Figure, clip: GltfClip) -> list[tuple[int, Path, KeptKeys]]:
    """What moves from how it rests, joint by joint. Raises Refusal for numbers that no file can hold."""
    placed = forward(figure, clip.motion)
    turns, places = local_turns(figure, placed), local_places(figure, placed)
    if not (np.isfinite(turns).all() and np.isfinite(places).all()):
        raise Refusal(f"“{clip.name}” lies beyond all measure, and cannot be written.")
    frames = np.arange(clip.motion.frames, dtype=np.float64)
    rest_turns = local_turns(figure, figure.at_rest)[0]
    rest_places = local_places(figure, figure.at_rest)[0]
    keys = ClipKeys(figure, clip.keyed) if clip.keyed else None
    found: list[tuple[int, Path, KeptKeys]] = []

    def moves(joint: int, path: Path, shown: Array) -> None:
        kept = keys.of(joint, path, shown) if keys else None
        found.append((joint, path, kept or KeptKeys("LINEAR", frames, shown)))

    for joint in range(len(figure.joints)):
        alike = np.abs((turns[:, joint] * rest_turns[joint]).sum(axis=-1))
        if (1 - alike > _STILL**2).any():
            moves(joint, "rotation", turns[:, joint][:, [1, 2, 3, 0]])
        if np.abs(places[:, joint] - rest_places[joint]).max() > _STILL:
            moves(joint, "translation", places[:, joint])
    return found


def _inverse_bind(figure: Figure) -> Array:
    """What brings the mesh into each joint's own frame, column by column. [joints, 16]"""
    placed = figure.at_rest
    w, x, y, z = placed.rotations[0].T
    turned = np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
            [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
            [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
        ]
    ).transpose(2, 0, 1)
    back = turned.transpose(0, 2, 1)
    inverse = np.zeros((len(figure.joints), 4, 4))
    inverse[:, :3, :3] = back
    inverse[:, :3, 3] = -np.einsum("jab,jb->ja", back, placed.positions[0])
    inverse[:, 3, 3] = 1.0
    result: Array = inverse.transpose(0, 2, 1).reshape(-1, 16)
    return result


def _four(pairs: Array) -> Array:
    """Two columns as the four that the format has."""
    result: Array = np.concatenate([pairs, np.zeros_like(pairs)], axis=1)
    return result


def _units(normals: Array) -> Array:
    """Of length 1 as the file's own numbers tell it."""
    short = normals.astype(np.float32).astype(np.float64)
    result: Array = short / np.linalg.norm(short, axis=-1, keepdims=True)
    return result


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
