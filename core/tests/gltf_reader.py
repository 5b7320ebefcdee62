"""glTF read by itself, for tests: only what the standard says, and nothing of ours."""

import json
import struct
from dataclasses import dataclass
from typing import Any

import numpy as np

Array = np.ndarray


def turned(q: Array, v: Array) -> Array:
    """Quaternions x, y, z, w applied to vectors: v + 2w (u × v) + 2 u × (u × v)."""
    u, w = q[..., :3], q[..., 3:]
    once = np.cross(u, v)
    result: Array = v + 2 * (w * once + np.cross(u, once))
    return result


def times(a: Array, b: Array) -> Array:
    """The Hamilton product, x, y, z, w."""
    u, v, s, t = a[..., :3], b[..., :3], a[..., 3:], b[..., 3:]
    return np.concatenate(
        [s * v + t * u + np.cross(u, v), s * t - (u * v).sum(axis=-1, keepdims=True)], axis=-1
    )


@dataclass
class Read:
    told: dict[str, Any]
    binary: bytes

    @property
    def names(self) -> list[str]:
        return [node["name"] for node in self.told["nodes"]]

    def accessor(self, place: int) -> Array:
        told = self.told["accessors"][place]
        view = self.told["bufferViews"][told["bufferView"]]
        width = {"SCALAR": 1, "VEC3": 3, "VEC4": 4, "MAT4": 16}[told["type"]]
        kind = {5126: "<f4", 5123: "<u2", 5125: "<u4"}[told["componentType"]]
        start = view["byteOffset"]
        block = self.binary[start : start + view["byteLength"]]
        return np.frombuffer(block, dtype=kind).reshape(told["count"], width).astype(np.float64)

    def world(self, animation: int | None, seconds: Array) -> tuple[Array, Array]:
        """Where all nodes are and how they are turned: [moments, nodes, 3], [moments, nodes, 4]."""
        nodes, count = self.told["nodes"], len(seconds)
        places = np.stack(
            [np.tile(n.get("translation", [0.0, 0, 0]), (count, 1)) for n in nodes], 1
        )
        turns = np.stack([np.tile(n.get("rotation", [0.0, 0, 0, 1]), (count, 1)) for n in nodes], 1)
        if animation is not None:
            told = self.told["animations"][animation]
            for channel in told["channels"]:
                sampler = told["samplers"][channel["sampler"]]
                read = {"LINEAR": sampled, "STEP": stepped, "CUBICSPLINE": splined}
                values = self.accessor(sampler["output"])
                keys = self.accessor(sampler["input"])[:, 0]
                at = read[sampler["interpolation"]](keys, values, seconds)
                target = channel["target"]
                {"translation": places, "rotation": turns}[target["path"]][:, target["node"]] = at
        for node, told in enumerate(nodes):
            for child in told.get("children", []):
                assert child > node
                places[:, child] = places[:, node] + turned(turns[:, node], places[:, child])
                turns[:, child] = times(turns[:, node], turns[:, child])
        return places, turns


def sampled(keys: Array, values: Array, seconds: Array) -> Array:
    """Straight from key to key; turns by their shorter way round (slerp)."""
    high = np.clip(np.searchsorted(keys, seconds), 1, max(1, len(keys) - 1))
    if len(keys) == 1:
        return np.repeat(values, len(seconds), axis=0)
    share = ((seconds - keys[high - 1]) / (keys[high] - keys[high - 1])).clip(0, 1)[:, None]
    a, b = values[high - 1], values[high]
    if values.shape[1] == 3:
        straight: Array = a + (b - a) * share
        return straight
    dot = (a * b).sum(axis=-1, keepdims=True)
    b, dot = np.where(dot < 0, -b, b), np.abs(dot).clip(0, 1)
    angle = np.arccos(dot)
    near = angle < 1e-6
    sine = np.where(near, 1, np.sin(angle))
    low = np.where(near, 1 - share, np.sin((1 - share) * angle) / sine)
    up = np.where(near, share, np.sin(share * angle) / sine)
    mixed = low * a + up * b
    result: Array = mixed / np.linalg.norm(mixed, axis=-1, keepdims=True)
    return result


def stepped(keys: Array, values: Array, seconds: Array) -> Array:
    """As the last key has it."""
    held: Array = values[np.clip(np.searchsorted(keys, seconds + 1e-6) - 1, 0, None)]
    return held


def splined(keys: Array, values: Array, seconds: Array) -> Array:
    """Appendix C.5: arriving slope, value, leaving slope, three by three; turns are made units again."""
    a, v, b = values[0::3], values[1::3], values[2::3]
    if len(keys) == 1:
        return np.repeat(v, len(seconds), axis=0)
    high = np.clip(np.searchsorted(keys, seconds), 1, len(keys) - 1)
    width = (keys[high] - keys[high - 1])[:, None]
    t = ((seconds - keys[high - 1])[:, None] / width).clip(0, 1)
    mixed: Array = (
        (2 * t**3 - 3 * t**2 + 1) * v[high - 1]
        + width * (t**3 - 2 * t**2 + t) * b[high - 1]
        + (-2 * t**3 + 3 * t**2) * v[high]
        + width * (t**3 - t**2) * a[high]
    )
    if values.shape[1] == 4:
        mixed = mixed / np.linalg.norm(mixed, axis=-1, keepdims=True)
    return mixed


def skinned(held: "Read", mesh: int, places: Array, turns: Array) -> list[Array]:
    """The places of each primitive of a mesh as its joints carry it: [moments, n, 3] each."""
    skin = held.told["skins"][mesh]
    bind = held.accessor(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)
    found = []
    for primitive in held.told["meshes"][mesh]["primitives"]:
        told = primitive["attributes"]
        rest = held.accessor(told["POSITION"])
        joints = held.accessor(told["JOINTS_0"]).astype(int)
        weights = held.accessor(told["WEIGHTS_0"])
        whole = np.zeros((len(places), len(rest), 3))
        for slot in range(4):
            own = bind[joints[:, slot]]
            local = np.einsum("nab,nb->na", own[:, :3, :3], rest) + own[:, :3, 3]
            node = np.array(skin["joints"])[joints[:, slot]]
            at = places[:, node] + turned(turns[:, node], local[None])
            whole += weights[:, slot, None] * at
        found.append(whole)
    return found


def read(glb: bytes) -> Read:
    magic, version, length = struct.unpack_from("<III", glb)
    assert (magic, version, length) == (0x46546C67, 2, len(glb))
    size, kind = struct.unpack_from("<II", glb, 12)
    assert kind == 0x4E4F534A
    told = json.loads(glb[20 : 20 + size])
    rest = glb[20 + size :]
    binary = b""
    if rest:
        size, kind = struct.unpack_from("<II", rest)
        assert kind == 0x004E4942
        binary = rest[8 : 8 + size]
    return Read(told, binary)
