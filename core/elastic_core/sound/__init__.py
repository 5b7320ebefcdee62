"""Sounds: what they are, how they look, and how several of them are heard together."""
