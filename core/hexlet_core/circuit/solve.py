"""Solving a netlist: operating point and transient, with answers by name.

solution = operating_point(netlist);  solution["drain"]
waves = transient(netlist, stop=0.13);  waves["i(K1)"], waves.current("Q1", "d")
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import Problem, SettleError
from ..quantity import show
from . import kernel
from .devices import RECORD, Device, Floats
from .engine import Engine, compiled
from .netlist import GROUND, Netlist

RTOL = 3e-4  # default relative error allowed in one step
EVENT_TOL = 1e-6  # event times, as a share of the step they fall in


@dataclass(frozen=True)
class Solution:
    """An operating point: unknowns by name, currents by device and terminal."""

    netlist: Netlist
    values: dict[str, float]
    _flows: Waves

    def __getitem__(self, name: str) -> float:
        return 0.0 if name == GROUND else self.values[name]

    def current(self, device: str, terminal: str) -> float:
        """Current from the node into a device's terminal [A]."""
        return float(self._flows.conduction(device, terminal)[0])

    def power(self, device: str) -> float:
        """What a device takes up [W]."""
        return float(self._flows.power(device)[0])


@dataclass(frozen=True)
class Counts:
    """The work a transient took."""

    newton: int
    steps: int
    rejected: int
    events: int
    redone: int


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
        return {d.name: k for k, d in enumerate(self.netlist.devices)}

    def device(self, name: str) -> Device:
        return self.netlist.devices[self._places[name]]

    def _flow(self, name: str) -> tuple[Floats, Floats]:
        packed, d = self.netlist.packed, self._places[name]
        found: tuple[Floats, Floats] = self.engine.device_flows(
            packed.ia, packed.fa, d, packed.widths[d], self.time, self.unknowns, self.states
        )
        return found

    def _column(self, name: str, terminal: str) -> int:
        return self.device(name).terminals.index(terminal)

    def conduction(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging currents left out [A]."""
        return self._flow(name)[0][:, self._column(name, terminal)]

    def charge(self, name: str, terminal: str) -> Floats:
        """Charge held at a terminal [C]."""
        return self._flow(name)[1][:, self._column(name, terminal)]

    def current(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging included [A]; the charge's slope is taken between rows."""
        conduction, charge = self._flow(name)
        k = self._column(name, terminal)
        gaps = np.diff(self.time)
        slopes = np.diff(charge[:, k]) / np.where(gaps > 0, gaps, 1.0)
        return conduction[:, k] + np.concatenate([slopes[:1], slopes])

    def power(self, name: str) -> Floats:
        """Conduction loss in a device: sum of terminal voltages times currents [W]."""
        conduction = self._flow(name)[0]
        nodes = self.device(name).record_nodes()
        return np.sum([self[node] * conduction[:, k] for k, node in enumerate(nodes)], axis=0)

    def state(self, name: str, index: int) -> Floats:
        """One of a device's discrete states over time."""
        return self.states[:, int(self.netlist.packed.ia[self._places[name] * RECORD + 2]) + index]


def operating_point(netlist: Netlist, *, rtol: float = 1e-6, engine: Engine | None = None, time: float = 0.0) -> Solution:
    """The settled state with capacitors open.

    Raises:
        NetlistError: the netlist has no unique solution as drawn.
        SettleError: Newton, conductance stepping and source stepping all failed.
    """
    engine = engine or compiled()
    netlist.check()
    packed = netlist.packed
    n = len(packed.unknowns)
    x, sa, lim = np.zeros(n + 1), packed.sa.copy(), packed.lim.copy()
    counts = np.zeros(6, np.int64)
    kernel.fire_due(packed.ia, packed.fa, sa, time)
    status = engine.operating_point(packed.ia, packed.fa, sa, lim, packed.nodes, n, x, time, rtol, counts)
    if status != kernel.OK:
        raise _unsettled(status, packed.unknowns, int(counts[1]), 0.0, "the operating point")
    flows = Waves(netlist, np.array([time]), x[None, :n].copy(), sa[None, :].copy(), Counts(int(counts[0]), 0, 0, 0, 0), engine)
    return Solution(netlist, dict(zip(packed.unknowns, map(float, x[:n]), strict=True)), flows)


def transient(
    netlist: Netlist,
    stop: float,
    *,
    h_max: float | None = None,
    rtol: float = RTOL,
    event_tol: float = EVENT_TOL,
    from_rest: bool = False,
    engine: Engine | None = None,
) -> Waves:
    """The circuit over time, from its operating point at 0 or, `from_rest`, from discharged.

    Args:
        stop: end [s].
        h_max: longest step [s]; a fiftieth of `stop` when left out.
        rtol: relative error allowed in one step.
        event_tol: error allowed in an event's time, as a share of the step.
    Raises:
        NetlistError: the netlist has no unique solution as drawn.
        SettleError: no convergence, with the time reached and the unknown that would not settle.
    """
    engine = engine or compiled()
    netlist.check()
    packed = netlist.packed
    n = len(packed.unknowns)
    x, sa, lim = np.zeros(n + 1), packed.sa.copy(), packed.lim.copy()
    kernel.fire_due(packed.ia, packed.fa, sa, 0.0)
    if not from_rest:
        counts = np.zeros(6, np.int64)
        status = engine.operating_point(packed.ia, packed.fa, sa, lim, packed.nodes, n, x, 0.0, 1e-6, counts)
        if status != kernel.OK:
            raise _unsettled(status, packed.unknowns, int(counts[1]), 0.0, "the operating point at the start")
    status, rows, reached, counts, times, xs, states = engine.transient(
        packed.ia, packed.fa, sa, lim, packed.nodes, n, x, stop, h_max or stop / 50, rtol, event_tol, from_rest
    )
    if status != kernel.OK:
        raise _unsettled(status, packed.unknowns, int(counts[1]), reached, "the next step")
    kept = Counts(int(counts[0]), int(counts[2]), int(counts[3]), int(counts[4]), int(counts[5]))
    return Waves(netlist, times[:rows].copy(), xs[:rows].copy(), states[:rows].copy(), kept, engine)


def _unsettled(status: int, unknowns: tuple[str, ...], worst: int, time: float, what: str) -> SettleError:
    where = unknowns[worst] if worst < len(unknowns) else "?"
    cause = {
        kernel.SINGULAR: f"{where} is not determined by the circuit. Look for a loop of sources or a part without a path.",
        kernel.STEP_TOO_SMALL: f"{where} moves faster than any step can follow. Add the resistance or capacitance that slows it.",
        kernel.TOO_MANY_ROWS: f"More than {kernel.MAX_ROWS:,} points were needed. Ask for a shorter time.",
    }.get(status, f"{where} would not settle. Tried Newton, conductance stepping and smaller steps; check the values around it.")
    return SettleError(Problem("time", f"No answer for {what} at {show(time, 's')}: {cause}"), time)
