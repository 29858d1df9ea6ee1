"""LED or LED string behind a resistor.

I = (V − V_drop − n·V_F)/R: the resistor takes what the supply has above the string. It is sized at the full
supply for the LED's limit and at the low one for being seen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from ...cards.card import LedCard
from ...cards.derive import led as led_rule
from ...cards.points import lit_amps
from ...fields import Q
from ...quantity import Interval, show, show_part
from ..contract.descriptions import Measure
from ..contract.facts import Demand
from ..contract.parts import Corner, Placed, from_card, resistor
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Load
from ..drawing.pen import HEIGHT, HIGH_Y, OUTPUT_Y, Pen
from ..rules.supplied import supplied
from ..say.checks import Change, Check, Remedy, Shown, check, high, low
from ..say.windows import Window, bound, window
from ..say.wording import Say, Sentence, Word

QUARTER_WATT = 0.25
DARK = 1e-4  # the eye sees an LED go dark below this [A]
NEARLY_OFF = 1e-6  # the least current counted, where the string does not conduct [A]


class LedLoad(Load):
    title = "LED or LED string"
    purpose = "Light from a few milliamps; a resistor sets how many."
    choose = "An indicator or a lamp of a few LEDs in a row."
    avoid = "Power LEDs above some hundred milliamps want a current source, not a resistor."
    picture = "led"
    lights = True
    cards = {"card": LedCard}

    kind: Literal["led"] = "led"
    card: str = "led-red-20ma"
    count: Annotated[int, Field(ge=1, le=20)] = 1
    r_series: Annotated[float, Q("Ω", 1.0, 1e6)] = 1000.0
    least: Annotated[float, Q("A", 1e-5, 1.0)] = 3e-3

    @property
    def summary(self) -> str:
        many = f"{self.count} LEDs" if self.count > 1 else "LED"
        return f"{many}, {show_part(self.r_series)}"

    def make(self, site: Site) -> Iterable[Placed]:
        # The resistor lies beside the switch, the LED beside the load's own rail.
        card, n, low_side = site.card("card", LedCard), self.count, site.side == "low"

        def string(corner: Corner) -> Mapping[str, Any]:
            one = led_rule(card, corner.celsius)
            # One LED with the string's volts: they add, and so does what breaks each down.
            return one | {k: one[k] * n for k in ("ideality", "r_series", "breakdown")}

        row = f"{n} in a row" if n > 1 else ""
        legs = {"a": "top", "k": "led"} if low_side else {"a": "led", "k": "bottom"}
        yield from_card(
            site,
            "led",
            "D",
            "card",
            legs,
            numbers=string,
            value=row or card.colour,
            mark=row,
            rating=show(card.current, "A"),
            price=card.price,
            count=n,
        )
        a, b = ("led", "bottom") if low_side else ("top", "led")
        yield resistor(site, "series", "LED resistor", "r_series", a, b)

    def _above(self, site: Site, volts: float) -> float:
        """What the supply has above the string [V]."""
        return volts - self.count * site.card("card", LedCard).forward.voltage

    def _usual(self, site: Site, volts: float) -> float:
        """The current that ordinary LEDs take [A]."""
        return lit_amps(site.card("card", LedCard), self.count, self.r_series, volts)

    def takes(self, site: Site) -> Demand:
        r, tol = self.r_series, site.tolerance

        def through(volts: float) -> Interval:
            above = max(self._above(site, volts), 0.0)
            least, most = (max(above / (r * (1 + sign * tol)), NEARLY_OFF) for sign in (1, -1))
            usual = self._usual(site, volts)
            return Interval(min(least, usual), usual, max(most, usual))

        return Demand(through, name="LED", energised="it glows", rests=self.least)

    def phrase(self, say: Say, site: Site) -> Sentence:
        many = Word(text="LED behind" if self.count == 1 else "LEDs behind")
        return (say.field("count", note="in a row"), many, say.field("r_series"))

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
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

    def windows(self, site: Site) -> tuple[Window, ...]:
        card, tol, ref, rail = site.card("card", LedCard), site.tolerance, site.ref("series"), site.rail
        drop = supplied(site.switch, self.takes(site)).lost_worst
        top, bottom = self._above(site, rail.high), self._above(site, rail.low) - drop
        over = max(top, 0.0)
        string = f"{self.count} · {card.forward.voltage:.3g}"
        bounds = (
            bound(
                "low",
                max(top / card.current / (1 - tol), 1e-3),
                f"LED under {show(card.current, 'A')}",
                detail=f"{show(over, 'V')} / {show(card.current, 'A')}",
                guards="led_max",
                formula=f"{ref} ≥ (V_{{high}} − n·V_{{F}}) / I_{{max}}",
                numbers=f"= ({rail.high:.3g} − {string}) / {show(card.current, 'A')}",
                because="The full supply drives the most current.",
            ),
            bound(
                "low",
                max(top**2 / QUARTER_WATT / (1 - tol), 1e-3),
                "resistor under 0.25 W",
                detail=f"{show(over, 'V')}² / 0.25 W",
                guards="led_heat",
                formula=f"{ref} ≥ (V_{{high}} − n·V_{{F}})^2 / P",
                numbers=f"= {over:.3g}² / 0.25",
                because="What the string leaves of the supply turns into heat in the resistor.",
            ),
            bound(
                "high",
                max(bottom / self.least / (1 + tol), 1e-3),
                f"still {show(self.least, 'A')} on a low {rail.word}",
                detail=f"{show(max(bottom, 0.0), 'V')} / {show(self.least, 'A')}",
                guards="led_dim",
                formula=f"{ref} ≤ (V_{{low}} − V_{{drop}} − n·V_{{F}}) / I_{{least}}",
                numbers=f"= ({rail.low:.3g} − {show(drop, 'V')} − {string}) / {show(self.least, 'A')}",
                because="A low supply leaves the least for the resistor.",
            ),
        )
        found = window(site, "r_series", "series", "LED resistor", bounds)
        return (found.model_copy(update={"facet": "load"}),)

    def checks(self, site: Site) -> Iterator[Check]:
        card, tol, ref, r = site.card("card", LedCard), site.tolerance, site.ref("series"), self.r_series
        rail, got = site.rail, supplied(site.switch, self.takes(site))
        top = max(self._above(site, rail.high), 0.0)
        left_worst = max(self._above(site, got.low_worst), 0.0)
        most = top / (r * (1 - tol))
        cure = Remedy(text=f"Change {ref}: its window shows what is allowed.")
        yield check(
            "led_max",
            f"LED on a full {rail.word}",
            "limit",
            "supply high",
            unit="A",
            nominal=self._usual(site, got.high),
            worst=most,
            most=card.current,
            at=high("resistor at its lowest"),
            says=f"{show(most, 'A')} of {show(card.current, 'A')}.",
            formula=f"I = (V_{{high}} − n·V_{{F}}) / {ref}",
            numbers=f"= {top:.3g} / {show(r * (1 - tol), 'Ω')} = {show(most, 'A')}",
            because="Above its rating an LED fades and dies; without a resistor, at once.",
            cure=cure,
            shown=Shown("i(series.a)", site.switch.runs, floor=2e-6),
        )
        room = got.low_worst - self.least * r
        fits = max(int(room / card.forward.voltage), 1)
        fewer = Remedy(
            text=f"Put {fits} in the row, and more rows side by side, each with its own resistor.",
            changes=(Change(path=site.path("count"), value=fits),) if fits < self.count else (),
        )
        lit, lit_worst = self._usual(site, got.low), max(left_worst / (r * (1 + tol)), NEARLY_OFF)
        yield check(
            "led_lights",
            f"Lights on a low {rail.word}",
            "need",
            "gets its volts",
            unit="A",
            nominal=max(lit, NEARLY_OFF),
            worst=min(max(lit, NEARLY_OFF), lit_worst),
            least=DARK,
            at=low("largest drop"),
            says=(
                f"Gets {show(lit_worst, 'A')}; the eye sees it from about {show(DARK, 'A')}."
                if left_worst > 0
                else f"{show(got.low_worst, 'V')} are less than {self.count} in a row want: it stays dark."
            ),
            formula=f"I = (V_{{low}} − V_{{drop}} − n·V_{{F}}) / {ref}",
            numbers=f"= {left_worst:.3g} / {show(r * (1 + tol), 'Ω')} = {show(lit_worst, 'A')}",
            because="A long string on a low supply goes dark all at once.",
            cure=cure if left_worst > 0 else fewer,
        )
        yield check(
            "led_dim",
            f"Seen on a low {rail.word}",
            "wish",
            "gets its volts",
            unit="A",
            nominal=max(lit, NEARLY_OFF),
            worst=lit_worst,
            least=self.least,
            at=low("largest drop, resistor at its highest"),
            says=f"Wants {show(self.least, 'A')}, gets {show(lit_worst, 'A')}.",
            formula=f"I = (V_{{low}} − V_{{drop}} − n·V_{{F}}) / {ref}",
            numbers=f"= {left_worst:.3g} / {show(r * (1 + tol), 'Ω')} = {show(lit_worst, 'A')}",
            because="Brightness goes with the current; a long string on a low supply goes dark.",
            cure=cure if left_worst > 0 else fewer,
            shown=Shown("i(series.a)", site.switch.runs, floor=2e-6),
            wish="least",
        )
        watts = top**2 / (r * (1 - tol))
        yield check(
            "led_heat",
            f"Heat in {ref}",
            "limit",
            "heat",
            unit="W",
            nominal=self._usual(site, got.high) ** 2 * r,
            worst=watts,
            most=QUARTER_WATT,
            at=high("resistor at its lowest"),
            says=f"{show(watts, 'W')} of {show(QUARTER_WATT, 'W')}.",
            formula=f"P = (V_{{high}} − n·V_{{F}})^2 / {ref}",
            numbers=f"= {top:.3g}² / {show(r * (1 - tol), 'Ω')}",
            because="An ordinary small resistor stands a quarter of a watt.",
            cure="Take a higher resistance, more LEDs in the row, or a half-watt resistor.",
            shown=Shown("p(series)", site.switch.runs, within=0.04, floor=1e-4),
        )

    def measures(self, site: Site) -> tuple[Measure, ...]:
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
                path=site.path("card"),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        low_side = site.side == "low"
        return (
            Probe(
                id="led",
                title="LED's cathode to 0 V" if low_side else "LED's anode to 0 V",
                red="strip between LED and resistor",
                signal="led",
            ),
        )

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="current", title="LED current", unit="A", signal="i(series.a)", place=2),)

    def draw(self, pen: Pen, site: Site) -> None:
        led, series, low_side = site.ref("led"), site.ref("series"), site.side == "low"
        level, rail, middle = (OUTPUT_Y, 0.0, 4.5) if low_side else (HIGH_Y, HEIGHT, HEIGHT - 4.5)
        turn = 90 if low_side else 270
        r = pen.part(site, "series", "resistor", pen.x + 3.6, level, turn=turn, side="above")  # type: ignore[arg-type]
        x = max(r["a"][0], r["b"][0]) + 1.0
        d = pen.part(site, "led", "led", x, middle, turn=180)
        near, far = ("a", "k") if low_side else ("k", "a")
        right, left = ("a", "b") if low_side else ("b", "a")
        pen.wire((x, rail), d[near], load=True, part=led)
        pen.wire(d[far], (x, level), r[right], load=True, part=led)
        pen.wire(pen.output, r[left], load=True, part=series)
        pen.tag(site.lane("current"), "A", x - 1.0, level + (2.6 if low_side else -2.6))
        pen.x = x + 6.0
