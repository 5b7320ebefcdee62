"""The sounds of a scene, sample by sample, as they are kept."""

from elastic_core.scene.material import Material
from elastic_core.sound.samples import Samples
from library import sounds


class SceneRecordings:
    """Where the samples of a scene's sounds come from (elastic_core.scene.hearing.Recordings)."""

    def __init__(self, material: Material) -> None:
        self._material = material

    def samples(self, sound: str, start: int, count: int) -> Samples:
        return sounds.kept(self._material.sound(sound)).samples(start, count)
