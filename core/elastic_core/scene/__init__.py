"""Scenes: the document, the frames it gives, the desk's picture of it, and its edits."""
