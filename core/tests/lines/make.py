"""How the spoken lines of the tests were made, once, by the free synthesizer in Debian's package flite: it
says where each of its phones ends, so that what is read can be measured. Nothing of this runs with the
tests."""

import json
import subprocess
from pathlib import Path

import soundfile

HERE = Path(__file__).parent
VOICES = ("slt", "rms", "awb")
LINES = (
    "Bank the stove before the rain comes in.",
    "Seven sailors slept beneath the broken pier.",
    "Please pick up the broom by the back door.",
    "I have never seen a moon as big as that.",
    "Most of the fish are already in the market.",
    "Wipe the mirror, polish the brass, and wake me at five.",
    "Old Peter mended every net on this beach.",
    "Give me your hand, the boards are slippery.",
    "Why would anybody steal a paintbrush from a bucket?",
    "Pull! The tower bell must be heard beyond the bay.",
    "Nobody had told them where the harbour master lived.",
    "The wet stones shone like coins under the lamp.",
    "Keep your voice down, the old woman is asleep.",
    "We lost two anchors and half of the net.",
    "Is that a whale, or only a piece of driftwood?",
    "My grandmother baked bread for the whole crew.",
    "The ferry turns around at the end of the pier.",
    "If you meet the painter, give him back his brush.",
    "Bells, drums, and pipes were heard all night.",
    "They buried the treasure below a crooked palm.",
    "Should I wait here until the tide comes back?",
    "A promise is a promise, even on a Monday.",
)

if __name__ == "__main__":
    told = []
    for number, text in enumerate(LINES):
        voice = VOICES[number % len(VOICES)]
        wav, name = HERE / "said.wav", f"{number:02}_{voice}.ogg"
        said = subprocess.run(
            ["flite", "-voice", voice, "-psdur", "-t", text, "-o", wav],
            check=True, capture_output=True, text=True,
        ).stdout  # fmt: skip
        samples, rate = soundfile.read(wav)
        soundfile.write(
            HERE / name, samples, rate, format="OGG", subtype="VORBIS", compression_level=0.7
        )
        wav.unlink()
        ends = [one.rsplit(":", 1) for one in said.split()]
        phones = [{"phone": phone.upper(), "end": float(end)} for phone, end in ends]
        told.append({"file": name, "text": text, "phones": phones})
    (HERE / "lines.json").write_text(json.dumps(told) + "\n", encoding="utf-8")
