"""What holds for all tests: speed is measured in bin/bench, and no test fails by the clock."""

from hypothesis import settings

settings.register_profile("hours", deadline=None)
settings.load_profile("hours")
