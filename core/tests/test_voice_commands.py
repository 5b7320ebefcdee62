"""`hours read` and `hours mouths` on files, as a pipeline calls them."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import soundfile
from scipy.signal import resample_poly
from typer.testing import CliRunner, Result

from elastic_core.command_line import app

from .test_reading import LINES, TEXTS, TOLD
from .voices import reading_of

SPOKEN = LINES / TOLD[4]["file"]


def hours(*words: object) -> Result:
    return CliRunner().invoke(app, [str(word) for word in words])


def facts(*words: object) -> dict[str, Any]:
    result = hours(*words, "--json")
    assert result.exit_code == 0, result.output
    told: dict[str, Any] = json.loads(result.stdout)
    return told


@pytest.fixture
def line(tmp_path: Path) -> Path:
    """A reading as a file: an open vowel, closed lips, another one."""
    reading = reading_of([("AA", 0.5, 0.9), ("M", 0.9, 0.94), ("IY", 0.94, 1.3)], 2.0)
    path = tmp_path / "line.json"
    path.write_text(reading.model_dump_json(), encoding="utf-8")
    return path


def test_a_sound_and_its_text_are_read_and_exposed(tmp_path: Path) -> None:
    told = facts("read", SPOKEN, "--say", TEXTS[4])
    assert [word["word"] for word in told["words"]] == TEXTS[4].rstrip(".").split()
    assert all(word["fits"] and 0 <= word["confidence"] <= 1 for word in told["words"])
    phones = [phone for word in told["words"] for phone in word["phones"]]
    assert set(phones[0]) == {"phone", "start", "end", "stressed", "loudness_db"}
    assert (told["not_heard"], told["extra"]) == ([], [])
    assert told["seconds"] == pytest.approx(TOLD[4]["phones"][-1]["end"], abs=0.01)
    reading, text = tmp_path / "reading.json", tmp_path / "text.txt"
    reading.write_text(json.dumps(told), encoding="utf-8")
    run = facts("mouths", reading, "--on", 2)
    assert run["closures"]["wanted"] == run["closures"]["shown"] == 2
    assert all(one["frame"] % 2 == 0 for one in run["run"])
    text.write_text(TEXTS[4], encoding="utf-8")
    listed = hours("read", SPOKEN, "--text", text)
    assert listed.exit_code == 0
    assert len(listed.stdout.splitlines()) == len(told["words"])


@pytest.mark.parametrize(
    ("rate_hz", "channels", "subtype"), [(96_000, 6, "PCM_24"), (8_000, 1, "PCM_U8")]
)
def test_a_sound_of_any_make_is_read(
    tmp_path: Path, rate_hz: int, channels: int, subtype: str
) -> None:
    samples, of_hz = soundfile.read(SPOKEN)
    one = resample_poly(samples, rate_hz, of_hz)
    made = tmp_path / "made.wav"
    soundfile.write(made, np.stack([one * 0.5] * channels, axis=1), rate_hz, subtype=subtype)
    told = facts("read", made, "--say", TEXTS[4])
    as_it_came = facts("read", SPOKEN, "--say", TEXTS[4])
    assert len(told["not_heard"]) <= (0 if rate_hz > 8_000 else 1)
    heard = [word for word in told["words"] if word["fits"]]
    same = {word["word"]: word["start"] for word in as_it_came["words"]}
    off = [abs(word["start"] - same[word["word"]]) for word in heard]
    assert np.median(off) < 0.03
    assert told["seconds"] == pytest.approx(as_it_came["seconds"], abs=0.01)


def test_an_hour_and_a_text_of_ten_thousand_words_are_answered(tmp_path: Path) -> None:
    hour = tmp_path / "hour.wav"
    with soundfile.SoundFile(hour, "w", 8_000, 1, "PCM_U8") as file:
        for _ in range(60):
            file.write(np.zeros(60 * 8_000))
    result = hours("read", hour, "--say", "lamp")
    assert result.exit_code == 1
    assert "10 minutes" in result.stderr
    many = hours("read", SPOKEN, "--say", "lamp " * 10_000)
    assert (many.exit_code, many.stderr) == (1, "Nothing of this text is heard in the sound.\n")


def test_without_a_text_a_sound_is_read_roughly() -> None:
    told = facts("read", SPOKEN)
    assert told["words"] == []
    assert {one["opening"] for one in told["rough"]} >= {"open", "half", "closed"}
    assert told["rough"] == facts("read", SPOKEN, "--rough")["rough"]
    assert "open" in hours("read", SPOKEN).stdout


def test_bad_input_ends_with_one_plain_line(tmp_path: Path) -> None:
    text = tmp_path / "text.txt"
    text.write_bytes(b"\xff\xfe\xff")
    silence = tmp_path / "silence.wav"
    soundfile.write(silence, np.zeros(8_000), 8_000, subtype="PCM_U8")
    broken = tmp_path / "broken.ogg"
    broken.write_bytes(SPOKEN.read_bytes()[:200])
    for words, says in (
        (("read", SPOKEN, "--text", text), "no text in UTF-8"),
        (("read", SPOKEN, "--say", "lamp", "--rough"), "one of --text, --say and --rough"),
        (("read", SPOKEN, "--say", "…"), "no word in it"),
        (("read", SPOKEN, "--say", TEXTS[2]), "Nothing of this text is heard"),
        (("read", silence, "--say", "lamp"), "Nothing is said"),
        (("read", broken, "--rough"), "cannot be read"),
        (("mouths", text), "not a reading file"),
    ):
        result = hours(*words)
        assert result.exit_code == 1, words
        assert says in result.stderr
        assert len(result.stderr.strip().splitlines()) == 1


def test_rules_and_charts_are_options(line: Path, tmp_path: Path) -> None:
    ones = facts("mouths", line, "--lead", 0)["run"]
    assert [(one["frame"], one["mouth"]) for one in ones][1] == (12, "ai")
    assert sum(one["length"] for one in ones) == 48
    assert facts("mouths", line, "--fps", 12)["run"][-1]["frame"] < 24
    chart = tmp_path / "beak.json"
    mouths = [
        {"key": "rest", "drawing": 1, "name": "Shut", "phones": ["M", "B", "P"]},
        {"key": "open", "drawing": 3, "name": "Open", "phones": ["AA"]},
    ]
    chart.write_text(json.dumps({"name": "Beak", "mouths": mouths}), encoding="utf-8")
    beak = facts("mouths", line, "--chart", chart)
    assert {one["drawing"] for one in beak["run"]} == {1, 3}
    assert beak["stood_in"] == {"IY": "open"}
    listed = hours("mouths", line, "--chart", chart)
    assert "IY: the chart has no mouth for it; open stands in." in listed.stderr
