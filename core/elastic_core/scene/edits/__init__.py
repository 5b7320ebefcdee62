"""Edits: named operations, scene in → scene out (rule 8.1).

Every edit is a frozen model with a `kind`; `apply_edit` gives the new scene, the label that undo and
redo show, and notes on anything that came out otherwise than asked. An edit that cannot be done
raises Refusal and changes nothing (rule 8.3).
"""

from typing import Annotated

from pydantic import Field

from ...beats import AddBeat, RemoveBeat, SetBeat
from ...errors import Refusal, refusing
from ..cast import ClipSource, LineSource, RunSource, StintSource
from ..document import Scene
from ..material import Material
from . import (
    attaching,
    beats,
    camera,
    card,
    crossing,
    cut_outs,
    elastics,
    exposed,
    exposures,
    figures,
    fixes,
    groups,
    guides,
    jaw,
    joins,
    lanes,
    layers,
    paste,
    sounds,
    stints,
    travelling,
    voices,
    weights,
    whole,
)
from .base import Edited, Rules

SceneEdit = Annotated[
    stints.PlaceStint
    | stints.MoveStint
    | stints.MoveStints
    | stints.TrimStint
    | stints.SlipStint
    | stints.MoveCut
    | stints.RepeatStint
    | stints.StretchStint
    | stints.PaceStint
    | crossing.CrossStage
    | stints.SplitStint
    | stints.DeleteStints
    | stints.NameStint
    | stints.ColourStints
    | card.SetNumber
    | joins.SetJoin
    | joins.PlaceJoin
    | joins.MeetStint
    | joins.LayNext
    | joins.MatchSteps
    | joins.HoldStintFeet
    | joins.NailStint
    | groups.UseGroup
    | weights.FadeStint
    | weights.KeyWeight
    | elastics.AddPin
    | elastics.PinSource
    | elastics.SetPin
    | exposed.PinShown
    | elastics.RemovePin
    | elastics.SetPace
    | elastics.SetRamp
    | elastics.SlowRange
    | elastics.HoldFrame
    | elastics.TurnRound
    | elastics.UseBake
    | elastics.Straighten
    | exposures.Expose
    | travelling.SlowTravel
    | travelling.StraightenTravel
    | fixes.AddFixLane
    | fixes.PoseFix
    | fixes.SetFix
    | fixes.UnfixJoint
    | fixes.RemoveFix
    | paste.DuplicateStints
    | paste.PasteStints
    | lanes.AddLane
    | lanes.SetLane
    | lanes.MaskLane
    | lanes.SetGap
    | lanes.MoveLane
    | lanes.RemoveLane
    | AddBeat
    | SetBeat
    | RemoveBeat
    | figures.AddFigure
    | figures.BoilInk
    | cut_outs.DrawPart
    | cut_outs.OrderCard
    | figures.RenameFigure
    | figures.SetMark
    | figures.FitClips
    | figures.SetSize
    | figures.KeySize
    | figures.SetRest
    | attaching.AttachFigure
    | attaching.SetAttachment
    | attaching.DetachFigure
    | camera.KeyCamera
    | camera.SetCamera
    | camera.SetCameraKey
    | camera.RemoveCameraKey
    | camera.RemoveCamera
    | guides.AddGuide
    | guides.KeyGuide
    | guides.SetGuide
    | guides.SetGuideKey
    | guides.RemoveGuideKey
    | guides.RemoveGuide
    | figures.RemoveFigure
    | sounds.AddSoundLane
    | sounds.SetSoundLane
    | sounds.RemoveSoundLane
    | sounds.LaySound
    | sounds.MoveSound
    | sounds.TrimSound
    | sounds.SetSound
    | sounds.SplitSound
    | sounds.DuplicateSound
    | sounds.RemoveSound
    | layers.AddLayer
    | layers.SetLayer
    | layers.KeyOpacity
    | layers.RideLayer
    | layers.LetLayerOff
    | layers.RemoveLayer
    | voices.LayLine
    | voices.FreeFromSound
    | voices.MarkAccents
    | jaw.DriveJaw
    | whole.SetLength
    | whole.RenameScene
    | whole.SetBackdrop
    | whole.SwapClip,
    Field(discriminator="kind"),
]

_RULES: Rules = {
    **stints.RULES,
    **crossing.RULES,
    **cut_outs.RULES,
    **elastics.RULES,
    **exposed.RULES,
    **exposures.RULES,
    **travelling.RULES,
    **joins.RULES,
    **groups.RULES,
    **weights.RULES,
    **card.RULES,
    **fixes.RULES,
    **paste.RULES,
    **lanes.RULES,
    **beats.RULES,
    **figures.RULES,
    **attaching.RULES,
    **camera.RULES,
    **guides.RULES,
    **sounds.RULES,
    **layers.RULES,
    **voices.RULES,
    **jaw.RULES,
    **whole.RULES,
}


def apply_edit(scene: Scene, edit: SceneEdit, material: Material) -> Edited:
    """The edit's outcome. Raises Refusal where it cannot be done."""
    with refusing():
        edited = _RULES[type(edit)](scene, edit, material)
    _keep_locked(scene, edited.scene)
    return edited


def brings(edit: SceneEdit) -> tuple[set[StintSource], set[str]]:
    """What an edit needs and the scene may not have yet: sources of stints, and ids of figures, sounds,
    charts and drawing sets."""
    if isinstance(edit, (stints.PlaceStint, joins.LayNext, groups.UseGroup)):
        return {edit.source}, set()
    if isinstance(edit, paste.PasteStints):
        return {copy.stint.source for copy in edit.copies}, set()
    if isinstance(edit, elastics.UseBake):
        return {ClipSource(id=edit.clip)}, set()
    if isinstance(edit, figures.FitClips):
        return {ClipSource(id=edit.clip)}, set()
    if isinstance(edit, figures.SetRest) and edit.clip is not None:
        return {ClipSource(id=edit.clip)}, set()
    if isinstance(edit, whole.SwapClip):
        return {ClipSource(id=edit.clip), ClipSource(id=edit.by)}, set()
    if isinstance(edit, figures.AddFigure):
        return set(), {edit.figure}
    if isinstance(edit, sounds.LaySound):
        return set(), {edit.sound}
    if isinstance(edit, cut_outs.DrawPart):
        return {RunSource(id=edit.run)}, set()
    if isinstance(edit, layers.AddLayer):
        runs: set[StintSource] = {RunSource(id=edit.run)} if edit.run else set()
        return runs, {edit.drawings}
    if isinstance(edit, voices.LayLine):
        charts = {chart for chart in (edit.chart, edit.eyes_chart) if chart}
        lines: set[StintSource] = {
            LineSource(id=edit.line),
            LineSource(id=edit.line, part="eyes"),
        }
        return lines, {edit.sound, *charts, *edit.other_sides}
    return set(), set()


def _keep_locked(before: Scene, after: Scene) -> None:
    """A locked lane comes out of every edit with the stints and the fixes it had."""
    kept = {lane.id: (lane.stints, lane.fixes) for lane in after.lanes}
    for lane in before.lanes:
        if lane.locked and kept.get(lane.id) != (lane.stints, lane.fixes):
            of = f" of {before.figure(lane.figure).name}" if lane.figure else ""
            raise Refusal(f"The lane “{lane.name}”{of} is locked. Unlock it to change it.")
