"""Odo's body, posed by a few numbers an animator would name: hips, lean, twist, feet, hands, head.

All numbers are arrays over frames [frames] (or scalars), in metres and degrees, as seen from the
travel: +z is forward, +x is Odo's left. Legs and arms reach their targets by two-bone IK.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from elastic_core import rotation
from elastic_core.arrays import Array, by_runs
from elastic_core.figure import Figure
from elastic_core.ik import aimed, two_bone, unit
from elastic_core.motion import Motion

# The sole under the ankle: the heel's edge, and the ball of the foot (the toe joint).
ANKLE_HEIGHT = 0.085
HEEL = -0.055
BALL_FORWARD, BALL_HEIGHT = 0.13, 0.037
SIDES = (("l", 1.0), ("r", -1.0))


@dataclass(frozen=True)
class Foot:
    """x, z: where the flat foot stands; lift: height of the sole; roll: > 0 on the heel, < 0 on the
    ball; toe: share of the roll that the toes follow; out: turned out from straight ahead."""

    x: Any
    z: Any = 0.0
    lift: Any = 0.0
    roll: Any = 0.0
    toe: Any = 0.0
    out: Any = 9.0


@dataclass(frozen=True)
class Arm:
    """Either swinging from the shoulder (swing, bend, out, inward) or reaching for `target`, a place
    in the chest's frame, with the elbow towards `elbow`."""

    swing: Any = 0.0
    bend: Any = 14.0
    out: Any = 8.0
    inward: Any = 14.0
    target: tuple[Any, Any, Any] | None = None
    elbow: tuple[float, float, float] = (0.7, -0.6, -0.5)


@dataclass(frozen=True)
class Body:
    """A whole pose. `pole` is the direction of the lamplighter's pole from his left hand; without
    one it lies over his shoulder."""

    hip_height: Any
    left_foot: Foot
    right_foot: Foot
    left_arm: Arm
    right_arm: Arm
    hip_side: Any = 0.0
    hip_forward: Any = 0.0
    hip_twist: Any = 0.0
    hip_roll: Any = 0.0
    lean: Any = 0.0
    chest_twist: Any = 0.0
    chest_roll: Any = 0.0
    head_pitch: Any = 3.0
    head_turn: Any = 0.0
    head_tilt: Any = 0.0
    pole: tuple[Any, Any, Any] | None = None
    pole_weight: Any = field(default=1.0)


