"""Ids and names as edits carry them."""

from typing import Annotated

from pydantic import Field, StringConstraints

Id = Annotated[str, Field(min_length=1, max_length=40)]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
