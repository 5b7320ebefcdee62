"""Asking the recogniser's process: it is started when it is first needed, and ended when it takes too long."""

import json
import os
import selectors
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from functools import cache
from math import gcd
from pathlib import Path
from typing import Any

import numpy as np
from scipy.signal import resample_poly

from ..errors import Refusal
from ..sound.samples import Samples
from ..voice.loudness import SPEECH_HZ, Speech
from ..voice.reading import Reading

Progress = Callable[[float, float], None]
# Reading takes about a tenth of a sound's time; what takes this long has gone wrong.
_LEAST_LIMIT_SECONDS, _LIMIT_A_SECOND = 20.0, 1.5
_LOOKS_EVERY_SECONDS = 0.2
_CORE = Path(__file__).resolve().parents[2]


def speech_of(samples: Samples, rate_hz: int) -> Speech:
    """A sound as it is listened to: one channel at 16 kHz. [n, channels] → [m]"""
    one = samples.mean(axis=1, dtype=np.float64)
    common = gcd(rate_hz, SPEECH_HZ)
    speech: Speech = resample_poly(one, SPEECH_HZ // common, rate_hz // common).astype(np.float32)
    return speech


class Listener:
    """The recogniser's process, and the one who asks it; others wait for their turn."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._turn = threading.Lock()

    def read(
        self,
        speech: Speech,
        text: str,
        pronunciations: Mapping[str, Sequence[Sequence[str]]] | None = None,
        progress: Progress = lambda done, of: None,
        *,
        limit_seconds: float | None = None,
    ) -> Reading:
        """Lay a text on a sound. `progress` may raise to give up.

        Raises Refusal as `reader.read` does, where the process takes longer than the limit, and where it ends.
        """
        seconds = len(speech) / SPEECH_HZ
        limit = limit_seconds or _LEAST_LIMIT_SECONDS + _LIMIT_A_SECOND * seconds
        question = {
            "samples": len(speech),
            "text": text,
            "pronunciations": {word: list(ways) for word, ways in (pronunciations or {}).items()},
        }
        data = json.dumps(question).encode() + b"\n" + speech.astype("<f4").tobytes()
        with self._turn:
            answer: dict[str, Any] = {}
            try:
                answer = self._asked(data, progress, time.monotonic() + limit)
            finally:
                if not answer:
                    # Whatever it was at, nobody waits for it.
                    self._end()
        if "refusal" in answer:
            raise Refusal(answer["refusal"])
        return Reading.model_validate(answer["reading"])

    def end(self) -> None:
        """End the process; it comes up again when it is asked."""
        with self._turn:
            self._end()

    def _asked(self, data: bytes, progress: Progress, until: float) -> dict[str, Any]:
        process = self._running()
        assert process.stdin is not None
        assert process.stdout is not None
        # A sound does not fit into a pipe: another thread fills it while answers are read.
        asking = threading.Thread(target=_send, args=(process.stdin, data), daemon=True)
        asking.start()
        with selectors.DefaultSelector() as waiting:
            waiting.register(process.stdout, selectors.EVENT_READ)
            rest, last = b"", (0.0, 0.0)
            while time.monotonic() < until:
                if not waiting.select(_LOOKS_EVERY_SECONDS):
                    progress(*last)
                    continue
                told = os.read(process.stdout.fileno(), 1 << 16)
                if not told:
                    raise Refusal("Reading broke off. Try it again, or read the sound alone.")
                *lines, rest = (rest + told).split(b"\n")
                for line in lines:
                    answer: dict[str, Any] = json.loads(line)
                    if "done" not in answer:
                        return answer
                    last = (answer["done"], answer["of"])
                    progress(*last)
        raise Refusal(
            "Reading this sound takes too long. Cut it at a pause, or read the sound alone."
        )

    def _running(self) -> "subprocess.Popen[bytes]":
        if self._process is None or self._process.poll() is not None:
            self._end()
            paths = [str(_CORE), *filter(None, [os.environ.get("PYTHONPATH")])]
            self._process = subprocess.Popen(
                [sys.executable, "-m", "elastic_core.listening.process"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                # One line at a time: more threads would only wait for each other.
                env={**os.environ, "PYTHONPATH": os.pathsep.join(paths), "OMP_NUM_THREADS": "1"},
            )
        return self._process

    def _end(self) -> None:
        process, self._process = self._process, None
        if process is not None:
            process.kill()
            process.communicate()


@cache
def listener() -> Listener:
    """The one of this process."""
    return Listener()


def _send(pipe: Any, data: bytes) -> None:
    try:
        pipe.write(data)
        pipe.flush()
    except (BrokenPipeError, ValueError, OSError):
        # It ended: who reads its answers says so.
        return
