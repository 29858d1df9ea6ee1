"""Solving a netlist: operating point and transient, with answers by name.

solution = operating_point(netlist);  solution["drain"]
waves = transient(netlist, stop=0.13);  waves["i(K1)"], waves.current("Q1", "d")
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from ..errors import DocumentError, Problem, SettleError
from ..fields import Document
from ..quantity import show
from . import newton
from .devices import RECORD, Counter, Device, Floats, Ints, Timer, timer
from .engine import Engine, compiled
from .memory import WATCHED, Circuit, endless, fresh_rows, fresh_run, workspace
from .netlist import GROUND, Netlist
from .transient import ESCAPE, MOST_PULLS, fire_due

RTOL = 5e-4  # default relative error allowed in one step
EVENT_RTOL = 1e-4  # the same for unknowns that decide events
EVENT_TOL = 1e-5  # how closely an event is bracketed, as a share of the step it falls in
POINT_RTOL = 1e-8  # of an operating point
STRETCH = 4096  # rows that are computed at a time
MAX_ROWS = 400_000  # rows of a run that is kept
PULLED = 8.0  # steps cut, one after the other, for what runs away: it had followed what could not last
HAIR = 1e-6  # parts that differ by so little are alike


class Stress(Document):
    """A limit that was passed: which device, which limit, how far and when first."""

    device: str
    what: str
    limit: float
    reached: float
    time: float


class Race(Document):
    """A moment at which either of two states may follow: what decides it, and which was taken."""

    device: str
    time: float
    text: str


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


class Flow(NamedTuple):
    """What goes into a device at its unknowns, or at one: conduction [A], charge [C], and how fast both change."""

    conduction: Floats
    charge: Floats
    d_conduction: Floats
    d_charge: Floats


@dataclass(frozen=True)
class Waves:
    """A trajectory: `time` [s], shape (rows,); `waves[name]` the same shape [V or A].

    `slopes` are the unknowns' rates of change. Between two rows each unknown is the cubic through both with their
    slopes; where `jumps` marks the later row, it jumps instead.
    """

    netlist: Netlist
    time: Floats
    unknowns: Floats
    slopes: Floats
    states: Floats
    jumps: Ints
    counts: Counts
    engine: Engine
    torn: bool = False  # it ends where the parts decide which way it goes on
    escape: float | None = None  # when it left a state that could not last and that it had followed long [s]

    def __getitem__(self, name: str) -> Floats:
        if name == GROUND:
            return np.zeros_like(self.time)
        return self.unknowns[:, self.netlist.packed.unknowns.index(name)]

    def slope(self, name: str) -> Floats:
        """Rate of change of an unknown [V/s or A/s]."""
        if name == GROUND:
            return np.zeros_like(self.time)
        return self.slopes[:, self.netlist.packed.unknowns.index(name)]

    @cached_property
    def _places(self) -> dict[str, int]:
        return {d.name: k for k, d in enumerate(self.netlist.flat)}

    @cached_property
    def _devices(self) -> dict[str, Device]:
        return {d.name: d for d in (*self.netlist.flat, *self.netlist.devices)}

    def device(self, name: str) -> Device:
        return self._devices[name]

    def _record(self, name: str) -> Flow:
        """What flows at each unknown of a device with equations, shapes (rows, unknowns)."""
        packed, d = self.netlist.packed, self._places[name]
        width = packed.widths[d]
        work = workspace(packed.plan, width, width, 1.0)
        return Flow(*self.engine.device_flows(packed.circuit(), work, d, width, self.time, self.unknowns, self.slopes, self.states))

    def flow(self, name: str, terminal: str) -> Flow:
        """What flows into a terminal; that into all its parts at the terminal's node."""
        device = self.device(name)
        if device.code:
            k = device.places()[terminal]
            return Flow(*(table[:, k] for table in self._record(name)))
        # Wired with every terminal on a node of its own, the parts tell which of theirs a terminal is.
        apart = device.model_copy(update={t: f"@{t}" for t in device.nodes()})
        parts = [self.flow(p.name, t) for p in apart.parts() for t, n in p.nodes().items() if n == f"@{terminal}"]
        return Flow(*(np.sum(tables, axis=0) for tables in zip(*parts, strict=True)))

    def conduction(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging currents left out [A]."""
        return self.flow(name, terminal).conduction

    def charge(self, name: str, terminal: str) -> Floats:
        """Charge held at a terminal [C]."""
        return self.flow(name, terminal).charge

    def current(self, name: str, terminal: str) -> Floats:
        """Current into a terminal, charging included [A]."""
        return self.current_and_slope(name, terminal)[0]

    def current_and_slope(self, name: str, terminal: str) -> tuple[Floats, Floats]:
        """`current`, and how fast it changes [A/s]; a charging current's slope is taken between rows."""
        flow = self.flow(name, terminal)
        return flow.conduction + flow.d_charge, flow.d_conduction + _between_rows(self.time, flow.d_charge, self.jumps)

    def power(self, name: str) -> Floats:
        """Conduction loss in a device: sum of terminal voltages times currents [W]."""
        return self.power_and_slope(name)[0]

    def power_and_slope(self, name: str) -> tuple[Floats, Floats]:
        """`power`, and how fast it changes [W/s]."""
        device = self.device(name)
        if not device.code:
            parts = [self.power_and_slope(p.name) for p in device.parts()]
            return np.sum([p for p, _ in parts], axis=0), np.sum([s for _, s in parts], axis=0)
        flow = self._record(name)
        power, slope = np.zeros_like(self.time), np.zeros_like(self.time)
        for k, node in enumerate(device.record_nodes()):
            power += self[node] * flow.conduction[:, k]
            slope += self[node] * flow.d_conduction[:, k] + self.slope(node) * flow.conduction[:, k]
        return power, slope

    def state(self, name: str, index: int) -> Floats:
        """One of a device's discrete states over time."""
        device = self.device(name)
        name = name if device.code else device.parts()[0].name
        return self.states[:, int(self.netlist.packed.ia[self._places[name] * RECORD + 2]) + index]

    def races(self) -> tuple[Race, ...]:
        """What woke up without being told its state, and where the whole circuit had none to prefer."""
        found = []
        for device in self.netlist.flat:
            since = float(self.state(device.name, timer.UNDECIDED)[-1]) if isinstance(device, Timer | Counter) else -1.0
            if since < 0.0:
                continue
            if isinstance(device, Timer):
                text = f"its inputs say nothing as the supply rises: its output may come up low or high. Taken here: {device.wakes}."
            else:
                text = f"its reset is not held as the supply rises: its count is unknown. Taken here: {device.start}."
            found.append(Race(device=device.name, time=since, text=text))
        if self.torn:
            text = "The circuit cannot stay as it is, and nothing says which way it goes: both states are possible; the parts decide."
            found.append(Race(device="", time=float(self.time[-1]), text=text))
        return tuple(found)

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


def _between_rows(time: Floats, value: Floats, jumps: Ints) -> Floats:
    """The slope of a curve at its rows, by the parabola through a row's neighbours; one-sided beside a jump."""
    if len(time) < 3 or not value.any():
        return np.zeros_like(value)
    gaps = np.maximum(np.diff(time), 1e-300)
    chords = np.where(jumps[1:] > 0, np.nan, np.diff(value) / gaps)
    before, after = np.concatenate([[np.nan], chords]), np.concatenate([chords, [np.nan]])
    g_before, g_after = np.concatenate([[1.0], gaps]), np.concatenate([gaps, [1.0]])
    middle = (before * g_after + after * g_before) / (g_before + g_after)
    # At an end the parabola's slope there, from the chord beside it and the slope one row further in.
    first = 2 * after - np.concatenate([middle[1:], [np.nan]])
    last = 2 * before - np.concatenate([[np.nan], middle[:-1]])
    found = middle
    for other in (first, last, after, before):
        found = np.where(np.isnan(found), other, found)
    return np.nan_to_num(found)


def _start(netlist: Netlist, guess: Mapping[str, float] | None, states: Mapping[str, list[float]] | None) -> tuple[Circuit, Floats]:
    """The circuit with its first discrete states, and the voltages to hold while a state is sought."""
    packed = netlist.packed
    hold, sa = np.full(len(packed.unknowns) + 2, np.nan), packed.sa.copy()
    hold[0] = 0.0
    for name, volts in (guess or {}).items():
        if name not in packed.unknowns[: packed.nodes]:
            raise DocumentError(Problem(f"guess.{name}", "There is no node of that name in this circuit.", got=name))
        hold[0] = newton.PULL
        hold[1 + packed.unknowns.index(name)] = volts
    if states:
        for d, device in enumerate(netlist.flat):
            if device.name in states:
                begin = int(packed.ia[d * RECORD + 2])
                sa[begin : begin + len(states[device.name])] = states[device.name]
    return packed.circuit(sa), hold


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
        DocumentError: the guess names a node that is not there.
        SettleError: Newton, conductance stepping and source stepping all failed, or no state holds.
    """
    engine = engine or compiled()
    netlist.check()
    circuit, hold = _start(netlist, guess, states)
    n, unknowns = circuit.n, netlist.packed.unknowns
    x, work = np.zeros(n + 1), workspace(circuit.plan, circuit.nodes, n, rtol, hold)
    fire_due(circuit, x, time)
    status = engine.settle(circuit, work, x, time)
    counts = work.counts
    if status != newton.OK:
        raise _unsettled(status, unknowns, counts, 0.0, "the operating point")
    point, still = x[None, :n].copy(), np.zeros((1, n))
    work_done = Counts(int(counts[0]), 0, 0, int(counts[4]), 0, int(counts[6]), 1)
    waves = Waves(netlist, np.array([time]), point, still, circuit.sa[None, :].copy(), np.zeros(1, np.int64), work_done, engine)
    return Solution(netlist, dict(zip(unknowns, map(float, x[:n]), strict=True)), waves)


def stretches(
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
) -> Iterator[Waves]:
    """`transient` as it is computed, a stretch at a time; each begins with the row that ended the one before."""
    engine = engine or compiled()
    netlist.check()
    packed = netlist.packed
    circuit, hold = _start(netlist, guess, None)
    n = circuit.n
    x, work = np.zeros(n + 1), workspace(circuit.plan, circuit.nodes, n, POINT_RTOL, hold)
    fire_due(circuit, x, 0.0)
    if not from_rest:
        status = engine.settle(circuit, work, x, 0.0)
        # A circuit that no state holds oscillates: it may begin anywhere.
        if status != newton.OK and work.counts[4] < newton.ROUNDS:
            raise _unsettled(status, packed.unknowns, work.counts, 0.0, "the operating point at the start")
        work.counts[:] = 0
    work.tol[:] = np.where(packed.role == WATCHED, min(rtol, event_rtol), rtol)
    endless(packed.role, work.ease)
    run, rows, count = fresh_run(circuit, x, packed.charge.copy()), fresh_rows(circuit, STRETCH), 0
    control = np.zeros(2) if control is None else control
    status = newton.MORE
    while status == newton.MORE:
        status, count = engine.march(circuit, work, run, rows, count, stop, h_max or stop / 50, event_tol, from_rest, control)
        if status not in (newton.OK, newton.MORE, newton.TORN):
            raise _unsettled(status, packed.unknowns, work.counts, float(run.memo[0]), "the next step")
        newton_count, _, steps, rejected, events, redone, dense, solves = (int(c) for c in work.counts)
        done = Counts(newton_count, steps, rejected, events, redone, dense, solves)
        escape = float(run.memo[ESCAPE]) if run.memo[MOST_PULLS] > PULLED else None
        yield Waves(netlist, *(table[:count].copy() for table in rows), done, engine, status == newton.TORN, escape)
        for table in rows:
            table[0] = table[count - 1]
        rows.jumps[0] = 0
        count = 1


def joined(parts: Sequence[Waves]) -> Waves:
    """Stretches of one run as one trajectory."""
    tables = zip(*((w.time, w.unknowns, w.slopes, w.states, w.jumps) for w in parts), strict=True)
    time, unknowns, slopes, states, jumps = (np.concatenate([t[0], *(part[1:] for part in t[1:])]) for t in tables)
    return replace(parts[-1], time=time, unknowns=unknowns, slopes=slopes, states=states, jumps=jumps)


def transient(netlist: Netlist, stop: float, **how: Any) -> Waves:
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
        SettleError: no convergence, with the time reached and the unknown that would not settle; or more rows than
            can be kept, where `measured` still answers.
    """
    parts, rows = [], 0
    for part in stretches(netlist, stop, **how):
        parts.append(part)
        rows += len(part.time)
        if rows > MAX_ROWS:
            text = f"More than {MAX_ROWS:,} points would have to be kept. Ask for a shorter time, or for measurements alone."
            raise SettleError(Problem("time", f"At {show(float(part.time[-1]), 's')}: {text}"), float(part.time[-1]))
    return joined(parts)


def _unsettled(status: int, unknowns: tuple[str, ...], counts: Ints, time: float, what: str) -> SettleError:
    worst = int(counts[1])
    where = unknowns[worst] if worst < len(unknowns) else "?"
    tried = "Newton's method, a conductance at every node, and sources raised from zero"
    cause = {
        newton.SINGULAR: f"{where} is not determined by the circuit. Look for a loop of sources or a part without a path.",
        newton.STEP_TOO_SMALL: f"{where} moves faster than any step can follow. Add the resistance or capacitance that slows it.",
        newton.CANCELLED: "the run was cancelled.",
    }.get(status, f"{where} would not settle. Tried {tried}; check the values around it.")
    if status == newton.NO_NEWTON and counts[4] >= newton.ROUNDS:
        cause = "no state holds: as soon as a contact or latch has changed, it changes back. Ask for a transient."
    return SettleError(Problem("time", f"No answer for {what} at {show(time, 's')}: {cause}"), time)
