"""The colours that clips, stints, lanes and beats are told apart by. The theme says how they look."""

from typing import Literal

Colour = Literal["cobalt", "vermilion", "ochre", "viridian", "plum", "slate", "rose", "moss"]
COLOURS: tuple[Colour, ...] = (
    "cobalt", "vermilion", "ochre", "viridian", "plum", "slate", "rose", "moss",
)  # fmt: skip
