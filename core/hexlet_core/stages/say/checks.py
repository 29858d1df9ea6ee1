"""Checks: a number against its limit, with its sort, what it is about, its corner and its working.

`check` builds one; the core turns it into a `Verdict`. Formulas are plain text; `V_{gate}` marks a subscript.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from ...fields import Document
from ...quantity import show

Facet = Literal["load", "drive", "guard", "behave", "build", "prove"]
Standing = Literal["fails", "tight", "fits", "proven", "unknown"]
Sense = Literal["at most", "at least"]
Sort = Literal["limit", "need", "practice", "wish"]
About = Literal[
    "turns on",
    "turns off",
    "at rest",
    "unplugged",
    "plugged in",
    "taken",
    "level",
    "current",
    "surge",
    "heat",
    "peak",
    "volts",
    "gets its volts",
    "supply high",
    "time",
    "contact",
    "place",
    "wall",
]
# What a check about each is called where several designs stand side by side.
SAID: dict[About, str] = {
    "turns on": "Turned fully on",
    "turns off": "Turned fully off",
    "at rest": "Off at rest",
    "taken": "Signal, steady",
    "surge": "First moment",
    "current": "Current",
    "heat": "Heat",
    "level": "Highest level",
    "peak": "Peak voltage",
    "wall": "Alternating side",
    "gets its volts": "Load gets its volts",
}
RANK: dict[str, int] = {"fails": 0, "unknown": 1, "tight": 2, "fits": 3, "proven": 4}
TIGHT = 0.8  # share of a limit above which a verdict is tight
MOST = 99.0  # a share is never shown above this
# What follows from what: a failing check about the first is a consequence of one about any of the others.
FOLLOWS: dict[About, tuple[About, ...]] = {
    "heat": ("turns on", "current"),
    "gets its volts": ("turns on",),
    "time": ("turns on",),
}


class Working(Document):
    """One computed value: its formula, the numbers put in, and why it is so."""

    formula: str
    substituted: str
    reason: str


class Change(Document):
    """One field of the design set to a value; `path` is dotted. A block set to nothing is taken out."""

    path: str
    value: Any


class Remedy(Document):
    """What to do. `changes` do it when there is something the program can do; `stock` counts the drawer."""

    text: str
    changes: tuple[Change, ...] = ()
    stock: int | None = None


@dataclass(frozen=True)
class At:
    """The corner a check is judged at, as data for the simulation; `note` says what the data does not."""

    supply: Literal["low", "typical", "high"] = "typical"
    note: str = ""
    hot: bool = False

    @property
    def words(self) -> str:
        said = [f"supply {self.supply}"] if self.supply != "typical" else []
        return ", ".join([*said, *([self.note] if self.note else [])]) or "typical"


HIGH, LOW, ANY = At("high"), At("low"), At()


def high(note: str) -> At:
    """The high supply, and what else is at its extreme."""
    return At("high", note)


def low(note: str) -> At:
    """The low supply, and what else is at its extreme."""
    return At("low", note)


def when(note: str) -> At:
    """A condition that is not the supply's."""
    return At(note=note)


@dataclass(frozen=True)
class Check:
    """One check as a block states it."""

    id: str
    title: str
    sort: Sort
    about: About
    unit: str
    nominal: float
    worst: float
    limit: float
    sense: Sense
    at: At
    says: str
    working: Working
    cure: Remedy | None
    digits: int = 3
    facet: Facet | None = None  # the block's own when None


def check(
    id: str,
    title: str,
    sort: Sort,
    about: About,
    *,
    unit: str,
    nominal: float,
    worst: float | None = None,
    most: float | None = None,
    least: float | None = None,
    at: At,
    says: str,
    formula: str,
    numbers: str,
    because: str,
    cure: str | Remedy = "",
    changes: tuple[Change, ...] = (),
    digits: int = 3,
    facet: Facet | None = None,
) -> Check:
    """A check: `nominal` with ordinary parts and `worst` at the corner, against `most` or `least`."""
    assert (most is None) != (least is None)
    remedy = cure if isinstance(cure, Remedy) else Remedy(text=cure, changes=changes) if cure else None
    return Check(
        id=id,
        title=title,
        sort=sort,
        about=about,
        unit=unit,
        nominal=nominal,
        worst=nominal if worst is None else worst,
        limit=most if most is not None else least if least is not None else 0.0,
        sense="at most" if most is not None else "at least",
        at=at,
        says=says,
        working=Working(formula=formula, substituted=numbers, reason=because),
        cure=remedy,
        digits=digits,
        facet=facet,
    )


