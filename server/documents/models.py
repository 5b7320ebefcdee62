"""Documents and their revisions (rule 8.1)."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from accounts.models import Production


class Document(models.Model):
    """Something of a production that is kept with its history; `kind` names one of `documents.kinds`.

    `head` is the number of the revision that stands, `standing` its key: a number may be given anew
    where a transaction was undone, a key never is. Tags and the archive are about finding it, so
    they are no part of its revisions. What the library tells of it is written down at each save:
    `figure` (the document that it is for), `rate`, `length_frames`, `grade` (a seam's), `facts` (the
    rest) and `thumbnail` (a frame pack); `told_of` is the revision that they tell of.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, models.CASCADE, related_name="documents")
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=120)
    head = models.PositiveIntegerField(default=1)
    standing = models.BigIntegerField(default=0)
    tags = models.JSONField(default=list)
    archived = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    figure = models.UUIDField(null=True)
    rate = models.CharField(max_length=20, default="")
    length_frames = models.PositiveIntegerField(null=True)
    grade = models.CharField(max_length=10, default="")
    facts = models.JSONField(default=dict)
    thumbnail = models.BinaryField(default=b"")
    told_of = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = (
            models.Index(fields=("production", "kind", "name")),
            models.Index(fields=("production", "created", "id"), name="documents_in_order"),
        )

    def __str__(self) -> str:
        return f"{self.kind} {self.name}"


class Revision(models.Model):
    """One saved step. `parent` is the step it was made on: undo walks there, redo comes back.

    `token` is the page's name for the edit, so that one sent twice is made once. Dense data of the
    body is kept aside in blocks, and named in it.
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
    """That a document's standing revision uses another one: “where is this used?”."""

    document = models.ForeignKey(Document, models.CASCADE, related_name="uses")
    used = models.ForeignKey(Document, models.PROTECT, related_name="used_in")

    class Meta:
        constraints = (models.UniqueConstraint(fields=("document", "used"), name="one_use_each"),)


class Block(models.Model):
    """Dense data of documents, named by its SHA-256: what two revisions have in common is kept once."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    data = models.BinaryField()
