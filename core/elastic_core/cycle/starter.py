"""The walk starter: editable keys of a gait from the numbers an animator would name (rule 4.6).

The four poses of a step are contact, down, passing and up. Legs are laid by two-bone reach, and
their feet are held between the keys.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import ConfigDict, Field

from .. import rotation
from ..anatomy import Leg, Part, known_joints, leg_length_metres, legs_of
from ..arrays import Array
from ..channels import AXES, turn_axes, turns_of
from ..clip.document import NamedPose, Plant
from ..clock import nearest_frame
from ..curve import Curve, Key
from ..errors import Refusal
from ..figure import Figure, forward
from ..foot import foot_of
from ..frozen import Frozen
from ..ik import two_bone, unit
from ..motion import Motion
from ..reach import Limb, limb_length_metres, local
from ..sides import Side
from ..spans import Span, Spans

TAU = 2 * np.pi
POSES = ("Contact", "Down", "Passing", "Up")
# How much of a leg may be stretched at a key pose: beyond it a knee looks locked.
STRETCH = 0.985
# The body's height at the four poses, in shares of the bounce.
BOUNCE = (-0.25, -1.0, 0.35, 1.0)
ELBOW_DEGREES = 18.0
HANG_OUT_DEGREES = 7.0
PresetName = Literal["amble", "march", "sneak", "hurry", "tired", "run"]


class Gait(Frozen):
    """Numbers of a gait. A cycle is two steps; `stride_metres` is the ground one cycle covers.

    `down_share` is the share of the cycle for which each foot is on the ground: below one half both
    leave it. `crouch` is how far the hips sink, as a share of the leg.
    """

    model_config = ConfigDict(extra="forbid")

    stride_metres: float = Field(default=1.1, ge=0.05, le=6.0)
    frames_per_step: int = Field(default=12, ge=4, le=120)
    bounce_metres: float = Field(default=0.025, ge=0.0, le=0.3)
    lean_degrees: float = Field(default=5.0, ge=-30.0, le=45.0)
    arm_swing_degrees: float = Field(default=24.0, ge=0.0, le=90.0)
    foot_lift_metres: float = Field(default=0.06, ge=0.0, le=0.6)
    hip_turn_degrees: float = Field(default=7.0, ge=0.0, le=30.0)
    down_share: float = Field(default=0.6, ge=0.25, le=0.8)
    crouch: float = Field(default=0.01, ge=0.0, le=0.35)
    arms: Literal["both", "left", "right", "none"] = "both"


# Lengths in shares of the leg: stride, bounce, foot lift.
_PRESETS: Mapping[PresetName, Mapping[str, float]] = {
    "amble": {"stride": 1.25, "frames": 12, "bounce": 0.028, "lean": 5, "arms": 24, "lift": 0.07,
              "hips": 7, "down": 0.6, "crouch": 0.01},
    "march": {"stride": 1.4, "frames": 12, "bounce": 0.04, "lean": 0, "arms": 44, "lift": 0.24,
              "hips": 6, "down": 0.56, "crouch": 0.0},
    "sneak": {"stride": 0.95, "frames": 20, "bounce": 0.03, "lean": 22, "arms": 10, "lift": 0.2,
              "hips": 5, "down": 0.64, "crouch": 0.16},
    "hurry": {"stride": 1.55, "frames": 9, "bounce": 0.04, "lean": 13, "arms": 38, "lift": 0.13,
              "hips": 9, "down": 0.54, "crouch": 0.03},
    "tired": {"stride": 0.8, "frames": 16, "bounce": 0.035, "lean": 16, "arms": 10, "lift": 0.035,
              "hips": 5, "down": 0.66, "crouch": 0.06},
    "run": {"stride": 2.5, "frames": 8, "bounce": 0.07, "lean": 16, "arms": 46, "lift": 0.3,
            "hips": 10, "down": 0.36, "crouch": 0.07},
}  # fmt: skip
PRESETS: tuple[PresetName, ...] = tuple(_PRESETS)


def preset(name: PresetName, figure: Figure) -> Gait:
    """One of our gaits, in the size of a figure's legs."""
    numbers, leg = _PRESETS[name], leg_length_metres(figure)
    return Gait(
        stride_metres=round(numbers["stride"] * leg, 3),
        frames_per_step=int(numbers["frames"]),
        bounce_metres=round(numbers["bounce"] * leg, 4),
        lean_degrees=numbers["lean"],
        arm_swing_degrees=numbers["arms"],
        foot_lift_metres=round(numbers["lift"] * leg, 3),
        hip_turn_degrees=numbers["hips"],
        down_share=numbers["down"],
        crouch=numbers["crouch"],
        arms=_free_arms(figure),
    )


