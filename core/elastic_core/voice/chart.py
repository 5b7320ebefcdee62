"""Mouth charts: the mouths of a figure, the phones each stands for, and what stands in for a missing one."""

import json
from collections.abc import Iterable, Mapping
from functools import cache, cached_property
from importlib.resources import files
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..errors import Refusal
from ..frozen import Frozen
from ..quantities import PlaceMetres
from .phones import CLOSURES, PHONES, Phone

MouthKey = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,29}$")]
Unit = Annotated[float, Field(ge=-20.0, le=20.0)]
Ink = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
MouthSize = Literal["small", "full", "shouted"]
ChartSide = Literal["any", "front", "three-quarter", "side"]
REST = "rest"
MOST_MOUTHS = 60
# By level beside the line's usual, in decibels.
SMALL_UNDER_DB, SHOUTED_OVER_DB = -9.0, 5.0
# From so far round the face on a chart for that side is seen; one for any side from everywhere.
REACH_DEGREES: Mapping[ChartSide, float] = {
    "front": 28.0,
    "three-quarter": 68.0,
    "side": 180.0,
    "any": 180.0,
}
# What stands in for what is missing, the likest first.
LIKEST: Mapping[str, tuple[str, ...]] = {
    "rest": ("mbp", "consonants"),
    "mbp": ("rest", "fv", "consonants"),
    "fv": ("mbp", "consonants", "rest"),
    "thl": ("consonants", "e", "half"),
    "ai": ("open", "e", "o", "half"),
    "e": ("half", "ai", "consonants", "open"),
    "o": ("half", "uw", "ai", "open"),
    "uw": ("narrow", "o", "half", "consonants"),
    "consonants": ("half", "e", "thl", "rest"),
}
# Which of our mouths stands for which phones.
USUAL: Mapping[str, tuple[str, ...]] = {
    "mbp": ("M", "B", "P"),
    "fv": ("F", "V"),
    "thl": ("TH", "DH", "L"),
    "ai": ("AA", "AE", "AH", "AY", "AW"),
    "e": ("EH", "EY", "IH", "IY"),
    "o": ("AO", "OW", "OY"),
    "uw": ("ER", "R", "UH", "UW", "W"),
    "consonants": ("CH", "D", "G", "HH", "JH", "K", "N", "NG", "S", "SH", "T", "Y", "Z", "ZH"),
}


class Stroke(Frozen):
    """A line through `points`, or with a `fill` a shape. Half the chart's width is 1, x to the figure's left
    as one looks at it, y up; `line` is in hundredths of that."""

    points: Annotated[tuple[tuple[Unit, Unit], ...], Field(min_length=1, max_length=400)]
    closed: bool = False
    smooth: bool = True
    fill: Ink | None = None
    line: Annotated[float, Field(ge=0.0, le=50.0)] = 0.0
    colour: Ink = "#22303C"


class MouthPicture(Frozen):
    """A picture of the production, by its file, as a mouth: so many times as wide as the chart, moved by
    parts of its half width."""

    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    width: Annotated[float, Field(gt=0.01, le=20.0)] = 1.0
    shift: tuple[Unit, Unit] = (0.0, 0.0)


class Mouth(Frozen):
    """One mouth: `key` is its name in readings and sheets, `drawing` its number. Of several mouths for one
    phone the `size` says which is shown when it is loud or soft. It is drawn by strokes, or is a picture."""

    key: MouthKey
    drawing: Annotated[int, Field(ge=1, le=9_999)]
    name: Annotated[str, Field(min_length=1, max_length=60)]
    phones: Annotated[tuple[Phone, ...], Field(max_length=60)] = ()
    size: MouthSize = "full"
    strokes: Annotated[tuple[Stroke, ...], Field(max_length=100)] = ()
    picture: MouthPicture | None = None


class MouthShown(Frozen):
    """Which mouth shows for a sound, and which it stands in for, if it does."""

    mouth: Mouth
    instead_of: str | None = None


