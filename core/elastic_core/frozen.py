"""The base of every document and its parts: frozen, its numbers finite; a copy works everything out anew."""

from typing import Any, Self

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A model that never changes. What a `cached_property` worked out is not part of a copy."""

    model_config = ConfigDict(frozen=True, allow_inf_nan=False)

    def __copy__(self) -> Self:
        return self._without_caches(super().__copy__())

    def __deepcopy__(self, memo: dict[int, Any] | None = None) -> Self:
        return self._without_caches(super().__deepcopy__(memo))

    @classmethod
    def _without_caches(cls, copy: Self) -> Self:
        for name in set(copy.__dict__) - set(cls.model_fields):
            del copy.__dict__[name]
        return copy
