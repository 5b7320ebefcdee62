"""Prints: films and pictures that stay with what they show, and parts of those that are being made."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from accounts.models import Production
from documents.models import Document
from jobs.models import Job
from library.models import StoredFile


class Print(models.Model):
    """A finished print of a revision of a document; the document may be gone, what it was called stays.
    `first` and `frames` are played frames, shown in so many `rounds`, at `rate`; without a
    `shown_rate` that is also the rate of what it shows. `look` is how it was seen. At the left
    stands the revision `beside`, or what was `captured`. Whatever its form, its file is its `film`."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, models.CASCADE, related_name="prints")
    document = models.ForeignKey(Document, models.SET_NULL, null=True, related_name="prints")
    name = models.CharField(max_length=120)
    revision = models.PositiveIntegerField()
    beside = models.PositiveIntegerField(null=True)
    captured = models.BooleanField(default=False)
    form = models.CharField(max_length=8)
    look = models.JSONField()
    first = models.PositiveIntegerField()
    frames = models.PositiveIntegerField()
    rounds = models.PositiveIntegerField(default=1)
    first_frame = models.IntegerField()
    rate = models.CharField(max_length=24)
    shown_rate = models.CharField(max_length=24, blank=True, default="")
    has_sound = models.BooleanField()
    film = models.ForeignKey(StoredFile, models.RESTRICT, related_name="prints")
    author = models.ForeignKey(User, models.SET_NULL, null=True, related_name="prints")
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-created",)

    def __str__(self) -> str:
        return f"{self.name}, rev {self.revision}"


class PrintPart(models.Model):
    """A part of a film that is being printed: whoever takes the job up goes on after it. `content` names what
    it was painted from."""

    job = models.ForeignKey(Job, models.CASCADE, related_name="print_parts")
    number = models.PositiveIntegerField()
    content = models.CharField(max_length=64)
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("job", "number"), name="one_print_part_a_number"),
        )
