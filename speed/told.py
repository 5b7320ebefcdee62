"""How a bench says what it measured, and how fast the machine is meanwhile."""

import time


def loop_ms() -> float:
    """How long a plain loop takes: what the numbers of a run are to be read by."""
    began = time.perf_counter()
    total = 0
    for k in range(1_000_000):
        total += k
    assert total == 499_999_500_000
    return (time.perf_counter() - began) * 1000


def told(name: str, says: str, good: bool) -> bool:
    """One line: what was measured, the figure and its mark, and whether it is met."""
    print(f"{name:36s} {says:58s} {'ok' if good else 'MISSED'}", flush=True)
    return good
