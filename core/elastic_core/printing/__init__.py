"""Prints: the stage's own pictures, by its own painter, on their way out of the house (rules 9.1, 9.2)."""
