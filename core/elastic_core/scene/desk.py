"""The time desk's picture of a scene: everything about stints and joins that the page draws."""

from dataclasses import asdict, dataclass

import numpy as np

from ..anatomy import legs_of
from ..beats import Beat
from ..budget import take
from ..colour import Colour
from ..curve import SpanKind
from ..drawings.playing import RunPlayed
from ..exposure import ON_ONES
from ..figure import Figure
from ..frozen import Shown
from ..join.alignment import Alignment
from ..moments import lane_time
from ..performance import Performance
from ..remembered import remembered
from ..sides import spoken
from .camera import Aim, SceneCamera, camera_at
from .cast import StintSource, Target
from .desk_time import DeskExposure, DeskJoints, exposure, holds, joint_exposures, laid
from .document import (
    Backdrop,
    Fix,
    GapRule,
    JoinShape,
    JoinSlopes,
    Lane,
    Layer,
    Scene,
    SceneFigure,
    Stint,
)
from .edits.card import FOLLOWS, CardNumber, CardNumbers, card_numbers
from .edits.stints import drawings_of_lane
from .fades import Fades, fades_of
from .fitting import body_for, dropped_by
from .guide import Guide, guide_at
from .hearing import heard_stamp
from .join import STEPS_A_ROUND, incoming_weight
from .material import Material
from .planted import plants_of
from .sound_lane import SoundLane
from .striding import straight_round_metres
from .timing import conform, room_in_clip, scene_times_of, source_at, source_time

_SHAPE_POINTS = 13
# A weight is drawn a frame at a time, of a long stint in so many steps.
_MOST_WEIGHT_STEPS = 600
_MOST_TICKS = 2000


class DeskPlant(Shown):
    """A foot on the ground, in scene frames: the joint it stands on, and those of ankle and toes."""

    side: str
    joint: str
    ankle: str
    toe: str | None
    start: float
    end: float


class DeskDrawing(Shown):
    """A drawing of a stint, from a whole lane frame on."""

    frame: float
    drawing: int


class DeskStint(Shown):
    """One stint as it lies on the desk. Times are scene frames from 0, half open.

    `rests` names the joints that its clip leaves at rest, `dropped` those of a fitted clip's own figure
    that nothing plays; `made_for` is the figure that it was made for; `made` is the stint of the document,
    for copies. `stride` is a share of what it was made, `round_metres` what a round of a straight walk
    covers now. `weights` are drawn evenly over it; `fades` are what its weight comes to where it has no
    other keys.
    """

    id: str
    source: StintSource
    clip_name: str
    made_for: str
    name: str
    colour: Colour
    own_colour: bool
    start: float
    end: float
    numbers: CardNumbers
    clip_length_frames: int
    is_cycle: bool
    cycles: float | None
    cycle_starts: list[float]
    earliest: float | None
    latest: float | None
    nailed: bool
    holds_feet: bool
    stride: float
    travel_is_straight: bool
    round_metres: float | None
    exposure: DeskExposure | None
    is_straight: bool
    exposed: list[DeskDrawing]
    weights: list[float] | None
    weight_keys: list[float]
    fades: Fades | None
    plants: list[DeskPlant]
    rests: list[str]
    dropped: list[str]
    made: Stint


class FixedJoint(Shown):
    """A joint that a fix turns, and how far."""

    name: str
    label: str
    degrees: float


class DeskFix(Shown):
    """A correction on a fix lane, in scene frames: it comes in from `start` on, stands from `at` to
    `stands_to`, and is gone at `end`. `shift_cm` is how far it moves the `root`."""

    id: str
    start: float
    at: float
    stands_to: float
    end: float
    joints: list[FixedJoint]
    root: str
    shift_cm: float


class DeskJoin(Shown):
    """Where one stint hands over to the next; `weights` are the incoming one's, evenly over it. `steps`
    says how many steps it lasts, where both go round."""

    outgoing: str
    incoming: str
    start: float
    end: float
    shape: JoinShape
    slopes: JoinSlopes
    upper_shape: JoinShape | None
    upper_slopes: JoinSlopes
    alignment: Alignment
    holds_feet: bool
    steps: float | None
    weights: list[float]


class DeskGap(Shown):
    """A stretch without a stint, and what the figure does there. `after` is the stint before it; `own`
    says that the rule is that stint's and not the lane's."""

    start: float
    end: float
    rule: GapRule
    after: str | None
    own: bool


