"""The one kind of refusal the core knows, and what a model complains of in the trade's words."""

from collections.abc import Mapping
from typing import Any

_UNITS = ("metres", "degrees", "frames", "pixels", "seconds")
_SAID: Mapping[str, str] = {"laid_frames": "length_frames", "played_frames": "length_frames"}
_LIMITS: Mapping[str, tuple[str, str]] = {
    "greater_than_equal": ("at the least", "ge"),
    "greater_than": ("more than", "gt"),
    "less_than_equal": ("at the most", "le"),
    "less_than": ("less than", "lt"),
}


class Refusal(ValueError):
    """Something that cannot be done, with a plain sentence for the person who asked (rule 8.3)."""


def in_words(complaint: Mapping[str, Any]) -> str:
    """One of a document model's complaints (pydantic's `errors()`) as a plain sentence."""
    message = str(complaint["msg"]).removeprefix("Value error, ").split("\n")[0]
    if message.endswith("."):
        return message
    field = str(complaint["loc"][-1] if complaint["loc"] else "this")
    words = _SAID.get(field, field).split("_")
    limit = _LIMITS.get(str(complaint["type"]))
    if limit is None:
        return f"{' '.join(words).capitalize()}: {message[:1].lower()}{message[1:]}."
    says, name = limit
    value = complaint["ctx"][name]
    unit = f" {words.pop()}" if len(words) > 1 and words[-1] in _UNITS else ""
    unit = unit.removesuffix("s") if value == 1 else unit
    verb = "are" if words[0] == "frames" else "is"
    return f"{' '.join(words).capitalize()} {verb} {says} {value:g}{unit}."
