"""Two NPN transistors in series: the upper one sets (normally off), the lower one resets (normally on).

Both drops add. The upper one's base drive is referred to the lower one's collector. The lower one conducts
through its
pull-up and base resistor until the reset button takes that away; one pull-up may feed several such bases,
and must be able to.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from ..cards.card import BipolarCard, NpnCard
from ..circuit.devices import Button, Device, Resistor
from ..fields import Q
from ..quantity import show_part
from .base_drive import BaseDrive, forced_gain
from .contract import Corner, Demand, Offer, Part, Schedule, Switch, View
from .drawing import HEIGHT, Pen
from .drive import Drive, draw_pull, draw_series, draw_up
from .feed import from_low_side, from_rail
from .findings import Bound, Verdict, Window, window
from .npn_low_side import bipolar_load, bipolar_switch, transistor


class SeriesPair(Drive):
    title = "Stacked pair"
    purpose = "Two NPN transistors in a row: both must conduct, and a reset button takes the lower one out."
    choose = "A signal sets and a button must always win, or one of several channels is to be interrupted."
    avoid = "The supply is low: two drops add up and starve the load."
    letters = {
        "series": "R",
        "pull": "R",
        "switch": "Q",
        "low_base": "R",
        "up": "R",
        "lower": "Q",
        "reset": "S",
    }
    output = "collector"
    cards = {"card": NpnCard, "lower": NpnCard}
    resistors = {
        "series": ("Base resistor", "r_base"),
        "pull": ("Base pull-down", "r_pull"),
        "low_base": ("Lower base resistor", "r_low"),
        "up": ("Pull-up", "r_up"),
    }
    fits = {"switch": "card", "lower": "lower"}
    controls = ("base", "middle", "reset")

    kind: Literal["series_pair"] = "series_pair"
    card: str = "npn-60v-1a"
    lower: str = "npn-60v-1a"
    r_base: Annotated[float, Q("Ω", 1.0, 1e7)] = 270.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 4700.0
    r_low: Annotated[float, Q("Ω", 1.0, 1e7)] = 470.0
    r_up: Annotated[float, Q("Ω", 1.0, 1e7)] = 330.0
    shared: Annotated[int, Field(ge=1, le=12)] = 1  # bases on one pull-up, this one counted

    @property
    def summary(self) -> str:
        return f"Stacked, {show_part(self.r_base)} and {show_part(self.r_up)} Ω"

    def _cards(self, view: View) -> tuple[BipolarCard, BipolarCard]:
        upper, lower = self.card_of(view), self.card_of(view, "lower")
        assert isinstance(upper, BipolarCard) and isinstance(lower, BipolarCard)
        return upper, lower

    def _bases(self, view: View, offer: Offer, demand: Demand) -> tuple[BaseDrive, BaseDrive]:
        upper, lower = self._cards(view)
        amps = view.high / demand.cold
        top = BaseDrive(
            from_low_side(offer),
            upper,
            self.r_base,
            self.r_pull,
            amps,
            forced_gain(upper, None),
            view.tolerance,
            view.refs["series"],
            view.refs.get("pull", "R_{pull}"),
            lift=lower.v_ce_sat,
        )
        # N bases share the pull-up: each sees it N times as large.
        bottom = BaseDrive(
            from_rail(view, 0.0),
            lower,
            self.shared * self.r_up + self.r_low,
            None,
            amps,
            forced_gain(lower, None),
            view.tolerance,
            f"{self.shared}·{view.refs['up']} + {view.refs['low_base']}"
            if self.shared > 1
            else f"{view.refs['up']} + {view.refs['low_base']}",
            tag="reset_",
            who="Lower: ",
        )
        return top, bottom

    def switch(self, view: View) -> Switch:
        upper, lower = self._cards(view)
        found = bipolar_switch(view, upper, self.output, lower.v_ce_sat)
        return replace(found, drop=0.7 * (upper.v_ce_sat + lower.v_ce_sat))

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        top, bottom = self._bases(view, view.offer, view.demand)
        stock = view.stock()

        def up(b: Bound) -> Bound:
            return b.model_copy(update={"value": max((b.value - self.r_low) / self.shared, 1e-3)})

        return (
            window(
                view.path("r_base"),
                top.series_ref,
                "base resistor",
                "Ω",
                self.r_base,
                top.series_bounds(),
                stock=stock,
            ),
            window(
                view.path("r_pull"),
                view.refs.get("pull", "R"),
                "base pull-down",
                "Ω",
                self.r_pull,
                top.pull_bounds(),
                stock=stock,
                removable=True,
            ),
            window(
                view.path("r_up"),
                view.refs["up"],
                "pull-up of the lower one",
                "Ω",
                self.r_up,
                [up(b) for b in bottom.series_bounds()],
                stock=stock,
            ),
        )

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        if view.offer is None or view.demand is None:
            return ()
        top, bottom = self._bases(view, view.offer, view.demand)
        own = [v for v in bottom.verdicts() if v.id != "reset_unplugged"]  # it is meant to conduct
        if self.shared > 1:
            text = f"{self.shared} bases share one pull-up. "
            own = [
                v.model_copy(update={"sentence": text + v.sentence}) if v.id == "reset_fully_on" else v
                for v in own
            ]
        return (*top.verdicts(), *own, *bipolar_load(view, view.demand, top))

    def heats(self, view: View) -> dict[str, float]:
        return {
            "up": view.high**2 / self.r_up,
            "low_base": (view.high / (self.r_up + self.r_low)) ** 2 * self.r_low,
        }

    def parts(self, view: View) -> tuple[Part, ...]:
        return (
            *super().parts(view),
            Part(
                ref=view.refs["reset"],
                title="Push button, normally open",
                value="reset",
                kind="button",
                price=0.15,
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        tol = 1 + corner.resistors
        upper, lower = self._cards(view)
        yield Resistor(
            name=view.refs["series"],
            a=view.nodes["in"],
            b="base",
            resistance=self.r_base * tol,
            tolerance=view.tolerance,
        )
        if self.r_pull is not None:
            yield Resistor(
                name=view.refs["pull"],
                a="base",
                b="0",
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )
        yield transistor(view, upper, corner, "switch", view.nodes["out"], "base", "middle")
        yield Resistor(
            name=view.refs["low_base"],
            a="low_base",
            b="reset",
            resistance=self.r_low * tol,
            tolerance=view.tolerance,
        )
        yield Resistor(
            name=view.refs["up"], a="plus", b="reset", resistance=self.r_up * tol, tolerance=view.tolerance
        )
        yield transistor(view, lower, corner, "lower", "middle", "low_base", "0")
        yield Button(name=view.refs["reset"], com="reset", no="0")

    def draw(self, pen: Pen, view: View) -> None:
        x0, y = pen.output
        far = draw_series(pen, view, "series", self.r_base, "r_base")
        q, low = view.refs["switch"], view.refs["lower"]
        t = pen.place(q, "npn", x0 + 12.6, y, label=q, value="", path=view.path("card"))
        pen.wire(far, t["b"], part=view.refs["series"])
        if self.r_pull is not None:
            draw_pull(pen, view, "pull", self.r_pull, "r_pull", (x0 + 7.8, y), HEIGHT)
        pen.control = (x0 + 7.8, y)
        x = t["e"][0]
        b = pen.place(
            low, "npn_left", x + 2.0, 24.0, label=low, value="", path=view.path("lower"), side="left"
        )
        pen.wire(t["e"], b["c"], load=True, part=q)
        pen.wire(b["e"], (x, HEIGHT), load=True, part=low)
        ref = view.refs["low_base"]
        r = pen.place(
            ref,
            "resistor",
            b["b"][0] + 3.0,
            24.0,
            turn=270,
            label=ref,
            value=show_part(self.r_low),
            path=view.path("r_low"),
            side="above",
        )
        node = r["b"]
        up, s = view.refs["up"], view.refs["reset"]
        u = pen.place(
            up, "resistor", node[0], 15.5, label=up, value=show_part(self.r_up), path=view.path("r_up")
        )
        pen.wire((node[0], 0.0), u["a"], part=up)
        pen.wire(u["b"], node, part=up)
        pen.place(s, "button_no", node[0], 27.0, label=s, value="reset")
        pen.tag("base", "V", x0 + 7.2, y - 2.8)
        draw_up(pen, view, t["c"], q)
        pen.x = node[0] + 1.5
