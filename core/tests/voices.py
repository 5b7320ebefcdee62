"""Made-up readings for tests of exposing: phones one after another, with pauses, at any speed."""

from hypothesis import strategies as st

from elastic_core.voice.phones import PHONES, VOWELS
from elastic_core.voice.reading import Reading, SpokenPhone, SpokenWord


def reading_of(
    phones: list[tuple[str, float, float]], seconds: float | None = None, *, stressed: str = ""
) -> Reading:
    """A reading of one word: phone, start and end in seconds. Vowels in `stressed` bear a stress."""
    spoken = tuple(
        SpokenPhone(phone=phone, start=start, end=end, stressed=phone in stressed.split())
        for phone, start, end in phones
    )
    words = (
        (SpokenWord(word="line", start=spoken[0].start, end=spoken[-1].end, phones=spoken),)
        if spoken
        else ()
    )
    return Reading(seconds=seconds or (phones[-1][2] + 0.3), words=words)


@st.composite
def readings(draw: st.DrawFn, most: int = 40) -> Reading:
    """Any run of phones: from a tenth of a frame to half a second each, with and without pauses."""
    count = draw(st.integers(1, most))
    names = draw(st.lists(st.sampled_from(sorted(PHONES)), min_size=count, max_size=count))
    lengths = draw(st.lists(st.integers(4, 500), min_size=count, max_size=count))
    pauses = draw(
        st.lists(st.sampled_from([0, 0, 0, 0, 30, 150, 700]), min_size=count, max_size=count)
    )
    stresses = draw(st.lists(st.booleans(), min_size=count, max_size=count))
    at, phones = draw(st.integers(0, 400)), []
    for name, length, pause, stress in zip(names, lengths, pauses, stresses, strict=True):
        at += pause
        phones.append(
            SpokenPhone(
                phone=name,
                start=at / 1000,
                end=(at + length) / 1000,
                stressed=stress and name in VOWELS,
            )
        )
        at += length
    word = SpokenWord(word="line", start=phones[0].start, end=phones[-1].end, phones=tuple(phones))
    return Reading(seconds=(at + draw(st.integers(0, 900))) / 1000, words=(word,))


def moved(reading: Reading, seconds: float) -> Reading:
    """The same line, said so much later."""

    def later(phone: SpokenPhone) -> SpokenPhone:
        return phone.model_copy(update={"start": phone.start + seconds, "end": phone.end + seconds})

    words = tuple(
        word.model_copy(
            update={
                "start": word.start + seconds,
                "end": word.end + seconds,
                "phones": tuple(map(later, word.phones)),
            }
        )
        for word in reading.words
    )
    return reading.model_copy(update={"seconds": reading.seconds + seconds, "words": words})
