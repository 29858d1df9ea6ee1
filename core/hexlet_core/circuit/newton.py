"""Newton's method on the circuit's balance, and the operating point. Plain Python, compiled by `engine`.

The circuit is f(x, t) + dq(x)/dt = 0, with node voltages and some currents as x. Each iteration assembles f,
q and their slopes once. A solution is accepted when the balance left at x, put through the last factors,
would move x by less than a share of what is allowed; f and q are then exact at x.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices, lu, sparse
from .devices.base import RECORD, Floats, Ints
from .memory import Circuit, Work

OK, NO_NEWTON, SINGULAR, STEP_TOO_SMALL, MORE, CANCELLED, TORN = 0, 1, 2, 3, 4, 5, 6

GMIN = 1e-12  # every node to ground [S]
NEWTON_SHARE = 0.1  # Newton stops at this share of the error allowed
ROUNDS = 40  # how often devices may change before an operating point is given up
SETTLING, LONG = (
    300,
    1e9,
)  # steps in which a circuit is let settle from discharged, until they are so long [s]
HURRIED = 20  # iterations allowed within a step
PULL = 1.0  # conductance that holds a node at a wanted voltage while a state is sought [S]


def stamp_all(
    ia: Ints,
    fa: Floats,
    sa: Floats,
    lim: Floats,
    plan: Ints,
    x: Floats,
    t: float,
    scale: float,
    J: Floats,
    C: Floats,
    Jf: Floats,
    Cf: Floats,
    F: Floats,
    Q: Floats,
) -> int:
    """`assemble` on the arrays it needs."""
    for i in range(len(F)):
        F[i] = 0.0
        Q[i] = 0.0
    for s in range(plan[1]):
        Jf[plan[sparse.HEAD + s]] = 0.0
        Cf[plan[sparse.HEAD + s]] = 0.0
    limited = 0
    for p in range(0, len(ia), RECORD):
        limited += devices.load(ia, p, fa, sa, lim, x, J, C, F, Q, t, scale)
    return limited


def assemble(c: Circuit, w: Work, x: Floats, t: float, scale: float, gmin: float) -> int:
    """Fill J, C, F, Q at `x`; returns how many devices limited a junction."""
    limited = stamp_all(c.ia, c.fa, c.sa, c.lim, c.plan, x, t, scale, w.J, w.C, w.Jf, w.Cf, w.F, w.Q)
    for i in range(c.nodes):
        w.J[i, i] += gmin
        w.F[i] += gmin * x[i]
    return limited


def divide(c: Circuit, w: Work, b: Floats, out: Floats) -> None:
    """out = J⁻¹·b with the factors that the last Newton iteration left; `b` is overwritten."""
    if w.piv[c.n] == 0:
        sparse.solve(w.L, c.plan, b, out)
    else:
        lu.solve(w.D, w.piv, c.n, b)
        for i in range(c.n):
            out[i] = b[i]


def refactor(c: Circuit, w: Work, alpha: float) -> int:
    """Factor J + alpha·C, sparse or, when its order does not hold, dense; returns −1, or the column without a
    pivot.
    """
    n = c.n
    w.piv[n] = 0
    if sparse.factor(w.Jf, w.Cf, alpha, w.L, c.plan) < 0:
        return -1
    w.piv[n] = 1
    w.L[c.plan[0]] = 0.0
    w.counts[6] += 1
    for i in range(n):
        for j in range(n):
            w.D[i, j] = w.J[i, j] + alpha * w.C[i, j]
    return lu.factor(w.D, w.piv, n)


def at_infinity(c: Circuit, w: Work) -> float:
    """The sign that `sparse.factor` finds for ever shorter steps, 0 if it cannot tell.

    A step whose matrix has the other sign is longer than the growth time of something that runs away: the
    integrator would sit on a balance that cannot last. A state of rest with the other sign is unstable.
    """
    return w.L[c.plan[0]] if sparse.factor(w.Jf, w.Cf, 1e13, w.L, c.plan) < 0 else 0.0


def newton(
    c: Circuit, w: Work, x: Floats, alpha: float, t: float, scale: float, gmin: float, limit: int
) -> int:
    """Solve f(x) + alpha·q(x) = w.rhs for `x` in place; F and Q are left at x, the factors for `divide`.

    `piv[n]` says which factors hold: 0 sparse, 1 dense.
    """
    n, F, Q, b, dx = c.n, w.F, w.Q, w.b, w.dx
    size_before, size_two_before = math.inf, math.inf
    for iteration in range(limit):
        limited = assemble(c, w, x, t, scale, gmin)
        if w.hold[0] > 0.0:
            for i in range(c.nodes):
                if w.hold[i + 1] == w.hold[i + 1]:
                    w.J[i, i] += w.hold[0]
                    F[i] += w.hold[0] * (x[i] - w.hold[i + 1])
        w.counts[0] += 1
        if iteration > 0 and limited == 0:
            for i in range(n):
                b[i] = w.rhs[i] - F[i] - alpha * Q[i]
            divide(c, w, b, dx)
            size = 0.0
            for i in range(n):
                share = abs(dx[i]) / (w.tol[i] * (abs(x[i]) + w.floor[i]))
                if not share <= size:
                    size = share
                    w.counts[1] = i
            if size < NEWTON_SHARE:
                return OK
        bad = refactor(c, w, alpha)
        if bad >= 0:
            w.counts[1] = bad
            return SINGULAR
        for i in range(n):
            b[i] = w.rhs[i] - F[i] - alpha * Q[i]
        divide(c, w, b, dx)
        size, worst = 0.0, 0
        for i in range(n):
            share = abs(dx[i]) / (w.tol[i] * (max(abs(x[i] + dx[i]), abs(x[i])) + w.floor[i]))
            if not share < 1e300:
                w.counts[1] = i
                return NO_NEWTON
            if share > size:
                size, worst = share, i
            x[i] += dx[i]
        w.counts[1] = worst
        # A step that does not contract fourfold over two iterations is cut short: a fold has no root. After a
        # jump it
        # may have far to go, and is given time.
        if (
            alpha > 0.0
            and limit <= HURRIED
            and iteration > 6
            and limited == 0
            and size > 0.25 * size_two_before
        ):
            return NO_NEWTON
        size_two_before, size_before = size_before, size
    return NO_NEWTON


def charged_up(c: Circuit, w: Work, x: Floats, t: float, kept: Floats) -> int:
    """Let the circuit settle in time from discharged, by ever longer backward-Euler steps: how a real one
    gets there.
    """
    for i in range(c.n):
        x[i] = kept[1, i] = kept[2, i] = 0.0
    for i in range(len(c.lim)):
        c.lim[i] = 0.0
    h = 1e-9
    for _ in range(SETTLING):
        for i in range(c.n):
            w.rhs[i] = kept[1, i] / h
        status = newton(c, w, x, 1.0 / h, t, 1.0, GMIN, 40)
        if status == OK:
            for i in range(c.n):
                kept[1, i], kept[2, i] = w.Q[i], x[i]
        else:
            for i in range(c.n):
                x[i] = kept[2, i]
        if h > LONG:
            for i in range(c.n):
                w.rhs[i] = 0.0
            return newton(c, w, x, 0.0, t, 1.0, GMIN, 60)
        h *= 4.0 if status == OK else 0.125
        if h < 1e-18:
            return status
    return NO_NEWTON


def operating_point(c: Circuit, w: Work, x: Floats, t: float, kept: Floats) -> int:
    """Find x with capacitors open and inductors settled, from the guess in `x`.

    With `hold[0]` set, nodes are first held at the wanted voltages and then released. Tries Newton, then a
    shrinking conductance at every node, then sources raised from zero, then time; `counts[7]` says which
    found it.
    """
    n = c.n
    for i in range(n):
        w.rhs[i] = 0.0
        kept[0, i] = x[i]
    if w.hold[0] > 0.0:
        while w.hold[0] > 1e-9:
            newton(c, w, x, 0.0, t, 1.0, GMIN, 60)
            w.hold[0] *= 1e-3
        w.hold[0] = 0.0
    w.counts[7] = 0
    status = newton(c, w, x, 0.0, t, 1.0, GMIN, 60)
    if status == OK:
        return OK
    w.counts[7] = 1
    for i in range(n):
        x[i] = kept[0, i]
    for i in range(len(c.lim)):
        c.lim[i] = 0.0
    gmin = 1e-1
    status = OK
    while gmin > GMIN and status == OK:
        status = newton(c, w, x, 0.0, t, 1.0, gmin, 60)
        gmin *= 0.1
    if status == OK and newton(c, w, x, 0.0, t, 1.0, GMIN, 60) == OK:
        return OK
    w.counts[7] = 2
    for i in range(n):
        x[i] = 0.0
    for i in range(len(c.lim)):
        c.lim[i] = 0.0
    for k in range(1, 41):
        status = newton(c, w, x, 0.0, t, k / 40.0, GMIN, 60)
        if status != OK:
            break
    if status == OK:
        return OK
    w.counts[7] = 3
    return charged_up(c, w, x, t, kept)


def settle(c: Circuit, w: Work, x: Floats, t: float) -> int:
    """The operating point with every relay, latch and module in the state that goes with it.

    After each solution the devices whose thresholds are passed change at once; `counts[4]` counts the rounds.
    NO_NEWTON with `counts[4]` at ROUNDS means that no state holds: the circuit oscillates.
    """
    kept = np.zeros((3, c.n + 1))  # the first guess, and charges and unknowns on the way
    for _ in range(ROUNDS):
        status = operating_point(c, w, x, t, kept)
        if status != OK:
            return status
        fired = 0
        for p in range(0, len(c.ia), RECORD):
            if devices.watch(c.ia, p, c.fa, c.sa, x) > 0.0:
                devices.fire(c.ia, p, c.fa, c.sa, x, t)
                devices.finish(c.ia, p, c.fa, c.sa, t)
                fired += 1
        if fired == 0:
            return OK
        w.counts[4] += 1
    return NO_NEWTON


def slopes(c: Circuit, w: Work, x: Floats, t: float) -> None:
    """Leave in J and C the matrices df/dx and dq/dx at a solution: how stable a state is."""
    for _ in range(40):
        if assemble(c, w, x, t, 1.0, GMIN) == 0:
            break


PLAIN = (
    stamp_all,
    assemble,
    divide,
    refactor,
    at_infinity,
    newton,
    charged_up,
    operating_point,
    settle,
    slopes,
)
