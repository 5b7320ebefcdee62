"""The suit: a made-up skeleton as a capture stage would send it, standing with its arms out where it
rests."""

from functools import lru_cache

from ...figure import Figure, Joint, Vector
from ...lay_figure import lay_dress
from ...sides import sides_of

Part = tuple[str, str, Vector, tuple[Vector, ...]]
_MIDDLE: tuple[Part, ...] = (
    ("Waist", "Hips", (0.0, 0.09, -0.01), ()),
    ("Ribs", "Waist", (0.0, 0.13, 0.0), ()),
    ("Chest", "Ribs", (0.0, 0.14, 0.0), ()),
    ("Neck", "Chest", (0.0, 0.17, 0.01), ()),
    ("Head", "Neck", (0.0, 0.1, 0.01), ((0.0, 0.19, 0.02),)),
)
# Of the left side; the right one is its mirror.
_ARM: tuple[Part, ...] = (
    ("Collar", "Chest", (0.03, 0.12, 0.0), ()),
    ("UpperArm", "Collar", (0.14, 0.0, -0.01), ()),
    ("Forearm", "UpperArm", (0.27, 0.0, 0.0), ()),
    ("Hand", "Forearm", (0.25, 0.0, 0.0), ()),
    ("Fingers", "Hand", (0.09, 0.0, 0.0), ((0.08, 0.0, 0.0),)),
    ("Thumb", "Hand", (0.03, 0.0, 0.03), ((0.04, 0.0, 0.03),)),
)
_LEG: tuple[Part, ...] = (
    ("Thigh", "Hips", (0.095, -0.05, 0.0), ()),
    ("Shin", "Thigh", (0.0, -0.43, 0.008), ()),
    ("Foot", "Shin", (0.0, -0.42, -0.008), ()),
    ("Toes", "Foot", (0.0, -0.065, 0.15), ((0.0, -0.005, 0.06),)),
)
HIP_HEIGHT_METRES = 0.97


@lru_cache(maxsize=1)
def suit() -> Figure:
    """A person of 1.78 m in 26 joints."""
    joints = [Joint(name="Hips", parent=-1, offset=(0.0, HIP_HEIGHT_METRES, 0.0))]
    parts = list(_MIDDLE)
    # In the order in which a motion file tells them.
    for limb in (_ARM, _LEG):
        for side, sign in (("Left", 1.0), ("Right", -1.0)):
            for name, above, (x, y, z), sites in limb:
                parent = above if above in ("Chest", "Hips") else f"{side}{above}"
                ends = tuple((sign * ex, ey, ez) for ex, ey, ez in sites)
                parts.append((f"{side}{name}", parent, (sign * x, y, z), ends))
    names = ["Hips", *(name for name, *_ in parts)]
    sides = sides_of(names)
    for name, above, offset, sites in parts:
        place = names.index(name)
        joints.append(
            Joint(
                name=name,
                parent=names.index(above),
                offset=offset,
                side=sides[place].side,
                mirror=sides[place].mirror,
                end_sites=sites,
            )
        )
    bare = Figure(name="Suit", joints=tuple(joints))
    return bare.model_copy(update={"dress": lay_dress(bare)})
