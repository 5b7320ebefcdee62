"""Captured motion made usable (rules 6.x): every step a pure function of motion and numbers."""