def holds(
    id: str,
    title: str,
    sort: Sort,
    about: About,
    true: bool,
    *,
    at: At,
    says: str,
    formula: str,
    numbers: str,
    because: str,
    cure: str | Remedy = "",
    changes: tuple[Change, ...] = (),
    facet: Facet | None = None,
) -> Check:
    """A check of yes or no."""
    wrong = 0.0 if true else 1.0
    return check(
        id,
        title,
        sort,
        about,
        unit="",
        nominal=wrong,
        most=0.5,
        at=at,
        says=says,
        formula=formula,
        numbers=numbers,
        because=because,
        cure=cure,
        changes=changes,
        facet=facet,
    )


class Verdict(Document):
    """One check, judged. `used` and `used_worst` are shares of the limit, nominal parts and worst corner.

    `id` is "b2.fully_on", `check` its last part. `cause` is the id of the verdict that this one follows from.
    """

    id: str
    block: str
    check: str
    facet: Facet
    sort: Sort
    about: About
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
    margin: str  # what is left, or how much is missing, in words
    standing: Standing
    working: Working
    remedy: Remedy | None = None
    figures: str
    cause: str | None = None


def share(value: float, limit: float, sense: Sense) -> float:
    """The share of a limit that is used; above 1 it is broken."""
    if sense == "at most":
        ratio = value / limit if limit > 0 else math.inf
    else:
        ratio = limit / value if value > 0 else (0.0 if limit <= 0 else math.inf)
    return min(max(ratio, 0.0), MOST)


def judged(found: Check, block: str, facet: Facet) -> Verdict:
    """A verdict from a check's numbers, by the one rule for standings.

    Fails: nominal parts break the limit under a condition that will occur. Tight: more than 80 % of the limit
    is used at the worst corner, or only parts at their extremes break it.
    """
    used, used_worst = (share(v, found.limit, found.sense) for v in (found.nominal, found.worst))
    used_worst = max(used, used_worst)
    standing: Standing = "fails" if used > 1 + 1e-9 else "tight" if used_worst > TIGHT else "fits"
    remedy = found.cure
    if standing == "fits":
        remedy = None
    elif remedy is None:
        remedy = Remedy(text="Change the value that sets it, or the limit if yours is known better.")
    low_end, high_end = (
        (found.limit, found.worst) if found.sense == "at least" else (found.worst, found.limit)
    )
    figures = (
        f"{_bare(low_end, high_end, found.unit, found.digits)} of {show(high_end, found.unit, found.digits)}"
    )
    return Verdict(
        id=f"{block}.{found.id}" if block else found.id,
        block=block,
        check=found.id,
        facet=found.facet or facet,
        sort=found.sort,
        about=found.about,
        title=found.title,
        sentence=found.says,
        sense=found.sense,
        unit=found.unit,
        nominal=found.nominal,
        worst=found.worst,
        limit=found.limit,
        corner=found.at.words,
        used=used,
        used_worst=used_worst,
        left=1 - used_worst,
        margin=margin(found, used_worst),
        standing=standing,
        working=found.working,
        remedy=remedy,
        figures=figures,
    )


def margin(found: Check, used: float) -> str:
    """What is left of a limit at the worst corner: "22% left"; or missing: "1.9 V short", "over by 9%"."""
    left = 1 - used
    if left >= -0.0005:
        return f"{abs(left):.0%} left"
    if found.unit == "":
        return "not met"
    if found.sense == "at least":
        return f"{show(found.limit - min(found.worst, found.nominal), found.unit, 2)} short"
    return f"{1 - left:.2g} times over" if left <= -1 else f"over by {max(-left, 0.01):.0%}"


def _bare(value: float, beside: float, unit: str, digits: int) -> str:
    """`value` without its unit when it shares the unit and prefix of `beside`."""
    text, other = show(value, unit, digits), show(beside, unit, digits)
    same = unit != "" and text.rsplit(" ", 1)[-1] == other.rsplit(" ", 1)[-1]
    return text.rsplit(" ", 1)[0] if same else text


def worst_of(standings: Iterable[Standing]) -> Standing:
    """The most serious of several standings; "fits" when there is none."""
    return min(standings, key=lambda s: RANK[s], default="fits")