class DeskLane(Shown):
    """A lane. `takes_clips_of` are the figures whose clips play on it: its own, and those fitted to it;
    `takes_runs_of` is the set whose runs do. `figure_name` is that of the figure, or the layer, that it drives.
    `cuts` are joins of no frames. `holds` are the lane frames at which a pose comes up that stays for more
    than a frame; nothing on ones. `fixes` are those of a fix lane; another lane has none."""

    id: str
    name: str
    target: Target
    figure: str
    figure_name: str
    gap: GapRule
    ease_frames: float
    mask: list[str] | None
    colour: Colour | None
    folded: bool
    muted: bool
    soloed: bool
    locked: bool
    plays: bool
    lies_over: bool
    keeps_own_time: bool
    exposure: DeskExposure
    joint_exposures: list[DeskJoints]
    place_exposure: DeskExposure | None
    holds: list[float]
    takes_clips_of: list[str]
    takes_runs_of: str
    charts: list[str]
    stints: list[DeskStint]
    joins: list[DeskJoin]
    cuts: list[DeskJoin]
    gaps: list[DeskGap]
    fixes: list[DeskFix] | None


class DeskGuideKey(Shown):
    """A guide at one of its keys, and how it goes on from there."""

    frame: float
    span: SpanKind
    place: tuple[float, float, float]
    heading_degrees: float


class DeskGuide(Shown):
    """A guide, and the ids of the figures that it carries at some time."""

    id: str
    name: str
    keeps_own_time: bool
    exposure: DeskExposure
    keys: list[DeskGuideKey]
    carries: list[str]


class SizeKey(Shown):
    """How large a figure is at a frame."""

    frame: float
    size: float


class OpacityKey(Shown):
    """How much of a layer of drawings shows at a frame."""

    frame: float
    opacity: float


class DeskCameraKey(Shown):
    """The camera at one of its keys, and how it goes on from there."""

    frame: float
    span: SpanKind
    eye: tuple[float, float, float]
    look: tuple[float, float, float]
    roll: float
    zoom: float


class DeskCamera(Shown):
    """The scene's camera."""

    aim: Aim
    keeps_own_time: bool
    exposure: DeskExposure
    keys: list[DeskCameraKey]


class DeskSound(Shown):
    """A sound as it lies, in frames of its lane's time, half open; `sound_seconds` is all that its file has."""

    id: str
    sound: str
    name: str
    start: float
    end: float
    in_seconds: float
    seconds: float
    sound_seconds: float
    level_db: float
    fade_in_seconds: float
    fade_out_seconds: float
    muted: bool


class DeskSoundLane(Shown):
    """A sound lane. It lies by played frames where it keeps its own time, else by laid ones."""

    id: str
    name: str
    muted: bool
    level_db: float
    keeps_own_time: bool
    sounds: list[DeskSound]


class Desk(Shown):
    """A whole scene on the desk. `laid` is the laid frame that shows at each played one; nothing where they
    are the same. `size_keys` are those of the figures whose size is keyed, by their ids. `heard` names what is
    heard of it, if anything is."""

    name: str
    rate: str
    frames_per_second: float
    laid_frames: int
    played_frames: int
    first_frame: int
    exposure: DeskExposure
    laid: list[float] | None
    camera: DeskCamera | None
    guides: list[DeskGuide]
    backdrop: Backdrop
    figures: list[SceneFigure]
    size_keys: dict[str, list[SizeKey]]
    layers: list[Layer]
    opacity_keys: dict[str, list[OpacityKey]]
    lanes: list[DeskLane]
    lane_ids: list[str]
    sound_lanes: list[DeskSoundLane]
    heard: str | None
    beats: list[Beat]
    follows: dict[CardNumber, CardNumber]


