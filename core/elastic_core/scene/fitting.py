"""Clips made for one figure that play on another one, by the mapping that a person confirmed (rule 2.4)."""

from collections import OrderedDict
from collections.abc import Mapping

import numpy as np

from ..clip.document import Clip
from ..clip.playable import PlayableClip
from ..errors import Refusal
from ..figure import Figure
from ..fit import checked_mapping, fit_clip
from ..moments import source
from ..performance import BodyPerformance, Performance
from .cast import StintSource
from .document import Fitting, SceneFigure, Stint
from .material import Material
from .striding import strided
from .travelling import on_its_path

# A clip is carried over once, and remembered with its figure.
REMEMBERED = 16


def body_for(material: Material, member: SceneFigure, stint: Stint) -> BodyPerformance:
    """What a stint of a figure's lane plays on that figure, at the stride that was set and on its path.

    Raises Refusal for what was made for another one, and is not fitted.
    """
    figure = material.figure(member.figure)
    body = strided(figure, _fitted_body(material, member, stint.source), stint.stride)
    return on_its_path(figure, body, stint.path)


def _fitted_body(material: Material, member: SceneFigure, source: StintSource) -> BodyPerformance:
    body = material.body(source)
    figure = material.figure(member.figure)
    mapping = mapping_of(member, body)
    if mapping is None:
        if body.joints != len(figure.joints):
            raise Refusal(f"“{body.name}” was made for another figure.")
        return body
    return _fitted(material.figure(body.figure), body, figure, member.figure, mapping)


def mapping_of(member: SceneFigure, performance: Performance) -> dict[str, str] | None:
    """How a performance made for another figure plays on this one; nothing where that is not said."""
    if performance.figure == member.figure:
        return None
    return next((fit.mapping for fit in member.fits if fit.figure == performance.figure), None)


def dropped_by(material: Material, member: SceneFigure, performance: Performance) -> list[str]:
    """The joints of a fitted clip's own figure that nothing plays on this one."""
    mapping = mapping_of(member, performance)
    if mapping is None:
        return []
    return [name for name in material.figure(performance.figure).names if name not in mapping]


def with_fit(
    member: SceneFigure, material: Material, performance: Performance, mapping: Mapping[str, str]
) -> SceneFigure:
    """The figure with a mapping for all that was made for the performance's figure.

    Raises Refusal for joints that are not there, or played twice.
    """
    own, theirs = material.figure(member.figure), material.figure(performance.figure)
    checked = checked_mapping(theirs, own, mapping)
    others = tuple(fit for fit in member.fits if fit.figure != performance.figure)
    fitting = Fitting(figure=performance.figure, mapping=checked)
    return member.model_copy(update={"fits": (*others, fitting)})


def _fitted(
    clip_figure: Figure,
    body: BodyPerformance,
    figure: Figure,
    figure_id: str,
    mapping: Mapping[str, str],
) -> PlayableClip:
    known: OrderedDict[tuple[object, ...], tuple[BodyPerformance, PlayableClip]] = figure.once(
        "fitted clips", OrderedDict
    )
    # What was fitted is kept beside what it became: its id is then nobody else's.
    key = (id(body), figure_id, tuple(sorted(mapping.items())))
    if key not in known:
        known[key] = (body, fit_clip(clip_figure, _as_clip(body), figure, figure_id, mapping))
        while len(known) > REMEMBERED:
            known.popitem(last=False)
    known.move_to_end(key)
    return known[key][1]


def _as_clip(body: BodyPerformance) -> PlayableClip:
    """A performance with a pose for each of its frames: a group is fitted as it plays."""
    if isinstance(body, PlayableClip):
        return body
    clip = Clip(
        name=body.name,
        figure=body.figure,
        rate=body.rate,
        length_frames=body.length_frames,
        is_cycle=body.is_cycle,
        colour=body.colour,
        plants=tuple(body.plants),
        rests=tuple(body.rests),
    )
    return PlayableClip(clip, body.at(source(np.arange(body.length_frames + body.is_cycle))))
