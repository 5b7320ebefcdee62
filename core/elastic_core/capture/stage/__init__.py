"""The capture stage, a stand-in: a made-up suit and who wears it."""
