"""A figure's motion in a scene, as a BVH file in metres."""

from ..scene.document import Scene
from ..scene.material import Material
from .bvh import BvhFile
from .bvh_motion import file_from
from .scene_motion import scene_motion


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
