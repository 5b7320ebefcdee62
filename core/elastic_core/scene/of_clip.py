"""A scene of one clip and nothing else: to be seen, and printed, as a scene is."""

from ..clip.playable import PlayableClip
from ..errors import Refusal
from .cast import BodyTarget, ClipSource
from .document import Lane, Scene, SceneFigure, Stint

MEMBER = "figure"


def scene_of_clip(
    clip: str, playable: PlayableClip, figure_name: str, frames: int | None = None
) -> Scene:
    """The clip with this id from its first frame on: one round of it, or so many frames.

    Raises Refusal for more frames than a clip has that plays once.
    """
    length = playable.length_frames if frames is None else frames
    if not playable.is_cycle and length > playable.length_frames:
        raise Refusal(f"“{playable.name}” plays once, and has {playable.length_frames:,} frames.")
    stint = Stint(id="stint", source=ClipSource(id=clip), start=0, length_frames=length)
    lane = Lane(
        id="lane",
        name=figure_name,
        target=BodyTarget(figure=MEMBER),
        exposure=playable.clip.exposure,
        stints=(stint,),
    )
    return Scene(
        name=playable.name,
        rate=playable.rate,
        laid_frames=length,
        played_frames=length,
        first_frame=0,
        figures=(SceneFigure(id=MEMBER, name=figure_name, figure=playable.figure),),
        lanes=(lane,),
        beats=playable.clip.beats,
    )
