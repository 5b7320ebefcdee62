"""Members and their roles; accounts from the command line."""

import io
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client
from typer.testing import CliRunner

from accounts import command_line
from accounts.models import Membership

from .conftest import Demo, client_of


def url(demo: Demo, account: str = "") -> str:
    return f"/api/productions/{demo.production}/members" + (f"/{account}" if account else "")


def send(client: Client, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
    return getattr(client, method)(path, data=body, content_type="application/json")


def roles(client: Client, demo: Demo) -> dict[str, str]:
    return {row["account"]: row["role"] for row in client.get(url(demo)).json()}


def test_an_owner_invites_changes_roles_and_takes_out(demo: Demo, owner: Client) -> None:
    nele = client_of(User.objects.create_user("nele", first_name="Nele", last_name="Raud"))
    assert nele.get(demo.url).status_code == 404
    done = send(owner, "post", url(demo), {"account": " nele ", "role": "viewer"})
    assert done.json()[1] == {
        "account": "nele",
        "name": "Nele Raud",
        "role": "viewer",
        "is_you": False,
    }
    assert nele.get(demo.url).json()["may_change"] is False
    send(owner, "patch", url(demo, "nele"), {"role": "editor"})
    assert nele.get(demo.url).json()["may_change"] is True
    assert send(owner, "delete", url(demo, "nele")).status_code == 200
    assert nele.get(demo.url).status_code == 404
    assert roles(owner, demo) == {"mika": "owner"}


@pytest.mark.parametrize(
    ("method", "account", "body", "reason"),
    [
        ("post", "", {"account": "nobody"}, "There is no account called “nobody”."),
        ("post", "", {"account": "mika"}, "Mika Kallas belongs to The Last Lamp already."),
        ("patch", "nobody", {"role": "editor"}, "“nobody” does not belong to The Last Lamp."),
        ("patch", "mika", {"role": "viewer"}, "A production keeps an owner."),
        ("delete", "mika", None, "A production keeps an owner."),
    ],
)
def test_what_cannot_be_done_with_members_says_why(
    demo: Demo, owner: Client, method: str, account: str, body: Any, reason: str
) -> None:
    refused = send(owner, method, url(demo, account), body)
    assert refused.status_code == 422
    assert refused.json()["message"].startswith(reason)
    assert roles(owner, demo) == {"mika": "owner"}


def test_anyone_may_leave(demo: Demo, viewer: Client) -> None:
    assert send(viewer, "delete", url(demo, "vera")).status_code == 200
    assert viewer.get(demo.url).status_code == 404


def test_a_production_of_ones_own(demo: Demo, stranger: Client) -> None:
    made = send(stranger, "post", "/api/productions", {"name": " Fog bells "})
    assert (made.status_code, made.json()["name"], made.json()["role"]) == (
        201,
        "Fog bells",
        "owner",
    )
    path = f"/api/productions/{made.json()['id']}"
    assert stranger.get(path).json()["clips"] == []
    send(stranger, "patch", path, {"name": "Fog horns"})
    assert stranger.get(path).json()["name"] == "Fog horns"


def adduser(*words: str, password: str = "tide-table-9\n") -> Any:
    # Opened anew: what follows runs in the test's own transaction.
    return CliRunner().invoke(
        command_line.app, ["adduser", *words, "--password-stdin"], input=password
    )


def test_an_account_is_made_from_the_command_line(
    demo: Demo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sys.stdin", io.StringIO())
    done = adduser("nele", "--name", "Nele Raud", "--production", "The Last Lamp")
    assert done.output == "nele can sign in now. They are editor of The Last Lamp.\n"
    nele = User.objects.get(username="nele")
    assert (nele.get_full_name(), nele.check_password("tide-table-9")) == ("Nele Raud", True)
    assert Membership.objects.get(user=nele).role == "editor"


@pytest.mark.parametrize(
    ("words", "password", "reason"),
    [
        (["mika"], "tide-table-9\n", "already exists"),
        (["nele"], "123\n", "too short"),
        (["nele", "--production", "Nothing"], "tide-table-9\n", "no production called “Nothing”"),
        (["nele", "--role", "boss"], "tide-table-9\n", "owner, editor or viewer"),
        (["ne le"], "tide-table-9\n", "valid username"),
    ],
)
def test_an_account_that_cannot_be_made_says_why(
    demo: Demo, words: list[str], password: str, reason: str
) -> None:
    refused = adduser(*words, password=password)
    assert refused.exit_code == 1
    assert reason in refused.output
    assert not User.objects.filter(username="nele").exists()
