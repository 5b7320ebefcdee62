"""`hours`: the core's commands on files, and the few that need the database."""

import os
import re
import sys
from pathlib import Path
from typing import Annotated

import typer

from elastic_core.command_base import plainly
from elastic_core.command_line import app as app
from elastic_core.errors import Refusal

ENVIRONMENT = Path(__file__).resolve().parents[2] / ".run" / "env"

_SETTINGS = {"DATABASE_URL": r"(postgresql://[^}\s]+)", "HOURS_SECRET": r"HOURS_SECRET=(\S+)"}


@app.command()
@plainly
def adduser(
    account: Annotated[str, typer.Argument(help="The name to sign in with.")],
    name: Annotated[str, typer.Option(help="First and last name.")] = "",
    production: Annotated[str, typer.Option(help="A production to let them into.")] = "",
    role: Annotated[str, typer.Option(help="owner, editor or viewer.")] = "editor",
    password_stdin: Annotated[
        bool, typer.Option("--password-stdin", help="Read the password from standard input.")
    ] = False,
) -> None:
    """Make an account. The password is asked for, and typed twice."""
    with_database()
    from django.contrib.auth.models import User
    from django.core.exceptions import ValidationError
    from django.db import transaction

    from accounts import passwords, people
    from accounts.models import Membership, Production

    if role not in Membership.Role.values:
        raise Refusal("A role is owner, editor or viewer.")
    password = _password(from_input=password_stdin)
    first, _, last = name.strip().partition(" ")
    user = User(username=account.strip(), first_name=first, last_name=last.strip())
    try:
        user.full_clean(exclude=["password"])
    except ValidationError as problem:
        raise Refusal(" ".join(problem.messages)) from None
    passwords.give(user, password)
    with transaction.atomic():
        user.save()
        if production:
            found = Production.objects.filter(name=production).first()
            if found is None:
                raise Refusal(f"There is no production called “{production}”.")
            people.invite(found, user.username, role)
    where = f" They are {role} of {production}." if production else ""
    typer.echo(f"{user.username} can sign in now.{where}")


@app.command()
@plainly
def password(
    account: Annotated[str, typer.Argument(help="The name to sign in with.")],
    password_stdin: Annotated[
        bool, typer.Option("--password-stdin", help="Read the password from standard input.")
    ] = False,
) -> None:
    """Another password for an account, or its first one. It is asked for, and typed twice."""
    with_database()
    from django.contrib.auth.models import User

    from accounts import passwords

    user = User.objects.filter(username=account.strip()).first()
    if user is None:
        raise Refusal(f"There is no account called “{account.strip()}”.")
    passwords.give(user, _password(from_input=password_stdin))
    user.save(update_fields=["password"])
    typer.echo(f"{user.username} can sign in with it now.")


def _password(*, from_input: bool) -> str:
    if from_input:
        return sys.stdin.readline().rstrip("\n")
    return str(typer.prompt("Password", hide_input=True, confirmation_prompt=True))


def with_database() -> None:
    """Django, set up with the database that bin/setup made unless another is named."""
    if "DATABASE_URL" not in os.environ:
        if not ENVIRONMENT.exists():
            raise Refusal("There is no database yet. Run bin/start once, or set DATABASE_URL.")
        written = ENVIRONMENT.read_text(encoding="utf-8")
        for name, pattern in _SETTINGS.items():
            if match := re.search(pattern, written):
                os.environ.setdefault(name, match[1])
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    import django

    django.setup()
