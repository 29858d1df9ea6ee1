"""A MOSFET's gate: the voltage it gets, how fast, and what keeps it off.

"Fully on" means that an on-resistance is promised at the gate voltage really present, not that the
threshold is passed.
Formulas: divider and RC of the gate, charge balance of the Miller plateau.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..cards.card import FieldEffectCard
from ..circuit.devices.heat import ON_RESISTANCE_DRIFT, ROOM, THRESHOLD_DRIFT
from ..quantity import show
from .feed import Feed, feed_currents, off_verdict, rest_verdict
from .findings import Bound, Remedy, Verdict, Working, judge

PLUG_IN_RISE = 1e-4  # how fast a supply rises when it is plugged in [s], assumed
HOT_JUNCTION = 100.0  # temperature at which RDS(on) is counted for drop and heat [°C]
HOT_GATE_LEAKAGE = 10  # times the rated one, when hot


def hot_resistance(cold: float) -> float:
    """An on-resistance at the hot junction [Ω]."""
    return cold * (1 + ON_RESISTANCE_DRIFT * (HOT_JUNCTION - ROOM))


@dataclass(frozen=True)
class GateDrive:
    """One gate: `feed` through `series`, `pull` to the source's rail. `high` is the highest supply [V], `hot`
    the surroundings [°C].

    `back`, where given, is how soon the pull resistor alone must turn it off [s].
    """

    feed: Feed
    card: FieldEffectCard
    series: float
    pull: float | None
    high: float
    hot: float
    on_within: float
    tolerance: float
    series_ref: str
    pull_ref: str = "R_{pull}"
    back: float | None = None
    clamp: float = math.inf  # what a guard holds the gate under [V]
    rail: str = "0 V"
    tag: str = ""
    who: str = ""

    def gate(self, v: float, series: float, pull: float | None) -> float:
        """Gate voltage behind series resistor and pull resistor [V]."""
        return v if pull is None else v * pull / (series + pull)

    @property
    def worst(self) -> float:
        """The least gate voltage while it is on [V]."""
        tol = self.tolerance
        return self.gate(
            self.feed.on.low,
            self.series * (1 + tol) + self.feed.resistance,
            self.pull and self.pull * (1 - tol),
        )

    @property
    def least(self) -> float:
        """The same with nominal resistors [V]."""
        return self.gate(self.feed.on.low, self.series + self.feed.resistance, self.pull)

    @property
    def most(self) -> float:
        """The highest gate voltage while it is on [V]."""
        tol = self.tolerance
        return min(
            self.clamp,
            self.gate(
                self.feed.on.high,
                self.series * (1 - tol) + self.feed.resistance,
                self.pull and self.pull * (1 + tol),
            ),
        )

    def resistance(self, v_gate: float) -> float:
        """On-resistance at 25 °C for a gate voltage [Ω]: the promise that holds, else five times the lowest
        one.
        """
        promised = self.card.promised_on(v_gate)
        return promised.resistance if promised else 5 * self.card.lowest_on.resistance

    @property
    def off(self) -> float:
        """The least threshold, hot [V]."""
        return self.card.threshold_min + THRESHOLD_DRIFT * (self.hot - ROOM)

    def on_time(self, series: float, v: float) -> float:
        """Time to charge the gate past the Miller plateau [s]: R·Ciss·ln(V/(V − Vpl)) + Qgd·R/(V − Vpl)."""
        plateau = self.card.threshold_max
        if v <= plateau:
            return math.inf
        return series * self.card.c_iss * math.log(v / (v - plateau)) + self.card.q_gd * series / (
            v - plateau
        )

    def off_time(self, pull: float, v: float) -> float:
        """Time for the pull resistor to empty the gate past the plateau [s]: R·Ciss·ln(V/Vpl) + Qgd·R/Vpl."""
        plateau = self.card.threshold_min
        return pull * self.card.c_iss * math.log(max(v / plateau, 1.0)) + self.card.q_gd * pull / plateau

    def edge(self) -> float:
        """The longest time it spends half on [s]."""
        on = self.on_time(self.series * (1 + self.tolerance) + self.feed.resistance, self.feed.on.low)
        off = (
            self.off_time(self.pull * (1 + self.tolerance), self.most)
            if self.back is not None and self.pull
            else 0.0
        )
        return max(on if math.isfinite(on) else 0.0, off)

    def series_bounds(self) -> list[Bound]:
        """Constraints on the series resistor."""
        card, feed, tol, r1, r2 = self.card, self.feed, self.tolerance, self.series_ref, self.pull_ref
        need, v_low, v_high = card.lowest_on.v_gs, feed.on.low, feed.on.high
        per_ohm = self.on_time(1.0, v_low)
        found = [
            Bound(
                side="high",
                value=max(self.on_within / per_ohm / (1 + tol) - feed.resistance, 1e-3),
                title=f"fully on within {show(self.on_within, 's')}",
                detail=f"{show(self.on_within, 's')} / {show(per_ohm, 's')} per ohm",
                verdict=f"{self.tag}switching",
                working=Working(
                    formula=f"{r1}·(C_{{iss}}·ln(V/(V − V_{{pl}})) + Q_{{gd}}/(V − V_{{pl}})) ≤ t",
                    substituted=f"V = {v_low:.3g} V, V_{{pl}} = {card.threshold_max:.3g} V",
                    reason="A slow gate leaves the MOSFET half on, where it heats.",
                ),
            )
        ]
        if feed.limited:
            found.insert(
                0,
                Bound(
                    side="low",
                    value=max(v_high / feed.burst / (1 - tol), 1e-3),
                    title=f"{feed.name} burst under {show(feed.burst, 'A')}",
                    detail=f"{show(v_high, 'V')} / {show(feed.burst, 'A')}",
                    verdict=f"{self.tag}pin_burst",
                    working=Working(
                        formula=f"{r1} ≥ V_{{{feed.name},max}} / I_{{burst}}",
                        substituted=f"= {v_high:.3g} / {show(feed.burst, 'A')}",
                        reason="An empty gate is a short at first.",
                    ),
                ),
            )
        if self.pull is not None and v_low > need:
            limit = self.pull * (1 - tol) * (v_low - need) / need / (1 + tol) - feed.resistance
            found.append(
                Bound(
                    side="high",
                    value=max(limit, 1e-3),
                    title=f"gate still gets {show(need, 'V')}",
                    detail="the pull-down divides",
                    verdict=f"{self.tag}fully_on",
                    working=Working(
                        formula=f"V_{{{feed.name},min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V",
                        substituted=f"{r1} ≤ {show(limit, 'Ω')}",
                        reason="Series resistor and pull resistor divide what drives the gate.",
                    ),
                )
            )
        if self.pull is not None and min(v_high, self.clamp) > card.v_gs_max:
            limit = (
                self.pull * (1 + tol) * (v_high - card.v_gs_max) / card.v_gs_max / (1 - tol) - feed.resistance
            )
            found.append(
                Bound(
                    side="low",
                    value=max(limit, 1e-3),
                    title=f"gate stays under {show(card.v_gs_max, 'V')}",
                    detail=f"{show(v_high, 'V')} divided",
                    verdict=f"{self.tag}gate_max",
                    working=Working(
                        formula=f"V_{{max}}·{r2}/({r1} + {r2}) ≤ V_{{GS,max}}",
                        substituted=f"{r1} ≥ {show(limit, 'Ω')}",
                        reason="The full supply must not break the gate's oxide down.",
                    ),
                )
            )
        return found

    def pull_bounds(self) -> list[Bound]:
        """Constraints on the pull resistor."""
        card, feed, tol, r1, r2 = self.card, self.feed, self.tolerance, self.series_ref, self.pull_ref
        need, v_low, v_high, off = card.lowest_on.v_gs, feed.on.low, feed.on.high, self.off
        found: list[Bound] = []
        if v_low > need:
            least = need * (self.series * (1 + tol) + feed.resistance) / (v_low - need) / (1 - tol)
            found.append(
                Bound(
                    side="low",
                    value=least,
                    title=f"gate still gets {show(need, 'V')}",
                    detail=f"{v_low:.3g} V divided",
                    verdict=f"{self.tag}fully_on",
                    working=Working(
                        formula=f"V_{{{feed.name},min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V",
                        substituted=f"{r2} ≥ {show(least, 'Ω')}",
                        reason="Series resistor and pull resistor divide what drives the gate.",
                    ),
                )
            )
        if feed.limited:
            draw = max(v_high / feed.steady / (1 - tol) - self.series, 1e-3)
            found.append(
                Bound(
                    side="low",
                    value=draw,
                    title=f"{feed.name} under {show(feed.steady, 'A')}",
                    detail=f"{show(v_high, 'V')} / {show(feed.steady, 'A')} − {r1}",
                    verdict=f"{self.tag}pin_steady",
                    working=Working(
                        formula=f"{r1} + {r2} ≥ V_{{{feed.name},max}} / I_{{steady}}",
                        substituted=f"= {v_high:.3g} / {show(feed.steady, 'A')}",
                        reason=f"The pull resistor draws on the {feed.name} for as long as it is on.",
                    ),
                )
            )
        if self.back is not None:
            limit = self.back / self.off_time(1.0, self.most) / (1 + tol)
            found.append(
                Bound(
                    side="high",
                    value=limit,
                    title=f"off again within {show(self.back, 's')}",
                    detail=f"{show(self.back, 's')} / {show(self.off_time(1.0, self.most), 's')} per ohm",
                    verdict=f"{self.tag}turns_off",
                    working=Working(
                        formula=f"{r2}·(C_{{iss}}·ln(V/V_{{pl}}) + Q_{{gd}}/V_{{pl}}) ≤ t",
                        substituted=f"V = {self.most:.3g} V, V_{{pl}} = {card.threshold_min:.3g} V",
                        reason="Only the pull resistor empties the gate.",
                    ),
                )
            )
        rest = feed.rest
        if rest is not None and rest.level > off:
            limit = off * (rest.resistance + self.series) / (rest.level - off) / (1 + tol)
            found.append(
                Bound(
                    side="high",
                    value=limit,
                    title=f"stays off while {rest.when}",
                    detail=f"{feed.name} {rest.words}",
                    verdict=f"{self.tag}boot",
                    working=Working(
                        formula=f"V_{{rest}}·{r2}/(R_{{rest}} + {r1} + {r2}) ≤ V_{{th,min,hot}}",
                        substituted=(
                            f"{rest.level:.3g}·{r2}/({show(rest.resistance, 'Ω')} + {r1} + {r2}) ≤ "
                            f"{off:.3g} V"
                        ),
                        reason=f"The {feed.name} {rest.words}. Two resistors divide.",
                    ),
                )
            )
        leak_current, plug_current = (
            card.gate_leakage * HOT_GATE_LEAKAGE,
            card.c_rss * self.high / PLUG_IN_RISE,
        )
        for value, title, detail, verdict, why in (
            (
                off / leak_current / (1 + tol),
                "gate leakage stays under the threshold",
                f"{off:.3g} V / {show(leak_current, 'A')} hot",
                "unplugged",
                "Ten times the rated leakage when hot.",
            ),
            (
                off / plug_current / (1 + tol),
                "plugging in does not turn it on",
                f"{off:.3g} V / {show(plug_current, 'A')}",
                "plug_in",
                "While the supply rises, the gate-drain capacitance feeds the gate.",
            ),
        ):
            found.append(
                Bound(
                    side="high",
                    value=value,
                    title=title,
                    detail=detail,
                    verdict=self.tag + verdict,
                    working=Working(
                        formula=f"{r2} ≤ V_{{th,min,hot}} / I", substituted=f"= {detail}", reason=why
                    ),
                )
            )
        return found

    def verdicts(self) -> list[Verdict]:
        """Currents at the feed, gate voltage least and most, switching times, and all that must leave
        it off.
        """
        card, feed, tol, r1, r2, tag, who = (
            self.card,
            self.feed,
            self.tolerance,
            self.series_ref,
            self.pull_ref,
            self.tag,
            self.who,
        )
        need, v_low, v_high, off = card.lowest_on.v_gs, feed.on.low, feed.on.high, self.off
        total = math.inf if self.pull is None else self.series + self.pull
        fix_pull = Remedy(
            text=f"Change {r2}: its window shows what is allowed."
            if self.pull
            else f"Fit a pull resistor from gate to {self.rail}."
        )
        steady = (feed.on.typical / total, v_high / (total * (1 - tol)))
        found = feed_currents(
            feed,
            tag,
            who,
            steady=steady,
            burst=(feed.on.typical / self.series, v_high / (self.series * (1 - tol))),
            formula=f"I = V_{{{feed.name},max}} / ({r1} + {r2})",
            substituted=f"= {v_high:.3g} / {show(total * (1 - tol), 'Ω')} = {show(steady[1], 'A')}"
            if self.pull
            else "no pull resistor: nothing flows",
            reason="A gate takes no steady current; only the pull resistor does.",
            fix=fix_pull,
        )
        gets, gets_worst = self.least, self.worst
        pulled = self.pull if self.pull is not None else 1e12
        found += [
            judge(
                f"{tag}fully_on",
                "drive",
                f"{who}Gate voltage",
                nominal=gets,
                worst=gets_worst,
                limit=need,
                unit="V",
                sense="at least",
                digits=4,
                corner=f"{feed.name} at its lowest, resistors apart",
                sentence=f"Needs {show(need, 'V')}, gets at least {show(gets_worst, 'V')}.",
                working=Working(
                    formula=f"V_{{gate}} = V_{{{feed.name}}} · {r2} / ({r1} + {r2})",
                    substituted=(
                        f"= {v_low:.4g} · {show(pulled, 'Ω')} / "
                        f"{show(pulled + self.series + feed.resistance, 'Ω')} = {show(gets_worst, 'V')}"
                    )
                    if self.pull
                    else f"= {v_low:.4g} V, no pull resistor",
                    reason=(
                        f"{show(need, 'V')} is where the {show(card.lowest_on.resistance, 'Ω')} is "
                        "promised. Below it nobody promises anything: the threshold is only where it "
                        "begins."
                    ),
                ),
                remedy=Remedy(
                    text="Take a MOSFET promised at a lower gate voltage, or raise the pull resistor."
                ),
            ),
            judge(
                f"{tag}gate_max",
                "drive",
                f"{who}Gate voltage, highest",
                nominal=min(self.clamp, self.gate(v_high, self.series + feed.resistance, self.pull)),
                worst=self.most,
                limit=card.v_gs_max,
                unit="V",
                sense="at most",
                corner=f"{feed.name} at its highest",
                sentence=f"{show(self.most, 'V')} of {show(card.v_gs_max, 'V')} across the gate.",
                working=Working(
                    formula="V_{GS} ≤ V_{GS,max}",
                    substituted=f"{self.most:.3g} ≤ {card.v_gs_max:.3g}",
                    reason="A gate's oxide breaks down once and for all.",
                ),
                remedy=Remedy(
                    text="Divide it with a series resistor, or clamp the gate with a zener behind one."
                ),
            ),
            *self._times(),
        ]
        rest = feed.rest
        level = (
            rest.level * pulled / (rest.resistance + self.series + pulled) if rest and rest.level > 0 else 0.0
        )
        leak, leak_worst = card.gate_leakage * pulled, card.gate_leakage * HOT_GATE_LEAKAGE * pulled
        plug = card.c_rss * self.high / PLUG_IN_RISE * pulled
        found += off_verdict(
            feed,
            tag,
            who,
            level=self.gate(feed.off, self.series + feed.resistance, self.pull),
            off=off,
            control="gate",
        )
        found += rest_verdict(
            feed,
            tag,
            who,
            level=level,
            off=off,
            control="gate",
            formula=f"V_{{gate}} = V_{{rest}} · {r2} / (R_{{rest}} + {r1} + {r2})",
            substituted=(
                f"= {rest.level:.3g} · {show(pulled, 'Ω')} / "
                f"{show(rest.resistance + self.series + pulled, 'Ω')} = {show(level, 'V')}"
            )
            if rest and rest.level > 0
            else "= 0",
            fix=fix_pull,
            corner=f", least threshold, {show(self.hot, '°C')}",
        )
        found += [
            judge(
                f"{tag}unplugged",
                "drive",
                f"{who}Stays off unplugged",
                nominal=leak,
                worst=leak_worst,
                limit=off,
                unit="V",
                sense="at most",
                corner="gate leakage hot",
                sentence=f"Leakage lifts the gate to {show(leak_worst, 'V')}."
                if self.pull
                else "Nothing holds the gate: a touch may turn it on.",
                working=Working(
                    formula=f"V_{{gate}} = I_{{leak,hot}} · {r2}",
                    substituted=(
                        f"= {show(card.gate_leakage * HOT_GATE_LEAKAGE, 'A')} · {show(pulled, 'Ω')} = "
                        f"{show(leak_worst, 'V')}"
                    ),
                    reason="A gate that nobody drives keeps any charge it meets.",
                ),
                remedy=fix_pull,
            ),
            judge(
                f"{tag}plug_in",
                "drive",
                f"{who}Stays off when plugged in",
                nominal=plug,
                worst=plug,
                limit=off,
                unit="V",
                sense="at most",
                corner=f"supply rises in {show(PLUG_IN_RISE, 's')}, assumed",
                sentence=f"The rising drain lifts the gate to {show(min(plug, self.high), 'V')}.",
                working=Working(
                    formula=f"V_{{gate}} = C_{{rss}} · dV/dt · {r2}",
                    substituted=(
                        f"= {show(card.c_rss, 'F')} · {self.high:.3g} V / {show(PLUG_IN_RISE, 's')} · "
                        f"{show(pulled, 'Ω')}"
                    ),
                    reason="The gate-drain capacitance passes the supply's edge on to the gate.",
                ),
                remedy=fix_pull,
            ),
        ]
        return found

    def _times(self) -> list[Verdict]:
        card, feed, tol, v_low = self.card, self.feed, self.tolerance, self.feed.on.low
        series = self.series * (1 + tol) + feed.resistance
        t, t_worst = self.on_time(self.series + feed.resistance, feed.on.typical), self.on_time(series, v_low)
        found: list[Verdict] = []
        # Below the plateau it never gets there, and the verdict on the gate voltage says so.
        if math.isfinite(t_worst):
            found.append(
                judge(
                    f"{self.tag}switching",
                    "drive",
                    f"{self.who}Fully on in",
                    nominal=t,
                    worst=t_worst,
                    limit=self.on_within,
                    unit="s",
                    sense="at most",
                    corner=f"{feed.name} at its lowest, resistor at its highest",
                    sentence=f"{show(t_worst, 's')} of {show(self.on_within, 's')}.",
                    working=Working(
                        formula="t = R·C_{iss}·ln(V/(V − V_{pl})) + Q_{gd}·R/(V − V_{pl})",
                        substituted=(
                            f"R = {show(series, 'Ω')}, V = {v_low:.3g} V, V_{{pl}} = "
                            f"{card.threshold_max:.3g} V: {show(t_worst, 's')}"
                        ),
                        reason="While the gate climbs, the MOSFET carries current with volts across it.",
                    ),
                    remedy=Remedy(text=f"Change {self.series_ref}: its window shows what is allowed."),
                )
            )
        if self.back is not None and self.pull is not None:
            off, off_worst = (
                self.off_time(self.pull, self.gate(feed.on.typical, self.series, self.pull)),
                self.off_time(self.pull * (1 + tol), self.most),
            )
            found.append(
                judge(
                    f"{self.tag}turns_off",
                    "drive",
                    f"{self.who}Off again in",
                    nominal=off,
                    worst=off_worst,
                    limit=self.back,
                    unit="s",
                    sense="at most",
                    corner="supply high, least threshold",
                    sentence=f"{show(off_worst, 's')} of {show(self.back, 's')}.",
                    working=Working(
                        formula="t = R_{pull}·C_{iss}·ln(V/V_{pl}) + Q_{gd}·R_{pull}/V_{pl}",
                        substituted=(
                            f"R = {show(self.pull * (1 + tol), 'Ω')}, V_{{pl}} = {card.threshold_min:.3g} "
                            f"V: {show(off_worst, 's')}"
                        ),
                        reason="Nothing but the pull resistor empties the gate.",
                    ),
                    remedy=Remedy(text=f"Lower {self.pull_ref}: its window shows what is allowed."),
                )
            )
        return found
