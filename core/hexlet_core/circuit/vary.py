"""Spread of parts: corners, random draws, sensitivities, sweeps and maps, all over one circuit.

A factor is one number of one device with its extremes, as the device's `spreads` states them; devices of one
`lot` deviate together. Every study is a list of changes to a circuit, run by `batch`, and a function that
turns each variant into numbers. A variant without an answer is kept with its reason: no extreme is told
without how many there were.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from typing import Any, Literal, Protocol

import numpy as np

from ..errors import DocumentError, EntryError, NetlistError, Problem, SettleError
from ..fields import Document
from . import batch
from .devices import Device, Floats
from .devices.base import look_up
from .netlist import Netlist

Changes = Mapping[str, Mapping[str, float]]
Numbers = Mapping[str, float]
Study = Callable[[Netlist], Numbers]
Distribution = Literal["uniform", "normal"]
MOST_CORNERS = 256
PERCENTILES = (1, 5, 25, 50, 75, 95, 99)
DEPENDS = 0.15  # a missing number is said to depend on what is correlated with it by more than this
MOST_DEPENDS = 4


class Variable(Protocol):
    """A circuit with numbers to change: a netlist, or one with events to come."""

    @property
    def devices(self) -> tuple[Device, ...]: ...

    def varied(self, changes: Changes) -> Netlist: ...


@dataclass(frozen=True)
class Factor:
    """One number that varies: `device`'s `field` between its extremes, together with others of its `lot`."""

    device: str
    field: str
    low: float
    nominal: float
    high: float
    lot: str = ""

    @property
    def name(self) -> str:
        return f"{self.device}.{self.field}"

    @property
    def group(self) -> str:
        """What is drawn once: the number itself, or its lot's."""
        return f"lot {self.lot}.{self.field}" if self.lot else self.name

    def at(self, u: float) -> float:
        """Its value at a deviation from −1, lowest, to 1, highest."""
        return self.nominal + u * (self.high - self.nominal if u > 0 else self.nominal - self.low)


def factors(circuit: Variable) -> tuple[Factor, ...]:
    """Every factor of a circuit, in its order.

    Raises:
        DocumentError: a spread names what is no number, or leaves the field's bounds.
    """
    found = []
    for device in circuit.devices:
        for field, (low, high) in device.spreads().items():
            nominal = getattr(device, field, None)
            if not isinstance(nominal, int | float):
                raise DocumentError(
                    Problem(f"{device.name}.spread", "There is no number of that name to vary.", got=field)
                )
            for value in (low, high):
                checked(device, field, value, f"{device.name}.{field}")
            found.append(Factor(device.name, field, low, float(nominal), high, getattr(device, "lot", "")))
    return tuple(found)


def checked(device: Device, field: str, value: float, where: str) -> None:
    """Refuse a value outside a field's bounds, as a problem of the document."""
    try:
        device.check_value(field, value, where)
    except EntryError as error:
        raise DocumentError(*error.problems) from None


def changes(values: Sequence[tuple[Factor, float]]) -> Changes:
    """Factor values as changes to a circuit."""
    found: dict[str, dict[str, float]] = {}
    for factor, value in values:
        found.setdefault(factor.device, {})[factor.field] = value
    return found


def draw(over: Sequence[Factor], seed: int, index: int, distribution: Distribution = "uniform") -> Changes:
    """The `index`-th random variant: the same for the same seed, whatever else is drawn.

    Uniform between the extremes, or normal with the extremes three standard deviations out and cut there.
    """
    return changes(
        [(f, f.at(u)) for f, u in zip(over, deviations(over, seed, index, distribution), strict=True)]
    )


def deviations(
    over: Sequence[Factor], seed: int, index: int, distribution: Distribution = "uniform"
) -> list[float]:
    """A deviation from −1 to 1 for each factor, one for a whole lot."""
    groups = list(dict.fromkeys(f.group for f in over))
    rng, n = np.random.default_rng((seed, index)), len(groups)
    u = (
        rng.uniform(-1.0, 1.0, n)
        if distribution == "uniform"
        else np.clip(rng.normal(0.0, 1 / 3, n), -1.0, 1.0)
    )
    drawn = dict(zip(groups, map(float, u), strict=True))
    return [drawn[f.group] for f in over]


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
    missing_depends_on: dict[
        str, float
    ] = {}  # factor to correlation: above 0 it is missing where the factor is high


def _met(values: Floats, wish: tuple[float, float]) -> Any:
    return (values >= wish[0]) & (values <= wish[1])


def statistics(name: str, values: Floats, wish: tuple[float, float] | None = None) -> Statistics:
    """Mean, standard deviation, extremes and percentiles of the values that are numbers."""
    kept = values[np.isfinite(values)]
    blank = float("nan")
    ranks = np.percentile(kept, PERCENTILES) if len(kept) else [blank] * len(PERCENTILES)
    inside = None if wish is None else float(np.count_nonzero(_met(kept, wish)) / len(values))
    return Statistics(
        name=name,
        count=len(values),
        missing=len(values) - len(kept),
        mean=float(kept.mean()) if len(kept) else blank,
        deviation=float(kept.std(ddof=1)) if len(kept) > 1 else 0.0,
        low=float(kept.min()) if len(kept) else blank,
        high=float(kept.max()) if len(kept) else blank,
        percentiles=dict(zip(PERCENTILES, map(float, ranks), strict=True)),
        met=inside,
    )


