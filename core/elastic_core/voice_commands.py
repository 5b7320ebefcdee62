"""`hours read`, `mouths`, `sheet`: a line's sound and text, and a scene's exposure sheet, on files."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from .clock import parse_rate
from .command_base import plainly
from .errors import Refusal
from .formats.scene_file import read_own_file
from .formats.scene_zip import scene_without_sounds
from .formats.sound_file import read_sound
from .listening.asking import listener, speech_of
from .sheet.as_csv import csv_of
from .sheet.as_pdf import pdf_of
from .sheet.of_scene import sheet_of_scene
from .sound.document import HOUSE_RATE
from .voice.chart import MouthChart, usual_mouths
from .voice.exposing import MouthRules, MouthRun, exposed
from .voice.reading import Reading
from .voice.rough import read_roughly
from .voice.text import MOST_CHARACTERS

JsonOption = Annotated[bool, typer.Option("--json", help="Machine-readable.")]
LARGEST_SOUND_BYTES = 256 << 20
_LARGEST_TEXT_BYTES = 4 * MOST_CHARACTERS


def add_to(app: typer.Typer) -> None:
    """Put the commands in the program."""
    app.command("read")(read_line)
    app.command("mouths")(mouths)
    app.command("sheet")(sheet)


@plainly
def read_line(
    sound: Annotated[Path, typer.Argument(metavar="SOUND")],
    text: Annotated[Path | None, typer.Option(help="The text, as a file.")] = None,
    say: Annotated[str | None, typer.Option(help="The text itself.")] = None,
    rough: Annotated[bool, typer.Option("--rough", help="From the sound alone.")] = False,
    as_json: JsonOption = False,
) -> None:
    """Read a sound: which words and phones are said when. Without a text, how open the mouth is."""
    if sum([text is not None, say is not None, rough]) > 1:
        raise Refusal("Give one of --text, --say and --rough.")
    if sound.stat().st_size > LARGEST_SOUND_BYTES:
        raise Refusal(f"The sound is larger than {LARGEST_SOUND_BYTES >> 20} MB.")
    said = _text_of(text) if text is not None else say
    found = read_sound(sound.read_bytes(), sound.name)
    speech = speech_of(found.samples, HOUSE_RATE)
    if said is None:
        reading = read_roughly(speech)
    else:
        try:
            reading = listener().read(speech, said)
        finally:
            listener().end()
    if as_json:
        typer.echo(json.dumps(told(reading), ensure_ascii=False, allow_nan=False))
        return
    for word in reading.words:
        phones = " ".join(phone.phone for phone in word.phones) if word.fits else "not heard"
        typer.echo(f"{word.start:8.3f}  {word.end:8.3f}  {word.word:20} {phones}")
    for mouth in reading.rough:
        typer.echo(f"{mouth.start:8.3f}  {mouth.end:8.3f}  {mouth.opening}")
    for stretch in reading.extra:
        typer.echo(
            f"{stretch.start:8.3f}  {stretch.end:8.3f}  speech that the text lacks", err=True
        )


def told(reading: Reading) -> dict[str, Any]:
    """A reading as the contract has it: times to a tenth of a millisecond."""
    found: dict[str, Any] = _rounded(reading.model_dump(mode="json"))
    for word in found["words"]:
        for phone in word["phones"]:
            del phone["by_hand"]
    if not reading.rough:
        del found["rough"]
    return found


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return round(value, 4)
    if isinstance(value, dict):
        return {name: _rounded(inner) for name, inner in value.items()}
    return [_rounded(inner) for inner in value] if isinstance(value, list) else value


def _text_of(path: Path) -> str:
    if path.stat().st_size > _LARGEST_TEXT_BYTES:
        raise Refusal(f"A line's text has {MOST_CHARACTERS:,} characters at the most.")
    try:
        return path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal(f"{path.name} is no text in UTF-8.") from None


@plainly
def mouths(
    reading: Annotated[Path, typer.Argument(metavar="READING")],
    chart: Annotated[Path | None, typer.Option(help="A mouth chart; ours, without one.")] = None,
    fps: Annotated[str, typer.Option(help="Frames a second: 24, 23.976 …")] = "24",
    on: Annotated[int, typer.Option(help="1 for ones, 2 for twos.", min=1, max=4)] = 1,
    shortest: Annotated[int, typer.Option(help="In frames.", min=1, max=24)] = 2,
    lead: Annotated[int, typer.Option(help="Frames before the sound.", min=0, max=12)] = 1,
    as_json: JsonOption = False,
) -> None:
    """Expose a line that was read: one mouth on every frame of its sound."""
    line = read_own_file(Reading, reading.read_bytes(), "reading")
    used = read_own_file(MouthChart, chart.read_bytes(), "mouth chart") if chart else usual_mouths()
    rules = MouthRules(on=on, shortest=shortest, lead=lead)
    run = exposed(line, used, parse_rate(fps), rules)
    if as_json:
        typer.echo(json.dumps(_told_run(run), ensure_ascii=False, allow_nan=False))
        return
    for one in run.exposures:
        typer.echo(f"{one.frame:6}  {one.length:4}  {one.drawing:3}  {one.mouth:12} {one.reason}")
    for phone, mouth in run.stood_in.items():
        typer.echo(f"{phone}: the chart has no mouth for it; {mouth} stands in.", err=True)


@plainly
def sheet(
    scene: Annotated[Path, typer.Argument(metavar="SCENE", help="A scene file.")],
    out: Annotated[Path, typer.Option(help="FILE.csv or FILE.pdf.")],
) -> None:
    """A scene's exposure sheet: a row a frame, a column a lane."""
    form = out.suffix.lower()
    if form not in (".csv", ".pdf"):
        raise Refusal("A sheet is written as .csv or .pdf.")
    # A sheet needs no sound, only what is said in it.
    held = scene_without_sounds(scene.read_bytes())
    made = sheet_of_scene(held.scene, held.material())
    out.write_bytes(csv_of(made).encode() if form == ".csv" else pdf_of(made))


def _told_run(run: MouthRun) -> dict[str, Any]:
    return {
        "run": [one.model_dump() for one in run.exposures],
        "closures": {"wanted": run.closures_wanted, "shown": run.closures_shown},
        "joined": run.joined,
        "changes_per_second": round(run.changes_a_second, 4),
        "stood_in": run.stood_in,
    }
