"""Freewheel path of a coil: none, a diode, a Schottky, a diode and a zener, or a resistor and a capacitor.

When the switch opens, the coil's current goes on. A plain diode holds the coil at about −0.8 V, so the
current dies slowly; a zener in series lets the voltage rise and the current die fast, at the price of a
higher peak on the switch; a resistor and capacitor let it ring out. Release time from L·di/dt + R·i + V =
0: t = (L/R)·ln((I·R + V)/(I_drop·R + V)).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

import numpy as np

from ..cards.card import CapacitorCard, DiodeCard, ZenerCard
from ..cards.derive import capacitor as capacitor_rule
from ..cards.derive import diode as diode_rule
from ..cards.derive import zener as zener_rule
from ..circuit.devices import Capacitor, Device, Diode, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Clamp, Corner, Demand, Part, Schedule, Stage, Switch, View, Way
from .drawing import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from .drive import card_part, resistor_part
from .findings import Change, Remedy, Verdict, Working, judge
from .wording import Say, Sentence, Word

SCHOOLS = {
    "none": "None",
    "diode": "Plain diode",
    "schottky": "Schottky",
    "diode_zener": "Diode + zener",
    "rc": "RC across it",
}
School = Literal["none", "diode", "schottky", "diode_zener", "rc"]


class Freewheel(Stage):
    role = "guard"
    title = "Freewheel"
    purpose = "A path for the coil's current when the switch opens."
    choose = "Any coil, motor or solenoid."
    avoid = "Nothing in the load stores energy."
    letters = {"diode": "D", "zener": "Z", "damper": "R", "store": "C"}
    cards = {"diode": DiodeCard, "schottky": DiodeCard, "zener": ZenerCard, "capacitor": CapacitorCard}

    kind: Literal["freewheel"] = "freewheel"
    school: School = "diode"
    diode: str = "diode-1a-100v"
    schottky: str = "schottky-1a-40v"
    zener: str = "zener-15v"
    capacitor: str = "film-100n-100v"
    r_damper: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0
    turned: bool = False  # the diode the wrong way round, as it may have been fitted
    release_within: Annotated[float, Q("s", 1e-4, 10.0)] = 12e-3

    @property
    def summary(self) -> str:
        return SCHOOLS[self.school]

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        if view.demand is None or not view.demand.inductive:
            return {}
        name = view.demand.name
        what = (
            "the contact opens within"
            if name == "coil"
            else f"the {name} lets go within"
            if view.demand.drop_out > 0
            else f"the {name}'s current is gone within"
        )
        return {
            "guard": (
                Word(text=f"When the switch opens, {what}"),
                say.field("release_within", origin="wanted"),
            )
        }

    def ways(self, view: View) -> tuple[Way, ...]:
        cards = {
            "none": "",
            "diode": self.diode,
            "schottky": self.schottky,
            "diode_zener": self.zener,
            "rc": self.capacitor,
        }
        return tuple(Way("school", school, title, cards[school]) for school, title in SCHOOLS.items())

    def fitted(self) -> tuple[str, ...]:
        return {
            "none": (),
            "diode": ("diode",),
            "schottky": ("diode",),
            "diode_zener": ("diode", "zener"),
            "rc": ("damper", "store"),
        }[self.school]

    def _diode(self, view: View) -> DiodeCard:
        name = "schottky" if self.school == "schottky" else "diode"
        return view.drawer.card(getattr(self, name), DiodeCard, view.path(name))

    def _zener(self, view: View) -> ZenerCard:
        return view.drawer.card(self.zener, ZenerCard, view.path("zener"))

    def _forward(self, view: View) -> float:
        """Forward voltage near the coil's current [V]."""
        card, demand = self._diode(view), view.demand
        current = view.high / demand.typical if demand else 0.1
        return card.volts_near(current)

    def _ring(self, view: View, demand: Demand, cold: bool) -> tuple[float, float]:
        """Peak above the supply [V] and time until the current stays under drop-out [s], with R and C across
        the coil.

        L·q'' + (R + R_s)·q' + q/C = 0 from q = 0, q' = I, solved in closed form; the coil's volts are
        R_s·q' + q/C.
        """
        card = view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))
        r = demand.cold if cold else demand.typical
        current, c, ell = view.high / r, card.value, demand.inductance
        total = r + self.r_damper
        a = total / (2 * ell)
        root = np.sqrt(complex(a * a - 1 / (ell * c)))
        s1, s2 = -a + root, -a - root
        t = np.concatenate([[0.0], np.geomspace(1e-7, 12 * max(2 * ell / total, total * c), 6000)])
        i = np.real(current * (s1 * np.exp(s1 * t) - s2 * np.exp(s2 * t)) / (s1 - s2))
        q = np.real(current * (np.exp(s1 * t) - np.exp(s2 * t)) / (s1 - s2))
        above = np.flatnonzero(np.abs(i) > max(demand.drop_out, 0.01 * current))
        return float(np.max(self.r_damper * i + q / c)), float(t[above[-1]]) if len(above) else 0.0

    def clamp(self, view: View) -> Clamp:
        if self.school == "none":
            return Clamp(fitted=False, volts=math.inf, volts_worst=math.inf)
        if self.school == "rc":
            if view.demand is None or not view.demand.inductive:
                return Clamp(fitted=True, volts=0.0, volts_worst=0.0)
            return Clamp(
                fitted=True,
                volts=self._ring(view, view.demand, False)[0],
                volts_worst=self._ring(view, view.demand, True)[0],
            )
        v, extra, worst = self._forward(view), 0.0, 0.0
        if self.school == "diode_zener":
            card = self._zener(view)
            current = view.high / view.demand.typical if view.demand else 0.0
            slope = card.impedance * card.test_current * math.log(max(current / card.test_current, 1.0))
            extra, worst = card.voltage + slope, card.voltage * (1 + card.tolerance) + slope
        return Clamp(fitted=True, volts=v + extra, volts_worst=v * 1.1 + worst)

    def release_time(self, supply: float, resistance: float, demand: Demand, volts: float) -> float:
        """From the switch opening until the contact opens [s]; `volts` is what the path drops, inf for
        none.
        """
        start, end = supply, demand.drop_out * resistance
        if start <= end:
            return demand.release_travel
        decay = (
            0.0
            if math.isinf(volts)
            else demand.inductance / resistance * math.log((start + volts) / (end + volts))
        )
        return decay + demand.release_travel

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        demand, switch = view.demand, view.switch
        if view.ac and self.school in ("diode", "schottky"):
            return (self._alternating(view),)
        if demand is None or switch is None or not demand.inductive:
            return ()
        found = [self._release(view, demand, switch), self._peak(view, demand, switch)]
        if self.school == "none":
            return tuple(found)
        if self.school == "rc":
            return (*found, self._store(view))
        card = self._diode(view)
        if self.turned:
            found.append(self._way(view, card))
        current, current_worst = view.high / demand.typical, view.high / demand.cold
        pick = Remedy(text="Pick a diode for more current.")
        found += [
            judge(
                "freewheel_current",
                "guard",
                "Freewheel diode current",
                nominal=current,
                worst=current_worst,
                limit=card.current,
                unit="A",
                sense="at most",
                corner="supply high, coil cold",
                sentence=f"{show(current_worst, 'A')} of {show(card.current, 'A')}, each time it lets go.",
                working=Working(
                    formula="I_{D} = V_{high} / R_{cold}",
                    substituted=f"= {view.high:.3g} / {show(demand.cold, 'Ω')} = {show(current_worst, 'A')}",
                    reason="The coil's current goes on through the diode from the first moment.",
                ),
                remedy=pick,
            ),
            judge(
                "freewheel_reverse",
                "guard",
                "Freewheel diode reverse",
                nominal=1.5 * view.high,
                worst=1.5 * view.high,
                limit=card.reverse,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"Wants {show(1.5 * view.high, 'V')}, rated {show(card.reverse, 'V')}.",
                working=Working(
                    formula="V_{R} ≥ 1.5 · V_{high}",
                    substituted=f"= 1.5 · {view.high:.3g} = {show(1.5 * view.high, 'V')}",
                    reason="While the coil is on, the diode holds off the whole supply, spikes included.",
                ),
                remedy=Remedy(text="Pick a diode for more reverse voltage."),
            ),
        ]
        return tuple(found)

    def _alternating(self, view: View) -> Verdict:
        crest = view.high * math.sqrt(2)
        return judge(
            "freewheel_ac",
            "guard",
            "Diode on alternating current",
            nominal=crest,
            worst=crest,
            limit=0.5,
            unit="V",
            sense="at most",
            corner="every second half wave",
            sentence=f"Every second half wave, {show(crest, 'V')} drive current through it past the load.",
            working=Working(
                formula="V_{forward} ≤ 0.5 V",
                substituted=f"√2 · {view.high:.3g} = {show(crest, 'V')}",
                reason=(
                    "A freewheel diode is for direct current: on AC it conducts by itself and shorts the "
                    "load's half waves."
                ),
            ),
            remedy=Remedy(
                text="Take it out, or use a resistor and capacitor.",
                changes=(Change(path=view.path("school"), value="rc"),),
            ),
        )

    def _way(self, view: View, card: DiodeCard) -> Verdict:
        shorts = view.high / max(view.source + 0.05, 1e-3)
        return judge(
            "freewheel_way",
            "guard",
            "Freewheel diode the right way round",
            nominal=shorts,
            worst=shorts,
            limit=card.surge,
            unit="A",
            sense="at most",
            corner="switch on",
            sentence=f"Turned round, it shorts the supply through the switch: {show(shorts, 'A')}.",
            working=Working(
                formula="I = (V − V_{F}) / R_{supply}",
                substituted=f"= {view.high:.3g} / {show(view.source + 0.05, 'Ω')}",
                reason="Its band belongs to the positive side: then it blocks while the coil is on.",
            ),
            remedy=Remedy(
                text="Turn it round: band to the positive side.",
                changes=(Change(path=view.path("turned"), value=False),),
            ),
        )

    def _store(self, view: View) -> Verdict:
        card = view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))
        volts = self.clamp(view).volts_worst
        return judge(
            "freewheel_store",
            "guard",
            "Volts across the capacitor",
            nominal=volts,
            worst=volts,
            limit=card.voltage,
            unit="V",
            sense="at most",
            corner="supply high, coil cold",
            sentence=f"{show(volts, 'V')} of {show(card.voltage, 'V')}.",
            working=Working(
                formula="½·L·I^2 → ½·C·V^2",
                substituted=f"{show(card.value, 'F')} behind {show(self.r_damper, 'Ω')}: {show(volts, 'V')}",
                reason="The coil's energy goes into the capacitor before the resistors burn it.",
            ),
            remedy=Remedy(text="Take a bigger capacitor, or one for more volts."),
        )

    def _release(self, view: View, demand: Demand, switch: Switch) -> Verdict:
        clamp = self.clamp(view)
        volts = clamp.volts if clamp.fitted else max(switch.breakdown - view.high, 0.1)
        nominal = self.release_time(view.high, demand.typical, demand, volts)
        worst = self.release_time(view.high, demand.cold, demand, volts * 0.95)
        if self.school == "rc":
            nominal, worst = (
                self._ring(view, demand, cold)[1] + demand.release_travel for cold in (False, True)
            )
        ratio = (view.high + volts) / (demand.drop_out * demand.typical + volts)
        tau = demand.inductance / demand.typical
        return judge(
            "release",
            "guard",
            "Release time",
            nominal=nominal,
            worst=worst,
            limit=self.release_within,
            unit="s",
            sense="at most",
            corner=f"full {view.supply_name}, coil cold, released by its must-release voltage"
            if demand.drop_out > 0
            else f"full {view.supply_name}, until no current is left",
            sentence=f"{show(worst, 's')}, you asked for under {show(self.release_within, 's')}.",
            working=Working(
                formula="t = L/R · ln((V + V_{F}) / (V_{drop} + V_{F})) + travel",
                substituted=(
                    f"= {show(tau, 's')} · ln({ratio:.3g}) + {show(demand.release_travel, 's')} = "
                    f"{show(nominal, 's')}, coldest {show(worst, 's')}"
                ),
                reason=(
                    f"The path holds only {show(volts, 'V')} against the {demand.name}. More volts there "
                    "empty it sooner."
                ),
            ),
            remedy=Remedy(text="Add a zener in the freewheel path, if the switch's breakdown leaves room."),
        )

    def _peak(self, view: View, demand: Demand, switch: Switch) -> Verdict:
        current = view.high / demand.cold
        energy = 0.5 * demand.inductance * current**2
        clamp = self.clamp(view)
        if clamp.fitted:
            nominal, worst = view.high + clamp.volts, view.high + clamp.volts_worst
            return judge(
                "peak",
                "guard",
                f"{switch.output.capitalize()} voltage peak",
                nominal=nominal,
                worst=worst,
                limit=switch.breakdown,
                unit="V",
                sense="at most",
                corner="supply high, clamp at its highest",
                sentence=f"{show(worst, 'V')} of {show(switch.breakdown, 'V')}, held by the freewheel path.",
                working=Working(
                    formula="V_{peak} = V_{high} + V_{F} + V_{Z}",
                    substituted=f"= {view.high:.3g} + {clamp.volts_worst:.3g} = {show(worst, 'V')}",
                    reason=f"20 % under {switch.ref}'s breakdown is kept for what nobody counted.",
                ),
                remedy=Remedy(text="Use a lower zener, or a switch that stands more volts."),
            )
        # Without a path the energy goes into the switch, which breaks down; clamped by nothing else.
        boost = switch.breakdown / max(switch.breakdown - view.high, 1e-3)
        if switch.avalanche_energy > 0:
            return judge(
                "peak",
                "guard",
                "Avalanche energy",
                nominal=energy * boost,
                worst=energy * boost,
                limit=switch.avalanche_energy,
                unit="J",
                sense="at most",
                corner="supply high, coil cold",
                sentence=(
                    f"{show(energy * boost, 'J')} of {show(switch.avalanche_energy, 'J')} into "
                    f"{switch.ref}, each time."
                ),
                working=Working(
                    formula="E = ½·L·I^2 · V_{B} / (V_{B} − V_{high})",
                    substituted=(
                        f"= ½ · {show(demand.inductance, 'H')} · {show(current, 'A')}² · {boost:.3g} = "
                        f"{show(energy * boost, 'J')}"
                    ),
                    reason=(
                        f"{switch.ref} is rated to break down at {show(switch.breakdown, 'V')} and take "
                        "this; the supply adds to the coil's energy meanwhile."
                    ),
                ),
                remedy=Remedy(text="Fit a diode across the coil."),
            )
        free = view.high + current * math.sqrt(demand.inductance / switch.capacitance)
        return judge(
            "peak",
            "guard",
            f"{switch.output.capitalize()} voltage peak",
            nominal=free,
            worst=free,
            limit=switch.breakdown,
            unit="V",
            sense="at most",
            corner="supply high, no freewheel path",
            sentence=(
                f"Breaks {switch.ref} down at {show(switch.breakdown, 'V')}; {show(energy, 'J')} go into "
                "it each time."
            ),
            working=Working(
                formula="V = V_{high} + I·√(L/C), E = ½·L·I^2",
                substituted=f"= {show(free, 'V')} if nothing broke down, {show(energy, 'J')}",
                reason=(
                    "The coil's current has nowhere to go but through the switch, which is not rated for it."
                ),
            ),
            remedy=Remedy(text="Fit a diode across the coil: band to the + rail."),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        if self.school == "none":
            return
        top, bottom = view.top, view.bottom
        if self.school == "rc":
            card = view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))
            rail, out = (top, bottom) if view.side == "low" else (bottom, top)
            yield Resistor(
                name=view.refs["damper"],
                a=rail,
                b="damped",
                resistance=self.r_damper * (1 + corner.resistors),
                tolerance=view.tolerance,
            )
            yield Capacitor(name=view.refs["store"], a="damped", b=out, **capacitor_rule(card))
            return
        middle = top
        if self.school == "diode_zener":
            yield Diode(
                name=view.refs["zener"],
                a=top,
                k="freewheel",
                **zener_rule(self._zener(view), corner.celsius, corner.spread),
            )
            middle = "freewheel"
        a, k = (middle, bottom) if self.turned else (bottom, middle)
        yield Diode(name=view.refs["diode"], a=a, k=k, **diode_rule(self._diode(view), corner.celsius))

    def draw(self, pen: Pen, view: View) -> None:
        if self.school == "none":
            pen.x = pen.x + 2.5
            return
        x, low = pen.x + 4.2, view.side == "low"
        level = OUTPUT_Y if low else HIGH_Y
        if self.school == "rc":
            self._draw_ring(pen, view, x + 6.0, level)
        else:
            self._draw_diodes(pen, view, x, *((0.0, OUTPUT_Y) if low else (HIGH_Y, HEIGHT)))
        pen.wire(pen.output, (x, level), load=True, part="load")
        pen.output, pen.x = (x, level), x + (9.0 if self.school == "rc" else 3.0)

    def _draw_ring(self, pen: Pen, view: View, x: float, level: float) -> None:
        """Resistor from the rail, capacitor across to the output."""
        r, c, low = view.refs["damper"], view.refs["store"], view.side == "low"
        rail, y = (0.0, level - 2.5) if low else (HEIGHT, level + 2.5)
        card = view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))
        a = pen.place(
            r,
            "resistor",
            x,
            y - 3.0 if low else y + 3.0,
            turn=0 if low else 180,
            label=r,
            value=show_part(self.r_damper),
            path=view.path("r_damper"),
        )
        b = pen.place(
            c,
            "capacitor",
            x - 3.0,
            y,
            turn=90,
            label=c,
            value=show_part(card.value),
            path=view.path("capacitor"),
            side="above" if low else "below",
        )
        pen.wire((x, rail), a["a"], part=r)
        pen.wire(b["b"], (x - 6.0, level), part=c)

    def _draw_diodes(self, pen: Pen, view: View, x: float, top: float, bottom: float) -> None:
        """A diode in a column, with a zener above it where there is one."""
        d, amps = view.refs["diode"], show(self._diode(view).current, "A")
        end, y = (x, top), (top + bottom) / 2
        if "zener" in view.refs:  # cathode to cathode
            z, y = view.refs["zener"], top + 7.0
            up = pen.place(
                z,
                "zener",
                x,
                top + 2.4,
                turn=180,
                label=z,
                value=show(self._zener(view).voltage, "V"),
                path=view.path("school"),
                side="left",
            )
            pen.wire(end, up["a"], part=z)
            end = up["k"]
        at = pen.place(
            d,
            "schottky" if self.school == "schottky" else "diode",
            x,
            y,
            label=d,
            value=amps,
            path=view.path("school"),
            side="left",
        )
        pen.wire(at["k"], end, part=d)
        pen.wire(at["a"], (x, bottom), part=d)

    def parts(self, view: View) -> tuple[Part, ...]:
        fields = {
            "diode": "schottky" if self.school == "schottky" else "diode",
            "zener": "zener",
            "store": "capacitor",
        }
        return tuple(
            resistor_part(view, view.refs[n], "Damping resistor", self.r_damper, view.path("r_damper"), 0.05)
            if n == "damper"
            else card_part(view, self, n, fields[n])
            for n in self.fitted()
        )
