"""The numbers of drawings, as their files' names tell them."""

import re
from collections.abc import Iterable, Sequence

from ..errors import Refusal

MOST_DIGITS = 9
_DIGITS = re.compile(r"\d+")


def number_of(name: str) -> int:
    """The last number in a file's name, without its ending: “lamp 2 flame_007.png” is 7. Raises Refusal for a
    name that has none."""
    stem = name.rsplit(".", 1)[0] if "." in name.lstrip(".") else name
    found = _DIGITS.findall(stem)
    if not found:
        raise Refusal(f"“{name}” has no number in its name: a drawing is called by one.")
    if len(found[-1].lstrip("0")) > MOST_DIGITS:
        raise Refusal(f"“{name}” has a number of more than {MOST_DIGITS} digits.")
    return int(found[-1])


def natural(name: str) -> tuple[tuple[int, int, str], ...]:
    """What names are sorted by so that 2 comes before 10, whatever their case."""
    parts = re.split(r"(\d+)", name.casefold())
    return tuple((0, int(part), "") if part.isdigit() else (1, 0, part) for part in parts if part)


def missing_between(numbers: Iterable[int]) -> tuple[int, ...]:
    """The numbers that lack between the first and the last."""
    known = set(numbers)
    return tuple(n for n in range(min(known), max(known) + 1) if n not in known) if known else ()


def numbered(names: Sequence[str]) -> dict[int, str]:
    """Files by the numbers of their drawings, in natural order. Raises Refusal where two have one number, and
    for a name that has none."""
    found: dict[int, str] = {}
    for name in sorted(names, key=natural):
        number = number_of(name.replace("\\", "/").rsplit("/", 1)[-1])
        if number in found:
            raise Refusal(f"“{found[number]}” and “{name}” are both drawing {number}.")
        found[number] = name
    return found
