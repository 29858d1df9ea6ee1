"""Solving a netlist: operating point and transient, with answers by name.

solution = operating_point(netlist);  solution["drain"]
waves = transient(netlist, stop=0.13);  waves["i(K1)"], waves.current("Q1", "d")
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import Problem, SettleError
from ..fields import Document
from ..quantity import show
from . import newton
from .devices import RECORD, Device, Floats, Ints
from .engine import Engine, compiled
from .netlist import GROUND, Netlist
from .transient import MAX_ROWS, fire_due

RTOL = 5e-4  # default relative error allowed in one step
EVENT_RTOL = 1e-4  # the same for unknowns that decide events
EVENT_TOL = 1e-5  # how closely an event is bracketed, as a share of the step it falls in
POINT_RTOL = 1e-8  # of an operating point


class Stress(Document):
    """A limit that was passed: which device, which limit, how far and when first."""

    device: str
    what: str
    limit: float
    reached: float
    time: float


@dataclass(frozen=True)
class Solution:
    """An operating point: unknowns by name, currents by device and terminal."""

    netlist: Netlist
    values: dict[str, float]
    waves: Waves

    def __getitem__(self, name: str) -> float:
        return 0.0 if name == GROUND else self.values[name]

    def current(self, device: str, terminal: str) -> float:
        """Current from the node into a device's terminal [A]."""
        return float(self.waves.conduction(device, terminal)[0])

    def power(self, device: str) -> float:
        """What a device takes up [W]."""
        return float(self.waves.power(device)[0])

    def state(self, device: str, index: int = 0) -> float:
        """One of a device's discrete states."""
        return float(self.waves.state(device, index)[0])


@dataclass(frozen=True)
class Counts:
    """The work a transient took."""

    newton: int  # assemblies of the whole circuit: every Newton iteration is one
    steps: int
    rejected: int
    events: int
    redone: int
    dense: int  # factorings that had to leave the fixed order
    solves: int


