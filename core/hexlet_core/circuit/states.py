"""The states in which a small circuit can rest: all of them, each tested for stability.

A latch has two stable states and an unstable one between, and Newton's method happily lands on the last.
States are sought from many starts: at rest, and with the controlling nodes held low and high in turn and let
go. A state is stable when no natural frequency of the circuit linearised there grows: all finite eigenvalues
s of (G + s·C)·v = 0 lie in the left half-plane.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from ..errors import HexletError
from .devices import RECORD, Bipolar, Comparator, Device, Floats, Mosfet, Relay, Timer, timer
from .memory import workspace
from .netlist import GROUND, Netlist
from .solve import operating_point
from .waves import Solution

MOST_HELD = 6  # controlling nodes held in all combinations
SAME = 1e-3  # states closer than this in every node are one [V]


@dataclass(frozen=True)
class State:
    """One state of rest and how its fastest-growing disturbance develops [1/s]; stable when that
    is negative.
    """

    point: Solution
    growth: float

    @property
    def stable(self) -> bool:
        return self.growth < 0.0


def growth(point: Solution) -> float:
    """The largest real part of the natural frequencies at a state [1/s]; minus infinity without any."""
    from scipy.linalg import eigvals  # a second to import, and only latches need it

    packed, waves = point.netlist.packed, point.waves
    n = len(packed.unknowns)
    x = np.append(waves.unknowns[0], 0.0)
    work = workspace(packed.plan, packed.nodes, n, 1.0)
    waves.engine.slopes(packed.circuit(waves.states[0]), work, x, float(waves.time[0]))
    g, c = work.J[:n, :n], work.C[:n, :n]
    scale = np.abs(g).max(axis=1, initial=1e-30)
    found = eigvals(-g / scale[:, None], c / scale[:, None])
    finite = found[np.isfinite(found) & (np.abs(found) < 1e14)]
    return float(finite.real.max(initial=-np.inf))


def controls(netlist: Netlist) -> list[str]:
    """Nodes that decide which state a circuit takes: the bases, gates and comparator inputs of
    its devices.
    """
    found: list[str] = []
    for device in netlist.flat:
        node = device.nodes().get({"bipolar": "b", "mosfet": "g", "comparator": "p"}.get(device.device, ""))
        if (
            isinstance(device, Bipolar | Mosfet | Comparator)
            and node
            and node != GROUND
            and node not in found
        ):
            found.append(node)
    return found


def _choices(device: Device) -> Sequence[list[float]]:
    """The discrete states a device may rest in."""
    if isinstance(device, Relay):
        rest = device.state()
        return (rest, [2.0, float("inf"), 1.0, 0.0, 1e9, 0.0])
    if isinstance(device, Timer):
        states = device.state(), device.state()
        for side, state in enumerate(states):
            state[timer.HIGH], state[timer.AWAKE] = float(side), 1.0
        return states
    return (device.state(),)


def all_states(
    netlist: Netlist, *, low: float = 0.0, high: float | None = None, most: int = 200, time: float = 0.0
) -> tuple[State, ...]:
    """Every state of rest found, the stable ones first, each once.

    Args:
        low, high: voltages at which controlling nodes are held; high is the largest source when left out.
        most: starts that are tried at most.
        time: when, for sources that change [s].
    Raises:
        NetlistError: the netlist has no unique solution as drawn.
    """
    netlist.check()
    top = (
        high
        if high is not None
        else max((abs(getattr(d, "value", 0.0)) for d in netlist.flat), default=5.0) or 5.0
    )
    held = controls(netlist)[:MOST_HELD]
    discrete = {d.name: _choices(d) for d in netlist.flat if len(_choices(d)) > 1}
    guesses: list[dict[str, float]] = [{}]
    guesses += (
        [dict(zip(held, levels, strict=True)) for levels in product((low, top), repeat=len(held))]
        if held
        else []
    )
    guesses += [{node: v} for node in held for v in (low, top)]
    found: list[State] = []
    tries = [(g, dict(zip(discrete, s, strict=True))) for s in product(*discrete.values()) for g in guesses]
    for guess, states in tries[:most]:
        try:
            point = operating_point(netlist, guess=guess, states=states, time=time)
        except HexletError:
            continue
        if not any(_same(point, other.point) for other in found):
            found.append(State(point, growth(point)))
    return tuple(sorted(found, key=lambda s: not s.stable))


def _same(a: Solution, b: Solution) -> bool:
    nodes = [n for n in a.values if "(" not in n]
    return all(abs(a[n] - b[n]) < SAME for n in nodes) and bool(np.array_equal(_discrete(a), _discrete(b)))


def _discrete(point: Solution) -> Floats:
    """What tells discrete states apart: the first number of each device's state."""
    packed = point.netlist.packed
    places = [int(packed.ia[d * RECORD + 2]) for d, device in enumerate(point.netlist.flat) if device.state()]
    return point.waves.states[0][places]
