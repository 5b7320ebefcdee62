"""The recipe: the steps from a take to a clip, each on or off, in an order that can be changed (rule 6.5)."""

from typing import Annotated, Literal, TypeVar

from pydantic import Field, field_validator

from .. import ground
from ..clip.document import GroundTuple
from ..clock import Rate
from ..errors import Refusal
from ..frozen import Frozen
from ..quantities import MOST_FRAMES
from .mend import OVER_DEGREES
from .thin import CM, DEGREES, LOOSEST_DEGREES

StepName = Literal[
    "conform", "trim", "ground", "mend", "smooth", "contacts", "hold_feet", "thin"
]  # fmt: skip
SmoothHz = Annotated[float, Field(gt=0, le=500)]


class Conform(Frozen):
    """To another rate, or at another pace. Without a rate the take keeps its own."""

    step: Literal["conform"] = "conform"
    on: bool = True
    rate: Rate | None = None
    pace: float = Field(default=1.0, gt=0, le=100)


class Trim(Frozen):
    """Frames of the take `[start, end)`."""

    step: Literal["trim"] = "trim"
    on: bool = True
    start: int = Field(default=0, ge=0, le=MOST_FRAMES)
    end: int | None = Field(default=None, ge=1, le=MOST_FRAMES)


class Ground(Frozen):
    """The floor levelled, the start and heading laid to a mark, and the drift of the path taken out."""

    step: Literal["ground"] = "ground"
    on: bool = True
    level: bool = True
    to_mark: bool = True
    mark: GroundTuple = ground.ORIGIN
    drift: bool = False


class Mend(Frozen):
    """Spikes of more than so many degrees."""

    step: Literal["mend"] = "mend"
    on: bool = True
    over_degrees: float = Field(default=OVER_DEGREES, gt=0, le=180)


class Smooth(Frozen):
    """A cut-off, and one of their own for arms and legs; for all joints, or for those named."""

    step: Literal["smooth"] = "smooth"
    on: bool = True
    hz: SmoothHz = 6.0
    limbs_hz: SmoothHz | None = 9.5
    joints: tuple[str, ...] = ()


class Contacts(Frozen):
    """Plants found, and painted over by hand."""

    step: Literal["contacts"] = "contacts"
    on: bool = True


class HoldTheFeet(Frozen):
    """Plants held where they stand."""

    step: Literal["hold_feet"] = "hold_feet"
    on: bool = True


class Thin(Frozen):
    """Keys within a tolerance, or a share of them."""

    step: Literal["thin"] = "thin"
    on: bool = True
    degrees: float = Field(default=DEGREES, gt=0, le=LOOSEST_DEGREES)
    cm: float = Field(default=CM, gt=0, le=100)
    share: float | None = Field(default=None, gt=0, le=1)


Step = Annotated[
    Conform | Trim | Ground | Mend | Smooth | Contacts | HoldTheFeet | Thin,
    Field(discriminator="step"),
]
S = TypeVar("S", Conform, Trim, Ground, Mend, Smooth, Contacts, HoldTheFeet, Thin)
# What decides which frames there are comes first, and what makes keys of them last.
_FIRST, _LAST = ("conform", "trim"), "thin"


class Recipe(Frozen):
    """Steps in the order in which they are run, each kind once."""

    schema_version: Literal[1] = 1
    name: str = Field(default="House recipe", min_length=1, max_length=120)
    steps: tuple[Step, ...]

    @field_validator("steps")
    @classmethod
    def _each_once(cls, steps: tuple[Step, ...]) -> tuple[Step, ...]:
        names = [step.step for step in steps]
        if len(set(names)) < len(names):
            raise Refusal("A recipe has each step once.")
        if names != _put_in_order(names):
            raise Refusal("Conform and trim come first, and thin comes last.")
        return steps

    @property
    def running(self) -> tuple[Step, ...]:
        """The steps that are on."""
        return tuple(step for step in self.steps if step.on)

    def get(self, kind: type[S]) -> S | None:
        """The step of a kind, where it is on."""
        return next((s for s in self.steps if isinstance(s, kind) and s.on), None)

    def warnings(self) -> tuple[str, ...]:
        """What of the order would undo itself."""
        places = {step.step: place for place, step in enumerate(self.running)}
        return tuple(
            text
            for earlier, later, text in _UNWISE
            if earlier in places and later in places and places[earlier] < places[later]
        ) + (
            ("No contacts are found before the feet are held, so none are held.",)
            if "hold_feet" in places and places.get("contacts", 99) > places["hold_feet"]
            else ()
        )


_UNWISE: tuple[tuple[StepName, StepName, str], ...] = (
    ("smooth", "mend", "Smoothing spreads a spike over its neighbours: mend first."),
    ("hold_feet", "smooth", "Smoothing after the feet are held lets them slide again."),
    ("hold_feet", "mend", "Mending after the feet are held may move them again."),
    ("hold_feet", "ground", "The ground is laid under feet that are held already: lay it first."),
    ("contacts", "smooth", "Contacts are found more surely after smoothing: noise makes feet restless."),
    ("contacts", "ground", "Contacts are found more surely on a level floor: lay the ground first."),
)  # fmt: skip


def _put_in_order(names: list[StepName]) -> list[StepName]:
    first = [name for name in _FIRST if name in names]
    middle = [name for name in names if name not in _FIRST and name != _LAST]
    return [*first, *middle, *([_LAST] if _LAST in names else [])]


def moved_step(recipe: Recipe, name: StepName, places: int) -> Recipe:
    """A step so many places later, or earlier. Raises Refusal where the order would make no sense."""
    names = [step.step for step in recipe.steps]
    if name not in names:
        raise Refusal("The recipe has no such step.")
    at = names.index(name)
    to = at + places
    if not 0 <= to < len(names):
        raise Refusal("The step is at the end of the recipe already.")
    steps = list(recipe.steps)
    steps.insert(to, steps.pop(at))
    if [s.step for s in steps] != _put_in_order([s.step for s in steps]):
        raise Refusal("Conform and trim come first, and thin comes last.")
    return recipe.model_copy(update={"steps": tuple(steps)})


def house_recipe(rate: Rate) -> Recipe:
    """What most takes need, to a rate."""
    return Recipe(
        steps=(
            Conform(rate=rate), Trim(on=False), Ground(), Mend(), Smooth(), Contacts(), HoldTheFeet(),
            Thin(degrees=2.0, cm=1.0),
        )
    )  # fmt: skip
