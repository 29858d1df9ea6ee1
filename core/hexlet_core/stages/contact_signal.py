"""A contact that gives the command: push button, toggle or foot switch, with its pull resistor and filter.

A contact to the + rail wants a pull-down, one to 0 V a pull-up; a changeover needs neither. It bounces for
milliseconds, and
a capacitor straight across it is a short at the moment it closes.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated, Literal

from ..circuit.devices import Button, Capacitor, Device, Press, Resistor
from ..circuit.devices.switch import Bounce
from ..fields import Q
from ..quantity import Interval, show, show_part
from .contract import Corner, Measure, Offer, Part, Rest, Schedule, View
from .drawing import HEIGHT, SIGNAL_Y, Pen
from .drive import resistor_part
from .findings import Remedy, Verdict, Working, judge
from .signal import Signal
from .wording import Say, Sentence, Word

CONTACT_OHMS = 0.1
WETTING = 1e-3  # the least current that keeps a small contact clean, assumed [A]
LEAD_OHMS = 0.04  # of a metre of thin lead, both ways [Ω]
CONTACTS = (("NO", "closes when pressed"), ("NC", "opens when pressed"), ("changeover", "changes over"))
ENDS = (("plus", "the + rail"), ("zero", "0 V"))


class ContactSignal(Signal):
    """Base of the contacts. `to` is the rail it switches to; `r_pull` goes to the other one."""

    noun = "button"
    letters = {"contact": "S", "pull": "R", "filter": "R", "store": "C"}

    form: Literal["NO", "NC", "changeover"] = "NO"
    to: Literal["plus", "zero"] = "plus"
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] = 10e3
    r_filter: Annotated[float, Q("Ω", 1.0, 1e6)] | None = None
    c_filter: Annotated[float, Q("F", 1e-12, 1e-2)] | None = None
    bounce: Annotated[float, Q("s", 1e-6, 0.1)] = 5e-3
    most: Annotated[float, Q("A", 1e-4, 10.0)] = 50e-3
    lead: Annotated[float, Q("m", 0.0, 100.0)] = 0.0

    @property
    def summary(self) -> str:
        return f"{self.title}, {self.form}"

    @property
    def pulled(self) -> bool:
        return self.form != "changeover"

    def fitted(self) -> tuple[str, ...]:
        here = {
            "contact": True,
            "pull": self.pulled,
            "filter": self.r_filter is not None,
            "store": self.c_filter is not None,
        }
        return tuple(n for n in self.letters if here[n])

    @property
    def _pressed(self) -> Literal["high", "low"]:
        """The signal while it is pressed."""
        closes_high = self.to == "plus" or not self.pulled
        return "high" if closes_high == (self.form != "NC") else "low"

    def offer(self, view: View) -> Offer:
        direct, pull, extra = CONTACT_OHMS + self.lead * LEAD_OHMS, self.r_pull, self.r_filter or 0.0
        to_plus = direct if not self.pulled or self.to == "plus" else pull
        to_zero = direct if not self.pulled or self.to == "zero" else pull
        rests_high = self._pressed == "low"
        word = f"is at {'the supply' if rests_high else '0 V'} while nobody presses"
        return Offer(
            Interval(view.low, view.typical, view.high),
            0.0,
            self.most,
            self.most,
            to_plus + extra,
            Rest(
                view.high if rests_high else 0.0,
                (to_plus if rests_high else to_zero) + extra,
                word,
                f"nobody touches the {self.noun}",
            ),
            self.noun,
            to_zero + extra,
            self._pressed,
            follows=True,
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            Word(text=self.noun),
            say.field("form", note="contact", choices=CONTACTS),
            Word(text="to"),
            say.field("to", note="rail", choices=ENDS),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        runs = "pressed" if self._pressed == view.on else "not pressed"
        found = (
            Word(text=f"The load runs while the {self.noun} is {runs}. It bounces for"),
            say.field("bounce", origin="assumed"),
            Word(text="and carries"),
            say.field("most", origin="assumed", note="contact's limit"),
        )
        return {"behave": (*found, Word(text="on a lead of"), say.field("lead")) if self.lead else found}

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        wet = view.low / self.r_pull if self.pulled else WETTING * 2
        found = (
            [
                judge(
                    "wetting",
                    "drive",
                    f"{self.noun.capitalize()} keeps itself clean",
                    nominal=wet,
                    worst=wet / (1 + view.tolerance),
                    limit=WETTING,
                    unit="A",
                    sense="at least",
                    corner="supply low",
                    sentence=(
                        f"{show(wet, 'A')} through it when it closes; {show(WETTING, 'A')} keeps a small "
                        "contact clean."
                    ),
                    working=Working(
                        formula="I = V_{low} / R_{pull}",
                        substituted=f"= {view.low:.3g} / {show(self.r_pull, 'Ω')}",
                        reason="A dry contact grows a film that a small voltage does not break.",
                    ),
                    remedy=Remedy(text="Lower the pull resistor, or use a gilded contact."),
                )
            ]
            if self.pulled
            else []
        )
        if self.c_filter is not None:
            r = (self.r_filter or 0.0) + CONTACT_OHMS + self.lead * LEAD_OHMS
            peak = view.high / r
            found.append(
                judge(
                    "button_peak",
                    "drive",
                    f"{self.noun.capitalize()} charges the capacitor",
                    nominal=peak,
                    worst=peak,
                    limit=self.most,
                    unit="A",
                    sense="at most",
                    corner="supply high, capacitor empty",
                    sentence=f"{show(peak, 'A')} for a moment, of {show(self.most, 'A')}.",
                    working=Working(
                        formula="I = V_{high} / R",
                        substituted=f"= {view.high:.3g} / {show(r, 'Ω')} = {show(peak, 'A')}",
                        reason=(
                            "A bare capacitor is a short at the moment the contact closes: it pits and welds."
                        ),
                    ),
                    remedy=Remedy(text="Put a resistor of some hundred ohms between contact and capacitor."),
                )
            )
            tau = ((self.r_filter or 0.0) + (self.r_pull if self.pulled else 0.0)) * self.c_filter
            found.append(
                judge(
                    "debounce",
                    "drive",
                    "Filter outlasts the bounce",
                    nominal=tau,
                    worst=tau,
                    limit=self.bounce,
                    unit="s",
                    sense="at least",
                    corner="the slow side's time constant",
                    sentence=f"{show(tau, 's')} against {show(self.bounce, 's')} of bounce.",
                    working=Working(
                        formula="τ = R · C",
                        substituted=(
                            f"= {show(tau / self.c_filter, 'Ω')} · {show(self.c_filter, 'F')} = "
                            f"{show(tau, 's')}"
                        ),
                        reason="A filter faster than the bounce passes every reopening on.",
                    ),
                    remedy=Remedy(text="Take a bigger capacitor or pull resistor."),
                )
            )
        elif self.lead > 1.0:
            found.append(
                judge(
                    "lead_noise",
                    "drive",
                    "Long lead is filtered",
                    nominal=self.lead,
                    worst=self.lead,
                    limit=1.0,
                    unit="m",
                    sense="at most",
                    corner="no filter fitted",
                    sentence=f"{show(self.lead, 'm')} of lead with no filter catches every spark nearby.",
                    working=Working(
                        formula="lead ≤ 1 m without RC",
                        substituted=f"{show(self.lead, 'm')}",
                        reason=(
                            "A long lead is an aerial. A resistor and a capacitor at its end keep "
                            "milliseconds and drop microseconds."
                        ),
                    ),
                    remedy=Remedy(text="Fit 1k and 1u at the end of the lead."),
                )
            )
        return tuple(found)

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Which legs are the contact",
                mode="ohms",
                red="one leg",
                black="another",
                means=(
                    "OL at rest and 0 Ω pressed: normally open. 0 Ω at rest: normally closed, or two legs "
                    "of the same side."
                ),
            ),
            Measure(
                title="Level at rest and pressed",
                mode="volts",
                red="the signal's strip",
                black="0 V rail",
                means=(
                    f"{'The supply' if self._pressed == 'low' else '0 V'} at rest, the other end pressed, "
                    "nothing between."
                ),
            ),
        )

    def _presses(self, schedule: Schedule) -> list[Press]:
        found: list[Press] = []
        begin: float | None = None
        for t, state in (*zip(schedule.times, schedule.signal, strict=True), (math.inf, "")):
            if state == self._pressed and begin is None:
                begin = t
            elif state != self._pressed and begin is not None:
                found.append(Press(at=begin, hold=min(t - begin, 1e6)))
                begin = None
        return found

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol, out = 1 + corner.resistors, view.nodes["out"]
        node = "contact_side" if self.r_filter is not None else out
        far = "plus" if self.to == "plus" else "0"
        other = "0" if far == "plus" else "plus"
        r = CONTACT_OHMS + self.lead * LEAD_OHMS
        closing = {"NO": {"no": far}, "NC": {"nc": far}, "changeover": {"no": "plus", "nc": "0"}}[self.form]
        # A closing contact bounces only while it is rehearsed, where its presses have times.
        yield Button(
            name=view.refs["contact"],
            com=node,
            presses=self._presses(schedule),
            on_resistance=r,
            bounce=Bounce(duration=self.bounce),
            **closing,
        )
        if self.pulled:
            yield Resistor(
                name=view.refs["pull"],
                a=other if other == "plus" else node,
                b=node if other == "plus" else "0",
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )
        if self.r_filter is not None:
            yield Resistor(
                name=view.refs["filter"],
                a=node,
                b=out,
                resistance=self.r_filter * tol,
                tolerance=view.tolerance,
            )
        if self.c_filter is not None:
            yield Capacitor(name=view.refs["store"], a=out, b="0", capacitance=self.c_filter)

    def draw(self, pen: Pen, view: View) -> None:
        s, x, y = view.refs["contact"], max(pen.x, pen.rail_x) + 3.0, SIGNAL_Y
        if not self.pulled:
            at = pen.place(s, "button_co", x + 1.0, y, side="above", label=s, value=self.noun)
            pen.wire(at["no"], (at["no"][0], 0.0), part=s)
            pen.wire(at["nc"], (at["nc"][0], HEIGHT), part=s)
            node = at["com"]
        else:
            node, up = (x, y), self.to == "plus"
            side = "no" if self.form == "NO" else "nc"
            symbol, ref = f"button_{side}", view.refs["pull"]
            c = pen.place(s, symbol, x, 7.0 if up else 23.0, turn=180 if up else 0, label=s, value=self.noun)
            # `com` faces the node, the other side its rail.
            pen.wire(c["com"], node, part=s)
            pen.wire(c[side], (x, 0.0 if up else HEIGHT), part=s)
            p = pen.place(
                ref,
                "resistor",
                x,
                23.0 if up else 7.0,
                label=ref,
                value=show_part(self.r_pull),
                path=view.path("r_pull"),
            )
            pen.wire(node, p["a"] if up else p["b"], part=ref)
            pen.wire(p["b"] if up else p["a"], (x, HEIGHT if up else 0.0), part=ref)
        end = node
        if self.r_filter is not None:
            ref = view.refs["filter"]
            r = pen.place(
                ref,
                "resistor",
                node[0] + 4.2,
                y,
                turn=270,
                label=ref,
                value=show_part(self.r_filter),
                path=view.path("r_filter"),
                side="above",
            )
            pen.wire(node, r["a"], part=ref)
            end = r["b"]
        if self.c_filter is not None:
            ref = view.refs["store"]
            col = (end[0] + (0.0 if self.r_filter is not None else 5.0), y)
            if col != end:
                pen.wire(end, col, part=ref)
            c = pen.place(
                ref,
                "capacitor",
                col[0],
                23.0,
                label=ref,
                value=show_part(self.c_filter),
                path=view.path("c_filter"),
            )
            pen.wire(col, c["a"], part=ref)
            pen.wire(c["b"], (col[0], HEIGHT), part=ref)
            end = col
        pen.output, pen.x = end, end[0]

    def parts(self, view: View) -> tuple[Part, ...]:
        refs, top = view.refs, view.high
        found = [
            Part(
                ref=refs["contact"],
                title=self.title,
                value=self.form,
                kind="button",
                rating=show(self.most, "A"),
                price=0.3,
                on_board=self.lead <= 0.2,
            )
        ]
        if self.pulled:
            found.append(
                resistor_part(
                    view,
                    refs["pull"],
                    "Pull-down" if self.to == "plus" else "Pull-up",
                    self.r_pull,
                    view.path("r_pull"),
                    top**2 / self.r_pull,
                )
            )
        if self.r_filter is not None:
            found.append(
                resistor_part(
                    view, refs["filter"], "Filter resistor", self.r_filter, view.path("r_filter"), 0.0
                )
            )
        if self.c_filter is not None:
            found.append(
                Part(
                    ref=refs["store"],
                    title="Filter capacitor",
                    value=show(self.c_filter, "F"),
                    kind="capacitor",
                    path=view.path("c_filter"),
                    price=0.05,
                )
            )
        return tuple(found)


class PushButton(ContactSignal):
    title = "Push button"
    purpose = "A finger gives the command for as long as it presses."
    choose = "The load runs while somebody holds it, or a latch behind it remembers the press."
    avoid = "Nobody stands there to press: take a sensor or a controller."

    kind: Literal["push_button"] = "push_button"


class ToggleSwitch(ContactSignal):
    title = "Toggle or foot switch"
    purpose = "A switch that stays where it is put, often at the end of a long lead."
    choose = "On and off by hand, where the switch sits away from the board."
    avoid = "The lead runs beside motor or mains leads without a filter."
    noun = "switch"

    kind: Literal["toggle_switch"] = "toggle_switch"
    to: Literal["plus", "zero"] = "zero"
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] = 4.7e3
    r_filter: Annotated[float, Q("Ω", 1.0, 1e6)] | None = 1e3
    c_filter: Annotated[float, Q("F", 1e-12, 1e-2)] | None = 2.2e-6
    lead: Annotated[float, Q("m", 0.0, 100.0)] = 3.0
