"""How a bench says what it measured."""


def told(name: str, says: str, good: bool) -> bool:
    """One line: what was measured, the figure and its mark, and whether it is met."""
    print(f"{name:36s} {says:58s} {'ok' if good else 'MISSED'}", flush=True)
    return good
