"""The circuit in time: TR-BDF2 with error control and exact events. Plain Python, compiled by `engine`.

The integrator is TR-BDF2 in charge form (a trapezoidal stage to t + γh, then a second-order backward
difference; Bank et al.'s one-step method, γ = 2 − √2, so that both stages share one matrix). Its error is
read from the three charge derivatives and filtered by the system matrix, which keeps stiff nodes from ruling
the step; filtered twice it is taken off the solution, which makes the method third order and leaves it damped
at infinity (for x' = λx, |R| stays below 1 and falls to 0 as −λh grows). Unknowns that decide events are held
to a tolerance of their own, currents of ideal sources only follow. Nodes without charge of their own are not
seen by that error: the middle of each step is computed, and a step whose cubic is off there is cut. At a
discontinuity the integrator restarts with two very short backward-Euler steps.
"""

from __future__ import annotations

import math

from . import devices, sparse
from .devices.base import RECORD, Floats
from .memory import Circuit, Rows, Run, Work
from .newton import (
    CANCELLED,
    GMIN,
    HURRIED,
    MORE,
    NO_NEWTON,
    OK,
    STEP_TOO_SMALL,
    TORN,
    assemble,
    at_infinity,
    divide,
    newton,
    refactor,
)
from .rows import GAMMA, ROOM, STAGE, doubt, inside, pieces_of, record, record_step, solve_slopes, time_slopes

W_MID, W_OLD = 1.0 / (GAMMA * (1.0 - GAMMA)), (1.0 - GAMMA) / GAMMA
W_NEW = (2.0 - GAMMA) / (1.0 - GAMMA)
ERROR = 2.0 * abs((-3.0 * GAMMA**2 + 4.0 * GAMMA - 2.0) / (12.0 * (2.0 - GAMMA)))
SHORT = 1e-10  # a restart's backward-Euler step [s]
SHORTEST = 1e-13  # a step this short is not cut for what runs away [s]
RESUME = 50.0  # the first full step after a restart, in those
BRIEF = 1e-6  # a step this short, as a share of the run, is not cut for what lies between
GROWTH = 5.0
# A node of capacitance C may be off by a charge this small [C], up to so many volts: what stray capacitance
# does in nanoseconds does not set the pace.
SMALL_CHARGE, MOST_EASE = 2e-13, 0.02
OF_PEAK = 1.0  # below this share of an unknown's largest value so far its error is counted as absolute
TIME, STEP, ERROR_BEFORE, RESTART, CAUTION, SIGN, BEGUN, PULLS, MOST_PULLS, ESCAPE = range(
    10
)  # places in a run's memo


def nearest_change(c: Circuit, t: float) -> float:
    """The next scheduled change of any device [s]."""
    found = math.inf
    for p in range(0, len(c.ia), RECORD):
        found = min(found, devices.next_time(c.ia, p, c.fa, c.sa, t))
    return found


def fire_due(c: Circuit, x: Floats, t: float) -> None:
    """Let every device change whose time has come."""
    for p in range(0, len(c.ia), RECORD):
        guard = 0
        while devices.next_time(c.ia, p, c.fa, c.sa, t) <= t and guard < 10_000:
            devices.fire(c.ia, p, c.fa, c.sa, x, t)
            guard += 1


def fire_crossed(c: Circuit, x: Floats, t: float) -> int:
    """Let every device change whose threshold is passed; returns how many did."""
    fired = 0
    for p in range(0, len(c.ia), RECORD):
        if devices.watch(c.ia, p, c.fa, c.sa, x) > 0.0:
            devices.fire(c.ia, p, c.fa, c.sa, x, t)
            fired += 1
    return fired


def highest_watch(c: Circuit, x: Floats) -> float:
    """The largest watch value of any device; positive means that something has to fire."""
    found = -math.inf
    for p in range(0, len(c.ia), RECORD):
        found = max(found, devices.watch(c.ia, p, c.fa, c.sa, x))
    return found


