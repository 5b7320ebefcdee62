"""Figures, clips and sounds, as kinds of documents."""

from typing import Any

import numpy as np
from pydantic import BaseModel

from documents import blocks
from documents.kinds import Facts, Kind, Opened, edit_digest
from documents.memory import memory
from documents.opening import Shelf
from elastic_core.clip.document import Clip
from elastic_core.clip.edits import ClipEdit, edit_clip
from elastic_core.clip.edits.base import Edited, Made
from elastic_core.clock import format_rate
from elastic_core.curve import Curve
from elastic_core.cycle.seam import SeamReport, seam_report
from elastic_core.errors import Refusal
from elastic_core.figure import Figure, forward
from elastic_core.formats.frame_pack import pack_frames
from elastic_core.formats.key_block import from_block, to_block
from elastic_core.moments import source
from elastic_core.motion import Motion
from elastic_core.scene.document import SceneFigure
from elastic_core.scene.evaluate import FigureFrames
from elastic_core.sound.document import Sound
from elastic_core.tracing import SetTracing

from . import motions, pictures

# A curve with fewer keys lies in the document itself.
LEAST_KEYS_IN_BLOCK = 64
FRAMES_IN_STRIP = 5
_JOINT_BYTES, _ROOT_BYTES = 8 * 4, 8 * 6


class NoEdit(BaseModel):
    """Figures are changed by learning and renaming alone, sounds by renaming."""


# Figures


def _figure_facts(opened: Opened[Figure]) -> Facts:
    figure = opened.document
    rest = {"joints": len(figure.joints), "height_metres": figure.height_metres}
    return Facts(rest=rest, thumbnail=packed_poses(figure, figure.rest_motion))


def _no_edit(shelf: Shelf, opened: Opened[Figure], edit: NoEdit) -> tuple[Opened[Figure], Edited]:
    raise Refusal("A figure is not edited.")


FIGURE: Kind[Figure, NoEdit] = Kind(
    key="figure",
    read=Figure.model_validate,
    write=lambda figure: figure.model_dump(mode="json"),
    weighs=lambda figure: 2_000 * len(figure.joints),
    uses=lambda figure: figure.dress.drawing_ids,
    open=lambda shelf, figure, name: Opened(figure, figure, name),
    edit=_no_edit,
    facts=_figure_facts,
)


# Sounds


def _sound_facts(opened: Opened[Sound]) -> Facts:
    sound = opened.document
    told = sound.model_dump(include={"file", "form", "rate_hz", "channels"})
    return Facts(rest={**told, "length_seconds": sound.seconds})


def _no_sound_edit(
    shelf: Shelf, opened: Opened[Sound], edit: NoEdit
) -> tuple[Opened[Sound], Edited]:
    raise Refusal("A sound is not edited: it is laid in a scene, and trimmed there.")


SOUND: Kind[Sound, NoEdit] = Kind(
    key="sound",
    read=Sound.model_validate,
    write=lambda sound: sound.model_dump(mode="json"),
    weighs=lambda sound: 1_000,
    uses=lambda sound: set(),
    open=lambda shelf, sound, name: Opened(sound, sound, name),
    edit=_no_sound_edit,
    facts=_sound_facts,
)


# Clips


def read_clip(body: Any) -> Clip:
    """A clip from a revision's body, with the curves that are kept in blocks."""
    kept = {
        name: written
        for name, written in body.get("keys", {}).items()
        if isinstance(written, dict) and "block" in written
    }
    if not kept:
        return Clip.model_validate(body)
    found = {w["block"]: memory.get(("curve", w["block"])) for w in kept.values()}
    data = blocks.load(name for name, curve in found.items() if curve is None)
    curves: dict[str, Curve] = {}
    for channel, written in kept.items():
        name = written["block"]
        if found[name] is None:
            if name not in data:
                raise Refusal(f"The keys of {channel} are missing.")
            found[name] = from_block(data[name], written["before"], written["after"])
            memory.put(("curve", name), found[name], found[name].nbytes)
        curves[channel] = found[name]
    return Clip.model_validate({**body, "keys": {**body["keys"], **curves}})


def write_clip(clip: Clip) -> dict[str, Any]:
    """A clip as the body of a revision: dense curves go into blocks, named by their content."""
    dense = {name: curve for name, curve in clip.keys.items() if len(curve) >= LEAST_KEYS_IN_BLOCK}
    blocks.store({curve.fingerprint: curve for curve in dense.values()}, to_block)
    for curve in dense.values():
        memory.put(("curve", curve.fingerprint), curve, curve.nbytes)
    keys = {
        name: {"block": curve.fingerprint, "before": curve.before, "after": curve.after}
        if name in dense
        else curve.as_document()
        for name, curve in clip.keys.items()
    }
    return {**clip.model_dump(mode="json", exclude={"keys"}), "keys": keys}


