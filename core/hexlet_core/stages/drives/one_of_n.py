"""One of several: changeover buttons in a hold line, a self-holding relay a channel, and one button for none.

Each button carries the hold line through its resting side to the next; pressed, it cuts the line for all
behind it and feeds its own relay, which then holds itself from the line's end. What matters is time: the
relay that is cut must let go before the next pulls in, and the one that is fed must hold on while its button
travels back.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ...cards.card import DiodeCard, RelayCard, ZenerCard
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import StateRow
from ..contract.facts import Contact, Demand, Draw, Open, Switch
from ..contract.parts import Placed, from_card
from ..contract.ports import Port, rail_in
from ..contract.scenes import Act, Play, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Drive
from ..drawing.pen import Pen
from ..drawing.selectors import draw_selector
from ..rules.coil import Coil, time_to_rise
from ..rules.contact import Switched, contact_checks, contact_switch
from ..rules.supplied import Supplied
from ..say.checks import Change, Check, Shown, check, high, low
from ..say.wording import Say, Sentence, Word

ORDINAL = ("", "first", "second", "third", "fourth", "fifth", "sixth")
TAP = 0.1  # how long a button is held [s]
DROPS = 1.2  # of a freewheel diode, hot and cold, at most [V]


class OneOfN(Drive):
    title = "One of several"
    purpose = "Each button turns its own load on and the others off; one more button turns all off."
    choose = "Only one of two to six loads may ever run, and a relay each is welcome."
    avoid = "Two must be able to run together, or a controller does the choosing."
    picture = "select"
    cards = {"card": RelayCard, "diode": DiodeCard, "zener": ZenerCard}
    side: ClassVar[Literal["high"]] = "high"

    kind: Literal["one_of_n"] = "one_of_n"
    card: str = "relay-12v-320r-two"
    diode: str = "diode-200ma-100v"
    zener: str = "zener-15v"
    faster: bool = False  # a zener in each freewheel path
    count: Annotated[int, Field(ge=2, le=6)] = 3
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0

    @property
    def summary(self) -> str:
        return f"One of {self.count}, {'zeners' if self.faster else 'plain diodes'}"

    @property
    def channels(self) -> range:
        return range(1, self.count + 1)

    @staticmethod
    def out(k: int) -> str:
        """The output port of a channel."""
        return "out" if k == 1 else f"out_{k}"

    def ports(self) -> tuple[Port, ...]:
        last = self.count
        lines = [f"line_{k}" for k in self.channels] + ["hold"]
        off = Port("off", "contact", "in", {"com": "plus", "break": "line_1"}, form="break")
        buttons = [
            Port(
                f"button_{k}",
                "contact",
                "in",
                {"com": f"line_{k}", "make": f"coil_{k}", "break": lines[k] if k < last else "hold"},
                form="changeover",
            )
            for k in self.channels
        ]
        outs = [
            Port(self.out(k), "load", "out", {"top": f"switched_{k}", "bottom": "zero"}, side="high")
            for k in self.channels
        ]
        return (rail_in(), *buttons, off, *outs)

    # --- parts --------------------------------------------------------------------------------------
    def make(self, site: Site) -> Iterable[Placed]:
        coil = self.coil(site)
        for k in self.channels:
            legs = {"a": f"coil_{k}", "b": "zero", "com": "hold", "no": f"coil_{k}"}
            load = {"com2": "plus", "no2": f"switched_{k}"}
            ohms = show(coil.resistance, "Ω")
            yield from_card(site, f"relay_{k}", "K", "card", legs | load, numbers=coil.numbers, mark=ohms)
            free = f"free_{k}" if self.faster else f"coil_{k}"
            yield from_card(site, f"diode_{k}", "D", "diode", {"a": "zero", "k": free}, mark="")
            if self.faster:
                yield from_card(site, f"zener_{k}", "Z", "zener", {"a": f"coil_{k}", "k": free})

    def coil(self, site: Site) -> Coil:
        """A relay's winding; all are alike."""
        card = site.card("card", RelayCard)
        return Coil(card, card.coil, card.rated, 25.0, self.hottest, card.time_constant)

    # --- facts --------------------------------------------------------------------------------------
    def switches(self, site: Site) -> Switch:
        return self.switch(site, 1)

    def switch(self, site: Site, k: int) -> Switch:
        """The load contact of a channel."""
        return replace(contact_switch(site, f"relay_{k}", f"switched {k}"), scene=f"on_{k}")

    def tell(self, port: str, site: Site) -> Any:
        for k in self.channels:
            if port == self.out(k):
                return self.switch(site, k)
        if port == "rail":
            rail, coil = site.rail, site.rail.high / self.coil(site).coldest
            most = max((d.most(rail.high) for d in self.demands(site)), default=0.0)
            return Draw(most + coil, max((d.surge(rail) for d in self.demands(site)), default=0.0), 0.05)
        return None

    def demands(self, site: Site) -> list[Demand]:
        """What each channel's load takes, of those that are joined."""
        found = []
        for k in self.channels:
            try:
                found.append(site.demand(self.out(k)))
            except Open:
                continue
        return found

    # --- its times ----------------------------------------------------------------------------------
    def buttons(self, site: Site) -> list[Contact]:
        """The contacts that are joined."""
        return [f for p in self.ports() if p.kind == "contact" for f in site.seen(p.name)]

    def travels(self, site: Site) -> tuple[float, float]:
        """The shortest and the longest travel of the buttons that change over [s]."""
        found = [c.travel for c in self.buttons(site) if c.form == "changeover"]
        return (min(found, default=0.0), max(found, default=0.0))

    def rise(self, site: Site) -> float:
        """How high the freewheel path stands above the coil [V]."""
        return DROPS + (site.card("zener", ZenerCard).voltage if self.faster else 0.0)

    def decay(self, site: Site, volts: float, rise: float) -> float:
        """How long a coil's current lasts above where it must have let go [s]."""
        coil = self.coil(site)
        begin, extra = volts / coil.resistance, rise / coil.resistance
        return coil.time_constant * math.log((begin + extra) / (coil.drop_out + extra))

    def opens(self, site: Site, volts: float) -> float:
        """How long after its line is cut a load contact is open [s]."""
        return self.decay(site, volts, self.rise(site) - DROPS / 2) + self.coil(site).card.release

    def shuts(self, site: Site, volts: float) -> float:
        """How long after the line is cut the next one's contact is shut [s]: travel, current, travel."""
        coil = self.coil(site)
        ends = volts / coil.resistance
        return (
            self.travels(site)[0] + time_to_rise(coil.pull_in, ends, coil.time_constant) + coil.card.operate
        )

    def holds(self, site: Site, volts: float, ohms: float, rise: float) -> float:
        """How long a relay stays in with nothing feeding it [s], from a coil of some ohms on some volts."""
        coil = self.coil(site)
        keeps = coil.card.must_hold * coil.rated / coil.resistance
        begin, extra = volts / ohms, rise / coil.resistance
        return coil.time_constant * math.log(max((begin + extra) / (keeps + extra), 1.0))

    def checks(self, site: Site) -> Iterator[Check]:
        coil, rail = self.coil(site), site.rail
        shown = Shown("coil_1", "on_1")
        yield from coil.checks(
            rail, Supplied(rail.low, rail.low, 0.0, 0.0, rail.high, rail.high), shown, "switch_", "Relays: "
        )
        yield from self._time_checks(site)
        amps = rail.high / coil.coldest
        most = min((c.most for c in self.buttons(site)), default=math.inf)
        yield check(
            "button_carries",
            "Buttons carry the coil",
            "limit",
            "contact",
            unit="A",
            nominal=amps,
            most=most,
            at=high("coil cold"),
            says=f"{show(amps, 'A')} of {show(most, 'A')} through each button.",
            formula="I = V / R_{coil,cold}",
            numbers=f"= {rail.high:.3g} V / {show(coil.coldest, 'Ω')} = {show(amps, 'A')}",
            because="The line and the pressed button carry a whole coil.",
            cure="Take relays with more ohms, or buttons for more current.",
        )
        yield from self.contacts(site)

    def contacts(self, site: Site) -> Iterator[Check]:
        """What each channel's load contact switches."""
        coil, rail = self.coil(site), site.rail
        for k in self.channels:
            try:
                demand = site.demand(self.out(k))
            except Open:
                continue
            runs = demand.most(rail.high)
            starts, name = max(self.switch(site, k).surge(demand), runs), demand.name.capitalize()
            on = Switched(name, demand.use, runs, starts, rail.high, rail.ac)
            yield from contact_checks(coil.card.ratings, on, tag=f"switch_{k}_")

    def _time_checks(self, site: Site) -> Iterator[Check]:
        rail = site.rail
        gone, next_ = self.opens(site, rail.high), self.shuts(site, rail.high)
        yield check(
            "never_two",
            "Never two at once",
            "need",
            "time",
            unit="s",
            nominal=self.opens(site, rail.typical) * next_ / self.shuts(site, rail.typical),
            worst=gone,
            most=next_,
            at=high("the next pulls in fastest"),
            says=f"One opens at {show(gone, 's')}, the next shuts at {show(next_, 's')}.",
            formula=(
                "τ ln((V + V_{D}) / (V_{drop} + V_{D})) + t_{release} "
                "< t_{travel} + τ ln(V / (V − V_{pull})) + t_{operate}"
            ),
            numbers=f"{show(gone, 's')} < {show(next_, 's')}",
            because="The diode keeps the cut coil fed for a while; the button's travel keeps them apart.",
            cure="Fit a zener in each freewheel path: it lets go several times faster.",
            changes=() if self.faster else self._fit_zeners(site),
        )
        coil, rise, travel = self.coil(site), self.rise(site), self.travels(site)[1]
        kept = self.holds(site, rail.low, coil.warmest, rise)
        yield check(
            "over_travel",
            "Holds over the button's travel",
            "need",
            "time",
            unit="s",
            nominal=self.holds(site, rail.typical, coil.resistance, rise - DROPS / 2),
            worst=kept,
            least=travel,
            at=low("coil hot, an ordinary holding current"),
            says=f"Needs {show(travel, 's')}, holds {show(kept, 's')}.",
            formula="τ ln((V + V_{D}) / (V_{hold} + V_{D})) ≥ t_{travel}",
            numbers=f"{show(kept, 's')} ≥ {show(travel, 's')}",
            because="While the button travels back nothing feeds the relay that it has just pulled in.",
            cure="Take buttons that travel faster, or relays with a slower coil; zeners make it worse.",
        )
        yield check(
            "tap",
            "Shortest tap changes over",
            "need",
            "time",
            unit="s",
            nominal=self.shuts(site, rail.low),
            most=TAP,
            at=low("slowest pull-in"),
            says=f"{show(self.shuts(site, rail.low), 's')} are enough; a quick tap lasts {show(TAP, 's')}.",
            formula="t_{travel} + τ ln(V / (V − V_{pull})) + t_{operate}",
            numbers=f"= {show(self.shuts(site, rail.low), 's')}",
            because="The relay must have pulled in before the button is let go.",
            cure="Press longer, or take a faster relay.",
        )

    def _fit_zeners(self, site: Site) -> tuple[Change, ...]:
        return (Change(path=site.path("faster"), value=True),)

    # --- what it does -------------------------------------------------------------------------------
    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        return {
            "behave": (
                Word(text=f"One of {self.count} at a time; freewheel paths"),
                say.field(
                    "faster", note="release", choices=(("False", "of plain diodes"), ("True", "with zeners"))
                ),
            )
        }

    def states(self, site: Site) -> tuple[StateRow, ...]:
        volts = site.rail.typical
        s = [site.beyond(p.name).ref("contact") for p in self.ports() if p.kind == "contact"]
        gone, next_ = show(self.opens(site, volts), "s", 2), show(self.shuts(site, volts), "s", 2)
        return (
            StateRow(
                state="Supply returns", load="none", why="no relay holds itself before a button is pressed"
            ),
            StateRow(
                state=f"{s[0]} pressed", load="1", why=f"{site.ref('relay_1')} pulls in and holds itself"
            ),
            StateRow(
                state=f"{s[1]} pressed while 1 is on",
                load="2",
                why=f"the line is cut: 1 opens after {gone}, 2 shuts after {next_}",
            ),
            StateRow(
                state=f"{s[0]} and {s[1]} together",
                load="1, then the last let go",
                why=f"{s[0]} cuts the line before {s[1]}",
            ),
            StateRow(state=f"{s[-1]} pressed", load="none", why="the line is cut for all"),
        )

    def trial(self, site: Site) -> tuple[str, str]:
        return "Press each button in turn, then the one for off.", "one load at a time, then none"

    def settles(self, site: Site) -> float:
        return 0.3

    def presser(self, site: Site, k: int) -> str:
        """The block of a channel's button; 0 is the one for off."""
        found = site.joined(f"button_{k}" if k else "off")
        return found[0][0] if found else ""

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        def pressed(k: int) -> tuple[Act, ...]:
            return (Act(self.presser(site, k), "active", 0.02, TAP),)

        return (
            Scene("idle", "none on", ()),
            Scene("active", "first one on", pressed(1), look=0.4),
            Scene("rest", "buttons unplugged", ()),
            *(Scene(f"on_{k}", f"{ORDINAL[k]} one on", pressed(k), look=0.4) for k in self.channels),
        )

    def plays(self, site: Site) -> tuple[Play, ...]:
        who = [self.presser(site, k) for k in (*self.channels, 0)]
        stop = 0.2 * (len(who) + 1)
        taps = tuple(Act(w, "active", 0.1 + 0.2 * k, TAP) for k, w in enumerate(who))
        first, second = who[0], who[1]
        both = (Act(first, "active", 0.1, 0.2), Act(second, "active", 0.15, 0.3))
        return (
            Play("Each in turn, then off", stop, taps),
            Play("The first two together", 0.8, both),
            Play("A quick change", 0.4, (Act(first, "active", 0.05, TAP), Act(second, "active", 0.2, TAP))),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (
            Probe(id="hold", title="Hold line to 0 V", red="hold strip", signal="hold", scenes=("idle",)),
            *(
                Probe(
                    id=f"coil_{k}",
                    title=f"{ORDINAL[k].capitalize()} coil",
                    red=f"coil {k} strip",
                    signal=f"coil_{k}",
                    scenes=("idle", f"on_{k}"),
                )
                for k in self.channels
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        coil, found = self.coil(site), []
        limits = ((coil.pull_in, "pulls in"), (coil.drop_out, "lets go"))
        for k in self.channels:
            name = site.ref(f"relay_{k}")
            found.append(
                Watch(
                    id=f"coil_{k}",
                    title=f"{name} coil",
                    unit="A",
                    signal=f"i(relay_{k}.a)",
                    place=3,
                    limits=limits,
                )
            )
            found.append(
                Watch(
                    id=f"contact_{k}",
                    title=f"{name} contact",
                    unit="",
                    signal=f"state(relay_{k},2)",
                    place=4,
                    words=("open", "closed"),
                )
            )
        return tuple(found)

    def draw(self, pen: Pen, site: Site) -> None:
        draw_selector(pen, site, self.count, self.faster)
