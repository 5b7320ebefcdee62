"""Long work, and how far it is."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from accounts.models import Production


class Job(models.Model):
    """Something that takes a while, done by a worker for a person of a production.

    `content` is the hash of what was asked by whom: the same asked again is the same job. `tries` counts the
    workers that took it up; only the last of them may say what came of it. `figure` of `of` `unit`
    are done, since it has `begun`. Those of a list wait in the order of their `place`, none before its
    `not_before`, and none that `is_held`. A job that its person has `seen` the end of is listed no more.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        REFUSED = "refused"
        CANCELLED = "cancelled"

    UNDER_WAY = (State.WAITING, State.RUNNING)

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, models.CASCADE, related_name="jobs")
    person = models.ForeignKey(User, models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=40)
    title = models.CharField(max_length=255)
    wish = models.JSONField()
    content = models.CharField(max_length=64)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    figure = models.BigIntegerField(default=0)
    of = models.BigIntegerField(default=0)
    unit = models.CharField(max_length=60, default="")
    is_cancelled = models.BooleanField(default=False)
    tries = models.PositiveIntegerField(default=0)
    outcome = models.JSONField(default=dict)
    says = models.TextField(default="")
    seen = models.BooleanField(default=False)
    place = models.IntegerField(default=0)
    not_before = models.DateTimeField(null=True)
    is_held = models.BooleanField(default=False)
    begun = models.DateTimeField(null=True)
    created = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        indexes = (models.Index(fields=("production", "person", "seen"), name="jobs_of_a_person"),)
        constraints = (
            models.UniqueConstraint(
                fields=("production", "content"),
                condition=models.Q(state__in=("waiting", "running", "done")),
                name="one_job_a_wish",
            ),
        )

    def __str__(self) -> str:
        return f"{self.kind}: {self.title}"
