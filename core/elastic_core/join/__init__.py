"""Joins worked out: where two clips meet best, and how one is laid on the other (rules 5.3 and 5.4)."""