def joint(values: Mapping[str, Floats], wishes: Mapping[str, tuple[float, float]]) -> float:
    """The share of variants that meet every wish at once."""
    return float(
        np.mean(
            np.logical_and.reduce(
                [_met(np.nan_to_num(values[name], nan=np.inf), wish) for name, wish in wishes.items()]
            )
        )
    )


class Failure(Document):
    """A variant without an answer: its place among them, what it was, and why."""

    index: int
    variant: dict[str, float]
    why: str


@dataclass(frozen=True)
class Table:
    """Each number of a study over its variants, shape (variants,), not-a-number where missing; and what
    failed.
    """

    values: dict[str, Floats]
    failed: tuple[Failure, ...]
    count: int

    def __getitem__(self, name: str) -> Floats:
        return self.values[name]

    def missing(self, name: str) -> list[int]:
        """Which variants did not show a number."""
        return [int(k) for k in np.flatnonzero(~np.isfinite(self.values[name]))]


def _flat(change: Changes) -> dict[str, float]:
    return {
        f"{device}.{field}": float(value)
        for device, fields in change.items()
        for field, value in fields.items()
    }


def table(circuit: Variable, variants: Sequence[Changes], study: Study, **how: Any) -> Table:
    """A study of each variant.

    Raises:
        SettleError: no variant at all has an answer; tells the first one's reason.
        DocumentError: the study asks for what the circuit does not have.
    """

    def one(change: Changes) -> Numbers | SettleError | NetlistError:
        try:
            return study(circuit.varied(change))
        except (SettleError, NetlistError) as error:
            return error

    rows = batch.run(one, variants, **how)
    failed = tuple(
        Failure(index=k, variant=_flat(variants[k]), why=str(row))
        for k, row in enumerate(rows)
        if isinstance(row, SettleError | NetlistError)
    )
    answers = [row for row in rows if not isinstance(row, SettleError | NetlistError)]
    if failed and not answers:
        raise SettleError(
            Problem("of", f"None of {len(rows)} variants has an answer. The first: {failed[0].why}"), 0.0
        )
    names = dict.fromkeys(name for row in answers for name in row)
    blank: Numbers = {}
    kept = [blank if isinstance(row, SettleError | NetlistError) else row for row in rows]
    return Table(
        {name: np.array([row.get(name, math.nan) for row in kept]) for name in names}, failed, len(rows)
    )


def monte_carlo(
    circuit: Variable,
    study: Study,
    count: int,
    seed: int = 1,
    distribution: Distribution = "uniform",
    **how: Any,
) -> Table:
    """The study's numbers over `count` random variants of the circuit's factors."""
    over = factors(circuit)
    return table(circuit, [draw(over, seed, k, distribution) for k in range(count)], study, **how)


def depends(
    circuit: Variable, missing: Sequence[int], count: int, seed: int, distribution: Distribution = "uniform"
) -> dict[str, float]:
    """What a number's absence depends on in `monte_carlo`: the factors whose deviations are correlated with
    it, the most first.
    """
    over = factors(circuit)
    if not over or not missing or len(missing) == count:
        return {}
    absent = np.zeros(count)
    absent[list(missing)] = 1.0
    drawn = np.array([deviations(over, seed, k, distribution) for k in range(count)])
    found = {}
    for k, factor in enumerate(over):
        spread = drawn[:, k].std() * absent.std()
        found[factor.group] = (
            float(np.mean((drawn[:, k] - drawn[:, k].mean()) * (absent - absent.mean())) / spread)
            if spread
            else 0.0
        )
    ranked = sorted(found.items(), key=lambda pair: -abs(pair[1]))[:MOST_DEPENDS]
    return {name: r for name, r in ranked if abs(r) > max(DEPENDS, 3.0 / math.sqrt(count))}


class Corners(Document):
    """What `corners` tried: the factors combined, those left at nominal, and the extremes of each number.

    `shown` says for each number in how many of `count` combinations it was seen, `missing` in which not.
    """

    combined: tuple[str, ...]
    left_out: tuple[str, ...]
    extremes: dict[str, tuple[float, float]]
    worst: dict[str, tuple[dict[str, float], dict[str, float]]]  # factor values at the lowest and highest
    count: int
    shown: dict[str, int]
    missing: dict[str, tuple[dict[str, float], ...]]
    failed: tuple[Failure, ...]


