"""What contacts that give the command share: pull resistor, filter, bounce and wetting.

A contact to the + rail wants a pull-down, one to 0 V a pull-up; a changeover needs neither. It bounces for
milliseconds, and a capacitor straight across it is a short at the moment it closes. Joined by its contact to
a behaviour it is the bare contact: what it switches is the behaviour's.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Any, ClassVar, Literal

from ...errors import Problem
from ...fields import Q
from ...quantity import Interval, show
from ..contract.descriptions import Measure
from ..contract.facts import Command, Contact, Fact, Level, Rest, State
from ..contract.parts import Placed, bouncing, button, capacitor, resistor
from ..contract.ports import Port, rail_in
from ..contract.scenes import Act, Probe, Scene, Watch
from ..contract.site import Site
from ..contract.stage import Signal
from ..drawing.pen import HEIGHT, SIGNAL_Y, Pen
from ..say.checks import Change, Check, Shown, check, high, low, when
from ..say.wording import Say, Sentence, Word

CONTACT_OHMS = 0.1
OPEN = 1e9  # across what is open [Ω]
BRIEFLY = 10  # times its limit a contact closes on unharmed for the microsecond that a gate takes, assumed
WETTING = {"silver": 1e-3, "gold": 1e-5}  # the least current that keeps a small contact clean, assumed [A]
LEAD_OHMS = 0.04  # of a metre of thin lead, both ways [Ω]
ENDS = (("plus", "the + rail"), ("zero", "0 V"))
PLATED = (("silver", "silver"), ("gold", "gold"))
FORMS: dict[str, Literal["make", "break", "changeover"]] = {
    "NO": "make",
    "NC": "break",
    "changeover": "changeover",
}


BARE = {"no": "make", "nc": "break"}  # the nets of a bare contact's sides
SAGS = "what lies in the rail takes a little"


class ContactSignal(Signal):
    """Base of the contacts. `to` is the rail it switches to; `r_pull` goes to the other one, or is left to
    what it drives.
    """

    noun = "button"
    picture = "button"
    states: ClassVar[tuple[str, str]] = ("not pressed", "pressed")  # as people call them: open, closed
    at_rest: ClassVar[str] = "while nobody presses"

    form: Literal["NO", "NC", "changeover"] = "NO"
    to: Literal["plus", "zero"] = "plus"
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] | None = 10e3
    r_filter: Annotated[float, Q("Ω", 1.0, 1e6)] | None = None
    c_filter: Annotated[float, Q("F", 1e-12, 1e-2)] | None = None
    bounce: Annotated[float, Q("s", 1e-6, 0.1)] = 5e-3
    travel: Annotated[float, Q("s", 1e-5, 0.1)] = 1e-3
    most: Annotated[float, Q("A", 1e-4, 10.0)] = 50e-3
    lead: Annotated[float, Q("m", 0.0, 100.0)] = 0.0
    plated: Literal["silver", "gold"] = "silver"

    @property
    def summary(self) -> str:
        return f"{self.title}, {self.form}"

    @property
    def changes(self) -> bool:
        """Whether it goes from one rail to the other, and needs no pull resistor."""
        return self.form == "changeover"

    @property
    def pulls(self) -> float:
        """What holds the signal while the contact is open [Ω]."""
        return OPEN if self.r_pull is None else self.r_pull

    @property
    def ohms(self) -> float:
        """Of the closed contact and its lead [Ω]."""
        return CONTACT_OHMS + self.lead * LEAD_OHMS

    @property
    def pressed(self) -> State:
        """The signal while it is pressed."""
        closes_high = self.to == "plus" or self.changes
        return "high" if closes_high == (self.form != "NC") else "low"

    def ports(self) -> tuple[Port, ...]:
        nets = {"com": "com", "make": "make", "break": "break"}
        return (
            rail_in(needed=False),
            Port("out", "command", "out", {"out": "signal", "ref": "zero"}, needed=False),
            Port("contact", "contact", "out", nets, needed=False),
        )

    def refuse(self, site: Site) -> Iterator[Problem]:
        if site.joined("out") and site.joined("contact"):
            yield Problem(
                site.id,
                f"The {self.noun} is used as a command and as a bare contact. Leave one of the two joins.",
            )

    def tell(self, port: str, site: Site) -> Fact | None:
        if port == "contact":
            return Contact(FORMS[self.form], self.most, self.bounce, self.ohms, self.noun, self.travel)
        return super().tell(port, site)

    def gives(self, site: Site) -> Command:
        pull, extra, rail = self.pulls, self.r_filter or 0.0, site.rail
        to_plus = self.ohms if self.changes or self.to == "plus" else pull
        to_zero = self.ohms if self.changes or self.to == "zero" else pull
        held = self.changes or self.r_pull is not None
        up = self.pressed == "low"
        return Command(
            high=Level(rail.volts, to_plus + extra),
            low=Level(Interval.spread(0.0, 0.0), to_zero + extra),
            rest=Rest(
                rail.high if up else 0.0,
                (to_plus if up else to_zero) + extra,
                f"is {'at the supply' if up else 'at 0 V'} {self.at_rest}"
                if held
                else f"is open {self.at_rest}",
                f"nobody touches the {self.noun}",
                here=held and not self.changes,
            ),
            steady=self.most,
            burst=BRIEFLY * self.most,
            name=self.noun,
            sense=self.pressed,
            follows=True,
        )

    def make(self, site: Site) -> Iterable[Placed]:
        # A closing contact bounces only while it is rehearsed, where its presses have times.
        described: dict[str, Any] = {
            "numbers": bouncing(self.ohms, self.bounce, **({"travel": self.travel} if self.changes else {})),
            "value": self.form,
            "mark": self.noun,
            "rating": show(self.most, "A"),
            "price": 0.3,
            "on_board": self.lead <= 0.2,
            "active": self.pressed,
        }
        if site.joined("contact"):
            sides = {"NO": ("no",), "NC": ("nc",), "changeover": ("no", "nc")}[self.form]
            legs = {"com": "com"} | {side: BARE[side] for side in sides}
            yield button("contact", self.title, legs, **described)
            return
        node = "side" if self.r_filter is not None else "signal"
        far, other = self.to, "zero" if self.to == "plus" else "plus"
        closing: dict[str, dict[str, str]] = {
            "NO": {"no": far},
            "NC": {"nc": far},
            "changeover": {"no": "plus", "nc": "zero"},
        }
        yield button("contact", self.title, {"com": node, **closing[self.form]}, **described)
        if self.r_pull is not None and not self.changes:
            a, b = (other, node) if other == "plus" else (node, other)
            title = "Pull-down" if self.to == "plus" else "Pull-up"
            yield resistor(site, "pull", title, "r_pull", a, b)
        if self.r_filter is not None:
            yield resistor(site, "filter", "Filter resistor", "r_filter", node, "signal")
        if self.c_filter is not None:
            yield capacitor(site, "store", "Filter capacitor", "c_filter", "signal", "zero")

    def scenes(self, site: Site) -> tuple[Scene, ...]:
        return (
            Scene("idle", f"{self.noun} {self.states[0]}", (Act(site.id, "idle"),)),
            Scene("active", f"{self.noun} {self.states[1]}", (Act(site.id, "active"),)),
            Scene("rest", f"{self.noun} left alone", (Act(site.id, "idle"),)),
        )

    def phrase(self, say: Say, site: Site) -> Sentence:
        act = self.states[1]
        forms = (("NO", f"closes when {act}"), ("NC", f"opens when {act}"), ("changeover", "changes over"))
        what = (Word(text=f"{self.noun} that"), say.field("form", note="contact", choices=forms))
        if site.joined("contact"):
            return what  # to which rail is what it belongs to decides
        return (*what, Word(text="to"), say.field("to", note="rail", choices=ENDS))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        if site.joined("contact"):
            moves = (Word(text=f"{site.ref('contact')} travels"), say.field("travel", origin="assumed"))
            return {"behave": moves} if self.form == "changeover" else {}
        found = (
            Word(text=f"The {self.noun} bounces for"),
            say.field("bounce", origin="assumed"),
            Word(text="and carries"),
            say.field("most", origin="assumed", note="contact's limit"),
            Word(text="on"),
            say.field("plated", note="contacts", choices=PLATED),
        )
        lead = (Word(text="on a lead of"), say.field("lead"))
        return {"behave": (*found, *lead) if self.lead else found}

    def checks(self, site: Site) -> Iterator[Check]:
        if site.joined("contact"):
            return  # what it switches is judged by the behaviour it belongs to
        rail, noun = site.rail, self.noun.capitalize()
        if self.r_pull is not None and not self.changes:
            wet, least = rail.low / self.r_pull, WETTING[self.plated]
            yield check(
                "wetting",
                f"{noun} keeps itself clean",
                "practice",
                "contact",
                unit="A",
                nominal=wet,
                worst=wet / (1 + site.tolerance),
                least=least,
                at=low("pull resistor at its highest"),
                says=(
                    f"{show(wet, 'A')} through it when it closes; {show(least, 'A')} keeps its {self.plated} "
                    "clean."
                ),
                formula="I = V_{low} / R_{pull}",
                numbers=f"= {rail.low:.3g} / {show(self.r_pull, 'Ω')}",
                because="A dry contact grows a film that a small voltage does not break.",
                cure="Lower the pull resistor, or use a gilded contact.",
                shown=Shown(
                    "i(pull.a)", "idle" if self.form == "NC" else "active", within=0.05, because=SAGS
                ),
            )
            pulls = rail.high / self.r_pull
            yield check(
                "pull_carry",
                f"{noun} carries its pull resistor",
                "limit",
                "contact",
                unit="A",
                nominal=pulls,
                worst=pulls / (1 - site.tolerance),
                most=self.most,
                at=high("pull resistor at its lowest"),
                says=f"{show(pulls, 'A')} through it while it is closed, of {show(self.most, 'A')}.",
                formula="I = V_{high} / R_{pull}",
                numbers=f"= {rail.high:.3g} / {show(self.r_pull, 'Ω')}",
                because="A closed contact joins its pull resistor to the other rail.",
                cure="Raise the pull resistor.",
            )
        if self.c_filter is not None:
            yield from self._filter_checks(site, self.c_filter)
        elif self.lead > 1.0:
            yield check(
                "lead_noise",
                "Long lead is filtered",
                "practice",
                "place",
                unit="m",
                nominal=self.lead,
                most=1.0,
                at=when("no filter fitted"),
                says=f"{show(self.lead, 'm')} of lead with no filter catches every spark nearby.",
                formula="lead ≤ 1 m without RC",
                numbers=show(self.lead, "m"),
                because=(
                    "A long lead is an aerial. A resistor and a capacitor at its end keep milliseconds and "
                    "drop microseconds."
                ),
                cure="Fit 1k and 1u at the end of the lead.",
            )

    def _filter_checks(self, site: Site, farads: float) -> Iterator[Check]:
        noun, rail = self.noun.capitalize(), site.rail
        r = (self.r_filter or 0.0) + self.ohms
        peak = rail.high / r
        yield check(
            "button_peak",
            f"{noun} charges the capacitor",
            "limit",
            "surge",
            unit="A",
            nominal=peak,
            most=self.most,
            at=high("capacitor empty"),
            says=f"{show(peak, 'A')} for a moment, of {show(self.most, 'A')}.",
            formula="I = V_{high} / R",
            numbers=f"= {rail.high:.3g} / {show(r, 'Ω')} = {show(peak, 'A')}",
            because="A bare capacitor is a short at the moment the contact closes: it pits and welds.",
            cure="Put a resistor of 1k between contact and capacitor.",
            changes=(Change(path=site.path("r_filter"), value=1e3),),
        )
        tau = ((self.r_filter or 0.0) + (0.0 if self.changes else self.pulls)) * farads
        yield check(
            "debounce",
            "Filter outlasts the bounce",
            "practice",
            "time",
            unit="s",
            nominal=tau,
            least=self.bounce,
            at=when("the slow side's time constant"),
            says=f"{show(tau, 's')} against {show(self.bounce, 's')} of bounce.",
            formula="τ = R · C",
            numbers=f"= {show(tau / farads, 'Ω')} · {show(farads, 'F')} = {show(tau, 's')}",
            because="A filter faster than the bounce passes every reopening on.",
            cure="Take a bigger capacitor or pull resistor.",
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
        rests = "The supply" if self.pressed == "low" else "0 V"
        return (
            Measure(
                title="Which legs are the contact",
                mode="ohms",
                red="one leg",
                black="another",
                means=(
                    "OL at rest and 0 Ω pressed: normally open. 0 Ω at rest: normally closed, or two legs of "
                    "the same side."
                ),
            ),
            Measure(
                title="Level at rest and pressed",
                mode="volts",
                red="the signal's strip",
                black="0 V rail",
                means=f"{rests} at rest, the other end pressed, nothing between.",
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        if site.joined("contact"):
            return ()
        return (Probe(id="signal", title="Signal to 0 V", red="signal strip", signal="signal"),)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        if site.joined("contact"):
            words = ("up", self.states[1])
            return (
                Watch(
                    id="press",
                    title=site.ref("contact"),
                    unit="",
                    signal="state(contact,1)",
                    place=0,
                    words=words,
                ),
            )
        return (Watch(id="signal", title=self.noun.capitalize(), unit="V", signal="signal", place=0),)

    def draw(self, pen: Pen, site: Site) -> None:
        if site.joined("contact"):
            return  # drawn by the behaviour it belongs to
        s, x, y = site.ref("contact"), max(pen.x, pen.rail_x) + 3.0, SIGNAL_Y
        if self.changes:
            at = pen.part(site, "contact", "button_co", x + 1.0, y, side="above")
            pen.wire(at["no"], (at["no"][0], 0.0), part=s)
            pen.ground(at["nc"], part=s)
            node = at["com"]
        else:
            node, up = (x, y), self.to == "plus"
            side = "no" if self.form == "NO" else "nc"
            ref = site.ref("pull")
            c = pen.part(site, "contact", f"button_{side}", x, 7.0 if up else 23.0, turn=180 if up else 0)
            # `com` faces the node, the other side its rail.
            pen.wire(c["com"], node, part=s)
            pen.wire(c[side], (x, 0.0 if up else HEIGHT), part=s)
            if site.fitted("pull"):
                p = pen.part(site, "pull", "resistor", x, 23.0 if up else 7.0)
                pen.wire(node, p["a"] if up else p["b"], part=ref)
                pen.wire(p["b"] if up else p["a"], (x, HEIGHT if up else 0.0), part=ref)
        end = node
        if self.r_filter is not None:
            r = pen.part(site, "filter", "resistor", node[0] + 4.2, y, turn=270, side="above")
            pen.wire(node, r["a"], part=site.ref("filter"))
            end = r["b"]
        if self.c_filter is not None:
            ref = site.ref("store")
            col = (end[0] + (0.0 if self.r_filter is not None else 5.0), y)
            if col != end:
                pen.wire(end, col, part=ref)
            c = pen.part(site, "store", "capacitor", col[0], 23.0)
            pen.wire(col, c["a"], part=ref)
            pen.ground(c["b"], part=ref)
            end = col
        pen.output, pen.x = end, end[0]
