"""All benches in one run, or those named; exit 1 where one misses its mark."""

import sys
import time

from . import bvh_read, dense, lanes, page, seam, standard_shot

BENCHES = {
    "shot": standard_shot.run,
    "read": bvh_read.run,
    "seam": seam.run,
    "lanes": lanes.run,
    "page": page.run,
    "dense": dense.run,
}


def loop_ms() -> float:
    """How long a plain loop takes: what the numbers of a run are to be read by."""
    began = time.perf_counter()
    total = 0
    for k in range(1_000_000):
        total += k
    assert total == 499_999_500_000
    return (time.perf_counter() - began) * 1000


if __name__ == "__main__":
    wanted = sys.argv[1:] or list(BENCHES)
    print(f"    this machine: {loop_ms():.0f} ms for a plain loop of a million (its speed varies)")
    results = [BENCHES[name]() for name in wanted]
    print(f"    this machine: {loop_ms():.0f} ms for the same loop, after")
    sys.exit(not all(results))
