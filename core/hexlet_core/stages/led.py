"""LED or LED string behind a series resistor.

I = (V − V_drop − n·V_F)/R: the resistor takes what the supply has above the string. It is sized at the
high supply, where
the current is largest, and must leave enough light at the low one. V_F is the card's, taken as constant
over the range.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from ..cards.card import LedCard
from ..cards.derive import led as led_rule
from ..circuit.devices import Device, Diode, Resistor
from ..fields import Q
from ..quantity import show, show_part
from .contract import Corner, Demand, Measure, Part, Probe, Schedule, Stage, View, Watch
from .drawing import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from .drive import resistor_part
from .findings import Bound, Remedy, Verdict, Window, Working, judge, window
from .wording import Say, Sentence, Word

QUARTER_WATT = 0.25
NEARLY_OFF = 1e-6  # the least current counted, where the string does not conduct [A]


class LedLoad(Stage):
    role = "load"
    title = "LED or LED string"
    purpose = "Light from a few milliamps; a resistor sets how many."
    choose = "An indicator or a lamp of a few LEDs in a row."
    avoid = "Power LEDs above some hundred milliamps want a current source, not a resistor."
    letters = {"led": "D", "series": "R"}
    cards = {"card": LedCard}

    kind: Literal["led"] = "led"
    card: str = "led-red-20ma"
    count: Annotated[int, Field(ge=1, le=20)] = 1
    r_series: Annotated[float, Q("Ω", 1.0, 1e6)] = 1000.0
    least: Annotated[float, Q("A", 1e-5, 1.0)] = 3e-3

    def _card(self, view: View) -> LedCard:
        return view.drawer.card(self.card, LedCard, view.path("card"))

    def _above(self, view: View, volts: float) -> float:
        """What the supply has above the string [V]."""
        return volts - self.count * self._card(view).forward.voltage

    @property
    def summary(self) -> str:
        return (
            f"{self.count} LEDs, {show_part(self.r_series)}"
            if self.count > 1
            else f"LED, {show_part(self.r_series)}"
        )

    def demand(self, view: View) -> Demand:
        def ohms(volts: float, r: float) -> float:
            return volts / max(self._above(view, volts) / r, NEARLY_OFF)

        r, tol = self.r_series, view.tolerance
        return Demand(
            cold=ohms(view.high, r * (1 - tol)),
            typical=ohms(view.high, r),
            hot=ohms(view.high, r * (1 + tol)),
            name="LED",
            energised="it glows",
        )

    def phrase(self, say: Say) -> Sentence:
        return (
            say.field("count", note="in a row"),
            Word(text="LED behind" if self.count == 1 else "LEDs behind"),
            say.field("r_series"),
        )

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "load": (
                say.field("count", note="in a row"),
                Word(text="LED, seen from" if self.count == 1 else "LEDs, seen from"),
                say.field("least", origin="wanted", note="up"),
                Word(text="behind"),
                say.field("r_series"),
                *fed,
            )
        }

    def windows(self, view: View) -> tuple[Window, ...]:
        card, tol, ref = self._card(view), view.tolerance, view.refs["series"]
        drop = view.switch.drop_worst if view.switch else 0.0
        top, bottom = self._above(view, view.high), self._above(view, view.low) - drop
        string = f"{self.count} · {card.forward.voltage:.3g}"
        bounds = [
            Bound(
                side="low",
                value=max(top / card.current / (1 - tol), 1e-3),
                title=f"LED under {show(card.current, 'A')}",
                detail=f"{show(max(top, 0.0), 'V')} / {show(card.current, 'A')}",
                verdict="led_max",
                working=Working(
                    formula=f"{ref} ≥ (V_{{high}} − n·V_{{F}}) / I_{{max}}",
                    substituted=f"= ({view.high:.3g} − {string}) / {show(card.current, 'A')}",
                    reason="The full supply drives the most current.",
                ),
            ),
            Bound(
                side="low",
                value=max(top**2 / QUARTER_WATT / (1 - tol), 1e-3),
                title="resistor under 0.25 W",
                detail=f"{show(max(top, 0.0), 'V')}² / 0.25 W",
                verdict="led_heat",
                working=Working(
                    formula=f"{ref} ≥ (V_{{high}} − n·V_{{F}})^2 / P",
                    substituted=f"= {max(top, 0.0):.3g}² / 0.25",
                    reason="What the string leaves of the supply turns into heat in the resistor.",
                ),
            ),
            Bound(
                side="high",
                value=max(bottom / self.least / (1 + tol), 1e-3),
                title=f"still {show(self.least, 'A')} on a low {view.supply_name}",
                detail=f"{show(max(bottom, 0.0), 'V')} / {show(self.least, 'A')}",
                verdict="led_dim",
                working=Working(
                    formula=f"{ref} ≤ (V_{{low}} − V_{{drop}} − n·V_{{F}}) / I_{{least}}",
                    substituted=f"= ({view.low:.3g} − {show(drop, 'V')} − {string}) / {self.least:.3g}",
                    reason="A low supply leaves the least for the resistor.",
                ),
            ),
        ]
        return (
            window(
                view.path("r_series"), ref, "LED resistor", "Ω", self.r_series, bounds, stock=view.stock()
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, tol, ref, r = self._card(view), view.tolerance, view.refs["series"], self.r_series
        drop, drop_worst = (view.switch.drop, view.switch.drop_worst) if view.switch else (0.0, 0.0)
        top = max(self._above(view, view.high), 0.0)
        low, low_worst = (max(self._above(view, view.low) - d, 0.0) for d in (drop, drop_worst))
        most, most_worst = top / r, top / (r * (1 - tol))
        dim, dim_worst = max(low / r, NEARLY_OFF), max(low_worst / (r * (1 + tol)), NEARLY_OFF)
        fix = Remedy(text=f"Change {ref}: its window shows what is allowed.")
        return (
            judge(
                "led_max",
                "load",
                f"LED on a full {view.supply_name}",
                nominal=most,
                worst=most_worst,
                limit=card.current,
                unit="A",
                sense="at most",
                corner="supply high, resistor at its lowest",
                sentence=f"{show(most_worst, 'A')} of {show(card.current, 'A')}.",
                working=Working(
                    formula=f"I = (V_{{high}} − n·V_{{F}}) / {ref}",
                    substituted=f"= {top:.3g} / {show(r * (1 - tol), 'Ω')} = {show(most_worst, 'A')}",
                    reason="Above its rating an LED fades and dies; without a resistor, at once.",
                ),
                remedy=fix,
            ),
            judge(
                "led_dim",
                "load",
                f"Seen on a low {view.supply_name}",
                nominal=dim,
                worst=dim_worst,
                limit=self.least,
                unit="A",
                sense="at least",
                corner="supply low, largest drop, resistor at its highest",
                sentence=f"Wants {show(self.least, 'A')}, gets {show(dim_worst, 'A')}.",
                working=Working(
                    formula=f"I = (V_{{low}} − V_{{drop}} − n·V_{{F}}) / {ref}",
                    substituted=f"= {low_worst:.3g} / {show(r * (1 + tol), 'Ω')} = {show(dim_worst, 'A')}",
                    reason="Brightness goes with the current; a long string on a low supply goes dark.",
                ),
                remedy=fix
                if low_worst > 0
                else Remedy(
                    text="Put fewer LEDs in the row, and more rows side by side, each with its own resistor."
                ),
            ),
            judge(
                "led_heat",
                "load",
                f"Heat in {ref}",
                nominal=top**2 / r,
                worst=top**2 / (r * (1 - tol)),
                limit=QUARTER_WATT,
                unit="W",
                sense="at most",
                corner="supply high, resistor at its lowest",
                sentence=f"{show(top**2 / (r * (1 - tol)), 'W')} of {show(QUARTER_WATT, 'W')}.",
                working=Working(
                    formula=f"P = (V_{{high}} − n·V_{{F}})^2 / {ref}",
                    substituted=f"= {top:.3g}² / {show(r * (1 - tol), 'Ω')}",
                    reason="An ordinary small resistor stands a quarter of a watt.",
                ),
                remedy=Remedy(
                    text="Take a higher resistance, more LEDs in the row, or a half-watt resistor."
                ),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        one, n, low = led_rule(self._card(view), corner.celsius), self.count, view.side == "low"
        string = one | {
            "ideality": one["ideality"] * n,
            "r_series": one["r_series"] * n,
            "breakdown": one["breakdown"] * n,
        }
        r = self.r_series * (1 + corner.resistors)
        yield Diode(
            name=view.refs["led"], a=view.top if low else "led", k="led" if low else view.bottom, **string
        )
        yield Resistor(
            name=view.refs["series"],
            a="led" if low else view.top,
            b=view.bottom if low else "led",
            resistance=r,
            tolerance=view.tolerance,
        )

    def draw(self, pen: Pen, view: View) -> None:
        led, series, low = view.refs["led"], view.refs["series"], view.side == "low"
        level, rail, middle = (OUTPUT_Y, 0.0, 4.5) if low else (HIGH_Y, HEIGHT, HEIGHT - 4.5)
        r = pen.place(
            series,
            "resistor",
            pen.x + 3.6,
            level,
            turn=90 if low else 270,
            label=series,
            value=show_part(self.r_series),
            path=view.path("r_series"),
            side="above",
        )
        x = max(r["a"][0], r["b"][0]) + 1.0
        d = pen.place(
            led,
            "led",
            x,
            middle,
            turn=180,
            label=led,
            value=f"{self.count} in a row" if self.count > 1 else "",
            path=view.path("card"),
        )
        near, far = ("a", "k") if low else ("k", "a")
        right, left = ("a", "b") if low else ("b", "a")
        pen.wire((x, rail), d[near], load=True, part=led)
        pen.wire(d[far], (x, level), r[right], load=True, part=led)
        pen.wire(pen.output, r[left], load=True, part=series)
        pen.tag(f"i({series})", "A", x - 1.0, level + (2.6 if low else -2.6))
        pen.x = x + 6.0

    def measures(self, view: View) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Which leg is the anode",
                mode="diode",
                red="long leg",
                black="short leg",
                means="It glows faintly and reads 1.6 V to 3.2 V: red is on the anode. Reversed, OL.",
            ),
            Measure(
                title="Its volts at work",
                mode="volts",
                red="anode",
                black="cathode",
                means="Behind its resistor, lit: the forward voltage at that current.",
                path=view.path("card"),
            ),
        )

    def parts(self, view: View) -> tuple[Part, ...]:
        card = self._card(view)
        top = max(self._above(view, view.high), 0.0)
        return (
            Part(
                ref=view.refs["led"],
                title=card.title,
                value=f"{self.count} in a row" if self.count > 1 else card.colour,
                kind="led",
                card=card.id,
                rating=show(card.current, "A"),
                legs=card.legs,
                face=card.face,
                stock=view.drawer.count(card.id),
                price=card.price * self.count,
                path=view.path("card"),
                check=("Diode mode, red on the long leg: it glows faintly. Reversed, OL.", "1.6 V to 3.2 V"),
            ),
            resistor_part(
                view,
                view.refs["series"],
                "LED resistor",
                self.r_series,
                view.path("r_series"),
                top**2 / self.r_series,
            ),
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="led",
                title="LED's cathode to 0 V" if view.side == "low" else "LED's anode to 0 V",
                red="strip between LED and resistor",
                black="0 V rail",
                quantity="voltage",
                node="led",
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        ref = view.refs["series"]
        return (Watch(id=f"i({ref})", title="LED current", unit="A", signal=f"i({ref}.a)", place=2),)
