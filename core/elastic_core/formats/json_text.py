"""JSON as it comes in through any door: finite numbers, and text that can be kept and shown."""

import re
from typing import Any

import orjson

from ..errors import Refusal

# An escaped zero, where the backslash before it is not itself escaped.
_ZERO = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")


def read_json(text: bytes) -> Any:
    """A JSON text's value.

    Raises Refusal for what is not JSON by RFC 8259 in UTF-8: NaN and Infinity, numbers beyond float64,
    half of a surrogate pair, lists more than a thousand deep; and for the character of number 0, which no
    database keeps.
    """
    refuse_zeros(text)
    try:
        return orjson.loads(text)
    except orjson.JSONDecodeError as problem:
        if not text:
            raise Refusal("There is nothing in it: JSON was expected.") from None
        raise Refusal(
            f"This is not JSON that can be read: line {problem.lineno}, column {problem.colno}."
        ) from None


def refuse_zeros(text: bytes) -> None:
    """Raises Refusal where a JSON text holds the character of number 0."""
    # As it is, it is not allowed in JSON at all: the reader says so.
    if b"u0000" in text and _ZERO.search(text):
        raise Refusal("A text in it holds the character of number 0, which is no letter.")
