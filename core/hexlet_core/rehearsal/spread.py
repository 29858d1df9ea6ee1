"""The same rehearsal many times: at the corners, or with random parts. Each lane becomes a fan, each mark a
spread.

Corners combine the supply's ends, cold and hot, both ends of the parts' spread and of the signal's levels.
Random variants keep the supply and draw every part between its extremes; the same seed gives the same parts.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..cards.derive import Spread
from ..circuit import batch, vary
from ..circuit.devices import Floats
from ..circuit.devices.heat import ROOM
from ..circuit.netlist import Netlist
from ..circuit.solve import transient
from ..design.document import Design
from ..design.script import Script, SetSupply
from ..design.study import Study
from ..errors import HexletError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Corner
from .rehearse import RawMark, found_marks, traces
from .script import circuit

GRID = 400  # points of time across a fan
EDGE_POINTS = 24  # more of them just after each event
Kind = Literal["corners", "parts"]
ENDS: tuple[Spread, ...] = ("min", "max")
PARTS: tuple[Spread, ...] = ("min", "typ", "max")  # some are at an end already as their sheet has them


class Wish(Document):
    """Which spread: all corners, or `count` random variants from `seed`."""

    kind: Kind = "corners"
    count: Annotated[int, Field(ge=2, le=2000)] = 200
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    distribution: vary.Distribution = "uniform"


class Ribbon(Document):
    """One lane's fan: the extremes, and the middle nine tenths, at shared times."""

    lane: str
    low: tuple[float, ...]
    high: tuple[float, ...]
    inner_low: tuple[float, ...]
    inner_high: tuple[float, ...]


class MarkSpread(Document):
    """How a mark moves: its statistics, in words, and every value for a histogram."""

    id: str
    lane: str
    text: str
    unit: str
    statistics: vary.Statistics
    values: tuple[float, ...]


class Fan(Document):
    """The answer of `spread`."""

    wish: Wish
    runs: int
    failed: int
    varied: tuple[str, ...]  # what was varied, in words
    time: tuple[float, ...]
    ribbons: tuple[Ribbon, ...]
    marks: tuple[MarkSpread, ...]


class FanStep(Document):
    """How far the work is: `done` of `of` runs, and the fan at the end."""

    done: int
    of: int
    fan: Fan | None = None


def corners_of(design: Design) -> list[Corner]:
    """Every combination of the extremes that a design names."""
    supply, heat = design.supply, (ROOM, design.ambient.high)
    return [
        Corner(supply=v, celsius=t, spread=part, resistors=r, signal=level)
        for v, t, part, r, level in product(
            (supply.low, supply.high), heat, PARTS, (-design.tolerance, design.tolerance), ENDS
        )
    ]


def at_supply(script: Script, design: Design, volts: float) -> Script:
    """The script with every supply voltage in proportion to another full supply."""
    share = volts / design.supply.typical
    start = (script.start_volts if script.start_volts is not None else design.supply.typical) * share
    events = tuple(
        e.model_copy(update={"volts": e.volts * share}) if isinstance(e, SetSupply) else e
        for e in script.events
    )
    return script.model_copy(update={"start_volts": start, "events": events})


def variants(here: Study, script: Script, wish: Wish) -> tuple[list[Netlist], tuple[str, ...]]:
    """The circuits to run, and what varies among them."""
    design = here.design
    if wish.kind == "corners":
        found = [circuit(here, at_supply(script, design, c.supply), c) for c in corners_of(design)]
        low, high = show(design.supply.low, "V"), show(design.supply.high, "V")
        return found, (
            f"{design.supply.word} {low} to {high}",
            f"25 to {design.ambient.high:g} °C",
            "parts at both ends",
            "signal levels",
        )
    base = circuit(here, script)
    over = vary.factors(base)
    return [base.varied(vary.draw(over, wish.seed, k, wish.distribution)) for k in range(wish.count)], tuple(
        f.name for f in over
    )


def times_of(script: Script) -> Floats:
    """Shared times: even, and closer together after each event."""
    after = script.stop * np.geomspace(1e-6, 0.05, EDGE_POINTS)
    edges = [e.at + after for e in script.events]
    grid = np.unique(
        np.concatenate([np.linspace(0.0, script.stop, GRID), *edges, *([e.at] for e in script.events)])
    )
    return grid[grid <= script.stop]


def spread(here: Study, script: Script, wish: Wish) -> Iterator[FanStep]:
    """Run every variant; yields progress, and the fan last. Closing the iterator cancels the rest.

    Raises:
        DocumentError: an event names a part or node that the design does not have.
    """
    circuits, varied = variants(here, script, wish)
    grid = times_of(script)

    def one(netlist: Netlist) -> tuple[dict[str, Floats], tuple[RawMark, ...]] | None:
        try:
            waves = transient(netlist, script.stop)
        except HexletError:
            return None
        shown = traces(here, waves)
        rows = {t.watch.id: np.interp(grid, waves.time, t.value) for t in shown if t.watch.words is None}
        return rows, found_marks(waves, shown, script)

    results: list[tuple[dict[str, Floats], tuple[RawMark, ...]]] = []
    done = 0
    for result in batch.stream(one, circuits):
        done += 1
        if result is not None:
            results.append(result)
        if done < len(circuits):
            yield FanStep(done=done, of=len(circuits))
    fan = Fan(
        wish=wish,
        runs=len(results),
        failed=len(circuits) - len(results),
        varied=varied,
        time=tuple(grid.tolist()),
        ribbons=_ribbons([rows for rows, _ in results]),
        marks=_marks([marks for _, marks in results], len(circuits)),
    )
    yield FanStep(done=done, of=len(circuits), fan=fan)


def _ribbons(rows: Sequence[dict[str, Floats]]) -> tuple[Ribbon, ...]:
    found = []
    for lane in rows[0] if rows else ():
        table = np.array([r[lane] for r in rows])
        low, inner_low, inner_high, high = np.percentile(table, (0, 5, 95, 100), axis=0)
        found.append(
            Ribbon(
                lane=lane,
                low=tuple(low.tolist()),
                high=tuple(high.tolist()),
                inner_low=tuple(inner_low.tolist()),
                inner_high=tuple(inner_high.tolist()),
            )
        )
    return tuple(found)


def _marks(sets: Sequence[tuple[RawMark, ...]], runs: int) -> tuple[MarkSpread, ...]:
    first = {m.id: m for marks in sets for m in reversed(marks)}
    order = [m.id for m in sets[0]] if sets else []
    found = []
    for id in dict.fromkeys([*order, *first]):
        mark = first[id]
        values = [m.value for marks in sets for m in marks if m.id == id]
        numbers = vary.statistics(id, np.array(values + [np.nan] * (runs - len(values))))
        low, high = show(numbers.low, mark.unit), show(numbers.high, mark.unit)
        ends = f"{low} to {high}" if low != high else f"{low}, hardly moves"
        missing = f"; not in {numbers.missing} of {runs}" if numbers.missing else ""
        found.append(
            MarkSpread(
                id=id,
                lane=mark.lane,
                text=f"{mark.words} {ends}{missing}",
                unit=mark.unit,
                statistics=numbers,
                values=tuple(values),
            )
        )
    return tuple(found)
