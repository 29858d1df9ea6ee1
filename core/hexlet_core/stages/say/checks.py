"""Checks: a number against its limit, with its sort, what it is about, its corner and its working.

`check` builds one; the core turns it into a `Verdict`. Formulas are plain text; `V_{gate}` marks a subscript.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from ...circuit.curve import Edge
from ...circuit.measure import What
from ...fields import Document
from ...quantity import show

Facet = Literal["load", "drive", "guard", "behave", "build", "prove"]
Standing = Literal["fails", "tight", "fits", "proven", "unknown", "told"]
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
    "temperature",
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
    "temperature": "Hottest",
    "level": "Highest level",
    "peak": "Peak voltage",
    "wall": "Alternating side",
    "gets its volts": "Load gets its volts",
}
RANK: dict[str, int] = {"fails": 0, "unknown": 1, "tight": 2, "fits": 3, "proven": 4, "told": 5}
# The share of a limit from which a check is tight: a limit keeps a fifth for what nobody counted; a need or a
# wish is met at the worst corner already, and keeps a twentieth.
TIGHT: dict[Sort, float] = {"limit": 0.8, "need": 0.95, "practice": 1.0, "wish": 0.95}
RATED: tuple[About, ...] = ("supply high",)  # a load's own rating is the figure for good use already
NEARLY = 0.95
MOST = 99.0  # a share is never shown above this
# What follows from what: a failing check about the first is a consequence of one about any of the others.
FOLLOWS: dict[About, tuple[About, ...]] = {
    "heat": ("turns on", "current"),
    "temperature": ("heat", "turns on", "current", "surge"),
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
    """The corner a check is judged at, as data for the simulation; `note` says what the data does not.

    `hot` is at the highest ambient temperature, `signal` the end of the levels that come from outside.
    """

    supply: Literal["low", "typical", "high"] = "typical"
    note: str = ""
    hot: bool = False
    signal: Literal["min", "typ", "max"] = "typ"
    about_signal: bool = False  # whether the signal's end is what matters: then the supply's is not said

    @property
    def words(self) -> str:
        plain = self.supply == "typical" or self.about_signal
        said = [] if plain else [f"supply {self.supply}"]
        return ", ".join([*said, *([self.note] if self.note else [])]) or "typical"


HIGH, LOW = At("high"), At("low")


def high(note: str, hot: bool = False) -> At:
    """The high supply, and what else is at its extreme."""
    return At("high", note, hot)


def low(note: str, hot: bool = False) -> At:
    """The low supply and the weakest signal, and what else is at its extreme."""
    return At("low", note, hot, "min")


def weakest(note: str) -> At:
    """The signal at its lowest on the low supply, and what else is at its extreme."""
    return At("low", note, signal="min", about_signal=True)


def strongest(note: str) -> At:
    """The signal at its highest on the high supply, and what else is at its extreme."""
    return At("high", note, signal="max", about_signal=True)


def when(note: str) -> At:
    """A condition that is not the supply's."""
    return At(note=note)


@dataclass(frozen=True)
class Shown:
    """Where the simulated circuit shows a check's nominal number: a promise that the circuit is held to.

    `signal` is in the block's own names, and `scene` one that the block or its actor has. Without `look` the
    circuit is at rest in that scene; with it, it is run so long after the scene's change [s] and measured:
    `what`, `level`, `edge` and `since` (signal, level, edge) as `circuit.measure` has them. The reading times
    `times` plus `plus` is the check's number. `within` is how far the formula may be off, relative or at
    least `floor`, and `because` says why no less.
    """

    signal: str
    scene: str = "active"
    what: What = "level"
    look: float | None = None
    level: float | None = None
    edge: Edge = "either"
    since: tuple[str, float, Edge] | None = None
    times: float = 1.0
    plus: float = 0.0
    within: float = 0.02
    floor: float = 0.0
    because: str = ""


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
    shown: Shown | None = None
    wish: str = ""  # the block's field that asks for it: judged once somebody has asked


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
    shown: Shown | None = None,
    wish: str = "",
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
        shown=shown,
        wish=wish,
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
    ask: Change | None = None  # of what nobody asked for: what asks for it
    cause: str | None = None


def share(value: float, limit: float, sense: Sense) -> float:
    """The share of a limit that is used; above 1 it is broken."""
    if sense == "at most":
        ratio = value / limit if limit > 0 else math.inf
    else:
        ratio = limit / value if value > 0 else (0.0 if limit <= 0 else math.inf)
    return min(max(ratio, 0.0), MOST)


def standing_of(sort: Sort, about: About, used: float, worst: float) -> Standing:
    """The one rule for standings, from the shares of a limit that are used with nominal parts and at worst.

    Fails: nominal parts break it under a condition that will occur; good practice never does. Tight: only
    parts at their extremes break it, or little is left at the worst corner.
    """
    if used > 1 + 1e-9 and sort != "practice":
        return "fails"
    edge = NEARLY if sort == "limit" and about in RATED else TIGHT[sort]
    return "tight" if worst > edge + 1e-9 else "fits"


def judged(found: Check, block: str, facet: Facet, ask: Change | None = None) -> Verdict:
    """A verdict from a check's numbers; `ask` is the change that asks for what nobody asked for."""
    used, used_worst = (share(v, found.limit, found.sense) for v in (found.nominal, found.worst))
    used_worst = max(used, used_worst)
    standing = standing_of(found.sort, found.about, used, used_worst) if ask is None else "told"
    remedy = found.cure
    if standing in ("fits", "told"):
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
        margin=margin(found, used_worst) if ask is None else show(found.nominal, found.unit, found.digits),
        standing=standing,
        working=found.working,
        remedy=remedy,
        figures=figures,
        ask=ask,
    )


def margin(found: Check, used: float) -> str:
    """What is left of a limit at the worst corner: "22% left"; or missing: "1.9 V short", "over by 9%"."""
    left = 1 - used
    if left >= -0.0005:
        return f"{abs(left):.0%} left"
    if found.sort == "practice":
        return "outside"
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
    """The most serious of several standings, what is only told left out; "fits" when there is none."""
    return min((s for s in standings if s != "told"), key=lambda s: RANK[s], default="fits")
