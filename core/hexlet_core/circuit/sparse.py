"""Sparse LU with an elimination order fixed once for a topology.

`plan` looks only at which unknowns meet in a device, never at values, so that the same circuit gives the
same bits alone and in a batch. Ideal sources are eliminated first, each paired with one of its nodes
(pivots of ±1), then currents in coils, then nodes by the fewest products (Markowitz's count on the
diagonal). `factor` and `solve` follow the plan over a compact array of the entries that exist; they are
plain Python for the engine to compile. A pivot too small for the fixed order is reported, and the
caller falls back to dense elimination with row exchange.

A plan is one flat array: [slots, positions, first step, n, 0, 0, 0, 0, positions into the dense matrix …,
their rows …, their columns …, steps …, offsets of the steps …]; a step is [row, column, pivot slot, rows,
columns, (slot, column) …, (row, multiplier slot, target slots …) …].
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from .devices.base import Floats, Ints

HEAD = 8
LARGEST_MULTIPLIER = 1e8


def plan(
    n: int, nodes: int, blocks: Iterable[tuple[int, ...]], pairs: Iterable[tuple[int, tuple[int, ...]]]
) -> Ints:
    """The elimination order and its index lists.

    Args:
        n: unknowns; `nodes`: how many of them, the first ones, are node voltages.
        blocks: groups of unknowns that meet in one device; indices of n and above are ground.
        pairs: for each ideal source its current's unknown and the nodes it fixes.
    """
    entries = {(i, i) for i in range(nodes)}
    for block in blocks:
        own = [u for u in block if u < n]
        entries.update((i, j) for i in own for j in own)
    paired = dict(pairs)
    entries.difference_update((k, k) for k in paired)
    by_row: list[set[int]] = [set() for _ in range(n)]
    by_column: list[set[int]] = [set() for _ in range(n)]
    for i, j in entries:
        by_row[i].add(j)
        by_column[j].add(i)
    order: list[tuple[int, int]] = []
    taken: set[int] = set()
    for k, ends in sorted(paired.items()):
        free = [a for a in ends if a < n and a not in taken]
        if not free:
            continue
        a = min(free, key=lambda u: (len(by_row[u]), u))
        taken |= {a, k}
        order += [(a, k), (k, a)]
    slot = {e: s for s, e in enumerate(sorted(entries))}
    positions = [i * (n + 1) + j for i, j in sorted(entries)]
    steps: list[int] = []
    offsets: list[int] = []
    left = {u for u in range(n) if u not in taken}
    for k in range(n):
        if k < len(order):
            row, column = order[k]
        else:
            best = min(left, key=lambda u: (u < nodes, (len(by_row[u]) - 1) * (len(by_column[u]) - 1), u))
            left.discard(best)
            row = column = best
        columns = sorted(by_row[row] - {column})
        rows = sorted(by_column[column] - {row})
        slot.setdefault((row, column), len(slot))  # a diagonal that only fill can make
        for i in rows:
            for j in columns:
                if (i, j) not in slot:
                    slot[i, j] = len(slot)
                    by_row[i].add(j)
                    by_column[j].add(i)
        offsets.append(len(steps))
        steps += [row, column, slot[row, column], len(rows), len(columns)]
        for j in columns:
            steps += [slot[row, j], j]
            by_column[j].discard(row)
        for i in rows:
            steps += [i, slot[i, column], *(slot[i, j] for j in columns)]
            by_row[i].discard(column)
    first = HEAD + 3 * len(positions)
    where = [*positions, *(i for i, _ in sorted(entries)), *(j for _, j in sorted(entries))]
    head = [len(slot), len(positions), first, n, 0, 0, 0, 0]
    return np.array([*head, *where, *steps, *(first + o for o in offsets)], np.int64)


def factor(Jf: Floats, Cf: Floats, alpha: float, L: Floats, plan: Ints) -> int:
    """Factor J + alpha·C, given flat, into `L`; −1, or the column whose pivot is too small.

    The slot after the last holds the product of the pivots' signs: the determinant's sign, but for a factor
    that is the plan's own.
    """
    sign = 1.0
    slots, positions, o, n = plan[0], plan[1], plan[2], plan[3]
    for s in range(positions):
        L[s] = Jf[plan[HEAD + s]] + alpha * Cf[plan[HEAD + s]]
    for s in range(positions, slots):
        L[s] = 0.0
    for _ in range(n):
        pivot = L[plan[o + 2]]
        if not abs(pivot) > 1e-300:
            return plan[o + 1]
        if pivot < 0.0:
            sign = -sign
        inverse = 1.0 / pivot
        L[plan[o + 2]] = inverse
        rows, columns = plan[o + 3], plan[o + 4]
        first, r = o + 5, o + 5 + 2 * columns
        for _ in range(rows):
            m = L[plan[r + 1]]
            if m != 0.0:
                m *= inverse
                if columns > 0 and not abs(m) < LARGEST_MULTIPLIER:
                    return plan[o + 1]
                L[plan[r + 1]] = m
                for j in range(columns):
                    L[plan[r + 2 + j]] -= m * L[plan[first + 2 * j]]
            r += 2 + columns
        o = r
    L[slots] = sign
    return -1


def solve(L: Floats, plan: Ints, b: Floats, out: Floats) -> None:
    """Solve for `out`, overwriting `b`, from what `factor` left."""
    o, n = plan[2], plan[3]
    for _ in range(n):
        rows, columns = plan[o + 3], plan[o + 4]
        r = o + 5 + 2 * columns
        value = b[plan[o]]
        if value != 0.0:
            for _ in range(rows):
                b[plan[r]] -= L[plan[r + 1]] * value
                r += 2 + columns
        else:
            r += rows * (2 + columns)
        o = r
    offsets = o
    for k in range(n - 1, -1, -1):
        o = plan[offsets + k]
        total = b[plan[o]]
        first = o + 5
        for j in range(plan[o + 4]):
            total -= L[plan[first + 2 * j]] * out[plan[first + 2 * j + 1]]
        out[plan[o + 1]] = total * L[plan[o + 2]]


def multiply(Cf: Floats, plan: Ints, x: Floats, out: Floats) -> None:
    """out = C·x over the entries that exist."""
    n, count = plan[3], plan[1]
    for i in range(n):
        out[i] = 0.0
    for s in range(HEAD, HEAD + count):
        c = Cf[plan[s]]
        if c != 0.0:
            out[plan[s + count]] += c * x[plan[s + 2 * count]]


PLAIN = (factor, solve, multiply)
