"""What the voice room shows of a line: its reading, its run of mouths, and what both have to say."""

from ..frozen import Shown
from .accents import accents_of
from .blinks import Blink, eyes
from .chart import ChartMouths, Mouth
from .exposing import Exposed, MouthRules, MouthRun, frames_of_line
from .line import Line, Note
from .reading import Reading
from .said import SaidHere, phones_on, words_on


class MouthReadOuts(Shown):
    """What came of the rules, in numbers."""

    mouths: int
    closures_wanted: int
    closures_shown: int
    by_hand: int
    joined: int
    changes_a_second: float
    shortest_frames: int
    stood_in: dict[str, str]


class AccentShown(Shown):
    """A syllable that the body can hit."""

    seconds: float
    word: str


class LineSheet(Shown):
    """A line with all that its room shows; its mouths without their drawings, which its chart has. `is_read`
    says whether the reading is of the text that stands."""

    name: str
    sound: str
    speaker: str
    language: str
    text: str
    is_read: bool
    chart: str
    mouths: tuple[Mouth, ...]
    rules: MouthRules
    said: dict[str, str]
    reading: Reading | None
    seconds: float
    frames: int
    fps: float
    run: tuple[Exposed, ...]
    notes: tuple[Note, ...]
    words_on: tuple[SaidHere, ...]
    phones_on: tuple[SaidHere, ...]
    eyes: tuple[Exposed, ...]
    blinks: tuple[Blink, ...]
    blink_seed: int
    accents: tuple[AccentShown, ...]
    told: MouthReadOuts


def sheet_of(line: Line, chart: ChartMouths, run: MouthRun, seconds: float) -> LineSheet:
    """A line as its room shows it."""
    reading = line.reading or Reading(seconds=seconds)
    return LineSheet(
        name=line.name,
        sound=line.sound,
        speaker=line.speaker,
        language=line.language,
        text=line.text,
        is_read=line.is_read,
        chart=line.chart,
        mouths=tuple(mouth.model_copy(update={"strokes": ()}) for mouth in chart.mouths),
        rules=line.rules,
        said={word: " ".join(phones) for word, phones in line.said.items()},
        reading=line.reading,
        seconds=seconds,
        frames=frames_of_line(reading, line.rate),
        fps=float(line.rate),
        run=run.exposures,
        notes=line.notes,
        words_on=words_on(reading, float(line.rate), run.frames),
        phones_on=phones_on(reading, float(line.rate), run.frames),
        eyes=eyes(line.blinks, run.frames),
        blinks=line.blinks,
        blink_seed=line.blink_seed,
        accents=tuple(
            AccentShown(seconds=one.seconds, word=one.word) for one in accents_of(reading)
        ),
        told=MouthReadOuts(
            mouths=len(run.exposures),
            closures_wanted=run.closures_wanted,
            closures_shown=run.closures_shown,
            by_hand=sum(one.reason == "by hand" for one in run.exposures),
            joined=run.joined,
            changes_a_second=run.changes_a_second,
            shortest_frames=run.shortest_frames,
            stood_in=run.stood_in,
        ),
    )
