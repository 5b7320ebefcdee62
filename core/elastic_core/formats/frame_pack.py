"""Frame packs: arrays on their way to the page, in the safetensors layout.

Eight bytes of little-endian header length, a JSON header, then raw little-endian arrays. The header
is padded with blanks so that every array starts on a multiple of eight bytes.
"""

import json
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..errors import Refusal
from ..motion import Motion
from ..scene.camera import CameraFrames
from ..scene.evaluate import FigureFrames, LayerFrames

_TYPES = {"float32": "F32", "int32": "I32", "uint8": "U8"}


def pack(arrays: Mapping[str, NDArray[Any]], metadata: Mapping[str, str]) -> bytes:
    """Named arrays (float32, int32 or uint8) and string metadata → one block of bytes.

    Raises ValueError for an array of another kind, which no reader would know, and Refusal for numbers
    that are not finite.
    """
    header: dict[str, Any] = {"__metadata__": dict(metadata)}
    blocks: list[bytes] = []
    position = 0
    for name, array in arrays.items():
        kind = _TYPES.get(str(array.dtype))
        if kind is None:
            raise ValueError(f"A frame pack carries no {array.dtype}: {name}.")
        if kind == "F32" and not np.isfinite(array).all():
            raise Refusal("A pose lies beyond all measure, and cannot be shown.")
        block = np.ascontiguousarray(array).tobytes()
        block += b"\0" * (-len(block) % 8)
        size = array.nbytes
        header[name] = {
            "dtype": kind,
            "shape": list(array.shape),
            "data_offsets": [position, position + size],
        }
        blocks.append(block)
        position += len(block)
    text = json.dumps(header, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 8)
    return len(text).to_bytes(8, "little") + text + b"".join(blocks)


def pack_frames(
    figures: Sequence[FigureFrames],
    metadata: Mapping[str, str],
    layers: Mapping[str, Index] | None = None,
    camera: CameraFrames | None = None,
    guides: Mapping[str, Array] | None = None,
    standing: Mapping[str, LayerFrames] | None = None,
) -> bytes:
    """Under `FIGURE/…` every figure's positions, rotations and travel, and if it has any its scales, its parts'
    drawings and their order, and how its ink boils [frames, 2]; the drawings of layers under `layers/LAYER`,
    and their place, their turn and how much of them shows under `standing/LAYER` [frames, 8]; under `camera`
    where the camera stands, what it looks at, its roll in degrees and its zoom [frames, 8]; under
    `guides/GUIDE` where that is and its heading [frames, 4]."""
    arrays: dict[str, NDArray[Any]] = {}
    for shown in figures:
        name = shown.figure.id
        arrays[f"{name}/positions"] = shown.placed.positions.astype(np.float32)
        arrays[f"{name}/rotations"] = shown.placed.rotations.astype(np.float32)
        arrays[f"{name}/travel"] = shown.motion.travel.astype(np.float32)
        if shown.motion.scales:
            arrays[f"{name}/scales"] = _scales(shown.motion)
        if shown.ink is not None:
            arrays[f"{name}/ink"] = shown.ink.astype(np.float32)
        for part, order in shown.orders.items():
            arrays[f"{name}/orders/{part}"] = order.astype(np.int32)
        for part, drawings in shown.drawings.items():
            arrays[f"{name}/drawings/{part}"] = drawings.astype(np.int32)
    for layer, drawings in (layers or {}).items():
        arrays[f"layers/{layer}"] = drawings.astype(np.int32)
    for layer, stands in (standing or {}).items():
        rows = np.concatenate([stands.place, stands.turn, stands.opacity[:, None]], axis=1)
        arrays[f"standing/{layer}"] = rows.astype(np.float32)
    if camera is not None:
        lens = np.stack([camera.roll, camera.zoom], axis=-1)
        rows = np.concatenate([camera.eye, camera.look, lens], axis=1)
        arrays["camera"] = rows.astype(np.float32)
    for guide, rows in (guides or {}).items():
        arrays[f"guides/{guide}"] = rows.astype(np.float32)
    return pack(arrays, metadata)


def _scales(motion: Motion) -> NDArray[np.float32]:
    """One where a joint is not scaled. [frames, joints, 3]."""
    scales = np.ones((motion.frames, motion.joints, 3), dtype=np.float32)
    for joint, scale in motion.scales.items():
        scales[:, joint] = scale
    return scales
