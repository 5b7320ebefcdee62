"""What is said goes out as captions and labels that others read."""

import re

from elastic_core.formats.captions import labels_of, vtt_of
from elastic_core.voice.reading import Reading, SpokenWord


def word(text: str, start: float, end: float, *, fits: bool = True) -> SpokenWord:
    return SpokenWord(word=text, start=start, end=end, fits=fits)


SAID = Reading(
    seconds=600.0,
    words=(
        word("Three", 0.5, 0.8),
        word("lamps", 0.8, 1.25),
        word("are", 1.3, 1.4),
        word("never", 1.4, 1.5, fits=False),
        word("lit", 1.4, 1.7),
        # He breathes.
        word("<Tide>", 2.2, 2.6),
        word("&", 2.6, 2.7),
        word("灯", 599.25, 599.9996),
    ),
)
CUE = re.compile(r"(\d\d):(\d\d):(\d\d\.\d{3}) --> (\d\d):(\d\d):(\d\d\.\d{3})\n(.*)\n")


def cues(text: str) -> list[tuple[float, float, str]]:
    """A caption file, read by itself."""
    assert text.startswith("WEBVTT\n\n")
    found = []
    for block in text.removeprefix("WEBVTT\n\n").split("\n\n"):
        match = CUE.fullmatch(block.rstrip("\n") + "\n")
        assert match, block
        times = [float(part) for part in match.groups()[:6]]
        start, end = (3600 * h + 60 * m + s for h, m, s in (times[:3], times[3:]))
        found.append((start, end, match[7]))
    return found


def test_captions_are_cut_where_one_breathes() -> None:
    assert cues(vtt_of(SAID, "Odo")) == [
        (0.5, 1.7, "<v Odo>Three lamps are lit"),
        (2.2, 2.7, "<v Odo>&lt;Tide&gt; &amp;"),
        (599.25, 600.0, "<v Odo>灯"),
    ]


def test_a_caption_is_read_in_a_glance() -> None:
    words = tuple(word("harbour", 0.3 * n, 0.3 * n + 0.3) for n in range(40))
    told = cues(vtt_of(Reading(seconds=20.0, words=words)))
    assert max(len(text) for _, _, text in told) <= 42
    assert sum(len(text.split()) for _, _, text in told) == 40
    # Each begins where the one before ends: nothing overlaps.
    assert all(a[1] <= b[0] + 1e-9 for a, b in zip(told, told[1:], strict=False))


def test_labels_are_a_line_a_word() -> None:
    lines = labels_of(SAID).splitlines()
    assert lines[0] == "0.500000\t0.800000\tThree"
    assert [line.split("\t")[2] for line in lines] == [
        "Three", "lamps", "are", "lit", "<Tide>", "&", "灯",
    ]  # fmt: skip


def test_of_silence_nothing_is_said() -> None:
    silent = Reading(seconds=1.0)
    assert vtt_of(silent) == "WEBVTT\n"
    assert labels_of(silent) == ""
