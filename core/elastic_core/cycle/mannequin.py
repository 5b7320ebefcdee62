"""A plain figure of a person, for gaits that no one has made a figure for yet."""

from ..figure import Figure, Joint
from ..sides import sides_of

# name, parent, offset from it in metres
_JOINTS = (
    ("Hips", None, (0.0, 0.96, 0.0)),
    ("Spine", "Hips", (0.0, 0.1, 0.0)),
    ("Chest", "Spine", (0.0, 0.2, 0.0)),
    ("Neck", "Chest", (0.0, 0.22, 0.0)),
    ("Head", "Neck", (0.0, 0.1, 0.01)),
    ("LeftShoulder", "Chest", (0.18, 0.17, 0.0)),
    ("LeftElbow", "LeftShoulder", (0.02, -0.28, 0.0)),
    ("LeftWrist", "LeftElbow", (0.0, -0.25, 0.0)),
    ("RightShoulder", "Chest", (-0.18, 0.17, 0.0)),
    ("RightElbow", "RightShoulder", (-0.02, -0.28, 0.0)),
    ("RightWrist", "RightElbow", (0.0, -0.25, 0.0)),
    ("LeftHip", "Hips", (0.095, -0.03, 0.0)),
    ("LeftKnee", "LeftHip", (0.0, -0.43, 0.01)),
    ("LeftAnkle", "LeftKnee", (0.0, -0.42, -0.01)),
    ("LeftToe", "LeftAnkle", (0.0, -0.055, 0.13)),
    ("RightHip", "Hips", (-0.095, -0.03, 0.0)),
    ("RightKnee", "RightHip", (0.0, -0.43, 0.01)),
    ("RightAnkle", "RightKnee", (0.0, -0.42, -0.01)),
    ("RightToe", "RightAnkle", (0.0, -0.055, 0.13)),
)
_TIPS = {
    "Head": (0.0, 0.19, 0.0),
    "LeftWrist": (0.0, -0.17, 0.0),
    "RightWrist": (0.0, -0.17, 0.0),
    "LeftToe": (0.0, -0.025, 0.06),
    "RightToe": (0.0, -0.025, 0.06),
}


def mannequin() -> Figure:
    """1.74 m tall, its arms hanging."""
    names = [name for name, _, _ in _JOINTS]
    joints = tuple(
        Joint(
            name=name,
            parent=names.index(parent) if parent else -1,
            offset=offset,
            side=side.side,
            mirror=side.mirror,
            end_sites=(_TIPS[name],) if name in _TIPS else (),
        )
        for (name, parent, offset), side in zip(_JOINTS, sides_of(names), strict=True)
    )
    return Figure(name="Mannequin", joints=joints)