def corners(circuit: Variable, study: Study, *, most: int = MOST_CORNERS, **how: Any) -> Corners:
    """All combinations of the factors' extremes; with too many, of those that matter most, and it
    says which.
    """
    over = list(factors(circuit))
    groups = list(dict.fromkeys(f.group for f in over))
    room = int(math.log2(most))
    kept = groups
    failed: tuple[Failure, ...] = ()
    if len(groups) > room:
        ranked, failed = sensitivities(circuit, study, **how)
        weight = {g: max((shares.get(g, 0.0) for shares in ranked.values()), default=0.0) for g in groups}
        kept = sorted(groups, key=lambda g: -weight[g])[:room]
    sets = [
        [(f, f.low if side[f.group] else f.high) for f in over if f.group in side]
        for side in (dict(zip(kept, sides, strict=True)) for sides in product((0, 1), repeat=len(kept)))
    ]
    variants: list[Changes] = [{}, *(changes(s) for s in sets)]
    found = table(circuit, variants, study, **how)
    worst, extremes, shown, missing = {}, {}, {}, {}
    for name, values in found.values.items():
        absent = found.missing(name)
        shown[name], missing[name] = len(values) - len(absent), tuple(_flat(variants[k]) for k in absent)
        if not shown[name]:
            continue
        ends = int(np.nanargmin(values)), int(np.nanargmax(values))
        extremes[name] = (float(values[ends[0]]), float(values[ends[1]]))
        worst[name] = (_flat(variants[ends[0]]), _flat(variants[ends[1]]))
    return Corners(
        combined=tuple(kept),
        left_out=tuple(g for g in groups if g not in kept),
        extremes=extremes,
        worst=worst,
        count=len(variants),
        shown=shown,
        missing=missing,
        failed=(*failed, *found.failed),
    )


def sensitivities(
    circuit: Variable, study: Study, **how: Any
) -> tuple[dict[str, dict[str, float]], tuple[Failure, ...]]:
    """Which factor each number's spread comes from: the share of the variance, from one factor at its
    extremes at a time.

    A number that one end of a factor does not show counts that factor as nothing; what failed is told beside
    it.
    """
    over = factors(circuit)
    groups = list(dict.fromkeys(f.group for f in over))
    ends = [changes([(f, f.at(u)) for f in over if f.group == g]) for g in groups for u in (-1.0, 1.0)]
    if not ends:
        return {}, ()
    found = table(circuit, ends, study, **how)
    shares = {}
    for name, values in found.values.items():
        swing = np.nan_to_num(values[1::2] - values[::2]) ** 2
        total = float(swing.sum())
        shares[name] = {g: float(s / total) if total > 0 else 0.0 for g, s in zip(groups, swing, strict=True)}
    return shares, found.failed


def target(circuit: Variable, path: str, values: Sequence[float] = ()) -> tuple[str, str]:
    """The device and field that a path names: "V1.value", "S1.presses[1].hold", "events[0].ramp".

    Raises:
        DocumentError: there is no such device, or no such number, or a value it is to take is outside
            its bounds.
    """
    if path.startswith("events["):
        if not isinstance(
            look_up(getattr(circuit, "happenings", None), path.removeprefix("events")), int | float
        ):
            raise DocumentError(Problem("of", "There is no such event, or no such number in it.", got=path))
        return "events", path.removeprefix("events")
    owner = next(
        (d for d in sorted(circuit.devices, key=lambda d: -len(d.name)) if path.startswith(f"{d.name}.")),
        None,
    )
    field = path.removeprefix(f"{owner.name}.") if owner else ""
    number = (
        None
        if owner is None
        else getattr(owner, field, None)
        if field.isidentifier()
        else look_up(owner.model_dump(), field)
    )
    if owner is None or not isinstance(number, int | float) or isinstance(number, bool):
        raise DocumentError(
            Problem(
                "of",
                (
                    "Nothing here has that name. A device and one of its numbers is wanted, like V1.value or "
                    "S1.presses[0].hold."
                ),
                got=path,
            )
        )
    if field in type(owner).model_fields:
        for value in values:
            checked(owner, field, value, path)
    return owner.name, field


def sweep(circuit: Variable, path: str, values: Sequence[float], study: Study, **how: Any) -> Table:
    """The study's numbers while one number of one device takes each value."""
    device, field = target(circuit, path, values)
    return table(circuit, [{device: {field: v}} for v in values], study, **how)


def plane(
    circuit: Variable,
    across: str,
    columns: Sequence[float],
    down: str,
    rows: Sequence[float],
    study: Study,
    **how: Any,
) -> Table:
    """The study's numbers over two numbers of the circuit: name to a map, shape (rows, columns)."""
    (a, a_field), (b, b_field) = target(circuit, across, columns), target(circuit, down, rows)

    def change(x: float, y: float) -> Changes:
        return {a: {a_field: x, b_field: y}} if a == b else {a: {a_field: x}, b: {b_field: y}}

    found = table(circuit, [change(x, y) for y in rows for x in columns], study, **how)
    return Table(
        {name: values.reshape(len(rows), len(columns)) for name, values in found.values.items()},
        found.failed,
        found.count,
    )
