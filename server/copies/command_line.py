"""`hours backup` and `restore`: productions as files, and in again; the entry point of `hours`."""

from pathlib import Path
from typing import Annotated

import typer

from accounts.command_line import app, with_database
from elastic_core.command_base import plainly
from elastic_core.errors import Refusal


@app.command()
@plainly
def backup(
    out: Annotated[Path, typer.Argument(metavar="OUT", help="FILE.zip, or a FOLDER for all.")],
    production: Annotated[str, typer.Option(help="Which one, where there are more.")] = "",
) -> None:
    """A production as one file, with everything in it; or each of them, in a folder."""
    with_database()
    from accounts.models import Production

    from .nightly import file_name, keep

    if out.suffix.lower() != ".zip":
        out.mkdir(parents=True, exist_ok=True)
        for one in Production.objects.order_by("created"):
            _said(keep(one, out / file_name(one)))
        return
    named = Production.objects.filter(name=production) if production else Production.objects.all()
    if named.count() != 1:
        names = ", ".join(f"“{one.name}”" for one in Production.objects.order_by("name")) or "none"
        raise Refusal(f"Say which production with --production, or name a folder. Here: {names}.")
    _said(keep(named.get(), out))


@app.command()
@plainly
def restore(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="What `hours backup` wrote.")],
    name: Annotated[
        str, typer.Option("--as", help="A name of its own: a copy beside one that may be here.")
    ] = "",
) -> None:
    """Bring a production in from its file, with its people, its history and its prints: all, or nothing."""
    if not file.is_file():
        raise Refusal(f"There is no file {file}.")
    with_database()
    from .bringing import bring

    brought = bring(file, name.strip()[:120] or None)
    here = brought.production
    count = here.documents.count()
    typer.echo(f"{here.name} is here: {count} documents, {here.files.count()} files.")
    if brought.new_accounts:
        names = ", ".join(brought.new_accounts)
        typer.echo(f"New accounts, which have no password yet (hours password): {names}.")


def _said(out: Path) -> None:
    typer.echo(f"{out}: {out.stat().st_size / 1e6:.1f} MB.")


def run() -> None:
    """The entry point."""
    app(prog_name="hours")
