"""What the stand-in stage sends, frame after frame: who wears the suit, unclean, with frames lost, late and
doubled. All of it follows from the seed and from what is asked when."""

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from ...arrays import Array, Index
from ...motion import Motion
from .performer import Move, State, posed, stepped
from .suit import suit
from .unclean import Shake, Uncleanness, shake_of, shaken


@dataclass(frozen=True)
class Hiccups:
    """How often a thousand frames are lost, late and doubled; losses run for up to so many frames, and a late
    frame comes up to so many frames later."""

    lost: float = 3.0
    longest_lost: int = 18
    late: float = 6.0
    latest: int = 9
    doubled: float = 6.0


@dataclass(frozen=True, eq=False)
class SentFrame:
    """A frame as it goes out."""

    number: int
    position: Array
    rotations: Array


# Turned back so far from its middle.
_ROOM_METRES = 3.5
_DRIFTS_SECONDS = 120.0
_AS_A_STAGE_IS = Uncleanness(tilt_degrees=(1.1, -0.6), drift_metres_a_minute=0.2)


@dataclass
class Broadcast:
    """A stage that runs: `sent` is asked again and again for the next few frames."""

    fps: int
    seed: int
    how: Uncleanness = _AS_A_STAGE_IS
    hiccups: Hiccups = field(default_factory=Hiccups)
    state: State = field(default_factory=State)
    at: tuple[float, float] = (0.0, 0.0)
    number: int = 0
    _shakes: dict[int, Shake] = field(default_factory=dict)
    _waiting: list[tuple[int, SentFrame]] = field(default_factory=list)
    _lost_until: int = 0

    def sent(self, move: Move, count: int) -> list[SentFrame]:
        """The frames that go out while so many more are captured, in the order in which they do."""
        states = [self.state]
        does = self._within_the_room(move)
        for _ in range(count):
            states.append(stepped(states[-1], does, 1 / self.fps))
            if does == "stumble":
                does = "walk"
        motion = posed(states, self.at)
        self.state, self.at = states[-1], (float(motion.travel[-1, 0]), float(motion.travel[-1, 1]))
        captured = motion.at(np.arange(1, count + 1))
        going = list(self._out(captured))
        self.number += count
        return going

    def _within_the_room(self, move: Move) -> Move:
        """Whoever walks turns back at the edge of the room."""
        x, z = self.at
        heading = self.state.heading
        ahead = x * np.sin(heading) + z * np.cos(heading)
        leaves = np.hypot(x, z) > _ROOM_METRES and ahead > -0.85 * np.hypot(x, z)
        return "turn" if leaves and move in ("walk", "stumble") else move

    def _out(self, captured: Motion) -> Iterator[SentFrame]:
        numbers = self.number + np.arange(captured.frames)
        seconds = numbers / self.fps
        # It drifts to one side and back, however long it runs.
        drifts = _DRIFTS_SECONDS - np.abs(seconds % (2 * _DRIFTS_SECONDS) - _DRIFTS_SECONDS)
        position, rotations = shaken(captured, self._shake(numbers), drifts, self.how)
        for place, number in enumerate(numbers.tolist()):
            frame = SentFrame(number, position[place], rotations[place])
            chance = np.random.default_rng((self.seed, 7, number))
            luck = chance.random(3) * 1000
            if luck[0] < self.hiccups.lost:
                self._lost_until = number + 1 + int(chance.integers(0, self.hiccups.longest_lost))
            if number >= self._lost_until:
                if luck[1] < self.hiccups.late:
                    later = 1 + int(chance.integers(0, self.hiccups.latest))
                    self._waiting.append((number + later, frame))
                else:
                    yield frame
                    if luck[2] < self.hiccups.doubled:
                        yield frame
            due = [late for when, late in self._waiting if when <= number]
            self._waiting = [(when, late) for when, late in self._waiting if when > number]
            yield from due

    def _shake(self, numbers: Index) -> Shake:
        """By how much these frames are off: each second by itself, however few are asked for at a time."""
        seconds = sorted(set((numbers // self.fps).tolist()))
        self._shakes = {
            second: self._shakes.get(second) or self._drawn(second) for second in seconds
        }
        rows = [(self._shakes[n // self.fps], n % self.fps) for n in numbers.tolist()]
        turns = np.stack([shake.turns[row] for shake, row in rows])
        return Shake(turns, np.stack([shake.places[row] for shake, row in rows]))

    def _drawn(self, second: int) -> Shake:
        chance = np.random.default_rng((self.seed, 3, second))
        return shake_of(self.how, self.fps, len(suit().joints), chance)
