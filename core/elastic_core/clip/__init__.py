"""Clips: the document, how it plays, the edits on it, and what the bench shows of it."""
