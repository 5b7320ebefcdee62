"""Speed, as ratios of two measurements in one run."""
