"""A bipolar transistor's base: how much current it needs and gets, and what keeps it off.

I_B = I_C/β with a forced gain β well under hFE, so that the weakest specimen is still saturated. Formulas:
Ohm's law and
the card's saturation voltages. Several junctions in a row (a pair) add their VBE and multiply their gains.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..cards.card import BipolarCard
from ..quantity import show
from .feed import Feed, feed_currents, off_verdict, rest_verdict
from .findings import Bound, Remedy, Verdict, Working, judge

V_BE_OFF = 0.4  # a hot base below this passes no current that matters [V]
HOT_LEAKAGE = 30  # leakage doubles every ten kelvins: thirty times at 75 °C


@dataclass(frozen=True)
class BaseDrive:
    """One base: `feed` through `series`, `pull` to the emitter's rail, `collector` the current to carry at
    its worst [A].

    `tag` begins its verdicts' ids and `who` their titles, where a design has several. `lift` is what
    stands between the
    emitter and its rail [V].
    """

    feed: Feed
    card: BipolarCard
    series: float
    pull: float | None
    collector: float
    gain: float
    tolerance: float
    series_ref: str
    pull_ref: str = "R_{pull}"
    junctions: int = 1
    lift: float = 0.0
    tag: str = ""
    who: str = ""

    @property
    def needs(self) -> float:
        """Base current for the load at its worst [A]."""
        return self.collector / self.gain

    @property
    def v_be(self) -> float:
        """Most volts the base takes [V]."""
        return self.card.v_be_sat * self.junctions + self.lift

    @property
    def v_be_min(self) -> float:
        return self.card.v_be_min * self.junctions

    @property
    def off(self) -> float:
        """The base's volts under which it is surely off [V]."""
        return V_BE_OFF * self.junctions

    def gets(self, v: float, sign: int = 0) -> float:
        """Base current from a drive voltage, the resistors off by `sign` tolerances [A]."""
        through = max(v - self.v_be, 0.0) / (self.series * (1 + sign * self.tolerance) + self.feed.resistance)
        return max(through - ((self.v_be - self.lift) / self.pull if self.pull else 0.0), 0.0)

    def taken(self) -> tuple[float, float]:
        """Current taken from the feed, nominal and worst [A]."""
        on, r = self.feed.on, self.feed.resistance
        return (
            max(on.typical - self.v_be, 0.0) / (self.series + r),
            max(on.high - self.v_be_min, 0.0) / (self.series * (1 - self.tolerance) + r),
        )

    def least_series(self) -> float:
        """The lowest series resistor its limits allow [Ω]."""
        return max(b.value for b in self.series_bounds() if b.side == "low")

    def series_bounds(self) -> list[Bound]:
        """Constraints on the series resistor."""
        feed, tol, v, r_b, r_p = self.feed, self.tolerance, self.v_be, self.series_ref, self.pull_ref
        drain = (v - self.lift) / (self.pull * (1 - tol)) if self.pull else 0.0
        total = self.needs + drain
        most = max((feed.on.low - v) / total, 1e-3) / (1 + tol) - feed.resistance
        swing = max(feed.on.high - self.v_be_min, 1e-6)
        limits = (
            [(feed.name, feed.steady, "pin_steady"), (f"{feed.name} burst", feed.burst, "pin_burst")]
            if feed.limited
            else []
        )
        return [
            Bound(
                side="high",
                value=max(most, 1e-3),
                title=f"base gets its {show(self.needs, 'A', 2)}",
                detail=f"({feed.on.low:.3g} − {v:.3g}) / {show(total, 'A')}",
                verdict=f"{self.tag}fully_on",
                working=Working(
                    formula=f"{r_b} ≤ (V_{{{feed.name},min}} − V_{{BE}}) / (I_{{B}} + V_{{BE}}/{r_p})",
                    substituted=f"= ({feed.on.low:.3g} − {v:.3g}) / {show(total, 'A')}",
                    reason="Below this the weakest specimen is saturated.",
                ),
            ),
            *(
                Bound(
                    side="low",
                    value=max(swing / limit / (1 - tol) - feed.resistance, 1e-3),
                    title=f"{what} under {show(limit, 'A')}",
                    detail=f"({feed.on.high:.3g} − {self.v_be_min:.3g}) / {show(limit, 'A')}",
                    verdict=self.tag + verdict,
                    working=Working(
                        formula=f"{r_b} ≥ (V_{{{feed.name},max}} − V_{{BE,min}}) / I",
                        substituted=f"= ({feed.on.high:.3g} − {self.v_be_min:.3g}) / {show(limit, 'A')}",
                        reason=f"The {feed.name} at its highest and the base at its lowest draw the most.",
                    ),
                )
                for what, limit, verdict in (*limits, ("base", self.card.base_current, "base_max"))
            ),
        ]

    def pull_bounds(self) -> list[Bound]:
        """Constraints on the pull resistor that keeps it off."""
        card, feed, tol, r_b, r_p, off = (
            self.card,
            self.feed,
            self.tolerance,
            self.series_ref,
            self.pull_ref,
            self.off,
        )
        leak = card.leakage * HOT_LEAKAGE
        found = [
            Bound(
                side="high",
                value=off / leak / (1 + tol),
                title=f"hot leakage stays under {show(off, 'V')}",
                detail=f"{off:g} V / {show(leak, 'A')}",
                verdict=f"{self.tag}unplugged",
                working=Working(
                    formula=f"{r_p} ≤ {off:g} V / I_{{leak,hot}}",
                    substituted=f"= {off:g} / {show(leak, 'A')}",
                    reason="Leakage doubles every ten kelvins: thirty times at 75 °C.",
                ),
            )
        ]
        if feed.rest is not None and feed.rest.level > off:
            limit = off * (feed.rest.resistance + self.series) / (feed.rest.level - off) / (1 + tol)
            found.append(
                Bound(
                    side="high",
                    value=limit,
                    title=f"stays off while {feed.rest.when}",
                    detail=f"{feed.name} {feed.rest.words}",
                    verdict=f"{self.tag}boot",
                    working=Working(
                        formula=f"V_{{rest}} · {r_p} / (R_{{rest}} + {r_b} + {r_p}) ≤ {off:g} V",
                        substituted=f"{r_p} ≤ {show(limit, 'Ω')}",
                        reason=f"The {feed.name} {feed.rest.words}.",
                    ),
                )
            )
        spare = (feed.on.low - self.v_be) / ((self.series + feed.resistance) * (1 + tol)) - self.needs
        if spare > 0:  # else no pull helps, and the verdict on the base says so
            v = self.v_be - self.lift
            found.append(
                Bound(
                    side="low",
                    value=v / spare / (1 - tol),
                    title="base still gets its current",
                    detail=f"{v:.3g} V / {show(spare, 'A')} to spare",
                    verdict=f"{self.tag}fully_on",
                    working=Working(
                        formula=f"{r_p} ≥ V_{{BE,sat}} / (I_{{{r_b}}} − I_{{B}})",
                        substituted=f"= {v:.3g} / {show(spare, 'A')}",
                        reason="What the pull-down takes does not reach the base.",
                    ),
                )
            )
        return found

    def verdicts(self) -> list[Verdict]:
        """Currents at the feed, turned fully on, base limit, off at rest and unplugged."""
        card, feed, tol, r_b, tag, who = (
            self.card,
            self.feed,
            self.tolerance,
            self.series_ref,
            self.tag,
            self.who,
        )
        taken, gets, gets_worst = self.taken(), self.gets(feed.on.low), self.gets(feed.on.low, 1)
        fix = Remedy(text=f"Change {r_b}: its window shows what is allowed.")
        found = feed_currents(
            feed,
            tag,
            who,
            steady=taken,
            burst=taken,
            formula=f"I = (V_{{{feed.name},max}} − V_{{BE,min}}) / {r_b}",
            substituted=(
                f"= ({feed.on.high:.3g} − {self.v_be_min:.3g}) / "
                f"{show(self.series * (1 - tol) + feed.resistance, 'Ω')} = {show(taken[1], 'A')}"
            ),
            reason=(
                "A base is a diode: all it is given above 0.7 V drives current through the resistor, for "
                "as long as it is on."
            ),
            fix=fix,
        )
        found += [
            judge(
                f"{tag}fully_on",
                "drive",
                f"{who}Turned fully on",
                nominal=gets,
                worst=gets_worst,
                limit=self.needs,
                unit="A",
                sense="at least",
                corner=f"{feed.name} at its lowest, load cold, supply high, least gain",
                sentence=f"Base needs {show(self.needs, 'A')}, gets {show(gets_worst, 'A')}.",
                working=Working(
                    formula="I_{B} = I_{C} / β",
                    substituted=f"= {show(self.collector, 'A')} / {self.gain:g} = {show(self.needs, 'A')}",
                    reason=f"β is forced to {self.gain:g}, well under the least gain"
                    + (
                        f" of {card.gain_min:g}"
                        if self.junctions == 1
                        else f" of {card.gain_min:g} times {card.gain_min:g}"
                    )
                    + ", so that every specimen saturates.",
                ),
                remedy=fix,
            ),
            judge(
                f"{tag}base_max",
                "drive",
                f"{who}Base current",
                nominal=taken[0],
                worst=taken[1],
                limit=card.base_current,
                unit="A",
                sense="at most",
                corner=f"{feed.name} at its highest",
                sentence=f"{show(taken[1], 'A')} of {show(card.base_current, 'A')}.",
                working=Working(
                    formula=f"I_{{B}} ≤ (V_{{{feed.name},max}} − V_{{BE,min}}) / {r_b}",
                    substituted=f"= {show(taken[1], 'A')}",
                    reason="The junction's own limit.",
                ),
                remedy=fix,
            ),
        ]
        pulled = self.pull if self.pull is not None else 1e9
        rest = feed.rest
        level = (
            rest.level * pulled / (rest.resistance + self.series + pulled) if rest and rest.level > 0 else 0.0
        )
        leak = card.leakage * HOT_LEAKAGE * pulled
        fix_pull = Remedy(
            text=f"Fit or lower the pull resistor: {self.pull_ref if self.pull else 'none is fitted'}."
        )
        found += off_verdict(
            feed,
            tag,
            who,
            level=feed.off * pulled / (self.series + feed.resistance + pulled),
            off=self.off,
            control="base",
        )
        found += rest_verdict(
            feed,
            tag,
            who,
            level=level,
            off=self.off,
            control="base",
            formula="V_{B} = V_{rest} · R_{pull} / (R_{rest} + R_{B} + R_{pull})",
            substituted=f"= {show(level, 'V')}",
            fix=fix_pull,
        )
        found.append(
            judge(
                f"{tag}unplugged",
                "drive",
                f"{who}Stays off unplugged",
                nominal=leak / HOT_LEAKAGE,
                worst=leak,
                limit=self.off,
                unit="V",
                sense="at most",
                corner="75 °C",
                sentence=f"Leakage lifts the base to {show(leak, 'V')}."
                if self.pull
                else "Nothing holds the base: a touch may turn it on.",
                working=Working(
                    formula="V_{B} = I_{leak,hot} · R_{pull}",
                    substituted=(
                        f"= {show(card.leakage * HOT_LEAKAGE, 'A')} · {show(pulled, 'Ω')} = {show(leak, 'V')}"
                    ),
                    reason="Leakage doubles every ten kelvins: thirty times at 75 °C.",
                ),
                remedy=fix_pull,
            )
        )
        return found


def forced_gain(card: BipolarCard, asked: float | None) -> float:
    """Forced gain: what was asked, else min(15, hFE(min)/2)."""
    return asked or min(15.0, card.gain_min / 2)
