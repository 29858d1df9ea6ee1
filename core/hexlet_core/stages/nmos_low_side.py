"""N-MOSFET as a low-side switch.

Choose it when the pin is weak or the load heavy: the gate takes current only while it changes. "Fully on"
means that an on-resistance is promised at the gate voltage really present, not that the threshold is
passed. Formulas: divider and RC of the gate, charge balance of the Miller plateau, I²·R.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import MosfetCard
from ..cards.derive import ON_RESISTANCE_DRIFT, THRESHOLD_DRIFT, Kelvin25
from ..cards.derive import mosfet as mosfet_rule
from ..circuit.devices import Device, Mosfet, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Offer, Part, Probe, Schedule, Stage, Step, Switch, View, Watch
from .drawing import Pen
from .findings import Bound, Remedy, Verdict, Window, Working, judge, window
from .low_side import boot_source, heat_verdicts, load_current, low_side_watches, pin_verdicts, resistor_part, switch_steps
from .npn_low_side import draw_low_side

PULSE = 4.0  # a pulse of tens of milliseconds over the continuous current, assumed
PLUG_IN_RISE = 1e-4  # how fast a supply rises when it is plugged in [s], assumed
HOT_JUNCTION = 100.0  # temperature at which RDS(on) is counted for drop and heat [°C]


class NmosLowSide(Stage):
    role = "drive"
    title = "MOSFET"
    purpose = "An N-channel MOSFET pulls the load's lower end to 0 V."
    choose = "The pin is weak, the load draws more than some 100 mA, or the drop must be small."
    avoid = "The pin's level is below the gate voltage at which the on-resistance is promised."
    letters = {"series": "R", "pull": "R", "switch": "Q"}
    output = "drain"

    kind: Literal["nmos_low_side"] = "nmos_low_side"
    card: str = "nmos-55v-5a-logic"
    r_gate: Annotated[float, Q("Ω", 1.0, 1e8)] = 220.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 100e3
    on_within: Annotated[float, Q("s", 1e-8, 1.0)] = 20e-6

    @property
    def summary(self) -> str:
        return f"MOSFET, {show_part(self.r_gate)} Ω"

    def fitted(self) -> tuple[str, ...]:
        return ("series", "pull", "switch") if self.r_pull is not None else ("series", "switch")

    def _card(self, view: View) -> MosfetCard:
        return view.drawer.card(self.card, MosfetCard, view.path("card"))

    def _resistance(self, card: MosfetCard, v_gate: float) -> float:
        """On-resistance at 25 °C for a gate voltage [Ω]: the promise that holds, else five times the lowest one."""
        promised = card.promised_on(v_gate)
        return promised.resistance if promised else 5 * card.lowest_on.resistance

    def _gate(self, v: float, series: float, pull: float | None) -> float:
        """Gate voltage behind series resistor and pull-down [V]."""
        return v if pull is None else v * pull / (series + pull)

    def _switching(self, card: MosfetCard, series: float, v: float) -> float:
        """Time to charge the gate past the Miller plateau [s]: R·Ciss·ln(V/(V − Vpl)) + Qgd·R/(V − Vpl)."""
        plateau = card.threshold_max
        if v <= plateau:
            return math.inf
        return series * card.c_iss * math.log(v / (v - plateau)) + card.q_gd * series / (v - plateau)

    def _drop(self, view: View) -> tuple[float, float]:
        card, demand, offer = self._card(view), view.demand, view.offer
        if demand is None or offer is None:
            return 0.0, 0.0
        v = self._gate(offer.high.low, self.r_gate + offer.resistance, self.r_pull)
        r = self._resistance(card, v)
        hot = r * (1 + ON_RESISTANCE_DRIFT * (HOT_JUNCTION - Kelvin25))
        return view.low / demand.typical * r, view.low / demand.typical * hot

    def switch(self, view: View) -> Switch:
        card = self._card(view)
        drop, worst = self._drop(view)
        return Switch(
            ref=view.refs["switch"], output=self.output, drop=drop, drop_worst=worst, breakdown=card.v_ds, capacitance=card.c_oss,
            avalanche_energy=card.avalanche_energy if card.avalanche_rated else 0.0,
        )  # fmt: skip

    def _threshold_hot(self, card: MosfetCard, view: View) -> float:
        """The least threshold, hot [V]."""
        return card.threshold_min + THRESHOLD_DRIFT * (view.hot - Kelvin25)

    def _bounds(self, view: View, offer: Offer, demand: Demand) -> tuple[list[Bound], list[Bound]]:
        card, tol = self._card(view), view.tolerance
        r1, r2 = view.refs["series"], view.refs.get("pull", "R_{pull}")
        need = card.lowest_on.v_gs
        source, v_low, v_high = offer.resistance, offer.high.low, offer.high.high
        per_ohm = self._switching(card, 1.0, v_low)
        gate = [
            Bound(
                side="low", value=max(v_high / offer.burst / (1 - tol), 1e-3), title=f"pin burst under {show(offer.burst, 'A')}", detail=f"{show(v_high, 'V')} / {show(offer.burst, 'A')}", verdict="pin_burst",
                working=Working(formula=f"{r1} ≥ V_{{pin,max}} / I_{{burst}}", substituted=f"= {v_high:.3g} / {show(offer.burst, 'A')}", reason="An empty gate is a short at first."),
            ),
            Bound(
                side="high", value=max(self.on_within / per_ohm / (1 + tol) - source, 1e-3), title=f"fully on within {show(self.on_within, 's')}", detail=f"{show(self.on_within, 's')} / {show(per_ohm, 's')} per ohm", verdict="switching",
                working=Working(
                    formula=f"{r1}·(C_{{iss}}·ln(V/(V − V_{{pl}})) + Q_{{gd}}/(V − V_{{pl}})) ≤ t", substituted=f"V = {v_low:.3g} V, V_{{pl}} = {card.threshold_max:.3g} V",
                    reason="A slow gate leaves the MOSFET half on, where it heats.",
                ),
            ),
        ]  # fmt: skip
        pull: list[Bound] = []
        if self.r_pull is not None and v_low > need:
            limit = self.r_pull * (1 - tol) * (v_low - need) / need / (1 + tol) - source
            gate.append(
                Bound(
                    side="high", value=max(limit, 1e-3), title=f"gate still gets {show(need, 'V')}", detail="the pull-down divides", verdict="fully_on",
                    working=Working(formula=f"V_{{pin,min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V", substituted=f"{r1} ≤ {show(limit, 'Ω')}", reason="Series resistor and pull-down divide the pin's level."),
                )
            )  # fmt: skip
        if v_low > need:
            least = need * (self.r_gate * (1 + tol) + source) / (v_low - need) / (1 - tol)
            pull.append(
                Bound(
                    side="low", value=least, title=f"gate still gets {show(need, 'V')}", detail=f"{v_low:.3g} V divided", verdict="fully_on",
                    working=Working(formula=f"V_{{pin,min}}·{r2}/({r1} + {r2}) ≥ {need:.3g} V", substituted=f"{r2} ≥ {show(least, 'Ω')}", reason="Series resistor and pull-down divide the pin's level."),
                )
            )  # fmt: skip
        draw = max(v_high / offer.steady / (1 - tol) - self.r_gate, 1e-3)
        pull.append(
            Bound(
                side="low", value=draw, title=f"pin under {show(offer.steady, 'A')}", detail=f"{show(v_high, 'V')} / {show(offer.steady, 'A')} − {r1}", verdict="pin_steady",
                working=Working(formula=f"{r1} + {r2} ≥ V_{{pin,max}} / I_{{steady}}", substituted=f"= {v_high:.3g} / {show(offer.steady, 'A')}", reason="The pull-down draws on the pin for as long as it is high."),
            )
        )  # fmt: skip
        off = self._threshold_hot(card, view)
        boot, boot_r, words = boot_source(offer)
        if boot > off:
            limit = off * (boot_r + self.r_gate) / (boot - off) / (1 + tol)
            pull.append(
                Bound(
                    side="high", value=limit, title="stays off while the pin boots", detail=words, verdict="boot",
                    working=Working(formula=f"V_{{boot}}·{r2}/(R_{{boot}} + {r1} + {r2}) ≤ V_{{th,min,hot}}", substituted=f"{boot:.3g}·{r2}/({show(boot_r, 'Ω')} + {r1} + {r2}) ≤ {off:.3g} V", reason=f"The pin has {words}. Two resistors divide."),
                )
            )  # fmt: skip
        leak = off / (card.gate_leakage * 10) / (1 + tol)
        plug = off / (card.c_rss * view.high / PLUG_IN_RISE) / (1 + tol)
        for value, title, detail, verdict, why in (
            (leak, "gate leakage stays under the threshold", f"{off:.3g} V / {show(card.gate_leakage * 10, 'A')} hot", "unplugged", "Ten times the rated leakage when hot."),
            (plug, "plugging in does not turn it on", f"{off:.3g} V / {show(card.c_rss * view.high / PLUG_IN_RISE, 'A')}", "plug_in", "While the supply rises, the gate-drain capacitance feeds the gate."),
        ):  # fmt: skip
            pull.append(
                Bound(
                    side="high", value=value, title=title, detail=detail, verdict=verdict,
                    working=Working(formula=f"{r2} ≤ V_{{th,min,hot}} / I", substituted=f"= {detail}", reason=why),
                )
            )  # fmt: skip
        return gate, pull

    def windows(self, view: View) -> tuple[Window, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        gate, pull = self._bounds(view, offer, demand)
        stock = view.stock()
        return (
            window(view.path("r_gate"), view.refs["series"], "gate resistor", "Ω", self.r_gate, gate, stock=stock),
            window(view.path("r_pull"), view.refs.get("pull", "R"), "gate pull-down", "Ω", self.r_pull, pull, stock=stock, removable=True),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        card, tol = self._card(view), view.tolerance
        r1, r2 = view.refs["series"], view.refs.get("pull", "R_{pull}")
        source, need = offer.resistance, card.lowest_on.v_gs
        v_low, v_high = offer.high.low, offer.high.high
        total = math.inf if self.r_pull is None else self.r_gate + self.r_pull
        steady = (offer.high.typical / total, v_high / (total * (1 - tol)))
        burst = (offer.high.typical / self.r_gate, v_high / (self.r_gate * (1 - tol)))
        gets = self._gate(v_low, self.r_gate + source, self.r_pull)
        gets_worst = self._gate(v_low, self.r_gate * (1 + tol) + source, self.r_pull and self.r_pull * (1 - tol))
        fix_gate = Remedy(text=f"Change {r1}: its window shows what is allowed.")
        fix_pull = Remedy(text=f"Change {r2}: its window shows what is allowed." if self.r_pull else "Fit a pull-down from gate to 0 V.")
        found = pin_verdicts(
            offer, view, steady=steady, burst=burst, formula=f"I = V_{{pin,max}} / ({r1} + {r2})",
            substituted=f"= {v_high:.3g} / {show(total * (1 - tol), 'Ω')} = {show(steady[1], 'A')}" if self.r_pull else "no pull-down: nothing flows",
            reason="A gate takes no steady current; only the pull-down does.", fix=fix_pull,
        )  # fmt: skip
        t, t_worst = (
            self._switching(card, self.r_gate + source, offer.high.typical),
            self._switching(card, self.r_gate * (1 + tol) + source, v_low),
        )
        # Below the plateau it never gets there, and the verdict on the gate voltage says so.
        switching = [] if math.isinf(t_worst) else [
            judge(
                "switching", "drive", "Fully on in", nominal=t, worst=t_worst, limit=self.on_within, unit="s", sense="at most",
                corner="pin at its lowest, resistor at its highest", sentence=f"{show(t_worst, 's')} of {show(self.on_within, 's')}.",
                working=Working(
                    formula="t = R·C_{iss}·ln(V/(V − V_{pl})) + Q_{gd}·R/(V − V_{pl})",
                    substituted=f"R = {show(self.r_gate * (1 + tol) + source, 'Ω')}, V = {v_low:.3g} V, V_{{pl}} = {card.threshold_max:.3g} V: {show(t_worst, 's')}",
                    reason="While the gate climbs, the MOSFET carries current with volts across it.",
                ),
                remedy=fix_gate,
            ),
        ]  # fmt: skip
        i_hot = view.high / demand.cold
        r_on = self._resistance(card, gets_worst)
        r_hot = r_on * (1 + ON_RESISTANCE_DRIFT * (HOT_JUNCTION - Kelvin25))
        heat, heat_worst = (view.high / demand.typical) ** 2 * r_on, i_hot**2 * r_hot
        off = self._threshold_hot(card, view)
        boot, boot_r, words = boot_source(offer)
        pulled = self.r_pull if self.r_pull is not None else 1e12
        v_boot = boot * pulled / (boot_r + self.r_gate + pulled) if boot > 0 else 0.0
        leak, leak_worst = card.gate_leakage * pulled, card.gate_leakage * 10 * pulled
        plug = card.c_rss * view.high / PLUG_IN_RISE * pulled
        found += [
            judge(
                "fully_on", "drive", "Gate voltage", nominal=gets, worst=gets_worst, limit=need, unit="V", sense="at least", digits=4,
                corner="pin at its lowest, resistors apart", sentence=f"Needs {show(need, 'V')}, gets at least {show(gets_worst, 'V')}.",
                working=Working(
                    formula=f"V_{{gate}} = V_{{pin}} · {r2} / ({r1} + {r2})", substituted=f"= {v_low:.4g} · {show(pulled, 'Ω')} / {show(pulled + self.r_gate + source, 'Ω')} = {show(gets_worst, 'V')}" if self.r_pull else f"= {v_low:.4g} V, no pull-down",
                    reason=f"{show(need, 'V')} is where the {show(card.lowest_on.resistance, 'Ω')} is promised. Below it nobody promises anything: the threshold is only where it begins.",
                ),
                remedy=Remedy(text="Take a MOSFET promised at a lower gate voltage, or raise the pull-down."),
            ),
            judge(
                "gate_max", "drive", "Gate voltage, highest", nominal=offer.high.typical, worst=v_high, limit=card.v_gs_max, unit="V", sense="at most",
                corner="pin at its highest", sentence=f"{show(v_high, 'V')} of {show(card.v_gs_max, 'V')} across the gate.",
                working=Working(formula="V_{GS} ≤ V_{GS,max}", substituted=f"{v_high:.3g} ≤ {card.v_gs_max:.3g}", reason="A gate's oxide breaks down once and for all."),
                remedy=Remedy(text="Clamp the gate with a zener behind a series resistor."),
            ),
            *switching,
            *load_current(
                demand, view, card.current_hot, "allowed hot", PULSE * card.current, "Four times the continuous current is assumed for so short a pulse."
            ),
            *heat_verdicts(
                view, nominal=heat, worst=heat_worst, r_th=card.r_th, t_max=card.t_j_max, power=card.power, how="P = I^2 · R_{DS(on),hot}",
                numbers=f"= {show(i_hot, 'A')}² · {show(r_hot, 'Ω')} = {show(heat_worst, 'W')}",
            ),
            judge(
                "boot", "drive", "Stays off while the pin boots", nominal=v_boot, worst=v_boot, limit=off, unit="V", sense="at most",
                corner=f"{words}, least threshold, {show(view.hot, '°C')}", sentence=f"Gate sees {show(v_boot, 'V')}; it may begin at {show(off, 'V')}.",
                working=Working(formula=f"V_{{gate}} = V_{{boot}} · {r2} / (R_{{boot}} + {r1} + {r2})", substituted=f"= {boot:.3g} · {show(pulled, 'Ω')} / {show(boot_r + self.r_gate + pulled, 'Ω')} = {show(v_boot, 'V')}" if boot > 0 else "= 0", reason=f"The pin has {words}, before any program runs."),
                remedy=fix_pull,
            ),
            judge(
                "unplugged", "drive", "Stays off unplugged", nominal=leak, worst=leak_worst, limit=off, unit="V", sense="at most",
                corner="gate leakage hot", sentence=f"Leakage lifts the gate to {show(leak_worst, 'V')}." if self.r_pull else "Nothing holds the gate: a touch may turn it on.",
                working=Working(formula=f"V_{{gate}} = I_{{leak,hot}} · {r2}", substituted=f"= {show(card.gate_leakage * 10, 'A')} · {show(pulled, 'Ω')} = {show(leak_worst, 'V')}", reason="A gate that nobody drives keeps any charge it meets."),
                remedy=fix_pull,
            ),
            judge(
                "plug_in", "drive", "Stays off when plugged in", nominal=plug, worst=plug, limit=off, unit="V", sense="at most",
                corner=f"supply rises in {show(PLUG_IN_RISE, 's')}, assumed", sentence=f"The rising drain lifts the gate to {show(min(plug, view.high), 'V')}.",
                working=Working(formula=f"V_{{gate}} = C_{{rss}} · dV/dt · {r2}", substituted=f"= {show(card.c_rss, 'F')} · {view.high:.3g} V / {show(PLUG_IN_RISE, 's')} · {show(pulled, 'Ω')}", reason="The gate-drain capacitance passes the supply's edge on to the gate."),
                remedy=fix_pull,
            ),
        ]  # fmt: skip
        return tuple(found)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        yield Resistor(name=view.refs["series"], a=view.nodes["in"], b="gate", resistance=self.r_gate * tol, tolerance=view.tolerance)
        if self.r_pull is not None:
            yield Resistor(name=view.refs["pull"], a="gate", b="0", resistance=self.r_pull * tol, tolerance=view.tolerance)
        params = mosfet_rule(self._card(view), corner.celsius, corner.spread)
        yield Mosfet(name=view.refs["switch"], g="gate", d=view.nodes["out"], s="0", **params)  # type: ignore[arg-type]

    def draw(self, pen: Pen, view: View) -> None:
        draw_low_side(pen, view, "n_mosfet", ("g", "d", "s"), "gate", self.r_gate, "r_gate", self.r_pull)

    def parts(self, view: View) -> tuple[Part, ...]:
        card = self._card(view)
        top = view.offer.high.high if view.offer else 0.0
        found = [resistor_part(view, view.refs["series"], "Gate resistor", self.r_gate, view.path("r_gate"), 0.0)]
        if self.r_pull is not None:
            found.append(resistor_part(view, view.refs["pull"], "Gate pull-down", self.r_pull, view.path("r_pull"), top**2 / self.r_pull))
        low = card.lowest_on
        found.append(
            Part(
                ref=view.refs["switch"], title=card.title, value=f"{show(low.resistance, 'Ω')} at {show(low.v_gs, 'V')}", kind="n_mosfet", card=card.id,
                legs=card.legs, face=card.face, stock=view.drawer.count(card.id), price=card.price, path=view.path("card"),
            )
        )  # fmt: skip
        return tuple(found)

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="gate",
                title="Gate to 0 V",
                red="gate strip",
                black="0 V rail",
                quantity="voltage",
                node="gate",
                states=("high", "floating"),
            ),
            Probe(id="drain", title="Drain to 0 V", red="drain strip", black="0 V rail", quantity="voltage", node=view.nodes["out"]),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return low_side_watches(view, "gate")

    def steps(self, view: View) -> tuple[Step, ...]:
        return switch_steps(
            view, view.refs["switch"], view.refs["series"], view.refs.get("pull"), self._card(view).legs, "gate", "drain",
            "Red on the source, black on the drain: the body diode conducts. Swapped, with gate and source joined first, OL.", self.r_pull, self.r_gate,
        )  # fmt: skip