def desk_of(scene: Scene, material: Material) -> Desk:
    """The picture of a scene."""
    return Desk(
        name=scene.name,
        rate=str(scene.rate),
        frames_per_second=float(scene.rate),
        laid_frames=scene.laid_frames,
        played_frames=scene.played_frames,
        first_frame=scene.first_frame,
        exposure=exposure(scene.exposure, is_own=True),
        laid=laid(scene),
        camera=None if scene.camera is None else _camera(scene.camera),
        guides=[_guide(scene, guide) for guide in scene.guides],
        backdrop=scene.backdrop,
        figures=list(scene.figures),
        size_keys={
            member.id: [SizeKey(frame=key.time, size=key.value) for key in member.sizes.keys]
            for member in scene.figures
            if member.sizes is not None
        },
        layers=list(scene.layers),
        opacity_keys={
            layer.id: [OpacityKey(frame=key.time, opacity=key.value) for key in layer.opacity.keys]
            for layer in scene.layers
            if layer.opacity is not None
        },
        lanes=[_lane(scene, lane, material) for lane in scene.lanes],
        lane_ids=[lane.id for lane in scene.lanes],
        sound_lanes=[_sound_lane(scene, lane, material) for lane in scene.sound_lanes],
        heard=heard_stamp(scene),
        beats=list(scene.beats),
        follows=FOLLOWS,
    )


def _sound_lane(scene: Scene, lane: SoundLane, material: Material) -> DeskSoundLane:
    return DeskSoundLane(
        **lane.model_dump(exclude={"sounds"}),
        sounds=[
            DeskSound(
                **laid.model_dump(exclude={"name"}),
                name=laid.name or material.sound(laid.sound).name,
                end=laid.end(scene.rate),
                sound_seconds=material.sound(laid.sound).seconds,
            )
            for laid in lane.sounds
        ],
    )


def _guide(scene: Scene, guide: Guide) -> DeskGuide:
    rows = guide_at(guide, lane_time(guide.frames))
    return DeskGuide(
        id=guide.id,
        name=guide.name,
        keeps_own_time=guide.keeps_own_time,
        exposure=exposure(guide.exposure or ON_ONES, is_own=guide.exposure is not None),
        keys=[
            DeskGuideKey(
                frame=key.time,
                span=key.span,
                place=(float(x), float(y), float(z)),
                heading_degrees=float(np.degrees(heading)),
            )
            for key, (x, y, z, heading) in zip(guide.channels["x"].keys, rows, strict=True)
        ],
        carries=[
            member.id
            for member in scene.figures
            if any(ride.to == guide.id for ride in member.attachments)
        ],
    )


def _camera(camera: SceneCamera) -> DeskCamera:
    shown = camera_at(camera, lane_time(camera.frames))
    keys = camera.channels["x"].keys if camera.channels else ()
    return DeskCamera(
        aim=camera.aim,
        keeps_own_time=camera.keeps_own_time,
        exposure=exposure(camera.exposure or ON_ONES, is_own=camera.exposure is not None),
        keys=[
            DeskCameraKey(
                frame=key.time,
                span=key.span,
                eye=(float(eye[0]), float(eye[1]), float(eye[2])),
                look=(float(look[0]), float(look[1]), float(look[2])),
                roll=float(roll),
                zoom=float(zoom),
            )
            for key, eye, look, roll, zoom in zip(
                keys, shown.eye, shown.look, shown.roll, shown.zoom, strict=True
            )
        ],
    )


def _weights(stint: Stint) -> list[float] | None:
    """A stint's weight evenly over it; nothing where it shows whole."""
    if stint.weight is None:
        return None
    steps = int(np.clip(np.ceil(stint.length_frames), 1, _MOST_WEIGHT_STEPS))
    times = np.linspace(0.0, stint.length_frames, steps + 1)
    return [float(value) for value in np.clip(stint.weight.values(times), 0.0, 1.0)]


def _lane(scene: Scene, lane: Lane, material: Material) -> DeskLane:
    take()
    figure = material.figure(scene.figure(lane.figure).figure) if lane.figure else None
    layer = scene.layer_of(lane)
    sets = sorted(drawings_of_lane(scene, lane, material))
    return DeskLane(
        id=lane.id,
        name=lane.name,
        target=lane.target,
        figure=lane.figure,
        figure_name=scene.figure(lane.figure).name if lane.figure else layer.name if layer else "",
        gap=lane.gap,
        ease_frames=lane.ease_frames,
        mask=None if lane.mask is None else list(lane.mask),
        colour=lane.colour,
        folded=lane.folded,
        muted=lane.muted,
        soloed=lane.soloed,
        locked=lane.locked,
        plays=scene.plays(lane),
        lies_over=bool(lane.figure) and lane not in scene.lanes_of_figure(lane.figure)[:1],
        keeps_own_time=lane.keeps_own_time,
        exposure=exposure(scene.exposure_of(lane), is_own=lane.exposure is not None),
        joint_exposures=joint_exposures(lane, figure),
        place_exposure=lane.place_exposure and exposure(lane.place_exposure, is_own=True),
        holds=holds(scene, lane),
        takes_clips_of=_takes_clips_of(scene, lane),
        takes_runs_of=sets[0] if sets else "",
        charts=list(lane.charts),
        stints=[
            _stint(scene, stint, _shown(scene, lane, stint, material), figure)
            for stint in lane.stints
        ],
        joins=[_join(scene, material, a, b) for a, b in lane.neighbours() if a.end > b.start],
        cuts=[_join(scene, material, a, b) for a, b in lane.neighbours() if a.end == b.start],
        gaps=_gaps(scene, lane) if lane.fixes is None else [],
        fixes=None if lane.fixes is None else [_fix(fix, figure) for fix in lane.fixes],
    )


