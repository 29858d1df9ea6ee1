"""A quantity over time: rows with slopes, the cubic through both ends between them, a straight line at a
jump.

Crossings, extremes and integrals are those of the cubics, not of straight lines between rows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, NamedTuple

import numpy as np

from .devices import Floats

Edge = Literal["rise", "fall", "either"]
Flags = np.ndarray[Any, np.dtype[np.bool_]]
GAUSS = np.polynomial.legendre.leggauss(4)  # exact for the square of a cubic
HALVINGS = 60


class Piece(NamedTuple):
    """v + s·(a + s·(b + s·c)) for each share s of a piece's length `h` [s]."""

    v: Floats
    a: Floats
    b: Floats
    c: Floats
    h: Floats

    def at(self, s: Floats) -> Floats:
        return np.asarray(self.v + s * (self.a + s * (self.b + s * self.c)))

    def slope(self, s: Floats) -> Floats:
        """By the share, not by the second."""
        return np.asarray(self.a + s * (2 * self.b + 3 * s * self.c))


@dataclass(frozen=True)
class Curve:
    """`value` and `slope` (per second) at `time` [s], each of shape (rows,); where `straight`, the piece that
    ends there is a line.
    """

    time: Floats
    value: Floats
    slope: Floats
    straight: Flags

    @classmethod
    def lines(cls, time: Floats, value: Floats) -> Curve:
        """Straight lines between points."""
        return cls(time, value, np.zeros_like(value), np.ones(len(time), bool))

    def _pieces(self, k: Any) -> Piece:
        """The pieces that begin at rows `k`."""
        v0, v1, h = self.value[k], self.value[k + 1], self.time[k + 1] - self.time[k]
        moved, bent = v1 - v0, ~self.straight[k + 1]
        a, b = np.where(bent, h * self.slope[k], moved), np.where(bent, h * self.slope[k + 1], moved)
        return Piece(v0, a, 3 * moved - 2 * a - b, a + b - 2 * moved, h)

    def at(self, times: Floats) -> tuple[Floats, Floats]:
        """Values and slopes at times inside the curve."""
        if len(self.time) == 1:
            return np.full(len(times), self.value[0]), np.full(len(times), self.slope[0])
        k = np.clip(np.searchsorted(self.time, times, side="right") - 1, 0, len(self.time) - 2)
        piece = self._pieces(k)
        h = np.where(piece.h > 0, piece.h, 1.0)
        s = np.clip((times - self.time[k]) / h, 0.0, 1.0)
        return piece.at(s), piece.slope(s) / h

    def window(self, begin: float, end: float) -> Curve:
        """The part between two times, with a row at each."""
        begin, end = max(begin, float(self.time[0])), min(end, float(self.time[-1]))
        inside = (self.time > begin) & (self.time < end)
        values, slopes = self.at(np.array([begin, end]))
        after = int(np.searchsorted(self.time, end))
        last = self.straight[min(after, len(self.time) - 1)]
        return Curve(
            np.concatenate([[begin], self.time[inside], [end]]),
            np.concatenate([values[:1], self.value[inside], values[1:]]),
            np.concatenate([slopes[:1], self.slope[inside], slopes[1:]]),
            np.concatenate([[False], self.straight[inside], [last]]),
        )

    def monotone(self) -> Curve:
        """The same curve with a row at every extreme that lies between rows."""
        if len(self.time) < 2:
            return self
        k = np.arange(len(self.time) - 1)
        piece = self._pieces(k)
        with np.errstate(divide="ignore", invalid="ignore"):
            root = np.sqrt(piece.b**2 - 3 * piece.a * piece.c)
            q = -(piece.b + np.where(piece.b >= 0, root, -root))
            both = np.stack([q / (3 * piece.c), piece.a / q])
        inside = (both > 1e-9) & (both < 1 - 1e-9) & ~self.straight[1:]
        if not inside.any():
            return self
        which = np.nonzero(inside)[1]
        s = both[inside]
        order = np.lexsort((s, which))
        which, s = k[which[order]], s[order]
        times = self.time[which] + s * piece.h[which]
        place = which + 1
        return Curve(
            np.insert(self.time, place, times),
            np.insert(self.value, place, self._pieces(which).at(s)),
            np.insert(self.slope, place, 0.0),
            np.insert(self.straight, place, False),
        )

    def crossings(self, level: float, edge: Edge = "either") -> tuple[Floats, Flags]:
        """Times at which the curve passes a level [s], and whether it rises there."""
        curve = self.monotone()
        above = curve.value >= level
        k = np.flatnonzero(above[1:] != above[:-1])
        if edge != "either":
            k = k[above[k + 1] == (edge == "rise")]
        if not len(k):
            return np.empty(0), np.empty(0, bool)
        piece, rises = curve._pieces(k), above[k + 1]
        low, high = np.zeros(len(k)), np.ones(len(k))
        s = (level - piece.v) / (curve.value[k + 1] - piece.v)
        for _ in range(HALVINGS):  # Newton's method inside a bracket that every try narrows
            off = piece.at(s) - level
            up = (off >= 0) == rises
            high, low = np.where(up, s, high), np.where(up, low, s)
            with np.errstate(divide="ignore", invalid="ignore"):
                tried = s - off / piece.slope(s)
            best = np.where((tried >= low) & (tried <= high), tried, 0.5 * (low + high))
            done = np.abs(best - s).max() < 1e-12
            s = best
            if done:
                break
        return np.asarray(curve.time[k] + s * piece.h), rises

    def integral(self) -> float:
        """∫ v dt, exact for the cubics."""
        h = np.diff(self.time)
        bent = np.where(self.straight[1:], 0.0, h * h * (self.slope[:-1] - self.slope[1:]) / 12)
        return float((h * 0.5 * (self.value[:-1] + self.value[1:]) + bent).sum())

    def square(self) -> float:
        """∫ v² dt, exact for the cubics."""
        piece = self._pieces(np.arange(len(self.time) - 1))
        return float(
            sum(
                w * (piece.h * 0.5 * piece.at(np.full(len(piece.h), 0.5 * (1 + x))) ** 2).sum()
                for x, w in zip(*GAUSS, strict=True)
            )
        )


def crossings(time: Floats, value: Floats, level: float, edge: Edge = "either") -> Floats:
    """Times at which straight lines between points pass a level [s].

    >>> crossings(np.array([0.0, 1.0, 2.0]), np.array([0.0, 1.0, 0.0]), 0.25, "rise")
    array([0.25])
    """
    return Curve.lines(time, value).crossings(level, edge)[0]
