"""What an engine's sound follows from: how many cylinders, when they fire, when valves open and close."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from pronostico.core.arrays import FloatArray
from pronostico.core.sound.faults import SoundFault

Side = Literal["intake", "exhaust"]
_CYLINDERS_IF_UNKNOWN = 4
_SUM_WITHIN_DEG = 0.5


@dataclass(frozen=True, slots=True)
class SoundValve:
    """A valve by its cylinder and side."""

    id: str
    cylinder: int
    side: Side


@dataclass(frozen=True, slots=True)
class SoundEngine:
    """An engine as far as its sound goes.

    `firing_order`: empty where it is not known. `firing_intervals_deg`: one a step of the order, None: even.
    `events_deg`: opening and closing of each side after the cylinder's top on compression, None: usual ones.
    """

    firing_order: tuple[int, ...]
    firing_intervals_deg: tuple[float, ...] | None = None
    valves: tuple[SoundValve, ...] = ()
    events_deg: dict[Side, tuple[float, float]] | None = None

    def __post_init__(self) -> None:
        intervals = self.firing_intervals_deg
        if intervals is None:
            return
        if len(intervals) != len(self.firing_order):
            raise SoundFault(
                "bad-engine",
                f"{len(intervals)} firing intervals for {len(self.firing_order)} steps of the firing order; "
                "there must be one a step",
            )
        if abs(sum(intervals) - 720.0) > _SUM_WITHIN_DEG:
            raise SoundFault(
                "bad-engine", f"the firing intervals sum to {sum(intervals):g} degrees, not to 720"
            )

    @property
    def cylinders(self) -> int | None:
        """How many cylinders; None where neither the order nor the valves say."""
        return len(self.firing_order) or len({valve.cylinder for valve in self.valves}) or None

    @property
    def is_even(self) -> bool:
        """Whether it fires at equal intervals."""
        intervals = self.firing_intervals_deg
        return intervals is None or max(intervals) - min(intervals) < 1.0

    def firing_angles_deg(self) -> dict[int, float]:
        """The angle at which each cylinder is at its top on compression, counted from cylinder 1.

        From the lowest number there is where no cylinder is 1.
        """
        count = len(self.firing_order)
        if count == 0:
            return {}
        steps = self.firing_intervals_deg or (720.0 / count,) * count
        angles = np.concatenate([[0.0], np.cumsum(steps)[:-1]])
        angles = np.mod(angles - angles[self.firing_order.index(min(self.firing_order))], 720.0)
        return {cylinder: float(at) for cylinder, at in zip(self.firing_order, angles, strict=True)}


@dataclass(frozen=True, slots=True)
class Firing:
    """The firing as the computation takes it: `count` cylinders, 4 where it is not known.

    `offsets_deg`: rows of firing offsets, seen from one cylinder each; one row where they are even, none
    where there is a single cylinder or nothing is known of them.
    """

    count: int
    known: bool
    even: bool
    offsets_deg: FloatArray

    @property
    def each_turn(self) -> bool:
        """An even two-cylinder engine fires once a turn: firing and crank speed are then one."""
        return self.known and self.even and self.count == 2


def firing_of(engine: SoundEngine | None) -> Firing:
    """The firing of an engine, or of one that nothing is known of."""
    count = None if engine is None else engine.cylinders
    if engine is None or count is None:
        return Firing(_CYLINDERS_IF_UNKNOWN, False, True, np.zeros((0, 0)))
    if count == 1:
        return Firing(1, True, True, np.zeros((0, 0)))
    if engine.is_even:
        return Firing(count, True, True, (np.arange(count) * 720.0 / count)[None, :])
    angles = np.array(list(engine.firing_angles_deg().values()))
    return Firing(count, True, False, np.mod(angles[None, :] - angles[:, None], 720.0))
