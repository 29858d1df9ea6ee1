"""What both high-side switches share: a control pulled up to the supply, and what pulls it down.

The signal does it itself where it swings to the supply; otherwise an NPN or N-MOSFET at 0 V shifts the
level. A pin that
only reaches 3.3 V can never turn off a switch on a 12 V rail: the verdict "Turned fully off" says so.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import Card, MosfetCard, NpnCard
from ..circuit.devices import Device, Resistor
from ..fields import Q
from ..quantity import show_part
from .base_drive import BaseDrive, forced_gain
from .contract import Corner, Offer, Side, View
from .drawing import SIGNAL_Y, Pen
from .drive import CONTROL_Y, Drive, draw_high_side, draw_low_side, draw_series
from .feed import Feed, from_high_side, from_low_side, from_rail
from .findings import Verdict, Window, window
from .gate_drive import GateDrive
from .nmos_low_side import channel
from .npn_low_side import transistor

SHIFT_DROP = 0.3  # what a saturated shifter keeps for itself [V]


class HighSide(Drive):
    """A switch between the + rail and the load. `r_drive` leads to whoever pulls the control down, `r_pull`
    up to the rail.
    """

    resistors = {
        "shift_series": ("Shifter's resistor", "r_shift"),
        "shift_pull": ("Shifter's pull-down", "r_shift_pull"),
        "series": ("Drive resistor", "r_drive"),
        "pull": ("Pull-up", "r_pull"),
    }
    fits = {"switch": "card"}
    letters = {
        "shift_series": "R",
        "shift_pull": "R",
        "shift": "Q",
        "series": "R",
        "pull": "R",
        "switch": "Q",
    }

    shift: Literal["none", "npn", "nmos"] = "npn"
    shift_npn: str = "npn-40v-200ma"
    shift_nmos: str = "nmos-55v-5a-logic"
    r_shift: Annotated[float, Q("Ω", 1.0, 1e7)] = 1000.0
    r_shift_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 3300.0
    r_drive: Annotated[float, Q("Ω", 1.0, 1e7)] = 820.0
    r_pull: Annotated[float, Q("Ω", 10.0, 1e8)] | None = 10e3

    @property
    def side(self) -> Side:
        return "high"

    @property
    def inverts(self) -> bool:
        return self.shift == "none"

    def fitted(self) -> tuple[str, ...]:
        found = super().fitted()
        return found if self.shift != "none" else tuple(n for n in found if not n.startswith("shift"))

    def card_field(self, local: str) -> str | None:
        return f"shift_{self.shift}" if local == "shift" else super().card_field(local)

    def _shift_card(self, view: View) -> Card:
        field = f"shift_{self.shift}"
        return view.drawer.card(getattr(self, field), self.cards[field], view.path(field))

    def feed(self, view: View, offer: Offer) -> Feed:
        """What pulls the control away from the rail."""
        return from_high_side(offer, view) if self.shift == "none" else from_rail(view, SHIFT_DROP)

    def pulled(self, view: View) -> float:
        """The most the shifter carries for as long as it is on [A]."""
        return view.high / self.r_drive

    def shifter(self, view: View, offer: Offer) -> BaseDrive | GateDrive | None:
        """The helper at 0 V, judged like any low-side switch with `r_drive` as its load."""
        if self.shift == "none":
            return None
        feed, amps = from_low_side(offer), self.pulled(view)
        refs = (view.refs["shift_series"], view.refs.get("shift_pull", "R_{pull}"))
        if self.shift == "npn":
            npn = view.drawer.card(self.shift_npn, NpnCard, view.path("shift_npn"))
            return BaseDrive(
                feed,
                npn,
                self.r_shift,
                self.r_shift_pull,
                amps,
                forced_gain(npn, None),
                view.tolerance,
                *refs,
                tag="shift_",
                who="Shifter: ",
            )
        nmos = view.drawer.card(self.shift_nmos, MosfetCard, view.path("shift_nmos"))
        return GateDrive(
            feed,
            nmos,
            self.r_shift,
            self.r_shift_pull,
            view.high,
            view.hot,
            1e-4,
            view.tolerance,
            *refs,
            tag="shift_",
            who="Shifter: ",
        )

    def control(self, view: View, offer: Offer) -> BaseDrive | GateDrive:
        """The switch's own base or gate."""
        raise NotImplementedError

    def windows(self, view: View) -> tuple[Window, ...]:
        if view.offer is None or view.demand is None:
            return ()
        found, stock = [], view.stock()
        main, shifter = self.control(view, view.offer), self.shifter(view, view.offer)
        what = "base" if isinstance(main, BaseDrive) else "gate"
        found.append(
            window(
                view.path("r_drive"),
                main.series_ref,
                f"{what} resistor",
                "Ω",
                self.r_drive,
                main.series_bounds(),
                stock=stock,
            )
        )
        found.append(
            window(
                view.path("r_pull"),
                view.refs.get("pull", "R"),
                f"{what} pull-up",
                "Ω",
                self.r_pull,
                main.pull_bounds(),
                stock=stock,
                removable=True,
            )
        )
        if shifter is not None:
            found.append(
                window(
                    view.path("r_shift"),
                    shifter.series_ref,
                    "shifter's resistor",
                    "Ω",
                    self.r_shift,
                    shifter.series_bounds(),
                    stock=stock,
                )
            )
            found.append(
                window(
                    view.path("r_shift_pull"),
                    view.refs.get("shift_pull", "R"),
                    "shifter's pull-down",
                    "Ω",
                    self.r_shift_pull,
                    shifter.pull_bounds(),
                    stock=stock,
                    removable=True,
                )
            )
        return tuple(found)

    def control_verdicts(self, view: View, offer: Offer) -> list[Verdict]:
        """The verdicts of the switch's control and of its shifter."""
        shifter = self.shifter(view, offer)
        return [*self.control(view, offer).verdicts(), *(shifter.verdicts() if shifter is not None else [])]

    def heats(self, view: View) -> dict[str, float]:
        return {"series": view.high**2 / self.r_drive, "pull": view.high**2 / (self.r_pull or 1e12)}

    def shift_devices(self, view: View, corner: Corner, control: str) -> Iterable[Device]:
        """Everything but the switch itself."""
        tol, near, far = 1 + corner.resistors, view.nodes["in"], control
        if self.shift != "none":
            yield Resistor(
                name=view.refs["shift_series"],
                a=near,
                b="shift_control",
                resistance=self.r_shift * tol,
                tolerance=view.tolerance,
            )
            if self.r_shift_pull is not None:
                yield Resistor(
                    name=view.refs["shift_pull"],
                    a="shift_control",
                    b="0",
                    resistance=self.r_shift_pull * tol,
                    tolerance=view.tolerance,
                )
            near, far, card = control, "shift_out", self._shift_card(view)
            if isinstance(card, NpnCard):
                yield transistor(view, card, corner, "shift", "shift_out", "shift_control", "0")
            else:
                yield channel(view, card, corner, "shift", "shift_control", "shift_out", "0")
        yield Resistor(
            name=view.refs["series"], a=near, b=far, resistance=self.r_drive * tol, tolerance=view.tolerance
        )
        if self.r_pull is not None:
            yield Resistor(
                name=view.refs["pull"],
                a="plus",
                b=control,
                resistance=self.r_pull * tol,
                tolerance=view.tolerance,
            )

    def draw_all(self, pen: Pen, view: View, symbol: str, legs: tuple[str, str, str], control: str) -> None:
        """Shifter, drive resistor, pull-up and switch."""
        if self.shift == "none":
            far = draw_series(pen, view, "series", self.r_drive, "r_drive")
            begin = (pen.output[0] + 7.8, CONTROL_Y)
            pen.wire(far, (begin[0], SIGNAL_Y), begin, part=view.refs["series"])
        else:
            bipolar = self.shift == "npn"
            t = draw_low_side(
                pen,
                view,
                "npn" if bipolar else "n_mosfet",
                ("b", "c", "e") if bipolar else ("g", "d", "s"),
                "shift_control",
                ("shift_series", self.r_shift, "r_shift"),
                ("shift_pull", self.r_shift_pull, "r_shift_pull") if self.r_shift_pull is not None else None,
                local="shift",
                field=f"shift_{self.shift}",
                output=False,
            )
            top = t["c" if bipolar else "d"]
            ref = view.refs["series"]
            r = pen.place(
                ref,
                "resistor",
                top[0],
                top[1] - 3.0,
                label=ref,
                value=show_part(self.r_drive),
                path=view.path("r_drive"),
                side="left",
            )
            assert r["b"] == top
            begin = r["a"]
        pull = ("pull", self.r_pull, "r_pull") if self.r_pull is not None else None
        pen.tag(control, "V", begin[0] + 5.6, CONTROL_Y + 4.0)
        draw_high_side(pen, view, symbol, legs, begin, pull)


SHIFT_CARDS: dict[str, type[Card]] = {"shift_npn": NpnCard, "shift_nmos": MosfetCard}
