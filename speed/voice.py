"""(v) Voice: five seconds of speech read, by a process that has to come up first and by one that is up; a
minute's line exposed."""

import statistics
import time
from fractions import Fraction

import numpy as np

from demo.spoken import SPOKEN, text_of, voice_file
from elastic_core.formats.sound_file import read_sound
from elastic_core.listening.asking import Listener, speech_of
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.voice.chart import usual_mouths
from elastic_core.voice.exposing import MouthRules, exposed
from elastic_core.voice.loudness import SPEECH_HZ
from elastic_core.voice.reading import Reading, SpokenPhone, SpokenWord

from .told import told

ROUNDS = 5
MOST_COLD_S, MOST_WARM_S, MOST_EXPOSING_MS = 1.5, 0.7, 50.0


def run() -> bool:
    """Whether all of it is quick enough."""
    speech = _five_seconds()
    listener = Listener()
    try:
        took = [_seconds(listener, speech) for _ in range(ROUNDS + 1)]
    finally:
        listener.end()
    cold, warm = took[0], statistics.median(took[1:])
    line = _minute()
    began = time.perf_counter()
    for _ in range(ROUNDS):
        exposed(line, usual_mouths(), Fraction(24), MouthRules(on=2))
    exposing_ms = (time.perf_counter() - began) * 1000 / ROUNDS
    return all(
        [
            told(
                "(v) five seconds of speech read",
                f"cold {cold:.2f} s (mark {MOST_COLD_S}), warm {warm:.2f} (mark {MOST_WARM_S})",
                cold < MOST_COLD_S and warm < MOST_WARM_S,
            ),
            told(
                "    a line of a minute exposed",
                f"{exposing_ms:.1f} ms, {len(line.phones)} phones (mark {MOST_EXPOSING_MS:.0f})",
                exposing_ms < MOST_EXPOSING_MS,
            ),
        ]
    )


def _five_seconds() -> np.ndarray:
    """The demo's first line up to a pause, as it is listened to."""
    name = SPOKEN[0]
    read = read_sound(voice_file(name), f"{name}.ogg")
    return speech_of(read.samples, HOUSE_RATE)[: 5 * SPEECH_HZ]


def _seconds(listener: Listener, speech: np.ndarray) -> float:
    began = time.perf_counter()
    reading = listener.read(speech, text_of(SPOKEN[0]).split(":")[0])
    assert reading.not_heard == ()
    return time.perf_counter() - began


def _minute() -> Reading:
    """Twelve phones a second for a minute, with a breath every two seconds."""
    names = ("TH", "R", "IY", "L", "AE", "M", "P", "S", "AH", "F", "OW", "N")
    phones = tuple(
        SpokenPhone(phone=names[k % 12], start=k / 12 + 0.01, end=(k + 1) / 12)
        for k in range(720)
        if k % 24 < 22
    )
    word = SpokenWord(word="line", start=phones[0].start, end=phones[-1].end, phones=phones[:90])
    words = [
        word.model_copy(update={"phones": part, "start": part[0].start, "end": part[-1].end})
        for part in (phones[at : at + 60] for at in range(0, len(phones), 60))
    ]
    return Reading(seconds=60.0, words=tuple(words))
