"""AC switch: a bridge with one MOSFET behind it, its gate fed from the line, its command through an
optocoupler.

The bridge turns both half waves one way, so one MOSFET switches them. The gate's supply comes from the
line through a diode
and a resistor, held by a zener and a capacitor; it is at line potential, and so is the gate: the
optocoupler isolates the
pin's side only. Taken across the switch instead, that supply collapses while the switch conducts.

Feed current over a half wave: i(t) = (V·√2·sin − V_Z − V_D)/R while positive; its mean charges the
capacitor, its square heats R.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

import numpy as np

from ..cards.card import BridgeCard, CapacitorCard, DiodeCard, MosfetCard, OptocouplerCard, ZenerCard
from ..cards.derive import bridge as bridge_rule
from ..cards.derive import capacitor as capacitor_rule
from ..cards.derive import diode as diode_rule
from ..cards.derive import optocoupler as opto_rule
from ..cards.derive import zener as zener_rule
from ..circuit.devices import Bridge, Capacitor, Device, Diode, Optocoupler, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contact import WALL_AC
from .contract import Corner, Demand, Part, Probe, Schedule, Switch, View, Watch
from .drawing import HEIGHT, OUTPUT_Y, Pen
from .drive import Drive, draw_series
from .feed import from_low_side
from .findings import Remedy, Verdict, Window, Working, judge, window
from .gate_drive import hot_resistance
from .nmos_low_side import PULSE, channel
from .opto_switch import LedDrive
from .switching import heat_verdicts, load_current
from .wording import Say, Sentence, Word

FEEDS = (("line", "from the line"), ("switch", "across the switch"))

BRIDGE_MAX = 150.0  # a bridge's hottest junction, assumed [°C]
KEEP_ALIVE = 1e-4  # what the zener wants at least to hold its voltage [A]


class AcBridge(Drive):
    title = "Bridge, one MOSFET"
    purpose = "A bridge turns both half waves one way, so that one MOSFET switches alternating current."
    choose = "A lamp or heater on a low-voltage transformer, switched without a click."
    avoid = "The supply is direct current, or a relay's contact would do."
    letters = {
        "series": "R",
        "opto": "U",
        "feed_diode": "D",
        "feed": "R",
        "hold": "C",
        "zener": "Z",
        "pull": "R",
        "switch": "Q",
        "bridge": "B",
        "damper": "R",
        "store": "C",
        "barrier": "I",
    }
    output = "lamp_side"
    cards = {
        "card": MosfetCard,
        "bridge": BridgeCard,
        "opto": OptocouplerCard,
        "feed_diode": DiodeCard,
        "zener": ZenerCard,
        "hold": CapacitorCard,
        "store": CapacitorCard,
    }
    resistors = {
        "series": ("LED resistor", "r_led"),
        "feed": ("Feed resistor", "r_feed"),
        "pull": ("Gate pull-down", "r_pull"),
        "damper": ("Snubber resistor", "r_damper"),
    }
    fits = {
        "switch": "card",
        "bridge": "bridge",
        "opto": "opto",
        "feed_diode": "feed_diode",
        "zener": "zener",
        "hold": "hold",
        "store": "store",
    }
    controls = ("gate", "gate_supply")

    kind: Literal["ac_bridge"] = "ac_bridge"
    card: str = "nmos-55v-30a"
    bridge: str = "bridge-50v-4a"
    opto: str = "optocoupler-35v"
    feed_diode: str = "diode-1a-100v"
    zener: str = "zener-12v"
    hold: str = "electrolytic-22u-25v"
    store: str = "film-100n-100v"
    r_led: Annotated[float, Q("Ω", 1.0, 1e6)] = 470.0
    r_feed: Annotated[float, Q("Ω", 1.0, 1e8)] = 1000.0
    feed_watts: Annotated[float, Q("W", 0.05, 20.0)] = 0.25
    feed_volts: Annotated[float, Q("V", 10.0, 5000.0)] = 250.0
    r_pull: Annotated[float, Q("Ω", 100.0, 1e8)] = 100e3
    r_damper: Annotated[float, Q("Ω", 1.0, 1e5)] = 100.0
    feed_from: Literal["line", "switch"] = "line"
    on_for: Annotated[float, Q("s", 1e-3, 1e6)] = 60.0
    start_within: Annotated[float, Q("s", 1e-3, 100.0)] = 0.5

    @property
    def summary(self) -> str:
        return f"Bridge, one MOSFET, {show_part(self.r_feed)} Ω feed"

    @property
    def isolates(self) -> bool:
        return True

    def _mosfet(self, view: View) -> MosfetCard:
        return view.drawer.card(self.card, MosfetCard, view.path("card"))

    def _bridge(self, view: View) -> BridgeCard:
        return view.drawer.card(self.bridge, BridgeCard, view.path("bridge"))

    def _zener(self, view: View) -> ZenerCard:
        return view.drawer.card(self.zener, ZenerCard, view.path("zener"))

    def _hold(self, view: View) -> CapacitorCard:
        return view.drawer.card(self.hold, CapacitorCard, view.path("hold"))

    def _opto(self, view: View) -> OptocouplerCard:
        return view.drawer.card(self.opto, OptocouplerCard, view.path("opto"))

    def _amps(self, view: View, demand: Demand) -> float:
        """Load current, rms [A]."""
        return view.high / demand.cold

    def _resistance(self, view: View) -> float:
        card, v = self._mosfet(view), self._zener(view).voltage - self._opto(view).saturation.voltage
        promised = card.promised_on(v)
        return hot_resistance(promised.resistance if promised else 5 * card.lowest_on.resistance)

    def switch(self, view: View) -> Switch:
        card, bridge = self._mosfet(view), self._bridge(view)
        amps = view.low / view.demand.typical if view.demand else 0.0
        drop = 2 * bridge.forward.voltage * 0.9 + amps * self._resistance(view)
        return Switch(
            ref=view.refs["switch"],
            output="drain",
            drop=drop,
            drop_worst=1.1 * drop,
            breakdown=card.v_ds,
            capacitance=card.c_oss,
            avalanche_energy=0.0,
        )

    def _feed(self, view: View, volts: float, held: float) -> tuple[float, float]:
        """Mean current [A] and mean heat [W] of the feed resistor at a line of `volts` rms, into `held`
        [V].
        """
        angle = np.linspace(0.0, math.pi, 2001)
        i = np.maximum(volts * math.sqrt(2) * np.sin(angle) - held - 1.4, 0.0) / self.r_feed
        return float(np.trapezoid(i, angle) / (2 * math.pi)), float(
            np.trapezoid(i * i, angle) / (2 * math.pi) * self.r_feed
        )

    def _led(self, view: View) -> LedDrive | None:
        if view.offer is None:
            return None
        return LedDrive(
            from_low_side(view.offer),
            self._opto(view),
            self.r_led,
            self._zener(view).voltage / self.r_pull,
            view.tolerance,
            view.refs["series"],
        )

    def windows(self, view: View) -> tuple[Window, ...]:
        led = self._led(view)
        if led is None:
            return ()
        return (
            window(
                view.path("r_led"), led.ref, "LED resistor", "Ω", self.r_led, led.bounds(), stock=view.stock()
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        demand, led = view.demand, self._led(view)
        if demand is None or led is None:
            return ()
        mosfet, bridge, zener, hold = (
            self._mosfet(view),
            self._bridge(view),
            self._zener(view),
            self._hold(view),
        )
        amps, crest, r = self._amps(view, demand), view.high * math.sqrt(2), self._resistance(view)
        own = view.offer is not None and view.offer.own
        watts, bridge_watts = amps**2 * r, 2 * bridge.forward.voltage * 0.9 * amps
        found = [
            *led.verdicts(),
            judge(
                "isolated",
                "drive",
                "Command has a supply of its own",
                nominal=0.0 if own else 1.0,
                worst=0.0 if own else 1.0,
                limit=0.5,
                unit="",
                sense="at most",
                corner="the signal in use",
                sentence="The pin's side shares nothing with the line."
                if own
                else "The signal takes its volts from the line's side: nothing is isolated.",
                working=Working(
                    formula="signal's 0 V ≠ line's 0 V",
                    substituted="apart" if own else "joined",
                    reason="The optocoupler isolates only what is joined by nothing else.",
                ),
                remedy=Remedy(text="Take a pin or a sensor with a supply of its own as the signal."),
            ),
            *load_current(
                demand,
                view,
                mosfet.current_hot,
                "allowed hot",
                PULSE * mosfet.current,
                "Four times the continuous current is assumed for so short a pulse.",
            ),
            judge(
                "bridge_current",
                "drive",
                "Bridge's current",
                nominal=amps,
                worst=amps,
                limit=bridge.current,
                unit="A",
                sense="at most",
                corner="line high",
                sentence=f"{show(amps, 'A')} of {show(bridge.current, 'A')}.",
                working=Working(
                    formula="I_{rms} ≤ I_{bridge}",
                    substituted=f"{show(amps, 'A')} ≤ {show(bridge.current, 'A')}",
                    reason="Both half waves go through it.",
                ),
                remedy=Remedy(text="Take a bridge for more current."),
            ),
            judge(
                "bridge_surge",
                "drive",
                "Bridge takes the cold load",
                nominal=max(demand.surge, amps),
                worst=max(demand.surge, amps),
                limit=bridge.surge,
                unit="A",
                sense="at most",
                corner="line high, at the crest, load cold",
                sentence=(
                    f"{show(max(demand.surge, amps), 'A')} peak of {show(bridge.surge, 'A')} for a half wave."
                ),
                working=Working(
                    formula="I = k · √2 · V / R",
                    substituted=f"= {show(max(demand.surge, amps), 'A')}",
                    reason="A cold filament is near a tenth of its hot ohms.",
                ),
                remedy=Remedy(text="Take a bridge for more surge."),
            ),
            judge(
                "bridge_volts",
                "drive",
                "Bridge's reverse volts",
                nominal=crest,
                worst=1.1 * crest,
                limit=bridge.reverse,
                unit="V",
                sense="at most",
                corner="line's crest, a tenth more",
                sentence=f"{show(1.1 * crest, 'V')} of {show(bridge.reverse, 'V')}.",
                working=Working(
                    formula="V ≥ 1.1 · √2 · V_{rms}",
                    substituted=f"= 1.1 · {crest:.3g}",
                    reason="The blocked pair sees the line's crest.",
                ),
                remedy=Remedy(text="Take a bridge for more volts."),
            ),
            judge(
                "bridge_heat",
                "drive",
                "Heat in the bridge",
                nominal=bridge_watts,
                worst=1.1 * bridge_watts,
                limit=(BRIDGE_MAX - view.hot) / bridge.r_th,
                unit="W",
                sense="at most",
                corner=f"line high, {show(view.hot, '°C')}",
                sentence=(
                    f"{show(1.1 * bridge_watts, 'W')} of {show((BRIDGE_MAX - view.hot) / bridge.r_th, 'W')}."
                ),
                working=Working(
                    formula="P = 2 · V_{F} · 0.9 · I_{rms}",
                    substituted=f"= 2 · {bridge.forward.voltage:.3g} · 0.9 · {show(amps, 'A')}",
                    reason="Two diodes stand in the way of every half wave.",
                ),
                remedy=Remedy(text="Bolt the bridge to metal, or take a bigger one."),
            ),
            judge(
                "ac_peak",
                "drive",
                "MOSFET's peak voltage",
                nominal=crest,
                worst=1.1 * crest,
                limit=mosfet.v_ds,
                unit="V",
                sense="at most",
                corner="line's crest, a tenth more",
                sentence=f"{show(1.1 * crest, 'V')} of {show(mosfet.v_ds, 'V')}.",
                working=Working(
                    formula="V_{DS} ≥ 1.1 · √2 · V_{rms}",
                    substituted=f"= 1.1 · {crest:.3g}",
                    reason="Off, it holds the crest; the snubber rounds what the leads add.",
                ),
                remedy=Remedy(text="Take a MOSFET for more volts."),
            ),
            *heat_verdicts(
                view,
                nominal=watts * 0.8,
                worst=watts,
                r_th=mosfet.r_th,
                t_max=mosfet.t_j_max,
                power=mosfet.power,
                how="P = I_{rms}^2 · R_{DS(on),hot}",
                numbers=f"= {show(amps, 'A')}² · {show(r, 'Ω')} = {show(watts, 'W')}",
            ),
            *self._supply_verdicts(view, mosfet, zener, hold),
        ]
        return tuple(found)

    def _supply_verdicts(
        self, view: View, mosfet: MosfetCard, zener: ZenerCard, hold: CapacitorCard
    ) -> list[Verdict]:
        """The gate's supply: level, current, heat, volts, ripple, start, and whether it lasts."""
        sat = self._opto(view).saturation.voltage
        need, top = mosfet.lowest_on.v_gs + sat, zener.voltage * (1 + zener.tolerance)
        takes = zener.voltage / self.r_pull
        low_mean, high_mean, heat = (
            self._feed(view, view.low, zener.voltage)[0],
            *self._feed(view, view.high, zener.voltage),
        )
        crest = view.high * math.sqrt(2)
        droop = takes / view.frequency / hold.value
        start_mean = self._feed(view, view.low, need / 2)[0]
        starts = hold.value * need / start_mean if start_mean > 0 else 1e3
        lasts = hold.value * (1 - hold.tolerance) * max(zener.voltage - need, 0.0) / takes
        zener_heat = max(high_mean - takes, 0.0) * zener.voltage
        level = zener.voltage - sat
        across = crest - zener.voltage
        found = [
            judge(
                "fully_on",
                "drive",
                "Gate voltage",
                nominal=level - droop,
                worst=level * (1 - zener.tolerance) - droop,
                limit=mosfet.lowest_on.v_gs,
                unit="V",
                sense="at least",
                digits=4,
                corner="zener at its lowest, between two charges",
                sentence=f"Needs {show(mosfet.lowest_on.v_gs, 'V')}, gets {show(level - droop, 'V')}.",
                working=Working(
                    formula="V_{gate} = V_{Z} − V_{CE,sat} − droop",
                    substituted=f"= {zener.voltage:.3g} − {sat:.3g} − {show(droop, 'V')}",
                    reason="Below the promised gate voltage the MOSFET heats at every crest.",
                ),
                remedy=Remedy(text="Take a higher zener, or a MOSFET promised at a lower gate voltage."),
            ),
            judge(
                "gate_max",
                "drive",
                "Gate voltage, highest",
                nominal=zener.voltage,
                worst=top,
                limit=mosfet.v_gs_max,
                unit="V",
                sense="at most",
                corner="zener at its highest",
                sentence=f"{show(top, 'V')} of {show(mosfet.v_gs_max, 'V')} across the gate.",
                working=Working(
                    formula="V_{Z,max} ≤ V_{GS,max}",
                    substituted=f"{top:.3g} ≤ {mosfet.v_gs_max:.3g}",
                    reason="A gate's oxide breaks down once and for all.",
                ),
                remedy=Remedy(text="Take a lower zener."),
            ),
            judge(
                "feed_current",
                "drive",
                "Feed covers what the gate takes",
                nominal=low_mean,
                worst=low_mean / (1 + view.tolerance),
                limit=takes + KEEP_ALIVE,
                unit="A",
                sense="at least",
                corner="line low",
                sentence=f"{show(low_mean, 'A')} come in, {show(takes + KEEP_ALIVE, 'A')} are taken.",
                working=Working(
                    formula="mean of (V·√2·sin − V_{Z})/R over a half wave ≥ V_{Z}/R_{pull} + I_{Z}",
                    substituted=f"R = {show(self.r_feed, 'Ω')}: {show(low_mean, 'A')}",
                    reason="Only one half wave feeds it, and only while the line is above the zener.",
                ),
                remedy=Remedy(text="Lower the feed resistor, or raise the pull-down."),
            ),
            judge(
                "feed_heat",
                "drive",
                "Heat in the feed resistor",
                nominal=heat,
                worst=heat / (1 - view.tolerance),
                limit=self.feed_watts,
                unit="W",
                sense="at most",
                corner="line high",
                sentence=f"{show(heat, 'W')} of {show(self.feed_watts, 'W')}.",
                working=Working(
                    formula="P = mean of i^2·R",
                    substituted=f"= {show(heat, 'W')}",
                    reason="The resistor drops almost the whole line.",
                ),
                remedy=Remedy(text="Raise the feed resistor, or take one for more watts."),
            ),
            judge(
                "feed_volts",
                "drive",
                "Volts across the feed resistor",
                nominal=across,
                worst=1.1 * across,
                limit=self.feed_volts,
                unit="V",
                sense="at most",
                corner="line's crest, a tenth more",
                sentence=f"{show(1.1 * across, 'V')} of {show(self.feed_volts, 'V')}.",
                working=Working(
                    formula="V = √2·V_{rms} − V_{Z}",
                    substituted=f"= {crest:.3g} − {zener.voltage:.3g}",
                    reason=(
                        "A resistor has a voltage rating of its own, whatever its watts: a small body arcs "
                        "over."
                    ),
                ),
                remedy=Remedy(text="Put two or three resistors in series, or take one rated for the volts."),
            ),
            judge(
                "gate_ripple",
                "drive",
                "Ripple of the gate's supply",
                nominal=droop,
                worst=droop / (1 - hold.tolerance),
                limit=max(zener.voltage * (1 - zener.tolerance) - need, 0.01),
                unit="V",
                sense="at most",
                corner="between two charges",
                sentence=f"Falls {show(droop, 'V')} each period.",
                working=Working(
                    formula="ΔV = I / (f · C)",
                    substituted=f"= {show(takes, 'A')} / ({view.frequency:g} Hz · {show(hold.value, 'F')})",
                    reason="It is charged once a period.",
                ),
                remedy=Remedy(text="Take a bigger capacitor, or a higher pull-down."),
            ),
            judge(
                "gate_start",
                "drive",
                "Gate's supply is up in",
                nominal=starts,
                worst=starts * (1 + hold.tolerance),
                limit=self.start_within,
                unit="s",
                sense="at most",
                corner="line low, just plugged in",
                sentence=(
                    f"{show(starts, 's')} of {show(self.start_within, 's')}; until then it cannot switch on."
                ),
                working=Working(
                    formula="t = C · V / I",
                    substituted=f"= {show(hold.value, 'F')} · {need:.3g} / {show(start_mean, 'A')}",
                    reason="An empty capacitor is filled by the feed's mean current.",
                ),
                remedy=Remedy(text="Lower the feed resistor, or take a smaller capacitor."),
            ),
            judge(
                "zener_heat",
                "drive",
                "Heat in the zener",
                nominal=zener_heat,
                worst=zener_heat,
                limit=zener.power,
                unit="W",
                sense="at most",
                corner="line high, gate off",
                sentence=f"{show(zener_heat, 'W')} of {show(zener.power, 'W')}.",
                working=Working(
                    formula="P = V_{Z} · (I_{feed} − I_{gate})",
                    substituted=f"= {zener.voltage:.3g} · {show(high_mean, 'A')}",
                    reason="What the gate does not take, the zener does.",
                ),
                remedy=Remedy(text="Raise the feed resistor."),
            ),
            judge(
                "hold_volts",
                "drive",
                "Gate capacitor's volts",
                nominal=top,
                worst=top,
                limit=self._hold(view).voltage,
                unit="V",
                sense="at most",
                corner="zener at its highest",
                sentence=f"{show(top, 'V')} of {show(hold.voltage, 'V')}. Stripe to the bridge's minus.",
                working=Working(
                    formula="V_{Z,max} ≤ V_{rated}",
                    substituted=f"{top:.3g} ≤ {hold.voltage:.3g}",
                    reason="An electrolytic over its volts bursts.",
                ),
                remedy=Remedy(text="Take a capacitor for more volts."),
            ),
        ]
        if self.feed_from == "switch":
            found.append(
                judge(
                    "gate_collapse",
                    "drive",
                    "Gate's supply lasts while it conducts",
                    nominal=lasts,
                    worst=lasts,
                    limit=self.on_for,
                    unit="s",
                    sense="at least",
                    corner="switch on, nothing comes in",
                    sentence=f"Lasts {show(lasts, 's')}; on for {show(self.on_for, 's')}.",
                    working=Working(
                        formula="t = C · (V_{Z} − V_{need}) / I",
                        substituted=(
                            f"= {show(hold.value, 'F')} · {zener.voltage - need:.3g} / {show(takes, 'A')}"
                        ),
                        reason=(
                            "Taken across the switch, the supply has nothing to feed on once the switch "
                            "conducts: the gate sinks, the MOSFET goes half on and cooks."
                        ),
                    ),
                    remedy=Remedy(text="Take the gate's supply from the line, before the load."),
                )
            )
        return found

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text="The gate's supply is taken"),
                say.field("feed_from", note="where it is fed", choices=FEEDS),
                Word(text="through"),
                say.field("r_feed", note="feed resistor"),
                Word(text="of"),
                say.field("feed_watts", note="its rating"),
                Word(text="and"),
                say.field("feed_volts", note="its rating"),
            )
        }

    def cautions(self, view: View) -> tuple[str, ...]:
        found = (
            (
                "The optocoupler isolates the pin's side only. Gate, MOSFET, bridge and feed are at line "
                "potential: treat all of it as live."
            ),
        )
        if view.high > WALL_AC:
            return (
                (
                    "Above 30 V AC touching this side can kill. Ratings are for information: no board "
                    "plan, no wiring steps. Your local electrical code and a licensed person decide how it "
                    "is built, and connect it."
                ),
                (
                    "A closed enclosure, a fuse in the line conductor, strain relief, and the spacing "
                    "across the optocoupler are part of it."
                ),
                *found,
            )
        return found

    def heats(self, view: View) -> dict[str, float]:
        return {"feed": self._feed(view, view.high, self._zener(view).voltage)[1], "series": 0.01}

    def parts(self, view: View) -> tuple[Part, ...]:
        return (
            tuple(p for p in super().parts(view))
            if view.high <= WALL_AC
            else tuple(p.model_copy(update={"on_board": False}) for p in super().parts(view))
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        if view.high > WALL_AC:
            return ()
        return (
            Probe(
                id="gate_supply",
                title="Gate's supply to bridge −",
                red="gate supply strip",
                black="bridge minus",
                quantity="voltage",
                node="gate_supply",
            ),
            Probe(
                id="gate",
                title="Gate to bridge −",
                red="gate strip",
                black="bridge minus",
                quantity="voltage",
                node="gate",
            ),
            Probe(
                id="drain",
                title="Across the MOSFET",
                red="drain strip",
                black="bridge minus",
                quantity="voltage",
                node="drain",
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return (
            Watch(id="drain", title=f"Across {view.refs['switch']}", unit="V", signal="drain", place=3),
            Watch(id="gate_supply", title="Gate's supply", unit="V", signal="gate_supply", place=5),
            Watch(id="gate", title="Gate", unit="V", signal="gate", place=5, shown=False),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol, refs = 1 + corner.resistors, view.refs
        feed = view.drawer.card(self.feed_diode, DiodeCard, view.path("feed_diode"))
        store = view.drawer.card(self.store, CapacitorCard, view.path("store"))
        yield Resistor(
            name=refs["series"],
            a=view.nodes["in"],
            b="light",
            resistance=self.r_led * tol,
            tolerance=view.tolerance,
        )
        yield Optocoupler(
            name=refs["opto"],
            a="light",
            k=view.ground,
            c="gate_supply",
            e="gate",
            **opto_rule(self._opto(view), corner.spread),
        )
        yield Resistor(name=refs["barrier"], a=view.ground, b="0", resistance=1e12)
        yield Diode(
            name=refs["feed_diode"],
            a="plus" if self.feed_from == "line" else "drain",
            k="feed",
            **diode_rule(feed, corner.celsius),
        )
        yield Resistor(
            name=refs["feed"],
            a="feed",
            b="gate_supply",
            resistance=self.r_feed * tol,
            tolerance=view.tolerance,
        )
        yield Capacitor(name=refs["hold"], a="gate_supply", b="0", **capacitor_rule(self._hold(view)))
        yield Diode(
            name=refs["zener"],
            a="0",
            k="gate_supply",
            **zener_rule(self._zener(view), corner.celsius, corner.spread),
        )
        yield Resistor(
            name=refs["pull"], a="gate", b="0", resistance=self.r_pull * tol, tolerance=view.tolerance
        )
        yield channel(view, self._mosfet(view), corner, "switch", "gate", "drain", "0")
        yield Bridge(
            name=refs["bridge"],
            p="drain",
            n="0",
            a=view.nodes["out"],
            b=view.back,
            **bridge_rule(self._bridge(view), corner.celsius),
        )
        yield Resistor(
            name=refs["damper"],
            a="drain",
            b="bridge_snub",
            resistance=self.r_damper * tol,
            tolerance=view.tolerance,
        )
        yield Capacitor(name=refs["store"], a="bridge_snub", b="0", **capacitor_rule(store))

    def draw(self, pen: Pen, view: View) -> None:
        x0, refs = pen.output[0], view.refs
        far = draw_series(pen, view, "series", self.r_led, "r_led")
        u = pen.place(
            refs["opto"], "optocoupler", x0 + 13.0, 19.0, label=refs["opto"], value="", path=view.path("opto")
        )
        pen.wire(far, u["a"], part=refs["series"])
        wall = pen.place(
            refs["barrier"], "barrier", u["k"][0], 26.0, label="isolation", value="", side="left"
        )
        pen.wire(u["k"], wall["a"], part=refs["opto"])
        pen.wire(wall["b"], (wall["b"][0], HEIGHT), part=refs["barrier"])
        x, top = u["c"][0], 12.5
        d = pen.place(
            refs["feed_diode"],
            "diode",
            x,
            2.6,
            turn=180,
            label=refs["feed_diode"],
            value="",
            path=view.path("feed_diode"),
            side="left",
        )
        r = pen.place(
            refs["feed"],
            "resistor",
            x,
            8.4,
            label=refs["feed"],
            value=show_part(self.r_feed),
            path=view.path("r_feed"),
            side="left",
        )
        pen.wire(d["k"], r["a"], part=refs["feed"])
        pen.wire(r["b"], (x, top), part=refs["feed"])
        pen.wire((x, top), u["c"], part=refs["opto"])
        c_x, z_x, p_x, m_x, s_x, b_x = x + 4.0, x + 9.2, x + 14.0, x + 18.6, x + 23.0, x + 28.0
        pen.wire((x, top), (c_x, top), (z_x, top), part=refs["hold"])
        c = pen.place(
            refs["hold"],
            "electrolytic",
            c_x,
            17.0,
            label=refs["hold"],
            value=show_part(self._hold(view).value),
            path=view.path("hold"),
        )
        z = pen.place(
            refs["zener"],
            "zener",
            z_x,
            17.0,
            label=refs["zener"],
            value=show(self._zener(view).voltage, "V"),
            path=view.path("zener"),
        )
        for ref, column, up, down in (
            (refs["hold"], c_x, c["a"], c["b"]),
            (refs["zener"], z_x, z["k"], z["a"]),
        ):
            pen.wire((column, top), up, part=ref)
            pen.wire(down, (column, HEIGHT), part=ref)
        q = pen.place(
            refs["switch"], "n_mosfet", m_x, 22.0, label=refs["switch"], value="", path=view.path("card")
        )
        pen.wire(u["e"], q["g"], part=refs["opto"])
        p = pen.place(
            refs["pull"],
            "resistor",
            p_x,
            26.4,
            label=refs["pull"],
            value=show_part(self.r_pull),
            path=view.path("r_pull"),
            side="left",
        )
        pen.wire((p_x, 22.0), p["a"], part=refs["pull"])
        pen.wire(p["b"], (p_x, HEIGHT), part=refs["pull"])
        pen.wire(q["s"], (q["s"][0], HEIGHT), load=True, part=refs["switch"])
        b = pen.place(
            refs["bridge"],
            "bridge",
            b_x,
            14.0,
            label=refs["bridge"],
            value="",
            path=view.path("bridge"),
            side="below",
        )
        pen.wire(b["p"], (q["d"][0], 14.0), q["d"], load=True, part=refs["bridge"])
        pen.wire(b["n"], (b["n"][0], HEIGHT), load=True, part=refs["bridge"])
        snub_r = pen.place(
            refs["damper"],
            "resistor",
            s_x,
            18.2,
            label=refs["damper"],
            value=show_part(self.r_damper),
            path=view.path("r_damper"),
        )
        snub_c = pen.place(
            refs["store"], "capacitor", s_x, 25.6, label=refs["store"], value="", path=view.path("store")
        )
        pen.wire((s_x, 14.0), snub_r["a"], part=refs["damper"])
        pen.wire(snub_r["b"], snub_c["a"], part=refs["damper"])
        pen.wire(snub_c["b"], (s_x, HEIGHT), part=refs["store"])
        pen.back = (b["b"][0], 7.0)
        pen.wire(b["b"], pen.back, load=True, part=refs["bridge"])
        if self.feed_from == "line":
            pen.wire((x, 0.0), d["a"], part=refs["feed_diode"])
        else:
            # From the drain, over the gate's supply.
            pen.wire(
                d["a"],
                (x + 2.6, d["a"][1]),
                (x + 2.6, 10.6),
                (q["d"][0], 10.6),
                (q["d"][0], 14.0),
                part=refs["feed_diode"],
            )
        end = (b["a"][0] + 2.4, OUTPUT_Y)
        pen.wire(b["a"], (end[0], b["a"][1]), end, load=True, part=refs["bridge"])
        pen.tag("gate", "V", x + 2.6, 22.0)
        pen.tag("gate_supply", "V", x - 3.4, top)
        pen.output, pen.x = end, end[0]
