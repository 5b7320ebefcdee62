"""Passwords tried too often, and passwords that are none: by account, by address, in known browsers."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.test import Client

from .conftest import Demo

pytestmark = pytest.mark.django_db
SERVER = Path(__file__).resolve().parents[1]


def attempt(client: Client, account: str, password: str, address: str = "127.0.0.1") -> int:
    wanted = {"account": account, "password": password}
    answer = client.post(
        "/api/session", wanted, content_type="application/json", REMOTE_ADDR=address
    )
    return answer.status_code


def test_nobody_can_shut_out_an_accounts_owner(demo: Demo) -> None:
    """Eight wrong passwords from anywhere shut the account for everyone at that address."""
    known = Client()
    assert attempt(known, "mika", "lamplight") == 200
    guesser = Client()
    tries = [attempt(guesser, "mika", f"guess-{k}") for k in range(9)]
    assert tries == [401] * 7 + [429] * 2
    assert attempt(guesser, "mika", "lamplight") == 429
    known.delete("/api/session")
    assert attempt(known, "mika", "lamplight") == 200
    # Nor is a known browser a way to go on guessing.
    tries = [attempt(known, "mika", f"guess-{k}") for k in range(9)]
    assert tries == [401] * 7 + [429] * 2
    # What makes a browser known is signed, and is for one account.
    forged = Client()
    forged.cookies["known"] = "mika:1uVxyz:forged"
    assert attempt(forged, "mika", "lamplight") == 429
    assert attempt(Client(), "mika", "lamplight", "192.0.2.9") == 200


def test_an_address_has_so_many_tries_whosever_account_it_tries(demo: Demo, settings: Any) -> None:
    settings.MOST_WRONG_PASSWORDS = 12
    here, other = "198.51.100.4", "198.51.100.5"
    tries = [attempt(Client(), f"keeper-{k}", "harbour", here) for k in range(14)]
    assert tries == [401] * 12 + [429] * 2
    assert attempt(Client(), "mika", "lamplight", here) == 429
    assert attempt(Client(), "mika", "lamplight", other) == 200


def test_wrong_old_passwords_are_counted_too(demo: Demo) -> None:
    """A browser that someone left open was a way to try passwords without end."""
    client = Client()
    attempt(client, "mika", "lamplight")

    def change(old: str, new: str = "tide-table-9") -> Any:
        wanted = {"old": old, "new": new}
        return client.post("/api/session/password", wanted, content_type="application/json")

    assert [change(f"guess-{k}").status_code for k in range(9)] == [422] * 7 + [429] * 2
    assert change("lamplight").status_code == 429


@pytest.mark.parametrize(
    ("password", "says"),
    [
        ("mika", "too short"),
        ("MikaKallas", "too similar"),
        ("8163546120", "entirely numeric"),
        ("password", "too common"),
        ("", "New is empty."),
        ("x" * 501, "New has at the most 500 characters."),
    ],
)
def test_a_password_is_more_than_a_name_or_a_number(
    password: str, says: str, demo: Demo, owner: Client
) -> None:
    wanted = {"old": "lamplight", "new": password}
    answer = owner.post("/api/session/password", wanted, content_type="application/json")
    assert answer.status_code == 422
    assert says in answer.json()["message"]
    assert User.objects.get(username="mika").check_password("lamplight")


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ('{"account": "%s", "password": "x"}' % ("a" * 10_000), 422),
        (r'{"account": "mi\u0000ka", "password": "x"}', 400),
        (r'{"account": "\udc00", "password": "x"}', 400),
        ('{"account": "", "password": ""}', 401),
        ('{"account": "mika", "password": null}', 422),
        ('{"account": "%s"}' % ("a" * 1_000_000), 413),
    ],
)
def test_an_account_that_is_none_is_refused_in_words(body: str, status: int, demo: Demo) -> None:
    answer = Client().generic("POST", "/api/session", body, "application/json")
    assert answer.status_code == status
    assert answer.json()["message"].endswith(".")


def test_one_setting_says_that_it_is_served_by_tls() -> None:
    names = ["SESSION_COOKIE_SECURE", "CSRF_COOKIE_SECURE", "SECURE_HSTS_SECONDS"]
    script = "import json; from config import settings as s; "
    script += f"print(json.dumps([getattr(s, name) for name in {names}]))"
    told = {
        tls: json.loads(
            subprocess.run(
                [sys.executable, "-c", script],
                cwd=SERVER,
                env={**os.environ, "HOURS_TLS": tls},
                stdout=subprocess.PIPE,
                check=True,
            ).stdout
        )
        for tls in ("", "1")
    }
    assert told == {"": [False, False, 0], "1": [True, True, 31_536_000]}
