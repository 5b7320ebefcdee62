"""Drawings: numbered pictures in order with their exposures, and how runs of them play (rules 7.3 and 7.4)."""
