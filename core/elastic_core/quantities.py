"""Numbers as documents and edits carry them: finite, and no larger than anything the trade measures.

What is bounded here stays finite in all that is worked out from it, in float32 too.
"""

from typing import Annotated

from pydantic import Field

MOST_FRAMES = 1_000_000
MOST_METRES = 1_000_000
MOST_VALUE = 10_000_000
MOST_SLOPE = 1e13
# Times that are nearer to each other than this are one time.
NEAR_FRAMES = 1e-6

Frame = Annotated[float, Field(ge=-MOST_FRAMES, le=MOST_FRAMES)]
WholeFrame = Annotated[int, Field(ge=-MOST_FRAMES, le=MOST_FRAMES)]
LengthFrames = Annotated[float, Field(gt=0, le=MOST_FRAMES)]
# Where a map of time runs on for long, what it shows lies far out.
SourceFrame = Annotated[float, Field(ge=-1e9, le=1e9)]
Metres = Annotated[float, Field(ge=-MOST_METRES, le=MOST_METRES)]
PlaceMetres = tuple[Metres, Metres, Metres]
# Degrees of a wheel that turns for long, metres, or times its own size: what a channel can be keyed to.
Value = Annotated[float, Field(ge=-MOST_VALUE, le=MOST_VALUE)]
Slope = Annotated[float, Field(ge=-MOST_SLOPE, le=MOST_SLOPE)]
# The place of something in a list.
Place = Annotated[int, Field(ge=0, le=MOST_FRAMES)]
