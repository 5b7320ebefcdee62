"""Groups: a chained run of stints kept as one, which plays exactly as it lay (rule 9.4).

A group is a scene of its own with one figure and one lane. It is live: whoever changes it there changes it
wherever it is used.
"""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import Field

from ...elastic import Elastic
from ...errors import Refusal
from ...exposure import Exposure
from ...ground import ORIGIN
from ...join.alignment import Alignment
from ...names import Id
from ..cast import SceneSource
from ..document import Lane, Scene, Stint
from ..material import Material
from .base import Edit, Edited, Rules, ordered, with_lane


class UseGroup(Edit):
    """Play a run of stints as one stint, from the group that was made of them."""

    kind: Literal["use_group"] = "use_group"
    stints: tuple[str, ...] = Field(min_length=1)
    stint: Id
    source: SceneSource


def grouped(scene: Scene, stints: Sequence[str], name: str) -> Scene:
    """A run of stints of one lane as a scene of its own.

    Raises Refusal for stints of several lanes, or with others between them.
    """
    lane, run = _run(scene, stints)
    start = run[0].start
    length = int(np.ceil(run[-1].end - start))
    first, *later = (one.model_copy(update={"start": one.start - start}) for one in run)
    alone = {"nailed": None, "alignment": Alignment(), "holds_join": False}
    inner = lane.model_copy(
        update={
            "stints": (first.model_copy(update=alone), *later),
            "gap": "hold",
            "mask": None,
            "muted": False,
            "soloed": False,
            "locked": False,
            "folded": False,
            "keeps_own_time": False,
            "exposure": None,
            "joint_exposures": (),
            "place_exposure": None,
        }
    )
    member = scene.figure(lane.figure).model_copy(
        update={"mark": ORIGIN, "size": 1.0, "attachments": ()}
    )
    return Scene(
        name=name,
        rate=scene.rate,
        laid_frames=length,
        played_frames=length,
        figures=(member,),
        lanes=(inner,),
        elastic=Elastic(),
        exposure=Exposure(),
    )


def _run(scene: Scene, stints: Sequence[str]) -> tuple[Lane, tuple[Stint, ...]]:
    found = [scene.find(name) for name in dict.fromkeys(stints)]
    lane = found[0][0]
    if any(other.id != lane.id for other, _ in found) or lane.target.kind != "body":
        raise Refusal("A group is a run of stints on one lane of a figure’s body.")
    places = sorted(lane.stints.index(stint) for _, stint in found)
    if places != list(range(places[0], places[0] + len(places))):
        raise Refusal("A group is a run of neighbours: there is a stint between those chosen.")
    return lane, tuple(lane.stints[place] for place in places)


def _use(scene: Scene, edit: UseGroup, material: Material) -> Edited:
    lane, run = _run(scene, edit.stints)
    if any(other.id == edit.stint for other in scene.stints):
        raise Refusal("A stint with that id is in the scene already.")
    name = material.body(edit.source).name
    first, last = run[0], run[-1]
    stint = Stint(
        id=edit.stint,
        source=edit.source,
        start=first.start,
        length_frames=last.end - first.start,
        shape=first.shape,
        slopes=first.slopes,
        upper_shape=first.upper_shape,
        upper_slopes=first.upper_slopes,
        nailed=first.nailed,
        alignment=first.alignment,
        holds_join=first.holds_join,
        gap=last.gap,
    )
    gone = {one.id for one in run}
    kept = tuple(one for one in lane.stints if one.id not in gone)
    done = with_lane(scene, ordered(lane, (*kept, stint), material))
    many = f"{len(run)} stints" if len(run) > 1 else "a stint"
    return Edited(done, f"Keep {many} as {name}")


RULES: Rules = {UseGroup: _use}
