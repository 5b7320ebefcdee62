"""Odo of paper: a layered set of twelve pictures on one sheet, drawn by our generator."""

from elastic_core.drawings.cut_out import CutOut
from elastic_core.drawings.drawing_set import DrawingSet, SetDrawing
from elastic_core.tracing import Picture

from .drawn import GOLD, INK, Point, path, svg

WIDE, HIGH = 900, 1_000
HEIGHT_METRES = 1.85
COAT, COAT_FAR, TROUSERS, TROUSERS_FAR = "#3F6B73", "#2F525A", "#6A5B4B", "#514538"
SKIN, BOOT, CAP = "#EBC7A0", "#33302D", "#22404A"
PARTS = (
    "far thigh", "far shin", "far foot", "hips", "torso", "head",
    "near thigh", "near shin", "near foot", "near arm", "near hand 1", "near hand 2",
)  # fmt: skip


def sheets() -> list[tuple[str, bytes]]:
    """The pictures as SVG files, by the names that tell the parts."""
    return [
        (f"odo_{name.replace(' ', '_')}.svg", svg(WIDE, HIGH, _painted(name)).encode())
        for name in PARTS
    ]


def layered(pictures: dict[str, Picture]) -> DrawingSet:
    """The set, by the pictures of the sheets' names."""
    drawings = tuple(
        SetDrawing(number=n, name=name, picture=picture)
        for n, (name, picture) in enumerate(pictures.items(), start=1)
    )
    return DrawingSet(name="Paper Odo", drawings=drawings)


def stood(cut_out: CutOut) -> CutOut:
    """As high as Odo is, with every sheet."""
    return cut_out.model_copy(update={"height_metres": HEIGHT_METRES})


def _painted(name: str) -> str:
    is_far = name.startswith("far")
    trousers = TROUSERS_FAR if is_far else TROUSERS
    if name.endswith("thigh"):
        return _limb(450, 455, 462, 735, 88, 66, trousers)
    if name.endswith("shin"):
        return _limb(462, 690, 440, 945, 62, 48, trousers)
    if name.endswith("foot"):
        boot = [(410.0, 915.0), (474.0, 908.0), (500.0, 944.0), (566.0, 962.0), (570.0, 992.0),
                (412.0, 992.0)]  # fmt: skip
        return _cut(boot, BOOT if not is_far else INK)
    if name == "near arm":
        return _limb(445, 225, 462, 505, 74, 54, COAT_FAR)
    if name.startswith("near hand"):
        return _hand(is_open=name.endswith("2"))
    return {"hips": _hips, "torso": _torso, "head": _head}[name]()


def _cut(points: list[Point], fill: str) -> str:
    return path(points, f'fill="{fill}" stroke="{INK}" stroke-width="9" stroke-linejoin="round"')


def _limb(x: float, y: float, to_x: float, to_y: float, wide: float, end: float, fill: str) -> str:
    """A piece with round ends."""
    middle_x, middle_y = (x + to_x) / 2, (y + to_y) / 2
    return _cut(
        [
            (x, y - 6),
            (x + wide / 2, y + wide / 3),
            (middle_x + wide / 2.1, middle_y),
            (to_x + end / 2, to_y - end / 3),
            (to_x, to_y + 6),
            (to_x - end / 2, to_y - end / 3),
            (middle_x - wide / 2.1, middle_y),
            (x - wide / 2, y + wide / 3),
        ],
        fill,
    )


def _hips() -> str:
    return _cut(
        [(384.0, 428.0), (516.0, 428.0), (540.0, 548.0), (450.0, 574.0), (366.0, 552.0)], COAT
    )


def _torso() -> str:
    coat = [
        (404.0, 216.0),
        (484.0, 210.0),
        (530.0, 300.0),
        (524.0, 468.0),
        (380.0, 470.0),
        (372.0, 320.0),
    ]
    buttons = "".join(
        f'<circle cx="{506 + k}" cy="{310 + 62 * k}" r="8" fill="{GOLD}" stroke="{INK}" stroke-width="5"/>'
        for k in range(3)
    )
    return _cut(coat, COAT) + buttons


def _head() -> str:
    face = [(392.0, 120.0), (430.0, 66.0), (500.0, 74.0), (516.0, 128.0), (552.0, 152.0), (512.0, 168.0),
            (488.0, 214.0), (424.0, 216.0)]  # fmt: skip
    cap = [
        (384.0, 112.0),
        (398.0, 46.0),
        (470.0, 28.0),
        (524.0, 66.0),
        (580.0, 92.0),
        (520.0, 98.0),
    ]
    return _cut(face, SKIN) + _cut(cap, CAP) + f'<circle cx="492" cy="128" r="8" fill="{INK}"/>'


def _hand(*, is_open: bool) -> str:
    palm = [(436.0, 490.0), (486.0, 488.0), (498.0, 528.0), (474.0, 560.0), (438.0, 548.0)]
    if is_open:
        palm = [(436.0, 490.0), (486.0, 488.0), (536.0, 520.0), (494.0, 534.0), (510.0, 590.0),
                (470.0, 560.0), (446.0, 586.0), (432.0, 540.0)]  # fmt: skip
    return _cut(palm, SKIN)
