"""Edits of keys in time and by number: the key sheet and the curves (rule 3.3)."""

from collections.abc import Callable, Mapping
from typing import Annotated, Literal

from pydantic import Field

from ...channels import channel, joint_of
from ...clip.document import Clip
from ...clock import nearest_frame
from ...curve import Beyond, Curve, Key, SpanKind
from ...cycle.mirror import mirrored_curve, mirrored_name
from ...errors import Refusal
from ...quantities import Frame, Slope, Value
from ...saying import counted, said
from .base import (
    Chosen,
    Edit,
    Edited,
    Made,
    Rules,
    beyond_of,
    curve_of,
    into_keys,
    joints_in,
    with_curves,
)

Retime = Callable[[float], float]


class MoveKeys(Edit):
    """Chosen keys moved in time; in a cycle they go round. With `ripple` all later ones go along."""

    kind: Literal["move_keys"] = "move_keys"
    chosen: Chosen
    frames: Frame
    ripple: bool = False
    snap: bool = True


class ScaleKeys(Edit):
    """Chosen keys drawn apart or together about a pivot."""

    kind: Literal["scale_keys"] = "scale_keys"
    chosen: Chosen
    pivot: Frame
    factor: Annotated[float, Field(gt=0.0, le=100.0)]
    snap: bool = True


class WidenKeys(Edit):
    """Chosen keys drawn apart from the first of them, so that all take so many frames more."""

    kind: Literal["widen_keys"] = "widen_keys"
    chosen: Chosen
    frames: Frame
    snap: bool = True


class ReverseKeys(Edit):
    """Chosen keys in turned order, over the same span of time."""

    kind: Literal["reverse_keys"] = "reverse_keys"
    chosen: Chosen


class DeleteKeys(Edit):
    kind: Literal["delete_keys"] = "delete_keys"
    chosen: Chosen


class SnapKeys(Edit):
    """Keys on the nearest whole frames; without a choice all of them."""

    kind: Literal["snap_keys"] = "snap_keys"
    chosen: Chosen | None = None


class PasteKeys(Edit):
    """Keys laid in at a frame; their times count from it. `onto` names other joints for some."""

    kind: Literal["paste_keys"] = "paste_keys"
    keys: dict[str, tuple[Key, ...]]
    frame: Frame
    mirrored: bool = False
    onto: dict[str, str] = Field(default={})


class SetSpans(Edit):
    """How the curve goes on from the chosen keys: hold, even, eased or free."""

    kind: Literal["set_spans"] = "set_spans"
    chosen: Chosen
    span: SpanKind


class SetKey(Edit):
    """One key's numbers; what is left out stays."""

    kind: Literal["set_key"] = "set_key"
    channel: str
    time: Frame
    value: Value | None = None
    new_time: Frame | None = None
    in_slope: Slope | None = None
    out_slope: Slope | None = None


class ShiftValues(Edit):
    """Chosen keys of one unit moved in value."""

    kind: Literal["shift_values"] = "shift_values"
    chosen: Chosen
    by: Value


class SetBeyond(Edit):
    """What channels do before their first key and after their last (rule 3.2)."""

    kind: Literal["set_beyond"] = "set_beyond"
    channels: tuple[str, ...]
    before: Beyond
    after: Beyond


def chosen_places(made: Made, chosen: Chosen) -> dict[str, frozenset[int]]:
    """Chosen keys as places in their curves. Raises Refusal for keys that are gone, or follow others."""
    clip = made.clip
    found: dict[str, frozenset[int]] = {}
    for name, times in chosen.items():
        curve = curve_of(clip, name)
        places = {time: curve.place_of(time) for time in times}
        if clip.half_linked and any(time >= clip.length_frames / 2 for time in times):
            raise Refusal(
                f"Frames {clip.length_frames // 2} to {clip.length_frames - 1} follow the first "
                "half. Change them there, or unlink the halves."
            )
        if missing := [time for time, place in places.items() if place is None]:
            raise Refusal(f"There is no key of {name} at {missing[0]:g} any more.")
        if times:
            found[name] = frozenset(place for place in places.values() if place is not None)
    if not found:
        raise Refusal("Choose some keys first.")
    return found


def _count(places: Mapping[str, frozenset[int]]) -> str:
    return counted(sum(len(found) for found in places.values()), "key")


