"""Retiming: what is done to an elastic by its pins, its pace, or a range of it (rules 1.4 to 1.6)."""
