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


@dataclass(frozen=True)
class Preferred:
    """How values of one unit are made: the series to suggest from first, a finer one, and the
    ruler's ends.
    """

    first: str
    finer: str
    least: float
    most: float


SERIES_OF: dict[str, Preferred] = {
    "Ω": Preferred("E24", "E96", 0.1, 1e8),
    "F": Preferred("E6", "E12", 1e-13, 1.0),
    "H": Preferred("E6", "E12", 1e-9, 100.0),
    "s": Preferred("E6", "E24", 1e-9, 1e6),
}
ANY_UNIT = Preferred("E12", "E24", 1e-12, 1e12)


class Bound(Document):
    """One constraint on a value: it must stay above (`low`) or below (`high`) this; `verdict` names its
    check.
    """

    side: Literal["low", "high"]
    value: float
    title: str
    detail: str
    verdict: str
    working: Working


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
) -> Bound:
    """A constraint; `guards` is the check it keeps from failing."""
    working = Working(formula=formula, substituted=numbers or f"= {detail}", reason=because)
    return Bound(side=side, value=value, title=title, detail=detail, verdict=guards, working=working)


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
    removable: bool = False,
) -> Window:
    """Intersect the constraints on one of the block's fields; the tightest at each end binds.

    The suggestion lies near the middle by ratio; a part that may be left out (`removable`, a pull-down) costs
    least near the top.
    """
    unit, present = site.unit(field), getattr(site.stage, field)
    stock: Mapping[float, int] = site.drawer.values(unit)
    made = SERIES_OF.get(unit, ANY_UNIT)
    field_ends = quantity_of(type(site.stage), field)
    lows = sorted((b for b in bounds if b.side == "low"), key=lambda b: -b.value)
    highs = sorted((b for b in bounds if b.side == "high"), key=lambda b: b.value)
    low, high = (lows[0] if lows else None), (highs[0] if highs else None)
    bottom = low.value if low else (high.value / 1e4 if high else made.least)
    top = high.value if high else bottom * 1e4
    empty = bottom > top
    suggested = None
    if not empty:
        least, most = (
            (max(bottom, field_ends.low), min(top, field_ends.high)) if field_ends else (bottom, top)
        )
        wanted = 0.85 * top if removable else math.sqrt(max(bottom, made.least * 1e-3) * top)
        owned = [v for v in stock if least <= v <= most]
        candidates = owned or within(least, most, made.first) or within(least, most, made.finer)
        suggested = min(candidates, key=lambda v: abs(math.log(v / wanted)), default=None)
    marked = [v for v in (low and low.value, high and high.value, present) if v]
    begin = max(min(marked, default=made.least) / RULER_MARGIN, made.least)
    end = min(max(marked, default=made.least * 1e4) * RULER_MARGIN, made.most)
    values = sorted({*within(begin, end, made.first), *(v for v in stock if begin <= v <= end)})
    inside = present is not None and not empty and bottom <= present <= top
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
        others=tuple(b for b in (*lows[1:], *highs[1:])),
        gap=(bottom - top) if empty else None,
        suggested=suggested,
        standing="fits" if inside else "fails",
        offers=tuple(offers) if empty else (),
        removable=removable,
        ticks=tuple(Tick(value=v, stock=stock.get(v, 0)) for v in values),
    )
