"""The rows of a run: what lies between two computed points, and what a device draws along the way.

Between two points the charges follow the cubic through both with their slopes −f(x), and the unknowns the
cubic through x with dx/dt. `inside` computes a point between them that satisfies Kirchhoff's laws for those
charges; how far the unknowns' own cubic is off there tells whether it can be trusted. Plain Python, compiled
by `engine`.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices, sparse
from .devices.base import HEAD, RECORD, Floats
from .memory import Circuit, Rows, Run, Work
from .newton import GMIN, HURRIED, OK, SINGULAR, assemble, divide, newton, refactor

GAMMA = 2.0 - math.sqrt(2.0)  # where in a step the trapezoidal stage ends
STAGE = 2.0 / GAMMA  # both stages: alpha = STAGE/h
TRUE = 1e-4  # a cubic off by no more than this share needs no computed point
CUT = 16.0  # halves of a step that is off by so many times as much would be off too: it is cut
SHOWN, MOST_PIECES = 2e-3, 8  # rows are so close that straight lines between them are right to this share
ROOM = MOST_PIECES + 2  # rows that one step may take


def record(rows: Rows, count: int, t: float, x: Floats, slope: Floats, sa: Floats, jump: int) -> int:
    """Write one row; returns how many there are."""
    rows.times[count] = t
    rows.jumps[count] = jump
    for i in range(rows.xs.shape[1]):
        rows.xs[count, i], rows.slopes[count, i] = x[i], slope[i]
    for i in range(len(sa)):
        rows.states[count, i] = sa[i]
    return count + 1


def time_slopes(c: Circuit, w: Work, x: Floats, t: float, dt: float, out: Floats, spare: Floats) -> None:
    """df/dt at fixed x: what sources, pins and moving potentiometers change by themselves."""
    for i in range(c.n + 1):
        out[i] = 0.0
    for p in range(0, len(c.ia), RECORD):
        if devices.moves(c.ia, p, c.fa, c.sa):
            for i in range(c.n + 1):
                out[i] = -out[i]
            devices.load(c.ia, p, c.fa, c.sa, c.lim, x, w.G, w.G, out, spare, t, 1.0)
            for i in range(c.n + 1):
                out[i] = -out[i]
            devices.load(c.ia, p, c.fa, c.sa, c.lim, x, w.G, w.G, out, spare, t + dt, 1.0)
    for i in range(c.n):
        out[i] /= dt


def solve_slopes(c: Circuit, w: Work, alpha: float, flow: Floats, out: Floats) -> None:
    """dx/dt from (J + αC)·x' = α·q' − q'' − ∂f/∂t, the right-hand side in `w.b`, with the factors at hand.

    What q'' is not known well enough for is mended by a second solution for what C·x' misses of q', `flow`.
    """
    divide(c, w, w.b, out)
    sparse.multiply(w.Cf, c.plan, out, w.b)
    for i in range(c.n):
        w.b[i] = alpha * (flow[i] - w.b[i])
    divide(c, w, w.b, w.dx)
    for i in range(c.n):
        out[i] += w.dx[i]


def inside(c: Circuit, w: Work, r: Run, t: float, h: float, s: float) -> tuple[int, float, float]:
    """The point at the share s of a step, in `xc` and `slope_c`: a status and by how much the cubic was off.

    Returns the worst share of `TRUE`, and of what cuts a step: of `CUT` times that, or of the error allowed
    in a step by what the current law misses when the charges flow as their cubic says (at a kink both stages
    are blind to it).
    """
    n, xc, alpha = c.n, r.xc, STAGE / h
    a1, b0, b1 = s * s * (3.0 - 2.0 * s), s * (1.0 - s) ** 2, s * s * (s - 1.0)
    da1, db0, db1 = 6.0 * s * (1.0 - s), 3.0 * s * s - 4.0 * s + 1.0, 3.0 * s * s - 2.0 * s
    for i in range(n):
        xc[i] = r.x[i] + a1 * (r.x1[i] - r.x[i]) + h * (b0 * r.slope[i] + b1 * r.slope1[i])
        moved = r.q1[i] - r.q[i]
        flow = da1 * moved / h + db0 * r.flow[i] + db1 * r.flow1[i]
        w.rhs[i] = alpha * (r.q[i] + a1 * moved + h * (b0 * r.flow[i] + b1 * r.flow1[i])) - flow
        r.before[i] = xc[i]
    for i in range(len(c.lim)):
        r.lim[i] = c.lim[i]
    limited = assemble(c, w, xc, t + s * h, 1.0, GMIN)
    w.counts[0] += 1
    w.counts[7] += 1
    if refactor(c, w, alpha) >= 0:
        return SINGULAR, 0.0, 0.0
    for i in range(n):
        w.b[i] = w.rhs[i] - w.F[i] - alpha * w.Q[i]
    divide(c, w, w.b, w.dx)
    worst, deciding = 0.0, 0.0
    for i in range(n):
        xc[i] += w.dx[i]
        worst = max(worst, abs(w.dx[i]) / (TRUE * (w.floor[i] + abs(xc[i]))))
    sparse.multiply(w.Jf, c.plan, w.dx, w.b)  # by what the currents at xc differ from those assembled
    status = OK
    if limited > 0 or not worst < 1.0:
        for i in range(n):
            xc[i] = r.before[i]
        status = newton(c, w, xc, alpha, t + s * h, 1.0, GMIN, HURRIED)
        worst = 0.0
        for i in range(n):
            w.b[i] = 0.0
            off = abs(xc[i] - r.before[i])
            share = off / (TRUE * (w.floor[i] + abs(xc[i])))
            worst = max(worst, share)
            ease = w.ease[i] if w.ease[i] < math.inf else 0.0
            deciding = max(deciding, off / (CUT * TRUE * (w.floor[i] + abs(xc[i])) + ease))
    if status == OK:
        for i in range(n):
            w.rhs[i] = -w.F[i] - w.b[i]  # q' at the point itself
            w.b[i] = w.rhs[i] - da1 * (r.q1[i] - r.q[i]) / h - db0 * r.flow[i] - db1 * r.flow1[i]
        divide(c, w, w.b, w.dx)
        for i in range(n):
            deciding = max(deciding, abs(w.dx[i]) / (w.tol[i] * (w.floor[i] + abs(xc[i])) + w.ease[i]))
        time_slopes(c, w, xc, t + s * h, 1e-4 * h, w.b, r.before)
        for i in range(n):
            moved = (r.q1[i] - r.q[i]) / h
            curl = (6.0 - 12.0 * s) * moved + (6.0 * s - 4.0) * r.flow[i] + (6.0 * s - 2.0) * r.flow1[i]
            w.b[i] = alpha * w.rhs[i] - curl / h - w.b[i]
        solve_slopes(c, w, alpha, w.rhs, r.slope_c)
    for i in range(len(c.lim)):
        c.lim[i] = r.lim[i]
    return status, worst, deciding


def doubt(c: Circuit, w: Work, r: Run, h: float) -> float:
    """How far a step's cubic is off the point that the first stage found, as a share of `TRUE`."""
    a1, b0, b1 = GAMMA**2 * (3.0 - 2.0 * GAMMA), GAMMA * (1.0 - GAMMA) ** 2, GAMMA**2 * (GAMMA - 1.0)
    worst = 0.0
    for i in range(c.n):
        cubic = r.x[i] + a1 * (r.x1[i] - r.x[i]) + h * (b0 * r.slope[i] + b1 * r.slope1[i])
        off = abs(cubic - r.xm[i]) / (TRUE * (w.floor[i] + abs(r.x1[i])))
        if not off <= worst:
            worst = off
    return worst


