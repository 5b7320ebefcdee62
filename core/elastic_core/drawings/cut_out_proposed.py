"""What is proposed for a cut-out by the names of its drawings and by where they are painted."""

from collections import Counter
from collections.abc import Mapping, Sequence

from ..anatomy import Known, Part, known_by_name
from ..sides import Side, side_of
from .cut_out import CutOut, CutPart, Place
from .drawing_set import DrawingSet, SetDrawing
from .run import Drawing

# Where the paint of a drawing ends on the sheet: left, below, right and above.
Box = tuple[float, float, float, float]
NO_PAINT: Box = (0.0, 0.0, 0.0, 0.0)
MOST_LETTERS = 40
# What a part hangs on: the first of these that the figure has, on its own side or in the middle.
_HANGS_ON: dict[Part, tuple[Part, ...]] = {
    "trunk": ("pelvis",), "neck": ("trunk", "pelvis"), "head": ("neck", "trunk", "pelvis"),
    "collar": ("trunk", "pelvis"), "upper arm": ("collar", "trunk", "pelvis"),
    "forearm": ("upper arm",), "hand": ("forearm", "upper arm"),
    "thigh": ("pelvis", "trunk"), "shin": ("thigh",), "foot": ("shin",), "toe": ("foot",),
}  # fmt: skip
# Limbs hang from their upper ends; what stands on the part below turns at its foot.
_FROM_ABOVE: frozenset[Part] = frozenset(
    {"collar", "upper arm", "forearm", "hand", "thigh", "shin", "foot"}
)
_FROM_BELOW: frozenset[Part] = frozenset({"trunk", "neck", "head"})
# How much of a piece overlaps the one that it hangs on.
OVERLAP = 0.12
_FROM_BACK: tuple[Side, ...] = ("left", "middle", "right")


def proposed(name: str, drawings: str, drawn: DrawingSet, boxes: Mapping[Drawing, Box]) -> CutOut:
    """A cut-out of a layered set: its parts by the names of the drawings' files, what hangs on what, where they
    turn, and in which order they lie. `boxes` tell where each drawing is painted; one without paint lies at the
    pegs."""
    shown = drawings_of_parts(drawn)
    names = list(shown)
    known = known_by_name(tuple(names), (-1,) * len(names), without_partners=True)
    taken = {(one.side, one.part): names[place] for place, one in known.items()}
    carrier = taken.get(("middle", "pelvis")) or taken.get(("middle", "trunk")) or names[0]
    parts = []
    for place, part in enumerate(names):
        own = known.get(place)
        parent = "" if part == carrier else _parent(own, taken) or carrier
        box = boxes.get(shown[part][0], NO_PAINT)
        above = boxes.get(shown[parent][0], NO_PAINT) if parent else box
        parts.append(
            CutPart(
                name=part,
                drawings=shown[part],
                pivot=_pivot(own, box, above),
                parent=parent,
                order=100 * _FROM_BACK.index(side_of(part)) + place,
                tip=(box[2], box[1]) if own is not None and own.part in ("foot", "toe") else None,
            )
        )
    return CutOut(name=name, drawings=drawings, parts=tuple(parts))


def drawings_of_parts(drawn: DrawingSet) -> dict[str, tuple[Drawing, ...]]:
    """The parts that the names of files tell, and their drawings: “odo_near hand 03.png” and “odo_near hand
    04.png” beside “odo_head 01.png” are two drawings of “near hand”. Without names each is a part."""
    words = [_words(drawing) for drawing in drawn.drawings]
    common = _begin_alike(words)
    names = [" ".join(own[common:])[:MOST_LETTERS] for own in words]
    if len(names) > 1 and len(Counter(names)) == 1:
        names = [""] * len(names)
    found: dict[str, tuple[Drawing, ...]] = {}
    for name, drawing in zip(names, drawn.drawings, strict=True):
        part = name or f"part {drawing.number}"
        found[part] = (*found.get(part, ()), drawing.number)
    return found


def _words(drawing: SetDrawing) -> list[str]:
    """The words of a file's name, without its folder, its ending and its numbers."""
    bare = drawing.name.replace("\\", "/").rsplit("/", 1)[-1]
    stem = bare.rsplit(".", 1)[0] if "." in bare else bare
    for mark in "_-.":
        stem = stem.replace(mark, " ")
    return [word.lower() for word in stem.split() if not word.isdigit()]


def _begin_alike(names: Sequence[Sequence[str]]) -> int:
    """With how many words all the names begin; every one keeps its last."""
    count = 0
    while len(names) > 1 and all(
        len(own) > count + 1 and own[count] == names[0][count] for own in names
    ):
        count += 1
    return count


def _parent(own: Known | None, taken: Mapping[tuple[Side, Part], str]) -> str:
    if own is None:
        return ""
    sides: tuple[Side, ...] = (own.side, "middle")
    above = ((side, part) for part in _HANGS_ON.get(own.part, ()) for side in sides)
    return next((taken[one] for one in above if one in taken), "")


def _pivot(own: Known | None, box: Box, hangs_on: Box) -> Place:
    """Across where both are painted, and as high as its kind of part turns."""
    left, below, right, above = box
    shared = max(left, hangs_on[0]), min(right, hangs_on[2])
    middle = sum(shared) / 2 if shared[0] < shared[1] else (left + right) / 2
    if own is not None and own.part in _FROM_ABOVE:
        return middle, above - OVERLAP * (above - below)
    if own is not None and own.part in _FROM_BELOW:
        return middle, below + OVERLAP * (above - below)
    return middle, (below + above) / 2
