"""Takes of the stand-in stage: quay_pacing_07, with a calibration pose, noise, spikes and a floor that is
off."""

from fractions import Fraction
from functools import cache

from elastic_core.capture.stage.performer import Move, performed
from elastic_core.capture.stage.suit import suit
from elastic_core.capture.stage.unclean import Uncleanness, uncleaned
from elastic_core.figure import Figure
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from

TAKES = ("quay_pacing_07",)
FPS = Fraction(120)
PACING: tuple[tuple[Move, float], ...] = (
    ("arms out", 1.6), ("stand", 0.9), ("walk", 4.4), ("turn", 2.4), ("walk", 3.4), ("stumble", 0.9),
    ("walk", 1.2), ("stand", 1.2),
)  # fmt: skip
_UNCLEAN = Uncleanness(tilt_degrees=(1.6, -0.9), drift_metres_a_minute=0.25)


@cache
def take_file(name: str) -> bytes:
    """A take as the motion file that it came in, in centimetres."""
    motion = uncleaned(
        performed(PACING, float(FPS)), _UNCLEAN, float(FPS), seed=sum(map(ord, name))
    )
    return bvh.write(file_from(suit(), motion, FPS, 0.01)).encode()


def take_figure() -> Figure:
    """Who wears it."""
    return suit()
