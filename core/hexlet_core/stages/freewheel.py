"""Freewheel path of a coil: none, a diode, a Schottky, or a diode and a zener.

When the switch opens, the coil's current goes on. A plain diode holds the coil at about −0.8 V, so the
current dies slowly; a zener in series lets the voltage rise and the current die fast, at the price of a
higher peak on the switch. Release time from L·di/dt + R·i + V = 0: t = (L/R)·ln((I·R + V)/(I_drop·R + V)).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import DiodeCard, ZenerCard
from ..cards.derive import diode as diode_rule
from ..cards.derive import zener as zener_rule
from ..circuit.devices import Device, Diode
from ..fields import Q
from ..quantity import show
from .contract import Clamp, Corner, Demand, Part, Schedule, Stage, Step, Switch, View, Way
from .drawing import OUTPUT_Y, Pen
from .findings import Remedy, Verdict, Working, judge
from .wording import Say, Sentence, Word

SCHOOLS = {
    "none": "None",
    "diode": "Plain diode",
    "schottky": "Schottky",
    "diode_zener": "Diode + zener",
}
School = Literal["none", "diode", "schottky", "diode_zener"]


class Freewheel(Stage):
    role = "guard"
    title = "Freewheel"
    purpose = "A path for the coil's current when the switch opens."
    choose = "Any coil, motor or solenoid."
    avoid = "Nothing in the load stores energy."
    letters = {"diode": "D", "zener": "Z"}

    kind: Literal["freewheel"] = "freewheel"
    school: School = "diode"
    diode: str = "diode-1a-100v"
    schottky: str = "schottky-1a-40v"
    zener: str = "zener-15v"
    release_within: Annotated[float, Q("s", 1e-4, 10.0)] = 12e-3

    @property
    def summary(self) -> str:
        return SCHOOLS[self.school]

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        if view.demand is None or not view.demand.inductive:
            return {}
        what = "the contact opens within" if view.demand.drop_out > 0 else f"the {view.demand.name}'s current is gone within"
        return {"guard": (Word(text=f"When the pin drops, {what}"), say.field("release_within", origin="wanted"))}

    def ways(self, view: View) -> tuple[Way, ...]:
        cards = {"none": "", "diode": self.diode, "schottky": self.schottky, "diode_zener": self.zener}
        return tuple(Way("school", school, title, cards[school]) for school, title in SCHOOLS.items())

    def fitted(self) -> tuple[str, ...]:
        return {"none": (), "diode": ("diode",), "schottky": ("diode",), "diode_zener": ("diode", "zener")}[self.school]

    def _diode(self, view: View) -> DiodeCard:
        name = "schottky" if self.school == "schottky" else "diode"
        return view.drawer.card(getattr(self, name), DiodeCard, view.path(name))

    def _zener(self, view: View) -> ZenerCard:
        return view.drawer.card(self.zener, ZenerCard, view.path("zener"))

    def _forward(self, view: View) -> float:
        """Forward voltage near the coil's current [V]."""
        card, demand = self._diode(view), view.demand
        current = view.high / demand.typical if demand else 0.1
        return min(card.forward, key=lambda p: abs(math.log(p.current / current))).voltage

    def clamp(self, view: View) -> Clamp:
        if self.school == "none":
            return Clamp(fitted=False, volts=math.inf, volts_worst=math.inf)
        v, extra, worst = self._forward(view), 0.0, 0.0
        if self.school == "diode_zener":
            card = self._zener(view)
            current = view.high / view.demand.typical if view.demand else 0.0
            slope = card.impedance * card.test_current * math.log(max(current / card.test_current, 1.0))
            extra, worst = card.voltage + slope, card.voltage * (1 + card.tolerance) + slope
        return Clamp(fitted=True, volts=v + extra, volts_worst=v * 1.1 + worst)

    def release_time(self, supply: float, resistance: float, demand: Demand, volts: float) -> float:
        """From the switch opening until the contact opens [s]; `volts` is what the path drops, inf for none."""
        start, end = supply, demand.drop_out * resistance
        if start <= end:
            return demand.release_travel
        decay = 0.0 if math.isinf(volts) else demand.inductance / resistance * math.log((start + volts) / (end + volts))
        return decay + demand.release_travel

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        demand, switch = view.demand, view.switch
        if demand is None or switch is None or not demand.inductive:
            return ()
        found = [self._release(view, demand, switch), self._peak(view, demand, switch)]
        if self.school == "none":
            return tuple(found)
        card = self._diode(view)
        current, current_worst = view.high / demand.typical, view.high / demand.cold
        pick = Remedy(text="Pick a diode for more current.")
        found += [
            judge(
                "freewheel_current", "guard", "Freewheel diode current", nominal=current, worst=current_worst, limit=card.current, unit="A",
                sense="at most", corner="supply high, coil cold", sentence=f"{show(current_worst, 'A')} of {show(card.current, 'A')}, each time it lets go.",
                working=Working(formula="I_{D} = V_{high} / R_{cold}", substituted=f"= {view.high:.3g} / {show(demand.cold, 'Ω')} = {show(current_worst, 'A')}", reason="The coil's current goes on through the diode from the first moment."),
                remedy=pick,
            ),
            judge(
                "freewheel_reverse", "guard", "Freewheel diode reverse", nominal=1.5 * view.high, worst=1.5 * view.high, limit=card.reverse, unit="V",
                sense="at most", corner="supply high", sentence=f"Wants {show(1.5 * view.high, 'V')}, rated {show(card.reverse, 'V')}.",
                working=Working(formula="V_{R} ≥ 1.5 · V_{high}", substituted=f"= 1.5 · {view.high:.3g} = {show(1.5 * view.high, 'V')}", reason="While the coil is on, the diode holds off the whole supply, spikes included."),
                remedy=Remedy(text="Pick a diode for more reverse voltage."),
            ),
        ]  # fmt: skip
        return tuple(found)

    def _release(self, view: View, demand: Demand, switch: Switch) -> Verdict:
        clamp = self.clamp(view)
        volts = clamp.volts if clamp.fitted else max(switch.breakdown - view.high, 0.1)
        nominal = self.release_time(view.high, demand.typical, demand, volts)
        worst = self.release_time(view.high, demand.cold, demand, volts * 0.95)
        ratio = (view.high + volts) / (demand.drop_out * demand.typical + volts)
        tau = demand.inductance / demand.typical
        return judge(
            "release", "guard", "Release time", nominal=nominal, worst=worst, limit=self.release_within, unit="s", sense="at most",
            corner=f"full {view.supply_name}, coil cold, released by its must-release voltage" if demand.drop_out > 0 else f"full {view.supply_name}, until no current is left",
            sentence=f"{show(worst, 's')}, you asked for under {show(self.release_within, 's')}.",
            working=Working(
                formula="t = L/R · ln((V + V_{F}) / (V_{drop} + V_{F})) + travel",
                substituted=f"= {show(tau, 's')} · ln({ratio:.3g}) + {show(demand.release_travel, 's')} = {show(nominal, 's')}, coldest {show(worst, 's')}",
                reason=f"The path holds only {show(volts, 'V')} against the {demand.name}. More volts there empty it sooner.",
            ),
            remedy=Remedy(text="Add a zener in the freewheel path, if the switch's breakdown leaves room."),
        )  # fmt: skip

    def _peak(self, view: View, demand: Demand, switch: Switch) -> Verdict:
        current = view.high / demand.cold
        energy = 0.5 * demand.inductance * current**2
        clamp = self.clamp(view)
        if clamp.fitted:
            nominal, worst = view.high + clamp.volts, view.high + clamp.volts_worst
            return judge(
                "peak", "guard", f"{switch.output.capitalize()} voltage peak", nominal=nominal, worst=worst, limit=switch.breakdown, unit="V",
                sense="at most", corner="supply high, clamp at its highest", sentence=f"{show(worst, 'V')} of {show(switch.breakdown, 'V')}, held by the freewheel path.",
                working=Working(formula="V_{peak} = V_{high} + V_{F} + V_{Z}", substituted=f"= {view.high:.3g} + {clamp.volts_worst:.3g} = {show(worst, 'V')}", reason=f"20 % under {switch.ref}'s breakdown is kept for what nobody counted."),
                remedy=Remedy(text="Use a lower zener, or a switch that stands more volts."),
            )  # fmt: skip
        # Without a path the energy goes into the switch, which breaks down; clamped by nothing else.
        boost = switch.breakdown / max(switch.breakdown - view.high, 1e-3)
        if switch.avalanche_energy > 0:
            return judge(
                "peak", "guard", "Avalanche energy", nominal=energy * boost, worst=energy * boost, limit=switch.avalanche_energy, unit="J", sense="at most",
                corner="supply high, coil cold", sentence=f"{show(energy * boost, 'J')} of {show(switch.avalanche_energy, 'J')} into {switch.ref}, each time.",
                working=Working(formula="E = ½·L·I^2 · V_{B} / (V_{B} − V_{high})", substituted=f"= ½ · {show(demand.inductance, 'H')} · {show(current, 'A')}² · {boost:.3g} = {show(energy * boost, 'J')}", reason=f"{switch.ref} is rated to break down at {show(switch.breakdown, 'V')} and take this; the supply adds to the coil's energy meanwhile."),
                remedy=Remedy(text="Fit a diode across the coil."),
            )  # fmt: skip
        free = view.high + current * math.sqrt(demand.inductance / switch.capacitance)
        return judge(
            "peak", "guard", f"{switch.output.capitalize()} voltage peak", nominal=free, worst=free, limit=switch.breakdown, unit="V", sense="at most",
            corner="supply high, no freewheel path", sentence=f"Breaks {switch.ref} down at {show(switch.breakdown, 'V')}; {show(energy, 'J')} go into it each time.",
            working=Working(formula="V = V_{high} + I·√(L/C), E = ½·L·I^2", substituted=f"= {show(free, 'V')} if nothing broke down, {show(energy, 'J')}", reason="The coil's current has nowhere to go but through the switch, which is not rated for it."),
            remedy=Remedy(text="Fit a diode across the coil: band to the + rail."),
        )  # fmt: skip

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        if self.school == "none":
            return
        out, name = view.nodes["out"], view.refs["diode"]
        top = "plus"
        if self.school == "diode_zener":
            yield Diode(name=view.refs["zener"], a="plus", k="freewheel", **zener_rule(self._zener(view), corner.celsius, corner.spread))  # type: ignore[arg-type]
            top = "freewheel"
        yield Diode(name=name, a=out, k=top, **diode_rule(self._diode(view), corner.celsius))  # type: ignore[arg-type]

    def draw(self, pen: Pen, view: View) -> None:
        x = pen.x + 4.2
        if self.school == "none":
            pen.x = pen.x + 2.5
            return
        d, card = view.refs["diode"], self._diode(view)
        symbol = "schottky" if self.school == "schottky" else "diode"
        top: tuple[float, float] = (x, 0.0)
        y = 4.5
        if self.school == "diode_zener":
            # Both in one column, cathode to cathode.
            z, y = view.refs["zener"], 7.0
            up = pen.place(
                z, "zener", x, 2.4, turn=180, label=z, value=show(self._zener(view).voltage, "V"), path=view.path("school"), side="left"
            )
            pen.wire((x, 0.0), up["a"], part=z)
            top = up["k"]
        at = pen.place(d, symbol, x, y, label=d, value=show(card.current, "A"), path=view.path("school"), side="left")
        pen.wire(at["k"], top, part=d)
        pen.wire(at["a"], (x, OUTPUT_Y), part=d)
        pen.wire(pen.output, (x, OUTPUT_Y), load=True, part="load")
        pen.output, pen.x = (x, OUTPUT_Y), x + 3.0

    def parts(self, view: View) -> tuple[Part, ...]:
        if self.school == "none":
            return ()
        cards: list[tuple[str, DiodeCard | ZenerCard]] = [("diode", self._diode(view))]
        if self.school == "diode_zener":
            cards.append(("zener", self._zener(view)))
        return tuple(
            Part(
                ref=view.refs[name], title=card.title, value=show(card.reverse, "V") if isinstance(card, DiodeCard) else show(card.voltage, "V"),
                kind=card.kind, card=card.id, legs=card.legs, face=card.face, stock=view.drawer.count(card.id), price=card.price, path=view.path("school"),
            )
            for name, card in cards
        )  # fmt: skip

    def steps(self, view: View) -> tuple[Step, ...]:
        if self.school == "none":
            return ()
        d, out = view.refs["diode"], view.switch.output if view.switch else "output"
        if self.school == "diode_zener":
            z = view.refs["zener"]
            return (
                Step(id="place_zener", action="place", title=f"{z}, band away from the + rail", part=z, detail=f"{z} from the + rail to a free strip, its band on the free strip."),
                Step(id="place_diode", action="place", title=f"{d}, band to {z}'s band", part=d, detail=f"{d} from the {out}'s strip to that strip, band on that strip."),
                Step(id="diode_check", action="check", title=f"{d}, one way only", part=d, detail="Diode mode, red on the unbanded end: a junction. Swapped: OL.", expect="0.50 V to 0.75 V"),
            )  # fmt: skip
        low, high = ("0.15", "0.40") if self.school == "schottky" else ("0.50", "0.75")
        return (
            Step(id="place_diode", action="place", title=f"{d}, band to the + rail", part=d, detail=f"{d} from the {out}'s strip to the + rail, band at the + rail."),
            Step(id="diode_check", action="check", title=f"{d}, one way only", part=d, detail="Diode mode, red on the unbanded end: a junction. Swapped: OL.", expect=f"{low} V to {high} V"),
        )  # fmt: skip
