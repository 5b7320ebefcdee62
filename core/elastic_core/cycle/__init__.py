"""Cycles: where they close, and how they travel."""
