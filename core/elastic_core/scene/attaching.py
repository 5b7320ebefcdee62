"""Figures that ride on a joint of another one, or on a guide, as that is played (rule 7.5).

While it rides, a figure's mark is carried by the joint: world = joint ∘ offset ∘ mark⁻¹ ∘ its own. Its own
motion goes on on top, in its own time; the joint is where it plays, through every elastic and exposure.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from .. import rotation
from ..arrays import Array, Index, by_runs
from ..errors import Refusal
from ..figure import Placed
from ..moments import Played
from ..motion import Motion
from .document import Attachment, Scene, SceneFigure
from .guide import guide_frames
from .material import Material


@dataclass(frozen=True, eq=False)
class Rigid:
    """Rigid motions in the world: turns [n, 4], then moves [n, 3] metres."""

    turn: Array
    move: Array

    def after(self, first: "Rigid") -> "Rigid":
        """This one after another one."""
        return Rigid(
            rotation.multiply(self.turn, first.turn),
            rotation.rotate(self.turn, first.move) + self.move,
        )

    def inverse(self) -> "Rigid":
        """What undoes it."""
        back = rotation.conjugate(self.turn)
        return Rigid(back, -rotation.rotate(back, self.move))

    def at(self, places: Index) -> "Rigid":
        """Some of them."""
        return Rigid(self.turn[places], self.move[places])


def mark_frame(member: SceneFigure, frames: int) -> Rigid:
    """A figure's mark on the ground, as often as asked."""
    x, z, heading = member.mark
    turn = rotation.about_axis("Y", np.full(frames, heading))
    return Rigid(turn, np.tile(np.array([x, 0.0, z]), (frames, 1)))


def joint_frame(placed: Placed, joint: int, *, turns: bool) -> Rigid:
    """A joint where it plays; without `turns` only its place."""
    move = placed.positions[:, joint]
    turn = placed.rotations[:, joint]
    if not turns:
        turn = np.tile(np.array(rotation.IDENTITY), (len(move), 1))
    return Rigid(turn, move)


def guide_frame(rows: Array, *, turns: bool) -> Rigid:
    """A guide's place and heading [n, 4]; without `turns` only its place."""
    heading = rows[:, 3] if turns else np.zeros(len(rows))
    return Rigid(rotation.about_axis("Y", heading), rows[:, :3])


def offset_of(attachment: Attachment, frames: int) -> Rigid:
    """An attachment's offset, as often as asked."""
    return Rigid(
        np.tile(np.array(attachment.turn), (frames, 1)),
        np.tile(np.array(attachment.offset), (frames, 1)),
    )


@dataclass(frozen=True, eq=False)
class Carried:
    """Where something is that may ride, and the frames at which it does: their places. [n]"""

    world: Rigid
    rides: Index


def carrying(
    scene: Scene,
    material: Material,
    member: SceneFigure,
    at: Played,
    placed_of: Callable[[str], Placed],
) -> Rigid:
    """What carries a figure at these played frames [n]: the joint or the guide it rides on, with its offset,
    else its mark. `placed_of` tells where the joints of the scene's figures play at them, by the figures'
    ids."""
    mark = mark_frame(member, len(at))
    return carried_by(scene, material, member.attachments, at, placed_of, mark).world


def carried_by(
    scene: Scene,
    material: Material,
    attachments: Sequence[Attachment],
    at: Played,
    placed_of: Callable[[str], Placed],
    standing: Rigid,
) -> Carried:
    """The same for anything that has attachments, and stands somewhere where it does not ride. [n]"""
    laid = scene.elastic.source(at)
    turn, move = standing.turn.copy(), standing.move.copy()
    rides = np.zeros(len(laid), dtype=np.bool_)
    for attachment in attachments:
        end = np.inf if attachment.end is None else attachment.end
        where = np.flatnonzero((laid >= attachment.start - 1e-9) & (laid < end - 1e-9))
        if not where.size:
            continue
        on = ridden(scene, material, attachment, at, placed_of).at(where)
        carried = on.after(offset_of(attachment, len(where)))
        turn[where], move[where] = carried.turn, carried.move
        rides[where] = True
    return Carried(Rigid(turn, move), np.flatnonzero(rides))


def ridden(
    scene: Scene,
    material: Material,
    attachment: Attachment,
    at: Played,
    placed_of: Callable[[str], Placed],
) -> Rigid:
    """What a figure rides on, where it plays. [n]"""
    if attachment.joint is None:
        guide = scene.guide(attachment.to)
        return guide_frame(guide_frames(guide, scene.elastic, at), turns=attachment.turns)
    figure = material.figure(scene.figure(attachment.to).figure)
    joint = figure.place_of(attachment.joint)
    return joint_frame(placed_of(attachment.to), joint, turns=attachment.turns)


def carried_along(
    member: SceneFigure, by: Rigid, motion: Motion, placed: Placed
) -> tuple[Motion, Placed]:
    """A figure's own motion and joints on what carries it, instead of on its mark."""
    world = by.after(mark_frame(member, motion.frames).inverse())
    joints = placed.positions.shape[1]
    turn = np.repeat(world.turn[:, None], joints, axis=1)
    positions = rotation.rotate(turn, placed.positions) + world.move[:, None]
    rotations = rotation.multiply(turn, placed.rotations)
    root, root_turn = positions[:, 0], rotations[:, 0]
    level = np.zeros(motion.frames)
    own = motion.rotations.copy(order="F")
    own[:, 0] = root_turn
    moved = replace(
        motion,
        travel=by_runs(np.stack([root[:, 0], root[:, 2], level], axis=-1)),
        root_move=by_runs(np.stack([level, root[:, 1], level], axis=-1)),
        rotations=own,
    )
    # It heads where it looks, as its path is drawn.
    heading, _ = rotation.split_heading(root_turn)
    travel = np.stack([root[:, 0], root[:, 2], heading], axis=-1)
    return moved.relaid(travel), Placed(by_runs(positions), by_runs(rotations))


def riders_in_order(scene: Scene) -> list[SceneFigure]:
    """Every figure after those that it rides on. Raises Refusal where one would ride on itself."""
    members: Mapping[str, SceneFigure] = {member.id: member for member in scene.figures}
    found: dict[str, SceneFigure] = {}

    def visit(member: SceneFigure, above: tuple[str, ...]) -> None:
        """Whom a figure rides on first, then itself. Raises Refusal where it is among them."""
        if member.id in above:
            raise Refusal(f"{member.name} would ride on itself.")
        for attachment in member.attachments:
            if attachment.to in members:
                visit(members[attachment.to], (*above, member.id))
        found.setdefault(member.id, member)

    for member in scene.figures:
        visit(member, ())
    return list(found.values())
