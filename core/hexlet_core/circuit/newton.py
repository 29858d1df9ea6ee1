"""Newton's method on the circuit's balance, and the operating point. Plain Python, compiled by `engine`.

The circuit is f(x, t) + dq(x)/dt = 0, with node voltages and some currents as x. Each iteration
assembles f, q and their slopes once. A solution is accepted when the balance left at x, put through
the last factors, would move x by less than a share of what is allowed; f and q are then exact at x.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices, lu, sparse
from .devices.base import RECORD, Floats, Ints

OK, NO_NEWTON, SINGULAR, STEP_TOO_SMALL, TOO_MANY_ROWS, CANCELLED = 0, 1, 2, 3, 4, 5

GMIN = 1e-12  # every node to ground [S]
NEWTON_SHARE = 0.1  # Newton stops at this share of the error allowed
VOLTS_FLOOR, AMPS_FLOOR = 0.3, 1e-3  # a relative tolerance r allows an error of r·(|x| + floor)
ROUNDS = 40  # how often devices may change before an operating point is given up
PULL = 1.0  # conductance that holds a node at a wanted voltage while a state is sought [S]


def floors(nodes: int, n: int) -> Floats:
    """The size below which an unknown's error is counted as absolute [V or A]."""
    found = np.empty(n + 1)
    for i in range(n + 1):
        found[i] = VOLTS_FLOOR if i < nodes else AMPS_FLOOR
    return found


def assemble(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, t: float, scale: float,
    gmin: float, J: Floats, C: Floats, Jf: Floats, Cf: Floats, F: Floats, Q: Floats,
) -> int:  # fmt: skip
    """Fill J, C (`Jf`, `Cf` are their flat views), F, Q at `x`; returns how many devices limited a junction."""
    for i in range(n + 1):
        F[i] = 0.0
        Q[i] = 0.0
    for s in range(plan[1]):
        Jf[plan[sparse.HEAD + s]] = 0.0
        Cf[plan[sparse.HEAD + s]] = 0.0
    limited = 0
    for p in range(0, len(ia), RECORD):
        limited += devices.load(ia, p, fa, sa, lim, x, J, C, F, Q, t, scale)
    for i in range(nodes):
        J[i, i] += gmin
        F[i] += gmin * x[i]
    return limited


def divide(L: Floats, plan: Ints, D: Floats, piv: Ints, n: int, b: Floats, out: Floats) -> None:
    """out = J⁻¹·b with the factors that the last Newton iteration left; `b` is overwritten."""
    if piv[n] == 0:
        sparse.solve(L, plan, b, out)
    else:
        lu.solve(D, piv, n, b)
        for i in range(n):
            out[i] = b[i]


def at_infinity(Jf: Floats, Cf: Floats, L: Floats, plan: Ints) -> float:
    """The sign that `sparse.factor` finds for ever shorter steps, 0 if it cannot tell.

    A step whose matrix has the other sign is longer than the growth time of something that runs away: the
    integrator would sit on a balance that cannot last. A state of rest with the other sign is unstable.
    """
    return L[plan[0]] if sparse.factor(Jf, Cf, 1e13, L, plan) < 0 else 0.0


def newton(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, alpha: float, rhs: Floats,
    t: float, scale: float, gmin: float, tol: Floats, floor: Floats, limit: int, J: Floats, C: Floats, Jf: Floats, Cf: Floats, L: Floats, D: Floats,
    F: Floats, Q: Floats, b: Floats, dx: Floats, piv: Ints, hold: Floats, counts: Ints,
) -> int:  # fmt: skip
    """Solve f(x) + alpha·q(x) = rhs for `x` in place; F and Q are left at x, the factors for `divide`.

    `tol` is the relative error allowed in each unknown, of its size plus its `floor`. `hold[0]` pulls the first unknowns towards
    `hold[1:]` with that conductance. `piv[n]` says which factors hold: 0 sparse, 1 dense.
    `counts[0]` counts assemblies, `counts[1]` names the unknown that moved most, `counts[6]` dense factors.
    """
    size_before, size_two_before = math.inf, math.inf
    for iteration in range(limit):
        limited = assemble(ia, fa, sa, lim, plan, nodes, n, x, t, scale, gmin, J, C, Jf, Cf, F, Q)
        if hold[0] > 0.0:
            for i in range(nodes):
                if hold[i + 1] == hold[i + 1]:
                    J[i, i] += hold[0]
                    F[i] += hold[0] * (x[i] - hold[i + 1])
        counts[0] += 1
        if iteration > 0 and limited == 0:
            for i in range(n):
                b[i] = rhs[i] - F[i] - alpha * Q[i]
            divide(L, plan, D, piv, n, b, dx)
            size = 0.0
            for i in range(n):
                share = abs(dx[i]) / (tol[i] * (abs(x[i]) + floor[i]))
                if not share <= size:
                    size = share
                    counts[1] = i
            if size < NEWTON_SHARE:
                return OK
        piv[n] = 0
        if sparse.factor(Jf, Cf, alpha, L, plan) >= 0:
            piv[n] = 1
            L[plan[0]] = 0.0
            counts[6] += 1
            for i in range(n):
                for j in range(n):
                    D[i, j] = J[i, j] + alpha * C[i, j]
            bad = lu.factor(D, piv, n)
            if bad >= 0:
                counts[1] = bad
                return SINGULAR
        for i in range(n):
            b[i] = rhs[i] - F[i] - alpha * Q[i]
        divide(L, plan, D, piv, n, b, dx)
        size, worst = 0.0, 0
        for i in range(n):
            share = abs(dx[i]) / (tol[i] * (max(abs(x[i] + dx[i]), abs(x[i])) + floor[i]))
            if not share < 1e300:
                counts[1] = i
                return NO_NEWTON
            if share > size:
                size, worst = share, i
            x[i] += dx[i]
        counts[1] = worst
        # A step that does not contract fourfold over two iterations is cut short: a fold has no root.
        if alpha > 0.0 and iteration > 6 and limited == 0 and size > 0.25 * size_two_before:
            return NO_NEWTON
        size_two_before, size_before = size_before, size
    return NO_NEWTON


