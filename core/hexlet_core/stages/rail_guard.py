"""Guards in the + rail, between the supply and everything else: a fuse, and protection against a reversed
battery.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards import catalogue
from ..cards.card import DiodeCard, FuseCard, PMosfetCard
from ..cards.derive import diode as diode_rule
from ..cards.derive import fuse as fuse_rule
from ..circuit.devices import Device, Diode, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Part, Schedule, Stage, View
from .drawing import HEIGHT, Pen
from .drive import card_part, resistor_part
from .findings import Remedy, Verdict, Working, judge
from .gate_drive import hot_resistance
from .nmos_low_side import channel
from .wording import Say, Sentence, Word

CARRY = 0.75  # share of its rating that a fuse carries for good at room temperature
BLOWS = 4.0  # times its rating that opens it at once, assumed
MELT = 0.5  # share of its melting I²t that one inrush may use, so that it survives many


def steady(view: View) -> float:
    """The load's most current for good [A]."""
    return view.high / view.demand.cold if view.demand else 0.0


class RailGuard(Stage):
    """A part in the + rail. It is drawn in the rail, above the signal."""

    role = "guard"

    @property
    def on_rail(self) -> bool:
        return True


class Fuse(RailGuard):
    title = "Fuse"
    purpose = "It opens when something is shorted, before the wire burns."
    choose = "Any battery. A battery drives hundreds of amps into a short."
    avoid = "The supply limits its current itself, lower than any wire minds."
    letters = {"fuse": "F"}
    cards = {"card": FuseCard}

    kind: Literal["fuse"] = "fuse"
    card: str = "fuse-3a15-slow"
    wire: Annotated[float, Q("A", 0.1, 200.0)] = 5.0

    @property
    def summary(self) -> str:
        known = catalogue().get(self.card)
        return known.brief if known is not None else "Fitted"

    def _card(self, view: View) -> FuseCard:
        return view.drawer.card(self.card, FuseCard, view.path("card"))

    def loses(self, view: View) -> float:
        return steady(view) * self._card(view).resistance

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="A fuse of"),
                Word(text=self._card(view).brief),
                Word(text="saves a wire for"),
                say.field("wire", note="wire's limit", origin="assumed"),
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, demand, amps = self._card(view), view.demand, steady(view)
        short = view.low / max(view.source + card.resistance, 1e-4)
        found = [
            judge(
                "fuse_carry",
                "guard",
                "Fuse carries the load",
                nominal=amps,
                worst=amps,
                limit=CARRY * card.current,
                unit="A",
                sense="at most",
                corner="supply high, for good",
                sentence=f"{show(amps, 'A')} of {show(CARRY * card.current, 'A')}.",
                working=Working(
                    formula="I ≤ 0.75 · I_{fuse}",
                    substituted=f"{show(amps, 'A')} ≤ 0.75 · {show(card.current, 'A')}",
                    reason="A fuse at its full rating ages and opens some day for nothing.",
                ),
                remedy=Remedy(text="Take a fuse for more current, if the wire stands it."),
            ),
            judge(
                "fuse_wire",
                "guard",
                "Fuse saves the wire",
                nominal=card.current,
                worst=card.current,
                limit=self.wire,
                unit="A",
                sense="at most",
                corner="a short on the far side",
                sentence=f"{show(card.current, 'A')} fuse, wire takes {show(self.wire, 'A')}.",
                working=Working(
                    formula="I_{fuse} ≤ I_{wire}",
                    substituted=f"{show(card.current, 'A')} ≤ {show(self.wire, 'A')}",
                    reason="The fuse must be the weakest part of the loop.",
                ),
                remedy=Remedy(text="Take a smaller fuse, or a thicker wire."),
            ),
            judge(
                "fuse_opens",
                "guard",
                "Fuse opens on a short",
                nominal=short,
                worst=short,
                limit=BLOWS * card.current,
                unit="A",
                sense="at least",
                corner="supply low, a dead short",
                sentence=f"{show(short, 'A')} flow; {show(BLOWS * card.current, 'A')} open it at once.",
                working=Working(
                    formula="V_{low} / R_{supply} ≥ 4 · I_{fuse}",
                    substituted=f"= {view.low:.3g} / {show(view.source + card.resistance, 'Ω')}",
                    reason="A weak supply feeds a short for minutes without opening the fuse.",
                ),
                remedy=Remedy(text="Take a smaller or quicker fuse, or let the supply's own limit do it."),
            ),
            judge(
                "fuse_volts",
                "guard",
                "Fuse stands the supply",
                nominal=view.high,
                worst=view.high,
                limit=card.volts,
                unit="V",
                sense="at most",
                corner="supply high, just opened",
                sentence=f"{show(view.high, 'V')} of {show(card.volts, 'V')}.",
                working=Working(
                    formula="V_{high} ≤ V_{fuse}",
                    substituted=f"{view.high:.3g} ≤ {card.volts:.3g}",
                    reason="Above its volts the arc inside does not go out.",
                ),
                remedy=Remedy(text="Take a fuse for more volts."),
            ),
        ]
        if demand is not None and demand.surge > 0:
            melt = demand.surge**2 * demand.surge_time / 3
            found.append(
                judge(
                    "fuse_surge",
                    "guard",
                    "Fuse rides the inrush",
                    nominal=melt,
                    worst=melt,
                    limit=MELT * card.melting,
                    unit="A²s",
                    sense="at most",
                    corner="supply high, load cold",
                    sentence=f"{show(melt, 'A²s')} of {show(MELT * card.melting, 'A²s')} it takes often.",
                    working=Working(
                        formula="I²t = I_{surge}^2 · t / 3",
                        substituted=f"= {show(demand.surge, 'A')}² · {show(demand.surge_time, 's')} / 3",
                        reason=(
                            "The inrush dies away, which a third of its first moment stands for; half of "
                            "what melts it is allowed."
                        ),
                    ),
                    remedy=Remedy(text="Take a slow fuse."),
                )
            )
        return tuple(found)

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        yield Resistor(
            name=view.refs["fuse"],
            a=view.nodes["rail_in"],
            b=view.nodes["rail_out"],
            **fuse_rule(self._card(view)),
        )

    def draw(self, pen: Pen, view: View) -> None:
        ref, x = view.refs["fuse"], pen.rail_x
        at = pen.place(
            ref,
            "fuse",
            x + 4.0,
            0.0,
            turn=270,
            label=ref,
            value=show(self._card(view).current, "A"),
            path=view.path("card"),
            side="below",
        )
        pen.wire((x, 0.0), at["a"], load=True, part=ref)
        pen.rail_x = at["b"][0]

    def parts(self, view: View) -> tuple[Part, ...]:
        return (card_part(view, self, "fuse", "card", kind="fuse", on_board=False),)