class Poser:
    """Turns `Body` numbers into motion of one figure."""

    def __init__(self, figure: Figure, frames: int) -> None:
        self.figure = figure
        self.frames = frames
        self.places: dict[str, Array] = {}
        self.turns: dict[str, Array] = {}

    def pose(self, body: Body, travel: Array) -> Motion:
        """Frames of motion along `travel` [frames, 3]."""
        self._trunk(body)
        for side, sign in SIDES:
            foot = body.left_foot if side == "l" else body.right_foot
            self._leg(side, sign, foot)
            self._arm(side, sign, body.left_arm if side == "l" else body.right_arm)
        self._pole(body)
        return self._motion(travel)

    def _trunk(self, body: Body) -> None:
        def upright(share: float) -> Array:
            twist = _mix(body.hip_twist, body.chest_twist, share)
            roll = _mix(body.hip_roll, body.chest_roll, share)
            return self._turned(Y=twist, X=body.lean * (0.4 + 0.6 * share), Z=roll)

        hips = self._column(body.hip_side, body.hip_height, body.hip_forward)
        self._set("hips", hips, upright(0.0))
        self._hang("spine", upright(0.5))
        self._hang("chest", upright(1.0))
        neck_turn = 0.4 * np.asarray(body.head_turn) + 0.5 * np.asarray(body.chest_twist)
        neck_pitch = 0.5 * np.asarray(body.lean) + 0.2 * np.asarray(body.head_pitch)
        self._hang("neck", self._turned(Y=neck_turn, X=neck_pitch))
        head = self._turned(Y=body.head_turn, X=body.head_pitch, Z=body.head_tilt)
        self._hang("head", head)

    def _leg(self, side: str, sign: float, foot: Foot) -> None:
        roll = np.radians(np.broadcast_to(foot.roll, self.frames))
        cosine, sine = np.cos(roll), np.sin(roll)
        # On the heel the foot turns about the heel's edge, on the ball about the toe joint.
        on_heel = roll >= 0
        thigh, shin = self._bone(f"{side}_knee"), self._bone(f"{side}_ankle")
        toe_drop = ANKLE_HEIGHT - BALL_HEIGHT
        height = np.where(
            on_heel,
            ANKLE_HEIGHT * cosine - HEEL * sine,
            BALL_HEIGHT + toe_drop * cosine - BALL_FORWARD * sine,
        )
        ahead = np.where(
            on_heel,
            HEEL - HEEL * cosine - ANKLE_HEIGHT * sine,
            BALL_FORWARD - toe_drop * sine - BALL_FORWARD * cosine,
        )
        outward = self._turned(Y=foot.out * np.asarray(sign))
        shift = rotation.rotate(outward, self._column(0.0, height + foot.lift, ahead))
        ankle = self._column(foot.x, 0.0, foot.z) + shift
        hip = self._hung(f"{side}_hip")
        forward = rotation.rotate(outward, np.array([0.0, 0.0, 1.0]))
        knee, ankle = two_bone(hip, ankle, thigh, shin, forward + np.array([sign * 0.06, 0.0, 0.0]))
        self._set(f"{side}_hip", hip, aimed(knee - hip, forward))
        self._set(f"{side}_knee", knee, aimed(ankle - knee, forward))
        turned = rotation.multiply(outward, self._turned(X=-np.asarray(foot.roll)))
        self._set(f"{side}_ankle", ankle, turned)
        toes = -np.asarray(foot.roll) * np.where(on_heel, 1.0, foot.toe)
        self._hang(f"{side}_toe", rotation.multiply(outward, self._turned(X=toes)))

    def _arm(self, side: str, sign: float, arm: Arm) -> None:
        chest, shoulder = self.turns["chest"], self._hung(f"{side}_shoulder")
        upper, lower = self._bone(f"{side}_elbow"), self._bone(f"{side}_wrist")
        down = np.array([0.0, -1.0, 0.0])
        if arm.target is not None:
            target = self.places["chest"] + rotation.rotate(chest, self._column(*arm.target))
            x, y, z = arm.elbow
            bend = rotation.rotate(chest, np.array([sign * x, y, z]))
            elbow, wrist = two_bone(shoulder, target, upper, lower, bend)
        else:
            swing = self._turned(Z=sign * np.asarray(arm.out), X=-np.asarray(arm.swing))
            hanging = rotation.multiply(chest, swing)
            elbow = shoulder + rotation.rotate(hanging, down * upper)
            bent = self._turned(Y=-sign * np.asarray(arm.inward), X=-np.asarray(arm.bend))
            wrist = elbow + rotation.rotate(rotation.multiply(hanging, bent), down * lower)
        front = rotation.rotate(chest, np.array([sign * 0.25, 0.35, 1.0]))
        self._set(f"{side}_shoulder", shoulder, aimed(elbow - shoulder, front))
        self._set(f"{side}_elbow", elbow, aimed(wrist - elbow, front))
        self._set(f"{side}_wrist", wrist, aimed(wrist - elbow, front))

    def _pole(self, body: Body) -> None:
        self._hang("pole", np.broadcast_to(np.array(rotation.IDENTITY), (self.frames, 4)))
        hand = self.places["pole"]
        shoulder = np.array([0.155, 0.275, -0.05])
        rested = self.places["chest"] + rotation.rotate(self.turns["chest"], shoulder)
        along = unit(rested - hand)
        if body.pole is not None:
            weight = np.broadcast_to(body.pole_weight, self.frames)[:, None]
            along = unit(along * (1 - weight) + unit(self._column(*body.pole)) * weight)
        self.turns["pole"] = aimed(-along, hand - self.places["l_elbow"])

    def _motion(self, travel: Array) -> Motion:
        rotations: Array = np.empty((self.frames, len(self.figure.joints), 4), order="F")
        for place, joint in enumerate(self.figure.joints):
            world = self.turns[joint.name]
            if joint.parent >= 0:
                above = self.turns[self.figure.names[joint.parent]]
                world = rotation.multiply(rotation.conjugate(above), world)
            rotations[:, place] = rotation.align_hemispheres(world)
        return Motion(by_runs(travel), by_runs(self.places["hips"]), rotations)

    def _set(self, name: str, place: Array, turn: Array) -> None:
        self.places[name] = np.broadcast_to(place, (self.frames, 3))
        self.turns[name] = np.broadcast_to(turn, (self.frames, 4))

    def _hang(self, name: str, turn: Array) -> None:
        self._set(name, self._hung(name), turn)

    def _hung(self, name: str) -> Array:
        """Where a joint hangs on its parent."""
        place = self.figure.place_of(name)
        parent = self.figure.names[self.figure.parents[place]]
        offset = self.figure.offsets[place]
        return self.places[parent] + rotation.rotate(self.turns[parent], offset)

    def _bone(self, name: str) -> float:
        return float(np.linalg.norm(self.figure.offsets[self.figure.place_of(name)]))

    def _turned(self, **degrees: Any) -> Array:
        """Turns about the named axes, outermost first."""
        columns = [np.broadcast_to(value, self.frames) for value in degrees.values()]
        return rotation.from_axes("".join(degrees), np.stack(columns, axis=-1).astype(np.float64))

    def _column(self, *values: Any) -> Array:
        columns = [np.broadcast_to(value, self.frames) for value in values]
        return np.stack(columns, axis=-1).astype(np.float64)


def _mix(a: Any, b: Any, share: float) -> Array:
    return np.asarray(a) * (1 - share) + np.asarray(b) * share
