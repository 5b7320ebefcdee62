"""What edits do to things that are keyed as a whole: curves by channel, all with keys at the same frames."""

from collections.abc import Mapping
from typing import TypeVar

from ...arrays import real
from ...curve import Curve, Key, SpanKind
from ...errors import Refusal
from ..document import Scene

C = TypeVar("C", bound=str)
REPLACES = "It takes the place of the key that was there."


def in_the_scene(scene: Scene, frame: float) -> None:
    """Raises Refusal for a frame that nothing can be keyed at."""
    if not 0 <= frame <= scene.laid_frames:
        raise Refusal("The scene does not play at that frame.")


def keyed(channels: Mapping[C, Curve], frame: float, numbers: Mapping[C, float]) -> dict[C, Curve]:
    """A key at a frame, of all channels."""
    return {
        name: channels[name].with_value(frame, value)
        if name in channels
        else Curve(keys=(Key(time=frame, value=value),))
        for name, value in numbers.items()
    }


def place_of_key(channels: Mapping[C, Curve], frame: float, name: str) -> int:
    """Which key stands at a frame. Raises Refusal where there is none."""
    curve = next(iter(channels.values()), None)
    place = curve.place_of(frame) if curve is not None else None
    if place is None:
        raise Refusal(f"{name} has no key there.")
    return place


def moved_key(
    channels: Mapping[C, Curve], place: int, to: float
) -> tuple[dict[C, Curve], tuple[str, ...]]:
    """A key at another frame; it takes the place of one that is there, and says so."""
    moved, gone = dict[C, Curve](), 0
    for name, curve in channels.items():
        moved[name], gone = curve.retimed({place: to})
    return moved, (REPLACES,) if gone else ()


def with_span(channels: Mapping[C, Curve], place: int, span: SpanKind) -> dict[C, Curve]:
    """Another kind of span after a key."""
    changed = dict[C, Curve]()
    for name, curve in channels.items():
        keys = list(curve.keys)
        keys[place] = keys[place].model_copy(update={"span": span})
        changed[name] = curve.with_keys(keys)
    return changed


def without_key(channels: Mapping[C, Curve], place: int) -> dict[C, Curve]:
    """Without one of the keys; nothing where it was the only one."""
    return {
        name: left
        for name, curve in channels.items()
        if (left := curve.without(frozenset({place}))) is not None
    }


def within_half_a_turn(curve: Curve | None, frame: float, degrees: float) -> float:
    """An angle told within half a turn of what it is there now (rule 3.4)."""
    if curve is None:
        return degrees
    now = float(curve.values(real([frame]))[0])
    return degrees + 360 * round((now - degrees) / 360)
