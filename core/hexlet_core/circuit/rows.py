"""The rows of a trajectory: written as steps are accepted, and read back device by device.

Plain Python, compiled by `engine`.
"""

from __future__ import annotations

import math

import numpy as np

from . import devices
from .devices.base import HEAD, RECORD, Floats, Ints

GAMMA = 2.0 - math.sqrt(2.0)  # where in a step the trapezoidal stage ends
SHOWN, MOST_PIECES = 1e-3, 8  # rows are so close that straight lines between them are right to this share


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


def record_step(
    rows: int, t: float, h: float, n: int, x0: Floats, xm: Floats, x1: Floats, floor: Floats, row: Floats, sa: Floats,
    times: Floats, xs: Floats, states: Floats,
) -> tuple[int, Floats, Floats, Floats]:  # fmt: skip
    """Append a step from (t, x0) to (t + h, x1), with points between so that straight lines tell the curve.

    The parabola through the step's three points bends away from its chord by about what the middle point does;
    beyond the three it is cut off, or a sharp edge would overshoot.
    """
    bend = 0.0
    for i in range(n):
        off = abs(xm[i] - x0[i] - GAMMA * (x1[i] - x0[i])) / (SHOWN * (floor[i] + abs(x1[i])))
        bend = max(bend, off)
    pieces = min(int(math.sqrt(bend)) + 1, MOST_PIECES)
    for k in range(1, pieces):
        s = k / pieces
        a, b, c = (s - GAMMA) * (s - 1.0) / GAMMA, s * (s - 1.0) / (GAMMA * (GAMMA - 1.0)), s * (s - GAMMA) / (1.0 - GAMMA)
        for i in range(n):
            least, most = min(x0[i], xm[i], x1[i]), max(x0[i], xm[i], x1[i])
            row[i] = min(max(a * x0[i] + b * xm[i] + c * x1[i], least), most)
        rows, times, xs, states = record(rows, t + s * h, row, sa, times, xs, states)
    return record(rows, t + h, x1, sa, times, xs, states)


def device_flows(ia: Ints, fa: Floats, d: int, inner: int, times: Floats, xs: Floats, states: Floats) -> tuple[Floats, Floats]:
    """What one device draws at each of its unknowns along a trajectory: conduction [A] and charge [C].

    Shapes (rows, inner). Each of the device's unknowns is moved to a row of its own, so that two terminals
    on one node stay apart; `inner` says how many it has.
    """
    rows = len(times)
    own = ia[d * RECORD : (d + 1) * RECORD].copy()
    for k in range(HEAD, RECORD):
        own[k] = min(k - HEAD, inner)
    m = inner + 1
    x, F, Q, J, C, lim = np.zeros(m), np.zeros(m), np.zeros(m), np.zeros((m, m)), np.zeros((m, m)), np.zeros(8)
    own[3] = 0
    conduction, charge = np.zeros((rows, inner)), np.zeros((rows, inner))
    for r in range(rows):
        for k in range(inner):
            u = ia[d * RECORD + HEAD + k]
            x[k] = xs[r, u] if u < xs.shape[1] else 0.0
        for _ in range(40):  # let the junction limiter walk to the point
            F[:] = 0.0
            Q[:] = 0.0
            if devices.load(own, 0, fa, states[r], lim, x, J, C, F, Q, times[r], 1.0) == 0:
                break
        for k in range(inner):
            conduction[r, k], charge[r, k] = F[k], Q[k]
    return conduction, charge


PLAIN = (record, record_step, device_flows)
