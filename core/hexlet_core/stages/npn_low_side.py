"""NPN transistor as a low-side switch.

Choose it for coils and lamps up to the transistor's current where the pin can spare a tenth of the load
current. The base gets I_B = I_C/β with a forced gain β well under hFE, so that the weakest specimen is
still saturated. Formulas: Ohm's law and the card's saturation voltages.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import NpnCard
from ..cards.derive import bipolar as npn_rule
from ..circuit.devices import Bipolar, Device, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Offer, Part, Probe, Schedule, Stage, Step, Switch, View, Watch
from .drawing import HEIGHT, OUTPUT_Y, SIGNAL_Y, Pen
from .findings import Bound, Change, Remedy, Verdict, Window, Working, judge, window
from .findings import Offer as Try
from .low_side import boot_source, heat_verdicts, load_current, low_side_watches, pin_verdicts, resistor_part, switch_steps

V_BE_OFF = 0.4  # a hot base below this passes no current that matters [V]


class NpnLowSide(Stage):
    role = "drive"
    title = "Bipolar"
    purpose = "An NPN transistor pulls the load's lower end to 0 V."
    choose = "Load up to some 200 mA, a pin that can spare a tenth of it, parts from any drawer."
    avoid = "The pin is weak, or the load draws more than half an amp."
    letters = {"series": "R", "pull": "R", "switch": "Q"}
    output = "collector"

    kind: Literal["npn_low_side"] = "npn_low_side"
    card: str = "npn-40v-200ma"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 1e3
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3
    forced_gain: Annotated[float, Q("", 2.0, 200.0)] | None = None

    @property
    def summary(self) -> str:
        return f"Bipolar, {show_part(self.r_base)} Ω"

    def fitted(self) -> tuple[str, ...]:
        return ("series", "pull", "switch") if self.r_pull is not None else ("series", "switch")

    def _card(self, view: View) -> NpnCard:
        return view.drawer.card(self.card, NpnCard, view.path("card"))

    def _gain(self, card: NpnCard) -> float:
        """Forced gain: what was asked, else min(15, hFE(min)/2)."""
        return self.forced_gain or min(15.0, card.gain_min / 2)

    def _needs(self, card: NpnCard, demand: Demand, view: View) -> float:
        """Base current for the cold load at the high supply [A]."""
        return view.high / demand.cold / self._gain(card)

    def switch(self, view: View) -> Switch:
        card = self._card(view)
        return Switch(
            ref=view.refs["switch"], output=self.output, drop=card.v_ce_sat * 0.7, drop_worst=card.v_ce_sat,
            breakdown=card.v_ceo, capacitance=2e-11, avalanche_energy=0.0,
        )  # fmt: skip

    def _bounds(self, view: View, offer: Offer, demand: Demand) -> tuple[list[Bound], list[Bound]]:
        card, tol = self._card(view), view.tolerance
        r_b, r_p = view.refs["series"], view.refs.get("pull", "R_{pull}")
        needs = self._needs(card, demand, view)
        drain = card.v_be_sat / (self.r_pull * (1 - tol)) if self.r_pull else 0.0
        head = offer.high.low - card.v_be_sat
        i_total = needs + drain
        most = max(head / i_total, 1e-3) / (1 + tol) - offer.resistance
        swing = offer.high.high - card.v_be_min
        base = [
            Bound(
                side="high", value=max(most, 1e-3), title=f"base gets its {show(needs, 'A', 2)}", detail=f"({offer.high.low:.3g} − {card.v_be_sat:.3g}) / {show(i_total, 'A')}",
                verdict="fully_on",
                working=Working(
                    formula=f"{r_b} ≤ (V_{{pin,min}} − V_{{BE,sat}}) / (I_{{B}} + V_{{BE,sat}}/{r_p})",
                    substituted=f"= ({offer.high.low:.3g} − {card.v_be_sat:.3g}) / {show(i_total, 'A')}", reason="Below this the weakest specimen is saturated.",
                ),
            ),
            *(
                Bound(
                    side="low", value=max(swing / limit / (1 - tol) - offer.resistance, 1e-3), title=f"{what} under {show(limit, 'A')}", detail=f"({offer.high.high:.3g} − {card.v_be_min:.3g}) / {show(limit, 'A')}",
                    verdict=verdict,
                    working=Working(
                        formula=f"{r_b} ≥ (V_{{pin,max}} − V_{{BE,min}}) / I", substituted=f"= ({offer.high.high:.3g} − {card.v_be_min:.3g}) / {show(limit, 'A')}",
                        reason="The pin at its highest and the base at its lowest draw the most.",
                    ),
                )
                for what, limit, verdict in (
                    ("pin", offer.steady, "pin_steady"), ("pin burst", offer.burst, "pin_burst"), ("base", card.base_current, "base_max"),
                )
            ),
        ]  # fmt: skip
        boot, boot_r, words = boot_source(offer)
        spare = head / ((self.r_base + offer.resistance) * (1 + tol)) - needs
        pull = [
            Bound(
                side="high", value=V_BE_OFF / card.leakage / 30 / (1 + tol), title="hot leakage stays under 0.4 V", detail=f"0.4 V / {show(card.leakage * 30, 'A')}", verdict="unplugged",
                working=Working(formula=f"{r_p} ≤ 0.4 V / I_{{leak,hot}}", substituted=f"= 0.4 / {show(card.leakage * 30, 'A')}", reason="Leakage doubles every ten kelvins: thirty times at 75 °C."),
            )
        ]  # fmt: skip
        if boot > V_BE_OFF:
            limit = V_BE_OFF * (boot_r + self.r_base) / (boot - V_BE_OFF) / (1 + tol)
            pull.append(
                Bound(
                    side="high", value=limit, title="stays off while the pin boots", detail=f"{words}", verdict="boot",
                    working=Working(formula=f"V_{{boot}} · {r_p} / (R_{{boot}} + {r_b} + {r_p}) ≤ 0.4 V", substituted=f"{r_p} ≤ {show(limit, 'Ω')}", reason=f"The pin has {words}."),
                )
            )  # fmt: skip
        if spare > 0:  # else no pull-down helps, and the verdict on the base says so
            pull.append(
                Bound(
                    side="low", value=card.v_be_sat / spare / (1 - tol), title="base still gets its current", detail=f"{card.v_be_sat:.3g} V / {show(spare, 'A')} to spare",
                    verdict="fully_on",
                    working=Working(formula=f"{r_p} ≥ V_{{BE,sat}} / (I_{{{r_b}}} − I_{{B}})", substituted=f"= {card.v_be_sat:.3g} / {show(spare, 'A')}", reason="What the pull-down takes does not reach the base."),
                )
            )  # fmt: skip
        return base, pull

    def windows(self, view: View) -> tuple[Window, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        card = self._card(view)
        base, pull = self._bounds(view, offer, demand)
        stock = view.stock()
        least = max(b.value for b in base if b.side == "low")
        offers = []
        gain = (view.high / demand.cold) * (least * (1 + view.tolerance) + offer.resistance) / max(offer.high.low - card.v_be_sat, 1e-3)
        if self._gain(card) < gain <= card.gain_min:
            gain = float(-(-gain // 1)) + 1
            within = gain <= card.gain_min / 2
            offers.append(
                Try(
                    title=f"Force a gain of {gain:g}, not {self._gain(card):g}", standing="fits" if within else "tight",
                    detail=f"from {show(least, 'Ω')}; the card promises at least {card.gain_min:g} out of saturation", changes=(Change(path=view.path("forced_gain"), value=gain),),
                )
            )  # fmt: skip
        wanted = view.high * least / max(offer.high.low - card.v_be_sat, 1e-3) / self._gain(card)
        offers.append(
            Try(title=f"A load of {show(wanted, 'Ω', 2)} or more", detail=f"then {show(least, 'Ω')} or more would do", standing="unknown")
        )
        found = [window(view.path("r_base"), view.refs["series"], "base resistor", "Ω", self.r_base, base, stock=stock, offers=offers)]
        found.append(
            window(view.path("r_pull"), view.refs.get("pull", "R"), "base pull-down", "Ω", self.r_pull, pull, stock=stock, removable=True)
        )
        return tuple(found)

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        offer, demand = view.offer, view.demand
        if offer is None or demand is None:
            return ()
        card, tol = self._card(view), view.tolerance
        r_b = view.refs["series"]
        needs = self._needs(card, demand, view)
        source = offer.resistance

        def base_current(v: float, v_be: float, sign: int) -> float:
            through = max(v - v_be, 0.0) / (self.r_base * (1 + sign * tol) + source)
            return max(through - (v_be / self.r_pull if self.r_pull else 0.0), 0.0)

        taken = (
            max(offer.high.typical - card.v_be_sat, 0.0) / (self.r_base + source),
            max(offer.high.high - card.v_be_min, 0.0) / (self.r_base * (1 - tol) + source),
        )
        gets, gets_worst = base_current(offer.high.low, card.v_be_sat, 0), base_current(offer.high.low, card.v_be_sat, 1)
        i_c = view.high / demand.cold
        watts = card.v_ce_sat * i_c + card.v_be_sat * taken[1]
        fix_series = Remedy(text=f"Change {r_b}: its window shows what is allowed.")
        found = pin_verdicts(
            offer, view, steady=taken, burst=taken, formula=f"I = (V_{{pin,max}} − V_{{BE,min}}) / {r_b}",
            substituted=f"= ({offer.high.high:.3g} − {card.v_be_min:.3g}) / {show(self.r_base * (1 - tol) + source, 'Ω')} = {show(taken[1], 'A')}",
            reason="A base is a diode: all the pin has above 0.7 V drives current through the resistor, for as long as it is on.", fix=fix_series,
        )  # fmt: skip
        found += [
            judge(
                "fully_on", "drive", "Turned fully on", nominal=gets, worst=gets_worst, limit=needs, unit="A", sense="at least",
                corner="pin at its lowest, load cold, supply high, least gain",
                sentence=f"Base needs {show(needs, 'A')}, gets {show(gets_worst, 'A')}.",
                working=Working(
                    formula="I_{B} = I_{C} / β", substituted=f"= {show(i_c, 'A')} / {self._gain(card):g} = {show(needs, 'A')}",
                    reason=f"β is forced to {self._gain(card):g}, well under the least gain of {card.gain_min:g}, so that every specimen saturates.",
                ),
                remedy=fix_series,
            ),
            judge(
                "base_max", "drive", "Base current", nominal=taken[0], worst=taken[1], limit=card.base_current, unit="A", sense="at most",
                corner="pin at its highest", sentence=f"{show(taken[1], 'A')} of {show(card.base_current, 'A')}.",
                working=Working(formula=f"I_{{B}} ≤ (V_{{pin,max}} − V_{{BE,min}}) / {r_b}", substituted=f"= {show(taken[1], 'A')}", reason="The junction's own limit."),
                remedy=fix_series,
            ),
            *load_current(demand, view, card.current, "allowed", card.current, "A bipolar has no more to give: beyond this it leaves saturation."),
            *heat_verdicts(
                view, nominal=watts * 0.8, worst=watts, r_th=card.r_th, t_max=card.t_j_max, power=card.power,
                how="P = V_{CE,sat} · I_{C} + V_{BE} · I_{B}", numbers=f"= {card.v_ce_sat:.3g} · {show(i_c, 'A')} + {card.v_be_sat:.3g} · {show(taken[1], 'A')} = {show(watts, 'W')}",
            ),
        ]  # fmt: skip
        boot, boot_r, words = boot_source(offer)
        pulled = self.r_pull if self.r_pull is not None else 1e9
        v_boot = boot * pulled / (boot_r + self.r_base + pulled) if boot > 0 else 0.0
        v_leak = card.leakage * 30 * pulled
        fix = Remedy(text=f"Fit or lower the pull-down: {view.refs.get('pull', 'none is fitted')}.")
        found += [
            judge(
                "boot", "drive", "Stays off while the pin boots", nominal=v_boot, worst=v_boot, limit=V_BE_OFF, unit="V", sense="at most",
                corner=words, sentence=f"Base sees {show(v_boot, 'V')}; under {show(V_BE_OFF, 'V')} it stays off.",
                working=Working(formula="V_{B} = V_{boot} · R_{pull} / (R_{boot} + R_{B} + R_{pull})", substituted=f"= {show(v_boot, 'V')}", reason=f"The pin has {words}."),
                remedy=fix,
            ),
            judge(
                "unplugged", "drive", "Stays off unplugged", nominal=v_leak / 30, worst=v_leak, limit=V_BE_OFF, unit="V", sense="at most",
                corner="75 °C", sentence=f"Leakage lifts the base to {show(v_leak, 'V')}." if self.r_pull else "Nothing holds the base: a touch may turn it on.",
                working=Working(formula="V_{B} = I_{leak,hot} · R_{pull}", substituted=f"= {show(card.leakage * 30, 'A')} · {show(pulled, 'Ω')} = {show(v_leak, 'V')}", reason="Leakage doubles every ten kelvins: thirty times at 75 °C."),
                remedy=fix,
            ),
        ]  # fmt: skip
        return tuple(found)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        base = "base"
        yield Resistor(name=view.refs["series"], a=view.nodes["in"], b=base, resistance=self.r_base * tol, tolerance=view.tolerance)
        if self.r_pull is not None:
            yield Resistor(name=view.refs["pull"], a=base, b="0", resistance=self.r_pull * tol, tolerance=view.tolerance)
        params = npn_rule(self._card(view), corner.celsius, corner.spread)
        yield Bipolar(name=view.refs["switch"], c=view.nodes["out"], b=base, e="0", **params)  # type: ignore[arg-type]

    def draw(self, pen: Pen, view: View) -> None:
        draw_low_side(pen, view, "npn", ("b", "c", "e"), "base", self.r_base, "r_base", self.r_pull)

    def parts(self, view: View) -> tuple[Part, ...]:
        card = self._card(view)
        top = view.offer.high.high if view.offer else 0.0
        found = [resistor_part(view, view.refs["series"], "Base resistor", self.r_base, view.path("r_base"), top**2 / self.r_base)]
        if self.r_pull is not None:
            found.append(resistor_part(view, view.refs["pull"], "Base pull-down", self.r_pull, view.path("r_pull"), 0.7**2 / self.r_pull))
        found.append(
            Part(
                ref=view.refs["switch"], title=card.title, value=f"{show(card.v_ceo, 'V')}, {show(card.current, 'A')}", kind="npn", card=card.id,
                legs=card.legs, face=card.face, stock=view.drawer.count(card.id), price=card.price, path=view.path("card"),
            )
        )  # fmt: skip
        return tuple(found)

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="base",
                title="Base to 0 V",
                red="base strip",
                black="0 V rail",
                quantity="voltage",
                node="base",
                states=("high", "floating"),
            ),
            Probe(
                id="collector",
                title="Collector to 0 V",
                red="collector strip",
                black="0 V rail",
                quantity="voltage",
                node=view.nodes["out"],
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return low_side_watches(view, "base")

    def steps(self, view: View) -> tuple[Step, ...]:
        return switch_steps(
            view, view.refs["switch"], view.refs["series"], view.refs.get("pull"), self._card(view).legs, "base", "collector",
            "Red on the base: black on either other leg shows a junction, the emitter's a little higher. Reversed, OL.", self.r_pull, self.r_base,
        )  # fmt: skip


def draw_low_side(
    pen: Pen, view: View, symbol: str, legs: tuple[str, str, str], control: str, series: float, series_field: str, pull: float | None
) -> None:
    """A low-side switch: series resistor, pull-down, transistor with its output going up to `OUTPUT_Y`."""
    x0, y = pen.output
    g, d, s = legs
    r1, q = view.refs["series"], view.refs["switch"]
    at = pen.place(r1, "resistor", x0 + 3.8, y, turn=270, label=r1, value=show_part(series), path=view.path(series_field), side="below")
    pen.wire((x0, y), at["a"], part=r1)
    node = (x0 + 7.8, y)
    t = pen.place(q, symbol, x0 + 12.6, y, label=q, value="", path=view.path("card"))
    pen.wire(at["b"], t[g], part=r1)
    if pull is not None:
        r2 = view.refs["pull"]
        p = pen.place(r2, "resistor", node[0], 23.0, label=r2, value=show_part(pull), path=view.path("r_pull"))
        pen.wire(node, p["a"], part=r2)
        pen.wire(p["b"], (node[0], HEIGHT), part=r2)
    drain = (t[d][0], OUTPUT_Y)
    pen.wire(t[d], drain, load=True, part=q)
    pen.wire(t[s], (t[s][0], HEIGHT), load=True, part=q)
    pen.tag(control, "V", node[0] - 0.6, SIGNAL_Y - 2.8)
    pen.tag(view.nodes["out"], "V", drain[0] - 3.4, OUTPUT_Y)
    pen.output = drain
    pen.x = drain[0]
