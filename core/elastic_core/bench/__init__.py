"""The bench: one clip made of keys, and what the room shows of it."""
