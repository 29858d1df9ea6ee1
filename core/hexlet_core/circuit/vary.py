"""Spread of parts: corners, random draws, sensitivities, sweeps and maps, all over one netlist.

A factor is one number of one device with its extremes, as the device's `spreads` states them. Every study
is a list of changes to a netlist, run by `batch`, and a function that turns each variant into numbers.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Literal

import numpy as np

from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from . import batch
from .devices import Floats
from .netlist import Netlist

Changes = Mapping[str, Mapping[str, float]]
Numbers = Mapping[str, float]
Study = Callable[[Netlist], Numbers]
Distribution = Literal["uniform", "normal"]
MOST_CORNERS = 256
PERCENTILES = (1, 5, 25, 50, 75, 95, 99)


@dataclass(frozen=True)
class Factor:
    """One number that varies: `device`'s `field` between its extremes."""

    device: str
    field: str
    low: float
    nominal: float
    high: float

    @property
    def name(self) -> str:
        return f"{self.device}.{self.field}"


def factors(netlist: Netlist) -> tuple[Factor, ...]:
    """Every factor of a netlist, in its order."""
    found = []
    for device in netlist.devices:
        for field, (low, high) in device.spreads().items():
            nominal = getattr(device, field, None)
            if not isinstance(nominal, int | float):
                raise DocumentError(Problem(f"{device.name}.spread", "There is no number of that name to vary.", got=field))
            found.append(Factor(device.name, field, low, float(nominal), high))
    return tuple(found)


def changes(values: Sequence[tuple[Factor, float]]) -> Changes:
    """Factor values as changes to a netlist."""
    found: dict[str, dict[str, float]] = {}
    for factor, value in values:
        found.setdefault(factor.device, {})[factor.field] = value
    return found


def draw(over: Sequence[Factor], seed: int, index: int, distribution: Distribution = "uniform") -> Changes:
    """The `index`-th random variant: the same for the same seed, whatever else is drawn.

    Uniform between the extremes, or normal with the extremes three standard deviations out and cut there.
    """
    rng = np.random.default_rng((seed, index))
    u = rng.uniform(-1.0, 1.0, len(over)) if distribution == "uniform" else np.clip(rng.normal(0.0, 1 / 3, len(over)), -1.0, 1.0)
    return changes([(f, f.nominal + s * (f.high - f.nominal if s > 0 else f.nominal - f.low)) for f, s in zip(over, u, strict=True)])


class Statistics(Document):
    """How a measured number spreads. `met` is the share inside the wish, when there is one."""

    name: str
    count: int
    missing: int  # variants that did not show it
    mean: float
    deviation: float
    low: float
    high: float
    percentiles: dict[int, float]
    met: float | None = None


def statistics(name: str, values: Floats, wish: tuple[float, float] | None = None) -> Statistics:
    """Mean, standard deviation, extremes and percentiles of the values that are numbers."""
    kept = values[np.isfinite(values)]
    blank = float("nan")
    ranks = np.percentile(kept, PERCENTILES) if len(kept) else [blank] * len(PERCENTILES)
    inside = None if wish is None else float(np.count_nonzero((kept >= wish[0]) & (kept <= wish[1])) / len(values))
    return Statistics(
        name=name, count=len(values), missing=len(values) - len(kept), mean=float(kept.mean()) if len(kept) else blank,
        deviation=float(kept.std(ddof=1)) if len(kept) > 1 else 0.0, low=float(kept.min()) if len(kept) else blank,
        high=float(kept.max()) if len(kept) else blank,
        percentiles=dict(zip(PERCENTILES, map(float, ranks), strict=True)), met=inside,
    )  # fmt: skip


def _safe(study: Study) -> Callable[[Netlist], Numbers]:
    """A variant without an answer counts as showing nothing, it does not end the study."""

    def run(netlist: Netlist) -> Numbers:
        try:
            return study(netlist)
        except HexletError:
            return {}

    return run


def table(netlist: Netlist, variants: Sequence[Changes], study: Study, **how: object) -> dict[str, Floats]:
    """Each number of the study over the variants: name to values, shape (variants,); not-a-number where missing."""
    rows = batch.run(lambda change: _safe(study)(netlist.varied(change)), variants, **how)  # type: ignore[arg-type]
    names = dict.fromkeys(name for row in rows for name in row)
    return {name: np.array([row.get(name, math.nan) for row in rows]) for name in names}


