"""All benches in one run; exit 1 where one misses its mark."""

import sys

from . import bvh_read, standard_shot

if __name__ == "__main__":
    results = [standard_shot.run(), bvh_read.run()]
    sys.exit(not all(results))
