"""Motion in a scene as BVH files in metres: a figure's, or everybody's in one zip."""

import io
import zipfile

from ..scene.document import Scene
from ..scene.material import Material
from . import bvh
from .bvh import BvhFile
from .bvh_motion import file_from
from .scene_motion import scene_motion
from .zips import entry_named, file_name


def scene_bvh(
    scene: Scene,
    material: Material,
    figure_id: str,
    start: int | None = None,
    end: int | None = None,
) -> BvhFile:
    """Frames `[start, end)`, numbered as the scene shows them; the whole scene without them.

    Raises Refusal for a range outside the scene.
    """
    motion = scene_motion(scene, material, figure_id, start, end)
    return file_from(material.figure(scene.figure(figure_id).figure), motion, scene.rate)


def scene_bvh_zip(
    scene: Scene, material: Material, start: int | None = None, end: int | None = None
) -> bytes:
    """Every figure's frames `[start, end)` in a file of its own, named after it.

    Raises Refusal for a range outside the scene.
    """
    out = io.BytesIO()
    taken: set[str] = set()
    with zipfile.ZipFile(out, "w") as archive:
        for member in scene.figures:
            text = bvh.write(scene_bvh(scene, material, member.id, start, end))
            name = _free_name(member.name, taken)
            archive.writestr(entry_named(f"{name}.bvh", packed=True), text)
    return out.getvalue()


def _free_name(wanted: str, taken: set[str]) -> str:
    """A name for a file that no other has: two lamps are “Lamp” and “Lamp 2”."""
    stem = file_name(wanted, "Figure")
    name, count = stem, 1
    while name.lower() in taken:
        count += 1
        name = f"{stem} {count}"
    taken.add(name.lower())
    return name
