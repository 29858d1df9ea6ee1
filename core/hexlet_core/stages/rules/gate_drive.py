"""A MOSFET's gate: the voltage it gets, how fast, and what keeps it off.

"Fully on" means that an on-resistance is promised at the gate voltage really present, not that the threshold
is passed. Formulas: divider and RC of the gate, charge balance of the Miller plateau.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ...cards.card import FieldEffectCard
from ...circuit.devices.heat import ON_RESISTANCE_DRIFT, ROOM, THRESHOLD_DRIFT
from ...quantity import show
from ..contract.facts import Attached
from ..say.checks import Check, Remedy, check, high, strongest, weakest, when
from ..say.windows import Bound, bound
from .feed import Feed, Names, feed_currents, off_check, rest_check

PLUG_IN_RISE = 1e-4  # how fast a supply rises when it is plugged in [s], assumed
HOT_JUNCTION = 100.0  # temperature at which RDS(on) is counted for drop and heat [°C]
HOT_GATE_LEAKAGE = 10  # times the rated one, when hot
EMPTY = "An empty gate is a short at first."
DIVIDE = "Series resistor and pull resistor divide what drives the gate."
BENDS = "a clamp bends before it holds"
SAGS = "the rail without a load is counted"
NOTHING = Attached()  # hangs on the gate


def hot_resistance(cold: float) -> float:
    """An on-resistance at the hot junction [Ω]."""
    return cold * (1 + ON_RESISTANCE_DRIFT * (HOT_JUNCTION - ROOM))


def on_resistance(card: FieldEffectCard, v_gate: float) -> float:
    """On-resistance at 25 °C for a gate voltage [Ω]: the promise that holds, else five times the
    lowest one.
    """
    promised = card.promised_on(v_gate)
    return promised.resistance if promised else 5 * card.lowest_on.resistance


@dataclass(frozen=True)
class GateDrive:
    """One gate: `feed` through `series`, `pull` to the source's rail.

    `high` is the highest supply [V], `hot` the surroundings [°C]; `back`, where given, is how soon the
    pull resistor
    alone must turn it off [s]; `clamp` is what guards hold the gate under.
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
    pull_ref: str
    names: Names
    back: float | None = None
    clamp: Attached = NOTHING
    rail: str = "0 V"
    wishes: tuple[str, str] = ("", "")  # the block's fields that ask for `on_within` and `back`
    tag: str = ""
    who: str = ""

    def gate(self, v: float, series: float, pull: float | None) -> float:
        """Gate voltage behind series resistor and pull resistor [V]."""
        return v if pull is None else v * pull / (series + pull)

    def _behind(self, v: float, sign: int) -> float:
        """Gate voltage with the resistors off by a tolerance, series and pull in opposite senses [V]."""
        tol = sign * self.tolerance
        series = self.series * (1 + tol) + self.feed.resistance
        return self.gate(v, series, self.pull and self.pull * (1 - tol))

    @property
    def worst(self) -> float:
        """The least gate voltage while it is on [V]."""
        return self._behind(self.feed.on.low, 1)

    @property
    def least(self) -> float:
        """The same with nominal resistors [V]."""
        return self._behind(self.feed.weak, 0)

    def _clamped(self, v: float, clamp: float) -> float:
        """What the feed gives while a clamp holds the gate [A]."""
        return max(v - clamp, 0.0) / (self.series + self.feed.resistance) if math.isfinite(clamp) else 0.0

    @property
    def usual(self) -> float:
        """The gate voltage on the high supply with ordinary parts [V]."""
        volts = self.feed.on.high if self.feed.follows else self.feed.on.typical
        return min(self.clamp.usual, self._behind(volts, 0))

    @property
    def most(self) -> float:
        """The highest gate voltage while it is on [V]."""
        return min(self.clamp.clamp, self._behind(self.feed.on.high, -1))

    def resistance(self, v_gate: float) -> float:
        """On-resistance at 25 °C for a gate voltage [Ω]."""
        return on_resistance(self.card, v_gate)

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
        emptied = self.back is not None and self.pull
        off = self.off_time(self.pull * (1 + self.tolerance), self.most) if emptied and self.pull else 0.0
        return max(on if math.isfinite(on) else 0.0, off)

    def series_bounds(self) -> list[Bound]:
        """Constraints on the series resistor."""
        card, feed, tol, r1, r2 = self.card, self.feed, self.tolerance, self.series_ref, self.pull_ref
        need, v_low, v_high = card.lowest_on.v_gs, feed.on.low, feed.on.high
        per_ohm = self.on_time(1.0, v_low)
        found = []
        if feed.limited:
            found.append(
                bound(
                    "low",
                    max(v_high / feed.burst / (1 - tol), 1e-3),
                    f"{feed.name} burst under {show(feed.burst, 'A')}",
                    detail=f"{show(v_high, 'V')} / {show(feed.burst, 'A')}",
                    guards=f"{self.tag}pin_burst",
                    formula=f"{r1} ≥ V_{{{feed.name},max}} / I_{{burst}}",
                    because=EMPTY,
                )
            )
            if v_high > self.clamp.least:
                over = v_high - self.clamp.least
                found.append(
                    bound(
                        "low",
                        max(over / feed.steady / (1 - tol) - feed.resistance, 1e-3),
                        f"{feed.name} under {show(feed.steady, 'A')}",
                        detail=f"({v_high:.3g} − {self.clamp.least:.3g}) / {show(feed.steady, 'A')}",
                        guards=f"{self.tag}pin_steady",
                        formula=f"{r1} ≥ (V_{{{feed.name},max}} − V_{{Z}}) / I_{{steady}}",
                        because="The clamp at the gate takes all that the series resistor lets through.",
                    )
                )
        if self.wishes[0]:
            found.append(
                bound(
                    "high",
                    max(self.on_within / per_ohm / (1 + tol) - feed.resistance, 1e-3),
                    f"fully on within {show(self.on_within, 's')}",
                    detail=f"{show(self.on_within, 's')} / {show(per_ohm, 's')} per ohm",
                    guards=f"{self.tag}switching",
                    formula=f"{r1}·(C_{{iss}}·ln(V/(V − V_{{pl}})) + Q_{{gd}}/(V − V_{{pl}})) ≤ t",
                    numbers=f"V = {v_low:.3g} V, V_{{pl}} = {card.threshold_max:.3g} V",
                    because="A slow gate leaves the MOSFET half on, where it heats.",
                )
            )
        if self.pull is not None and v_low > need:
            limit = self.pull * (1 - tol) * (v_low - need) / need / (1 + tol) - feed.resistance
            found.append(
                bound(
                    "high",
                    max(limit, 1e-3),
                    f"gate still gets {show(need, 'V')}",
                    detail="the pull-down divides",
                    guards=f"{self.tag}fully_on",
                    formula=f"V_{{{feed.name},min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V",
                    numbers=f"{r1} ≤ {show(limit, 'Ω')}",
                    because=DIVIDE,
                )
            )
        if self.pull is not None and min(v_high, self.clamp.clamp) > card.v_gs_max:
            limit = (
                self.pull * (1 + tol) * (v_high - card.v_gs_max) / card.v_gs_max / (1 - tol) - feed.resistance
            )
            found.append(
                bound(
                    "low",
                    max(limit, 1e-3),
                    f"gate stays under {show(card.v_gs_max, 'V')}",
                    detail=f"{show(v_high, 'V')} divided",
                    guards=f"{self.tag}gate_max",
                    formula=f"V_{{max}}·{r2}/({r1} + {r2}) ≤ V_{{GS,max}}",
                    numbers=f"{r1} ≥ {show(limit, 'Ω')}",
                    because="The full supply must not break the gate's oxide down.",
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
                bound(
                    "low",
                    least,
                    f"gate still gets {show(need, 'V')}",
                    detail=f"{v_low:.3g} V divided",
                    guards=f"{self.tag}fully_on",
                    formula=f"V_{{{feed.name},min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V",
                    numbers=f"{r2} ≥ {show(least, 'Ω')}",
                    because=DIVIDE,
                )
            )
        if feed.limited:
            found.append(
                bound(
                    "low",
                    max(v_high / feed.steady / (1 - tol) - self.series - feed.resistance, 1e-3),
                    f"{feed.name} under {show(feed.steady, 'A')}",
                    detail=f"{show(v_high, 'V')} / {show(feed.steady, 'A')} − {r1}",
                    guards=f"{self.tag}pin_steady",
                    formula=f"{r1} + {r2} ≥ V_{{{feed.name},max}} / I_{{steady}}",
                    numbers=f"= {v_high:.3g} / {show(feed.steady, 'A')}",
                    because=f"The pull resistor draws on the {feed.name} for as long as it is on.",
                )
            )
        if self.back is not None:
            per_ohm = self.off_time(1.0, self.most)
            found.append(
                bound(
                    "high",
                    self.back / per_ohm / (1 + tol),
                    f"off again within {show(self.back, 's')}",
                    detail=f"{show(self.back, 's')} / {show(per_ohm, 's')} per ohm",
                    guards=f"{self.tag}turns_off",
                    formula=f"{r2}·(C_{{iss}}·ln(V/V_{{pl}}) + Q_{{gd}}/V_{{pl}}) ≤ t",
                    numbers=f"V = {self.most:.3g} V, V_{{pl}} = {card.threshold_min:.3g} V",
                    because="Only the pull resistor empties the gate.",
                )
            )
        rest = feed.rest
        if rest is not None and rest.volts > off:
            found.append(
                bound(
                    "high",
                    off * (rest.ohms + self.series) / (rest.volts - off) / (1 + tol),
                    f"stays off while {rest.when}",
                    detail=f"{feed.name} {rest.words}",
                    guards=f"{self.tag}boot",
                    formula=f"V_{{rest}}·{r2}/(R_{{rest}} + {r1} + {r2}) ≤ V_{{th,min,hot}}",
                    numbers=f"{rest.volts:.3g}·{r2}/({show(rest.ohms, 'Ω')} + {r1} + {r2}) ≤ {off:.3g} V",
                    because=f"The {feed.name} {rest.words}. Two resistors divide.",
                )
            )
        leak, plug = card.gate_leakage * HOT_GATE_LEAKAGE, card.c_rss * self.high / PLUG_IN_RISE
        found.append(
            bound(
                "high",
                off / leak / (1 + tol),
                "gate leakage stays under the threshold",
                detail=f"{off:.3g} V / {show(leak, 'A')} hot",
                guards=f"{self.tag}unplugged",
                formula=f"{r2} ≤ V_{{th,min,hot}} / I",
                because="Ten times the rated leakage when hot.",
            )
        )
        if plug > off * self.tied:
            least = plug / off - self.tied
            found.append(
                bound(
                    "high",
                    1 / least / (1 + tol),
                    "plugging in does not turn it on",
                    detail=f"{off:.3g} V / {show(plug, 'A')}",
                    guards=f"{self.tag}plug_in",
                    formula=f"{r2} ≤ V_{{th,min,hot}} / I",
                    because="While the supply rises, the gate-drain capacitance feeds the gate.",
                )
            )
        return found

    @property
    def tied(self) -> float:
        """The conductance of the path to 0 V through a command that rests there [S]."""
        rest = self.feed.rest
        low = rest is not None and rest.volts == 0.0 and not rest.floats
        return 1 / (self.series + rest.ohms) if rest is not None and low else 0.0

    def checks(self) -> Iterator[Check]:
        """Currents at the feed, gate voltage least and most, switching times, and all that must
        leave it off.
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
        need, v_low, v_high = card.lowest_on.v_gs, feed.on.low, feed.on.high
        total = math.inf if self.pull is None else self.series + self.pull + feed.resistance
        steady = (
            max(feed.on.typical / total, self._clamped(feed.on.typical, self.clamp.usual)),
            max(v_high / (total * (1 - tol)), self._clamped(v_high, self.clamp.least) / (1 - tol)),
        )
        yield from feed_currents(
            feed,
            tag,
            who,
            steady=steady,
            burst=(feed.on.typical / self.series, v_high / (self.series * (1 - tol))),
            formula=f"I = V_{{{feed.name},max}} / ({r1} + {r2})",
            numbers=(
                f"= {v_high:.3g} / {show(total * (1 - tol), 'Ω')} = {show(steady[1], 'A')}"
                if self.pull
                else "no pull resistor: nothing flows"
            ),
            because="A gate takes no steady current; only the pull resistor does.",
            cure=self._pull_cure,
            shown=self.names.taken(
                within=0.4 if math.isfinite(self.clamp.usual) else 0.06, floor=1e-4, because=BENDS
            ),
        )
        divided = (self.pull or 1e12) + self.series + feed.resistance
        yield check(
            f"{tag}fully_on",
            f"{who}Gate voltage",
            "need",
            "turns on",
            unit="V",
            nominal=self.least,
            worst=self.worst,
            least=need,
            digits=4,
            at=weakest(f"{feed.name} at its lowest, resistors apart"),
            says=f"Needs {show(need, 'V')}, gets at least {show(self.worst, 'V')}.",
            formula=f"V_{{gate}} = V_{{{feed.name}}} · {r2} / ({r1} + {r2})",
            numbers=(
                f"= {v_low:.4g} · {show(self.pull, 'Ω')} / {show(divided, 'Ω')} = {show(self.worst, 'V')}"
                if self.pull
                else f"= {v_low:.4g} V, no pull resistor"
            ),
            because=(
                f"{show(need, 'V')} is where the {show(card.lowest_on.resistance, 'Ω')} is promised. Below "
                "it nobody promises anything: the threshold is only where it begins."
            ),
            cure="Take a MOSFET promised at a lower gate voltage, or raise the pull resistor.",
            shown=self.names.volts(self.names.on),
        )
        yield check(
            f"{tag}gate_max",
            f"{who}Gate voltage, highest",
            "limit",
            "level",
            unit="V",
            nominal=min(self.clamp.usual, self._behind(v_high, 0)),
            worst=self.most,
            most=card.v_gs_max,
            at=strongest(f"{feed.name} at its highest"),
            says=f"{show(self.most, 'V')} of {show(card.v_gs_max, 'V')} across the gate.",
            formula="V_{GS} ≤ V_{GS,max}",
            numbers=f"{self.most:.3g} ≤ {card.v_gs_max:.3g}",
            because="A gate's oxide breaks down once and for all.",
            cure="Divide it with a series resistor, or clamp the gate with a zener behind one.",
            shown=self.names.volts(self.names.on, within=0.05, because=BENDS),
        )
        yield from self._times()
        yield from self._off_checks()

    @property
    def _pull_cure(self) -> Remedy:
        fitted = f"Change {self.pull_ref}: its window shows what is allowed."
        return Remedy(text=fitted if self.pull else f"Fit a pull resistor from gate to {self.rail}.")

    def _off_checks(self) -> Iterator[Check]:
        card, feed, tag, who, r1, r2 = (
            self.card,
            self.feed,
            self.tag,
            self.who,
            self.series_ref,
            self.pull_ref,
        )
        off, cure = self.off, self._pull_cure
        pulled = self.pull if self.pull is not None else 1e12
        left = self.gate(feed.off, self.series + feed.off_resistance, self.pull)
        yield from off_check(
            feed,
            tag,
            who,
            level=left,
            off=off,
            control="gate",
            shown=self.names.volts(self.names.off, within=0.06, because=SAGS),
        )
        rest = feed.rest
        rises = rest is not None and rest.volts > 0
        divided = rest.ohms + self.series + pulled if rest is not None else 0.0
        level = rest.volts * pulled / divided if rest is not None and rises else 0.0
        yield from rest_check(
            feed,
            tag,
            who,
            level=level,
            off=off,
            control="gate",
            formula=f"V_{{gate}} = V_{{rest}} · {r2} / (R_{{rest}} + {r1} + {r2})",
            numbers=(
                f"= {rest.volts:.3g} · {show(pulled, 'Ω')} / {show(divided, 'Ω')} = {show(level, 'V')}"
                if rest is not None and rises
                else "= 0"
            ),
            cure=cure,
            shown=self.names.volts("boot", within=0.06, because=SAGS),
            corner=f", least threshold, {show(self.hot, '°C')}",
        )
        leak = card.gate_leakage * HOT_GATE_LEAKAGE
        yield check(
            f"{tag}unplugged",
            f"{who}Stays off unplugged",
            "need",
            "unplugged",
            unit="V",
            nominal=card.gate_leakage * pulled,
            worst=leak * pulled,
            most=off,
            at=when("gate leakage hot"),
            says=(
                f"Leakage lifts the gate to {show(leak * pulled, 'V')}."
                if self.pull
                else "Nothing holds the gate: a touch may turn it on."
            ),
            formula=f"V_{{gate}} = I_{{leak,hot}} · {r2}",
            numbers=f"= {show(leak, 'A')} · {show(pulled, 'Ω')} = {show(leak * pulled, 'V')}",
            because="A gate that nobody drives keeps any charge it meets.",
            cure=cure,
        )
        held = 1 / (1 / pulled + self.tied)
        plug = card.c_rss * self.high / PLUG_IN_RISE * held
        yield check(
            f"{tag}plug_in",
            f"{who}Stays off when plugged in",
            "need",
            "plugged in",
            unit="V",
            nominal=plug,
            most=off,
            at=when(f"supply rises in {show(PLUG_IN_RISE, 's')}, assumed"),
            says=f"The rising drain lifts the gate to {show(min(plug, self.high), 'V')}.",
            formula="V_{gate} = C_{rss} · dV/dt · R_{to 0 V}",
            numbers=(
                f"= {show(card.c_rss, 'F')} · {self.high:.3g} V / {show(PLUG_IN_RISE, 's')} · "
                f"{show(held, 'Ω')}"
            ),
            because="The gate-drain capacitance passes the supply's edge on to the gate.",
            cure=cure,
        )

    def _times(self) -> Iterator[Check]:
        card, feed, tol, v_low = self.card, self.feed, self.tolerance, self.feed.on.low
        series = self.series * (1 + tol) + feed.resistance
        worst = self.on_time(series, v_low)
        # Below the plateau it never gets there, and the check on the gate voltage says so.
        if math.isfinite(worst) and self.wishes[0]:
            yield check(
                f"{self.tag}switching",
                f"{self.who}Fully on in",
                "wish",
                "time",
                unit="s",
                nominal=self.on_time(self.series + feed.resistance, feed.on.typical),
                worst=worst,
                most=self.on_within,
                at=when(f"{feed.name} at its lowest, resistor at its highest"),
                says=f"{show(worst, 's')} of {show(self.on_within, 's')}.",
                formula="t = R·C_{iss}·ln(V/(V − V_{pl})) + Q_{gd}·R/(V − V_{pl})",
                numbers=(
                    f"R = {show(series, 'Ω')}, V = {v_low:.3g} V, V_{{pl}} = {card.threshold_max:.3g} V: "
                    f"{show(worst, 's')}"
                ),
                because="While the gate climbs, the MOSFET carries current with volts across it.",
                cure=f"Change {self.series_ref}: its window shows what is allowed.",
                wish=self.wishes[0],
            )
        if self.back is not None and self.pull is not None:
            worst = self.off_time(self.pull * (1 + tol), self.most)
            yield check(
                f"{self.tag}turns_off",
                f"{self.who}Off again in",
                "wish",
                "time",
                unit="s",
                nominal=self.off_time(self.pull, self.gate(feed.on.typical, self.series, self.pull)),
                worst=worst,
                most=self.back,
                at=high("least threshold"),
                says=f"{show(worst, 's')} of {show(self.back, 's')}.",
                formula="t = R_{pull}·C_{iss}·ln(V/V_{pl}) + Q_{gd}·R_{pull}/V_{pl}",
                numbers=(
                    f"R = {show(self.pull * (1 + tol), 'Ω')}, V_{{pl}} = {card.threshold_min:.3g} V: "
                    f"{show(worst, 's')}"
                ),
                because="Nothing but the pull resistor empties the gate.",
                cure=f"Lower {self.pull_ref}: its window shows what is allowed.",
                wish=self.wishes[1],
            )
