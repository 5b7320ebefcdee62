"""Scenes of earlier versions, told by `schema_version`, in today's words."""

from collections.abc import Mapping
from typing import Any


def upgraded(written: Any) -> Any:
    """A scene as it was written → as version 2 has it. What is no scene comes back as it is."""
    if not isinstance(written, Mapping) or written.get("schema_version") == 2:
        return written
    if "length_frames" not in written:
        return written
    scene = {key: value for key, value in written.items() if key != "length_frames"}
    # Until then one number was both: the lanes' time, and the frames that came out.
    length = written["length_frames"]
    lanes = scene.get("lanes", ())
    if isinstance(lanes, (list, tuple)):
        scene["lanes"] = [_lane(lane) for lane in lanes]
    return {**scene, "schema_version": 2, "laid_frames": length, "played_frames": length}


def _lane(written: Any) -> Any:
    if not isinstance(written, Mapping) or "figure" not in written:
        return written
    lane = {key: value for key, value in written.items() if key != "figure"}
    stints = lane.get("stints", ())
    if isinstance(stints, (list, tuple)):
        lane["stints"] = [_stint(stint) for stint in stints]
    return {**lane, "target": {"kind": "body", "figure": written["figure"]}}


def _stint(written: Any) -> Any:
    if not isinstance(written, Mapping) or "clip" not in written:
        return written
    stint = {key: value for key, value in written.items() if key != "clip"}
    return {**stint, "source": {"kind": "clip", "id": written["clip"]}}
