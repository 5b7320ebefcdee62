"""Load the demo production and its account into a database that has none."""

from collections.abc import Callable
from functools import partial
from typing import Any
from uuid import UUID

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand
from django.db import transaction

from accounts.models import Membership, Production
from demo import paper_odo
from demo.drawn import DRAWN, pictures_of, run_of, the_flame_holds, with_tips
from demo.lamp import lamp_is_lit
from demo.mouths import gull_beak, odo_eyes, odo_front, odo_three_quarter
from demo.paper_gull import PIECES, calls, heads, paper_flap, paper_gull, piece
from demo.production import FIGURES, PRODUCTION, demo_clips, figure, quay_at_dusk
from demo.sounds import SOUNDS, sound_file
from demo.spoken import SPOKEN, spoken_line, three_lamps_lit, voice_file
from demo.takes import TAKES, take_file
from documents import editing
from documents.models import Document
from documents.opening import document_of
from elastic_core.drawings.run import DrawingRun
from library import cut_outs, drawings, files, lines, pictures, shelf, sounds
from library.drawings import DRAWINGS, BringInDrawings, DrawingsCame, PictureCame
from library.taking_in import TakeIn, take_in_now
from scenes.kinds import SCENE

ACCOUNT, PASSWORD = "mika", "lamplight"


class Command(BaseCommand):
    help = "Load the demo production if the database has no production yet."

    def handle(self, *args: Any, **options: Any) -> None:
        if Production.objects.exists():
            self.stdout.write("There are productions already; the demo is not loaded again.")
            return
        load_demo()
        self.stdout.write(f"Loaded “{PRODUCTION}”; sign in as {ACCOUNT}, password {PASSWORD}.")


@transaction.atomic
def load_demo() -> Document:
    """Everything of the demo; returns its first scene."""
    user = User.objects.create_user(
        ACCOUNT, password=PASSWORD, first_name="Mika", last_name="Kallas"
    )
    production = Production.objects.create(name=PRODUCTION)
    Membership.objects.create(production=production, user=user, role=Membership.Role.OWNER)
    figures = {name: figure(name) for name in FIGURES}
    kept = {
        name: str(shelf.add_figure(production, made, user).pk) for name, made in figures.items()
    }
    pieces = {name: pictures.store(production, f"{name}.svg", piece(name)) for name in PIECES}
    came = bring_in_drawn(production, "Gull heads", heads(), calls, user)
    gull = paper_gull(pieces, document_of(came.drawings), str(came.drawings.pk))
    kept["paper gull"] = str(shelf.add_figure(production, gull, user).pk)
    made = [*demo_clips(figures, kept), paper_flap(gull, kept["paper gull"])]
    clips = {clip.clip.name: str(shelf.add_clip(production, clip, user).pk) for clip in made}
    heard = {
        name: str(sounds.bring_in(production, f"{name}.flac", sound_file(name), user).pk)
        for name in SOUNDS
    }
    charts = [
        str(lines.new_chart(production, make(kept[whose]), user).pk)
        for make, whose in (
            (odo_front, "odo"),
            (odo_three_quarter, "odo"),
            (odo_eyes, "odo"),
            (gull_beak, "gull"),
        )
    ]
    spoken: dict[str, str] = {}
    for name in SPOKEN:
        heard[name] = str(sounds.bring_in(production, f"{name}.ogg", voice_file(name), user).pk)
        line = spoken_line(name, heard[name], charts[0])
        spoken[name] = str(lines.new_line(production, line, user).pk)
    for name in TAKES:
        stored = files.store(production, f"{name}.bvh", take_file(name))
        wish = TakeIn(file=stored.sha256, name=name, onto=UUID(kept["odo"]))
        take_in_now(production, wish, user)
    sizes = (pictures.SMALL_PIXELS, pictures.SHOWN_PIXELS)
    layers = {
        name: pictures.keep(production, pictures.prepared(name, sheet, sizes))
        for name, sheet in paper_odo.sheets()
    }
    layered = editing.create(
        DRAWINGS, production, paper_odo.layered(layers), "Bring in Paper Odo", user
    )
    cut_out = cut_outs.new_cut_out(production, layered.pk, None, user)
    editing.saved(cut_out, paper_odo.stood(document_of(cut_out)), "Change how high it stands", user)
    drawn, runs = {}, {"Gull heads": str(came.run.pk) if came.run else ""}
    for name in DRAWN:
        made_of = bring_in_drawn(production, name, pictures_of(name), partial(run_of, name), user)
        drawn[name], runs[name] = (
            str(made_of.drawings.pk),
            str(made_of.run.pk if made_of.run else ""),
        )
        if name == "Flame":
            flames = with_tips(document_of(made_of.drawings))
            editing.saved(made_of.drawings, flames, "Mark the tips", user)
    scenes = (
        quay_at_dusk(kept, clips),
        lamp_is_lit(kept, clips, heard),
        three_lamps_lit(kept, clips, heard, spoken, tuple(charts[:2]), charts[2]),
        the_flame_holds(kept, clips, drawn, runs),
    )
    quay, *_ = (
        editing.create(SCENE, production, scene, f"New scene {scene.name}", user)
        for scene in scenes
    )
    return quay


def bring_in_drawn(
    production: Production,
    name: str,
    sheets: list[tuple[str, bytes]],
    run_of_them: Callable[[str], DrawingRun],
    user: User,
) -> DrawingsCame:
    """Drawings of ours as a set, and their run as it is written."""
    kept = [
        PictureCame(file=files.store(production, sheet, data).sha256, name=sheet)
        for sheet, data in sheets
    ]
    came = drawings.bring_in_now(production, BringInDrawings(files=kept, name=name), user)
    if came.run is not None:
        edited = run_of_them(str(came.drawings.pk))
        editing.saved(came.run, edited, f"Write {edited.name}", user)
    return came
