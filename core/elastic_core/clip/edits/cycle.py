"""Edits of a cycle: its seam, its halves, its first frame, its travel and its feet."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ... import beats, ground, rotation
from ...clip.document import Clip, NamedPose, Plant
from ...clock import nearest_frame
from ...curve import Curve
from ...cycle.closing import SAYS, Method, close
from ...cycle.contacts import find_contacts
from ...cycle.feet import slide_cm
from ...cycle.lead_in import preceded, without_lead_in
from ...cycle.mirror import (
    check_mirrors,
    is_own_half,
    mirrored_keys,
    mirrored_plant,
    with_other_half,
)
from ...cycle.root import RootApart, root_apart, under_pelvis
from ...cycle.starter import PRESETS, Gait, preset, walk
from ...cycle.travel import close_on_repeat, period_between
from ...errors import Refusal
from ...figure import forward
from ...quantities import NEAR_FRAMES, Frame, Place, WholeFrame
from ...saying import counted
from ...sides import spoken
from ..playing import held, keys_of, laid, motion_at, playable_of, round_of
from .base import Edit, Edited, Made, Rules, into_keys

SAME = 1e-6


class StartWalk(Edit):
    """Keys of a gait, from its numbers or from one of our presets (rule 4.6)."""

    kind: Literal["start_walk"] = "start_walk"
    gait: Gait | None = None
    preset: Literal["amble", "march", "sneak", "hurry", "tired", "run"] | None = None


class CloseSeam(Edit):
    """The end made to meet the start (rule 4.2)."""

    kind: Literal["close_seam"] = "close_seam"
    method: Method
    frames: int = Field(default=6, ge=1, le=1_000)
    hold_feet: bool = False


class TurnDial(Edit):
    """Which frame the cycle starts on: every key shifts round, and nothing else changes."""

    kind: Literal["turn_dial"] = "turn_dial"
    frames: WholeFrame


class LinkHalves(Edit):
    """Let the second half follow the first, mirrored; or let it go (rule 4.3)."""

    kind: Literal["link_halves"] = "link_halves"
    linked: bool


class MirrorClip(Edit):
    """Left and right swapped."""

    kind: Literal["mirror_clip"] = "mirror_clip"


class SetCycle(Edit):
    """Whether the clip goes round, or plays once."""

    kind: Literal["set_cycle"] = "set_cycle"
    is_cycle: bool


class SetTravels(Edit):
    """Whether the clip travels over the ground, or plays in place (rule 4.4)."""

    kind: Literal["set_travels"] = "set_travels"
    travels: bool


class SetStride(Edit):
    """How far one round goes, in metres; the way and the turn stay."""

    kind: Literal["set_stride"] = "set_stride"
    metres: Annotated[float, Field(ge=0.0, le=100.0)]


class LayRoot(Edit):
    """The travel laid under the pelvis (rule 5.7). What is seen stays as it is; a cycle that stands
    beside its path comes onto it."""

    kind: Literal["lay_root"] = "lay_root"


class FindContacts(Edit):
    """The plants as height and speed of the feet show them (rule 4.5)."""

    kind: Literal["find_contacts"] = "find_contacts"


class SetPlant(Edit):
    """One plant's frames, by its place; a new one where the place is the next. Without an end it lasts
    a quarter of the clip."""

    kind: Literal["set_plant"] = "set_plant"
    place: Place
    joint: str | None = None
    start: Frame
    end: Frame | None = None


class MovePlant(Edit):
    """One plant drawn by so many frames, or one of its ends, which stays a frame from the other and
    less than a round."""

    kind: Literal["move_plant"] = "move_plant"
    place: Place
    grip: Literal["body", "start", "end"]
    frames: Frame


class RemovePlant(Edit):
    kind: Literal["remove_plant"] = "remove_plant"
    place: Place


class HoldFeet(Edit):
    """Keep planted feet where they stand, or let them go (rule 5.5); all of them without places."""

    kind: Literal["hold_feet"] = "hold_feet"
    held: bool
    places: tuple[Place, ...] | None = None


def _start_walk(made: Made, edit: StartWalk) -> Edited:
    if edit.gait is None and edit.preset is None:
        raise Refusal("Say which gait to start from.")
    gait = edit.gait or preset(edit.preset or PRESETS[0], made.figure)
    started = walk(made.figure, gait)
    # Joints that the gait does not drive keep what they had, if it fits into the new round.
    kept: dict[str, Curve] = {}
    left_out = 0
    if made.clip.is_keyed:
        for name, curve in made.clip.keys.items():
            if name in started.keys or name.startswith("travel."):
                continue
            inside = tuple(key for key in curve.keys if key.time < started.length_frames)
            left_out += len(curve.keys) - len(inside)
            keys = inside or (curve.keys[0].model_copy(update={"time": 0.0}),)
            kept[name] = Curve(keys=keys, before="repeat", after="repeat")
    clip = made.with_(
        keys={**kept, **started.keys},
        motion="",
        lead_in="",
        length_frames=started.length_frames,
        is_cycle=True,
        half_linked=False,
        period=started.period,
        plants=started.plants,
        poses=started.poses,
        beats=beats.trimmed(made.clip.beats, started.length_frames),
    )
    of = edit.preset.capitalize() if edit.preset else f"A {gait.stride_metres:g} m stride"
    notes = [f"{counted(started.length_frames, 'frame')}, {len(started.poses)} poses."]
    if left_out:
        notes.append(f"{counted(left_out, 'key')} beyond the new length were left out.")
    return Edited(clip, f"Start a walk: {of}", tuple(notes))


def _close(made: Made, edit: CloseSeam) -> Edited:
    keyed = _cycle(made, "close a seam")
    clip = keyed.clip
    if clip.half_linked:
        raise Refusal("Linked halves close by themselves. Unlink them to close the seam by hand.")
    curves = dict(clip.keys)
    if edit.method == "overlap" and keyed.lead_in is not None:
        curves = preceded(keyed.figure, curves, keyed.lead_in)
    keys = close(curves, clip.length_frames, edit.method, edit.frames)
    closed = clip.model_copy(update={"keys": without_lead_in(keys)})
    if edit.hold_feet:
        plants = tuple(plant.model_copy(update={"held": True}) for plant in closed.plants)
        closed = closed.model_copy(update={"plants": plants})
    over = "" if edit.method == "match" else f" over {counted(edit.frames, 'frame')}"
    label = f"Close the seam: {SAYS[edit.method]}{over}"
    return Edited(closed, label, (*into_keys(made), _moved(made, closed)))


def _moved(made: Made, after: Clip) -> str:
    """How far an edit moved what, at the most."""
    figure = made.figure
    before_motion = made.playable.samples.whole()
    after_motion = playable_of(figure, after).samples.whole()
    length = after.length_frames
    turns = rotation.angle_between(
        before_motion.rotations[:length], after_motion.rotations[:length]
    )
    frames = np.arange(length)
    shift = np.linalg.norm(
        forward(figure, before_motion.at(frames)).positions
        - forward(figure, after_motion.at(frames)).positions,
        axis=-1,
    )
    if np.degrees(turns).max() < 0.005 and shift.max() < 5e-6:
        return "No frame that shows has changed."
    frame, joint = np.unravel_index(int(turns.argmax()), turns.shape)
    far_frame, far = np.unravel_index(int(shift.argmax()), shift.shape)
    return (
        f"{spoken(figure.names[joint])} turned the most, by {np.degrees(turns.max()):.1f}° at "
        f"{frame}; {spoken(figure.names[far]).lower()} moved the most, by "
        f"{100 * shift.max():.1f} cm at {far_frame}."
    )


def _cycle(made: Made, to: str) -> Made:
    keyed = made.keyed
    if not keyed.clip.is_cycle:
        raise Refusal(f"“{keyed.clip.name}” plays once. Make it a cycle to {to}.")
    return keyed


def _turn_dial(made: Made, edit: TurnDial) -> Edited:
    keyed = _cycle(made, "turn its dial")
    clip = keyed.clip
    length = clip.length_frames
    shift = edit.frames % length
    if clip.half_linked:
        # What shows is turned; the first half of that is what is made from now on.
        played = with_other_half(keyed.figure, clip.keys, length)
        whole = {name: _turned(name, curve, length, shift) for name, curve in played.items()}
        keys = _first_half(whole, length)
    else:
        keys = {name: _turned(name, curve, length, shift) for name, curve in clip.keys.items()}
    plants = tuple(_shifted_plant(plant, shift, length) for plant in clip.plants)
    poses = tuple(
        sorted(
            (
                pose.model_copy(update={"frame": (pose.frame - shift) % length})
                for pose in clip.poses
            ),
            key=lambda pose: pose.frame,
        )
    )
    marked = beats.turned(clip.beats, shift, length)
    turned = clip.model_copy(
        update={"keys": keys, "plants": plants, "poses": poses, "beats": marked, "lead_in": ""}
    )
    return Edited(turned, f"Start the cycle on frame {shift}", into_keys(made))


def _turned(name: str, curve: Curve, length: int, shift: int) -> Curve:
    """A curve whose frame `shift` is frame 0 now."""
    if not curve.goes_round:
        if len(curve.keys) == 1:
            return curve
        raise Refusal(f"{name} does not repeat, so the cycle cannot start elsewhere.")
    keys = list(curve.keys)
    first, last = keys[0], keys[-1]
    span = last.time - first.time
    rise = 0.0
    if span >= length + NEAR_FRAMES:
        raise Refusal(f"{name} has keys beyond the cycle's end. Trim them off first.")
    if span > length - NEAR_FRAMES:
        rise = last.value - first.value
        if "offset" not in (curve.before, curve.after) and abs(rise) > SAME:
            raise Refusal("The cycle does not close: close its seam first, then turn the dial.")
        # The key at the end is the first one, a round later.
        keys = [first.model_copy(update={"in_slope": last.in_slope}), *keys[1:-1]]
    moved = []
    for key in keys:
        rounds = -np.floor((key.time - shift) / length)
        time = key.time - shift + rounds * length
        update = {"time": float(time), "value": key.value + float(rounds) * rise}
        moved.append(key.model_copy(update=update))
    moved.sort(key=lambda key: key.time)
    if span > length - NEAR_FRAMES and rise:
        end = moved[0]
        update = {"time": end.time + length, "value": end.value + rise}
        moved.append(end.model_copy(update=update))
    return Curve(keys=tuple(moved), before=curve.before, after=curve.after)


def _first_half(curves: dict[str, Curve], length: int) -> dict[str, Curve]:
    """What of whole curves lies in the first half."""
    found = {}
    for name, curve in curves.items():
        keys = tuple(key for key in curve.keys if is_own_half(length, key.time))
        if keys:
            found[name] = Curve(keys=keys, before="repeat", after="repeat")
    return found


def _shifted_plant(plant: Plant, shift: float, length: int) -> Plant:
    start = (plant.start - shift) % length
    return plant.model_copy(update={"start": start, "end": start + plant.end - plant.start})


def _link(made: Made, edit: LinkHalves) -> Edited:
    keyed = _cycle(made, "mirror its half")
    clip, figure = keyed.clip, keyed.figure
    length = clip.length_frames
    if edit.linked == clip.half_linked:
        raise Refusal("The halves are linked already." if edit.linked else "They are not linked.")
    if not edit.linked:
        played = with_other_half(figure, clip.keys, length)
        loose = clip.model_copy(update={"keys": played, "half_linked": False})
        return Edited(loose, "Unlink the halves", into_keys(made))
    if length % 2:
        raise Refusal(f"A cycle of {length} frames has no whole half. Give it an even length.")
    check_mirrors(figure)
    if abs(clip.period[2]) > SAME or abs(clip.period[0]) > SAME:
        raise Refusal("A cycle that turns or goes sideways has no mirrored half.")
    plants = [plant for plant in clip.plants if is_own_half(length, plant.start % length)]
    other = [mirrored_plant(figure, _shifted_plant(plant, -length / 2, length)) for plant in plants]
    linked = clip.model_copy(
        update={
            "keys": _first_half(dict(clip.keys), length),
            "half_linked": True,
            "plants": tuple(sorted([*plants, *other], key=lambda plant: plant.start)),
            "poses": _named_halves(clip.poses, length),
        }
    )
    return Edited(linked, "Link the halves", (*into_keys(made), _moved(made, linked)))


def _named_halves(poses: tuple[NamedPose, ...], length: int) -> tuple[NamedPose, ...]:
    first = [pose for pose in poses if is_own_half(length, pose.frame)]
    second = [pose.model_copy(update={"frame": pose.frame + length / 2}) for pose in first]
    return (*first, *second)


def _mirror(made: Made, edit: MirrorClip) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    x, z, heading = clip.period
    mirrored = clip.model_copy(
        update={
            "keys": mirrored_keys(figure, clip.keys),
            "plants": tuple(mirrored_plant(figure, plant) for plant in clip.plants),
            "period": (-x, z, -heading),
            "lead_in": "",
        }
    )
    return Edited(mirrored, "Mirror left and right", into_keys(made))


def _set_cycle(made: Made, edit: SetCycle) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    if edit.is_cycle == clip.is_cycle:
        raise Refusal("It is a cycle already." if clip.is_cycle else "It plays once already.")
    if not edit.is_cycle:
        motion = laid(figure, clip)
        keys = {name: curve.going("hold", "hold") for name, curve in keyed.curves.items()}
        travel = keys_of(figure, motion, is_cycle=False)
        keys |= {name: curve for name, curve in travel.items() if name.startswith("travel.")}
        once = clip.model_copy(
            update={
                "keys": keys,
                "is_cycle": False,
                "half_linked": False,
                "period": ground.ORIGIN,
                "beats": beats.trimmed(clip.beats, clip.length_frames),
            }
        )
        return Edited(once, "Let it play once", into_keys(made))
    length = clip.length_frames
    if length < 2:
        raise Refusal("A cycle has two frames at least.")
    times = np.arange(length + 1, dtype=np.float64)
    motion = motion_at(figure, clip, times)
    period = period_between(motion.travel[0], motion.travel[-1])
    even = ground.compose(ground.power(period, times / length), motion.travel[0])
    keys = {name: curve for name, curve in clip.keys.items() if not name.startswith("travel.")}
    if not np.allclose(even, motion.travel, atol=SAME):
        # What the travel did beside its even path is the root's from now on.
        relaid = keys_of(figure, motion.relaid(even), is_cycle=True)
        root = figure.names[0]
        keys |= {n: c for n, c in relaid.items() if n.startswith(("root.", f"{root}.turn."))}
    keys = {name: curve.going("repeat", "repeat") for name, curve in keys.items()}
    x, z, heading = (float(value) for value in period)
    cycle = clip.model_copy(update={"keys": keys, "is_cycle": True, "period": (x, z, heading)})
    return Edited(cycle, f"Make a cycle of {length} frames", into_keys(made))


def _set_travels(made: Made, edit: SetTravels) -> Edited:
    if edit.travels == made.clip.travels:
        raise Refusal("It travels already." if edit.travels else "It plays in place already.")
    label = "Let it travel" if edit.travels else "Play in place"
    return Edited(made.with_(travels=edit.travels), label)


def _set_stride(made: Made, edit: SetStride) -> Edited:
    keyed = _cycle(made, "give it a stride")
    x, z, heading = keyed.clip.period
    now = float(np.hypot(x, z))
    scaled = (x / now * edit.metres, z / now * edit.metres) if now > SAME else (0.0, edit.metres)
    changed = keyed.with_(period=(*scaled, heading), travels=True)
    return Edited(changed, f"Set the stride to {edit.metres:.2f} m", into_keys(made))


def _lay_root(made: Made, edit: LayRoot) -> Edited:
    keyed = made.keyed
    clip, figure = keyed.clip, keyed.figure
    if clip.half_linked:
        raise Refusal("Linked halves keep the root between them. Unlink them to lay it elsewhere.")
    motion = laid(figure, clip)
    before = root_apart(figure, motion)
    if before.greatest_cm < SAME * 100:
        raise Refusal("The root lies under the pelvis already.")
    label = "Lay the root under the pelvis"
    if not clip.is_cycle:
        keys = keys_of(figure, under_pelvis(figure, motion), is_cycle=False)
        return Edited(_with_root(keyed, keys), label, (*into_keys(made), _was_apart(before)))
    length = clip.length_frames
    on_path = under_pelvis(figure, motion)
    path = close_on_repeat(on_path).motion.travel
    start = path[0]
    # The round as one who stands at its start sees it, so that the cycle goes on from the origin.
    period = ground.compose(ground.inverse(start), path[-1])
    even = ground.compose(start, ground.power(period, np.arange(length + 1) / length))
    if np.allclose(period, clip.period, atol=SAME):
        # The way is right, and only stands aside: the root's keys are moved, and none is made.
        x, z = (float(start[0]), float(start[1]))
        keys = {
            name: curve.with_columns(values=curve.values_of_keys - shift)
            for name, shift in (("root.x", x), ("root.z", z))
            if (curve := clip.keys.get(name)) is not None
        }
        aside = clip.model_copy(update={"keys": {**clip.keys, **keys}, "lead_in": ""})
        after = root_apart(figure, laid(figure, aside))
        if after.greatest_cm > before.greatest_cm - 0.01:
            raise Refusal(
                f"The root lies under the pelvis already: it sways by {before.greatest_cm:.1f} cm."
            )
        return Edited(aside, label, (*into_keys(made), _was_apart(before)))
    keys = keys_of(figure, on_path.relaid(even), is_cycle=True)
    laid_clip = _with_root(keyed, keys).model_copy(
        update={"period": tuple(float(value) for value in period), "lead_in": ""}
    )
    return Edited(laid_clip, label, (*into_keys(made), _was_apart(before)))


def _with_root(made: Made, keys: dict[str, Curve]) -> Clip:
    """The clip with the travel, the root's place and its turn from other keys."""
    root = made.figure.names[0]
    taken = {n: c for n, c in keys.items() if n.startswith(("travel.", "root.", f"{root}.turn."))}
    return made.clip.model_copy(update={"keys": {**made.clip.keys, **taken}})