def pieces_of(c: Circuit, w: Work, r: Run, h: float) -> int:
    """Into how many pieces a step is drawn, so that straight lines tell the curve."""
    bend = 0.0
    for i in range(c.n):
        moved = r.x1[i] - r.x[i]
        a, b = h * r.slope[i] - moved, h * r.slope1[i] - moved
        off = max(0.125 * abs(a - b), 0.05 * abs(a + b))
        bend = max(bend, off / (SHOWN * (w.floor[i] + abs(r.x1[i]))))
    return min(2 * (1 + int(0.5 * math.sqrt(bend))), MOST_PIECES) if bend > 1.0 else 1


def record_step(
    c: Circuit,
    w: Work,
    r: Run,
    rows: Rows,
    count: int,
    t: float,
    h: float,
    end: float,
    pieces: int,
    straight: int,
    brief: float,
) -> int:
    """Write a step from t to `end` in an even number of pieces, or in one; its middle is in `xc`.

    Returns how many rows there are, or −1 if a point between is so far off that a step longer than `brief` is
    cut.
    """
    if pieces > 1:
        middle, middle_slope = r.qdm, r.xm  # no longer needed
        for i in range(c.n):
            middle[i], middle_slope[i] = r.xc[i], r.slope_c[i]
        for k in range(1, pieces):
            s = k / pieces
            if 2 * k == pieces:
                count = record(rows, count, t + s * h, middle, middle_slope, c.sa, 0)
            else:
                status, _, deciding = inside(c, w, r, t, h, s)
                if h > brief and (status != OK or deciding > 1.0):
                    return -1
                if status == OK:
                    count = record(rows, count, t + s * h, r.xc, r.slope_c, c.sa, 0)
    return record(rows, count, end, r.x1, r.slope1, c.sa, straight)


