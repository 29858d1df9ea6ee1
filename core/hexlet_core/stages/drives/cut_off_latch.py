"""Low-battery cut-off that latches: it goes off when the battery is low and stays off until somebody presses.

A PNP feeds all of the guard, and an NPN holds the PNP on for as long as a share of the battery stands above a
reference in the NPN's emitter. The button starts it through a capacitor: held on a flat battery it runs for
that moment, once, and no longer. Off, it takes nothing: not even what a reference would.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import BipolarCard, DiodeCard, FieldEffectCard, NpnCard, PMosfetCard, PnpCard, ZenerCard
from ...cards.derive import bipolar, zener
from ...cards.points import forward_volts, jump_charge, junctions, reverse_volts
from ...circuit.devices.base import thermal_voltage
from ...circuit.devices.heat import ROOM
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import StateRow
from ..contract.parts import Placed, capacitor, from_card, potentiometer, resistor
from ..contract.ports import Port
from ..contract.scenes import UPSTREAM, Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..drawing.guards import draw_cut_off_latch
from ..drawing.pen import Pen
from ..rules.feed import Names, from_rail
from ..rules.gate_drive import GateDrive
from ..rules.held import JUNCTION, OFF_BELOW, holds_check, lag_check
from ..rules.kick import peak_check
from ..rules.saturated import mosfet_load
from ..rules.switching import back_feed
from ..rules.trigger import PRESS
from ..say.checks import Check, Shown, check, high, low, when
from ..say.windows import Window, bound, window
from .battery_guard import CLOSED, BatteryGuard

FEEDS = 0.1  # what the feeding PNP keeps for itself [V]
DRIFT = 2e-3  # how much a junction's volts fall with each kelvin [V/K]
WARMS = 20.0  # how far the guard's surroundings are from those it was set in, assumed [K]
STRAYS = 0.3  # how far the level may stray with that [V]
EMPTIES = 3.0  # time constants after which the starting capacitor may be used again


class CutOffLatch(BatteryGuard):
    title = "Battery guard that latches"
    purpose = "Cut off when the battery is low, it stays off until somebody presses; off, it takes nothing."
    choose = "A battery that may lie flat for months, and a load that must not come back by itself."
    avoid = "It should run again by itself once the battery is charged: hysteresis does."
    picture = "cutoff"
    controls = ("gate", "share", "fed")
    stateful = False
    cards = {
        "card": PMosfetCard,
        "npn": NpnCard,
        "pnp": PnpCard,
        "zener": ZenerCard,
        "shunt": ZenerCard,
        "junction": DiodeCard,
    }

    kind: Literal["cut_off_latch"] = "cut_off_latch"
    reference: Literal["zener", "shunt", "junctions"] = "zener"
    npn: str = "npn-40v-200ma"
    pnp: str = "pnp-40v-200ma"
    zener: str = "zener-5v1"
    shunt: str = "reference-2v5"
    junction: str = "diode-200ma-100v"
    r_top: Annotated[float, Q("Ω", 1e3, 1e7)] = 15e3
    turn: Annotated[float, Q("%", 0.0, 100.0)] = 54.0
    r_bottom: Annotated[float, Q("Ω", 100.0, 1e7)] = 15e3
    r_ref: Annotated[float, Q("Ω", 100.0, 1e7)] = 10e3
    r_upper: Annotated[float, Q("Ω", 1e3, 1e7)] = 18e3
    r_hold: Annotated[float, Q("Ω", 1e3, 1e7)] = 47e3
    c_start: Annotated[float, Q("F", 1e-9, 1e-2)] = 4.7e-6
    r_rearm: Annotated[float, Q("Ω", 1e3, 1e8)] = 680e3
    r_base: Annotated[float, Q("Ω", 1e3, 1e7)] = 47e3
    r_bleed: Annotated[float, Q("Ω", 1e3, 1e7)] = 47e3
    r_gate: Annotated[float, Q("Ω", 1.0, 1e6)] = 1e3
    r_pull: Annotated[float, Q("Ω", 1e3, 1e7)] = 100e3
    c_gate: Annotated[float, Q("F", 1e-11, 1e-6)] = 10e-9

    @property
    def summary(self) -> str:
        return f"Battery guard that latches, {show(self.wanted, 'V')}"

    def ports(self) -> tuple[Port, ...]:
        contact = {"com": "touch", "make": "zero"}
        return (*super().ports(), Port("contact", "contact", "in", contact, form="make"))

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield from_card(site, "feeder", "Q", "pnp", {"c": "fed", "b": "upper", "e": "plus"})
        yield resistor(site, "upper", "Upper pull-up", "r_upper", "plus", "upper")
        yield resistor(site, "back", "Resistor that holds", "r_hold", "upper", "held")
        yield from_card(site, "judge", "Q", "npn", {"c": "held", "b": "share", "e": "level"})
        if self.reference == "junctions":
            yield from_card(site, "reference", "D", "junction", {"a": "level", "k": "zero"}, mark="")
        else:
            yield from_card(site, "reference", "Z", self.reference, {"a": "zero", "k": "level"})
        yield resistor(site, "ref", "Reference's resistor", "r_ref", "fed", "level")
        yield resistor(site, "top", "Divider's upper resistor", "r_top", "fed", "over")
        legs = {"a": "over", "w": "share", "b": "under"}
        yield potentiometer(site, "trim", "Trimmer", ("r_trim", "turn"), legs)
        yield resistor(site, "bottom", "Divider's lower resistor", "r_bottom", "under", "zero")
        yield capacitor(site, "filter", "Filter capacitor", "c_filter", "share", "zero")
        yield capacitor(site, "start", "Starting capacitor", "c_start", "held", "touch")
        yield resistor(site, "rearm", "Resistor that re-arms", "r_rearm", "held", "touch")
        yield resistor(site, "hold", "Base resistor", "r_base", "fed", "base")
        yield resistor(site, "bleed", "Pull-down", "r_bleed", "base", "zero")
        yield from_card(site, "puller", "Q", "npn", {"c": "pulled", "b": "base", "e": "zero"})
        yield resistor(site, "series", "Gate resistor", "r_gate", "gate", "pulled")
        yield resistor(site, "pull", "Gate pull-up", "r_pull", "plus", "gate")
        yield capacitor(site, "gate", "Gate capacitor", "c_gate", "plus", "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "plus"})

    # --- its level ----------------------------------------------------------------------------------
    def refer(self, site: Site) -> ZenerCard | DiodeCard:
        """The part that is its reference."""
        if self.reference == "junctions":
            return site.card("junction", DiodeCard)
        return site.card(self.reference, ZenerCard)

    def refers(self, site: Site, fed: float, judged: float = 0.0) -> float:
        """The reference's volts, fed through its resistor and by what the judging NPN passes on [V]."""
        card = self.refer(site)
        about = 0.6 if isinstance(card, DiodeCard) else card.voltage
        amps = max(fed - about, 1e-3) / self.r_ref + judged
        return forward_volts(card, amps) if isinstance(card, DiodeCard) else reverse_volts(card, amps)

    def taken(self, site: Site, fed: float) -> float:
        """What the guard takes of its own feed [A]."""
        divider = fed / (self.r_top + self.r_trim + self.r_bottom)
        base = max(fed - JUNCTION, 0.0) / self.r_base
        return divider + base + max(fed - self.refers(site, fed), 0.0) / self.r_ref

    def last(self, site: Site, volts: float) -> float:
        """The current at which the judging NPN lets go [A]: what the PNP still needs."""
        pnp = site.card("pnp", BipolarCard)
        return 0.6 / self.r_upper + self.taken(site, volts) / pnp.gain

    def cuts(self, site: Site, turn: float | None = None, divider: float = 0.0, ref: float = 0.0) -> float:
        share, npn = self.share(self.turn if turn is None else turn, divider), site.card("npn", BipolarCard)
        model, v_t = bipolar(npn), thermal_voltage(ROOM)

        def over(volts: float) -> float:
            fed = max(volts - FEEDS, FEEDS)
            amps = self.last(site, fed)
            v_be = v_t * math.log(amps / float(model["i_s"]))
            behind = amps / npn.gain * self.source
            return share * fed - self.refers(site, fed) * (1 + ref) - v_be - behind

        return self.crossing(over)

    def apart(self, site: Site) -> float:
        card = self.refer(site)
        return card.tolerance if isinstance(card, ZenerCard) else 0.05

    def formula(self) -> str:
        return "k · V = V_{ref} + V_{BE}"

    @property
    def again(self) -> str:
        return "Go up and press"

    def drift(self, site: Site) -> float:
        """How much the level strays with each kelvin, at the battery [V/K]."""
        card = self.refer(site)
        own = -DRIFT  # the judging NPN's own
        if isinstance(card, DiodeCard):
            own -= DRIFT
        else:
            own += float(zener(card)["breakdown_drift"])
        return own / self.share(self.turn)

    def starts(self, site: Site, volts: float) -> float:
        """How long the button keeps it on by itself [s]: until its capacitor is full."""
        need = max(self.last(site, volts), 1e-9) * self.r_hold
        return self.r_hold * self.c_start * math.log(max((volts - JUNCTION) / need, 1.01))

    # --- facts --------------------------------------------------------------------------------------
    def held(self, volts: float) -> float:
        """The pulling NPN's base current [A]."""
        return max((volts - JUNCTION) / self.r_base - JUNCTION / self.r_bleed, 0.0)

    def pulled(self, volts: float) -> float:
        """What that NPN carries [A]."""
        return volts / (self.r_pull + self.r_gate)

    def drive(self, site: Site) -> GateDrive:
        """Its gate, pulled down by its own NPN."""
        rail, npn = site.rail, site.card("npn", BipolarCard)
        keeps = min(junctions(npn, self.pulled(rail.low), max(self.held(rail.low), 1e-9)).v_ce, npn.v_ce_sat)
        demand = site.demand()
        return GateDrive(
            feed=from_rail(rail, demand.amps(rail.typical), npn.v_ce_sat, (keeps, keeps), site.ref("puller")),
            card=site.card("card", FieldEffectCard),
            series=self.r_gate,
            pull=self.r_pull,
            high=rail.high,
            hot=site.hot,
            on_within=1e-3,
            carries=demand.most(rail.high),
            rests=demand.rests,
            what=demand.name,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("gate", high=True, on=CLOSED),
            rail="the + rail",
            clamp=site.attached(),
        )

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        demand, gate, rail = site.demand(), self.drive(site), site.rail
        yield from self.level_checks(site)
        yield self._full(site)
        yield self._referred(site)
        yield self._strays(site)
        yield self.inrush_check(site)
        yield self._start(site)
        yield self._gives_up(site)
        yield self._rearms(site)
        yield holds_check(site, self.pulled, self.held, "The guard's own feed holds the gate's NPN.")
        card = site.card("card", FieldEffectCard)
        cure = f"Make {site.ref('gate')} larger."
        across = card.c_iss - card.c_rss + self.c_gate
        yield lag_check(site, jump_charge(card, rail.high), across, rail.high, card.threshold_min, cure)
        yield from peak_check(self.switches(site), rail, demand, self.output)
        yield from gate.checks()
        yield from mosfet_load(site, self.switches(site), demand, gate, sinks=False)
        yield from back_feed(site, demand)

    def _full(self, site: Site) -> Check:
        cuts, rail = self.cuts(site), site.rail
        drop = rail.resistance * site.demand().amps(rail.high)
        return check(
            "starts_full",
            "A press starts it on a full battery",
            "need",
            "turns on",
            unit="V",
            nominal=cuts + drop,
            worst=self.cuts(site, None, -site.tolerance / 10, 0.0) + drop,
            most=rail.high,
            at=high("the load's own drop counted"),
            says=f"It holds from {show(cuts, 'V')} on, and the load drops {show(drop, 'V')}; full, a battery "
            f"has {show(rail.high, 'V')}.",
            formula="V_{off} + I_{load} · R_{battery} < V_{full}",
            numbers=f"{show(cuts + drop, 'V')} < {show(rail.high, 'V')}",
            because="Started, the load itself must not take the battery under the level again.",
            cure=f"Turn {site.ref('trim')} down.",
        )

    def _referred(self, site: Site) -> Check:
        card, fed = self.refer(site), site.rail.typical - FEEDS
        judged = max(fed - JUNCTION - self.refers(site, fed), 0.0) / self.r_hold
        volts = self.refers(site, fed, judged)
        least = 0.5 if isinstance(card, DiodeCard) else (1 - 2 * card.tolerance) * card.voltage
        return check(
            "ref_fed",
            "Reference has its volts",
            "practice",
            "level",
            unit="V",
            nominal=volts,
            least=least,
            at=when("through its resistor"),
            says=f"{show(volts, 'V')} at {show(max(fed - volts, 0.0) / self.r_ref, 'A')}.",
            formula="V_{ref} at (V − V_{ref}) / R_{ref}",
            numbers=f"{show(volts, 'V')}",
            because="Starved, a reference is soft: its volts follow the battery, and the level with them.",
            cure=f"Make {site.ref('ref')} smaller.",
            shown=Shown("level", "active", within=0.03),
        )

    def _strays(self, site: Site) -> Check:
        drift, strays = self.drift(site), abs(self.drift(site)) * WARMS
        return check(
            "strays",
            "Level stays with the weather",
            "practice",
            "volts",
            unit="V",
            nominal=strays,
            most=STRAYS,
            at=when(f"{WARMS:.0f} K from where it was set"),
            says=f"{drift * 1e3:+.1f} mV a kelvin at the battery: {show(strays, 'V')} over {WARMS:.0f} K.",
            formula="ΔV = (ΔV_{ref} + ΔV_{BE}) / k",
            numbers=f"{drift * 1e3:+.1f} mV/K",
            because="Each junction loses 2 mV a kelvin, and the divider multiplies that.",
            cure="Take a shunt reference or a zener of some volts: the more volts, the smaller the share.",
        )

    def _start(self, site: Site) -> Check:
        rail, brief = site.rail, site.demand().brief(site.rail)
        lasts = self.starts(site, rail.low)
        settles = 3.0 * self.source * self.c_filter + brief
        return check(
            "start_lasts",
            "The button's start outlasts the first moment",
            "need",
            "time",
            unit="s",
            nominal=lasts,
            worst=0.7 * lasts,
            least=settles,
            at=low("a small starting capacitor"),
            says=f"The start lasts {show(lasts, 's')}; filter and inrush take {show(settles, 's')}.",
            formula="R_{hold} · C_{start} · ln((V − V_{BE}) / (R_{hold} · I)) "
            "≥ 3 · R · C_{filter} + t_{inrush}",
            numbers=f"{show(lasts, 's')} ≥ {show(settles, 's')}",
            because="Until the filter is full and the battery has recovered, the button alone holds it.",
            cure=f"Make {site.ref('start')} larger, or {site.ref('filter')} smaller.",
        )

    def _gives_up(self, site: Site) -> Check:
        rail = site.rail
        whole = self.r_upper + self.r_hold + self.r_rearm
        left = show(rail.high * self.r_upper / whole, "V")
        return check(
            "gives_up",
            "Gives up while the button is held on a flat battery",
            "need",
            "turns off",
            unit="V",
            nominal=rail.typical * self.r_upper / whole,
            worst=rail.high * self.r_upper / whole,
            most=OFF_BELOW,
            at=high("a hot PNP"),
            says=f"Held, {site.ref('feeder')} is left {left}; it is off under {OFF_BELOW} V.",
            formula="V · R_{upper} / (R_{upper} + R_{hold} + R_{rearm}) ≤ 0.4 V",
            numbers=f"{show(rail.high, 'V')} · {self.r_upper / whole:.3f}",
            because="What empties the starting capacitor lets a current through the held button, too.",
            cure=f"Make {site.ref('rearm')} larger, or {site.ref('upper')} smaller.",
        )

    def _rearms(self, site: Site) -> Check:
        seconds = EMPTIES * self.r_rearm * self.c_start
        return check(
            "rearms",
            "Ready for the next press",
            "practice",
            "time",
            unit="s",
            nominal=seconds,
            most=30.0,
            at=when("the starting capacitor empty again"),
            says=f"{show(seconds, 's')} after the button was let go.",
            formula="3 · R_{rearm} · C_{start}",
            numbers=f"= {show(seconds, 's')}",
            because="A capacitor that is still full starts nothing.",
            cure=f"Make {site.ref('rearm')} smaller.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        rail, brief = site.rail, site.demand().brief(site.rail)
        need = (3.0 * self.source * self.c_filter + brief) / 0.7
        per = self.starts(site, rail.low) / self.c_start
        start = [
            bound(
                "low",
                need / per,
                "outlasts the first moment",
                detail=show(need, "s"),
                guards="start_lasts",
                formula="C ≥ t / (R_{hold} · ln((V − V_{BE}) / (R_{hold} · I)))",
                because="Until the filter is full, the button alone holds it.",
            ),
            bound(
                "high",
                10.0 / per,
                "gives up on a flat battery",
                detail="10 s",
                guards="start_lasts",
                formula="C ≤ 10 s / (R_{hold} · ln((V − V_{BE}) / (R_{hold} · I)))",
                because="Held on a flat battery, the load runs for as long as it fills.",
                soft=True,
            ),
        ]
        rides = brief / 0.7 / max(self.source, 1.0)
        filters = [
            bound(
                "low",
                rides,
                "rides the inrush",
                detail=show(brief, "s"),
                guards="rides_inrush",
                formula="C ≥ t_{inrush} / R_{divider}",
                because="Smaller, and the inrush itself cuts the load off.",
            ),
            bound(
                "high",
                2.0 / max(self.source, 1.0),
                "cuts off in time",
                detail="2 s",
                guards="rides_inrush",
                formula="C ≤ 2 s / R_{divider}",
                because="Larger, and a flat battery is drawn on for longer before it is cut off.",
                soft=True,
            ),
        ]
        return (
            window(site, "c_start", "start", "starting capacitor", start),
            window(site, "c_filter", "filter", "filter capacitor", filters),
        )

    # --- what it does -------------------------------------------------------------------------------
    def states(self, site: Site) -> tuple[StateRow, ...]:
        cuts, runs = show(self.cuts(site), "V"), site.demand().energised
        start = show(self.starts(site, site.rail.low), "s", 2)
        judge, feeder = site.ref("judge"), site.ref("feeder")
        own = show(self.taken(site, site.rail.typical), "A", 2)
        return (
            StateRow(state="Battery connected", load="off", why=f"nothing feeds {feeder}'s base"),
            StateRow(state="Pressed", load=runs, why=f"{site.ref('start')} fills through {feeder}'s base"),
            StateRow(state="Let go", load="stays on", why=f"{judge} sees more than its reference"),
            StateRow(state=f"Falls to {cuts}", load="off", why=f"{judge} lets go, and {feeder} with it"),
            StateRow(state="Recovers, or is charged", load="stays off", why="until somebody presses"),
            StateRow(
                state="Held on a flat battery",
                load=f"on for {start}, once",
                why=f"{site.ref('start')} is full then",
            ),
            StateRow(
                state="The guard itself", load=f"takes {own} on, nothing off", why="all hangs on the PNP"
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return (
            "On a supply that can be turned: press, then slowly down until it cuts off, and up again.",
            f"off at {show(self.cuts(site), 'V')}, and stays off",
        )

    def settles(self, site: Site) -> float:
        return self.starts(site, site.rail.typical) + 4 * self.source * self.c_filter + 0.2

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        press = Act(UPSTREAM, "active", 0.1, PRESS)
        later = 0.3 + 2 * self.settles(site)
        return (
            Scene("idle", "off", ()),
            Scene("active", "on after a press, on a full battery", (press,), look=later),
            Scene("rest", "button unplugged", ()),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        cuts, t, full = self.cuts(site), self.settles(site), site.rail.high
        if not math.isfinite(cuts):
            return ()
        low_end = 0.85 * cuts
        again = EMPTIES * self.r_rearm * self.c_start
        press = Act(UPSTREAM, "active", 0.2 * t, PRESS)
        last = 22 * t + again
        return (
            Play(
                "Pressed, battery slowly down and up, pressed again",
                last + 4 * t,
                (press, Act(UPSTREAM, "active", last, PRESS)),
                supply=((0.0, full, 1e-3), (3 * t, low_end, 12 * t), (16 * t, full, 4 * t)),
            ),
            Play(
                "Held on a flat battery",
                4 * t,
                (Act(UPSTREAM, "active", 0.2 * t, 3 * t),),
                supply=((0.0, low_end, 1e-3),),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        found = (
            ("level", "Reference to 0 V", "level strip"),
            ("share", "Divider's tap to 0 V", "share strip"),
            ("fed", "Guard's feed to 0 V", "fed strip"),
            ("drain", "Drain to 0 V", "drain strip"),
        )
        return tuple(Probe(id=n, title=t, red=r, signal=n, scenes=("idle", "active")) for n, t, r in found)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (
            Watch(id="drain", title="Drain", unit="V", signal="drain", place=3),
            Watch(id="share", title="Battery's share", unit="V", signal="share", place=5),
            Watch(id="level", title="Reference", unit="V", signal="level", place=5),
        )

    def draw(self, pen: Pen, site: Site) -> None:
        draw_cut_off_latch(pen, site, "diode" if self.reference == "junctions" else "zener")