def euler_step(c: Circuit, w: Work, r: Run, t: float, h: float) -> int:
    """One backward-Euler step in place."""
    alpha = 1.0 / h
    for i in range(c.n):
        w.rhs[i] = alpha * r.q[i]
    status = newton(c, w, r.x, alpha, t + h, 1.0, GMIN, 60)
    if status != OK:
        return status
    for i in range(c.n):
        r.qd[i] = alpha * (w.Q[i] - r.q[i])
        r.q[i] = w.Q[i]
        r.flow[i] = -w.F[i]
    return OK


def restart(c: Circuit, w: Work, r: Run, t: float, most: float, short: float) -> tuple[int, float]:
    """A very short step that settles what jumps; returns a status and its length. `slope` is
    right after it.
    """
    step = min(short, most)
    status = OK
    # When Newton fails, a longer step helps folds and a shorter one what is steep: both ways are tried, ever
    # further.
    for tried in range(12):
        for i in range(c.n):
            r.before[i] = r.x[i]
        status = euler_step(c, w, r, t, step)
        w.counts[7] += 1
        if status == OK:
            break
        for i in range(c.n):
            r.x[i] = r.before[i]
        reach = 8.0 ** (1 + tried // 2)
        step = min(short * reach if tried % 2 else short / reach**1.5, most)
    if status == OK:
        time_slopes(c, w, r.x, t + step, step, w.b, r.before)
        for i in range(c.n):
            w.b[i] = r.flow[i] / step - w.b[i]
        divide(c, w, w.b, r.slope)
    return status, step


def trbdf2_step(c: Circuit, w: Work, r: Run, t: float, h: float) -> tuple[int, float]:
    """One step from (x, q, qd) to (x1, q1, qd1); returns a status and the error in units of its allowance."""
    n, alpha = c.n, STAGE / h
    lead = GAMMA * h if r.memo[CAUTION] < 3.0 else 0.0
    for i in range(n):
        r.xm[i] = r.x[i] + lead * r.slope[i]
        w.rhs[i] = alpha * r.q[i] + r.qd[i]
    status = newton(c, w, r.xm, alpha, t + GAMMA * h, 1.0, GMIN, HURRIED)
    if status != OK:
        return status, 0.0
    for i in range(n):
        r.qdm[i] = alpha * (w.Q[i] - r.q[i]) - r.qd[i]
        r.x1[i] = r.x[i] + (r.xm[i] - r.x[i]) / GAMMA
        w.rhs[i] = (W_MID * w.Q[i] - W_OLD * r.q[i]) / h
    status = newton(c, w, r.x1, alpha, t + h, 1.0, GMIN, HURRIED)
    if status != OK:
        return status, 0.0
    for i in range(n):
        r.qd1[i] = alpha * w.Q[i] - w.rhs[i]
        w.b[i] = ERROR * STAGE * (r.qd[i] / GAMMA - W_MID * r.qdm[i] + r.qd1[i] / (1.0 - GAMMA))
        r.q1[i] = w.Q[i]
    divide(c, w, w.b, w.dx)
    error = 0.0
    for i in range(n):
        share = abs(w.dx[i]) / (w.tol[i] * max(abs(r.x1[i]), abs(r.x[i]), w.floor[i]) + w.ease[i])
        if not share < 1e300:
            return NO_NEWTON, 0.0
        error = max(error, share)
    # The estimate, filtered once more, taken off the solution: third order, and still damped for stiff parts.
    sparse.multiply(w.Cf, c.plan, w.dx, w.b)
    for i in range(n):
        w.b[i] *= alpha
    divide(c, w, w.b, w.dx)
    sparse.multiply(w.Jf, c.plan, w.dx, w.b)
    for i in range(n):
        r.flow1[i] = w.b[i] - w.F[i]
    sparse.multiply(w.Cf, c.plan, w.dx, w.b)
    for i in range(n):
        r.x1[i] -= w.dx[i]
        r.q1[i] -= w.b[i]
    return OK, error


def end_slopes(c: Circuit, w: Work, r: Run, t: float, h: float) -> None:
    """dx/dt at the end of a step, with q'' from its three charge slopes."""
    alpha = STAGE / h
    refactor(c, w, alpha)  # Newton's last factors are those of the iterate before
    time_slopes(c, w, r.x1, t + h, -1e-4 * h, w.b, r.before)
    for i in range(c.n):
        curl = (W_OLD * r.qd[i] - W_MID * r.qdm[i] + W_NEW * r.qd1[i]) / h
        w.b[i] = alpha * r.flow1[i] - curl - w.b[i]
    solve_slopes(c, w, alpha, r.flow1, r.slope1)


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


def locate(
    c: Circuit, w: Work, r: Run, t: float, step: float, high: float, event_tol: float
) -> tuple[int, float]:
    """Redo a step that crosses a threshold so that it ends just past it; returns a status and its length.

    A parabola through the step's three points gives the first aim; then false position, aimed just past the
    root from either side so that the bracket closes from both ends, halved whenever three tries have not
    halved it.
    """
    lower, g_lower = 0.0, highest_watch(c, r.x)
    upper, g_upper = step, high
    middle, g_middle = GAMMA * step, highest_watch(c, r.xm)
    exact = max(event_tol * step, 1e-14 * t)
    side, tries, wide = 1.0, 0, step
    last = step
    while upper - lower > exact:
        tries += 1
        if tries == 1:
            s = aim(lower, g_lower, upper, g_upper, middle, g_middle) + 0.4 * exact
        elif tries % 3 == 0 and upper - lower > 0.5 * wide:
            s = 0.5 * (lower + upper)
        else:
            s = lower - (upper - lower) * g_lower / (g_upper - g_lower) + side * 0.4 * exact
        if tries % 3 == 0:
            wide = upper - lower
        last = min(max(s, lower + 0.3 * exact), upper - 0.3 * exact)
        status, _ = trbdf2_step(c, w, r, t, last)
        w.counts[5] += 1
        w.counts[7] += 2
        if status != OK:
            return status, last
        g = highest_watch(c, r.x1)
        if g > 0.0:
            upper, g_upper, side = last, g, -1.0
        else:
            lower, g_lower, side = last, g, 1.0
    if last != upper:
        w.counts[5] += 1
        w.counts[7] += 2
        status, _ = trbdf2_step(c, w, r, t, upper)
        return status, upper
    return OK, upper


def march(
    c: Circuit,
    w: Work,
    r: Run,
    rows: Rows,
    count: int,
    stop: float,
    h_max: float,
    event_tol: float,
    from_rest: bool,
    control: Floats,
) -> tuple[int, int]:
    """Go on with a run until `stop` or until the rows are full; returns a status and how many rows there are.

    `from_rest` starts from the charges and fluxes in `r.q`; otherwise `r.x` must be an operating point.
    `control[0]` set from outside ends the run; `control[1]` tells how far it is. TORN: the state it is in
    cannot last
    and nothing says which way it goes, as in a symmetric latch.
    """
    memo = r.memo
    if memo[BEGUN] == 0.0:
        memo[BEGUN] = 1.0
        assemble(c, w, r.x, 0.0, 1.0, GMIN)
        memo[SIGN] = at_infinity(c, w)
        if not from_rest:
            for i in range(c.n):
                r.q[i] = w.Q[i]
            count = record(rows, count, 0.0, r.x, r.slope, c.sa, 0)
            # A state of rest whose determinant has the other sign cannot last: the run leaves it at once.
            if refactor(c, w, 0.0) < 0 and memo[SIGN] * w.L[c.plan[0]] < 0.0:
                memo[MOST_PULLS], memo[ESCAPE] = math.inf, 0.0
        memo[STEP] = min(h_max, stop * 1e-4)
    short = max(SHORT, 4e-15 * stop)
    brief = max(BRIEF * stop, RESUME * short)
    t = memo[TIME]
    change = nearest_change(c, t)
    while t < stop * (1.0 - 1e-14):
        control[1] = t
        if control[0] > 0.0:
            return CANCELLED, count
        if count + ROOM > len(rows.times):
            return MORE, count
        if change <= t:
            fire_due(c, r.x, t)
            change = nearest_change(c, t)
            memo[RESTART] = 2.0
            continue
        until = min(change, stop)
        if memo[RESTART] > 0.0:
            status, step = restart(c, w, r, t, 0.25 * (until - t), short)
            if status != OK:
                return status, count
            t += step
            memo[TIME] = t
            memo[RESTART] -= 1.0
            if memo[RESTART] == 0.0:
                count = record(rows, count, t, r.x, r.slope, c.sa, 1)
                memo[STEP] = min(h_max, RESUME * step)
                for i in range(c.nodes):
                    if w.ease[i] < math.inf:
                        w.ease[i] = min(SMALL_CHARGE / max(w.C[i, i], 1e-15), MOST_EASE)
                if fire_crossed(c, r.x, t) > 0:
                    w.counts[4] += 1
                    memo[RESTART] = 2.0
                    change = nearest_change(c, t)
            continue
        h, left = memo[STEP], until - t
        lands = h >= left * 0.999
        step = left if lands else min(h, 0.5 * left) if h > 0.5 * left else h
        w.counts[7] += 2
        status, error = trbdf2_step(c, w, r, t, step)
        runs_away = status == OK and memo[SIGN] * w.L[c.plan[0]] < 0.0 and step > SHORTEST
        if status != OK or error > 1.0 or runs_away:
            w.counts[3] += 1
            memo[STEP] = (
                0.25 * step if status != OK or runs_away else step * max(0.2, 0.9 * error ** (-1.0 / 3.0))
            )
            if runs_away:
                memo[PULLS] += 1.0
                if memo[PULLS] > memo[MOST_PULLS]:
                    memo[MOST_PULLS], memo[ESCAPE] = memo[PULLS], t
            if status != OK:
                memo[CAUTION] = 3.0
            if memo[STEP] < 1e-15 * max(t, short) or memo[STEP] < 1e-17:
                return TORN if runs_away else STEP_TOO_SMALL, count
            continue
        high = highest_watch(c, r.x1)
        crossed = high > 0.0
        if crossed:
            status, step = locate(c, w, r, t, step, high, event_tol)
            if status != OK:
                return status, count
            lands = step == left
        end_slopes(c, w, r, t, step)
        pieces, straight = pieces_of(c, w, r, step), 0
        if pieces > 1 or doubt(c, w, r, step) > 1.0:
            status, off, deciding = inside(c, w, r, t, step, 0.5)
            if status != OK or deciding > 1.0:
                if step > brief:
                    w.counts[3] += 1
                    memo[STEP] = 0.5 * step if status == OK and deciding < 16.0 else 0.2 * step
                    continue
                pieces, straight = 1, 1  # too short to cut: no cubic is claimed
            elif off > 1.0:
                pieces = max(pieces, 2)
        end = until if lands else t + step
        written = record_step(c, w, r, rows, count, t, step, end, pieces, straight, brief)
        if written < 0:
            w.counts[3] += 1
            memo[STEP] = 0.5 * step
            continue
        count = written
        w.counts[2] += 1
        memo[PULLS] *= 0.9
        for i in range(c.n):
            r.slope[i], r.flow[i] = r.slope1[i], r.flow1[i]
            r.x[i], r.q[i], r.qd[i] = r.x1[i], r.q1[i], r.qd1[i]
            w.floor[i] = max(w.floor[i], OF_PEAK * abs(r.x1[i]))
        t = end
        memo[TIME] = t
        if crossed:
            fire_crossed(c, r.x, t)
            w.counts[4] += 1
            memo[RESTART] = 2.0
            change = nearest_change(c, t)
        growth = pace(error, memo[ERROR_BEFORE])
        memo[ERROR_BEFORE] = error
        if memo[CAUTION] > 0.0:
            memo[CAUTION] -= 1.0
            growth = min(growth, 1.5)
        memo[STEP] = min(h_max, max(step, h if lands else step) * growth)
    return OK, count


PLAIN = (
    nearest_change,
    fire_due,
    fire_crossed,
    highest_watch,
    euler_step,
    restart,
    trbdf2_step,
    end_slopes,
    pace,
    aim,
    locate,
    march,
)
