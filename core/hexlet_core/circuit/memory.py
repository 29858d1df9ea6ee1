"""What the kernel works on, in bundles that pass through compiled code as they are.

A circuit as packed, the scratch of one solver, the state of one run (all that is needed to go on with it),
and the rows that a run fills.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from .devices.base import Floats, Ints

ORDINARY, WATCHED, FOLLOWS = 0, 1, 2  # roles of an unknown: also deciding events, or only following others
VOLTS_FLOOR, AMPS_FLOOR = 0.3, 1e-3  # a relative tolerance r allows an error of r·(|x| + floor)


class Circuit(NamedTuple):
    """Records, numbers, discrete states, limiter memory, elimination order; `nodes` of the `n` unknowns are
    voltages.
    """

    ia: Ints
    fa: Floats
    sa: Floats
    lim: Floats
    plan: Ints
    nodes: int
    n: int


class Work(NamedTuple):
    """Scratch of a solver, and what it allows.

    J = df/dx and C = dq/dx with flat views, factors sparse and dense, F, Q, right-hand sides, permutation.
    `hold[0]` pulls the first unknowns towards `hold[1:]` with that conductance. An unknown may be off by
    `tol`·(|x| + `floor`) + `ease`. `counts`: assemblies, the unknown that moved most, steps accepted, steps
    rejected, events, steps redone to find events, dense factors, solves (or which method found a point).
    """

    J: Floats
    C: Floats
    Jf: Floats
    Cf: Floats
    L: Floats
    D: Floats
    G: Floats
    F: Floats
    Q: Floats
    b: Floats
    dx: Floats
    rhs: Floats
    piv: Ints
    hold: Floats
    tol: Floats
    floor: Floats
    ease: Floats
    counts: Ints


class Run(NamedTuple):
    """A run where it stands: unknowns, charges and their slopes at the last point and at the step being
    tried.

    `memo`: time, next step, error of the last step, restarts to come, steps of caution to come, the
        determinant's
    sign, whether the first row has been written, steps lately cut for what runs away, the most of them,
    and when.
    """

    x: Floats
    q: Floats
    qd: Floats  # as the integrator carries it
    flow: Floats  # dq/dt at the point itself, −f(x)
    slope: Floats  # dx/dt
    x1: Floats
    q1: Floats
    qd1: Floats
    flow1: Floats
    slope1: Floats
    xm: Floats
    qdm: Floats
    xc: Floats
    slope_c: Floats
    before: Floats
    lim: Floats
    memo: Floats


class Rows(NamedTuple):
    """Room for a stretch of a run: times, unknowns and their slopes, discrete states, and whether a straight
    line leads to a row.
    """

    times: Floats
    xs: Floats
    slopes: Floats
    states: Floats
    jumps: Ints


def workspace(plan: Ints, nodes: int, n: int, rtol: float, hold: Floats | None = None) -> Work:
    """Scratch for a circuit, allowing a relative error `rtol` everywhere."""
    m = n + 1
    J, C = np.zeros((m, m)), np.zeros((m, m))
    floor = np.full(m, AMPS_FLOOR)
    floor[:nodes] = VOLTS_FLOOR
    F, Q, b, dx, rhs = (np.zeros(m) for _ in range(5))
    return Work(
        J,
        C,
        J.reshape(m * m),
        C.reshape(m * m),
        np.zeros(int(plan[0]) + 1),
        np.zeros((m, m)),
        np.zeros((m, m)),
        F,
        Q,
        b,
        dx,
        rhs,
        np.zeros(m, np.int64),
        np.zeros(1) if hold is None else hold,
        np.full(m, rtol),
        floor,
        np.zeros(m),
        np.zeros(8, np.int64),
    )


def fresh_run(circuit: Circuit, x: Floats, q: Floats) -> Run:
    """A run that has not begun, at unknowns and charges."""
    memo = np.array([0.0, 0.0, 1.0, 2.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0])
    empty = {name: np.zeros(circuit.n + 1) for name in Run._fields}
    return Run(**(empty | {"x": x, "q": q, "lim": np.zeros(len(circuit.lim)), "memo": memo}))


def fresh_rows(circuit: Circuit, room: int) -> Rows:
    """Empty rows."""
    size = (room, circuit.n)
    return Rows(
        np.empty(room),
        np.empty(size),
        np.empty(size),
        np.empty((room, len(circuit.sa))),
        np.zeros(room, np.int64),
    )


def first_rows(rows: Rows, count: int) -> Rows:
    """A copy of the rows that are filled; the last of them then begins the room anew."""
    kept = Rows(
        rows.times[:count].copy(),
        rows.xs[:count].copy(),
        rows.slopes[:count].copy(),
        rows.states[:count].copy(),
        rows.jumps[:count].copy(),
    )
    for table in rows:
        table[0] = table[count - 1]
    rows.jumps[0] = 0
    return kept


def endless(role: Ints, ease: Floats) -> None:
    """Unknowns that only follow others are not held to any error."""
    ease[: len(role)][role == FOLLOWS] = math.inf
