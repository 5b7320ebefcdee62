"""glTF files as others make them, put together by hand for tests."""

import base64
import json
import struct
from typing import Any

import numpy as np

Told = dict[str, Any]


class Made:
    """A document that grows: nodes, numbers and one animation."""

    def __init__(self) -> None:
        self.data = bytearray()
        self.told: Told = {
            "asset": {"version": "2.0"}, "nodes": [], "accessors": [], "bufferViews": [],
            "animations": [{"name": "Take 1", "samplers": [], "channels": []}],
        }  # fmt: skip

    def node(self, name: str, *children: int, **told: Any) -> int:
        entry = {"name": name, **told}
        if children:
            entry["children"] = list(children)
        self.told["nodes"].append(entry)
        return len(self.told["nodes"]) - 1

    def numbers(self, values: Any, kind: str, dtype: str = "<f4", **told: Any) -> int:
        array = np.ascontiguousarray(values, dtype=dtype)
        component = {"<f4": 5126, "<i2": 5122, "<u2": 5123}[dtype]
        view = self.view(array.tobytes())
        count = len(array)
        self.told["accessors"].append(
            {"bufferView": view, "componentType": component, "count": count, "type": kind, **told}
        )
        return len(self.told["accessors"]) - 1

    def view(self, block: bytes, **told: Any) -> int:
        self.data += b"\0" * (-len(self.data) % 4)
        entry = {"buffer": 0, "byteOffset": len(self.data), "byteLength": len(block), **told}
        self.told["bufferViews"].append(entry)
        self.data += block
        return len(self.told["bufferViews"]) - 1

    def moves(self, node: int, path: str, seconds: Any, output: int, spans: str = "LINEAR") -> None:
        animation = self.told["animations"][0]
        animation["samplers"].append(
            {"input": self.numbers(seconds, "SCALAR"), "output": output, "interpolation": spans}
        )
        target = {"node": node, "path": path}
        animation["channels"].append({"sampler": len(animation["samplers"]) - 1, "target": target})

    def skin(self, *joints: int) -> None:
        self.told["skins"] = [{"joints": list(joints)}]

    def as_text(self) -> bytes:
        """As .gltf, its numbers inside."""
        uri = "data:application/octet-stream;base64," + base64.b64encode(self.data).decode()
        buffers = [{"byteLength": len(self.data), "uri": uri}]
        return json.dumps(self.told | {"buffers": buffers}).encode()

    def as_glb(self) -> bytes:
        text = json.dumps(self.told | {"buffers": [{"byteLength": len(self.data)}]}).encode()
        text += b" " * (-len(text) % 4)
        data = bytes(self.data) + b"\0" * (-len(self.data) % 4)
        length = 12 + 8 + len(text) + 8 + len(data)
        return (
            struct.pack("<4sII", b"glTF", 2, length)
            + struct.pack("<II", len(text), 0x4E4F534A) + text
            + struct.pack("<II", len(data), 0x004E4942) + data
        )  # fmt: skip
