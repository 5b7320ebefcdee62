"""A made-up reel of shots, as other tools write timelines."""

from typing import Any

import opentimelineio as otio


def shots() -> Any:
    """A reel of three shots at 25 frames a second from one hour on, with a marker and two sounds."""
    rate = 25.0

    def span(start: float, length: float) -> Any:
        return otio.opentime.TimeRange(
            otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(length, rate)
        )

    reel = otio.schema.Timeline("Reel 2")
    reel.global_start_time = otio.opentime.RationalTime(90_000, rate)
    picture = otio.schema.Track("V1", kind="Video")
    picture.append(otio.schema.Clip("Quay", source_range=span(86_400, 50)))
    picture.append(otio.schema.Gap(source_range=span(0, 10)))
    picture.append(otio.schema.Clip("", media_reference=otio.schema.MissingReference("Lamp")))
    picture[2].source_range = span(0, 33)
    picture.append(otio.schema.Clip("Sea", source_range=span(5, 7)))
    sound = otio.schema.Track("A1", kind="Audio")
    bell = otio.schema.ExternalReference("bell%201.wav", available_range=span(1_000, 50))
    sound.append(otio.schema.Gap(source_range=span(0, 60)))
    sound.append(otio.schema.Clip("Bell", media_reference=bell, source_range=span(1_010, 30)))
    gone = otio.schema.ExternalReference("https://example.org/wind.wav")
    sound.append(otio.schema.Clip("Wind", media_reference=gone, source_range=span(0, 10)))
    reel.tracks.extend([picture, sound])
    reel.tracks.markers.append(otio.schema.Marker("Cue", marked_range=span(12, 0)))
    return reel
