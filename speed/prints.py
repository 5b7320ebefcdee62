"""(y) Prints: frames a second and where their time goes, growth with their number, and memory."""

import os
import tempfile
import time
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

from demo.production import demo
from elastic_core.printing.film import film_at, print_film
from elastic_core.printing.look import HOUSE_SIZE, PrintLook
from elastic_core.printing.press import Press, pixels_of, press_for
from elastic_core.printing.sheet import Printed
from elastic_core.scene.document import Scene
from elastic_core.scene.material import Material

from .told import told

LEAST_FPS, FRAMES = 8.0, 144
MOST_GROWTH = 2.3
LONG_FRAMES, SMALL, MOST_MORE_MEGABYTES = 3_000, (320, 180), 150.0


def run() -> bool:
    made = demo()
    scene, material = made.scene, made.material
    results = []
    with (
        tempfile.TemporaryDirectory() as folder,
        press_for(Printed(scene, material, PrintLook()), {}) as press,
    ):
        path = Path(folder) / "film.mp4"
        # What is asked for once is asked for first.
        press.frame(0)
        half, whole = (_seconds(press, range(count), path) for count in (FRAMES, 2 * FRAMES))
        rate = 2 * FRAMES / whole
        parts = _parts(press, path)
        says = f"{rate:.1f} frames a second (mark {LEAST_FPS:.0f}); {parts}"
        results.append(told("(y) a print at 1280 x 720", says, rate >= LEAST_FPS))
        growth = whole / half
        says = f"{growth:.2f} x for twice as many frames (mark {MOST_GROWTH})"
        results.append(told("    it grows with its frames", says, growth <= MOST_GROWTH))
    long = scene.model_copy(update={"laid_frames": LONG_FRAMES, "played_frames": LONG_FRAMES})
    results.append(_stays_small(long, material))
    return all(results)


def _seconds(press: Press, span: range, path: Path) -> float:
    began = time.perf_counter()
    print_film(press, span, path, "mp4", None)
    return time.perf_counter() - began


def _parts(press: Press, path: Path) -> str:
    """What painting with its way here, and what encoding takes of a frame, each alone."""
    began = time.perf_counter()
    pictures = [press.frame(frame) for frame in range(48)]
    painted = time.perf_counter()
    with film_at(path, "mp4", Fraction(24), HOUSE_SIZE) as film:
        for picture in pictures:
            film.add(pixels_of(picture))
    encoded = time.perf_counter()
    each = [1000 * (end - start) / 48 for start, end in ((began, painted), (painted, encoded))]
    return f"painted in {each[0]:.0f} ms, encoded in {each[1]:.0f}"


def _stays_small(scene: Scene, material: Material) -> bool:
    """What all that prints takes together, from the first tenth of a long print to its end."""
    look = PrintLook(width=SMALL[0], height=SMALL[1])
    with (
        tempfile.TemporaryDirectory() as folder,
        press_for(Printed(scene, material, look), {}) as press,
    ):
        at: list[float] = []

        def look_at(done: int) -> None:
            if done in (LONG_FRAMES // 10, LONG_FRAMES):
                at.append(_megabytes_of_all())

        print_film(press, range(LONG_FRAMES), Path(folder) / "film.mp4", "mp4", None, look_at)
    more = at[1] - at[0]
    says = f"{more:+.0f} MB from 300 to {LONG_FRAMES:,} frames (mark {MOST_MORE_MEGABYTES:.0f})"
    return told("    its memory stays", says, more <= MOST_MORE_MEGABYTES)


def _megabytes_of_all() -> float:
    """What this process and all that it started take (Linux, proc(5))."""
    parents: dict[int, int] = {}
    for folder in Path("/proc").iterdir():
        if folder.name.isdecimal():
            with suppress(OSError):
                after_name = (folder / "stat").read_text().rpartition(")")[2].split()
                parents[int(folder.name)] = int(after_name[1])
    family = {os.getpid()}
    while more := {pid for pid, parent in parents.items() if parent in family} - family:
        family |= more
    return sum(map(_megabytes, family))


def _megabytes(pid: int) -> float:
    """Its share of what it has in memory: what several have is counted once."""
    with suppress(OSError):
        for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
            if line.startswith("Pss:"):
                return int(line.split()[1]) / 1024
    return 0.0
