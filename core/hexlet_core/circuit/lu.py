"""Dense LU with partial pivoting for small systems, in place. Plain Python; the engine compiles it."""

from __future__ import annotations

from .devices.base import Floats, Ints


def factor(A: Floats, piv: Ints, n: int) -> int:
    """Factor the leading n×n block of `A`; returns −1, or the column that has no pivot."""
    for k in range(n):
        best, row = 0.0, -1
        for i in range(k, n):
            if abs(A[i, k]) > best:
                best, row = abs(A[i, k]), i
        if row < 0 or best < 1e-300:
            return k
        piv[k] = row
        if row != k:
            for j in range(n):
                A[k, j], A[row, j] = A[row, j], A[k, j]
        inv = 1.0 / A[k, k]
        for i in range(k + 1, n):
            if A[i, k] != 0.0:
                m = A[i, k] * inv
                A[i, k] = m
                for j in range(k + 1, n):
                    A[i, j] -= m * A[k, j]
    return -1


def solve(A: Floats, piv: Ints, n: int, b: Floats) -> None:
    """Overwrite `b` with the solution, from what `factor` left."""
    for k in range(n):
        row = piv[k]
        if row != k:
            b[k], b[row] = b[row], b[k]
    for i in range(1, n):
        total = b[i]
        for j in range(i):
            total -= A[i, j] * b[j]
        b[i] = total
    for i in range(n - 1, -1, -1):
        total = b[i]
        for j in range(i + 1, n):
            total -= A[i, j] * b[j]
        b[i] = total / A[i, i]
