"""The frames of the scene that is open, as the page gets them."""

import json

import numpy as np

from .desk import Desk


def array_in(pack: bytes, name: str) -> np.ndarray:
    """An array of a pack by its name."""
    length = int.from_bytes(pack[:8], "little")
    entry = json.loads(pack[8 : 8 + length])[name]
    start, end = (8 + length + offset for offset in entry["data_offsets"])
    kind = {"F32": "<f4", "I32": "<i4"}[entry["dtype"]]
    return np.frombuffer(pack[start:end], dtype=kind).reshape(entry["shape"])


def frames(desk: Desk, start: int, end: int) -> bytes:
    """Those from `start` to `end`, which is not among them, as a pack."""
    ask = desk.page.request
    csrf = ask.get(f"{desk.address}/api/session").json()["csrf"]
    scene = desk.page.url.rsplit("/", 1)[-1]
    answer = ask.post(
        f"{desk.address}/api/scenes/{scene}/frames",
        data={"start": start, "end": end},
        headers={"X-CSRFToken": csrf},
    )
    return answer.body()
