"""(s) Sound: ten seconds of all that is heard, as recorded and stretched, in times real time; a minute read."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from elastic_core.clock import Span
from elastic_core.elastic import Elastic
from elastic_core.formats.sound_file import read_sound, written_flac
from elastic_core.retime.ranges import Slowing, slowed
from elastic_core.scene.document import Scene
from elastic_core.scene.hearing import mixed
from elastic_core.scene.sound_lane import LaidSound, SoundLane
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.samples import Samples

from .told import told

LANES, SECONDS, ROUNDS = 8, 10, 5
LEAST_TIMES, LEAST_STRETCHED, LEAST_READ = 100, 20, 60


@dataclass(frozen=True)
class Noise:
    """One minute of noise, whatever is asked for."""

    minute: Samples

    def samples(self, sound: str, start: int, count: int) -> Samples:
        return self.minute[max(0, start) : max(0, start) + count]


def _scene(*, follows: bool) -> Scene:
    lanes = tuple(
        SoundLane(
            id=f"lane {k}",
            name="Sound",
            keeps_own_time=not follows,
            sounds=(LaidSound(id=f"sound {k}", sound="noise", start=0, seconds=30, level_db=-12),),
        )
        for k in range(LANES if not follows else 1)
    )
    elastic = slowed(Elastic(), Span(24, 300), Slowing(pace=0.35, ramp_frames=8))
    return Scene(
        name="Heard",
        rate="24",
        laid_frames=720,
        played_frames=720,
        elastic=elastic,
        sound_lanes=lanes,
    )


def _times_real_time(seconds: float, run: Callable[[], object]) -> float:
    took = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        run()
        took.append(time.perf_counter() - began)
    return seconds / statistics.median(took)


def run() -> bool:
    chance = np.random.default_rng(3)
    minute = chance.uniform(-0.3, 0.3, (60 * HOUSE_RATE, 2)).astype(np.float32)
    noise, count = Noise(minute), SECONDS * HOUSE_RATE
    made = {
        f"{LANES} sounds mixed": (
            _times_real_time(SECONDS, lambda: mixed(_scene(follows=False), noise, 0, count)),
            LEAST_TIMES,
        ),
        "one stretched": (
            _times_real_time(SECONDS, lambda: mixed(_scene(follows=True), noise, 0, count)),
            LEAST_STRETCHED,
        ),
    }
    at_44 = written_flac(minute[: 60 * 44_100], 44_100)
    made["a FLAC read"] = (_times_real_time(60, lambda: read_sound(at_44, "noise")), LEAST_READ)
    says = "; ".join(f"{name} {times:.0f} x ({least})" for name, (times, least) in made.items())
    good = all(times >= least for times, least in made.values())
    return told("(s) Sound, in times real time", says, good)