def _lying(clip: Clip, time: float) -> float:
    """Where a key comes to lie: in a cycle those beyond its ends go round."""
    if clip.is_cycle and not 0 <= time <= clip.length_frames:
        return time % clip.length_frames
    if time < 0:
        raise Refusal("A key would come to lie before frame 0.")
    return time


def _retimed(
    made: Made,
    places: Mapping[str, frozenset[int]],
    retime: Retime,
    label: str,
    *,
    snap: bool,
    about: Mapping[str, frozenset[int]] | None = None,
) -> Edited:
    """Keys set to other times; says how many were replaced, and how far snapping moved them.

    `about` are those that stay chosen, where they are not all of them.
    """
    keyed = made.keyed
    clip = keyed.clip
    replaced, rounding, changed = 0, 0.0, {}
    landed: dict[str, tuple[float, ...]] = {}
    for name, chosen in places.items():
        curve = clip.keys[name]
        times: dict[int, float] = {}
        for place in chosen:
            exact = retime(float(curve.times[place]))
            time = nearest_frame(exact) if snap else exact
            rounding = max(rounding, abs(time - exact))
            times[place] = _lying(clip, time)
        if len(set(times.values())) < len(times):
            raise Refusal("Two of the chosen keys would come to lie on one frame.")
        changed[name], gone = curve.retimed(times)
        replaced += gone
        if kept := (about or places).get(name):
            # A ripple moves what lies within the round; a key on its end stays.
            landed[name] = tuple(
                sorted(times.get(place, float(curve.times[place])) for place in kept)
            )
    notes = list(into_keys(made))
    if replaced:
        notes.append(f"{counted(replaced, 'key')} that lay there {_was(replaced)} replaced.")
    if rounding > 1e-6:
        notes.append(f"Snapped to whole frames, by {rounding:.2f} frames at the most.")
    notes += _out_of_sight(clip, landed)
    return Edited(with_curves(clip, changed), label, tuple(notes), landed)


def _out_of_sight(clip: Clip, landed: Mapping[str, tuple[float, ...]]) -> list[str]:
    """A word about keys that lie where the clip has ended; in a cycle nothing does."""
    if clip.is_cycle:
        return []
    last = clip.length_frames - 1
    beyond = sum(time > last for times in landed.values() for time in times)
    if not beyond:
        return []
    lie = "lies" if beyond == 1 else "lie"
    return [f"{counted(beyond, 'key')} {lie} after the last frame, {last}, now."]


def _was(count: int) -> str:
    return "was" if count == 1 else "were"


def _move(made: Made, edit: MoveKeys) -> Edited:
    keyed = made.keyed
    places = about = chosen_places(keyed, edit.chosen)
    label = f"Move {_count(places)} by {edit.frames:+g}"
    if edit.ripple:
        clip = keyed.clip
        start = min(min(times) for times in edit.chosen.values() if times)
        length = clip.length_frames / (2 if clip.half_linked else 1)
        later = {
            name: [time for time in curve.times.tolist() if start <= time < length]
            for name, curve in clip.keys.items()
        }
        places = chosen_places(keyed, {name: times for name, times in later.items() if times})
        label = f"Move everything from {start:g} by {edit.frames:+g}"

    def retime(time: float) -> float:
        return time + edit.frames

    return _retimed(made, places, retime, label, snap=edit.snap, about=about)


def _scale(made: Made, edit: ScaleKeys) -> Edited:
    places = chosen_places(made.keyed, edit.chosen)

    def retime(time: float) -> float:
        return edit.pivot + (time - edit.pivot) * edit.factor

    label = f"Scale {_count(places)} to {100 * edit.factor:.0f} % about {edit.pivot:g}"
    return _retimed(made, places, retime, label, snap=edit.snap)


def _widen(made: Made, edit: WidenKeys) -> Edited:
    every = [time for times in edit.chosen.values() for time in times]
    span = max(every, default=0.0) - min(every, default=0.0)
    if not 0 < span + edit.frames <= 100 * span:
        raise Refusal("Keys cannot be drawn together, or apart, that far.")
    factor = (span + edit.frames) / span
    scaled = ScaleKeys(chosen=edit.chosen, pivot=min(every), factor=factor, snap=edit.snap)
    return _scale(made, scaled)


def _reverse(made: Made, edit: ReverseKeys) -> Edited:
    places = chosen_places(made.keyed, edit.chosen)
    every = [time for times in edit.chosen.values() for time in times]
    both = min(every) + max(every)
    return _retimed(made, places, lambda time: both - time, f"Reverse {_count(places)}", snap=False)