def _free_arms(figure: Figure) -> Literal["both", "left", "right", "none"]:
    """The arms that swing: a hand that carries something keeps it."""
    known = known_joints(figure)
    laden = {
        known[parent].side
        for place, parent in enumerate(figure.parents)
        if parent in known and known[parent].part == "hand" and _is_carried(figure, place)
    }
    if {"left", "right"} <= laden:
        return "none"
    return "right" if "left" in laden else "left" if "right" in laden else "both"


def _is_carried(figure: Figure, place: int) -> bool:
    """Whether a joint below a hand is a thing and not a finger: fingers have a side of their own."""
    return figure.joints[place].side == "middle"


@dataclass(frozen=True)
class Started:
    """A gait as keys: what the clip becomes."""

    keys: dict[str, Curve]
    length_frames: int
    period: tuple[float, float, float]
    plants: tuple[Plant, ...]
    poses: tuple[NamedPose, ...]


def walk(figure: Figure, gait: Gait) -> Started:
    """Keys at contact, down, passing and up of both steps; plants that are held between them.

    Raises Refusal for a figure without two legs, or a stride beyond their reach.
    """
    legs = legs_of(figure)
    if {leg.side for leg in legs} != {"left", "right"}:
        raise Refusal(f"{figure.name} has no pair of legs to walk on.")
    length = 2 * gait.frames_per_step
    frames = _key_frames(gait.frames_per_step)
    phases = frames / length
    walker = _Walker(figure, gait, phases)
    motion, driven = walker.pose(legs)
    keys = {
        f"root.{axis}": _round_curve(frames, motion.root_move[:, column])
        for column, axis in enumerate(AXES)
    }
    for place in sorted(driven):
        joint = figure.names[place]
        degrees = turns_of(figure, place, motion.rotations[:, place])
        for axis in turn_axes(figure, joint):
            curve = _round_curve(frames, degrees[:, AXES.index(axis)])
            keys[f"{joint}.turn.{axis}"] = curve
    poses = tuple(
        NamedPose(frame=float(frame), name=POSES[place % 4]) for place, frame in enumerate(frames)
    )
    period = (0.0, gait.stride_metres, 0.0)
    return Started(keys, length, period, _plants(figure, gait, legs, length), poses)


def _key_frames(frames_per_step: int) -> Array:
    """Whole frames of the eight poses."""
    step = np.array([nearest_frame(k * frames_per_step / 4) for k in range(4)])
    return np.concatenate([step, step + frames_per_step])


def _round_curve(frames: Array, values: Array) -> Curve:
    keys = tuple(
        Key(time=float(time), value=float(value))
        for time, value in zip(frames, values, strict=True)
    )
    return Curve(keys=keys, before="repeat", after="repeat")


def _plants(figure: Figure, gait: Gait, legs: tuple[Leg, ...], length: int) -> tuple[Plant, ...]:
    """Each foot from its strike until it leaves: on its heel, flat, and on its ball."""
    plants = []
    for leg in legs:
        shift = 0.0 if leg.side == "left" else length / 2
        end = np.floor(gait.down_share * length + shift) + 1
        flat_from, flat_until = (share * length + shift for share in _flat(gait))
        if foot_of(figure, leg) is None:
            start = np.ceil(flat_from)
            joint = figure.names[leg.foot if leg.toe is None else leg.toe]
            end = max(end, start + 2)
            plants.append(Plant(joint=joint, side=leg.side, start=start, end=end, held=True))
            continue
        assert leg.toe is not None
        start = np.ceil(shift)
        plants.append(
            Plant(
                joint=figure.names[leg.toe],
                side=leg.side,
                start=start,
                end=max(end, start + 2),
                held=True,
                rolls=True,
                heel_frames=max(0.0, flat_from - start),
                toe_frames=max(0.0, end - 1 - flat_until),
            )
        )
    return tuple(plants)


