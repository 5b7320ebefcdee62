"""The application in this very process, with the demo on a database of its own."""

import os
from functools import cache
from importlib import import_module
from typing import Any


@cache
def client() -> Any:
    """Someone signed in. Django starts once in a process, so that all benches share it."""
    from tests.e2e.site import new_site

    site = new_site("hours_in_process", os.environ["DATABASE_URL"])
    os.environ["DATABASE_URL"] = site.environment["DATABASE_URL"]
    # As it is served; only then can its models be named.
    import_module("config.wsgi")
    from django.contrib.auth.models import User
    from django.test import Client

    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(User.objects.get(username="mika"))
    return client