def _delete(made: Made, edit: DeleteKeys) -> Edited:
    keyed = made.keyed
    places = chosen_places(keyed, edit.chosen)
    changed: dict[str, Curve | None] = {
        name: keyed.clip.keys[name].without(chosen) for name, chosen in places.items()
    }
    gone = [name for name, curve in changed.items() if curve is None]
    left = with_curves(keyed.clip, changed)
    if not left.keys:
        raise Refusal("A clip has one key at least.")
    notes = list(into_keys(made))
    if gone:
        joints = said(keyed.figure, joints_in(keyed.figure, gone))
        notes.append(f"{joints} {'rests' if len(gone) < 4 else 'rest'} in what has no key now.")
    return Edited(left, f"Delete {_count(places)}", tuple(notes), {})


def _snap(made: Made, edit: SnapKeys) -> Edited:
    keyed = made.keyed
    every = {name: curve.times.tolist() for name, curve in keyed.clip.keys.items()}
    off = {
        name: [time for time in times if time != nearest_frame(time)]
        for name, times in (edit.chosen or every).items()
    }
    places = chosen_places(keyed, {name: times for name, times in off.items() if times})
    changed, replaced = {}, 0
    for name, chosen in places.items():
        curve = keyed.clip.keys[name]
        wanted = {place: nearest_frame(float(curve.times[place])) for place in chosen}
        changed[name], gone = curve.retimed(wanted)
        replaced += gone
    notes = (f"{counted(replaced, 'key')} that met another {_was(replaced)} replaced.",)
    label = f"Snap {_count(places)} to frames"
    landed = {
        name: tuple(sorted({nearest_frame(time) for time in times}))
        for name, times in (edit.chosen or {}).items()
    }
    return Edited(
        with_curves(keyed.clip, changed), label, notes if replaced else (), landed or None
    )


def _paste(made: Made, edit: PasteKeys) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    changed: dict[str, Curve] = {}
    landed: dict[str, tuple[float, ...]] = {}
    left_out: list[str] = []
    for source, keys in edit.keys.items():
        name = _onto(source, edit.onto)
        joint = channel(name).joint
        if joint and joint not in figure.names:
            left_out.append(joint)
            continue
        if not keys:
            continue
        beyond = beyond_of(clip)
        pasted = Curve(keys=keys, before=beyond, after=beyond)
        if edit.mirrored:
            pasted, name = mirrored_curve(name, pasted), mirrored_name(figure, name)
        curve = changed.get(name) or clip.keys.get(name)
        laid = {
            (time := _lying(clip, key.time + edit.frame)): key.model_copy(update={"time": time})
            for key in pasted.keys
        }
        keys_now = {**{key.time: key for key in (curve.keys if curve else ())}, **laid}
        in_order = tuple(keys_now[time] for time in sorted(keys_now))
        changed[name] = (curve or pasted).with_keys(in_order)
        landed[name] = tuple(sorted({*landed.get(name, ()), *laid}))
    if not changed:
        raise Refusal(f"None of the copied joints is one of {figure.name}'s.")
    notes = list(into_keys(made))
    if left_out:
        names = ", ".join(dict.fromkeys(left_out))
        notes.append(f"Left out, because {figure.name} has no such joint: {names}.")
    notes += _out_of_sight(clip, landed)
    count = sum(len(keys) for keys in edit.keys.values())
    how = " mirrored" if edit.mirrored else ""
    label = f"Paste {counted(count, 'key')}{how} at {edit.frame:g}"
    return Edited(with_curves(clip, changed), label, tuple(notes), landed)


def _onto(name: str, onto: Mapping[str, str]) -> str:
    own = channel(name)
    if own.joint not in onto:
        return name
    return f"{onto[own.joint]}.{own.part}.{own.axis}"


