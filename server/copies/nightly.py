"""Copies of productions that are kept by themselves: one a night, and of each as many as are wanted."""

import fcntl
import os
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import IO

from django.conf import settings
from django.db.models import Max
from django.utils import timezone

from accounts.models import Production
from elastic_core.formats.zips import file_name as plain_name

from .form import ENDING
from .taking import take

_NAMED = "%Y-%m-%d %H%M%S"
_NEVER = datetime.min.replace(tzinfo=UTC)


def file_name(production: Production) -> str:
    """What a production's file is called: two of one name are told apart."""
    plain = plain_name(production.name, "Production")
    return f"{plain} {production.pk.hex[:8]}{ENDING}"


def keep(production: Production, out: Path) -> Path:
    """Write a production's file: whole, or not at all."""
    out.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=out.parent, prefix=".", suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file:
            take(production, file)
        Path(name).replace(out)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
    return out


def keep_all(folder: Path, most: int, now: datetime | None = None) -> list[Path]:
    """Tonight's copies, in a folder for each production; of what has not changed since the last there is none.
    The oldest go, so that `most` stay."""
    moment = now or timezone.now()
    made = []
    for production in Production.objects.order_by("created"):
        own = folder / file_name(production).removesuffix(ENDING)
        there = sorted(own.glob(f"*{ENDING}"))
        if not there or _changed(production) > _when(there[-1]):
            made.append(keep(production, own / f"{moment:{_NAMED}}{ENDING}"))
            there.append(made[-1])
        for old in there[:-most]:
            old.unlink()
    return made


def tonight() -> None:
    """Tonight's copies, where they are wanted and not made yet."""
    if not settings.COPIES_FOLDER:
        return
    folder, now = Path(settings.COPIES_FOLDER), timezone.now()
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / ".last").open("a+", encoding="utf-8") as last:
        try:
            # Another worker that shares the folder may be at it.
            fcntl.flock(last, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return
        if not due(_moment(last), settings.COPIES_HOUR, now):
            return
        keep_all(folder, settings.COPIES_KEPT, now)
        last.truncate(0)
        last.write(now.isoformat())


def due(last: datetime, hour: int, now: datetime) -> bool:
    """Whether tonight's copies are still to be made: once after the hour, however late anybody asks."""
    night = now.replace(hour=hour, minute=0, second=0, microsecond=0)
    return last < (night if now >= night else night - timedelta(days=1))


def _moment(last: IO[str]) -> datetime:
    last.seek(0)
    try:
        return datetime.fromisoformat(last.read().strip())
    except ValueError:
        return _NEVER


def _when(path: Path) -> datetime:
    """When a copy was begun, by its name."""
    try:
        return datetime.strptime(f"{path.name.removesuffix(ENDING)} +0000", f"{_NAMED} %z")
    except ValueError:
        return _NEVER


def _changed(production: Production) -> datetime:
    """When anything was last made in a production."""
    moments: list[datetime | None] = [
        production.created,
        production.documents.aggregate(at=Max("changed"))["at"],
        production.files.aggregate(at=Max("created"))["at"],
        production.prints.aggregate(at=Max("created"))["at"],
    ]
    return max(moment for moment in moments if moment is not None)
