"""AC switch: a bridge with one MOSFET behind it, its gate fed from the line, its command through an
optocoupler.

The bridge turns both half waves one way, so one MOSFET switches them. The gate's supply (`rules.line_fed`) is
at line potential, and so is the gate: the optocoupler isolates the pin's side only. Taken across the switch
instead of from the line, that supply collapses while the switch conducts.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BridgeCard, CapacitorCard, DiodeCard, MosfetCard, OptocouplerCard, ZenerCard
from ...circuit.devices import Resistor
from ...fields import Q
from ...quantity import show, show_part
from ..contract.facts import Loss, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Drive
from ..drawing.pen import HEIGHT, OUTPUT_Y, Pen
from ..drawing.switches import draw_series
from ..rules.contact import WALL_AC
from ..rules.feed import Names, from_low_side
from ..rules.gate_drive import hot_resistance, on_resistance
from ..rules.light import LedDrive
from ..rules.line_fed import LineFed
from ..rules.saturated import PULSE
from ..rules.switching import Body, heat_checks, load_current
from ..say.checks import Check, check, high, holds, when
from ..say.windows import Window, window
from ..say.wording import Say, Sentence, Word

FEEDS = (("line", "from the line"), ("switch", "across the switch"))
BRIDGE_MAX = 150.0  # a bridge's hottest junction, assumed [°C]
BARRIER = 1e12  # what stands for the optocoupler's insulation [Ω]


class AcBridge(Drive):
    title = "Bridge, one MOSFET"
    purpose = "A bridge turns both half waves one way, so that one MOSFET switches alternating current."
    choose = "A lamp or heater on a low-voltage transformer, switched without a click."
    avoid = "The supply is direct current, or a relay's contact would do."
    picture = "bridge"
    lifts = True
    cards = {
        "card": MosfetCard,
        "bridge": BridgeCard,
        "opto": OptocouplerCard,
        "feed_diode": DiodeCard,
        "zener": ZenerCard,
        "hold": CapacitorCard,
        "store": CapacitorCard,
    }

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

    def ports(self) -> tuple[Port, ...]:
        return (
            rail_in(),
            Port("command", "command", "in", {"out": "signal", "ref": "led_zero"}),
            Port("out", "load", "out", {"top": "plus", "bottom": "lamp_side"}, side="low"),
        )

    def make(self, site: Site) -> Iterable[Placed]:
        fed = "plus" if self.feed_from == "line" else "drain"
        hold, zener = site.card("hold", CapacitorCard), site.card("zener", ZenerCard)
        yield resistor(site, "series", "LED resistor", "r_led", "signal", "light")
        light = {"a": "light", "k": "led_zero", "c": "gate_supply", "e": "gate"}
        yield from_card(site, "opto", "U", "opto", light)
        yield from_card(site, "feed_diode", "D", "feed_diode", {"a": fed, "k": "feed"})
        yield resistor(site, "feed", "Feed resistor", "r_feed", "feed", "gate_supply")
        held = {"a": "gate_supply", "b": "minus"}
        yield from_card(site, "hold", "C", "hold", held, mark=show_part(hold.value))
        clamp = {"a": "minus", "k": "gate_supply"}
        yield from_card(site, "zener", "Z", "zener", clamp, mark=show(zener.voltage, "V"))
        yield resistor(site, "pull", "Gate pull-down", "r_pull", "gate", "minus")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "minus"})
        turned = {"p": "drain", "n": "minus", "a": "lamp_side", "b": "zero"}
        yield from_card(site, "bridge", "B", "bridge", turned)
        yield resistor(site, "damper", "Snubber resistor", "r_damper", "drain", "snub")
        yield from_card(site, "store", "C", "store", {"a": "snub", "b": "minus"})
        yield Placed(
            local="barrier",
            letter="I",
            title="Isolation",
            kind="barrier",
            device=Resistor,
            numbers=lambda c: {"resistance": BARRIER},
            legs={"a": "led_zero", "b": "minus"},
            listed=False,
        )

    def _resistance(self, site: Site) -> float:
        """The MOSFET's, hot, at the gate voltage it gets [Ω]."""
        gets = site.card("zener", ZenerCard).voltage - site.card("opto", OptocouplerCard).saturation.voltage
        return hot_resistance(on_resistance(site.card("card", MosfetCard), gets))

    def switches(self, site: Site) -> Switch:
        card, bridge = site.card("card", MosfetCard), site.card("bridge", BridgeCard)
        drop, ohms = 2 * bridge.forward.voltage * 0.9, self._resistance(site)
        return Switch(
            ref=site.ref("switch"),
            output="drain",
            side="low",
            rail=site.rail,
            losses=(Loss.flat(drop, 1.1 * drop), Loss.ohms(ohms, 1.1 * ohms)),
            breakdown=card.v_ds,
            capacitance=card.c_oss,
            on="high",
            active=site.command.sense == "high",
            apart=True,
        )

    def _led(self, site: Site) -> LedDrive:
        return LedDrive(
            feed=from_low_side(site.command),
            card=site.card("opto", OptocouplerCard),
            series=self.r_led,
            collector=site.card("zener", ZenerCard).voltage / self.r_pull,
            tolerance=site.tolerance,
            ref=site.ref("series"),
            names=Names("light", "opto"),
        )

    def gate_supply(self, site: Site) -> LineFed:
        """What keeps the gate up."""
        return LineFed(
            rail=site.rail,
            mosfet=site.card("card", MosfetCard),
            zener=site.card("zener", ZenerCard),
            hold=site.card("hold", CapacitorCard),
            r_feed=self.r_feed,
            r_pull=self.r_pull,
            sat=site.card("opto", OptocouplerCard).saturation.voltage,
            tolerance=site.tolerance,
            feed_watts=self.feed_watts,
            feed_volts=self.feed_volts,
            start_within=self.start_within,
            halves=2 if self.feed_from == "switch" else 1,
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        return (window(site, "r_led", "series", "LED resistor", self._led(site).bounds()),)

    def checks(self, site: Site) -> Iterator[Check]:
        demand, rail, mosfet = site.demand(), site.rail, site.card("card", MosfetCard)
        yield from self._led(site).checks()
        yield holds(
            "supply_kind",
            "Supply alternates",
            "need",
            "place",
            rail.ac,
            at=when("kind of supply"),
            says="It switches both half waves."
            if rail.ac
            else "On direct current two diodes are in its way.",
            formula="drive ↔ supply",
            numbers="alternating" if rail.ac else "direct current",
            because="A bridge lets one MOSFET switch both half waves; direct current has only one way.",
            cure="On direct current one transistor does it.",
        )
        own = site.command.own
        yield holds(
            "isolated",
            "Command has a supply of its own",
            "need",
            "place",
            own,
            at=when("the signal in use"),
            says=(
                "The pin's side shares nothing with the line."
                if own
                else "The signal takes its volts from the line's side: nothing is isolated."
            ),
            formula="signal's 0 V ≠ line's 0 V",
            numbers="apart" if own else "joined",
            because="The optocoupler isolates only what is joined by nothing else.",
            cure="Take a pin or a sensor with a supply of its own as the signal.",
        )
        brief = "Four times the continuous current is assumed for so short a pulse."
        yield from load_current(
            self.switches(site), demand, mosfet.current_hot, "allowed hot", PULSE * mosfet.current, brief
        )
        yield from self._bridge_checks(site)
        crest = rail.high * math.sqrt(2)
        yield check(
            "ac_peak",
            "MOSFET's peak voltage",
            "limit",
            "wall",
            unit="V",
            nominal=crest,
            worst=1.1 * crest,
            most=mosfet.v_ds,
            at=high("line's crest, a tenth more"),
            says=f"{show(1.1 * crest, 'V')} of {show(mosfet.v_ds, 'V')}.",
            formula="V_{DS} ≥ 1.1 · √2 · V_{rms}",
            numbers=f"= 1.1 · {crest:.3g}",
            because="Off, it holds the crest; the snubber rounds what the leads add.",
            cure="Take a MOSFET for more volts.",
        )
        yield from self._volts_checks(site, crest)
        amps, r = demand.most(rail.high), self._resistance(site)
        watts = amps**2 * r
        yield from heat_checks(
            site,
            Body(mosfet.r_th, mosfet.t_j_max, mosfet.power, sinks=False),
            nominal=watts * 0.8,
            worst=watts,
            how="P = I_{rms}^2 · R_{DS(on),hot}",
            numbers=f"= {show(amps, 'A')}² · {show(r, 'Ω')} = {show(watts, 'W')}",
        )
        supply = self.gate_supply(site)
        yield from supply.checks()
        if self.feed_from == "switch":
            lasts = supply.lasts()
            yield check(
                "gate_collapse",
                "Gate's supply lasts while it conducts",
                "need",
                "time",
                unit="s",
                nominal=lasts,
                least=self.on_for,
                at=when("switch on, nothing comes in"),
                says=f"Lasts {show(lasts, 's')}; on for {show(self.on_for, 's')}.",
                formula="t = C · (V_{Z} − V_{need}) / I",
                numbers=(
                    f"= {show(supply.hold.value, 'F')} · {supply.zener.voltage - supply.needs:.3g} / "
                    f"{show(supply.takes, 'A')}"
                ),
                because=(
                    "Taken across the switch, the supply has nothing to feed on once the switch conducts: "
                    "the gate sinks, the MOSFET goes half on and cooks."
                ),
                cure="Take the gate's supply from the line, before the load.",
            )

    def _bridge_checks(self, site: Site) -> Iterator[Check]:
        bridge, rail, demand = site.card("bridge", BridgeCard), site.rail, site.demand()
        amps, crest = demand.most(rail.high), rail.high * math.sqrt(2)
        yield check(
            "bridge_current",
            "Bridge's current",
            "limit",
            "wall",
            unit="A",
            nominal=amps,
            most=bridge.current,
            at=high("both half waves"),
            says=f"{show(amps, 'A')} of {show(bridge.current, 'A')}.",
            formula="I_{rms} ≤ I_{bridge}",
            numbers=f"{show(amps, 'A')} ≤ {show(bridge.current, 'A')}",
            because="Both half waves go through it.",
            cure="Take a bridge for more current.",
        )
        surge = max(demand.surge(rail), amps)
        yield check(
            "bridge_surge",
            "Bridge takes the cold load",
            "limit",
            "wall",
            unit="A",
            nominal=surge,
            most=bridge.surge,
            at=high("at the crest, load cold"),
            says=f"{show(surge, 'A')} peak of {show(bridge.surge, 'A')} for a half wave.",
            formula="I = k · √2 · V / R",
            numbers=f"= {show(surge, 'A')}",
            because="A cold filament is near a tenth of its hot ohms.",
            cure="Take a bridge for more surge.",
        )
        yield check(
            "bridge_volts",
            "Bridge's reverse volts",
            "limit",
            "wall",
            unit="V",
            nominal=crest,
            worst=1.1 * crest,
            most=bridge.reverse,
            at=high("line's crest, a tenth more"),
            says=f"{show(1.1 * crest, 'V')} of {show(bridge.reverse, 'V')}.",
            formula="V ≥ 1.1 · √2 · V_{rms}",
            numbers=f"= 1.1 · {crest:.3g}",
            because="The blocked pair sees the line's crest.",
            cure="Take a bridge for more volts.",
        )
        watts = 2 * bridge.forward.voltage * 0.9 * amps
        allowed = (BRIDGE_MAX - site.hot) / bridge.r_th
        yield check(
            "bridge_heat",
            "Heat in the bridge",
            "limit",
            "wall",
            unit="W",
            nominal=watts,
            worst=1.1 * watts,
            most=allowed,
            at=high(show(site.hot, "°C")),
            says=f"{show(1.1 * watts, 'W')} of {show(allowed, 'W')}.",
            formula="P = 2 · V_{F} · 0.9 · I_{rms}",
            numbers=f"= 2 · {bridge.forward.voltage:.3g} · 0.9 · {show(amps, 'A')}",
            because="Two diodes stand in the way of every half wave.",
            cure="Bolt the bridge to metal, or take a bigger one.",
        )

    def _volts_checks(self, site: Site, crest: float) -> Iterator[Check]:
        """The snubber's capacitor and the feed's diode, which see the line's crest."""
        store, diode = site.card("store", CapacitorCard), site.card("feed_diode", DiodeCard)
        held = self.gate_supply(site).top
        back = held if self.feed_from == "switch" else crest + held
        for id, title, volts, most, because in (
            ("store_volts", "Snubber capacitor's volts", crest, store.voltage, "Off, it holds the crest."),
            (
                "feed_reverse",
                "Feed diode's reverse volts",
                back,
                diode.reverse,
                "Behind the bridge it only holds the gate's supply back."
                if self.feed_from == "switch"
                else "In the other half wave it holds the crest, and what the capacitor keeps on top.",
            ),
        ):
            yield check(
                id,
                title,
                "limit",
                "wall",
                unit="V",
                nominal=volts,
                worst=volts + 0.1 * crest if volts >= crest else volts,
                most=most,
                at=high("line's crest, a tenth more"),
                says=f"{show(volts, 'V')} of {show(most, 'V')}.",
                formula="V ≥ √2 · V_{rms} (+ V_{Z})",
                numbers=f"= {show(volts, 'V')}, a tenth more counted",
                because=because,
                cure="Take one for more volts.",
            )

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
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

    def cautions(self, site: Site) -> tuple[str, ...]:
        live = (
            "The optocoupler isolates the pin's side only. Gate, MOSFET, bridge and feed are at line "
            "potential: treat all of it as live.",
        )
        if site.rail.high <= WALL_AC:
            return live
        return (
            "Above 30 V AC touching this side can kill. Ratings are for information: no board plan, no "
            "wiring steps. Your local electrical code and a licensed person decide how it is built, and "
            "connect it.",
            "A closed enclosure, a fuse in the line conductor, strain relief, and the spacing across the "
            "optocoupler are part of it.",
            *live,
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        minus = "bridge minus"
        return (
            Probe(
                id="gate_supply",
                title="Gate's supply to bridge −",
                red="gate supply strip",
                black=minus,
                signal="v(gate_supply,minus)",
            ),
            Probe(id="gate", title="Gate to bridge −", red="gate strip", black=minus, signal="v(gate,minus)"),
            Probe(
                id="drain", title="Across the MOSFET", red="drain strip", black=minus, signal="v(drain,minus)"
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        q = site.ref("switch")
        return (
            Watch(id="drain", title=f"Across {q}", unit="V", signal="v(drain,minus)", place=3),
            Watch(id="gate_supply", title="Gate's supply", unit="V", signal="v(gate_supply,minus)", place=5),
            Watch(id="gate", title="Gate", unit="V", signal="v(gate,minus)", place=5, shown=False),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        x0 = pen.output[0]
        refs = {p: site.ref(p) for p in ("series", "opto", "barrier", "feed_diode", "feed", "hold", "zener")}
        far = draw_series(pen, site, "series")
        u = pen.part(site, "opto", "optocoupler", x0 + 13.0, 19.0)
        pen.wire(far, u["a"], part=refs["series"])
        wall = pen.place(refs["barrier"], "barrier", u["k"][0], 26.0, label="isolation", side="left")
        pen.wire(u["k"], wall["a"], part=refs["opto"])
        pen.wire(wall["b"], (wall["b"][0], HEIGHT), part=refs["barrier"])
        x, top = u["c"][0], 12.5
        d = pen.part(site, "feed_diode", "diode", x, 2.6, turn=180, side="left")
        r = pen.part(site, "feed", "resistor", x, 8.4, side="left")
        pen.wire(d["k"], r["a"], part=refs["feed"])
        pen.wire(r["b"], (x, top), part=refs["feed"])
        pen.wire((x, top), u["c"], part=refs["opto"])
        c_x, z_x = x + 4.0, x + 9.2
        pen.wire((x, top), (c_x, top), (z_x, top), part=refs["hold"])
        c = pen.part(site, "hold", "electrolytic", c_x, 17.0)
        z = pen.part(site, "zener", "zener", z_x, 17.0)
        for ref, column, up, down in (
            (refs["hold"], c_x, c["a"], c["b"]),
            (refs["zener"], z_x, z["k"], z["a"]),
        ):
            pen.wire((column, top), up, part=ref)
            pen.wire(down, (column, HEIGHT), part=ref)
        drain = self._draw_switch(pen, site, x, u["e"])
        if self.feed_from == "line":
            pen.wire((x, 0.0), d["a"], part=refs["feed_diode"])
        else:
            # From the drain, over the gate's supply.
            pen.wire(
                d["a"],
                (x + 2.6, d["a"][1]),
                (x + 2.6, 10.6),
                (drain, 10.6),
                (drain, 14.0),
                part=refs["feed_diode"],
            )
        pen.tag(site.lane("gate"), "V", x + 2.6, 22.0)
        pen.tag(site.lane("gate_supply"), "V", x - 3.4, top)

    def _draw_switch(self, pen: Pen, site: Site, x: float, emitter: tuple[float, float]) -> float:
        """MOSFET, bridge and snubber right of column `x`; returns the drain's column."""
        q_ref, b_ref, r_ref = site.ref("switch"), site.ref("bridge"), site.ref("damper")
        p_x, m_x, s_x, b_x = x + 14.0, x + 18.6, x + 23.0, x + 28.0
        q = pen.part(site, "switch", "n_mosfet", m_x, 22.0)
        pen.wire(emitter, q["g"], part=site.ref("opto"))
        p = pen.part(site, "pull", "resistor", p_x, 26.4, side="left")
        pen.wire((p_x, 22.0), p["a"], part=site.ref("pull"))
        pen.wire(p["b"], (p_x, HEIGHT), part=site.ref("pull"))
        pen.wire(q["s"], (q["s"][0], HEIGHT), load=True, part=q_ref)
        b = pen.part(site, "bridge", "bridge", b_x, 14.0, side="below")
        pen.wire(b["p"], (q["d"][0], 14.0), q["d"], load=True, part=b_ref)
        pen.wire(b["n"], (b["n"][0], HEIGHT), load=True, part=b_ref)
        snub_r = pen.part(site, "damper", "resistor", s_x, 18.2)
        snub_c = pen.part(site, "store", "capacitor", s_x, 25.6)
        pen.wire((s_x, 14.0), snub_r["a"], part=r_ref)
        pen.wire(snub_r["b"], snub_c["a"], part=r_ref)
        pen.wire(snub_c["b"], (s_x, HEIGHT), part=site.ref("store"))
        pen.return_at = (b["b"][0], 7.0)
        pen.wire(b["b"], pen.return_at, load=True, part=b_ref)
        end = (b["a"][0] + 2.4, OUTPUT_Y)
        pen.wire(b["a"], (end[0], b["a"][1]), end, load=True, part=b_ref)
        pen.output, pen.x = end, end[0]
        return q["d"][0]
