"""Documents and their revisions (rule 8.1)."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from accounts.models import Production


class Document(models.Model):
    """A figure, clip or scene. `head` is the number of the revision that stands.

    Tags and the archive are about finding it, so they are no part of its revisions.
    """

    class Kind(models.TextChoices):
        FIGURE = "figure"
        CLIP = "clip"
        SCENE = "scene"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, models.CASCADE, related_name="documents")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    name = models.CharField(max_length=120)
    head = models.PositiveIntegerField(default=1)
    tags = models.JSONField(default=list)
    archived = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        indexes = (models.Index(fields=("production", "kind", "name")),)

    def __str__(self) -> str:
        return f"{self.kind} {self.name}"


class Revision(models.Model):
    """One saved step. `parent` is the step it was made on: undo walks there, redo comes back.

    `token` is the page's name for the edit, so that one sent twice is made once.
    """

    document = models.ForeignKey(Document, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.PositiveIntegerField(null=True)
    label = models.CharField(max_length=200)
    author = models.ForeignKey(User, models.SET_NULL, null=True)
    created = models.DateTimeField(auto_now_add=True)
    body = models.JSONField()
    token = models.CharField(max_length=40, null=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("document", "number"), name="one_revision_a_number"),
            models.UniqueConstraint(fields=("document", "token"), name="one_revision_a_token"),
        )


class Use(models.Model):
    """That a scene's standing revision uses a clip or a figure: “where is this used?”."""

    scene = models.ForeignKey(Document, models.CASCADE, related_name="uses")
    used = models.ForeignKey(Document, models.PROTECT, related_name="used_in")

    class Meta:
        constraints = (models.UniqueConstraint(fields=("scene", "used"), name="one_use_each"),)
