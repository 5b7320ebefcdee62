"""The base of every document and its parts: frozen, its numbers finite; a copy works everything out anew."""

from typing import Any, Self

from pydantic import BaseModel, ConfigDict

from .errors import refusing


class Frozen(BaseModel):
    """A model that never changes. What a `cached_property` worked out is not part of a copy."""

    model_config = ConfigDict(frozen=True, allow_inf_nan=False)

    def __copy__(self) -> Self:
        return self._without_caches(super().__copy__())

    def __deepcopy__(self, memo: dict[int, Any] | None = None) -> Self:
        return self._without_caches(super().__deepcopy__(memo))

    def checked(self) -> Self:
        """The same document, every rule of its model asked anew: what a copy was given is not.

        Raises Refusal with its first complaint.
        """
        with refusing():
            return type(self).model_validate(_bare(self))

    @classmethod
    def _without_caches(cls, copy: Self) -> Self:
        for name in set(copy.__dict__) - set(cls.model_fields):
            del copy.__dict__[name]
        return copy


class Shown(BaseModel):
    """What a document looks like to those who show it: an answer holds no number that is none."""

    model_config = ConfigDict(allow_inf_nan=False)


def _bare(value: Any) -> Any:
    """A document as the plain values that it is made of."""
    if isinstance(value, Frozen):
        return {name: _bare(getattr(value, name)) for name in type(value).model_fields}
    if isinstance(value, tuple):
        return tuple(map(_bare, value))
    if isinstance(value, dict):
        return {name: _bare(inner) for name, inner in value.items()}
    return value
