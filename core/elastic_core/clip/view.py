"""What the bench shows of a clip: joints and their keys, contacts, the seam, the travel."""

from collections.abc import Iterable, Set
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..beats import StretchedBeat, stretched
from ..channels import Kind, Unit, channel, joint_of
from ..clip.playable import PlayableClip
from ..clock import format_rate
from ..colour import Colour
from ..curve import Beyond, Curve, SpanKind
from ..cycle.feet import slide_cm
from ..cycle.mirror import partner_of
from ..cycle.root import root_apart
from ..cycle.seam import SeamReport, seam_report
from ..figure import Figure, forward
from ..frozen import Frozen
from ..motion import Motion
from ..reach import ends_limb
from ..sides import spoken
from ..spans import Span
from ..tracing import Picture, Shown, shown
from .edits.base import Made
from .playing import held, laid, round_of

Flags = NDArray[np.bool_]
Side = Literal["left", "right", "middle"]
# From so many keys on, one on every frame are sent as plain values.
LEAST_TAKE = 100


class View(Frozen):
    pass


class BenchJoint(View):
    """A row of the tree and of the key sheet."""

    name: str
    label: str
    parent: int
    side: Side
    partner: str | None
    body_part: str
    reaches: bool


class BenchKey(View):
    """A key as it plays: slopes in value per frame, and whether it is made here or follows."""

    time: float
    value: float
    in_slope: float
    out_slope: float
    span: SpanKind
    own: bool


class EveryFrame(View):
    """Keys on every frame from 0 on, with even spans: the first `own` are made here, the rest follow.

    A take would weigh tenfold as single keys.
    """

    values: list[float]
    own: int


class BenchCurve(View):
    """A curve as it plays: its keys, or where there is one on every frame, their values."""

    channel: str
    joint: str
    label: str
    kind: Kind
    unit: Unit
    before: Beyond
    after: Beyond
    keys: list[BenchKey]
    every_frame: EveryFrame | None


class BenchPlant(View):
    """A contact; its slide is that of the planted joint as it plays."""

    place: int
    joint: str
    label: str
    side: Side
    start: float
    end: float
    held: bool
    slide_cm: float


class BenchPose(View):
    frame: float
    name: str


class BenchGap(View):
    joint: str
    label: str
    gap_degrees: float
    gap_cm: float
    gap_degrees_per_frame: float
    grade: Literal["closed", "soft", "open"]
    over: float
    worst: Literal["degrees", "cm", "degrees_per_frame"]


class BenchSeam(View):
    grade: Literal["closed", "soft", "open"]
    joints: list[BenchGap]


class BenchTracing(View):
    """The tracing as it lies, every number told."""

    pictures: list[Picture]
    opacity: float
    height_metres: float
    right_metres: float
    up_metres: float
    yaw_degrees: float
    pitch_degrees: float
    first_frame: int
    frames_each: int


class Bench(View):
    """One clip on the bench."""

    name: str
    figure: str
    figure_name: str
    rate: str
    frames_per_second: float
    length_frames: int
    is_cycle: bool
    is_keyed: bool
    half_linked: bool
    travels: bool
    colour: Colour
    exposure: list[int]
    stride_metres: float
    ground_speed_metres_a_second: float
    root_apart_cm: float
    root_apart_at: int
    joints: list[BenchJoint]
    curves: list[BenchCurve]
    channels: list[str]
    plants: list[BenchPlant]
    poses: list[BenchPose]
    beats: list[StretchedBeat]
    tracing: BenchTracing | None
    traced: list[Shown]
    seam: BenchSeam | None


def bench_of(made: Made, known: Made | None = None) -> Bench:
    """The clip as the room shows it. Curves that run as in the known clip are left out; `channels`
    names them all."""
    clip, figure = made.clip, made.figure
    # First, as a take may be too long for it.
    same = frozenset() if known is None else unchanged_curves(known, made)
    curves = curves_of(made, same)
    playable = made.playable
    stride = float(np.hypot(*clip.period[:2]))
    if not clip.is_cycle:
        stride = _way(playable.samples.whole())
    fps = float(clip.rate)
    apart = root_apart(figure, playable.samples.whole())
    return Bench(
        name=clip.name,
        figure=clip.figure,
        figure_name=figure.name,
        rate=format_rate(clip.rate),
        frames_per_second=fps,
        length_frames=clip.length_frames,
        is_cycle=clip.is_cycle,
        is_keyed=clip.is_keyed,
        half_linked=clip.half_linked,
        travels=clip.travels,
        colour=clip.colour,
        exposure=list(clip.exposure.pattern),
        stride_metres=stride,
        ground_speed_metres_a_second=stride / clip.length_frames * fps,
        root_apart_cm=apart.greatest_cm,
        root_apart_at=apart.at,
        joints=joints_of(figure),
        curves=curves,
        channels=in_order(figure, made.curves),
        plants=_plants(made),
        poses=[BenchPose(frame=pose.frame, name=pose.name) for pose in clip.poses],
        beats=[
            stretched(beat, clip.length_frames if clip.is_cycle else None) for beat in clip.beats
        ],
        tracing=BenchTracing.model_validate(clip.tracing.model_dump()) if clip.tracing else None,
        traced=list(shown(clip.tracing, clip.length_frames)) if clip.tracing else [],
        seam=seam_of(figure, playable) if clip.is_cycle else None,
    )


