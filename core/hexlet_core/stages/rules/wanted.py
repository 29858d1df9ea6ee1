"""A time that is wanted: how what comes of it is judged, which values would give it, and where their windows
end.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Protocol

from ...quantity import show
from ..contract.site import Site
from ..say.checks import Change, Check, Shown, Sort, check, when
from ..say.windows import Bound, Window, bound, window
from ..say.wording import Say, Sentence, Word
from .timing import tolerance_of


class Wishing(Protocol):
    """A kind whose fields say which time is wanted [s]."""

    @property
    def wanted(self) -> float: ...

    @property
    def at_least(self) -> float: ...

    @property
    def at_most(self) -> float: ...


@dataclass(frozen=True)
class Times:
    """A time with ordinary parts, and at the ends of all tolerances [s]; no end where it never comes."""

    nominal: float
    least: float
    most: float

    def later(self, seconds: float) -> Times:
        """The same, all longer by this."""
        return Times(self.nominal + seconds, self.least + seconds, self.most + seconds)


@dataclass(frozen=True)
class Telling:
    """How a time is told: its formula with the numbers put in, why it spreads, and what changes it.

    `says` begins the sentence: "On for", "Every".
    """

    says: str
    formula: str
    numbers: str
    because: str
    part: str  # the part that is made larger or smaller
    shown: Shown | None = None
    changes: tuple[Change, ...] = ()
    other: str = ""  # than another value: what those changes do
    sort: Sort = "wish"


def wish_checks(wish: Wishing, times: Times, telling: Telling) -> Iterator[Check]:
    """Whether a time is within what was asked for, every part at its longest and at its shortest."""
    said = f"{telling.says} {show(times.nominal, 's')}"
    shown = telling.shown if math.isfinite(times.nominal) else None
    yield check(
        "not_long",
        "Not too long",
        telling.sort,
        "time",
        unit="s",
        nominal=times.nominal,
        worst=times.most,
        most=wish.at_most,
        at=when("every part at its longest"),
        says=f"{said}, up to {show(times.most, 's')}; at most {show(wish.at_most, 's')} asked.",
        formula=telling.formula,
        numbers=telling.numbers,
        because=telling.because,
        cure=f"Make {telling.part} smaller{telling.other}.",
        changes=telling.changes,
        shown=shown,
    )
    yield check(
        "not_short",
        "Not too short",
        telling.sort,
        "time",
        unit="s",
        nominal=times.nominal,
        worst=times.least,
        least=wish.at_least,
        at=when("every part at its shortest"),
        says=f"{said}, down to {show(times.least, 's')}; at least {show(wish.at_least, 's')} asked.",
        formula=telling.formula,
        numbers=telling.numbers,
        because=telling.because,
        cure=f"Make {telling.part} larger{telling.other}.",
        changes=telling.changes,
        shown=shown,
    )


def asked_for(say: Say, begins: str, after: str = "") -> Sentence:
    """The time that is wanted as a sentence: "On for 45 s, anything from 30 s to 60 s will do"."""
    return (
        Word(text=begins),
        say.field("wanted", note="wanted"),
        Word(text=f"{after} Anything from".strip() if after else "anything from"),
        say.field("at_least", note="at least"),
        Word(text="to"),
        say.field("at_most", note="at most"),
        Word(text="will do."),
    )


def ends_of(times: Times, digits: int = 2) -> str:
    """A time's two ends in words."""
    return f"{show(times.least, 's', digits)} to {show(times.most, 's', digits)}"


def scaled_windows(
    site: Site,
    wish: Wishing,
    times: Times,
    *values: tuple[str, str, str],
    leaks: Sequence[Bound] = (),
    plus: float = 0.0,
) -> tuple[Window, ...]:
    """The windows of values that a time grows with in proportion: each as field, part and title; the first
    is the resistor, which what leaks bounds too. `plus` is what of the time they do not make [s].
    """
    if not 0 < times.least - plus <= times.most - plus < math.inf:
        return ()
    ends = (wish.at_least - plus) / (times.least - plus), (wish.at_most - plus) / (times.most - plus)
    return tuple(
        window(
            site,
            field,
            part,
            title,
            [
                *time_bounds(wish, *(float(getattr(site.stage, field)) * e for e in ends)),
                *(() if k else leaks),
            ],
        )
        for k, (field, part, title) in enumerate(values)
    )


def spread_words(site: Site, capacitor: str, farads: float, *resistors: str, more: str = "") -> str:
    """Why a time spreads: what each part may be off."""
    named = " and ".join(resistors)
    return (
        f"{capacitor} may be {tolerance_of(farads):.0%} off, {named} {site.tolerance:.0%}{more}. "
        "The capacitor is nearly all of it."
    )


def time_bounds(wish: Wishing, least: float, most: float) -> list[Bound]:
    """The ends of a window that what was asked for sets: the value at which every part at its shortest still
    gives the least time, and that at which every part at its longest gives the most.
    """
    found = [
        bound(
            "low",
            least,
            "long enough",
            detail=show(wish.at_least, "s"),
            guards="not_short",
            formula="value ≥ that which gives the least time, every part at its shortest",
            because="Smaller, and the shortest time is shorter than you asked for.",
        ),
        bound(
            "high",
            most,
            "short enough",
            detail=show(wish.at_most, "s"),
            guards="not_long",
            formula="value ≤ that which gives the longest time, every part at its longest",
            because="Larger, and the longest time is longer than you asked for.",
        ),
    ]
    return [b for b in found if b.value > 0 and math.isfinite(b.value)]
