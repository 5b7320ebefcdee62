"""The recogniser's own process: it comes up once, and reads line after line until nobody asks any more.

A question is one line of JSON, `{"samples": n, "text": …, "pronunciations": {…}}`, and then n samples as
32-bit floats; answers are lines of JSON: `{"done": s, "of": s}` on the way, and `{"reading": …}` or
`{"refusal": …}` at the end.
"""

import json
import sys
from typing import Any, BinaryIO

import numpy as np

from ..errors import Refusal
from .reader import read
from .recogniser import Recogniser


def serve(asked: BinaryIO, answers: BinaryIO) -> None:
    """Answer questions until there are none."""
    recogniser = Recogniser()
    while line := asked.readline():
        question = json.loads(line)
        samples = np.frombuffer(asked.read(4 * question["samples"]), dtype="<f4")
        tell(answers, answered(recogniser, samples.astype(np.float32), question, answers))


def answered(
    recogniser: Recogniser, samples: Any, question: dict[str, Any], answers: BinaryIO
) -> dict[str, Any]:
    """A reading, or why there is none."""
    given = {
        word: [tuple(phones) for phones in ways]
        for word, ways in question.get("pronunciations", {}).items()
    }

    def progress(done: float, of: float) -> None:
        tell(answers, {"done": done, "of": of})

    try:
        reading = read(recogniser, samples, question["text"], given, progress)
    except Refusal as refusal:
        return {"refusal": str(refusal)}
    return {"reading": reading.model_dump(mode="json")}


def tell(answers: BinaryIO, what: dict[str, Any]) -> None:
    """One line of JSON."""
    answers.write(json.dumps(what).encode() + b"\n")
    answers.flush()


if __name__ == "__main__":
    serve(sys.stdin.buffer, sys.stdout.buffer)
