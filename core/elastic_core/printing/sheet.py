"""What the page that prints is handed: a scene as the stage shows it, and what is burnt in on every frame."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from ..clock import timecode
from ..drawings.drawing_set import DrawingSet
from ..drawings.view import SetSheet, set_sheet
from ..errors import Refusal
from ..figure import Figure
from ..formats.frame_pack import pack_frames
from ..scene.desk import Desk, DeskLane, desk_of
from ..scene.document import Scene
from ..scene.evaluate import camera_of, frames_of, guides_of, layers_of, standing_of
from ..scene.material import Material
from ..voice.chart import MouthChart
from .look import Burnt, PrintLook

CONTENT = "printed"
BETWEEN = "  ·  "
_JSON: TypeAdapter[dict[str, Any]] = TypeAdapter(dict[str, Any])


@dataclass(frozen=True)
class Printed:
    """A scene at one of its revisions that is printed. Without a `revision` it is of no database."""

    scene: Scene
    material: Material
    look: PrintLook
    revision: int | None = None


def sheet_of(printed: Printed) -> bytes:
    """All that the page needs beside frames and pictures, as JSON (web/src/print/printed.ts).

    Raises Refusal for a scene's camera that it does not have.
    """
    scene, material = printed.scene, printed.material
    if printed.look.view == "camera" and scene.camera is None:
        raise Refusal(f"“{scene.name}” has no camera to look through.")
    desk = desk_of(scene, material)
    figures: dict[str, Figure] = {
        name: material.figure(name).as_painted for name in scene.figure_ids
    }
    charts: dict[str, MouthChart] = {
        name: material.charts[name] for name in scene.chart_ids if name in material.charts
    }
    drawn: dict[str, DrawingSet] = {name: material.drawing_set(name) for name in scene.drawing_ids}
    sets: dict[str, SetSheet] = {name: set_sheet(one) for name, one in drawn.items()}
    return _JSON.dump_json(
        {
            "desk": desk,
            "figures": figures,
            "charts": {
                name: {"chart": chart, "reach_degrees": chart.reach_degrees}
                for name, chart in charts.items()
            },
            "sets": sets,
            "look": printed.look,
            "burnt": burnt_on(desk, printed),
        }
    )


def frames_for(printed: Printed, start: int, end: int) -> bytes:
    """A frame pack of the played frames `[start, end)`."""
    scene, material = printed.scene, printed.material
    picked = np.arange(float(start), float(min(end, scene.played_frames)))
    figures = frames_of(scene, material, picked)
    return pack_frames(
        figures,
        {"content": CONTENT, "start": str(start), "frames": str(len(picked))},
        layers_of(scene, material, picked),
        camera_of(scene, picked),
        guides_of(scene, picked),
        standing_of(scene, material, picked, figures),
    )


def burnt_on(desk: Desk, printed: Printed) -> list[tuple[str, str]]:
    """What is burnt in on every played frame: at the left what it is, at the right when."""
    burns = printed.look.burns
    if not burns:
        return []
    return [
        (
            BETWEEN.join(_what(desk, printed, burns, frame)),
            BETWEEN.join(_when(printed.scene, burns, frame)),
        )
        for frame in range(printed.scene.played_frames)
    ]


def _what(desk: Desk, printed: Printed, burns: tuple[Burnt, ...], frame: int) -> list[str]:
    said: list[str] = []
    if "name" in burns:
        said.append(printed.scene.name)
    if "revision" in burns and printed.revision is not None:
        said.append(f"rev {printed.revision}")
    laid = float(printed.scene.elastic.source(np.array([float(frame)]))[0])
    if "beat" in burns:
        said += [beat.name for beat in desk.beats if beat.start <= laid < beat.end]
    if "lanes" in burns:
        said += [name for lane in desk.lanes if (name := _standing(lane, frame, laid))]
    return said


def _standing(lane: DeskLane, played: int, laid: float) -> str | None:
    """What stands on a lane: of two in a join the one that takes over."""
    at = float(played) if lane.keeps_own_time else laid
    over = [one for one in lane.stints if one.start <= at < one.end]
    return over[-1].clip_name if lane.plays and over else None


def _when(scene: Scene, burns: tuple[Burnt, ...], frame: int) -> list[str]:
    said: list[str] = []
    number = frame + scene.first_frame
    if "frame" in burns:
        said.append(f"{number:03}")
    if "time" in burns:
        said.append(f"{frame / float(scene.rate):.2f} s")
    if "timecode" in burns:
        said.append(timecode(number, scene.rate))
    return said
