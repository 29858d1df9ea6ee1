"""What a stage says about itself: workings, windows, verdicts. Data with stable ids, no free text built in a
view.

Formulas are plain text; `V_{gate}` marks a subscript.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any, Literal

from ..fields import Document
from ..quantity import show, within

Facet = Literal["load", "drive", "guard", "behave", "build", "prove"]
Standing = Literal["fails", "tight", "fits", "proven", "unknown"]
Sense = Literal["at most", "at least"]
RANK: dict[str, int] = {"fails": 0, "unknown": 1, "tight": 2, "fits": 3, "proven": 4}
TIGHT = 0.8  # share of a limit above which a verdict is tight
MOST = 99.0  # a share is never shown above this


class Working(Document):
    """One computed value: its formula, the numbers put in, and why it is so."""

    formula: str
    substituted: str
    reason: str


class Change(Document):
    """One field of the design set to a value; `path` is dotted, list places as numbers."""

    path: str
    value: Any


class Remedy(Document):
    """What to do. `changes` do it when there is something the program can do; `stock` counts the drawer."""

    text: str
    changes: tuple[Change, ...] = ()
    stock: int | None = None


class Verdict(Document):
    """One check. `used` and `used_worst` are shares of the limit, nominal parts and worst corner."""

    id: str
    facet: Facet
    title: str
    sentence: str
    sense: Sense
    unit: str
    nominal: float
    worst: float
    limit: float
    corner: str
    used: float
    used_worst: float
    left: float
    standing: Standing
    working: Working
    remedy: Remedy | None = None
    figures: str


def share(value: float, limit: float, sense: Sense) -> float:
    """The share of a limit that is used; above 1 it is broken."""
    if sense == "at most":
        ratio = value / limit if limit > 0 else math.inf
    else:
        ratio = limit / value if value > 0 else (0.0 if limit <= 0 else math.inf)
    return min(max(ratio, 0.0), MOST)


def judge(
    id: str,
    facet: Facet,
    title: str,
    *,
    nominal: float,
    worst: float,
    limit: float,
    unit: str,
    sense: Sense,
    sentence: str,
    corner: str,
    working: Working,
    remedy: Remedy | None = None,
    digits: int = 3,
) -> Verdict:
    """A verdict from its numbers, by the one rule for standings.

    Fails: nominal parts break the limit under a condition that will occur. Tight: more than 80 % of the
    limit is used at the worst corner, or only parts at their extremes break it.
    """
    used, used_worst = share(nominal, limit, sense), share(worst, limit, sense)
    used_worst = max(used, used_worst)
    standing: Standing = "fails" if used > 1 + 1e-9 else "tight" if used_worst > TIGHT else "fits"
    if standing == "fits":
        remedy = None
    elif remedy is None:
        remedy = Remedy(text="Change the value that sets it, or the limit if yours is known better.")
    low, high = (limit, worst) if sense == "at least" else (worst, limit)
    figures = (
        f"{show(low, '', digits) if unit == '' else _bare(low, high, unit, digits)} of "
        f"{show(high, unit, digits)}"
    )
    return Verdict(
        id=id,
        facet=facet,
        title=title,
        sentence=sentence,
        sense=sense,
        unit=unit,
        nominal=nominal,
        worst=worst,
        limit=limit,
        corner=corner,
        used=used,
        used_worst=used_worst,
        left=1 - used_worst,
        standing=standing,
        working=working,
        remedy=remedy,
        figures=figures,
    )


def _bare(value: float, beside: float, unit: str, digits: int) -> str:
    """`value` without its unit when it shares the unit and prefix of `beside`."""
    text, other = show(value, unit, digits), show(beside, unit, digits)
    return text.rsplit(" ", 1)[0] if text.rsplit(" ", 1)[-1] == other.rsplit(" ", 1)[-1] else text


def worst_of(standings: Iterable[Standing]) -> Standing:
    """The most serious of several standings; "fits" when there is none."""
    return min(standings, key=lambda s: RANK[s], default="fits")


class Bound(Document):
    """One constraint on a value: it must stay above (`low`) or below (`high`) this."""

    side: Literal["low", "high"]
    value: float
    title: str
    detail: str
    verdict: str
    working: Working


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

    `gap` is set when the window is empty: how far apart the two limits are. `ticks` are preferred and owned
    values around it; `suggested` is the one to take.
    """

    path: str
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


RULER_MARGIN = 2.2  # how far the ruler reaches past what is marked on it, as a ratio


def window(
    path: str,
    ref: str,
    title: str,
    unit: str,
    present: float | None,
    bounds: Sequence[Bound],
    *,
    stock: dict[float, int],
    offers: Sequence[Offer] = (),
    removable: bool = False,
) -> Window:
    """Intersect constraints; the tightest at each end binds.

    The suggestion lies near the middle by ratio; a part that may be left out (`removable`, a pull-down)
    costs least near the top.
    """
    lows = sorted((b for b in bounds if b.side == "low"), key=lambda b: -b.value)
    highs = sorted((b for b in bounds if b.side == "high"), key=lambda b: b.value)
    low, high = (lows[0] if lows else None), (highs[0] if highs else None)
    bottom = low.value if low else (high.value / 1e4 if high else 1.0)
    top = high.value if high else bottom * 1e4
    empty = bottom > top
    suggested = None
    if not empty:
        wanted = 0.85 * top if removable else math.sqrt(max(bottom, 1e-12) * top)
        owned = [v for v in stock if bottom <= v <= top]
        candidates = owned or within(bottom, top, "E24") or within(bottom, top, "E96")
        suggested = min(candidates, key=lambda v: abs(math.log(v / wanted)), default=None)
    marked = [v for v in (low.value if low else None, high.value if high else None, present) if v is not None]
    least, most = max(min(marked) / RULER_MARGIN, 0.1), min(max(marked) * RULER_MARGIN, 1e8)
    values = sorted({*within(least, most, "E24"), *(v for v in stock if least <= v <= most)})
    inside = present is not None and not empty and bottom <= present <= top
    return Window(
        path=path,
        ref=ref,
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
