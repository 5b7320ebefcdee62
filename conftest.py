"""What holds for all tests: speed is measured in bin/bench, and no test fails by the clock.

Properties are tried on a few examples, the same ones every time; `bin/test --thorough` draws many others.
"""

import os

from hypothesis import settings

settings.register_profile("hours", deadline=None, max_examples=40, derandomize=True)
settings.register_profile("thorough", deadline=None, max_examples=1_000)
settings.load_profile("thorough" if os.environ.get("HOURS_THOROUGH") else "hours")