def _was_apart(apart: RootApart) -> str:
    return f"They were {apart.greatest_cm:.1f} cm apart at {apart.at}."


def _find(made: Made, edit: FindContacts) -> Edited:
    clip = made.clip.model_copy(update={"plants": ()})
    playable = playable_of(made.figure, clip, made.samples)
    found = find_contacts(made.figure, playable)
    if not found:
        raise Refusal("No foot stands still near the ground for long enough to be a contact.")
    plants = tuple(contact.plant for contact in found)
    return Edited(made.with_(plants=plants), f"Find {counted(len(found), 'contact')}")


def _set_plant(made: Made, edit: SetPlant) -> Edited:
    clip, figure = made.clip, made.figure
    plants = list(clip.plants)
    if edit.place > len(plants):
        raise Refusal("That contact is no longer in the clip.")
    longest = clip.length_frames
    length = _plant_frames(clip, edit.start) if edit.end is None else edit.end - edit.start
    if not 1 <= length <= longest:
        raise Refusal(f"A contact lasts 1 to {longest} frames.")
    start = edit.start % clip.length_frames if clip.is_cycle else edit.start
    if not clip.is_cycle and not 0 <= start <= clip.length_frames - length:
        raise Refusal("A contact lies within the clip.")
    span = {"start": start, "end": start + length}
    if edit.place == len(plants):
        if edit.joint is None:
            raise Refusal("Say which foot stands.")
        side = figure.joints[figure.place_of(edit.joint)].side
        plants.append(Plant(joint=edit.joint, side=side, **span))
        label = f"Plant {spoken(edit.joint)} at {start:g}"
    else:
        plants[edit.place] = plants[edit.place].model_copy(update=span)
        label = f"Set the contact of {spoken(plants[edit.place].joint)}"
    ordered = tuple(sorted(plants, key=lambda plant: (plant.start, plant.joint)))
    return Edited(made.with_(plants=ordered), label)


