"""Edits of a clip as a whole: length, rate, exposure, colour, the names of its poses."""

from typing import Literal

from pydantic import Field

from ... import beats, tracing
from ...beats import AddBeat, RemoveBeat, SetBeat
from ...clip.document import Clip, NamedPose
from ...clock import format_rate, nearest_frame, parse_rate
from ...colour import Colour
from ...curve import Curve
from ...errors import Refusal
from ...exposure import Exposure, Pattern
from ...names import Name
from ...quantities import Frame
from ...saying import counted
from ...tracing import RemoveTracing, SetTracing
from .base import LONGEST_CLIP_FRAMES, Edit, Edited, Made, Rules, into_keys


class SetClipLength(Edit):
    """How many frames the clip has: by fitting its keys to it, or by trimming."""

    kind: Literal["set_length"] = "set_length"
    length_frames: int = Field(ge=1, le=LONGEST_CLIP_FRAMES)
    how: Literal["fit", "trim"] = "fit"
    snap: bool = True


class SetRate(Edit):
    """Another frame rate, with the same seconds or the same frames."""

    kind: Literal["set_rate"] = "set_rate"
    rate: str
    keep: Literal["seconds", "frames"] = "seconds"
    snap: bool = True


class SetExposure(Edit):
    """On ones, twos, threes, or a repeating pattern (rule 1.8)."""

    kind: Literal["set_exposure"] = "set_exposure"
    pattern: Pattern = (1,)


class SetColour(Edit):
    kind: Literal["set_colour"] = "set_colour"
    colour: Colour


class NamePose(Edit):
    """What a frame's pose is called; without a name it has none."""

    kind: Literal["name_pose"] = "name_pose"
    frame: Frame
    name: Name | None = None


def _set_length(made: Made, edit: SetClipLength) -> Edited:
    keyed = made.keyed
    clip = keyed.clip
    new, old = edit.length_frames, clip.length_frames
    if new == old:
        raise Refusal(f"The clip has {counted(old, 'frame')} already.")
    if clip.is_cycle and new < 2:
        raise Refusal("A cycle has two frames at least.")
    if edit.how == "trim":
        return Edited(_trimmed(clip, new), f"Trim to {counted(new, 'frame')}", into_keys(made))
    fitted, notes = _fitted(clip, new / old, snap=edit.snap)
    changed = fitted.model_copy(update={"length_frames": new})
    return Edited(changed, f"Fit to {counted(new, 'frame')}", (*into_keys(made), *notes))


def _trimmed(clip: Clip, length: int) -> Clip:
    """The same keys, shown over another span; what lies beyond it stays and does not show."""
    plants = tuple(
        plant.model_copy(update={"end": min(plant.end, length + (plant.end - plant.start))})
        for plant in clip.plants
        if plant.start < length
    )
    poses = tuple(pose for pose in clip.poses if pose.frame < length)
    share = length / clip.length_frames
    x, z, heading = clip.period
    period = (x * share, z * share, heading * share)
    return clip.model_copy(
        update={
            "length_frames": length,
            "plants": plants,
            "poses": poses,
            "beats": beats.trimmed(clip.beats, length),
            "period": period,
            "half_linked": False,
        }
    )


