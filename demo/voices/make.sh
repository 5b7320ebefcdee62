#!/usr/bin/env bash
# How the demo's lines were spoken, once: by the free synthesizer in Debian's package flite, and put into OGG files.
# `hours read` made the readings beside them. Nothing of this runs when the demo is loaded.
set -euo pipefail
cd "$(dirname "$0")"
say() { # FILE STRETCH GAIN TEXT
  flite -voice rms --setf duration_stretch="$2" -t "$4" -o /tmp/said.wav > /dev/null
  ../../.venv/bin/python - "$1" "$3" << 'END'
import sys
import soundfile
samples, rate = soundfile.read("/tmp/said.wav")
loudest = abs(samples).max()
soundfile.write(f"{sys.argv[1]}.ogg", samples * (float(sys.argv[2]) / loudest), rate, format="OGG", subtype="VORBIS", compression_level=0.7)
END
  printf '%s' "$4" > "$1.txt"
  ../../.venv/bin/hours read "$1.ogg" --text "$1.txt" --json > "$1.json"
}
say "Odo, line 1" 1.12 0.45 "Three lamps lit, and the tide still coming in. Mind the rope, my boy: it burns before you feel it."
say "Odo calls the gull" 1.0 0.95 "Come down from the lamp, you thieving bird! Bring back my brush!"
