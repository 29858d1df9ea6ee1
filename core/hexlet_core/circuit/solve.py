"""Solving a netlist: operating point and transient, with answers by name.

solution = operating_point(netlist);  solution["drain"] waves = transient(netlist, stop=0.13);
waves["i(K1)"], waves.current("Q1", "d")
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ..errors import DocumentError, Problem, SettleError
from ..quantity import show
from . import newton
from .devices import RECORD, Capacitor, CurrentSource, Device, Floats, Inductor, Ints, VoltageSource
from .engine import Engine, compiled, for_points
from .memory import WATCHED, Circuit, endless, first_rows, fresh_rows, fresh_run, workspace
from .netlist import Netlist
from .transient import ESCAPE, MOST_PULLS, fire_due
from .waves import Counts, Solution, Waves

RTOL = 5e-4  # default relative error allowed in one step
EVENT_RTOL = 1e-4  # the same for unknowns that decide events
EVENT_TOL = 1e-5  # how closely an event is bracketed, as a share of the step it falls in
POINT_RTOL = 1e-8  # of an operating point
STRETCH = 4096  # rows that are computed at a time
MAX_ROWS = 400_000  # rows of a run that is kept
PULLED = 8.0  # steps cut, one after the other, for what runs away: it had followed what could not last


class TooLong(SettleError):
    """A run of more rows than are kept."""


def _start(
    netlist: Netlist, guess: Mapping[str, float] | None, states: Mapping[str, list[float]] | None
) -> tuple[Circuit, Floats]:
    """The circuit with its first discrete states, and the voltages to hold while a state is sought."""
    packed = netlist.packed
    hold, sa = np.full(len(packed.unknowns) + 2, np.nan), packed.sa.copy()
    hold[0] = 0.0
    for name, volts in (guess or {}).items():
        if name not in packed.unknowns[: packed.nodes]:
            raise DocumentError(
                Problem(f"guess.{name}", "There is no node of that name in this circuit.", got=name)
            )
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
    netlist.check()
    engine = engine or for_points(len(netlist.flat))
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
    waves = Waves(
        netlist,
        np.array([time]),
        point,
        still,
        circuit.sa[None, :].copy(),
        np.zeros(1, np.int64),
        work_done,
        engine,
    )
    return Solution(netlist, dict(zip(unknowns, map(float, x[:n]), strict=True)), waves)


def _held(netlist: Netlist, starts: Mapping[str, float]) -> Netlist:
    """The circuit with capacitors held at a voltage and inductors at a current.

    Raises:
        DocumentError: a name that is not there, or a part that holds neither.
    """
    held: list[Device] = []
    for device in netlist.devices:
        value = starts.get(device.name)
        if value is None:
            held.append(device)
        elif isinstance(device, Capacitor):
            # A microohm lets capacitors side by side be held together.
            held.append(
                VoltageSource(
                    name=device.name, a=device.a, b=device.b, value=value, resistance=max(device.esr, 1e-6)
                )
            )
        elif isinstance(device, Inductor):
            held.append(CurrentSource(name=device.name, a=device.a, b=device.b, value=value))
        else:
            raise DocumentError(
                Problem(
                    f"starts.{device.name}",
                    "Only capacitors and inductors keep what they start with.",
                    got=device.name,
                )
            )
    for name in starts:
        if all(d.name != name for d in netlist.devices):
            raise DocumentError(
                Problem(f"starts.{name}", "There is no part of that name in this circuit.", got=name)
            )
    return Netlist.of(held)


def _begun(
    netlist: Netlist, starts: Mapping[str, float], guess: Mapping[str, float] | None, engine: Engine
) -> tuple[Floats, Floats]:
    """Unknowns and discrete states at rest but for what some parts start with."""
    point = operating_point(_held(netlist, starts), guess=guess, engine=engine)
    packed, x = netlist.packed, np.zeros(len(netlist.packed.unknowns) + 1)
    for k, name in enumerate(packed.unknowns):
        x[k] = point.values.get(name, 0.0)
    for device in netlist.devices:
        if isinstance(device, Inductor) and device.name in starts:
            x[packed.unknowns.index(f"i({device.name})")] = starts[device.name]
        elif isinstance(device, Capacitor) and device.name in starts and device.esr > 0:
            x[packed.unknowns.index(f"{device.name}#0")] = point[device.b] + starts[device.name]
    sa = packed.sa.copy()
    for d, device in enumerate(netlist.flat):
        begin = int(packed.ia[d * RECORD + 2])
        for k in range(len(device.state())):
            sa[begin + k] = point.waves.state(device.name, k)[0]
    return x, sa


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
    starts: Mapping[str, float] | None = None,
    engine: Engine | None = None,
    control: Floats | None = None,
) -> Iterator[Waves]:
    """`transient` as it is computed, a stretch at a time; each begins with the row that ended the one
    before.
    """
    engine = engine or compiled()
    netlist.check(charged=from_rest or bool(starts))
    packed = netlist.packed
    circuit, hold = _start(netlist, guess, None)
    n = circuit.n
    x, work = np.zeros(n + 1), workspace(circuit.plan, circuit.nodes, n, POINT_RTOL, hold)
    fire_due(circuit, x, 0.0)
    if starts:
        x, circuit.sa[:] = _begun(netlist, starts, guess, engine)
    elif not from_rest:
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
        status, count = engine.march(
            circuit, work, run, rows, count, stop, h_max or stop / 50, event_tol, from_rest, control
        )
        if status not in (newton.OK, newton.MORE, newton.TORN):
            raise _unsettled(status, packed.unknowns, work.counts, float(run.memo[0]), "the next step")
        newton_count, _, steps, rejected, events, redone, dense, solves = (int(c) for c in work.counts)
        done = Counts(newton_count, steps, rejected, events, redone, dense, solves)
        escape = float(run.memo[ESCAPE]) if run.memo[MOST_PULLS] > PULLED else None
        kept = first_rows(rows, count)
        yield Waves(
            netlist=netlist,
            time=kept.times,
            unknowns=kept.xs,
            slopes=kept.slopes,
            states=kept.states,
            jumps=kept.jumps,
            counts=done,
            engine=engine,
            torn=status == newton.TORN,
            escape=escape,
        )
        count = 1


def joined(parts: Sequence[Waves]) -> Waves:
    """Stretches of one run as one trajectory."""
    tables = zip(*((w.time, w.unknowns, w.slopes, w.states, w.jumps) for w in parts), strict=True)
    time, unknowns, slopes, states, jumps = (
        np.concatenate([t[0], *(part[1:] for part in t[1:])]) for t in tables
    )
    return replace(parts[-1], time=time, unknowns=unknowns, slopes=slopes, states=states, jumps=jumps)


def transient(netlist: Netlist, stop: float, **how: Any) -> Waves:
    """The circuit over time, from its operating point at 0 or, `from_rest`, from discharged.

    Args:
        stop: end [s].
        h_max: longest step [s]; a fiftieth of `stop` when left out.
        rtol: relative error allowed in one step; `event_rtol`: the same where it decides an event.
        event_tol: how closely an event is bracketed, as a share of the step.
        guess: which operating point to start from, as in `operating_point`.
        starts: what single capacitors [V] and inductors [A] hold at 0, the rest being settled with that.
        control: two numbers; setting the first ends the run, the second tells the time reached [s].
    Raises:
        NetlistError: the netlist has no unique solution as drawn.
        SettleError: no convergence, with the time reached and the unknown that would not settle.
        TooLong: more rows than can be kept; `measured` still answers.
    """
    parts, rows = [], 0
    for part in stretches(netlist, stop, **how):
        parts.append(part)
        rows += len(part.time)
        if rows > MAX_ROWS:
            text = (
                f"More than {MAX_ROWS:,} points would have to be kept. Ask for a shorter time, or for "
                "measurements alone."
            )
            raise TooLong(
                Problem("time", f"At {show(float(part.time[-1]), 's')}: {text}"), float(part.time[-1])
            )
    return joined(parts)


def _unsettled(status: int, unknowns: tuple[str, ...], counts: Ints, time: float, what: str) -> SettleError:
    worst = int(counts[1])
    where = unknowns[worst] if worst < len(unknowns) else "?"
    tried = "Newton's method, a conductance at every node, sources raised from zero, and time"
    cause = {
        newton.SINGULAR: (
            f"{where} is not determined by the circuit. Look for a loop of sources or a part without a path."
        ),
        newton.STEP_TOO_SMALL: (
            f"{where} moves faster than any step can follow. Add the resistance or capacitance that slows it."
        ),
        newton.CANCELLED: "the run was cancelled.",
    }.get(status, f"{where} would not settle. Tried {tried}; check the values around it.")
    if status == newton.NO_NEWTON and counts[4] >= newton.ROUNDS:
        cause = (
            "no state holds: as soon as a contact or latch has changed, it changes back. Ask for a transient."
        )
    return SettleError(Problem("time", f"No answer for {what} at {show(time, 's')}: {cause}"), time)
