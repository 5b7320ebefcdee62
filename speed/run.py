"""All benches in one run, or those named; exit 1 where one misses its mark."""

import sys

from . import (
    bvh_read,
    capture,
    crowd,
    dense,
    drawings,
    elastics,
    exchange,
    exposure_sheet,
    joins,
    lanes,
    large_take,
    page,
    prints,
    seam,
    shelves,
    sound,
    standard_shot,
    voice,
)
from .told import loop_ms

BENCHES = {
    "shot": standard_shot.run,
    "read": bvh_read.run,
    "seam": seam.run,
    "joins": joins.run,
    "lanes": lanes.run,
    "elastics": elastics.run,
    "sound": sound.run,
    "capture": capture.run,
    "voice": voice.run,
    "sheet": exposure_sheet.run,
    "drawings": drawings.run,
    "prints": prints.run,
    "gltf": exchange.run,
    "previews": page.run_previews,
    "page": page.run,
    "dense": dense.run,
    "shelves": shelves.run,
    "large": large_take.run,
    "crowd": crowd.run,
}


if __name__ == "__main__":
    wanted = sys.argv[1:] or list(BENCHES)
    print(f"    this machine: {loop_ms():.0f} ms for a plain loop of a million (its speed varies)")
    results = [BENCHES[name]() for name in wanted]
    print(f"    this machine: {loop_ms():.0f} ms for the same loop, after")
    sys.exit(not all(results))
