"""Guards of one or two parts at the switch's output: snubber, diode across the switch, back-feed diode, and a
capacitor at the rail.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import CapacitorCard, DiodeCard
from ..cards.derive import capacitor as capacitor_rule
from ..cards.derive import diode as diode_rule
from ..circuit.devices import Capacitor, Device, Diode, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Part, Schedule, Stage, View
from .drawing import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from .drive import card_part, resistor_part
from .findings import Remedy, Verdict, Working, judge
from .rail_guard import steady
from .wording import Say, Sentence, Word


def rail_side(view: View) -> tuple[str, float, float]:
    """The switch's own rail: its node, its height, and the output's height."""
    return ("0", HEIGHT, OUTPUT_Y) if view.side == "low" else ("plus", 0.0, HIGH_Y)


def through(pen: Pen, view: View, x: float) -> tuple[float, float]:
    """Lead the output's line on to column `x`."""
    level = rail_side(view)[2]
    pen.wire(pen.output, (x, level), load=True, part="load")
    pen.output = (x, level)
    return (x, level)


class SwitchSnubber(Stage):
    role = "guard"
    title = "Snubber across the switch"
    purpose = "A resistor and capacitor take the edge off what the switch or contact breaks."
    choose = (
        "A contact that breaks a coil or motor, brush noise, or a peak to be tamed without slowing release."
    )
    avoid = "It leaks on AC: a small load may not go fully off."
    letters = {"damper": "R", "store": "C"}
    cards = {"capacitor": CapacitorCard}

    kind: Literal["switch_snubber"] = "switch_snubber"
    capacitor: str = "film-100n-100v"
    resistance: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0

    @property
    def summary(self) -> str:
        return f"{show_part(self.resistance)} Ω and a capacitor"

    def _card(self, view: View) -> CapacitorCard:
        return view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))

    def snub(self, view: View) -> float:
        return self._card(view).value

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="The switch is snubbed by"),
                say.field("resistance"),
                Word(text=f"and {show(self._card(view).value, 'F')}"),
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, amps = self._card(view), max(steady(view), 1e-6)
        step, close = amps * self.resistance, view.high / self.resistance
        most = max(amps, 0.2)
        ell = view.demand.inductance if view.demand else 0.0
        held = "freewheel" in view.guarded
        peak = view.high if held or ell <= 0 else view.high + amps * math.sqrt(ell / card.value)
        return (
            judge(
                "snub_step",
                "guard",
                "Snubber takes over",
                nominal=step,
                worst=step,
                limit=max(view.high, 1.0),
                unit="V",
                sense="at most",
                corner="supply high, just opened",
                sentence=f"{show(amps, 'A')} through {show(self.resistance, 'Ω')} lift it {show(step, 'V')}.",
                working=Working(
                    formula="V = I · R ≤ V_{high}",
                    substituted=f"= {show(amps, 'A')} · {show(self.resistance, 'Ω')}",
                    reason="At the first moment the load's current flows through the snubber's resistor.",
                ),
                remedy=Remedy(text="Lower the snubber's resistor."),
            ),
            judge(
                "snub_close",
                "guard",
                "Snubber empties gently",
                nominal=close,
                worst=close,
                limit=most,
                unit="A",
                sense="at most",
                corner="supply high, just closed",
                sentence=f"{show(close, 'A')} through the switch as it closes, of {show(most, 'A')}.",
                working=Working(
                    formula="I = V_{high} / R",
                    substituted=f"= {view.high:.3g} / {show(self.resistance, 'Ω')}",
                    reason="The full capacitor empties through the switch: a contact welds on a bare one.",
                ),
                remedy=Remedy(text="Raise the snubber's resistor."),
            ),
            judge(
                "snub_volts",
                "guard",
                "Snubber's capacitor stands it",
                nominal=peak,
                worst=peak,
                limit=card.voltage,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"{show(peak, 'V')} of {show(card.voltage, 'V')}.",
                working=Working(
                    formula="V ≤ V_{rated}",
                    substituted=f"{show(peak, 'V')} ≤ {card.voltage:.3g}",
                    reason="It sees the switch's peak.",
                ),
                remedy=Remedy(text="Take a capacitor for more volts, or fit a freewheel diode."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        rail = rail_side(view)[0]
        yield Resistor(
            name=view.refs["damper"],
            a=view.nodes["in"],
            b="snub",
            resistance=self.resistance * (1 + corner.resistors),
            tolerance=view.tolerance,
        )
        yield Capacitor(name=view.refs["store"], a="snub", b=rail, **capacitor_rule(self._card(view)))

    def draw(self, pen: Pen, view: View) -> None:
        _, rail, level = rail_side(view)
        r, c, down = view.refs["damper"], view.refs["store"], rail > level
        x, y = through(pen, view, pen.x + 3.0)
        turn: Literal[0, 180] = 0 if down else 180
        way = 1 if down else -1
        a = pen.place(
            r,
            "resistor",
            x,
            y + 4.5 * way,
            turn=turn,
            label=r,
            value=show_part(self.resistance),
            path=view.path("resistance"),
        )
        b = pen.place(
            c,
            "capacitor",
            x,
            y + 11.5 * way,
            turn=turn,
            label=c,
            value=show_part(self._card(view).value),
            path=view.path("capacitor"),
        )
        pen.wire((x, y), a["a"], part=r)
        pen.wire(a["b"], b["a"], part=r)
        pen.wire(b["b"], (x, rail), part=c)
        pen.x = x + 3.0

    def parts(self, view: View) -> tuple[Part, ...]:
        return (
            resistor_part(
                view, view.refs["damper"], "Snubber resistor", self.resistance, view.path("resistance"), 0.05
            ),
            card_part(view, self, "store", "capacitor"),
        )


class OneDiode(Stage):
    """A guard that is one diode."""

    role = "guard"
    letters = {"diode": "D"}
    cards = {"diode": DiodeCard}

    diode: str = "diode-1a-100v"

    def _card(self, view: View) -> DiodeCard:
        return view.drawer.card(self.diode, DiodeCard, view.path("diode"))

    def parts(self, view: View) -> tuple[Part, ...]:
        return (card_part(view, self, "diode", "diode"),)

    def _reverse(self, view: View, id: str, title: str) -> Verdict:
        card = self._card(view)
        return judge(
            id,
            "guard",
            title,
            nominal=view.high,
            worst=1.5 * view.high,
            limit=card.reverse,
            unit="V",
            sense="at most",
            corner="supply high",
            sentence=f"Wants {show(1.5 * view.high, 'V')}, rated {show(card.reverse, 'V')}.",
            working=Working(
                formula="V_{R} ≥ 1.5 · V_{high}",
                substituted=f"= 1.5 · {view.high:.3g}",
                reason="It holds off the whole supply, spikes included.",
            ),
            remedy=Remedy(text="Take a diode for more reverse voltage."),
        )


class AcrossSwitch(OneDiode):
    title = "Diode across the switch"
    purpose = "Gives energy that comes back from the load's side a path round a high-side transistor."
    choose = "A bipolar on the high side with a coil, a motor that is turned by hand, or a charged load."
    avoid = "The switch is a MOSFET: its body diode is that diode already."

    kind: Literal["across_switch"] = "across_switch"

    @property
    def summary(self) -> str:
        return "Fitted"

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        return (self._reverse(view, "across_volts", "Diode across the switch blocks"),)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        rail, out = rail_side(view)[0], view.nodes["in"]
        a, k = (rail, out) if view.side == "low" else (out, rail)
        yield Diode(name=view.refs["diode"], a=a, k=k, **diode_rule(self._card(view), corner.celsius))

    def draw(self, pen: Pen, view: View) -> None:
        # Cathode up in either case: to the output on the low side, to the + rail on the high side.
        _, rail, level = rail_side(view)
        ref = view.refs["diode"]
        x, y = through(pen, view, pen.x + 3.0)
        at = pen.place(ref, "diode", x, (rail + level) / 2, label=ref, value="", path=view.path("diode"))
        pen.wire((x, y), at["k" if view.side == "low" else "a"], part=ref)
        pen.wire(at["a" if view.side == "low" else "k"], (x, rail), part=ref)
        pen.x = x + 3.0


class BackFeed(OneDiode):
    title = "Back-feed"
    purpose = "A diode after the switch keeps the load's charge from flowing back into the supply."
    choose = "A high-side MOSFET before anything with a capacitor or a battery of its own."
    avoid = "Its drop starves the load: then two MOSFETs back to back."
    output = "fed"

    kind: Literal["back_feed"] = "back_feed"
    diode: str = "schottky-3a-40v"

    @property
    def summary(self) -> str:
        return "Diode after the switch"

    def loses(self, view: View) -> float:
        amps = max(steady(view), 1e-6)
        return self._card(view).volts_near(amps)

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, amps = self._card(view), steady(view)
        return (
            self._reverse(view, "back_volts", "Back-feed diode blocks"),
            judge(
                "back_current",
                "guard",
                "Back-feed diode's current",
                nominal=amps,
                worst=amps,
                limit=card.current,
                unit="A",
                sense="at most",
                corner="supply high",
                sentence=(
                    f"{show(amps, 'A')} of {show(card.current, 'A')}, {show(self.loses(view), 'V')} lost."
                ),
                working=Working(
                    formula="I ≤ I_{F}",
                    substituted=f"{show(amps, 'A')} ≤ {show(card.current, 'A')}",
                    reason="All the load's current goes through it.",
                ),
                remedy=Remedy(text="Take a diode for more current."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        here, there = view.nodes["in"], view.nodes["out"]
        a, k = (there, here) if view.side == "low" else (here, there)
        yield Diode(name=view.refs["diode"], a=a, k=k, **diode_rule(self._card(view), corner.celsius))

    def draw(self, pen: Pen, view: View) -> None:
        ref, (x, y) = view.refs["diode"], pen.output
        at = pen.place(
            ref,
            "schottky" if self._card(view).schottky else "diode",
            pen.x + 4.0,
            y,
            turn=270 if view.side == "low" else 90,
            label=ref,
            value="",
            path=view.path("diode"),
            side="above" if view.side == "low" else "below",
        )
        near, far = ("k", "a") if view.side == "low" else ("a", "k")
        pen.wire((x, y), at[near], load=True, part=ref)
        pen.output, pen.x = at[far], at[far][0]


class Decoupling(Stage):
    role = "guard"
    title = "Capacitor at the rail"
    purpose = "It feeds the load's first moment, which leads and battery are too slow for."
    choose = "Anything with inrush, long supply leads, or logic on the same rail."
    avoid = "A switch before it: it then gulps at every switch-on."
    letters = {"store": "C"}
    cards = {"capacitor": CapacitorCard}

    kind: Literal["decoupling"] = "decoupling"
    capacitor: str = "electrolytic-1000u-25v"
    lead: Annotated[float, Q("Ω", 0.0, 100.0)] = 0.1  # of the leads from the supply

    @property
    def summary(self) -> str:
        return "Fitted"

    def _card(self, view: View) -> CapacitorCard:
        return view.drawer.card(self.capacitor, CapacitorCard, view.path("capacitor"))

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text=f"{show(self._card(view).value, 'F')} sit at the rail behind leads of"),
                say.field("lead", origin="assumed"),
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, demand = self._card(view), view.demand
        step = max(steady(view), demand.surge if demand else 0.0)
        brief = min(demand.surge_time, 0.05) if demand and demand.surge else 1e-3
        r = view.source + self.lead
        sag = step * min(r, (card.esr or 0.0) + brief / card.value) if r > 0 else 0.0
        limit = 0.1 * view.low
        return (
            judge(
                "bulk_volts",
                "guard",
                "Rail capacitor's volts",
                nominal=view.high,
                worst=view.high,
                limit=card.voltage,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"{show(view.high, 'V')} of {show(card.voltage, 'V')}. Mind its stripe: minus.",
                working=Working(
                    formula="V_{high} ≤ V_{rated}",
                    substituted=f"{view.high:.3g} ≤ {card.voltage:.3g}",
                    reason="An electrolytic over its volts, or reversed, bursts.",
                ),
                remedy=Remedy(text="Take a capacitor for more volts."),
            ),
            judge(
                "bulk_sag",
                "guard",
                "Rail's dip as the load comes on",
                nominal=sag,
                worst=sag,
                limit=limit,
                unit="V",
                sense="at most",
                corner="first moment",
                sentence=(
                    f"{show(step, 'A')} pull it down by {show(sag, 'V')}; a tenth of the supply is "
                    f"{show(limit, 'V')}."
                ),
                working=Working(
                    formula="ΔV = I · min(R_{supply}, ESR + t/C)",
                    substituted=f"{show(step, 'A')} for {show(brief, 's')}, R = {show(r, 'Ω')}",
                    reason=(
                        "What comes on faster than the supply follows is fed by the capacitor, or by nobody."
                    ),
                ),
                remedy=Remedy(text="Take a bigger capacitor, or shorter and thicker leads."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Capacitor(name=view.refs["store"], a="plus", b="0", **capacitor_rule(self._card(view)))

    def draw(self, pen: Pen, view: View) -> None:
        ref, card = view.refs["store"], self._card(view)
        x = pen.x + 3.0
        at = pen.place(
            ref,
            "electrolytic" if card.dielectric in ("electrolytic", "tantalum") else "capacitor",
            x,
            15.0,
            label=ref,
            value=show_part(card.value),
            path=view.path("capacitor"),
        )
        pen.wire((x, 0.0), at["a"], part=ref)
        pen.wire(at["b"], (x, HEIGHT), part=ref)
        pen.x = x + 2.0

    def parts(self, view: View) -> tuple[Part, ...]:
        return (card_part(view, self, "store", "capacitor"),)