def monte_carlo(
    netlist: Netlist, study: Study, count: int, seed: int = 1, distribution: Distribution = "uniform", **how: object
) -> dict[str, Floats]:
    """The study's numbers over `count` random variants of the netlist's factors."""
    over = factors(netlist)
    return table(netlist, [draw(over, seed, k, distribution) for k in range(count)], study, **how)


class Corners(Document):
    """What `corners` tried: the factors combined, those left at nominal, and the extremes of each number."""

    combined: tuple[str, ...]
    left_out: tuple[str, ...]
    extremes: dict[str, tuple[float, float]]
    worst: dict[str, tuple[dict[str, float], dict[str, float]]]  # factor values at the lowest and highest


def corners(netlist: Netlist, study: Study, *, most: int = MOST_CORNERS, **how: object) -> Corners:
    """All combinations of the factors' extremes; with too many, of those that matter most, and it says which."""
    over = list(factors(netlist))
    room = int(math.log2(most))
    kept = over
    if len(over) > room:
        ranked = sensitivities(netlist, study, **how)
        weight = {f.name: max((shares.get(f.name, 0.0) for shares in ranked.values()), default=0.0) for f in over}
        kept = sorted(over, key=lambda f: -weight[f.name])[:room]
    sets = [[(f, f.low if side else f.high) for f, side in zip(kept, sides, strict=True)] for sides in product((0, 1), repeat=len(kept))]
    found = table(netlist, [{}, *(changes(s) for s in sets)], study, **how)
    worst, extremes = {}, {}
    for name, values in found.items():
        if not np.isfinite(values).any():
            continue
        ends = int(np.nanargmin(values)), int(np.nanargmax(values))
        extremes[name] = (float(values[ends[0]]), float(values[ends[1]]))
        worst[name] = tuple({f.name: v for f, v in sets[k - 1]} if k else {} for k in ends)
    return Corners(
        combined=tuple(f.name for f in kept), left_out=tuple(f.name for f in over if f not in kept), extremes=extremes, worst=worst,  # type: ignore[arg-type]
    )  # fmt: skip


def sensitivities(netlist: Netlist, study: Study, **how: object) -> dict[str, dict[str, float]]:
    """Which factor each number's spread comes from: the share of the variance, from one factor at its extremes at a time."""
    over = factors(netlist)
    ends = [changes([(f, v)]) for f in over for v in (f.low, f.high)]
    found = table(netlist, ends, study, **how)
    shares = {}
    for name, values in found.items():
        swing = np.nan_to_num(values[1::2] - values[::2]) ** 2
        total = float(swing.sum())
        shares[name] = {f.name: float(s / total) if total > 0 else 0.0 for f, s in zip(over, swing, strict=True)}
    return shares


def target(netlist: Netlist, path: str) -> tuple[str, str]:
    """The device and field that a path like "V1.value" names.

    Raises:
        DocumentError: there is no such device, or no such number.
    """
    device, _, field = path.rpartition(".")
    owner = next((d for d in netlist.devices if d.name == device), None)
    if owner is None or not isinstance(getattr(owner, field, None), int | float):
        raise DocumentError(
            Problem("of", "Nothing here has that name. A device and one of its numbers is wanted, like V1.value.", got=path)
        )
    return device, field


def sweep(netlist: Netlist, path: str, values: Sequence[float], study: Study, **how: object) -> dict[str, Floats]:
    """The study's numbers while one number of one device takes each value."""
    device, field = target(netlist, path)
    return table(netlist, [{device: {field: v}} for v in values], study, **how)


def plane(
    netlist: Netlist, across: str, columns: Sequence[float], down: str, rows: Sequence[float], study: Study, **how: object
) -> dict[str, Floats]:
    """The study's numbers over two numbers of the circuit: name to a map, shape (rows, columns)."""
    (a, a_field), (b, b_field) = target(netlist, across), target(netlist, down)

    def change(x: float, y: float) -> Changes:
        return {a: {a_field: x, b_field: y}} if a == b else {a: {a_field: x}, b: {b_field: y}}

    found = table(netlist, [change(x, y) for y in rows for x in columns], study, **how)
    return {name: values.reshape(len(rows), len(columns)) for name, values in found.items()}