def joints_of(figure: Figure) -> list[BenchJoint]:
    """Every joint in its order, with the body part that it is folded under."""
    rows = []
    for place, joint in enumerate(figure.joints):
        partner = partner_of(figure, joint.name)
        rows.append(
            BenchJoint(
                name=joint.name,
                label=spoken(joint.name),
                parent=joint.parent,
                side=joint.side,
                partner=partner if partner != joint.name else None,
                body_part=_body_part(figure, place),
                reaches=ends_limb(figure, place),
            )
        )
    return rows


def _body_part(figure: Figure, place: int) -> str:
    """Limbs by their side and root joint, the rest together: what the key sheet folds into."""
    chain = [place]
    while figure.parents[chain[-1]] >= 0:
        chain.append(figure.parents[chain[-1]])
    # The topmost joint that is on a side starts the limb.
    for above in reversed(chain):
        joint = figure.joints[above]
        if joint.side != "middle":
            return f"{joint.side.capitalize()} {'leg' if _is_low(figure, above) else 'arm'}"
    return "Body"


def _is_low(figure: Figure, place: int) -> bool:
    """Whether a limb hangs from the root: a leg does, an arm hangs from further up."""
    return figure.parents[place] == 0


def in_order(figure: Figure, channels: Iterable[str]) -> list[str]:
    """Channels joint by joint, as the figure has them."""
    order = {name: place for place, name in enumerate(figure.names)}
    return sorted(channels, key=lambda name: order[joint_of(figure, name)])


def curves_of(made: Made, but: Set[str] = frozenset()) -> list[BenchCurve]:
    """Every curve as it plays; those of samples with the keys they would become."""
    figure, clip = made.figure, made.keyed.clip
    rows = []
    for name in in_order(figure, [name for name in made.curves if name not in but]):
        played = made.curves[name]
        own = _made_here(played, clip.keys.get(name))
        every_frame = _every_frame(played, own)
        about = channel(name)
        rows.append(
            BenchCurve(
                channel=name,
                joint=joint_of(figure, name),
                label=_label(figure, name),
                kind=about.kind,
                unit=about.unit,
                before=played.before,
                after=played.after,
                keys=[] if every_frame else _keys(played, own),
                every_frame=every_frame,
            )
        )
    return rows


def unchanged_curves(before: Made, after: Made) -> frozenset[str]:
    """The channels whose curves play, and are made here, as before."""
    was, now = before.curves, after.curves
    own_was, own_now = before.keyed.clip.keys, after.keyed.clip.keys
    return frozenset(
        name
        for name, curve in now.items()
        if name in was and curve == was[name] and own_was.get(name) == own_now.get(name)
    )


def _made_here(played: Curve, made: Curve | None) -> Flags:
    """Which keys of a curve as it plays are the clip's own; the others follow. [n]"""
    if made is None:
        return np.zeros(len(played), dtype=np.bool_)
    return np.isin(played.times, made.times)


def _keys(curve: Curve, own: Flags) -> list[BenchKey]:
    incoming, outgoing = curve.slopes()
    return [
        BenchKey(
            time=key.time,
            value=key.value,
            in_slope=float(incoming[place]),
            out_slope=float(outgoing[place]),
            span=key.span,
            own=bool(own[place]),
        )
        for place, key in enumerate(curve.keys)
    ]


def _every_frame(curve: Curve, own: Flags) -> EveryFrame | None:
    """The values of a curve that has an even span from each frame to the next."""
    count, made_here = len(curve), int(own.sum())
    if (
        count < LEAST_TAKE
        or not (curve.kinds == Span.EVEN).all()
        or not own[:made_here].all()
        or not np.array_equal(curve.times, np.arange(count))
    ):
        return None
    return EveryFrame(values=curve.values_of_keys.tolist(), own=made_here)


def _label(figure: Figure, name: str) -> str:
    about = channel(name)
    if about.part == "travel":
        words = {"x": "Travel sideways", "z": "Travel ahead", "heading": "Heading"}
        return words[about.axis]
    joint = spoken(joint_of(figure, name))
    if about.kind == "move":
        return f"{joint} {({'x': 'sideways', 'y': 'up', 'z': 'ahead'})[about.axis]}"
    return f"{joint} {about.kind} {about.axis}"


def _plants(made: Made) -> list[BenchPlant]:
    """Contacts with their slide over the ground, also where the clip is set to play in place."""
    clip, figure = made.clip, made.figure
    if not clip.plants:
        return []
    placed = forward(figure, held(figure, clip, laid(figure, clip, made.samples)).motion)
    return [
        BenchPlant(
            place=place,
            joint=plant.joint,
            label=spoken(plant.joint),
            side=plant.side,
            start=plant.start,
            end=plant.end,
            held=plant.held,
            slide_cm=slide_cm(figure, placed, plant, round_of(clip)),
        )
        for place, plant in enumerate(clip.plants)
    ]


def seam_of(figure: Figure, playable: PlayableClip) -> BenchSeam:
    """The seam report with every joint's own grade."""
    report: SeamReport = seam_report(figure, playable)
    return BenchSeam(
        grade=report.grade,
        joints=[
            BenchGap(
                joint=gap.joint,
                label=spoken(gap.joint),
                gap_degrees=gap.gap_degrees,
                gap_cm=gap.gap_cm,
                gap_degrees_per_frame=gap.gap_degrees_per_frame,
                grade=gap.grade,
                over=gap.over,
                worst=gap.worst,
            )
            for gap in report.joints
        ],
    )


def _way(motion: Motion) -> float:
    """The ground covered from the first frame to the last."""
    return float(np.hypot(*(motion.travel[-1] - motion.travel[0])[:2]))
