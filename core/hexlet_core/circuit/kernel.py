"""The solver: Newton, operating point, adaptive transient with exact events. Plain Python, compiled by `engine`.

The circuit is f(x, t) + dq(x)/dt = 0, with node voltages and some currents as x. The integrator is
TR-BDF2 in charge form (a trapezoidal stage to t + γh, then a second-order backward difference;
Bank et al.'s one-step method, γ = 2 − √2, so that both stages share one matrix). Its error is read from
the three charge derivatives and filtered by the system matrix, which keeps stiff nodes from ruling the
step. At a discontinuity the integrator restarts with two very short backward-Euler steps.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices, lu
from .devices.base import RECORD, Floats, Ints

OK, NO_NEWTON, SINGULAR, STEP_TOO_SMALL, TOO_MANY_ROWS = 0, 1, 2, 3, 4

GMIN = 1e-12  # every node to ground [S]
GAMMA = 2.0 - math.sqrt(2.0)
STAGE = 2.0 / GAMMA  # both stages: alpha = STAGE/h
W_MID, W_OLD = 1.0 / (GAMMA * (1.0 - GAMMA)), (1.0 - GAMMA) / GAMMA
W_NEW = (2.0 - GAMMA) / (1.0 - GAMMA)
ERROR = 2.0 * abs((-3.0 * GAMMA**2 + 4.0 * GAMMA - 2.0) / (12.0 * (2.0 - GAMMA)))
NEWTON_SHARE = 0.05  # Newton stops at this share of a step's allowed error
SHORT = 1e-10  # a restart's backward-Euler step [s]
MAX_ROWS = 400_000


def assemble(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x: Floats, alpha: float, t: float,
    scale: float, gmin: float, J: Floats, F: Floats, Q: Floats,
) -> int:  # fmt: skip
    """Fill J, F, Q at `x`; returns how many devices limited a junction."""
    for i in range(n + 1):
        F[i] = 0.0
        Q[i] = 0.0
        for j in range(n + 1):
            J[i, j] = 0.0
    limited = 0
    for d in range(len(ia) // RECORD):
        limited += devices.load(ia, d * RECORD, fa, sa, lim, x, alpha, J, F, Q, t, scale)
    for i in range(nodes):
        J[i, i] += gmin
        F[i] += gmin * x[i]
    return limited


def newton(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x: Floats, alpha: float, rhs: Floats,
    t: float, scale: float, gmin: float, rtol: float, limit: int, J: Floats, F: Floats, Q: Floats, dx: Floats,
    piv: Ints, counts: Ints,
) -> int:  # fmt: skip
    """Solve f(x) + alpha·q(x) = rhs for `x` in place; J is left factored.

    Returns OK, SINGULAR or NO_NEWTON; `counts[1]` holds the unknown that moved most at the end.
    """
    size_before, size_two_before = math.inf, math.inf
    for iteration in range(limit):
        limited = assemble(ia, fa, sa, lim, nodes, n, x, alpha, t, scale, gmin, J, F, Q)
        for i in range(n):
            dx[i] = rhs[i] - F[i] - alpha * Q[i]
        bad = lu.factor(J, piv, n)
        counts[0] += 1
        if bad >= 0:
            counts[1] = bad
            return SINGULAR
        lu.solve(J, piv, n, dx)
        size, worst = 0.0, 0
        for i in range(n):
            x_new = x[i] + dx[i]
            floor = rtol * 0.3 if i < nodes else rtol * 1e-3
            weight = rtol * max(abs(x_new), abs(x[i])) + floor
            share = abs(dx[i]) / weight
            if not share < 1e300:
                counts[1] = i
                return NO_NEWTON
            if share > size:
                size, worst = share, i
            x[i] = x_new
        counts[1] = worst
        if limited == 0 and size < NEWTON_SHARE:
            return OK
        # Quadratic convergence: the next error is about size² of a size that is already small.
        if limited == 0 and iteration > 0 and size < 1.0 and size < 0.05 * size_before:
            return OK
        if alpha > 0.0 and iteration > 6 and size > 0.25 * size_two_before:
            return NO_NEWTON
        size_two_before, size_before = size_before, size
    return NO_NEWTON


def operating_point(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x: Floats, t: float, rtol: float, counts: Ints
) -> int:
    """Find x with capacitors open and inductors settled, from the guess in `x`.

    Tries Newton, then a shrinking conductance at every node, then sources raised from zero.
    """
    J, F, Q = np.zeros((n + 1, n + 1)), np.zeros(n + 1), np.zeros(n + 1)
    dx, rhs, piv = np.zeros(n + 1), np.zeros(n + 1), np.zeros(n + 1, np.int64)
    guess = x.copy()
    status = newton(ia, fa, sa, lim, nodes, n, x, 0.0, rhs, t, 1.0, GMIN, rtol, 60, J, F, Q, dx, piv, counts)
    if status == OK:
        return OK
    x[:] = guess
    lim[:] = 0.0
    gmin = 1e-1
    while gmin > GMIN:
        status = newton(ia, fa, sa, lim, nodes, n, x, 0.0, rhs, t, 1.0, gmin, rtol, 60, J, F, Q, dx, piv, counts)
        if status != OK:
            break
        gmin *= 0.1
    if status == OK:
        status = newton(ia, fa, sa, lim, nodes, n, x, 0.0, rhs, t, 1.0, GMIN, rtol, 60, J, F, Q, dx, piv, counts)
        if status == OK:
            return OK
    x[:] = 0.0
    lim[:] = 0.0
    for k in range(1, 41):
        status = newton(ia, fa, sa, lim, nodes, n, x, 0.0, rhs, t, k / 40.0, GMIN, rtol, 60, J, F, Q, dx, piv, counts)
        if status != OK:
            return status
    return OK


def nearest_change(ia: Ints, fa: Floats, sa: Floats, t: float) -> float:
    """The next scheduled change of any device [s]."""
    found = math.inf
    for d in range(len(ia) // RECORD):
        found = min(found, devices.next_time(ia, d * RECORD, fa, sa, t))
    return found


def fire_due(ia: Ints, fa: Floats, sa: Floats, t: float) -> None:
    """Let every device change whose time has come."""
    for d in range(len(ia) // RECORD):
        p = d * RECORD
        guard = 0
        while devices.next_time(ia, p, fa, sa, t) <= t and guard < 10_000:
            devices.fire(ia, p, fa, sa, t)
            guard += 1


def fire_crossed(ia: Ints, fa: Floats, sa: Floats, x: Floats, t: float) -> int:
    """Let every device change whose threshold is passed; returns how many did."""
    fired = 0
    for d in range(len(ia) // RECORD):
        p = d * RECORD
        if devices.watch(ia, p, fa, sa, x) > 0.0:
            devices.fire(ia, p, fa, sa, t)
            fired += 1
    return fired


def highest_watch(ia: Ints, fa: Floats, sa: Floats, x: Floats) -> float:
    """The largest watch value of any device; positive means that something has to fire."""
    found = -math.inf
    for d in range(len(ia) // RECORD):
        found = max(found, devices.watch(ia, d * RECORD, fa, sa, x))
    return found


def euler_step(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x: Floats, q: Floats, qd: Floats, t: float,
    h: float, rtol: float, J: Floats, F: Floats, Q: Floats, dx: Floats, rhs: Floats, piv: Ints, counts: Ints,
) -> int:  # fmt: skip
    """One backward-Euler step from (t, x, q) in place."""
    alpha = 1.0 / h
    for i in range(n):
        rhs[i] = alpha * q[i]
    status = newton(ia, fa, sa, lim, nodes, n, x, alpha, rhs, t + h, 1.0, GMIN, rtol, 60, J, F, Q, dx, piv, counts)
    if status != OK:
        return status
    assemble(ia, fa, sa, lim, nodes, n, x, alpha, t + h, 1.0, GMIN, J, F, Q)
    for i in range(n):
        qd[i] = alpha * (Q[i] - q[i])
        q[i] = Q[i]
    return OK


def trbdf2_step(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x0: Floats, q0: Floats, qd0: Floats,
    slope: Floats, t: float, h: float, rtol: float, x1: Floats, q1: Floats, qd1: Floats, xm: Floats,
    J: Floats, J2: Floats, F: Floats, Q: Floats, dx: Floats, rhs: Floats, piv: Ints, counts: Ints,
) -> tuple[int, float]:  # fmt: skip
    """One step from (x0, q0, qd0) to (x1, q1, qd1); returns a status and the error in units of its allowance.

    `J` is left factored by the last Newton iteration and filters the error; charges at the points found
    are evaluated with `J2` as scratch.
    """
    alpha = STAGE / h
    for i in range(n):
        xm[i] = x0[i] + GAMMA * h * slope[i]
        rhs[i] = alpha * q0[i] + qd0[i]
    xm[n] = 0.0
    mid = t + GAMMA * h
    status = newton(ia, fa, sa, lim, nodes, n, xm, alpha, rhs, mid, 1.0, GMIN, rtol, 20, J, F, Q, dx, piv, counts)
    if status != OK:
        return status, 0.0
    assemble(ia, fa, sa, lim, nodes, n, xm, alpha, mid, 1.0, GMIN, J2, F, Q)
    for i in range(n):
        # dx becomes the error's first two terms: q'_0/γ − q'_m/(γ(1−γ))
        dx[i] = qd0[i] / GAMMA - W_MID * (alpha * (Q[i] - q0[i]) - qd0[i])
        x1[i] = x0[i] + (xm[i] - x0[i]) / GAMMA
        rhs[i] = (W_MID * Q[i] - W_OLD * q0[i]) / h
        q1[i] = dx[i]
    x1[n] = 0.0
    status = newton(ia, fa, sa, lim, nodes, n, x1, alpha, rhs, t + h, 1.0, GMIN, rtol, 20, J, F, Q, dx, piv, counts)
    if status != OK:
        return status, 0.0
    assemble(ia, fa, sa, lim, nodes, n, x1, alpha, t + h, 1.0, GMIN, J2, F, Q)
    for i in range(n):
        qd1[i] = alpha * Q[i] - rhs[i]
        dx[i] = ERROR * h * alpha * (q1[i] + qd1[i] / (1.0 - GAMMA))
        q1[i] = Q[i]
    lu.solve(J, piv, n, dx)
    error = 0.0
    for i in range(n):
        floor = rtol * 0.3 if i < nodes else rtol * 1e-3
        share = abs(dx[i]) / (rtol * max(abs(x1[i]), abs(x0[i])) + floor)
        if not share < 1e300:
            return NO_NEWTON, 0.0
        error = max(error, share)
    return OK, error


def record(rows: int, t: float, x: Floats, sa: Floats, times: Floats, xs: Floats, states: Floats) -> tuple[int, Floats, Floats, Floats]:
    """Append one row, doubling the room when it is full."""
    if rows == len(times):
        more = 2 * rows
        grown_times, grown_xs, grown_states = np.empty(more), np.empty((more, xs.shape[1])), np.empty((more, len(sa)))
        grown_times[:rows], grown_xs[:rows], grown_states[:rows] = times, xs, states
        times, xs, states = grown_times, grown_xs, grown_states
    times[rows] = t
    for i in range(xs.shape[1]):
        xs[rows, i] = x[i]
    for i in range(len(sa)):
        states[rows, i] = sa[i]
    return rows + 1, times, xs, states


def transient(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, nodes: int, n: int, x: Floats, stop: float, h_max: float,
    rtol: float, event_tol: float, from_rest: bool,
) -> tuple[int, int, float, Ints, Floats, Floats, Floats]:  # fmt: skip
    """Integrate from 0 to `stop`.

    `from_rest` starts with every charge and flux zero; otherwise x must be an operating point.
    Returns status, rows, the time reached, counts (Newton iterations, the unknown that moved most,
    steps accepted, steps rejected, events, steps redone to find events), and the rows' times, unknowns
    and states.
    """
    m = n + 1
    J, J2, F, Q = np.zeros((m, m)), np.zeros((m, m)), np.zeros(m), np.zeros(m)
    dx, rhs, piv = np.zeros(m), np.zeros(m), np.zeros(m, np.int64)
    q, qd, slope = np.zeros(m), np.zeros(m), np.zeros(m)
    x1, q1, qd1, xm = np.zeros(m), np.zeros(m), np.zeros(m), np.zeros(m)
    before = np.zeros(m)
    counts = np.zeros(6, np.int64)
    times, xs, states = np.empty(512), np.empty((512, n)), np.empty((512, len(sa)))
    rows = 0
    t = 0.0
    if not from_rest:
        assemble(ia, fa, sa, lim, nodes, n, x, 0.0, t, 1.0, GMIN, J2, F, Q)
        q[:] = Q
        rows, times, xs, states = record(rows, t, x, sa, times, xs, states)
    short = max(SHORT, 4e-15 * stop)
    h = min(h_max, stop * 1e-4)
    restart = 2
    recovering = 0
    while t < stop * (1.0 - 1e-14):
        change = nearest_change(ia, fa, sa, t)
        if change <= t:
            fire_due(ia, fa, sa, t)
            restart = 2
            continue
        until = min(change, stop)
        if restart > 0:
            # A tiny step settles what jumps; growing it when Newton fails helps folds, so try both ways.
            step = min(short, 0.25 * (until - t))
            settled = False
            for _ in range(12):
                before[:] = x
                status = euler_step(
                    ia, fa, sa, lim, nodes, n, x, q, qd, t, step, rtol, J, F, Q, dx, rhs, piv, counts
                )  # fmt: skip
                if status == OK:
                    settled = True
                    break
                x[:] = before
                step = min(step * 4.0, 0.25 * (until - t))
            if not settled:
                return status, rows, t, counts, times, xs, states
            t += step
            restart -= 1
            for i in range(n):
                slope[i] = (x[i] - before[i]) / step if restart == 0 else 0.0
            if restart == 0:
                rows, times, xs, states = record(rows, t, x, sa, times, xs, states)
                h = min(h_max, 20.0 * step)
                if fire_crossed(ia, fa, sa, x, t) > 0:
                    counts[4] += 1
                    restart = 2
            continue
        left = until - t
        lands = h >= left * 0.999
        step = left if lands else min(h, 0.5 * left) if h > 0.5 * left else h
        status, error = trbdf2_step(
            ia, fa, sa, lim, nodes, n, x, q, qd, slope, t, step, rtol, x1, q1, qd1, xm, J, J2, F, Q, dx, rhs, piv, counts
        )  # fmt: skip
        if status != OK or error > 1.0:
            counts[3] += 1
            h = 0.25 * step if status != OK else step * max(0.2, 0.9 * error ** (-1.0 / 3.0))
            if status != OK:
                recovering = 3
                slope[:] = 0.0
            if h < 1e-15 * max(t, short) or h < 1e-17:
                return STEP_TOO_SMALL, rows, t, counts, times, xs, states
            continue
        high = highest_watch(ia, fa, sa, x1)
        crossed = high > 0.0
        if crossed:
            # False position on the step's length, aimed just past the root from either side so that the
            # bracket closes from both ends; halved whenever three tries have not halved it.
            a, g_a, b, g_b = 0.0, highest_watch(ia, fa, sa, x), step, high
            tol = max(event_tol * step, 1e-14 * t)
            aim, tries, wide = 1.0, 0, step
            while b - a > tol:
                tries += 1
                if tries % 3 == 0:
                    c = 0.5 * (a + b) if b - a > 0.5 * wide else a - (b - a) * g_a / (g_b - g_a) + aim * 0.4 * tol
                    wide = b - a
                else:
                    c = a - (b - a) * g_a / (g_b - g_a) + aim * 0.4 * tol
                c = min(max(c, a + 0.3 * tol), b - 0.3 * tol)
                status, error = trbdf2_step(
                    ia, fa, sa, lim, nodes, n, x, q, qd, slope, t, c, rtol, x1, q1, qd1, xm, J, J2, F, Q, dx, rhs, piv, counts
                )  # fmt: skip
                counts[5] += 1
                if status != OK:
                    return status, rows, t, counts, times, xs, states
                step = c
                g = highest_watch(ia, fa, sa, x1)
                if g > 0.0:
                    b, g_b, aim = c, g, -1.0
                else:
                    a, g_a, aim = c, g, 1.0
            if step != b:
                step = b
                status, error = trbdf2_step(
                    ia, fa, sa, lim, nodes, n, x, q, qd, slope, t, b, rtol, x1, q1, qd1, xm, J, J2, F, Q, dx, rhs, piv, counts
                )  # fmt: skip
                counts[5] += 1
            lands = step == left
        counts[2] += 1
        for i in range(n):
            slope[i] = (x1[i] - x[i]) / step
        x[:], q[:], qd[:] = x1, q1, qd1
        t = until if lands else t + step
        rows, times, xs, states = record(rows, t, x, sa, times, xs, states)
        if rows >= MAX_ROWS:
            return TOO_MANY_ROWS, rows, t, counts, times, xs, states
        if crossed:
            fire_crossed(ia, fa, sa, x, t)
            counts[4] += 1
            restart = 2
        growth = min(4.0, 0.9 * max(error, 1e-6) ** (-1.0 / 3.0))
        if recovering > 0:
            recovering -= 1
            growth = min(growth, 1.5)
        h = min(h_max, max(step, h if lands else step) * growth)
    return OK, rows, t, counts, times, xs, states


def device_flows(ia: Ints, fa: Floats, d: int, inner: int, times: Floats, xs: Floats, states: Floats) -> tuple[Floats, Floats]:
    """What one device draws at each of its unknowns along a trajectory: conduction [A] and charge [C].

    Shapes (rows, 8). Each of the device's unknowns is moved to a row of its own, so that two terminals on
    one node stay apart; `inner` says how many it has.
    """
    rows = len(times)
    own = ia[d * RECORD : (d + 1) * RECORD].copy()
    for k in range(8):
        own[4 + k] = k if k < inner else 8
    x, F, Q, J, lim = np.zeros(9), np.zeros(9), np.zeros(9), np.zeros((9, 9)), np.zeros(8)
    own[3] = 0
    conduction, charge = np.zeros((rows, 8)), np.zeros((rows, 8))
    for r in range(rows):
        for k in range(inner):
            u = ia[d * RECORD + 4 + k]
            x[k] = xs[r, u] if u < xs.shape[1] else 0.0
        F[:] = 0.0
        Q[:] = 0.0
        for _ in range(40):  # let the junction limiter walk to the point
            F[:] = 0.0
            Q[:] = 0.0
            if devices.load(own, 0, fa, states[r], lim, x, 0.0, J, F, Q, times[r], 1.0) == 0:
                break
        for k in range(8):
            conduction[r, k], charge[r, k] = F[k], Q[k]
    return conduction, charge


PLAIN = (
    lu.factor, lu.solve, assemble, newton, operating_point, nearest_change, fire_due, fire_crossed, highest_watch,
    euler_step, trbdf2_step, record, transient, device_flows,
)  # fmt: skip
