"""The circuit in time: TR-BDF2 with error control and exact events. Plain Python, compiled by `engine`.

The integrator is TR-BDF2 in charge form (a trapezoidal stage to t + γh, then a second-order backward
difference; Bank et al.'s one-step method, γ = 2 − √2, so that both stages share one matrix). Its error is
read from the three charge derivatives and filtered by the system matrix, which keeps stiff nodes from
ruling the step; filtered twice it is taken off the solution, which makes the method third order and leaves
it damped at infinity (for x' = λx, |R| stays below 1 and falls to 0 as −λh grows). Unknowns that decide events are held to a tolerance of their own, currents of ideal sources
only follow. At a discontinuity the
integrator restarts with two very short backward-Euler steps.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices, sparse
from .devices.base import RECORD, Floats, Ints
from .newton import (
    CANCELLED,
    GMIN,
    NO_NEWTON,
    OK,
    STEP_TOO_SMALL,
    TOO_MANY_ROWS,
    assemble,
    at_infinity,
    divide,
    floors,
    newton,
)
from .rows import GAMMA, record, record_step

STAGE = 2.0 / GAMMA  # both stages: alpha = STAGE/h
W_MID, W_OLD = 1.0 / (GAMMA * (1.0 - GAMMA)), (1.0 - GAMMA) / GAMMA
W_NEW = (2.0 - GAMMA) / (1.0 - GAMMA)
ERROR = 2.0 * abs((-3.0 * GAMMA**2 + 4.0 * GAMMA - 2.0) / (12.0 * (2.0 - GAMMA)))
SHORT = 1e-10  # a restart's backward-Euler step [s]
SHORTEST = 1e-13  # a step this short is not cut for what runs away [s]
RESUME = 50.0  # the first full step after a restart, in those
MAX_ROWS = 400_000
GROWTH = 5.0
ORDINARY, WATCHED, FOLLOWS = 0, 1, 2  # roles of an unknown
# A node of capacitance C may be off by a charge this small [C], up to so many volts: what stray capacitance
# does in nanoseconds does not set the pace.
SMALL_CHARGE, MOST_EASE = 2e-13, 0.02
OF_PEAK = 1.0  # below this share of an unknown's largest value so far its error is counted as absolute


def nearest_change(ia: Ints, fa: Floats, sa: Floats, t: float) -> float:
    """The next scheduled change of any device [s]."""
    found = math.inf
    for p in range(0, len(ia), RECORD):
        found = min(found, devices.next_time(ia, p, fa, sa, t))
    return found


def fire_due(ia: Ints, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    """Let every device change whose time has come."""
    for p in range(0, len(ia), RECORD):
        guard = 0
        while devices.next_time(ia, p, fa, sa, t) <= t and guard < 10_000:
            devices.fire(ia, p, fa, sa, x, t)
            guard += 1


def fire_crossed(ia: Ints, fa: Floats, sa: Floats, x: Floats, t: float) -> int:
    """Let every device change whose threshold is passed; returns how many did."""
    fired = 0
    for p in range(0, len(ia), RECORD):
        if devices.watch(ia, p, fa, sa, x) > 0.0:
            devices.fire(ia, p, fa, sa, x, t)
            fired += 1
    return fired


def highest_watch(ia: Ints, fa: Floats, sa: Floats, x: Floats) -> float:
    """The largest watch value of any device; positive means that something has to fire."""
    found = -math.inf
    for p in range(0, len(ia), RECORD):
        found = max(found, devices.watch(ia, p, fa, sa, x))
    return found


def euler_step(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, q: Floats, qd: Floats,
    t: float, h: float, tol: Floats, floor: Floats, J: Floats, C: Floats, Jf: Floats, Cf: Floats, L: Floats, D: Floats, F: Floats, Q: Floats, b: Floats,
    dx: Floats, rhs: Floats, piv: Ints, hold: Floats, counts: Ints,
) -> int:  # fmt: skip
    """One backward-Euler step from (t, x, q) in place."""
    alpha = 1.0 / h
    for i in range(n):
        rhs[i] = alpha * q[i]
    status = newton(
        ia, fa, sa, lim, plan, nodes, n, x, alpha, rhs, t + h, 1.0, GMIN, tol, floor, 60, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
    )  # fmt: skip
    if status != OK:
        return status
    for i in range(n):
        qd[i] = alpha * (Q[i] - q[i])
        q[i] = Q[i]
    return OK


def trbdf2_step(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x0: Floats, q0: Floats, qd0: Floats,
    slope: Floats, t: float, h: float, tol: Floats, floor: Floats, ease: Floats, x1: Floats, q1: Floats, qd1: Floats, xm: Floats,
    J: Floats, C: Floats, Jf: Floats, Cf: Floats, L: Floats, D: Floats, F: Floats, Q: Floats, b: Floats, dx: Floats, rhs: Floats, piv: Ints,
    hold: Floats, counts: Ints,
) -> tuple[int, float]:  # fmt: skip
    """One step from (x0, q0, qd0) to (x1, q1, qd1); returns a status and the error in units of its allowance."""
    alpha = STAGE / h
    for i in range(n):
        xm[i] = x0[i] + GAMMA * h * slope[i]
        rhs[i] = alpha * q0[i] + qd0[i]
    status = newton(
        ia, fa, sa, lim, plan, nodes, n, xm, alpha, rhs, t + GAMMA * h, 1.0, GMIN, tol, floor, 20, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
    )  # fmt: skip
    if status != OK:
        return status, 0.0
    for i in range(n):
        # The error's first two terms: q'_0/γ − q'_m/(γ(1−γ)).
        q1[i] = qd0[i] / GAMMA - W_MID * (alpha * (Q[i] - q0[i]) - qd0[i])
        x1[i] = x0[i] + (xm[i] - x0[i]) / GAMMA
        rhs[i] = (W_MID * Q[i] - W_OLD * q0[i]) / h
    status = newton(
        ia, fa, sa, lim, plan, nodes, n, x1, alpha, rhs, t + h, 1.0, GMIN, tol, floor, 20, J, C, Jf, Cf, L, D, F, Q, b, dx, piv, hold, counts
    )  # fmt: skip
    if status != OK:
        return status, 0.0
    for i in range(n):
        qd1[i] = alpha * Q[i] - rhs[i]
        b[i] = ERROR * STAGE * (q1[i] + qd1[i] / (1.0 - GAMMA))
        q1[i] = Q[i]
    divide(L, plan, D, piv, n, b, dx)
    error = 0.0
    for i in range(n):
        share = abs(dx[i]) / (tol[i] * (max(abs(x1[i]), abs(x0[i])) + floor[i]) + ease[i])
        if not share < 1e300:
            return NO_NEWTON, 0.0
        error = max(error, share)
    # The estimate, filtered once more, taken off the solution: third order, and still damped for stiff parts.
    sparse.multiply(Cf, plan, dx, b)
    for i in range(n):
        b[i] *= alpha
    divide(L, plan, D, piv, n, b, dx)
    sparse.multiply(Cf, plan, dx, b)
    for i in range(n):
        x1[i] -= dx[i]
        q1[i] -= b[i]
    return OK, error


def pace(error: float, before: float) -> float:
    """By how much the next step may be longer, from the errors of this step and the one before."""
    error, before = max(error, 1e-5), max(before, 1e-5)
    return min(GROWTH, 0.9 * error**-0.3 * min(before / error, 1.0) ** (1.0 / 6.0))


def aim(a: float, g_a: float, b: float, g_b: float, m: float, g_m: float) -> float:
    """Where a parabola through three watch values crosses zero between a and b; the secant if it does not."""
    d1, d2 = (g_m - g_a) / (m - a), (g_b - g_m) / (b - m)
    curve = (d2 - d1) / (b - a)
    slope = d1 - curve * (m - a)
    root = slope * slope - 4.0 * curve * g_a
    if root > 0.0:
        below = slope + math.copysign(math.sqrt(root), slope)
        if below != 0.0:
            found = a - 2.0 * g_a / below
            if a < found < b:
                return found
    return a - (b - a) * g_a / (g_b - g_a)


def transient(
    ia: Ints, fa: Floats, sa: Floats, lim: Floats, plan: Ints, nodes: int, n: int, x: Floats, q: Floats, stop: float,
    h_max: float, role: Ints, rtol: float, event_rtol: float, event_tol: float, from_rest: bool, control: Floats,
) -> tuple[int, int, float, Ints, Floats, Floats, Floats]:  # fmt: skip
    """Integrate from 0 to `stop`.

    `role` says of each unknown whether it decides events (held to `event_rtol` instead of `rtol`) or only
    follows others. `from_rest` starts from the charges and fluxes in `q`; otherwise x must be an operating point.
    `control[0]` set from outside ends the run; `control[1]` tells how far it is. Returns status, rows,
    the time reached, counts (assemblies, the unknown that moved most, steps accepted, steps rejected,
    events, steps redone to find events, dense factors, solves), and the rows' times, unknowns and states.
    """
    m = n + 1
    J, C, D, L = np.zeros((m, m)), np.zeros((m, m)), np.zeros((m, m)), np.zeros(plan[0] + 1)
    Jf, Cf = J.reshape(m * m), C.reshape(m * m)
    F, Q, b, dx, rhs = np.zeros(m), np.zeros(m), np.zeros(m), np.zeros(m), np.zeros(m)
    piv, hold = np.zeros(m, np.int64), np.zeros(1)
    qd, slope, before = np.zeros(m), np.zeros(m), np.zeros(m)
    x1, q1, qd1, xm = np.zeros(m), np.zeros(m), np.zeros(m), np.zeros(m)
    counts, floor = np.zeros(8, np.int64), floors(nodes, n)
    tol, ease = np.full(m, rtol), np.zeros(m)
    for i in range(n):
        if role[i] == WATCHED:
            tol[i] = min(rtol, event_rtol)
        elif role[i] == FOLLOWS:
            ease[i] = math.inf
    error_before = 1.0
    times, xs, states = np.empty(512), np.empty((512, n)), np.empty((512, len(sa)))
    rows = 0
    t = 0.0
    assemble(ia, fa, sa, lim, plan, nodes, n, x, t, 1.0, GMIN, J, C, Jf, Cf, F, Q)
    sign = at_infinity(Jf, Cf, L, plan)
    if not from_rest:
        q[:] = Q
        rows, times, xs, states = record(rows, t, x, sa, times, xs, states)
    short = max(SHORT, 4e-15 * stop)
    h = min(h_max, stop * 1e-4)
    restart = 2
    recovering = 0
    change = nearest_change(ia, fa, sa, t)
    while t < stop * (1.0 - 1e-14):
        if control[0] > 0.0:
            return CANCELLED, rows, t, counts, times, xs, states
        control[1] = t
        if change <= t:
            fire_due(ia, fa, sa, x, t)
            change = nearest_change(ia, fa, sa, t)
            restart = 2
            continue
        until = min(change, stop)
        if restart > 0:
            # A tiny step settles what jumps; growing it when Newton fails helps folds, so try both ways.
            step = min(short, 0.25 * (until - t))
            settled = False
            status = OK
            for _ in range(12):
                before[:] = x
                status = euler_step(
                    ia, fa, sa, lim, plan, nodes, n, x, q, qd, t, step, tol, floor, J, C, Jf, Cf, L, D, F, Q, b, dx, rhs, piv, hold, counts
                )  # fmt: skip
                counts[7] += 1
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
                h = min(h_max, RESUME * step)
                for i in range(nodes):
                    if role[i] == ORDINARY:
                        ease[i] = min(SMALL_CHARGE / max(C[i, i], 1e-15), MOST_EASE)
                if fire_crossed(ia, fa, sa, x, t) > 0:
                    counts[4] += 1
                    restart = 2
                    change = nearest_change(ia, fa, sa, t)
            continue
        left = until - t
        lands = h >= left * 0.999
        step = left if lands else min(h, 0.5 * left) if h > 0.5 * left else h
        counts[7] += 2
        status, error = trbdf2_step(
            ia, fa, sa, lim, plan, nodes, n, x, q, qd, slope, t, step, tol, floor, ease, x1, q1, qd1, xm, J, C, Jf, Cf, L, D, F, Q, b, dx, rhs, piv, hold, counts
        )  # fmt: skip
        runs_away = status == OK and sign * L[plan[0]] < 0.0 and step > SHORTEST
        if status != OK or error > 1.0 or runs_away:
            counts[3] += 1
            h = 0.25 * step if status != OK or runs_away else step * max(0.2, 0.9 * error ** (-1.0 / 3.0))
            if status != OK:
                recovering = 3
                slope[:] = 0.0
            if h < 1e-15 * max(t, short) or h < 1e-17:
                return STEP_TOO_SMALL, rows, t, counts, times, xs, states
            continue
        high = highest_watch(ia, fa, sa, x1)
        crossed = high > 0.0
        if crossed:
            # A parabola through the step's three points gives the first aim; then false position, aimed just
            # past the root from either side so that the bracket closes from both ends, halved whenever three
            # tries have not halved it.
            ends, g_ends = step, high
            lower, g_lower = 0.0, highest_watch(ia, fa, sa, x)
            upper, g_upper = ends, g_ends
            middle, g_middle = GAMMA * step, highest_watch(ia, fa, sa, xm)
            exact = max(event_tol * step, 1e-14 * t)
            side, tries, wide = 1.0, 0, step
            while upper - lower > exact:
                tries += 1
                if tries == 1:
                    c = aim(lower, g_lower, upper, g_upper, middle, g_middle) + 0.4 * exact
                elif tries % 3 == 0 and upper - lower > 0.5 * wide:
                    c = 0.5 * (lower + upper)
                else:
                    c = lower - (upper - lower) * g_lower / (g_upper - g_lower) + side * 0.4 * exact
                if tries % 3 == 0:
                    wide = upper - lower
                c = min(max(c, lower + 0.3 * exact), upper - 0.3 * exact)
                status, error = trbdf2_step(
                    ia, fa, sa, lim, plan, nodes, n, x, q, qd, slope, t, c, tol, floor, ease, x1, q1, qd1, xm, J, C, Jf, Cf, L, D, F, Q, b, dx, rhs, piv, hold, counts
                )  # fmt: skip
                counts[5] += 1
                counts[7] += 2
                if status != OK:
                    return status, rows, t, counts, times, xs, states
                step = c
                g = highest_watch(ia, fa, sa, x1)
                if g > 0.0:
                    upper, g_upper, side = c, g, -1.0
                else:
                    lower, g_lower, side = c, g, 1.0
            if step != upper:
                step = upper
                status, error = trbdf2_step(
                    ia, fa, sa, lim, plan, nodes, n, x, q, qd, slope, t, step, tol, floor, ease, x1, q1, qd1, xm, J, C, Jf, Cf, L, D, F, Q, b, dx, rhs, piv, hold, counts
                )  # fmt: skip
                counts[5] += 1
                counts[7] += 2
            lands = step == left
        counts[2] += 1
        rows, times, xs, states = record_step(rows, t, until - t if lands else step, n, x, xm, x1, floor, b, sa, times, xs, states)
        for i in range(n):
            slope[i] = (x1[i] - x[i]) / step
            x[i], q[i], qd[i] = x1[i], q1[i], qd1[i]
            floor[i] = max(floor[i], OF_PEAK * abs(x1[i]))
        t = until if lands else t + step
        if rows >= MAX_ROWS:
            return TOO_MANY_ROWS, rows, t, counts, times, xs, states
        if crossed:
            fire_crossed(ia, fa, sa, x, t)
            counts[4] += 1
            restart = 2
            change = nearest_change(ia, fa, sa, t)
        growth = pace(error, error_before)
        error_before = error
        if recovering > 0:
            recovering -= 1
            growth = min(growth, 1.5)
        h = min(h_max, max(step, h if lands else step) * growth)
    return OK, rows, t, counts, times, xs, states


PLAIN = (
    nearest_change, fire_due, fire_crossed, highest_watch, euler_step, trbdf2_step, pace, aim, transient,
)  # fmt: skip