def _fix(fix: Fix, figure: Figure | None) -> DeskFix:
    return DeskFix(
        id=fix.id,
        start=fix.at - fix.fade_in,
        at=fix.at,
        stands_to=fix.at + fix.stands_frames,
        end=fix.at + fix.stands_frames + fix.fade_out,
        joints=[
            FixedJoint(
                name=name,
                label=spoken(name),
                degrees=float(np.degrees(2 * np.arccos(min(1.0, abs(turn[0]))))),
            )
            for name, turn in fix.turns.items()
        ],
        root=figure.names[0] if figure else "",
        shift_cm=float(100 * np.linalg.norm(fix.shift)),
    )


def _takes_clips_of(scene: Scene, lane: Lane) -> list[str]:
    if lane.target.kind != "body" or lane.fixes is not None:
        return []
    member = scene.figure(lane.figure)
    return [member.figure, *(fit.figure for fit in member.fits)]


@dataclass(frozen=True)
class _Foot:
    """The joint that a side's plants stand on, and those of its ankle and its toes."""

    joint: str
    ankle: str
    toe: str | None


def _feet(performance: Performance, figure: Figure | None) -> dict[str, _Foot]:
    """The foot of each side that has plants."""
    found: dict[str, _Foot] = {}
    for plant in performance.plants:
        found.setdefault(plant.side, _Foot(plant.joint, plant.joint, None))
    for leg in legs_of(figure) if figure else ():
        names = figure.names if figure else ()
        ankle, toe = names[leg.foot], None if leg.toe is None else names[leg.toe]
        known = found.get(leg.side)
        if known is not None and known.joint in (ankle, toe):
            found[leg.side] = _Foot(known.joint, ankle, toe)
    return found


def _shown(scene: Scene, lane: Lane, stint: Stint, material: Material) -> "_Shown":
    """What a stint plays on its lane's figure, and what of it is dropped."""
    performance = material.performance(stint.source)
    if lane.target.kind != "body":
        return _Shown(performance, performance.figure, [], None)
    member = scene.figure(lane.figure)
    figure = material.figure(member.figure)
    body = body_for(material, member, stint)
    metres = remembered(figure, body, "round", lambda: (straight_round_metres(body),))[0]
    round_metres = None if metres is None else metres * member.size
    dropped = dropped_by(material, member, performance)
    return _Shown(body, performance.figure, dropped, round_metres)


@dataclass(frozen=True)
class _Shown:
    performance: Performance
    made_for: str
    dropped: list[str]
    round_metres: float | None