WAYS = (("diode", "a diode in the rail"), ("pmos", "a P-MOSFET in the rail"))
R_GATE = 100e3  # from the gate to 0 V [Ω]


class ReverseGuard(RailGuard):
    title = "Battery reversed"
    purpose = "It blocks when the battery is connected the wrong way round."
    choose = "Clips or a plug that can be turned round."
    avoid = "The last tenth of a volt counts and the connector cannot be turned."
    letters = {"diode": "D", "switch": "Q", "gate": "R"}
    cards = {"diode": DiodeCard, "pmos": PMosfetCard}

    kind: Literal["reverse_guard"] = "reverse_guard"
    way: Literal["diode", "pmos"] = "diode"
    diode: str = "schottky-3a-40v"
    pmos: str = "pmos-55v-12a"

    @property
    def summary(self) -> str:
        return "Diode" if self.way == "diode" else "P-MOSFET"

    def fitted(self) -> tuple[str, ...]:
        return ("diode",) if self.way == "diode" else ("switch", "gate")

    def _diode(self, view: View) -> DiodeCard:
        return view.drawer.card(self.diode, DiodeCard, view.path("diode"))

    def _pmos(self, view: View) -> PMosfetCard:
        return view.drawer.card(self.pmos, PMosfetCard, view.path("pmos"))

    def loses(self, view: View) -> float:
        amps = max(steady(view), 1e-6)
        if self.way == "diode":
            return self._diode(view).volts_near(amps)
        promised = self._pmos(view).promised_on(view.low)
        return amps * hot_resistance(
            promised.resistance if promised else 5 * self._pmos(view).lowest_on.resistance
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="A reversed battery is blocked by"),
                say.field("way", note="in the + rail", choices=WAYS),
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        amps, drop = steady(view), self.loses(view)
        if self.way == "diode":
            card = self._diode(view)
            watts = amps * drop
            allowed = (150.0 - view.hot) / card.r_th
            return (
                judge(
                    "reverse_current",
                    "guard",
                    "Rail diode's current",
                    nominal=amps,
                    worst=amps,
                    limit=card.current,
                    unit="A",
                    sense="at most",
                    corner="supply high",
                    sentence=f"{show(amps, 'A')} of {show(card.current, 'A')}.",
                    working=Working(
                        formula="I ≤ I_{F}",
                        substituted=f"{show(amps, 'A')} ≤ {show(card.current, 'A')}",
                        reason=(
                            "All the load's current goes through it for as long as it runs: a small-signal "
                            "diode is no rectifier."
                        ),
                    ),
                    remedy=Remedy(text="Take a rectifier for more current."),
                ),
                judge(
                    "reverse_volts",
                    "guard",
                    "Rail diode blocks",
                    nominal=view.high,
                    worst=1.5 * view.high,
                    limit=card.reverse,
                    unit="V",
                    sense="at most",
                    corner="battery reversed and full",
                    sentence=f"Wants {show(1.5 * view.high, 'V')}, rated {show(card.reverse, 'V')}.",
                    working=Working(
                        formula="V_{R} ≥ 1.5 · V_{high}",
                        substituted=f"= 1.5 · {view.high:.3g}",
                        reason="Reversed, the whole battery stands across it.",
                    ),
                    remedy=Remedy(text="Take a diode for more reverse voltage."),
                ),
                judge(
                    "reverse_heat",
                    "guard",
                    "Heat in the rail diode",
                    nominal=watts,
                    worst=watts,
                    limit=allowed,
                    unit="W",
                    sense="at most",
                    corner=f"supply high, {show(view.hot, '°C')}",
                    sentence=f"{show(watts, 'W')} of {show(allowed, 'W')}, and {show(drop, 'V')} lost.",
                    working=Working(
                        formula="P = V_{F} · I",
                        substituted=f"= {drop:.3g} · {show(amps, 'A')}",
                        reason="A diode in the rail costs its drop for good.",
                    ),
                    remedy=Remedy(text="Take a Schottky, or a P-MOSFET."),
                ),
            )
        pmos = self._pmos(view)
        return (
            judge(
                "reverse_gate",
                "guard",
                "Rail MOSFET's gate, highest",
                nominal=view.high,
                worst=view.high,
                limit=pmos.v_gs_max,
                unit="V",
                sense="at most",
                corner="supply high",
                sentence=f"{show(view.high, 'V')} of {show(pmos.v_gs_max, 'V')} across the gate.",
                working=Working(
                    formula="V_{GS} = V_{high}",
                    substituted=f"{view.high:.3g} ≤ {pmos.v_gs_max:.3g}",
                    reason="Its gate sits at 0 V and its source at the rail.",
                ),
                remedy=Remedy(text="Take a MOSFET for more gate volts, or clamp its gate."),
            ),
            judge(
                "reverse_on",
                "guard",
                "Rail MOSFET fully on",
                nominal=view.low,
                worst=view.low,
                limit=pmos.lowest_on.v_gs,
                unit="V",
                sense="at least",
                corner="supply low",
                sentence=f"Needs {show(pmos.lowest_on.v_gs, 'V')}, gets {show(view.low, 'V')}.",
                working=Working(
                    formula="V_{low} ≥ V_{GS,on}",
                    substituted=f"{view.low:.3g} ≥ {pmos.lowest_on.v_gs:.3g}",
                    reason="A flat battery drives the gate with what it has.",
                ),
                remedy=Remedy(text="Take a MOSFET promised at a lower gate voltage."),
            ),
            judge(
                "reverse_current",
                "guard",
                "Rail MOSFET's current",
                nominal=amps,
                worst=amps,
                limit=pmos.current_hot,
                unit="A",
                sense="at most",
                corner="supply high",
                sentence=f"{show(amps, 'A')} of {show(pmos.current_hot, 'A')}, {show(drop, 'V')} lost.",
                working=Working(
                    formula="I ≤ I_{D,hot}",
                    substituted=f"{show(amps, 'A')} ≤ {show(pmos.current_hot, 'A')}",
                    reason="All the load's current goes through it.",
                ),
                remedy=Remedy(text="Take a MOSFET for more current."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        here, there = view.nodes["rail_in"], view.nodes["rail_out"]
        if self.way == "diode":
            yield Diode(
                name=view.refs["diode"], a=here, k=there, **diode_rule(self._diode(view), corner.celsius)
            )
            return
        # Drain to the battery, source to the rail: the body diode starts it, the channel then carries it.
        gate = f"{there}_gate"
        yield channel(view, self._pmos(view), corner, "switch", gate, here, there)
        yield Resistor(name=view.refs["gate"], a=gate, b="0", resistance=R_GATE * (1 + corner.resistors))

    def draw(self, pen: Pen, view: View) -> None:
        x = pen.rail_x
        if self.way == "diode":
            ref = view.refs["diode"]
            at = pen.place(
                ref,
                "schottky" if self._diode(view).schottky else "diode",
                x + 3.4,
                0.0,
                turn=90,
                label=ref,
                value="",
                path=view.path("diode"),
                side="below",
            )
            pen.wire((x, 0.0), at["a"], load=True, part=ref)
            pen.rail_x = at["k"][0]
            return
        q, r = view.refs["switch"], view.refs["gate"]
        # Turned so that drain and source lie in the rail, the gate below.
        at = pen.place(
            q,
            "p_mosfet_flip",
            x + 4.4,
            2.0,
            turn=270,
            label=q,
            value="",
            path=view.path("pmos"),
            side="right",
        )
        pen.wire((x, 0.0), at["d"], load=True, part=q)
        g = at["g"]
        p = pen.place(r, "resistor", g[0], 9.0, label=r, value=show_part(R_GATE), path=None)
        pen.wire(g, p["a"], part=r)
        pen.wire(p["b"], (g[0], HEIGHT), part=r)
        pen.rail_x = at["s"][0]

    def parts(self, view: View) -> tuple[Part, ...]:
        if self.way == "diode":
            return (card_part(view, self, "diode", "diode"),)
        return (
            card_part(view, self, "switch", "pmos"),
            resistor_part(view, view.refs["gate"], "Gate to 0 V", R_GATE, view.path("way"), 0.01),
        )
