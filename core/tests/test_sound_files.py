"""Sound files of six forms, told apart by what they hold."""

import io

import numpy as np
import pytest
import soundfile

from elastic_core.errors import Refusal
from elastic_core.formats.sound_file import name_of_sound, read_flac, read_sound, written_flac
from elastic_core.sound.document import HOUSE_RATE
from elastic_core.sound.peaks import SAMPLES_A_PEAK, peaks_of

from .sounds import FORMS, bursts, centres, file_of, pitch_hz


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("rate_hz", [22_050, 44_100, 48_000])
def test_each_form_is_read_at_the_house_rate_and_in_its_place(form: str, rate_hz: int) -> None:
    read = read_sound(file_of(bursts(2.0, rate_hz, 2), form, rate_hz), f"7 bells.{form}")
    assert (read.form, read.rate_hz, read.channels) == (form, rate_hz, 2)
    # A packet of a lossy form may run out after the end.
    assert len(read.samples) == pytest.approx(2 * HOUSE_RATE, abs=0 if form != "M4A" else 3_000)
    assert centres(read.samples) == pytest.approx([0.05, 0.55, 1.05, 1.55], abs=0.003)
    assert pitch_hz(read.samples) == pytest.approx(300, abs=1)


def test_what_has_no_loss_is_read_to_the_sample() -> None:
    whole = bursts(1.5, channels=2)
    for form in ("WAV", "AIFF", "FLAC"):
        # A step of 16 bits.
        assert np.abs(read_sound(file_of(whole, form), "a").samples - whole).max() <= 1 / 32_767
    assert np.abs(read_flac(written_flac(whole, HOUSE_RATE, fine=True)) - whole).max() < 1e-7


def test_a_name_says_nothing_and_may_begin_with_a_digit() -> None:
    data = file_of(bursts(0.5), "FLAC")
    assert read_sound(data, "01 灯台.txt").form == "FLAC"
    assert name_of_sound("01 灯台.wav") == "01 灯台"
    assert name_of_sound("quay/3.take.two.aiff") == "3.take.two"
    assert name_of_sound(" .wav") == "Sound"
    assert len(name_of_sound("a" * 300 + ".wav")) == 120


def test_more_than_two_channels_are_heard_as_one() -> None:
    three = np.concatenate([bursts(0.5), bursts(0.5), np.zeros((24_000, 1))], axis=1)
    read = read_sound(file_of(three.astype(np.float32), "WAV"), "three.wav")
    assert read.channels == 3
    assert read.samples.shape == (24_000, 1)
    assert read.samples.max() == pytest.approx(0.4 * 2 / 3, abs=1e-3)


WAVE = file_of(bursts(0.5), "WAV")


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no sound that can be read"),
        (b"HIERARCHY\nROOT hips", "bring a WAV, AIFF, FLAC, OGG, MP3 or M4A file"),
        (b"#EXTM3U\nhttp://elsewhere/a.ts", "no sound that can be read"),
        (WAVE[:20], "no whole WAV file"),
        (file_of(bursts(0.5), "FLAC")[:400] + b"\0" * 900, "FLAC"),
        (file_of(bursts(0.5), "M4A")[:300], "no whole M4A file"),
        (b"ID3" + b"\0" * 4000, "no whole MP3 file"),
        (b"OggS" + b"\0" * 400, "no whole OGG file"),
        (WAVE[:40] + b"\0\0\0\0", "holds no sound"),
    ],
)
def test_what_cannot_be_read_is_refused_in_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(Refusal, match=says) as refusal:
        read_sound(data, "take 9.wav")
    assert "take 9.wav" in str(refusal.value)
    assert str(refusal.value).endswith(".")


def test_numbers_that_are_no_sound_and_hours_of_it_are_refused() -> None:
    out = io.BytesIO()
    broken = bursts(0.1)
    broken[100] = np.nan
    soundfile.write(out, broken, HOUSE_RATE, format="WAV", subtype="FLOAT")
    with pytest.raises(Refusal, match="numbers that are no sound"):
        read_sound(out.getvalue(), "a.wav")
    with pytest.raises(Refusal, match="longer than 10 minutes"):
        read_sound(file_of(np.zeros((4_001 * 601, 1), dtype=np.float32), "FLAC", 4_000), "a.flac")


def test_a_sound_is_drawn_by_how_far_it_swings() -> None:
    peaks = peaks_of(bursts(1.0, channels=2))
    assert peaks.shape == (-(-HOUSE_RATE // SAMPLES_A_PEAK), 2)
    # 0.4 of 127 either way where there is a tone, and nothing between.
    assert (peaks[5] == [128 - 51, 128 + 51]).all()
    assert (peaks[60] == 128).all()
    left_only = bursts(0.1, channels=2)
    left_only[:, 1] = 0
    assert (peaks_of(left_only)[5] == peaks[5]).all()
    assert (peaks_of(np.full((3, 1), 7.0, dtype=np.float32)) == 255).all()
