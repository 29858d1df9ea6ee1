"""A MOSFET's gate: the voltage it gets, how fast, and what keeps it off.

"Fully on" means that an on-resistance is promised at the gate voltage really present, not that the threshold
is passed. Formulas: divider and RC of the gate, charge balance of the Miller plateau.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ...cards.card import FieldEffectCard
from ...cards.points import channel_amps
from ...circuit.devices.heat import ON_RESISTANCE_DRIFT, ROOM, THRESHOLD_DRIFT
from ...quantity import show
from ...roots import root
from ..contract.facts import Attached
from ..say.checks import Check, Remedy, Sort, check, high, strongest, weakest, when
from ..say.windows import Bound, bound
from .feed import NOT_THERE, OFF_CURE, Feed, Names, Trickle, feed_currents, rest_words, rests_check

NEAR = 0.9  # share of a promised gate voltage at which the on-resistance is all but the same, assumed
BRIEF, OVER = 1e-6, 2.5  # a gate full within this does a pin no harm at so many times its burst, assumed [s]
NO_PULL = 1e11  # a resistance above this is none [Ω]
PLUG_IN_RISE = 1e-4  # how fast a supply rises when it is plugged in [s], assumed
HOT_JUNCTION = 100.0  # temperature at which RDS(on) is counted for drop and heat [°C]
HOT_GATE_LEAKAGE = 10  # times the rated one, when hot
EMPTY = "An empty gate is a short at first."
DIVIDE = "Series resistor and pull resistor divide what drives the gate."
BENDS = "a clamp bends before it holds"
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


def readiness(card: FieldEffectCard, hot: float) -> float:
    """How much sooner than an ordinary one at 25 °C the readiest specimen begins in hot surroundings [V]."""
    return card.threshold - card.threshold_min - THRESHOLD_DRIFT * (hot - ROOM)


def begins(card: FieldEffectCard, volts: float, hot: float, amps: float) -> float:
    """The gate voltage at which the readiest specimen lets a current [A] through from a rail [V]."""
    ready, most = readiness(card, hot), card.v_gs_max

    def over(v_gs: float) -> float:
        return channel_amps(card, v_gs, volts, -ready) - amps

    return root(over, 0.0, most) if over(0.0) < 0 < over(most) else 0.0 if over(0.0) >= 0 else most


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
    carries: float  # the most its load takes [A]
    rests: float  # what flows through it when what it switches surely does nothing [A]
    back: float | None = None
    clamp: Attached = NOTHING
    what: str = "load"  # what it switches
    stays_on: bool = False  # whether that should run while nobody gives a command
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
        pulled = self.pull and self.pull * (1 - tol)
        weak = self.feed.least if sign > 0 else self.feed.most
        return min(self.gate(v, series, pulled), weak * pulled if pulled else math.inf)

    def _bursts(self) -> float:
        """How many times its burst limit a feed stands for as long as the gate charges."""
        return OVER if (self.series + self.feed.resistance) * self.card.c_iss < BRIEF else 1.0

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

    def trickle(self, level: float, highest: float | None = None) -> Trickle:
        """What a gate voltage lets through, and the highest one with its resistors off [V]."""
        ready, top = readiness(self.card, self.hot), level if highest is None else highest
        usual = min(channel_amps(self.card, level, self.high), self.carries)
        return Trickle(top, usual, min(channel_amps(self.card, top, self.high, -ready), self.carries))

    @property
    def off(self) -> float:
        """The gate voltage at which the readiest specimen, hot, lets through what still rests [V]."""
        return begins(self.card, self.high, self.hot, self.rests)

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

    @property
    def opens(self) -> float:
        """How long an ordinary one is half on while its pull alone empties it [s]."""
        alone = self.back is not None and self.pull
        return self.card.q_gd * (self.pull or 0.0) / self.card.threshold if alone else 0.0

    def edge(self) -> float:
        """The longest time it spends half on [s]."""
        on = self.on_time(self.series * (1 + self.tolerance) + self.feed.resistance, self.feed.on.low)
        emptied = self.back is not None and self.pull
        off = self.off_time(self.pull * (1 + self.tolerance), self.most) if emptied and self.pull else 0.0
        return max(on if math.isfinite(on) else 0.0, off)

    def series_bounds(self) -> list[Bound]:
        """Constraints on the series resistor."""
        card, feed, tol, r1, r2 = self.card, self.feed, self.tolerance, self.series_ref, self.pull_ref
        v_low, v_high = feed.on.low, feed.on.high
        per_ohm = self.on_time(1.0, v_low)
        found = []
        if math.isfinite(feed.burst):
            found.append(
                bound(
                    "low",
                    max(v_high / (OVER * feed.burst) / (1 - tol) - feed.resistance, 1e-3),
                    f"{feed.name} burst under {show(OVER * feed.burst, 'A')}",
                    detail=f"{show(v_high, 'V')} / {show(OVER * feed.burst, 'A')}",
                    guards=f"{self.tag}pin_burst",
                    soft=True,
                    formula=f"{r1} ≥ V_{{{feed.name},max}} / I_{{burst}}",
                    because=EMPTY,
                )
            )
        if feed.limited and v_high > self.clamp.least:
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
        for need, guards, soft in self._needs():
            if self.pull is None or v_low <= need:
                continue
            limit = self.pull * (1 - tol) * (v_low - need) / need / (1 + tol) - feed.resistance
            found.append(
                bound(
                    "high",
                    max(limit, 1e-3),
                    f"gate still gets {show(need, 'V')}",
                    detail="the pull-down divides",
                    guards=f"{self.tag}{guards}",
                    formula=f"V_{{{feed.name},min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V",
                    numbers=f"{r1} ≤ {show(limit, 'Ω')}",
                    because=DIVIDE,
                    soft=soft,
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

    def _needs(self) -> tuple[tuple[float, str, bool], ...]:
        """Gate voltages that it must and should have [V], what they guard, and whether they give way."""
        promised = self.card.lowest_on.v_gs
        return (NEAR * promised, "fully_on", False), (promised, "promised", True)

    def pull_bounds(self) -> list[Bound]:
        """Constraints on the pull resistor."""
        card, feed, tol, r1, r2 = self.card, self.feed, self.tolerance, self.series_ref, self.pull_ref
        v_low, v_high, off = feed.on.low, feed.on.high, self.off
        found: list[Bound] = []
        for need, guards, soft in self._needs():
            if v_low <= need:
                continue
            least = need * (self.series * (1 + tol) + feed.resistance) / (v_low - need) / (1 - tol)
            found.append(
                bound(
                    "low",
                    least,
                    f"gate still gets {show(need, 'V')}",
                    detail=f"{v_low:.3g} V divided",
                    guards=f"{self.tag}{guards}",
                    soft=soft,
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
                    formula=f"V_{{rest}}·{r2}/(R_{{rest}} + {r1} + {r2}) ≤ V_{{begins}}",
                    numbers=f"{rest.volts:.3g}·{r2}/({show(rest.ohms, 'Ω')} + {r1} + {r2}) ≤ {off:.3g} V",
                    because=f"The {feed.name} {rest.words}. Two resistors divide.",
                )
            )
        leak = card.gate_leakage * HOT_GATE_LEAKAGE
        found.append(
            bound(
                "high",
                off / leak / (1 + tol),
                "gate leakage stays too little",
                detail=f"{off:.3g} V / {show(leak, 'A')} hot",
                guards=f"{self.tag}unplugged",
                formula=f"{r2} ≤ V_{{begins}} / I_{{leak,hot}}",
                because="Ten times the rated leakage when hot.",
            )
        )
        if self.lifted(math.inf) > off:
            least = 1 / root(lambda r: self.lifted(r) - off, 0.0, 1e9) - self.tied
            if least > 0:
                found.append(
                    bound(
                        "high",
                        1 / least / (1 + tol),
                        "plugging in does not turn it on",
                        detail=f"under {off:.3g} V",
                        guards=f"{self.tag}plug_in",
                        formula=f"C_{{rss}}·V/t·{r2}·(1 − exp(−t/({r2}·C_{{iss}}))) ≤ V_{{begins}}",
                        because="While the supply rises, the gate-drain capacitance feeds the gate.",
                    )
                )
        return found

    def lifted(self, ohms: float) -> float:
        """How far a supply that is plugged in lifts the gate that a resistance holds [V]."""
        card, rise = self.card, PLUG_IN_RISE
        if math.isinf(ohms):
            return card.c_rss / card.c_iss * self.high
        return -card.c_rss * self.high / rise * ohms * math.expm1(-rise / max(ohms * card.c_iss, 1e-15))

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
            burst=(
                feed.on.typical / (self.series + feed.resistance),
                v_high / (self.series * (1 - tol) + feed.resistance),
            ),
            brief="practice",
            times=self._bursts(),
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
        ohms, gets = show(card.lowest_on.resistance, "Ω"), show(self.worst, "V")
        near = NEAR * need
        rungs: tuple[tuple[Sort, str, str, float, str], ...] = (
            ("need", "fully_on", "Gate voltage", near, f"Needs {show(near, 'V')}, gets {gets}."),
            ("practice", "promised", "On-resistance", need, f"{ohms} at {show(need, 'V')}; gets {gets}."),
        )
        for sort, id, title, least, says in rungs:
            yield check(
                f"{tag}{id}",
                f"{who}{title}",
                sort,
                "turns on",
                unit="V",
                nominal=self.least,
                worst=self.worst,
                least=least,
                digits=4,
                at=weakest(f"{feed.name} at its lowest, resistors apart"),
                says=says,
                formula=f"V_{{gate}} = V_{{{feed.name}}} · {r2} / ({r1} + {r2})",
                numbers=(
                    f"= {v_low:.4g} · {show(self.pull, 'Ω')} / {show(divided, 'Ω')} = {show(self.worst, 'V')}"
                    if self.pull
                    else f"= {v_low:.4g} V, no pull resistor"
                ),
                because=(
                    f"{show(need, 'V')} is where the {ohms} are promised; a tenth less hardly changes them. "
                    "Farther below nobody promises anything: the threshold is only where it begins."
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
        yield from self._clamp_heat()
        yield from self._times()
        yield from self._off_checks()

    def _clamp_heat(self) -> Iterator[Check]:
        """Heat in what clamps the gate: all that the series resistor lets through, at the clamp's volts."""
        clamp, feed = self.clamp, self.feed
        if not math.isfinite(clamp.power):
            return
        usual = clamp.usual * self._clamped(feed.on.high, clamp.usual)
        worst = clamp.least * self._clamped(feed.on.high, clamp.least) / (1 - self.tolerance)
        yield check(
            f"{self.tag}clamp_heat",
            f"{self.who}Heat in the gate clamp",
            "limit",
            "heat",
            unit="W",
            nominal=usual,
            worst=max(worst, usual),
            most=clamp.power,
            facet="guard",
            at=strongest(f"{feed.name} at its highest, resistor at its lowest"),
            says=f"{show(max(worst, usual), 'W')} of {show(clamp.power, 'W')} while it is on.",
            formula=f"P = V_{{Z}} · (V_{{{feed.name},max}} − V_{{Z}}) / {self.series_ref}",
            numbers=f"= {clamp.usual:.3g} V · {show(self._clamped(feed.on.high, clamp.usual), 'A')}",
            because="The clamp takes all that the series resistor lets through, for as long as it is on.",
            cure=f"Raise {self.series_ref}.",
        )

    @property
    def _pull_cure(self) -> Remedy:
        fitted = f"Change {self.pull_ref}: its window shows what is allowed."
        return Remedy(text=fitted if self.pull else f"Fit a pull resistor from gate to {self.rail}.")

    def _off_checks(self) -> Iterator[Check]:
        feed, tag, who, r1, r2 = self.feed, self.tag, self.who, self.series_ref, self.pull_ref
        cure = self._pull_cure
        common = {"rests": self.rests, "what": self.what, "control": "gate"}
        stays = common | {"full": self.carries if self.stays_on else None}
        near, rest = 0.3 * self.rests, feed.rest
        pulled = self.pull if self.pull is not None else 1e12
        if feed.off > 0.1:
            yield rests_check(
                f"{tag}off_level",
                f"{who}Turned fully off",
                "turns off",
                trickle=self.trickle(
                    self.gate(feed.remains, self.series + feed.off_resistance, self.pull),
                    self.gate(feed.off, self.series + feed.off_resistance, self.pull),
                ),
                at=high(f"{feed.name} at the end that should turn it off"),
                formula="V_{off} = V_{rail} − V_{signal}",
                numbers=f"= {show(feed.off, 'V')} from the {feed.name}",
                because=NOT_THERE,
                cure=OFF_CURE,
                shown=self.names.into("d", self.names.off, within=0.15, floor=near),
                **common,  # type: ignore[arg-type]
            )
        if rest is not None:
            because, words = rest_words(feed)
            divided = rest.ohms + self.series + pulled
            floats = rest.floats and self.pull is None
            level = 0.0 if rest.volts <= 0 else rest.volts * pulled / divided
            top = level * (1 + self.tolerance) * divided / (divided + self.tolerance * pulled)
            found = Trickle(0.0, self.carries, self.carries) if floats else self.trickle(level, top)
            yield rests_check(
                f"{tag}boot",
                f"{who}Stays off while {rest.when}",
                "at rest",
                trickle=found,
                at=strongest(f"{words}, least threshold, {show(self.hot, '°C')}"),
                formula=f"V_{{gate}} = V_{{rest}} · {r2} / (R_{{rest}} + {r1} + {r2})",
                numbers=(
                    f"= {rest.volts:.3g} · {show(pulled, 'Ω')} / {show(divided, 'Ω')} = {show(level, 'V')}"
                    if level > 0
                    else "= 0"
                ),
                because=because,
                cure=cure,
                shown=None if floats else self.names.into("d", "boot", within=0.15, floor=near),
                says="Nothing holds the gate: it keeps any charge it meets." if floats else "",
                **stays,  # type: ignore[arg-type]
            )
        yield from self._loose_checks(cure, pulled)

    def _loose_checks(self, cure: Remedy, pulled: float) -> Iterator[Check]:
        """Whether it stays off when its lead is lost, and while the supply is plugged in."""
        card, tag, who, r2, rest = self.card, self.tag, self.who, self.pull_ref, self.feed.rest
        common = {"rests": self.rests, "what": self.what, "control": "gate"}
        stays = common | {"full": self.carries if self.stays_on else None}
        leak = card.gate_leakage * HOT_GATE_LEAKAGE
        most = pulled * (1 + self.tolerance)
        usual, hot = self.trickle(card.gate_leakage * pulled), self.trickle(leak * most)
        bare, kept = self.pull is None, rest is not None and rest.here
        sort: Sort = "practice" if bare else "need"
        level = 0.0 if bare else leak * most
        found = Trickle(level, 0.0 if bare and kept else usual.usual, 0.0 if bare and kept else hot.most)
        yield rests_check(
            f"{tag}unplugged",
            f"{who}Stays off unplugged",
            "unplugged",
            trickle=found,
            sort=sort,
            at=when("gate leakage hot, least threshold"),
            formula=f"V_{{gate}} = I_{{leak,hot}} · {r2}",
            numbers=(
                "no pull resistor"
                if bare
                else f"= {show(leak, 'A')} · {show(most, 'Ω')} = {show(level, 'V')}"
            ),
            because="A gate that nobody drives keeps any charge it meets.",
            cure=cure,
            says=(
                ""
                if not bare
                else "What drives it holds it, too."
                if kept
                else "Nothing holds the gate when its lead is lost: a touch may turn it on."
            ),
            **stays,  # type: ignore[arg-type]
        )
        held = 1 / (1 / most + self.tied)
        plug = self.lifted(held)
        if self.stays_on:
            return
        yield rests_check(
            f"{tag}plug_in",
            f"{who}Stays off when plugged in",
            "plugged in",
            trickle=self.trickle(self.lifted(1 / (1 / pulled + self.tied)), plug),
            at=when(f"supply rises in {show(PLUG_IN_RISE, 's')}, assumed; least threshold"),
            formula="V_{gate} = C_{rss} · dV/dt · R · (1 − e^{−t/(R·C_{iss})})",
            numbers=(
                f"= {show(card.c_rss, 'F')} · {self.high:.3g} V / {show(PLUG_IN_RISE, 's')}, "
                f"R = {show(held, 'Ω') if held < NO_PULL else 'none'}: {show(plug, 'V')}"
            ),
            because="The gate-drain capacitance passes the supply's edge on to the gate.",
            cure=cure,
            **common,  # type: ignore[arg-type]
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
