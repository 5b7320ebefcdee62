"""Shares of a way, eased."""

from .arrays import Array


def smooth(share: Array) -> Array:
    """From 0 to 1 with no pace at either end: 3u² − 2u³. `share` within 0…1."""
    return share * share * (3 - 2 * share)
