"""Held gate: a capacitor keeps an N-MOSFET on for a while after the signal lets go.

The signal charges the capacitor at the gate through a resistor and a diode; then one large resistor empties
it. t = R·C·ln(V_0 / V_end), where V_end is the gate voltage at which the load lets go: the threshold's spread
decides. Between on and off the MOSFET is half on for a share of that time, and heats.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from ...cards.card import DiodeCard, FieldEffectCard, MosfetCard
from ...cards.points import channel_amps, forward_volts
from ...fields import Q
from ...quantity import Interval, show, show_part
from ...roots import root
from ..contract.descriptions import Finder, StateRow
from ..contract.facts import Control, Switch
from ..contract.parts import Placed, from_card, resistor
from ..contract.scenes import MOMENT, UPSTREAM, Act, Play, Scene, Watch
from ..contract.site import Site
from ..drawing.pen import Pen
from ..drawing.switches import draw_held_gate
from ..rules.feed import Names, from_low_side
from ..rules.gate_drive import GateDrive
from ..rules.leak import Leak
from ..rules.saturated import mosfet_load
from ..rules.switching import direct_only
from ..rules.timing import leak_of, symbol_of, timing_capacitor, tolerance_of
from ..rules.trigger import PRESS
from ..rules.trimmed import Counted, time_checks, tuned_pairs, tuned_windows, tuning
from ..rules.wanted import Telling, Times, asked_for, ends_of, spread_words
from ..say.checks import Check, Shown, check, high, holds, low, strongest, weakest, when
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence
from .base import Cooled

FULL = 4.0  # time constants until the capacitor is full


@dataclass(frozen=True)
class SlowGate(GateDrive):
    """A gate that a capacitor lets go of slowly: it spends `falls` half on [s]."""

    falls: float = 0.0

    def edge(self) -> float:
        return self.falls


@dataclass(frozen=True)
class Holding:
    """A capacitor at a gate, full at `begin` [V] and emptied by a resistance [Ω] down to `end` [V]."""

    begin: float
    end: float
    ohms: float
    farads: float

    @property
    def seconds(self) -> float:
        """How long it takes [s]: nothing where it begins below its end."""
        if self.begin <= self.end or self.end <= 0.0:
            return 0.0
        return self.ohms * self.farads * math.log(self.begin / self.end)


class HeldGate(Counted, Cooled):
    title = "Held gate, off-delay"
    purpose = "On with the signal, and off a set time after it ends: a capacitor holds a MOSFET's gate."
    choose = "The load may go off softly, some seconds to minutes after a press, and few parts shall do it."
    avoid = "The time must be the same from one MOSFET to the next, or the load must go off at once."
    picture = "offdelay"
    output = "drain"
    controls = ("gate",)
    main = "gate"
    cards = {"card": MosfetCard, "diode": DiodeCard}

    resistor = ("r_hold", "pull", "emptying resistor")
    capacitor = ("c_hold", "hold", "holding capacitor")

    kind: Literal["held_gate"] = "held_gate"
    card: str = "nmos-55v-5a-logic"
    r_feed: Annotated[float, Q("Ω", 1.0, 1e6)] = 470.0
    diode: str = "diode-200ma-100v"
    c_hold: Annotated[float, Q("F", 1e-11, 0.1)] = 10e-6
    counted: Literal["press", "release"] = "release"
    r_hold: Annotated[float, Q("Ω", 100.0, 1e9)] = 1e6
    wanted: Annotated[float, Q("s", 1e-5, 1e5)] = 20.0
    at_least: Annotated[float, Q("s", 1e-6, 1e5)] = 10.0
    at_most: Annotated[float, Q("s", 1e-5, 1e6)] = 40.0

    @property
    def summary(self) -> str:
        return f"Held gate, {show_part(self.r_hold)} × {show(self.c_hold, 'F')}"

    @property
    def runs_from(self) -> str:
        return "release"

    # --- its parts ----------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        yield resistor(site, "series", "Charging resistor", "r_feed", "signal", "feed")
        yield from_card(site, "keep", "D", "diode", {"a": "feed", "k": "gate"}, title="Holding diode")
        yield timing_capacitor(site, "hold", "Holding capacitor", "c_hold", "gate", "zero")
        yield resistor(site, "pull", "Emptying resistor", "r_hold", self.behind("gate"), "zero")
        yield from self.trimmer(site, "gate")
        yield from_card(site, "switch", "Q", "card", {"g": "gate", "d": "drain", "s": "zero"})

    # --- its time -----------------------------------------------------------------------------------
    def _full(self, site: Site, volts: float) -> float:
        """What a level [V] leaves at the gate: the diode keeps what the resistor draws through it."""
        kept = forward_volts(site.card("diode", DiodeCard), max(volts, 0.1) / self.ohms)
        ohms = self.r_feed + site.command.high.ohms
        return max(volts - kept, 0.0) * self.ohms / (self.ohms + ohms)

    def _ends(self, site: Site) -> float:
        """The current at which the load lets go [A]."""
        return site.demand().lets_go(site.rail.typical)

    def _gate_at(self, site: Site, share: float | None = None, shift: float = 0.0) -> float:
        """The gate voltage at which a share of the load's current flows, or that at which it lets go [V]."""
        card, rail, demand = site.card("card", FieldEffectCard), site.rail, site.demand()
        whole = demand.amps(rail.typical)
        amps = self._ends(site) if share is None else share * whole
        across = max(rail.typical * (1 - amps / whole), 0.05) if whole > 0 else rail.typical

        def over(v_gs: float) -> float:
            return channel_amps(card, v_gs, across) - amps

        top = card.v_gs_max
        return (root(over, 0.0, top) if over(0.0) < 0.0 < over(top) else top) + shift

    def holding(
        self, site: Site, resistors: float = 0.0, capacitor: float = 0.0, end: float = 0.0
    ) -> Holding:
        """The capacitor's emptying, its parts off by these shares and the end by these volts."""
        farads = self.c_hold * (1 + capacitor)
        ohms = self.ohms * (1 + resistors)
        leak = leak_of(self.c_hold)
        both = 1 / (1 / ohms + (0.0 if math.isinf(leak) else 1 / leak))
        begin = self._full(site, site.command.high.volts.typical)
        return Holding(begin, self._gate_at(site, shift=end), both, farads)

    def times(self, site: Site) -> Times:
        """Its time, and over all tolerances: the threshold's spread is most of it."""
        card, r, c = site.card("card", FieldEffectCard), site.tolerance, tolerance_of(self.c_hold)
        late, soon = card.threshold_min - card.threshold, card.threshold_max - card.threshold
        return Times(
            self.holding(site).seconds,
            self.holding(site, -r, -c, soon).seconds,
            self.holding(site, r, c, late).seconds,
        ).later(self.plus)

    def _falls(self, site: Site) -> float:
        """How long the MOSFET is half on as it lets go: from nine tenths of the current to a tenth [s]."""
        made = self.holding(site)
        most, least = self._gate_at(site, 0.9), self._gate_at(site, 0.1)
        return made.ohms * made.farads * math.log(most / least) if 0 < least < most else 0.0

    def gate(self, site: Site) -> SlowGate:
        """Its gate while the signal drives it, behind the diode."""
        command = site.command
        volts = Interval(
            *(
                self._full(site, v)
                for v in (command.high.volts.low, command.high.volts.typical, command.high.volts.high)
            )
        )
        behind = replace(command, high=replace(command.high, volts=volts))
        return SlowGate(
            feed=from_low_side(behind),
            card=site.card("card", FieldEffectCard),
            series=0.0,
            pull=None,
            high=site.rail.high,
            hot=site.hot,
            on_within=1.0,
            carries=site.demand().most(site.rail.high),
            rests=site.demand().rests,
            what=site.demand().name,
            stays_on=site.demand().stays_on,
            tolerance=site.tolerance,
            series_ref=site.ref("series"),
            pull_ref=site.ref("pull"),
            names=Names("gate", series="series", on=self.runs(site)),
            clamp=site.attached(),
            falls=self._falls(site),
        )

    def switches(self, site: Site) -> Switch:
        made = self.mosfet_switch(site, site.card("card", FieldEffectCard), self.gate(site))
        return replace(made, slow=True)

    def controlled(self, site: Site) -> Control:
        return Control("gate", most=site.card("card", FieldEffectCard).v_gs_max)

    def leak(self, site: Site) -> Leak:
        """What leaks at the end of its time."""
        end = self.holding(site).end
        return Leak(site.card("card", FieldEffectCard).gate_leakage, end, self.c_hold, end / self.ohms)

    # --- what is said -------------------------------------------------------------------------------
    def checks(self, site: Site) -> Iterator[Check]:
        gate = self.gate(site)
        yield from self._time_checks(site)
        yield from self._gate_checks(site, gate)
        yield from self._charge_checks(site)
        yield from mosfet_load(site, self.switches(site), site.demand(), gate, self.heatsink)
        yield from direct_only(site)

    def _time_checks(self, site: Site) -> Iterator[Check]:
        made, times = self.holding(site), self.own(site)
        r, c, q, t = site.ref("pull"), site.ref("hold"), site.ref("switch"), times.nominal
        card = site.card("card", FieldEffectCard)
        ends = f"{show(made.begin, 'V')} → {show(made.end, 'V')}"
        shown = Shown(
            "i(switch.d)",
            "let_go",
            "delay",
            look=1.5 * t + 0.05,
            level=self._ends(site),
            edge="fall",
            plus=self.plus,
            within=0.03,
            because="the load's own volts at the end move the gate voltage a little",
        )
        telling = Telling(
            says="Off after" if self.counted == "release" else "Off after the press by",
            formula="t = R_{empty} × C_{hold} × ln(V_{0} / V_{end})",
            numbers=f"{self.ohms_words} × {show(self.c_hold, 'F')}, {ends}: {show(t, 's')}",
            because=(
                f"{q} begins from {show(card.threshold_min, 'V')} to {show(card.threshold_max, 'V')}. "
                + spread_words(site, c, self.c_hold, r).replace("The capacitor is nearly all of it.", "")
            ).strip(),
            part=r,
            shown=shown if t > 0 else None,
        )
        yield from time_checks(site, self, telling)
        yield self.leak(site).check(
            t,
            formula="I_{leak} ≤ V_{end} / R_{empty} / 5",
            because="What leaks empties it too: the time is then the capacitor's own, not the resistor's.",
            part=r,
            ref=c,
        )

    def _gate_checks(self, site: Site, gate: SlowGate) -> Iterator[Check]:
        card = gate.card
        need, name = card.lowest_on.v_gs, site.command.name
        yield check(
            "fully_on",
            "Gate voltage",
            "need",
            "turns on",
            unit="V",
            nominal=gate.least,
            worst=gate.worst,
            least=0.9 * need,
            at=weakest(f"{name} at its lowest"),
            says=f"Needs {show(0.9 * need, 'V')}, gets {show(gate.worst, 'V')}.",
            formula=f"V_{{gate}} = V_{{{name}}} − V_{{diode}}",
            numbers=f"= {show(gate.worst, 'V')}",
            because=f"{show(need, 'V')} is where the on-resistance is promised; a tenth less changes little.",
            cure="Take a MOSFET promised at a lower gate voltage, or a signal at the supply's own volts.",
            shown=Shown("gate", self.runs(site), within=0.03),
        )
        yield check(
            "gate_max",
            "Gate voltage, highest",
            "limit",
            "level",
            unit="V",
            nominal=gate.usual,
            worst=gate.most,
            most=card.v_gs_max,
            at=strongest(f"{name} at its highest"),
            says=f"{show(gate.most, 'V')} of {show(card.v_gs_max, 'V')} across the gate.",
            formula="V_{GS} ≤ V_{GS,max}",
            numbers=f"{gate.most:.3g} ≤ {card.v_gs_max:.3g}",
            because="A gate's oxide breaks down once and for all.",
            cure="Clamp the gate with a zener: it then also sets the time.",
        )
        yield holds(
            "sense",
            "Signal is high while it is meant",
            "need",
            "turns on",
            site.command.sense == "high",
            at=when("it is meant"),
            says=f"A high level fills the capacitor; the {name} goes {site.command.sense} when it is meant.",
            formula="filled by a high level",
            numbers=f"{name} goes {site.command.sense}",
            because="The diode lets only a high level through: else the load is on until it is meant.",
            cure="Take a button to the supply, or a signal that goes high.",
        )
        rests = max(site.command.rest.volts, 0.0) if not site.command.rest.floats else 0.0
        yield check(
            "at_rest",
            f"Off while {site.command.rest.when}",
            "need",
            "at rest",
            unit="V",
            nominal=max(rests - 0.5, 0.0),
            most=card.threshold_min,
            at=when("the readiest MOSFET"),
            says=f"Gate at {show(max(rests - 0.5, 0.0), 'V')}; it begins at {show(card.threshold_min, 'V')}.",
            formula="V_{rest} − V_{diode} < V_{th,min}",
            numbers=f"{show(max(rests - 0.5, 0.0), 'V')} < {show(card.threshold_min, 'V')}",
            because="A signal that rests high keeps the capacitor full for good.",
            cure="Take a signal that rests low: a button to the supply with a pull-down.",
        )

    def _charge_checks(self, site: Site) -> Iterator[Check]:
        command, c = site.command, site.ref("hold")
        ohms = self.r_feed + command.high.ohms
        amps = command.high.volts.high / ohms
        yield check(
            "burst",
            "Charging the empty capacitor",
            "limit",
            "surge",
            unit="A",
            nominal=amps,
            most=command.burst,
            at=high(f"{c} empty"),
            says=f"{show(amps, 'A')} of {show(command.burst, 'A')} for the {command.name}.",
            formula="I = V / R_{feed}",
            numbers=f"{show(command.high.volts.high, 'V')} / {show(ohms, 'Ω')} = {show(amps, 'A')}",
            because="An empty capacitor is a short at first: a bare contact pits on it, a pin gives up.",
            cure=f"Make {site.ref('series')} larger.",
        )
        fills = FULL * ohms * self.c_hold
        yield check(
            "filled",
            "Full within a press",
            "practice",
            "time",
            unit="s",
            nominal=fills,
            worst=fills * (1 + tolerance_of(self.c_hold)),
            most=PRESS,
            at=low("an ordinary press"),
            says=f"{c} is full after {show(fills, 's')}; a press lasts {show(PRESS, 's')}.",
            formula="t = 4 · R_{feed} · C_{hold}",
            numbers=f"4 · {show(ohms, 'Ω')} · {show(self.c_hold, 'F')} = {show(fills, 's')}",
            because="A shorter press leaves it half full, and the time is shorter.",
            cure=f"Make {site.ref('series')} smaller.",
        )

    def windows(self, site: Site) -> tuple[Window, ...]:
        command = site.command
        feed = [
            bound(
                "low",
                command.high.volts.high / command.burst - command.high.ohms,
                "what the signal stands",
                detail=show(command.burst, "A"),
                guards="burst",
                formula="R_{feed} ≥ V / I_{burst}",
                because="Smaller, and the empty capacitor draws more than the signal or contact stands.",
            ),
            bound(
                "high",
                PRESS / FULL / self.c_hold / (1 + tolerance_of(self.c_hold)) - command.high.ohms,
                "full within a press",
                detail=show(PRESS, "s"),
                guards="filled",
                formula="R_{feed} ≤ t_{press} / (4 · C_{hold})",
                because="Larger, and an ordinary press does not fill it.",
            ),
        ]
        return (
            *tuned_windows(site, self, self.leak(site).bound(self.ohms, self.line)),
            window(site, "r_feed", "series", "charging resistor", [b for b in feed if b.value > 0]),
        )

    def finds(self, site: Site) -> Finder:
        """Capacitors to choose from, each with the resistor that it needs, the nearest first."""
        made = self.holding(site)
        return tuned_pairs(site, self, math.log(made.begin / made.end) if made.begin > made.end > 0 else 1.0)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        said = (
            *asked_for(say, "On while it is meant, and for", "after."),
            *self.counting(say),
            *tuning(say, self),
        )
        return {**super().givens(say, site, fed), "behave": said}

    # --- what it does -------------------------------------------------------------------------------
    def scenes(self, site: Site) -> tuple[Scene, ...]:
        press = MOMENT + 2 * FULL * (self.r_feed + site.command.high.ohms) * self.c_hold + PRESS
        acts = (Act(UPSTREAM, "active", MOMENT, press - MOMENT),)
        return (Scene("let_go", "just let go", acts, look=press),)

    def states(self, site: Site) -> tuple[StateRow, ...]:
        times, q = self.own(site), site.ref("switch")
        ends = ends_of(times)
        falls, c = self._falls(site), site.ref("hold")
        return (
            StateRow(state="Held", load="on for as long as it is held", why=f"{c} stays full"),
            StateRow(
                state="Let go",
                load=f"off after {show(times.nominal, 's')}, {ends}",
                why=f"{site.ref('pull')} empties {c}",
            ),
            StateRow(
                state="Pressed again meanwhile", load="the whole time again", why=f"{c} is filled again"
            ),
            StateRow(
                state="Near its end", load=f"fades for {show(falls, 's', 2)}", why=f"{q} is half on meanwhile"
            ),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        ends = ends_of(self.promised(site))
        return "Press and let go: the load comes on, stays, fades and is off.", f"off after {ends}"

    def settles(self, site: Site) -> float:
        times = self.own(site)
        return (
            1.2 * times.most + 3 * self._falls(site) + 0.1 if math.isfinite(times.most) else 3 * self.wanted
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        t = max(self.own(site).nominal, 0.1)
        press = max(PRESS, 0.02 * t)
        return (
            Play("One press", 1.6 * t + press, (Act(UPSTREAM, "active", 0.1 * t, press),)),
            Play(
                "Pressed again half-way",
                2.1 * t + 2 * press,
                (Act(UPSTREAM, "active", 0.1 * t, press), Act(UPSTREAM, "active", 0.6 * t, press)),
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        end = self._gate_at(site)
        limits = ((end, f"{show(end, 'V')}, lets go here"),)
        own = (w for w in super().watches(site) if w.id != "gate")
        return (*own, Watch(id="gate", title="Gate", unit="V", signal="gate", place=4, limits=limits))

    # --- its drawing --------------------------------------------------------------------------------
    def draw(self, pen: Pen, site: Site) -> None:
        draw_held_gate(pen, site, symbol_of(self.c_hold))
