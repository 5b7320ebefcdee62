"""Files and dense motion, kept in the database in chunks: one dump is a full backup."""

import uuid

from django.contrib.auth.models import User
from django.db import models

from accounts.models import Production


class StoredFile(models.Model):
    """A file as it was brought in, named by its SHA-256 within a production."""

    production = models.ForeignKey(Production, models.CASCADE, related_name="files")
    sha256 = models.CharField(max_length=64)
    name = models.CharField(max_length=255)
    size_bytes = models.BigIntegerField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("production", "sha256"), name="one_file_a_hash"),
        )


class FileChunk(models.Model):
    """One mebibyte of a file."""

    file = models.ForeignKey(StoredFile, models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("file", "number"), name="one_file_chunk_a_number"),
        )


class PictureSize(models.Model):
    """A picture, named by its SHA-256, no larger than so many pixels on its longer side, as a WebP."""

    sha256 = models.CharField(max_length=64)
    pixels = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("sha256", "pixels"), name="one_picture_a_size"),
        )


class SoundBlock(models.Model):
    """A sound file that was decoded, named by its SHA-256: what it was, and how far it swings (`peaks`)."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    form = models.CharField(max_length=8)
    rate_hz = models.PositiveIntegerField()
    channels = models.PositiveIntegerField()
    samples = models.PositiveIntegerField()
    heard_channels = models.PositiveIntegerField()
    peaks = models.BinaryField()


class SoundChunk(models.Model):
    """Ten seconds of a sound at the house rate, as a FLAC file."""

    block = models.ForeignKey(SoundBlock, models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("block", "number"), name="one_sound_chunk_a_number"),
        )


class Recording(models.Model):
    """A take that is being recorded from the capture stage. Frames count from when the countdown is over
    (`begins`) until it is stopped."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    production = models.ForeignKey(Production, models.CASCADE, related_name="recordings")
    person = models.ForeignKey(User, models.CASCADE, related_name="recordings")
    name = models.CharField(max_length=120)
    begins = models.DateTimeField()
    is_stopped = models.BooleanField(default=False)


class RecordedLines(models.Model):
    """What came from the stage meanwhile, as it came: lines of the protocol, compressed."""

    recording = models.ForeignKey(Recording, models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("recording", "number"), name="one_piece_a_number"),
        )


class KeptReading(models.Model):
    """What was read in a sound, named by all that it follows from: the same sound and text are read once."""

    content = models.CharField(max_length=64, primary_key=True)
    reading = models.JSONField()


class MotionIndex(models.Model):
    """What a motion file is, which was read once and found good, and where its rows stand."""

    file = models.OneToOneField(StoredFile, models.CASCADE, related_name="motion_index")
    reader = models.PositiveIntegerField()
    skeleton = models.JSONField()
    frame_time = models.FloatField()
    warnings = models.JSONField(default=list)
    starts = models.BinaryField()


class MotionBlock(models.Model):
    """A clip's samples, named by their SHA-256, with the joints that have moves, and scales."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    frames = models.PositiveIntegerField()
    joints = models.PositiveIntegerField()
    moved_joints = models.JSONField(default=list)
    scaled_joints = models.JSONField(default=list)


class MotionChunk(models.Model):
    """1,024 frames of float32 rows: travel, root move, rotations, moves, scales."""

    block = models.ForeignKey(MotionBlock, models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("block", "number"), name="one_motion_chunk_a_number"),
        )