def _stint(scene: Scene, stint: Stint, shown: _Shown, figure: Figure | None) -> DeskStint:
    performance = shown.performance
    feet = _feet(performance, figure)
    source_start = source_at(scene, performance, stint, stint.start)
    source_end = source_at(scene, performance, stint, stint.end)
    earliest, latest = room_in_clip(scene, performance, stint)
    length = performance.length_frames
    return DeskStint(
        id=stint.id,
        source=stint.source,
        clip_name=performance.name,
        made_for=shown.made_for,
        name=stint.name or performance.name,
        colour=stint.colour or performance.colour,
        own_colour=stint.colour is not None,
        start=stint.start,
        end=stint.end,
        numbers=card_numbers(scene, performance, stint),
        clip_length_frames=length,
        is_cycle=performance.is_cycle,
        cycles=abs(source_end - source_start) / length if performance.is_cycle else None,
        cycle_starts=_cycle_starts(scene, performance, stint, source_start, source_end),
        earliest=float(earliest) if np.isfinite(earliest) else None,
        latest=float(latest) if np.isfinite(latest) else None,
        nailed=stint.nailed is not None,
        holds_feet=stint.holds_feet,
        stride=stint.stride,
        travel_is_straight=stint.path.is_identity,
        round_metres=shown.round_metres,
        exposure=None if stint.exposure is None else exposure(stint.exposure, is_own=True),
        is_straight=stint.elastic.is_identity,
        exposed=_exposed(scene, performance, stint),
        weights=_weights(stint),
        weight_keys=[stint.start + key.time for key in stint.weight.keys] if stint.weight else [],
        fades=fades_of(stint.weight, stint.length_frames),
        plants=[
            DeskPlant(side=plant.side, **asdict(feet[plant.side]), start=plant.start, end=plant.end)
            for plant in plants_of(performance, stint, conform(performance, scene))
        ],
        rests=list(performance.rests),
        dropped=shown.dropped,
        made=stint,
    )


def _exposed(scene: Scene, performance: Performance, stint: Stint) -> list[DeskDrawing]:
    """What of a run of drawings comes up when; nothing of a very long stint, and of what is no run."""
    if not isinstance(performance, RunPlayed) or stint.length_frames > _MOST_TICKS:
        return []
    frames = np.arange(np.ceil(stint.start), np.ceil(stint.end))
    row = performance.drawings_at(source_time(scene, performance, stint, lane_time(frames)))
    changes = np.flatnonzero(np.diff(row, prepend=row[:1] - 1))
    return [DeskDrawing(frame=float(frames[at]), drawing=int(row[at])) for at in changes]


def _rounds(performance: Performance, source_start: float, source_end: float) -> range:
    """The rounds of a cycle that a stretch of source touches."""
    low, high = sorted((source_start, source_end))
    first, last = (
        int(np.floor(low / performance.length_frames)),
        int(np.ceil(high / performance.length_frames)),
    )
    return range(first, min(last, first + _MOST_TICKS))


def _cycle_starts(
    scene: Scene, performance: Performance, stint: Stint, source_start: float, source_end: float
) -> list[float]:
    """Where each later round begins."""
    if not performance.is_cycle:
        return []
    starts = [
        time
        for k in _rounds(performance, source_start, source_end)
        for time in scene_times_of(scene, performance, stint, float(k * performance.length_frames))
    ]
    return sorted(time for time in starts if stint.start + 1e-6 < time < stint.end - 1e-6)


def _join(scene: Scene, material: Material, outgoing: Stint, incoming: Stint) -> DeskJoin:
    times = lane_time(np.linspace(incoming.start, outgoing.end, _SHAPE_POINTS))
    return DeskJoin(
        outgoing=outgoing.id,
        incoming=incoming.id,
        start=incoming.start,
        end=outgoing.end,
        shape=incoming.shape,
        slopes=incoming.slopes,
        upper_shape=incoming.upper_shape,
        upper_slopes=incoming.upper_slopes,
        alignment=incoming.alignment,
        holds_feet=incoming.holds_join,
        steps=_steps(scene, material, outgoing, incoming),
        weights=[float(weight) for weight in incoming_weight(outgoing, incoming, times)],
    )


def _steps(scene: Scene, material: Material, outgoing: Stint, incoming: Stint) -> float | None:
    """How many steps both go through in the overlap, on the average; nothing where one plays once."""
    rounds = []
    for stint in (outgoing, incoming):
        performance = material.performance(stint.source)
        if not performance.is_cycle:
            return None
        start, end = (
            source_at(scene, performance, stint, at) for at in (incoming.start, outgoing.end)
        )
        rounds.append(abs(end - start) / performance.length_frames)
    return STEPS_A_ROUND * sum(rounds) / 2


def _gaps(scene: Scene, lane: Lane) -> list[DeskGap]:
    ends = [0.0, *(stint.end for stint in lane.stints)]
    starts = [*(stint.start for stint in lane.stints), float(scene.laid_frames)]
    before: list[Stint | None] = [None, *lane.stints]
    return [
        DeskGap(
            start=start,
            end=end,
            rule=(stint and stint.gap) or lane.gap,
            after=stint.id if stint else None,
            own=stint is not None and stint.gap is not None,
        )
        for start, end, stint in zip(ends, starts, before, strict=True)
        if end > start
    ]