def _set_spans(made: Made, edit: SetSpans) -> Edited:
    keyed = made.keyed
    places = chosen_places(keyed, edit.chosen)

    changed = {}
    for name, chosen in places.items():
        curve = keyed.clip.keys[name]
        closed = curve.closed(keyed.clip.length_frames) if keyed.clip.is_cycle else curve
        incoming, outgoing = closed.slopes()
        keys = list(curve.keys)
        for place in chosen:
            update: dict[str, object] = {"span": edit.span}
            if edit.span == "free" and len(keys) > 1:
                # Free begins with the slopes that were seen, so that nothing jumps.
                update["out_slope"] = float(outgoing[place])
                arrives = float(incoming[min(place + 1, len(incoming) - 1)])
                after = (place + 1) % len(keys)
                keys[after] = keys[after].model_copy(update={"in_slope": arrives})
            keys[place] = keys[place].model_copy(update=update)
        changed[name] = Curve(keys=tuple(keys), before=curve.before, after=curve.after)
    words = {"hold": "Hold", "even": "Make even", "eased": "Ease", "free": "Free"}
    label = f"{words[edit.span]} {_count(places)}"
    return Edited(with_curves(keyed.clip, changed), label, into_keys(made))


def _set_key(made: Made, edit: SetKey) -> Edited:
    keyed = made.keyed
    places = chosen_places(keyed, {edit.channel: [edit.time]})
    curve = keyed.clip.keys[edit.channel]
    (place,) = places[edit.channel]
    if edit.in_slope is not None:
        curve = _with_slope(curve, (place - 1) % len(curve), into=edit.in_slope)
    if edit.out_slope is not None:
        curve = _with_slope(curve, place, out=edit.out_slope)
    if edit.value is not None:
        curve = curve.with_value(edit.time, edit.value)
    replaced, time = 0, edit.time
    if edit.new_time is not None:
        time = _lying(keyed.clip, edit.new_time)
        curve, replaced = curve.retimed({place: time})
    joint = said(keyed.figure, [joint_of(keyed.figure, edit.channel)])
    notes = list(into_keys(made))
    if replaced:
        notes.append("The key that lay there was replaced.")
    label = f"Set a key of {joint} at {edit.time:g}"
    landed = {edit.channel: (time,)}
    notes += _out_of_sight(keyed.clip, landed)
    return Edited(with_curves(keyed.clip, {edit.channel: curve}), label, tuple(notes), landed)


def _with_slope(
    curve: Curve, place: int, *, out: float | None = None, into: float | None = None
) -> Curve:
    """A span made free as it is seen, with a slope of its own at its start or at its end."""
    incoming, outgoing = curve.slopes()
    keys = list(curve.keys)
    after = (place + 1) % len(keys)
    leaves = float(outgoing[place]) if out is None else out
    arrives = float(incoming[after]) if into is None else into
    keys[place] = keys[place].model_copy(update={"span": "free", "out_slope": leaves})
    keys[after] = keys[after].model_copy(update={"in_slope": arrives})
    return curve.with_keys(keys)


def _shift_values(made: Made, edit: ShiftValues) -> Edited:
    keyed = made.keyed
    places = chosen_places(keyed, edit.chosen)
    if len({channel(name).unit for name in places}) > 1:
        raise Refusal("Turns, moves and scales are not moved by one number: choose one kind.")

    changed = {}
    for name, chosen in places.items():
        curve = keyed.clip.keys[name]
        values = curve.values_of_keys.copy()
        values[sorted(chosen)] += edit.by
        changed[name] = curve.with_columns(values=values)
    unit = {"degrees": "°", "metres": " m", "times": " times"}[channel(next(iter(places))).unit]
    label = f"Move {_count(places)} by {edit.by:+.3g}{unit}"
    return Edited(with_curves(keyed.clip, changed), label, into_keys(made))


def _set_beyond(made: Made, edit: SetBeyond) -> Edited:
    keyed = made.keyed
    changed = {
        name: curve_of(keyed.clip, name).with_beyond(edit.before, edit.after)
        for name in edit.channels
    }
    joints = said(keyed.figure, joints_in(keyed.figure, list(edit.channels)))
    words = {"hold": "hold", "repeat": "repeat", "offset": "repeat with offset",
             "mirror": "go there and back", "continue": "continue"}  # fmt: skip
    label = f"Let {joints} {words[edit.after]}"
    return Edited(with_curves(keyed.clip, changed), label, into_keys(made))


RULES: Rules = {
    MoveKeys: _move,
    ScaleKeys: _scale,
    WidenKeys: _widen,
    ReverseKeys: _reverse,
    DeleteKeys: _delete,
    SnapKeys: _snap,
    PasteKeys: _paste,
    SetSpans: _set_spans,
    SetKey: _set_key,
    ShiftValues: _shift_values,
    SetBeyond: _set_beyond,
}