class ChartMouths(Frozen):
    """The mouths themselves. Mouths have numbers and keys of their own, and there is one to rest in, or one
    that can stand in for it."""

    mouths: Annotated[tuple[Mouth, ...], Field(min_length=1, max_length=MOST_MOUTHS)]

    @model_validator(mode="after")
    def _each_by_itself(self) -> Self:
        for name in ("key", "drawing"):
            told = [getattr(mouth, name) for mouth in self.mouths]
            twice = next((one for one in told if told.count(one) > 1), None)
            if twice is not None:
                raise Refusal(f"Two mouths of the chart have the {name} {twice}.")
        return self

    @cached_property
    def by_key(self) -> dict[str, Mouth]:
        return {mouth.key: mouth for mouth in self.mouths}

    @cached_property
    def rest(self) -> Mouth:
        """The mouth at rest, or what stands in for it."""
        return self.standing_for(REST).mouth

    def mouth(self, key: str) -> Mouth:
        """A mouth by its key. Raises Refusal where the chart lacks it."""
        if key not in self.by_key:
            raise Refusal(f"The chart has no mouth “{key}”.")
        return self.by_key[key]

    def standing_for(self, key: str) -> MouthShown:
        """One of our mouths, or the likest of those that are there."""
        if key in self.by_key:
            return MouthShown(mouth=self.by_key[key])
        for other in LIKEST.get(key, ()):
            if other in self.by_key:
                return MouthShown(mouth=self.by_key[other], instead_of=key)
        return MouthShown(mouth=self.mouths[0], instead_of=key)

    def shown(self, phone: str, loudness_db: float | None = None) -> MouthShown:
        """The mouth for a phone; of several the one for how loud it is."""
        meant = self._meant.get(phone, ())
        if not meant:
            return self.standing_for(usual_mouth(phone))
        return MouthShown(mouth=_by_loudness(meant, loudness_db))

    @property
    def stood_in(self) -> dict[str, str]:
        """The phones for which the chart has no mouth: phone → the mouth that stands in."""
        return {phone: self.shown(phone).mouth.key for phone in sorted(PHONES - set(self._meant))}

    @cached_property
    def _meant(self) -> dict[str, tuple[Mouth, ...]]:
        found: dict[str, tuple[Mouth, ...]] = {}
        for mouth in self.mouths:
            for phone in mouth.phones:
                found[phone] = (*found.get(phone, ()), mouth)
        return found

    def closes(self, mouth: Mouth) -> bool:
        """Whether a mouth shows that lips meet: the one for M, B and P, or what stands in for it."""
        return any(self.shown(phone).mouth.key == mouth.key for phone in CLOSURES)


class FacePlace(Frozen):
    """Where on a figure a chart's mouths stand: a card at `offset` in a joint's frame, so wide, turned about
    the joint's upright axis to face where the drawing does, to its left where that is positive. It is painted
    `on` a part of the figure's dress, under what lies over that; without one, over everything. Seen from the
    right, a chart for three-quarter or side is mirrored."""

    joint: Annotated[str, Field(min_length=1, max_length=200)]
    offset: PlaceMetres = (0.0, 0.0, 0.0)
    on: Annotated[str, Field(max_length=120)] = ""
    width_metres: Annotated[float, Field(gt=0.0, le=100.0)] = 0.1
    heading_degrees: Annotated[float, Field(ge=-180.0, le=180.0)] = 0.0
    tilt_degrees: Annotated[float, Field(ge=-90.0, le=90.0)] = 0.0


class MouthChart(ChartMouths):
    """A chart as a document: for one part of one figure, as it is seen from one side, or from all."""

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    figure: str = ""
    part: Annotated[str, Field(min_length=1, max_length=120)] = "mouth"
    view: ChartSide = "any"
    place: FacePlace | None = None

    @property
    def reach_degrees(self) -> float:
        """How far round from the face on it is seen."""
        return REACH_DEGREES[self.view]


def usual_mouth(phone: str) -> str:
    """Which of our mouths a phone has, chart or none."""
    return next(key for key, phones in USUAL.items() if phone in phones)


def _by_loudness(meant: Iterable[Mouth], loudness_db: float | None) -> Mouth:
    sizes = {mouth.size: mouth for mouth in reversed(list(meant))}
    level = 0.0 if loudness_db is None else loudness_db
    wanted: MouthSize = "full"
    if level < SMALL_UNDER_DB:
        wanted = "small"
    elif level > SHOUTED_OVER_DB:
        wanted = "shouted"
    return sizes.get(wanted) or sizes.get("full") or next(iter(sizes.values()))


@cache
def usual_mouths() -> ChartMouths:
    """Our ten mouths, drawn: what a line is exposed by where no chart is given."""
    drawn = json.loads((files(__package__) / "usual_mouths.json").read_text(encoding="utf-8"))
    keys = ("rest", "mbp", "fv", "thl", "ai", "e", "o", "uw", "consonants", "smile")
    names = ("Rest", "M B P", "F V", "TH L", "A I", "E", "O", "U W", "Consonants", "Smile")
    return ChartMouths(
        mouths=tuple(
            Mouth(
                key=key,
                drawing=number,
                name=name,
                phones=USUAL.get(key, ()),
                strokes=tuple(Stroke.model_validate(stroke) for stroke in drawn[key]),
            )
            for number, (key, name) in enumerate(zip(keys, names, strict=True), start=1)
        )
    )
