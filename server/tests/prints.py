"""Prints that nobody painted: what their films hold is made up."""

import numpy as np

from elastic_core.printing.look import PrintLook
from library import files
from prints.models import Print

from .conftest import Demo


def made_up(size_bytes: int) -> bytes:
    return np.random.default_rng(7).integers(0, 256, size_bytes, dtype=np.uint8).tobytes()


def kept_print(demo: Demo, film: bytes = b"film") -> Print:
    """A print of the demo's scene with this film."""
    kept = files.store(demo.scene.production, "film.mp4", film)
    made, _ = Print.objects.get_or_create(
        film=kept,
        defaults={
            "production": demo.scene.production,
            "document": demo.scene,
            "name": demo.scene.name,
            "revision": 1,
            "form": "mp4",
            "look": PrintLook().model_dump(mode="json"),
            "first": 0,
            "frames": 48,
            "first_frame": 1,
            "rate": "24",
            "has_sound": False,
        },
    )
    return made
