"""Values that give a time that is wanted: each capacitor with the resistor it needs, by several schools."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from typing import Any, Protocol, Self, runtime_checkable

from ...quantity import show, show_part
from ..contract.descriptions import Finder, Found, School
from ..contract.site import Site
from ..say.checks import RANK, Change
from ..say.windows import choices
from .leak import Leak
from .timing import tolerance_of
from .wanted import Times, Wishing

LEAST_OHMS, MOST_OHMS = 1e3, 4.7e6
LEAST_FARADS, MOST_FARADS = 1e-10, 1e-3  # what a finder offers
LARGER_C = (
    "Meter, pins and dirt take less of a larger current; the capacitor costs more and is emptied harder."
)
LARGER_R = "A small capacitor may be a film one: less spread, less to empty; what leaks counts sooner."
OFFERED = 7  # sets of values beside the one in use


class Paired(Wishing, Protocol):
    """A kind whose time two values set."""

    def times(self, site: Site) -> Times: ...

    def model_copy(self, *, update: Mapping[str, Any]) -> Self: ...


@runtime_checkable
class Leaking(Protocol):
    """A kind whose time what leaks may spoil."""

    def leak(self, site: Site) -> Leak: ...


def pairs(
    site: Site,
    wish: Paired,
    fields: tuple[str, str],
    needs: Callable[[float], float],
    title: str = "C × R",
    trimmed: bool = False,
    instead: str = "Count an oscillator's beats instead.",
) -> Finder:
    """Capacitors to choose from, each with the resistor that it needs, the nearest first.

    Args:
        fields: of the resistor and the capacitor.
        needs: the resistor [Ω] that a capacitor [F] needs for the time that is wanted.
        trimmed: whether a trimmer lies in line.
        instead: what to do where no values keep the time.
    """
    owned, caps = site.drawer.resistors(), site.drawer.values("F")

    def tried(ohms: float, farads: float) -> Paired:
        return wish.model_copy(update=dict(zip(fields, (ohms, farads), strict=True)))

    def longest(farads: float) -> float:
        """The longest time that a capacitor keeps where it leaks as most do [s]."""
        most = tried(MOST_OHMS, farads)
        share = min(most.leak(site).usual_share, 1.0) if isinstance(most, Leaking) else 1.0
        return tried(share * MOST_OHMS, farads).times(site).nominal

    def found(ohms: float, farads: float) -> Found:
        trial = tried(ohms, farads)
        made, trusted = trial.times(site), _trusted(site, trial)
        inside = wish.at_least <= made.least and made.most <= wish.at_most and made.nominal <= trusted
        usual = wish.at_least <= made.nominal <= wish.at_most
        stock = caps.get(farads, 0), owned.get(ohms, 0)
        leaks = f"trust {show(trusted, 's', 2)} · " if made.nominal > trusted else ""
        return Found(
            title=f"{show_part(farads)} × {show_part(ohms)}",
            detail=f"{leaks}drawer: {stock[0]} and {stock[1]}",
            low=min(made.least, 100 * wish.at_most),
            nominal=min(made.nominal, 100 * wish.at_most),
            high=min(made.most, 100 * wish.at_most),
            standing="fits" if inside else "tight" if usual else "fails",
            changes=tuple(
                Change(path=site.path(field), value=value)
                for field, value in zip(fields, (ohms, farads), strict=True)
            ),
        )

    rows: list[tuple[float, float, Found]] = []
    owned_rows: list[Found] = []
    sizes = choices(site, "F", LEAST_FARADS, MOST_FARADS, owned_first=False)
    for farads in sizes:
        need = needs(farads)
        if not LEAST_OHMS <= need <= MOST_OHMS:
            continue
        if near := choices(site, "Ω", need / 3, need * 3, owned_first=False):
            ohms = _nearest(near, need)
            rows.append((ohms, farads, found(ohms, farads)))
        mine = [r for r, count in owned.items() if count and need / 3 <= r <= need * 3]
        if mine and caps.get(farads):
            owned_rows.append(found(_nearest(mine, need), farads))
    now = found(*(float(getattr(site.stage, field)) for field in fields)).model_copy(update={"in_use": True})

    def school(title: str, why: str, found: Iterable[Found]) -> School:
        others = [f for f in found if f.title != now.title]
        return School(title=title, why=why, rows=(now, *others[:OFFERED]))

    def off(found: Found) -> tuple[bool, float]:
        return RANK[found.standing] < RANK["fits"], abs(found.nominal - wish.wanted)

    good = [row for row in rows if row[2].standing != "fails"]
    schools = (
        school("Nearest", "", sorted((f for _, _, f in rows), key=off)),
        school("From drawer", "what is there", sorted(owned_rows, key=off)),
        school("Larger C", LARGER_C, (f for _, _, f in sorted(good, key=lambda row: -row[1]))),
        school("Larger R", LARGER_R, (f for _, _, f in sorted(good, key=lambda row: -row[0]))),
    )
    spread = f"The spread is the capacitor: ±{tolerance_of(float(getattr(site.stage, fields[1]))):.0%}."
    set_by = " The trimmer takes it out; this is where it stands now." if trimmed else ""
    return Finder(
        title=f"{title} near {show(wish.wanted, 's')}",
        unit="s",
        wanted=wish.wanted,
        low=wish.at_least,
        high=wish.at_most,
        schools=schools,
        note=spread + set_by + _refused(wish, max(map(longest, sizes), default=math.inf), instead),
    )


def _nearest(values: Iterable[float], need: float) -> float:
    return min(values, key=lambda r: abs(math.log(r / need)))


def _trusted(site: Site, trial: Paired) -> float:
    """How long these values can be trusted, for what leaks [s]."""
    return trial.leak(site).share * trial.times(site).nominal if isinstance(trial, Leaking) else math.inf


def _refused(wish: Wishing, longest: float, instead: str) -> str:
    """Why no values are offered, where the time that is wanted is longer than any that can be trusted [s]."""
    if wish.wanted <= longest:
        return ""
    return (
        f" No resistor and capacitor keep {show(wish.wanted, 's')}: past {show(longest, 's', 2)} what "
        f"leaks is over a fifth of what flows. {instead}"
    )
