"""The one kind of refusal the core knows, and what a model complains of in the trade's words."""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from pydantic import ValidationError

_UNITS = ("metres", "degrees", "frames", "pixels", "seconds")
_SAID: Mapping[str, str] = {"laid_frames": "length_frames", "played_frames": "length_frames"}
_LIMITS: Mapping[str, tuple[str, str]] = {
    "greater_than_equal": ("at the least", "ge"),
    "greater_than": ("more than", "gt"),
    "less_than_equal": ("at the most", "le"),
    "less_than": ("less than", "lt"),
}
_COUNTS: Mapping[str, tuple[str, str, str]] = {
    "string_too_short": ("at the least", "min_length", "character"),
    "string_too_long": ("at the most", "max_length", "character"),
    "too_short": ("at the least", "min_length", "entry"),
    "too_long": ("at the most", "max_length", "entry"),
}
# What each kind of complaint says of the field, by the start of its name in pydantic.
_KINDS: tuple[tuple[str, str], ...] = (
    ("missing", "is missing"),
    ("extra_forbidden", "means nothing here"),
    ("finite_number", "is a plain number"),
    ("float", "is a plain number"),
    ("int", "is a whole number"),
    ("bool", "is yes or no"),
    ("string_pattern_mismatch", "is not written as it should be"),
    ("string", "is a text"),
    ("uuid", "names nothing that is here"),
    ("literal_error", "is none of those that there are"),
    ("union_tag", "is none of those that there are"),
    ("tuple", "is a list of another kind"),
    ("list", "is a list"),
    ("dict", "is a set of named values"),
    ("model", "is a set of named values"),
)


class Refusal(Exception):
    """Something that cannot be done, with a plain sentence for the person who asked (rule 8.3).

    It is no ValueError: a model whose validator raises one lets it pass, instead of gathering it.
    """


@contextmanager
def refusing() -> Iterator[None]:
    """Raises Refusal for what a model complains of in here, with its first complaint in words."""
    try:
        yield
    except ValidationError as complaints:
        raise Refusal(in_words(complaints.errors(include_url=False)[0])) from None


def in_words(complaint: Mapping[str, Any]) -> str:
    """One of a document model's complaints (pydantic's `errors()`) as a plain sentence."""
    kind = str(complaint["type"])
    words = _field(complaint["loc"])
    verb = "are" if words[0] == "frames" else "is"
    if kind == "json_invalid":
        return "This is not JSON that can be read."
    if kind in _LIMITS:
        says, name = _LIMITS[kind]
        value = complaint["ctx"][name]
        unit = f" {words.pop()}" if len(words) > 1 and words[-1] in _UNITS else ""
        unit = unit.removesuffix("s") if value == 1 else unit
        return f"{' '.join(words).capitalize()} {verb} {says} {value:,.10g}{unit}."
    subject = " ".join(words).capitalize()
    if kind in _COUNTS:
        says, name, thing = _COUNTS[kind]
        count = complaint["ctx"][name]
        if name == "min_length" and count == 1:
            return f"{subject} is empty."
        things = thing if count == 1 else {"entry": "entries"}.get(thing, f"{thing}s")
        return f"{subject} has {says} {count:,} {things}."
    for start, says in _KINDS:
        if kind.startswith(start):
            return f"{subject} {says}."
    message = str(complaint["msg"]).split("\n")[0]
    return f"{subject}: {message[:1].lower()}{message[1:]}."


def _field(where: tuple[str | int, ...]) -> list[str]:
    """The words of the innermost field that has a name."""
    names = [part for part in where if isinstance(part, str) and part.isidentifier()]
    field = names[-1] if names else "this"
    return _SAID.get(field, field).split("_")