def _flat(gait: Gait) -> tuple[float, float]:
    """The phases between which a foot lies flat."""
    return _flat_from(gait), 0.62 * gait.down_share


def _flat_from(gait: Gait) -> float:
    """The phase at which a foot lies flat."""
    return min(0.125, 0.3 * gait.down_share)


class _Walker:
    """A figure at the eight poses, built from the hips outwards."""

    def __init__(self, figure: Figure, gait: Gait, phases: Array) -> None:
        self.figure = figure
        # Paper has no breadth to sway over, and its hips no way to turn in.
        self.is_flat = bool(figure.planes)
        self.gait = gait.model_copy(update={"hip_turn_degrees": 0.0}) if self.is_flat else gait
        self.phases = phases
        self.rest = figure.at_rest
        self.motion = Motion.resting(len(phases), len(figure.joints), figure.offsets[0])
        self.driven: set[int] = {0}

    def pose(self, legs: tuple[Leg, ...]) -> tuple[Motion, set[int]]:
        """The poses, and which joints they drive."""
        parts: dict[tuple[Side, Part], list[int]] = {}
        for place, known in sorted(known_joints(self.figure).items()):
            parts.setdefault((known.side, known.part), []).append(place)
        self._trunk(parts)
        for side in ("left", "right"):
            if self.gait.arms in ("both", side):
                self._arm(parts, "left" if side == "left" else "right")
        self._hips(legs)
        for leg in legs:
            self._leg(leg)
        return self.motion, self.driven

    def _turn(self, place: int, body: Array) -> None:
        """Turn a joint as the body's own axes at rest see it. body [poses, 4]."""
        rest = self.rest.rotations[0, place]
        turned = rotation.multiply(rotation.multiply(rotation.conjugate(rest), body), rest)
        self.motion.rotations[:, place] = turned
        self.driven.add(place)

    def _axes(self, **degrees: Array | float) -> Array:
        """Turns about the named axes, outermost first. [poses, 4]."""
        columns = [np.broadcast_to(value, len(self.phases)) for value in degrees.values()]
        return rotation.from_axes("".join(degrees), np.stack(columns, axis=-1))

    def _trunk(self, parts: Mapping[tuple[Side, Part], list[int]]) -> None:
        gait, swing = self.gait, np.cos(TAU * self.phases)
        roll = 2.0 * np.sin(TAU * self.phases) * (gait.hip_turn_degrees > 0)
        hips = self._axes(Y=-gait.hip_turn_degrees * swing, X=0.3 * gait.lean_degrees, Z=roll)
        self._turn(0, hips)
        trunk = parts.get(("middle", "trunk"), [])
        for place in trunk:
            share = 1 / len(trunk)
            twist = 1.8 * gait.hip_turn_degrees * swing * share
            self._turn(
                place, self._axes(Y=twist, X=0.7 * gait.lean_degrees * share, Z=-roll * share)
            )
        # The eyes stay on the way ahead.
        up = [*parts.get(("middle", "neck"), [])[:1], *parts.get(("middle", "head"), [])[:1]]
        for place in up:
            share = 1 / len(up)
            left = 0.8 * gait.hip_turn_degrees if trunk else -gait.hip_turn_degrees
            self._turn(
                place, self._axes(Y=-left * swing * share, X=-0.75 * gait.lean_degrees * share)
            )

    def _arm(self, parts: Mapping[tuple[Side, Part], list[int]], side: Side) -> None:
        upper = parts.get((side, "upper arm"), [None])[0]
        lower = parts.get((side, "forearm"), [None])[0]
        if upper is None or lower is None:
            return
        sign = 1.0 if side == "left" else -1.0
        hanging = self._hanging(upper, lower, sign)
        # Opposite to the leg of its side.
        swing = -sign * self.gait.arm_swing_degrees * np.cos(TAU * self.phases)
        self._turn(upper, rotation.multiply(self._axes(X=-swing), hanging))
        forward_share = np.clip(swing / max(self.gait.arm_swing_degrees, 1e-6), -1.0, 1.0)
        bend = ELBOW_DEGREES + 0.5 * self.gait.arm_swing_degrees * (0.5 + 0.5 * forward_share)
        if self.gait.down_share < 0.5:
            bend = bend + 55.0
        bent = rotation.multiply(rotation.conjugate(hanging), self._axes(X=-bend))
        self._turn(lower, rotation.multiply(bent, hanging))

    def _hanging(self, upper: int, lower: int, sign: float) -> Array:
        """What brings an arm from its rest to hanging at the side [4]."""
        bone = unit(self.rest.positions[0, lower] - self.rest.positions[0, upper])
        out = 0.0 if self.is_flat else np.radians(HANG_OUT_DEGREES)
        down = np.array([sign * np.sin(out), -np.cos(out), 0.0])
        if float(bone @ down) > np.cos(np.radians(25.0)):
            return np.array(rotation.IDENTITY)
        return rotation.least(bone, down)

    def _hips(self, legs: tuple[Leg, ...]) -> None:
        """Height and sway; low enough that no leg is stretched at any pose."""
        gait, figure = self.gait, self.figure
        leg_length = leg_length_metres(figure)
        root_move = self.motion.root_move.copy(order="F")
        bounce = np.array(BOUNCE * 2)
        if gait.down_share < 0.5:
            # In a run the body is highest between the steps, when both feet are off the ground.
            bounce = bounce * np.array([0.4, 1.0, 1.0, 1.6] * 2)
        sway = 0.02 * leg_length * np.sin(TAU * self.phases) * min(1.0, 2 * gait.down_share)
        root_move[:, 0] += 0.0 if self.is_flat else sway
        root_move[:, 1] += gait.bounce_metres * bounce - gait.crouch * leg_length
        self.motion = Motion(self.motion.travel, root_move, self.motion.rotations, {})
        placed = forward(figure, self.motion)
        drop = 0.0
        for leg in legs:
            apart = placed.positions[:, leg.thigh] - self._ankle(leg)[0]
            reach = STRETCH * limb_length_metres(figure, Limb(leg.thigh, leg.shin, leg.foot))
            level = np.hypot(apart[:, 0], apart[:, 2])
            if (level >= reach).any():
                raise Refusal(
                    f"A stride of {gait.stride_metres:.2f} m is longer than {figure.name}'s legs "
                    "reach. Shorten it, or let the feet leave the ground sooner."
                )
            drop = max(drop, float((apart[:, 1] - np.sqrt(reach**2 - level**2)).max()))
        root_move[:, 1] -= drop
        self.motion = Motion(self.motion.travel, root_move, self.motion.rotations, {})

    def _leg(self, leg: Leg) -> None:
        """Thigh and shin bend in one plane, so that the knee is a hinge and its keys stay plain."""
        ankle, foot_turned, toe_turn = self._ankle(leg)
        placed = forward(self.figure, self.motion)
        start = placed.positions[:, leg.thigh]
        upper, lower = (float(np.linalg.norm(self.figure.offsets[j])) for j in (leg.shin, leg.foot))
        ahead = np.array([0.0, 0.0, 1.0])
        knee, ankle = two_bone(start, ankle, upper, lower, ahead)
        across = np.cross(ahead, unit(ankle - start))
        thigh_turned = self._laid(leg.thigh, leg.shin, knee - start, across)
        shin_turned = self._laid(leg.shin, leg.foot, ankle - knee, across)
        above = placed.rotations[:, self.figure.parents[leg.thigh]]
        rotations = self.motion.rotations
        rotations[:, leg.thigh] = local(self.figure, leg.thigh, above, thigh_turned)
        rotations[:, leg.shin] = local(self.figure, leg.shin, thigh_turned, shin_turned)
        rotations[:, leg.foot] = local(self.figure, leg.foot, shin_turned, foot_turned)
        self.driven |= {leg.thigh, leg.shin, leg.foot}
        if leg.toe is not None:
            self._turn(leg.toe, toe_turn)

    def _laid(self, joint: int, below: int, along: Array, across: Array) -> Array:
        """A joint's world rotation with its bone `along` and its hinge `across` [poses, 3]."""
        bone = self.rest.positions[0, below] - self.rest.positions[0, joint]
        rest = _hinged(bone, np.array([1.0, 0.0, 0.0]))
        swung = rotation.multiply(_hinged(along, across), rotation.conjugate(rest))
        return rotation.multiply(swung, self.rest.rotations[0, joint])

    def _ankle(self, leg: Leg) -> tuple[Array, Array, Array]:
        """Where the ankle has to be, how the foot lies in the world, and how far its toes bend."""
        gait, rest = self.gait, self.rest.positions[0]
        shift = 0.0 if leg.side == "left" else 0.5
        phase = np.mod(self.phases + shift, 1.0)
        down, stride = gait.down_share, gait.stride_metres
        u = np.clip((phase - down) / (1 - down), 0.0, 1.0)
        air = _hermite(-down / 2, down / 2, -(1 - down), -(1 - down), u)
        z = stride * np.where(phase <= down, down / 2 - phase, air)
        lift = gait.foot_lift_metres * np.where(phase <= down, 0.0, np.sin(np.pi * u) ** 2)
        heel, tip = _roll_degrees(gait, leg)
        roll = _interp_round(
            phase,
            {0.0: heel, _flat_from(gait): 0.0, _flat(gait)[1]: 0.0, down: -tip,
             down + 0.3 * (1 - down): -0.8 * tip, down + 0.75 * (1 - down): 0.4 * heel},
        )  # fmt: skip
        ankle = rest[leg.foot]
        ball = rest[leg.toe] if leg.toe is not None else ankle * np.array([1.0, 0.0, 1.0])
        back = 0.45 * float(np.linalg.norm((ball - ankle)[[0, 2]]))
        heel_point = np.array([ankle[0], 0.0, ankle[2] - back])
        pivot = np.where((roll >= 0)[:, None], heel_point, ball)
        tipped = self._axes(X=-roll)
        moved = pivot + rotation.rotate(tipped, ankle - pivot)
        moved[:, 1] += lift
        # A flat foot stands under its own hip, and as far ahead as the step has come.
        moved[:, 2] += z - (0.5 * (ankle[2] + ball[2]) if leg.toe is not None else ankle[2])
        # What the ball pushes off from stays flat on the ground; in the air the toes straighten.
        toes = np.where((roll < 0) & (phase <= down), roll, 0.0)
        return (
            moved,
            rotation.multiply(tipped, self.rest.rotations[0, leg.foot]),
            self._axes(X=toes),
        )