def _plant_frames(clip: Clip, start: float) -> float:
    """How long a foot stands that is planted without an end."""
    quarter = max(2.0, nearest_frame(clip.length_frames / 4))
    return quarter if clip.is_cycle else min(quarter, clip.length_frames - start)


def _move_plant(made: Made, edit: MovePlant) -> Edited:
    moved = _plant(made.clip, edit.place)
    start, end, frames = moved.start, moved.end, edit.frames
    if edit.grip == "body":
        start, end = start + frames, end + frames
    elif edit.grip == "start":
        start = max(end - made.clip.length_frames, min(start + frames, end - 1))
    else:
        end = min(start + made.clip.length_frames, max(end + frames, start + 1))
    return _set_plant(made, SetPlant(place=edit.place, start=start, end=end))


def _plant(clip: Clip, place: int) -> Plant:
    if place >= len(clip.plants):
        raise Refusal("That contact is no longer in the clip.")
    return clip.plants[place]


def _remove_plant(made: Made, edit: RemovePlant) -> Edited:
    gone = _plant(made.clip, edit.place)
    plants = tuple(plant for place, plant in enumerate(made.clip.plants) if place != edit.place)
    return Edited(made.with_(plants=plants), f"Take out the contact of {spoken(gone.joint)}")


def _hold(made: Made, edit: HoldFeet) -> Edited:
    clip, figure = made.clip, made.figure
    if not clip.plants:
        raise Refusal("There are no contacts to hold. Find them first.")
    places = range(len(clip.plants)) if edit.places is None else edit.places
    plants = list(clip.plants)
    for place in places:
        plants[place] = _plant(clip, place).model_copy(update={"held": edit.held})
    if plants == list(clip.plants):
        raise Refusal("They are held already." if edit.held else "They are not held.")
    changed = made.with_(plants=tuple(plants))
    feet = "all feet" if edit.places is None else spoken(plants[places[0]].joint)
    if not edit.held:
        return Edited(changed, f"Let {feet} go")
    motion = laid(figure, clip, made.samples)
    outcome = held(figure, changed, motion)
    placed = forward(figure, outcome.motion)
    worst = max(slide_cm(figure, placed, plants[p], round_of(clip)) for p in places)
    notes = [f"Slide: {worst:.2f} cm at the most."]
    if outcome.lowered_cm >= 0.05:
        notes.append(
            f"The root comes down by {outcome.lowered_cm:.1f} cm at {outcome.lowered_at}: "
            "a leg would have been stretched."
        )
    return Edited(changed, f"Hold {feet}", tuple(notes))


RULES: Rules = {
    StartWalk: _start_walk,
    CloseSeam: _close,
    TurnDial: _turn_dial,
    LinkHalves: _link,
    MirrorClip: _mirror,
    SetCycle: _set_cycle,
    SetTravels: _set_travels,
    SetStride: _set_stride,
    LayRoot: _lay_root,
    FindContacts: _find,
    SetPlant: _set_plant,
    MovePlant: _move_plant,
    RemovePlant: _remove_plant,
    HoldFeet: _hold,
}
