"""What drives a base or a gate, as volts away from the rail its emitter or source sits on.

The same rules then hold for a pin on an NPN at 0 V, for a transistor pulling on a PNP at the supply, and
for a rail
behind a resistor: `Feed` hides which.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..quantity import Interval, show
from .contract import Offer, Rest, View
from .findings import Remedy, Verdict, Working, judge


@dataclass(frozen=True)
class Feed:
    """`on` turns the switch on and `off` [V] is what remains when it is told to be off; `rest` is when nobody
    tells it.

    `steady` and `burst` are the currents it can give [A]: infinite for a rail.
    """

    on: Interval
    resistance: float = 0.0
    off: float = 0.0
    rest: Rest | None = None
    steady: float = math.inf
    burst: float = math.inf
    name: str = "pin"

    @property
    def limited(self) -> bool:
        return math.isfinite(self.steady)


def from_low_side(offer: Offer) -> Feed:
    """A signal on a base or gate whose emitter or source is at 0 V: high turns it on."""
    return Feed(offer.high, offer.resistance, offer.low, offer.rest, offer.steady, offer.burst, offer.name)


def from_high_side(offer: Offer, view: View) -> Feed:
    """A signal straight on a base or gate whose emitter or source is at the supply: low turns it on."""
    rest = offer.rest
    level = view.high - rest.level if math.isfinite(rest.resistance) and rest.resistance < 1e9 else 0.0
    return Feed(
        Interval(view.low - offer.low, view.typical - offer.low, view.high - offer.low),
        offer.low_resistance if offer.low_resistance is not None else offer.resistance,
        offer.short(view.low, view.typical, view.high),
        Rest(level, rest.resistance, rest.words, rest.when),
        offer.steady,
        offer.burst,
        offer.name,
    )


def from_rail(view: View, drop: float, name: str = "supply") -> Feed:
    """The supply, less what a helper transistor keeps for itself [V]."""
    return Feed(Interval(view.low - drop, view.typical - drop, view.high - drop), name=name)


def feed_currents(
    feed: Feed,
    tag: str,
    who: str,
    *,
    steady: tuple[float, float],
    burst: tuple[float, float] | None,
    formula: str,
    substituted: str,
    reason: str,
    fix: Remedy,
) -> list[Verdict]:
    """Steady and burst current taken from the signal; each pair is (nominal, worst) in amps."""
    if not feed.limited:
        return []
    title = feed.name.capitalize()
    found = [
        judge(
            f"{tag}pin_steady",
            "drive",
            f"{who}{title}, steady",
            nominal=steady[0],
            worst=steady[1],
            limit=feed.steady,
            unit="A",
            sense="at most",
            corner=f"{feed.name} at its highest, resistor at its lowest",
            sentence=f"{show(steady[1], 'A')} of {show(feed.steady, 'A')} while it is on.",
            working=Working(formula=formula, substituted=substituted, reason=reason),
            remedy=fix,
        )
    ]
    if burst is not None:
        found.append(
            judge(
                f"{tag}pin_burst",
                "drive",
                f"{who}{title} burst at switch-on",
                nominal=burst[0],
                worst=burst[1],
                limit=feed.burst,
                unit="A",
                sense="at most",
                corner=f"{feed.name} at its highest, resistor at its lowest",
                sentence=f"{show(burst[1], 'A')} of {show(feed.burst, 'A')}, for a moment.",
                working=Working(
                    formula="I = V_{pin,max} / R",
                    substituted=f"= {show(feed.on.high, 'V')} / R = {show(burst[1], 'A')}",
                    reason=(
                        "An empty gate is a short at first. Only the series resistor limits what the pin "
                        "gives."
                    ),
                ),
                remedy=fix,
            )
        )
    return found


def rest_verdict(
    feed: Feed,
    tag: str,
    who: str,
    *,
    level: float,
    off: float,
    control: str,
    formula: str,
    substituted: str,
    fix: Remedy,
    corner: str = "",
) -> list[Verdict]:
    """Whether the switch stays off while nobody commands the signal."""
    if feed.rest is None:
        return []
    return [
        judge(
            f"{tag}boot",
            "drive",
            f"{who}Stays off while {feed.rest.when}",
            nominal=level,
            worst=level,
            limit=off,
            unit="V",
            sense="at most",
            corner=f"{feed.name} {feed.rest.words}{corner}",
            sentence=f"{control.capitalize()} sees {show(level, 'V')}; it may begin at {show(off, 'V')}.",
            working=Working(
                formula=formula,
                substituted=substituted,
                reason=f"The {feed.name} {feed.rest.words}, whether a program runs or not.",
            ),
            remedy=fix,
        )
    ]


def off_verdict(feed: Feed, tag: str, who: str, *, level: float, off: float, control: str) -> list[Verdict]:
    """Whether what the signal leaves when it is told to be off is too little to turn the switch on."""
    if feed.off <= 0.1:
        return []
    return [
        judge(
            f"{tag}off_level",
            "drive",
            f"{who}Turned fully off",
            nominal=level,
            worst=level,
            limit=off,
            unit="V",
            sense="at most",
            corner=f"supply high, {feed.name} at the end that should turn it off",
            sentence=f"{show(level, 'V')} are left at the {control}; over {show(off, 'V')} it conducts.",
            working=Working(
                formula="V_{off} = V_{rail} − V_{signal}",
                substituted=(
                    f"= {show(feed.off, 'V')} from the {feed.name}, {show(level, 'V')} at the {control}"
                ),
                reason="A signal that does not reach the rail its switch sits on can never turn it off.",
            ),
            remedy=Remedy(
                text=(
                    "Put a level shifter between: a transistor that pulls the control, and a pull resistor "
                    "that lets it go."
                )
            ),
        )
    ]