def _fitted(clip: Clip, factor: float, *, snap: bool) -> tuple[Clip, tuple[str, ...]]:
    """Every key's time scaled; snapped to whole frames where asked, and told by how much."""
    rounding, replaced = 0.0, 0
    curves: dict[str, Curve] = {}
    for name, curve in clip.keys.items():
        steeper = curve.with_columns(
            in_slopes=curve.in_slopes / factor, out_slopes=curve.out_slopes / factor
        )
        times: dict[int, float] = {}
        taken: set[float] = set()
        for place, was in enumerate(curve.times.tolist()):
            exact = was * factor
            time = nearest_frame(exact) if snap else exact
            if time in taken:
                time = exact
            taken.add(time)
            rounding = max(rounding, abs(time - exact))
            times[place] = time
        curves[name], gone = steeper.retimed(times)
        replaced += gone
    plants = tuple(
        plant.model_copy(
            update={
                "start": plant.start * factor,
                "end": plant.end * factor,
                "heel_frames": plant.heel_frames * factor,
                "toe_frames": plant.toe_frames * factor,
            }
        )
        for plant in clip.plants
    )
    poses = tuple(
        NamedPose(
            frame=nearest_frame(pose.frame * factor) if snap else pose.frame * factor,
            name=pose.name,
        )
        for pose in clip.poses
    )
    notes: tuple[str, ...] = ()
    if rounding > 1e-6:
        notes = (f"Snapped to whole frames, by {rounding:.2f} frames at the most.",)
    marked = beats.scaled(clip.beats, factor)
    scaled = clip.model_copy(
        update={"keys": curves, "plants": plants, "poses": poses, "beats": marked, "lead_in": ""}
    )
    return scaled, notes


def _set_rate(made: Made, edit: SetRate) -> Edited:
    rate = parse_rate(edit.rate)
    clip = made.clip
    if rate == clip.rate:
        raise Refusal(f"The clip runs at {format_rate(rate)} already.")
    label = f"Set {format_rate(rate)} frames a second"
    if edit.keep == "frames":
        return Edited(made.with_(rate=rate), f"{label}, the same frames")
    keyed = made.keyed
    factor = float(rate / clip.rate)
    length = max(1, round(clip.length_frames * factor))
    fitted, notes = _fitted(keyed.clip, length / clip.length_frames, snap=edit.snap)
    changed = fitted.model_copy(update={"rate": rate, "length_frames": length})
    return Edited(changed, f"{label}, the same seconds", (*into_keys(made), *notes))


def _set_exposure(made: Made, edit: SetExposure) -> Edited:
    exposure = Exposure(pattern=edit.pattern)
    if exposure.pattern == made.clip.exposure.pattern:
        raise Refusal("It is exposed like that already.")
    known: dict[tuple[int, ...], str] = {(1,): "ones", (2,): "twos", (3,): "threes", (4,): "fours"}
    words = known.get(edit.pattern, ", ".join(str(frames) for frames in edit.pattern))
    return Edited(made.with_(exposure=exposure), f"Expose on {words}")


def _set_colour(made: Made, edit: SetColour) -> Edited:
    return Edited(made.with_(colour=edit.colour), f"Colour {edit.colour}")


def _name_pose(made: Made, edit: NamePose) -> Edited:
    others = [pose for pose in made.clip.poses if pose.frame != edit.frame]
    if edit.name is None:
        if len(others) == len(made.clip.poses):
            raise Refusal("That pose has no name.")
        return Edited(made.with_(poses=tuple(others)), f"Take the name off frame {edit.frame:g}")
    if not 0 <= edit.frame < made.clip.length_frames:
        raise Refusal("That frame is not in the clip.")
    poses = [*others, NamedPose(frame=edit.frame, name=edit.name[:40])]
    ordered = tuple(sorted(poses, key=lambda pose: pose.frame))
    return Edited(made.with_(poses=ordered), f"Name frame {edit.frame:g} {edit.name}")


def _mark(made: Made, edit: AddBeat | SetBeat | RemoveBeat) -> Edited:
    clip = made.clip
    marked, label = beats.edited(
        clip.beats, edit, clip.length_frames, "the clip", goes_round=clip.is_cycle
    )
    return Edited(made.with_(beats=marked), label)


def _trace(made: Made, edit: SetTracing | RemoveTracing) -> Edited:
    traced, label = tracing.edited(made.clip.tracing, edit)
    return Edited(made.with_(tracing=traced), label)


RULES: Rules = {
    SetTracing: _trace,
    RemoveTracing: _trace,
    AddBeat: _mark,
    SetBeat: _mark,
    RemoveBeat: _mark,
    SetClipLength: _set_length,
    SetRate: _set_rate,
    SetExposure: _set_exposure,
    SetColour: _set_colour,
    NamePose: _name_pose,
}