@dataclass(frozen=True)
class Waves:
    """A trajectory: `time` [s], shape (rows,); `waves[name]` the same shape [V or A]."""

    netlist: Netlist
    time: Floats
    unknowns: Floats
    states: Floats
    counts: Counts
    engine: Engine

    def __getitem__(self, name: str) -> Floats:
        if name == GROUND:
            return np.zeros_like(self.time)
        return self.unknowns[:, self.netlist.packed.unknowns.index(name)]

    @cached_property
    def _places(self) -> dict[str, int]:
        return {d.name: k for k, d in enumerate(self.netlist.flat)}

    @cached_property
    def _devices(self) -> dict[str, Device]:
        return {d.name: d for d in (*self.netlist.flat, *self.netlist.devices)}

    def device(self, name: str) -> Device:
        return self._devices[name]

    def _record(self, name: str) -> tuple[Floats, Floats]:
        """Conduction and charge at each unknown of a device with equations."""
        packed, d = self.netlist.packed, self._places[name]
        found: tuple[Floats, Floats] = self.engine.device_flows(
            packed.ia, packed.fa, d, packed.widths[d], self.time, self.unknowns, self.states
        )
        return found

    def _flow(self, name: str, terminal: str) -> tuple[Floats, Floats]:
        """Conduction [A] and charge [C] into a terminal; those of all its parts at the terminal's node."""
        device = self.device(name)
        if device.code:
            conduction, charge = self._record(name)
            k = device.places()[terminal]
            return conduction[:, k], charge[:, k]
        # Wired with every terminal on a node of its own, the parts tell which of theirs a terminal is.
        apart = device.model_copy(update={t: f"@{t}" for t in device.nodes()})
        parts = [self._flow(p.name, t) for p in apart.parts() for t, n in p.nodes().items() if n == f"@{terminal}"]
        return np.sum([c for c, _ in parts], axis=0), np.sum([q for _, q in parts], axis=0)

    def conduction(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging currents left out [A]."""
        return self._flow(name, terminal)[0]

    def charge(self, name: str, terminal: str) -> Floats:
        """Charge held at a terminal [C]."""
        return self._flow(name, terminal)[1]

    def current(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging included [A]; the charge's slope is taken between rows."""
        conduction, charge = self._flow(name, terminal)
        if len(self.time) == 1:
            return conduction
        gaps = np.diff(self.time)
        slopes = np.diff(charge) / np.where(gaps > 0, gaps, 1.0)
        return conduction + np.concatenate([slopes[:1], slopes])

    def power(self, name: str) -> Floats:
        """Conduction loss in a device: sum of terminal voltages times currents [W]."""
        device = self.device(name)
        if not device.code:
            return np.sum([self.power(p.name) for p in device.parts()], axis=0)
        conduction = self._record(name)[0]
        return np.sum([self[node] * conduction[:, k] for k, node in enumerate(device.record_nodes())], axis=0)

    def state(self, name: str, index: int) -> Floats:
        """One of a device's discrete states over time."""
        device = self.device(name)
        name = name if device.code else device.parts()[0].name
        return self.states[:, int(self.netlist.packed.ia[self._places[name] * RECORD + 2]) + index]

    def stresses(self) -> tuple[Stress, ...]:
        """Every limit that a device states and that was passed."""
        found = []
        for device in self.netlist.flat:
            for what, a, b, limit in device.ratings():
                nodes = device.nodes()
                if a not in nodes or b not in nodes:
                    continue
                v = self[nodes[a]] - self[nodes[b]]
                v = np.abs(v) if what in ("gate", "voltage") else v
                if float(v.max()) > limit:
                    k = int(np.argmax(v > limit))
                    first = np.interp(limit, v[k - 1 : k + 1], self.time[k - 1 : k + 1]) if k else self.time[0]
                    found.append(Stress(device=device.name, what=what, limit=limit, reached=float(v.max()), time=float(first)))
        return tuple(found)


def _start(netlist: Netlist, guess: Mapping[str, float] | None, states: Mapping[str, list[float]] | None) -> tuple[Floats, Floats]:
    """First unknowns with the voltages to hold, and discrete states."""
    packed = netlist.packed
    n = len(packed.unknowns)
    hold, sa = np.full(n + 2, np.nan), packed.sa.copy()
    hold[0] = 0.0
    for name, volts in (guess or {}).items():
        hold[0] = newton.PULL
        hold[1 + packed.unknowns.index(name)] = volts
    if states:
        for d, device in enumerate(netlist.flat):
            if device.name in states:
                begin = int(packed.ia[d * RECORD + 2])
                sa[begin : begin + len(states[device.name])] = states[device.name]
    return hold, sa


def operating_point(
    netlist: Netlist,
    *,
    rtol: float = POINT_RTOL,
    engine: Engine | None = None,
    time: float = 0.0,
    guess: Mapping[str, float] | None = None,
    states: Mapping[str, list[float]] | None = None,
) -> Solution:
    """The settled state with capacitors open, and relays, latches and modules in the state that goes with it.

    Args:
        guess: voltages near which a state is wanted, by node: it is held there first and then released.
        states: discrete states to begin with, by device.
    Raises:
        NetlistError: the netlist has no unique solution as drawn.
        SettleError: Newton, conductance stepping and source stepping all failed, or no state holds.
    """
    engine = engine or compiled()
    netlist.check()
    packed = netlist.packed
    n = len(packed.unknowns)
    hold, sa = _start(netlist, guess, states)
    x, lim, counts = np.zeros(n + 1), packed.lim.copy(), np.zeros(8, np.int64)
    fire_due(packed.ia, packed.fa, sa, x, time)
    status = engine.settle(
        packed.ia, packed.fa, sa, lim, packed.plan, packed.nodes, n, x, time, np.full(n, rtol), hold, counts
    )  # fmt: skip
    if status != newton.OK:
        raise _unsettled(status, packed.unknowns, counts, 0.0, "the operating point")
    flows = Waves(
        netlist, np.array([time]), x[None, :n].copy(), sa[None, :].copy(),
        Counts(int(counts[0]), 0, 0, int(counts[4]), 0, int(counts[6]), 1), engine,
    )  # fmt: skip
    return Solution(netlist, dict(zip(packed.unknowns, map(float, x[:n]), strict=True)), flows)


def transient(
    netlist: Netlist,
    stop: float,
    *,
    h_max: float | None = None,
    rtol: float = RTOL,
    event_rtol: float = EVENT_RTOL,
    event_tol: float = EVENT_TOL,
    from_rest: bool = False,
    guess: Mapping[str, float] | None = None,
    engine: Engine | None = None,
    control: Floats | None = None,
) -> Waves:
    """The circuit over time, from its operating point at 0 or, `from_rest`, from discharged.

    Args:
        stop: end [s].
        h_max: longest step [s]; a fiftieth of `stop` when left out.
        rtol: relative error allowed in one step; `event_rtol`: the same where it decides an event.
        event_tol: how closely an event is bracketed, as a share of the step.
        guess: which operating point to start from, as in `operating_point`.
        control: two numbers; setting the first ends the run, the second tells the time reached [s].
    Raises:
        NetlistError: the netlist has no unique solution as drawn.
        SettleError: no convergence, with the time reached and the unknown that would not settle.
    """
    engine = engine or compiled()
    netlist.check()
    packed = netlist.packed
    n = len(packed.unknowns)
    hold, sa = _start(netlist, guess, None)
    x, lim, q = np.zeros(n + 1), packed.lim.copy(), packed.charge.copy()
    fire_due(packed.ia, packed.fa, sa, x, 0.0)
    if not from_rest:
        counts = np.zeros(8, np.int64)
        tight = np.full(n, POINT_RTOL)
        status = engine.settle(packed.ia, packed.fa, sa, lim, packed.plan, packed.nodes, n, x, 0.0, tight, hold, counts)
        # A circuit that no state holds oscillates: it may begin anywhere.
        if status != newton.OK and counts[4] < newton.ROUNDS:
            raise _unsettled(status, packed.unknowns, counts, 0.0, "the operating point at the start")
    status, rows, reached, counts, times, xs, states = engine.transient(
        packed.ia, packed.fa, sa, lim, packed.plan, packed.nodes, n, x, q, stop, h_max or stop / 50,
        packed.role, rtol, event_rtol, event_tol, from_rest, np.zeros(2) if control is None else control,
    )  # fmt: skip
    if status != newton.OK:
        raise _unsettled(status, packed.unknowns, counts, reached, "the next step")
    _, _, steps, rejected, events, redone, dense, solves = (int(c) for c in counts)
    kept = Counts(int(counts[0]), steps, rejected, events, redone, dense, solves)
    return Waves(netlist, times[:rows].copy(), xs[:rows].copy(), states[:rows].copy(), kept, engine)


def _unsettled(status: int, unknowns: tuple[str, ...], counts: Ints, time: float, what: str) -> SettleError:
    worst = int(counts[1])
    where = unknowns[worst] if worst < len(unknowns) else "?"
    tried = "Newton's method, a conductance at every node, and sources raised from zero"
    cause = {
        newton.SINGULAR: f"{where} is not determined by the circuit. Look for a loop of sources or a part without a path.",
        newton.STEP_TOO_SMALL: f"{where} moves faster than any step can follow. Add the resistance or capacitance that slows it.",
        newton.TOO_MANY_ROWS: f"More than {MAX_ROWS:,} points were needed. Ask for a shorter time.",
        newton.CANCELLED: "the run was cancelled.",
    }.get(status, f"{where} would not settle. Tried {tried}; check the values around it.")
    if status == newton.NO_NEWTON and counts[4] >= newton.ROUNDS:
        cause = "no state holds: as soon as a contact or latch has changed, it changes back. Ask for a transient."
    return SettleError(Problem("time", f"No answer for {what} at {show(time, 's')}: {cause}"), time)
