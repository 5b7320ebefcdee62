"""All benches in one run, or those named; exit 1 where one misses its mark."""

import sys

from . import bvh_read, page, standard_shot

BENCHES = {"shot": standard_shot.run, "read": bvh_read.run, "page": page.run}

if __name__ == "__main__":
    wanted = sys.argv[1:] or list(BENCHES)
    results = [BENCHES[name]() for name in wanted]
    sys.exit(not all(results))