def operating_point(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, t: float, tol: Floats,
    floor: Floats, hold: Floats, J: Floats, C: Floats, Jf: Floats, Cf: Floats, L: Floats, D: Floats, F: Floats, Q: Floats, b: Floats, dx: Floats, rhs: Floats,
    guess: Floats, piv: Ints, counts: Ints,
) -> int:  # fmt: skip
    """Find x with capacitors open and inductors settled, from the guess in `x`.

    With `hold[0]` set, nodes are first held at the wanted voltages and then released. Tries Newton, then
    a shrinking conductance at every node, then sources raised from zero; `counts[7]` says which found it.
    """
    for i in range(n):
        rhs[i] = 0.0
        guess[i] = x[i]
    if hold[0] > 0.0:
        while hold[0] > 1e-9:
            newton(
                ia,
                fa,
                sa,
                lim,
                plan,
                nodes,
                n,
                x,
                0.0,
                rhs,
                t,
                1.0,
                GMIN,
                tol,
                floor,
                60,
                J,
                C,
                Jf,
                Cf,
                L,
                D,
                F,
                Q,
                b,
                dx,
                piv,
                hold,
                counts,
            )
            hold[0] *= 1e-3
        hold[0] = 0.0
    counts[7] = 0
    status = newton(
        ia, fa, sa, lim, plan, nodes, n, x, 0.0, rhs, t, 1.0, GMIN, tol, floor, 60, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
    )
    if status == OK:
        return OK
    counts[7] = 1
    for i in range(n):
        x[i] = guess[i]
    for i in range(len(lim)):
        lim[i] = 0.0
    gmin = 1e-1
    status = OK
    while gmin > GMIN and status == OK:
        status = newton(
            ia, fa, sa, lim, plan, nodes, n, x, 0.0, rhs, t, 1.0, gmin, tol, floor, 60, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
        )
        gmin *= 0.1
    if status == OK:
        status = newton(
            ia, fa, sa, lim, plan, nodes, n, x, 0.0, rhs, t, 1.0, GMIN, tol, floor, 60, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
        )
        if status == OK:
            return OK
    counts[7] = 2
    for i in range(n):
        x[i] = 0.0
    for i in range(len(lim)):
        lim[i] = 0.0
    for k in range(1, 41):
        status = newton(
            ia, fa, sa, lim, plan, nodes, n, x, 0.0, rhs, t, k / 40.0, GMIN, tol, floor, 60, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
        )  # fmt: skip
        if status != OK:
            return status
    return OK


def settle(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, t: float, tol: Floats,
    hold: Floats, counts: Ints,
) -> int:  # fmt: skip
    """The operating point with every relay, latch and module in the state that goes with it.

    After each solution the devices whose thresholds are passed change at once; `counts[4]` counts the
    rounds. NO_NEWTON with `counts[4]` at ROUNDS means that no state holds: the circuit oscillates.
    """
    m = n + 1
    J, C, D, L = np.zeros((m, m)), np.zeros((m, m)), np.zeros((m, m)), np.zeros(plan[0] + 1)
    Jf, Cf = J.reshape(m * m), C.reshape(m * m)
    F, Q, b, dx = np.zeros(m), np.zeros(m), np.zeros(m), np.zeros(m)
    rhs, guess, piv, floor = np.zeros(m), np.zeros(m), np.zeros(m, np.int64), floors(nodes, n)
    for _ in range(ROUNDS):
        status = operating_point(
            ia, fa, sa, lim, plan, nodes, n, x, t, tol, floor, hold, J, C, Jf, Cf, L, D, F, Q, b, dx, rhs, guess, piv, counts
        )  # fmt: skip
        if status != OK:
            return status
        fired = 0
        for p in range(0, len(ia), RECORD):
            if devices.watch(ia, p, fa, sa, x) > 0.0:
                devices.fire(ia, p, fa, sa, x, t)
                devices.finish(ia, p, fa, sa, t)
                fired += 1
        if fired == 0:
            return OK
        counts[4] += 1
    return NO_NEWTON


def slopes(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, t: float,
) -> tuple[Floats, Floats]:  # fmt: skip
    """The matrices df/dx and dq/dx at a solution, each (n, n): how stable a state is."""
    m = n + 1
    J, C, F, Q = np.zeros((m, m)), np.zeros((m, m)), np.zeros(m), np.zeros(m)
    Jf, Cf = J.reshape(m * m), C.reshape(m * m)
    for _ in range(40):
        if assemble(ia, fa, sa, lim, plan, nodes, n, x, t, 1.0, GMIN, J, C, Jf, Cf, F, Q) == 0:
            break
    return J[:n, :n].copy(), C[:n, :n].copy()


PLAIN = (floors, assemble, divide, at_infinity, newton, operating_point, settle, slopes)
