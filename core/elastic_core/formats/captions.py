"""What is said in a sound, for other tools: as WebVTT (W3C, 2019), and as plain labels."""

from collections.abc import Iterator

from ..voice.reading import Reading, SpokenWord

# What one reads in a glance; and a breath between two captions.
_MOST_LETTERS, _BREATH_SECONDS = 42, 0.35
_LINE_END = "\n"


def vtt_of(reading: Reading, speaker: str = "") -> str:
    """Captions of a few words each, cut where one breathes; words that are not heard are left out."""
    voice = f"<v {_escaped(speaker)}>" if speaker else ""
    cues = [
        f"{_written(words[0].start)} --> {_written(words[-1].end)}{_LINE_END}"
        f"{voice}{_escaped(' '.join(word.word for word in words))}{_LINE_END}"
        for words in _captions(reading)
    ]
    return _LINE_END.join([f"WEBVTT{_LINE_END}", *cues])


def labels_of(reading: Reading) -> str:
    """A line a word: when it starts and ends in seconds, and itself, with tabs between."""
    return "".join(
        f"{word.start:.6f}\t{word.end:.6f}\t{word.word}{_LINE_END}"
        for word in reading.words
        if word.fits
    )


def _captions(reading: Reading) -> Iterator[list[SpokenWord]]:
    said: list[SpokenWord] = []
    for word in reading.words:
        if not word.fits:
            continue
        letters = sum(len(one.word) + 1 for one in said) + len(word.word)
        if said and (word.start - said[-1].end > _BREATH_SECONDS or letters > _MOST_LETTERS):
            yield said
            said = []
        said.append(word)
    if said:
        yield said


def _written(seconds: float) -> str:
    thousandths = round(seconds * 1000)
    minutes, rest = divmod(thousandths, 60_000)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02}:{minutes:02}:{rest // 1000:02}.{rest % 1000:03}"


def _escaped(text: str) -> str:
    """What means something else in a caption; an arrow and a line's end would end it."""
    plain = " ".join(text.split()).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return plain
