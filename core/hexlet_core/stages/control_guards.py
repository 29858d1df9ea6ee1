"""Guards at the switch's base or gate: a zener that clamps the gate, a diode against the base's junction."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from ..cards.card import ZenerCard
from ..cards.derive import diode as diode_rule
from ..cards.derive import zener as zener_rule
from ..circuit.devices import Device, Diode
from ..fields import Q
from ..quantity import show
from .contract import Corner, Part, Schedule, Stage, View
from .drawing import HEIGHT, Pen
from .drive import card_part
from .findings import Remedy, Verdict, Working, judge
from .output_guards import OneDiode, rail_side, through
from .wording import Say, Sentence, Word

SWING_LEFT = 0.7  # what a diode across the junction leaves of a negative swing [V]


class GateClamp(Stage):
    role = "guard"
    title = "Gate clamp"
    purpose = "A zener from gate to source keeps the gate's voltage inside its limit."
    choose = "The gate can see more than four fifths of its limit, or a long lead leads to it."
    avoid = "The signal never comes near the limit."
    letters = {"zener": "Z"}
    cards = {"zener": ZenerCard}

    kind: Literal["gate_clamp"] = "gate_clamp"
    zener: str = "zener-12v"

    @property
    def summary(self) -> str:
        return "Zener at the gate"

    def _card(self, view: View) -> ZenerCard:
        return view.drawer.card(self.zener, ZenerCard, view.path("zener"))

    def gate_clamp(self, view: View) -> float:
        card = self._card(view)
        return card.voltage * (1 + card.tolerance)

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        card, switch = self._card(view), view.switch
        if switch is None or switch.gate_max <= 0:
            return (
                judge(
                    "clamp_place",
                    "guard",
                    "Something to clamp",
                    nominal=1.0,
                    worst=1.0,
                    limit=0.5,
                    unit="",
                    sense="at most",
                    corner="the drive in use",
                    sentence="This drive has no gate.",
                    working=Working(
                        formula="clamp ↔ MOSFET",
                        substituted="no gate",
                        reason="A bipolar's base clamps itself at 0.7 V.",
                    ),
                    remedy=Remedy(text="Take the gate clamp out."),
                ),
            )
        most = self.gate_clamp(view)
        return (
            judge(
                "clamp_holds",
                "guard",
                "Clamp under the gate's limit",
                nominal=card.voltage,
                worst=most,
                limit=switch.gate_max,
                unit="V",
                sense="at most",
                corner="zener at its highest",
                sentence=f"Holds {show(most, 'V')}; the gate stands {show(switch.gate_max, 'V')}.",
                working=Working(
                    formula="V_{Z,max} ≤ V_{GS,max}",
                    substituted=f"{show(most, 'V')} ≤ {show(switch.gate_max, 'V')}",
                    reason="The clamp must act before the oxide breaks down.",
                ),
                remedy=Remedy(text="Take a lower zener."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        rail = rail_side(view)[0]
        node = view.switch.control if view.switch and view.switch.control else view.nodes["in"]
        a, k = ("0", node) if rail == "0" else (node, "plus")
        yield Diode(
            name=view.refs["zener"], a=a, k=k, **zener_rule(self._card(view), corner.celsius, corner.spread)
        )

    def draw(self, pen: Pen, view: View) -> None:
        draw_control(pen, view, "zener", "zener", show(self._card(view).voltage, "V"), "zener")

    def parts(self, view: View) -> tuple[Part, ...]:
        return (card_part(view, self, "zener", "zener"),)


def draw_control(pen: Pen, view: View, local: str, symbol: str, value: str, field: str) -> None:
    """A part from the switch's control to its own rail, cathode to the control on the low side, to the rail
    on the high side.
    """
    ref = view.refs[local]
    if pen.control is None:
        at = pen.place(ref, symbol, pen.x + 3.0, 15.0, label=ref, value=value, path=view.path(field))
        rail = rail_side(view)[1]
        up, down = at["k"], at["a"]
        x, y = through(pen, view, pen.x + 3.0)
        pen.wire((x, y), up if view.side == "low" else down, part=ref)
        pen.wire(down if view.side == "low" else up, (x, rail), part=ref)
        pen.x = x + 3.0
        return
    (x0, y0), low = pen.control, view.side == "low"
    x = x0 + ((3.4, -3.6) if low else (2.8, -1.5))[min(pen.at_control, 1)]
    pen.at_control += 1
    at = pen.place(
        ref,
        symbol,
        x,
        25.0 if low else 3.2,
        label=ref if low else "",
        value=value if low else "",
        path=view.path(field),
    )
    if low:
        pen.wire((x0, y0), (x0, 19.2), part=ref)
        pen.wire((x0, 19.2), (x, 19.2), at["k"], part=ref)
        pen.wire(at["a"], (x, HEIGHT), part=ref)
    else:
        pen.wire(at["a"], (x, y0), part=ref)
        pen.wire(at["k"], (x, 0.0), part=ref)


class BaseReverse(OneDiode):
    title = "Base-emitter diode"
    purpose = "A diode against the base's junction keeps a negative swing from breaking it down."
    choose = "A capacitor couples into the base: timing stages swing it far below its emitter."
    avoid = "Nothing drives the base beyond its rail."

    kind: Literal["base_reverse"] = "base_reverse"
    diode: str = "diode-200ma-100v"
    swing: Annotated[float, Q("V", 0.0, 400.0)] = 11.0

    @property
    def summary(self) -> str:
        return "Fitted"

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
        return {
            "guard": (
                Word(text="The base is driven beyond its rail by up to"),
                say.field("swing", note="negative swing"),
            )
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        limit = view.switch.reverse if view.switch else 0.0
        left = min(self.swing, SWING_LEFT)
        if limit <= 0:
            return ()
        return (
            judge(
                "base_reverse",
                "guard",
                "Base's reverse voltage",
                nominal=left,
                worst=left,
                limit=limit,
                unit="V",
                sense="at most",
                corner="the full swing",
                sentence=(
                    f"{show(self.swing, 'V')} are cut to {show(left, 'V')}; the junction breaks at "
                    f"{show(limit, 'V')}."
                ),
                working=Working(
                    formula="V_{EB} ≤ V_{EBO}",
                    substituted=f"{show(left, 'V')} ≤ {show(limit, 'V')}",
                    reason="A base driven below its emitter breaks down at some 5 V and loses gain.",
                ),
                remedy=Remedy(text="Put a diode in series with the base, or lower the supply."),
            ),
        )

    def devices(self, view: View, corner: Corner, schedule: Schedule) -> Iterable[Device]:
        node = view.switch.control if view.switch and view.switch.control else view.nodes["in"]
        a, k = ("0", node) if view.side == "low" else (node, "plus")
        yield Diode(name=view.refs["diode"], a=a, k=k, **diode_rule(self._card(view), corner.celsius))

    def draw(self, pen: Pen, view: View) -> None:
        draw_control(pen, view, "diode", "diode", "", "diode")