def _weighs_clip(clip: Clip) -> int:
    return 2_000 + sum(2 * curve.nbytes + 600 for curve in clip.keys.values())


def made_of(shelf: Shelf, clip: Clip, name: str) -> Made:
    """A clip ready to be worked on; kept while its figure stands as it does."""
    figures = shelf.documents([clip.figure], "figure")
    if clip.figure not in figures:
        raise Refusal(f"The figure of “{clip.name}” is missing.")
    figure: Figure = figures[clip.figure]
    key = ("made", name, shelf.made_from([clip.figure]))
    return memory.made(key, lambda: _make(clip, figure), weighs_made)


def _keep_clip(opened: Opened[Clip], name: str) -> None:
    made: Made = opened.made_of
    memory.put(("made", name, opened.made_from), made, weighs_made(made))


def _make(clip: Clip, figure: Figure) -> Made:
    samples = None if clip.is_keyed else motions.load(clip.motion)
    return Made(clip, figure, samples, motions.load(clip.lead_in).whole() if clip.lead_in else None)


def weighs_made(made: Made) -> int:
    """Its samples, and what is worked out of them when it plays."""
    if isinstance(made.samples, motions.KeptMotion):
        # Its windows are kept, and counted, by themselves.
        return _weighs_clip(made.clip)
    frame = _ROOT_BYTES + _JOINT_BYTES * len(made.figure.joints)
    return 2 * frame * made.clip.length_frames + _weighs_clip(made.clip)


def _open_clip(shelf: Shelf, clip: Clip, name: str) -> Opened[Clip]:
    made = made_of(shelf, clip, name)
    return Opened(clip, made, name, shelf.made_from([clip.figure]), weighs=weighs_made(made))


def _edit_clip(shelf: Shelf, before: Opened[Clip], edit: Any) -> tuple[Opened[Clip], Edited]:
    if isinstance(edit, SetTracing) and edit.pictures:
        pictures.check(shelf.production_id, edit.pictures)
    made: Made = before.made_of
    edited = edit_clip(made, edit)
    samples = None if edited.clip.is_keyed else made.samples
    lead_in = made.lead_in if edited.clip.lead_in else None
    after = Made(edited.clip, made.figure, samples, lead_in)
    content = f"{before.content}:{edit_digest(edit)}"
    weighs = weighs_made(after)
    return Opened(edited.clip, after, content, before.made_from, weighs=weighs), edited


def _clip_facts(opened: Opened[Clip]) -> Facts:
    clip, made = opened.document, opened.made_of
    playable = made.playable
    report = seam_report(made.figure, playable) if clip.is_cycle else None
    count = max(1, min(clip.length_frames, FRAMES_IN_STRIP))
    strip = playable.at(source(np.floor(np.arange(count) * (clip.length_frames / count))))
    return Facts(
        figure=clip.figure,
        rate=format_rate(clip.rate),
        length_frames=clip.length_frames,
        grade=report.grade if report else "",
        rest={
            "is_cycle": clip.is_cycle,
            "stride_metres": float(np.hypot(*clip.period[:2])),
            "colour": clip.colour,
            "rests": list(clip.rests),
            "seam": _worst(report) if report else None,
        },
        thumbnail=packed_poses(made.figure, strip),
    )


def _worst(report: SeamReport) -> dict[str, Any]:
    worst = report.worst
    return {
        "grade": report.grade,
        "joint": worst.joint,
        "gap_degrees": worst.gap_degrees,
        "gap_cm": worst.gap_cm,
        "gap_degrees_per_frame": worst.gap_degrees_per_frame,
    }


CLIP: Kind[Clip, ClipEdit] = Kind(
    key="clip",
    read=read_clip,
    write=write_clip,
    weighs=_weighs_clip,
    uses=lambda clip: {clip.figure},
    open=_open_clip,
    edit=_edit_clip,
    facts=_clip_facts,
    keep=_keep_clip,
)


def packed_poses(figure: Figure, motion: Motion) -> bytes:
    """Poses of one figure as a frame pack."""
    member = SceneFigure(id="figure", name=figure.name, figure="")
    return pack_frames([FigureFrames(member, motion, forward(figure, motion))], {})
