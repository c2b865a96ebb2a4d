"""Faults for the practice engine: what each does to the true state of a sound one."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from pronostico.core.engine import Side, Spec, Valve
from pronostico.core.errors import ImpossibleValue
from pronostico.core.practice.run import Hidden
from pronostico.core.simulation.condition import Condition

Afflicting = Callable[[Condition, Valve, np.random.Generator], tuple[Condition, tuple[str, ...]]]

# Valves with nothing wrong lie about the middle of their spec, well within it.
_SOUND_SHARE = 0.15


def _spec(condition: Condition, valve: Valve) -> Spec:
    spec = condition.engine.latest_spec_of(valve)
    if spec is None:
        raise ImpossibleValue("spec", "none", f"a spec for valve {valve.id}")
    return spec


def _with_clearances(condition: Condition, changed: dict[str, float]) -> Condition:
    return replace(condition, clearance_mm={**condition.clearance_mm, **changed})


def _side(condition: Condition, side: Side) -> list[Valve]:
    return [valve for valve in condition.engine.valves if valve.side == side]


def _sinking(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    """All valves of the side have closed, the worst one past the thinnest blade."""
    changed = {
        valve.id: _spec(condition, valve).min_mm - float(rng.uniform(0.03, 0.09))
        for valve in _side(condition, at.side)
    }
    changed[at.id] = float(rng.uniform(-0.03, 0.01))
    return _with_clearances(condition, changed), tuple(changed)


def _held_open(
    condition: Condition, at: Valve, rng: np.random.Generator
) -> tuple[Condition, tuple[str, ...]]:
    return _with_clearances(condition, {at.id: -float(rng.uniform(0.04, 0.10))}), (at.id,)


def _worn(condition: Condition, _at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    """Ordinary wear: every valve a little wide."""
    changed = {
        valve.id: _spec(condition, valve).max_mm + float(rng.uniform(0.03, 0.09))
        for valve in condition.engine.valves
    }
    return _with_clearances(condition, changed), tuple(changed)


def _backed_off(
    condition: Condition, at: Valve, rng: np.random.Generator
) -> tuple[Condition, tuple[str, ...]]:
    wide = _spec(condition, at).max_mm + float(rng.uniform(0.15, 0.30))
    return _with_clearances(condition, {at.id: wide}), (at.id,)


def _lobe(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    wide = _spec(condition, at).max_mm + float(rng.uniform(0.05, 0.12))
    worn = replace(condition, lift_lost={at.id: float(rng.uniform(0.2, 0.35))})
    return _with_clearances(worn, {at.id: wide}), (at.id,)


def _bent_rod(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    """The clearance is right, and only because the rod is bent; it swings from one turn to the next."""
    bent = replace(
        condition,
        swing_mm={at.id: float(rng.uniform(0.07, 0.11))},
        lift_lost={at.id: float(rng.uniform(0.14, 0.2))},
    )
    return bent, (at.id,)


def _burnt(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    tight = _spec(condition, at).min_mm - float(rng.uniform(0.04, 0.07))
    leaking = replace(condition, face_leak_mm2={at.id: float(rng.uniform(1.4, 2.2))})
    return _with_clearances(leaking, {at.id: tight}), (at.id,)


def _rings(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    worn = replace(condition, ring_leak_mm2={at.cylinder: float(rng.uniform(1.5, 2.2))})
    return worn, tuple(one.id for one in condition.engine.valves if one.cylinder == at.cylinder)


def _release(condition: Condition, at: Valve, rng: np.random.Generator) -> tuple[Condition, tuple[str, ...]]:
    """The clearance is wider than the bump lifts."""
    lift = condition.engine.decompression_lift_mm
    if lift is None:
        raise ImpossibleValue("compression-release lift", "none", "an engine with a compression release")
    return _with_clearances(condition, {at.id: lift + float(rng.uniform(0.02, 0.08))}), (at.id,)


FAULTS: dict[str, Afflicting] = {
    "seat-recession": _sinking,
    "held-open": _held_open,
    "worn-train": _worn,
    "adjuster-backed-off": _backed_off,
    "lobe-worn": _lobe,
    "rod-bent": _bent_rod,
    "valve-burnt": _burnt,
    "rings-worn": _rings,
    "release-lost": _release,
}


def afflicted(
    sound: Condition,
    cause: str | None,
    rng: np.random.Generator,
    *,
    valve: str | None = None,
    shows: tuple[str, ...] = (),
    head_c: float = 20.0,
) -> Hidden:
    """A practice engine with a fault.

    Args:
        cause: one of FAULTS; None: nothing is wrong.
        valve: where; None: any that it can be at (an exhaust valve where it matters; for the compression
            release one that its bump lifts).
        shows: what is to be seen on looking at the valves that have it.
        head_c: how warm the head is, deg C.

    Raises:
        ImpossibleValue: there is no such fault, or the engine cannot have it.
    """
    spread = {
        one.id: _spec(sound, one).middle_mm
        + float(np.clip(rng.normal(0.0, 1.0), -2.0, 2.0)) * _SOUND_SHARE * _spec(sound, one).width_mm
        for one in sound.engine.valves
    }
    condition = replace(_with_clearances(sound, spread), head_c=head_c, air_c=min(head_c, 18.0))
    if cause is None:
        return Hidden(condition, None, ())
    if cause not in FAULTS:
        raise ImpossibleValue("fault", cause, f"one of {', '.join(FAULTS)}")
    lifted = condition.engine.decompression_side if cause == "release-lost" else None
    likely = _side(condition, lifted or "exhaust") or list(condition.engine.valves)
    at = likely[int(rng.integers(len(likely)))] if valve is None else condition.engine.valve(valve)
    condition, valves = FAULTS[cause](condition, at, rng)
    return Hidden(condition, cause, valves, dict.fromkeys(valves, shows) if shows else {})
