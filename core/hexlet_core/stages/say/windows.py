"""Value windows: the values of one part that satisfy every constraint, for any quantity.

Ticks and suggestions come from the quantity's own preferred series and from the drawer.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from ...fields import Document, quantity_of
from ...quantity import within
from .checks import Change, Standing, Working

if TYPE_CHECKING:
    from ..contract.site import Site

RULER_MARGIN = 2.2  # how far the ruler reaches past what is marked on it, as a ratio


Series = Literal["E12", "E24", "E96", "drawer"]  # what values are chosen from


@dataclass(frozen=True)
class Preferred:
    """How values of one unit are made: the series for each that a person may choose, the ruler's ends, and
    between which values a part of an ordinary circuit lies.
    """

    series: Mapping[str, str]
    least: float
    most: float
    usual: tuple[float, float]


FEW = {"E12": "E6", "E24": "E6", "E96": "E12"}
SERIES_OF: dict[str, Preferred] = {
    "Ω": Preferred({s: s for s in ("E12", "E24", "E96")}, 0.1, 1e8, (10.0, 1e6)),
    "F": Preferred(FEW, 1e-13, 1.0, (1e-11, 1e-2)),
    "H": Preferred(FEW, 1e-9, 100.0, (1e-7, 10.0)),
    "s": Preferred(FEW, 1e-9, 1e6, (1e-9, 1e6)),
}
ANY_UNIT = Preferred(FEW, 1e-12, 1e12, (1e-12, 1e12))
PULL = (1e3, 220e3)  # what pulls a control to its rest, as a rule [Ω]


def choices(site: Site, unit: str, low: float, high: float, *, owned_first: bool = True) -> list[float]:
    """The values between two that a person would choose from: the drawer's and the chosen series'; the
    drawer's alone where it has some and comes first.
    """
    owned = {v for v in site.drawer.values(unit) if low <= v <= high}
    if site.series == "drawer" or (owned and owned_first):
        return sorted(owned)
    return sorted({*owned, *within(low, high, SERIES_OF.get(unit, ANY_UNIT).series[site.series])})


class Bound(Document):
    """One constraint on a value: it must stay above (`low`) or below (`high`) this; `verdict` names its
    check. A `soft` one is good practice: beyond it is tight, and it gives way where nothing else would fit.
    """

    side: Literal["low", "high"]
    value: float
    title: str
    detail: str
    verdict: str
    working: Working
    soft: bool = False


def bound(
    side: Literal["low", "high"],
    value: float,
    title: str,
    *,
    detail: str,
    guards: str,
    formula: str,
    numbers: str = "",
    because: str,
    soft: bool = False,
) -> Bound:
    """A constraint; `guards` is the check it keeps from failing."""
    working = Working(formula=formula, substituted=numbers or f"= {detail}", reason=because)
    return Bound(
        side=side, value=value, title=title, detail=detail, verdict=guards, working=working, soft=soft
    )


class Offer(Document):
    """Something to try when a window is empty."""

    title: str
    detail: str
    standing: Standing
    stock: int | None = None
    changes: tuple[Change, ...] = ()


class Tick(Document):
    """A preferred or owned value on the ruler, and how many the drawer holds."""

    value: float
    stock: int


class Window(Document):
    """The values that satisfy every constraint on one part; `low` and `high` are the binding ones.

    `gap` is set when the window is empty: how far apart the two limits are. `ticks` are preferred and
    owned values
    around it; `suggested` is the one to take.
    """

    path: str
    block: str
    part: str  # its name within the block
    facet: str = "drive"  # where it opens
    ref: str
    title: str
    unit: str
    present: float | None
    low: Bound | None
    high: Bound | None
    others: tuple[Bound, ...]
    gap: float | None
    suggested: float | None
    standing: Standing
    offers: tuple[Offer, ...] = ()
    removable: bool = False
    ticks: tuple[Tick, ...] = ()


def window(
    site: Site,
    field: str,
    part: str,
    title: str,
    bounds: Sequence[Bound],
    *,
    offers: Sequence[Offer] = (),
    without: float | None = None,
) -> Window:
    """Intersect the constraints on one of the block's fields; the tightest at each end binds.

    A part that may be left out counts as `without` then: 0 for one in line, infinite for a pull-down. The
    suggestion lies near the middle by ratio, for a pull-down near the top, where it costs least. It is a
    value of the chosen series or the drawer, within what is usual of its part.
    """
    pulls = without == math.inf
    unit, present = site.unit(field), getattr(site.stage, field)
    stock: Mapping[float, int] = site.drawer.values(unit)
    made = SERIES_OF.get(unit, ANY_UNIT)
    field_ends = quantity_of(type(site.stage), field)
    lows, highs = _binding(bounds)
    low, high = (lows[0] if lows else None), (highs[0] if highs else None)
    bottom = low.value if low else (high.value / 1e4 if high else made.least)
    top = high.value if high else bottom * 1e4
    empty = bottom > top
    suggested = None
    if not empty:
        usual = PULL if pulls and unit == "Ω" else made.usual
        ends = (field_ends.low, field_ends.high) if field_ends else usual
        least, most = max(bottom, usual[0], ends[0]), min(top, usual[1], ends[1])
        wanted = 0.85 * top if pulls else math.sqrt(max(bottom, usual[0]) * top)
        found = choices(site, unit, least, most)
        suggested = min(found, key=lambda v: abs(math.log(v / wanted)), default=None)
    marked = [v for v in (low and low.value, high and high.value, present) if v]
    begin = max(min(marked, default=made.least) / RULER_MARGIN, made.least)
    end = min(max(marked, default=made.least * 1e4) * RULER_MARGIN, made.most)
    series = made.series.get(site.series)
    values = sorted(
        {*(within(begin, end, series) if series else ()), *(v for v in stock if begin <= v <= end)}
    )
    return Window(
        path=site.path(field),
        block=site.id,
        part=part,
        ref=site.ref(part),
        title=title,
        unit=unit,
        present=present,
        low=low,
        high=high,
        others=tuple(b for b in bounds if b not in (low, high)),
        gap=(bottom - top) if empty else None,
        suggested=suggested,
        standing="fails" if empty else _standing(without if present is None else present, bounds),
        offers=tuple(offers) if empty else (),
        removable=without is not None,
        ticks=tuple(Tick(value=v, stock=stock.get(v, 0)) for v in values),
    )


def _binding(bounds: Sequence[Bound]) -> tuple[list[Bound], list[Bound]]:
    """The constraints at each end, the tightest first; soft ones give way where they leave nothing."""

    def ends(kept: Sequence[Bound]) -> tuple[list[Bound], list[Bound]]:
        lows = sorted((b for b in kept if b.side == "low"), key=lambda b: -b.value)
        return lows, sorted((b for b in kept if b.side == "high"), key=lambda b: b.value)

    lows, highs = ends(bounds)
    if lows and highs and lows[0].value > highs[0].value:
        return ends([b for b in bounds if not b.soft])
    return lows, highs


def _standing(present: float | None, bounds: Sequence[Bound]) -> Standing:
    """How a value stands among its constraints."""
    if present is None:
        return "fails"
    broken = [b for b in bounds if (present < b.value if b.side == "low" else present > b.value)]
    return "fits" if not broken else "tight" if all(b.soft for b in broken) else "fails"
