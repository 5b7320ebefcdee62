"""The one kind of refusal the core knows."""


class Refusal(ValueError):
    """Something that cannot be done, with a plain sentence for the person who asked (rule 8.3)."""