def device_flows(
    c: Circuit, w: Work, d: int, inner: int, times: Floats, xs: Floats, slopes: Floats, states: Floats
) -> tuple[Floats, Floats, Floats, Floats]:
    """What one device draws at each of its unknowns along a run: conduction [A] and charge [C], and their
    slopes.

    Shapes (rows, inner). Each of the device's unknowns is moved to a row of its own, so that two terminals on
    one node stay apart; `inner` says how many it has. `w` is a workspace of that size.
    """
    rows = len(times)
    own = c.ia[d * RECORD : (d + 1) * RECORD].copy()
    for k in range(HEAD, RECORD):
        own[k] = min(k - HEAD, inner)
    x, dx, later, lim = np.zeros(inner + 1), np.zeros(inner + 1), np.zeros(inner + 1), np.zeros(8)
    own[3] = 0
    conduction, charge = np.zeros((rows, inner)), np.zeros((rows, inner))
    d_conduction, d_charge = np.zeros((rows, inner)), np.zeros((rows, inner))
    for r in range(rows):
        for k in range(inner):
            u = c.ia[d * RECORD + HEAD + k]
            x[k] = xs[r, u] if u < xs.shape[1] else 0.0
            dx[k] = slopes[r, u] if u < xs.shape[1] else 0.0
        for _ in range(40):  # let the junction limiter walk to the point
            w.F[:] = 0.0
            w.Q[:] = 0.0
            w.J[:] = 0.0
            w.C[:] = 0.0
            if devices.load(own, 0, c.fa, states[r], lim, x, w.J, w.C, w.F, w.Q, times[r], 1.0) == 0:
                break
        dt = 0.0
        if devices.moves(own, 0, c.fa, states[r]):
            dt = 1e-6 * (times[r] - times[r - 1] if r > 0 else times[1] - times[0] if rows > 1 else 1.0)
            later[:] = 0.0
            if dt > 0.0:
                devices.load(own, 0, c.fa, states[r], lim, x, w.G, w.G, later, w.b, times[r] - dt, 1.0)
        for k in range(inner):
            conduction[r, k], charge[r, k] = w.F[k], w.Q[k]
            if dt > 0.0:
                d_conduction[r, k] = (w.F[k] - later[k]) / dt
            for j in range(inner):
                d_conduction[r, k] += w.J[k, j] * dx[j]
                d_charge[r, k] += w.C[k, j] * dx[j]
    return conduction, charge, d_conduction, d_charge


PLAIN = (record, time_slopes, solve_slopes, inside, doubt, pieces_of, record_step, device_flows)