def _hinged(along: Array, across: Array) -> Array:
    """The rotation whose −y axis points along a bone and whose x axis is its hinge. [..., 4]."""
    up = -unit(along)
    side = unit(across - up * (across * up).sum(axis=-1, keepdims=True))
    return rotation.from_basis(side, up, np.cross(side, up))


def _roll_degrees(gait: Gait, leg: Leg) -> tuple[float, float]:
    """Heel strike and push-off. A foot without toes stays flat: it has no ball to roll over."""
    if leg.toe is None:
        return 0.0, 0.0
    step = min(1.0, gait.stride_metres)
    return (14.0 if gait.down_share >= 0.5 else 3.0) * step, 38.0 * step


def _hermite(a: float, b: float, out_slope: float, in_slope: float, u: Array) -> Array:
    """One free span from a at 0 to b at 1."""
    free = np.array([Span.FREE], dtype=np.uint8)
    ends = np.array([0.0, 1.0]), np.array([a, b])
    return Spans(*ends, np.array([out_slope]), np.array([in_slope]), free).at(u)


def _interp_round(phase: Array, points: Mapping[float, float]) -> Array:
    """Eased numbers of one round, met across its seam."""
    keys = tuple(Key(time=time, value=value) for time, value in sorted(points.items()))
    return Curve(keys=keys, before="repeat", after="repeat").closed(1.0).values(phase)
