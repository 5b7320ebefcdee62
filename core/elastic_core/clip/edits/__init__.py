"""Edits of a clip: named operations, clip in → clip out (rule 8.1), as those of scenes are."""

from typing import Annotated

from pydantic import Field

from ...beats import AddBeat, RemoveBeat, SetBeat
from ...errors import refusing
from ...tracing import RemoveTracing, SetTracing
from . import cycle, keys, pose, retiming, shaping, whole
from .base import Edited, Made, Rules

ClipEdit = Annotated[
    pose.KeyPose
    | pose.InsertKeys
    | pose.Favour
    | keys.MoveKeys
    | keys.ScaleKeys
    | keys.WidenKeys
    | keys.ReverseKeys
    | keys.DeleteKeys
    | keys.SnapKeys
    | keys.PasteKeys
    | keys.SetSpans
    | keys.SetKey
    | keys.ShiftValues
    | keys.SetBeyond
    | retiming.RetimeKeys
    | shaping.SoftenKeys
    | shaping.TrailJoints
    | cycle.StartWalk
    | cycle.CloseSeam
    | cycle.TurnDial
    | cycle.LinkHalves
    | cycle.MirrorClip
    | cycle.SetCycle
    | cycle.SetTravels
    | cycle.SetStride
    | cycle.LayRoot
    | cycle.FindContacts
    | cycle.SetPlant
    | cycle.MovePlant
    | cycle.RemovePlant
    | cycle.HoldFeet
    | whole.SetClipLength
    | whole.SetRate
    | whole.SetExposure
    | whole.SetColour
    | whole.NamePose
    | AddBeat
    | SetBeat
    | RemoveBeat
    | SetTracing
    | RemoveTracing,
    Field(discriminator="kind"),
]

_RULES: Rules = {
    **pose.RULES,
    **keys.RULES,
    **retiming.RULES,
    **shaping.RULES,
    **cycle.RULES,
    **whole.RULES,
}


def edit_clip(made: Made, edit: ClipEdit) -> Edited:
    """The edit's outcome. Raises Refusal where it cannot be done."""
    with refusing():
        return _RULES[type(edit)](made, edit)
