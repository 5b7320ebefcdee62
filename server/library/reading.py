"""Motion files read again: a look at one asks for it many times in a row."""

from functools import lru_cache

from elastic_core.formats import bvh

from . import files
from .models import StoredFile


def bvh_of(file: StoredFile) -> bvh.BvhFile:
    """What a kept file holds."""
    return _read(file.pk)


@lru_cache(maxsize=2)
def _read(pk: int) -> bvh.BvhFile:
    return bvh.read(files.load(StoredFile.objects.get(pk=pk)))
