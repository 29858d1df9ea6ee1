"""What every drive shares: its parts list, what is read and watched, and how transistors sit in the
drawing.
"""

from __future__ import annotations

from typing import ClassVar

from ..cards.card import BipolarCard, FieldEffectCard
from ..quantity import show, show_part
from .contract import Part, Probe, Stage, View, Watch
from .drawing import HEIGHT, HIGH_Y, OUTPUT_Y, SIGNAL_Y, Pen, Point

CONTROL_Y = 7.0  # the base or gate of a high-side transistor
DIODE_CHECKS = {
    "npn": (
        "Diode mode, red on the base: black on either other leg shows a junction, the emitter's a little "
        "higher. Reversed, OL."
    ),
    "pnp": (
        "Diode mode, black on the base: red on either other leg shows a junction, the emitter's a little "
        "higher. Reversed, OL."
    ),
    "n_mosfet": (
        "Diode mode, red on the source, black on the drain: the body diode conducts. Swapped, with gate "
        "and source joined first, OL."
    ),
    "p_mosfet": (
        "Diode mode, red on the drain, black on the source: the body diode conducts. Swapped, with gate "
        "and source joined first, OL."
    ),
    "diode": "Diode mode, red on the unbanded end: a junction. Swapped: OL.",
    "zener": "Diode mode, red on the unbanded end: a junction. Swapped: OL.",
    "optocoupler": "Diode mode, red on the LED's anode, black on its cathode: a junction. Swapped: OL.",
    "bridge": (
        "Diode mode, red on −, black on either ~: a junction. Then red on either ~, black on +: the same."
    ),
}
JUNCTION = "0.40 V to 0.75 V"
DIODE_READS = {
    "optocoupler": "1.0 V to 1.3 V",
    "schottky": "0.15 V to 0.40 V",
    "diode": "0.50 V to 0.75 V",
    "zener": "0.60 V to 0.85 V",
}


def resistor_part(view: View, ref: str, title: str, value: float, path: str, power: float) -> Part:
    """A resistor's line in the parts list."""
    stock = view.stock()
    return Part(
        ref=ref,
        title=title,
        value=f"{show_part(value)} Ω",
        kind="resistor",
        path=path,
        legs=("either", "either"),
        rating=f"{show(max(power, 0.0), 'W')} in it, 0.25 W is enough"
        if power < 0.125
        else f"{show(power, 'W')} in it: take 0.5 W or more",
        stock=stock.get(value, 0),
        price=0.02,
    )


def card_part(view: View, stage: Stage, local: str, field: str, **more: object) -> Part:
    """The line of a part that a card describes, named by the stage's `field`."""
    card = view.drawer.card(getattr(stage, field), stage.cards[field], view.path(field))
    kind = str(getattr(card, "kind", ""))
    reads = DIODE_READS.get("schottky" if getattr(card, "schottky", False) else kind, JUNCTION)
    line: dict[str, object] = {
        "ref": view.refs[local],
        "title": card.title,
        "value": card.brief,
        "kind": kind,
        "card": card.id,
        "legs": card.legs,
        "face": card.face,
        "stock": view.drawer.count(card.id),
        "price": card.price,
        "path": view.path(field),
        "check": (DIODE_CHECKS[kind], reads) if kind in DIODE_CHECKS else None,
    }
    return Part.model_validate(line | more)


class Drive(Stage):
    """A switch between signal and load. A kind names its `resistors` (local name to title and field) and
    `fits` (local name to card field).
    """

    role = "drive"
    resistors: ClassVar[dict[str, tuple[str, str]]] = {}
    fits: ClassVar[dict[str, str]] = {}
    controls: ClassVar[tuple[str, ...]] = ()  # nodes worth reading besides the output

    def fitted(self) -> tuple[str, ...]:
        return tuple(
            n
            for n in self.letters
            if n not in self.resistors or getattr(self, self.resistors[n][1]) is not None
        )

    def card_field(self, local: str) -> str | None:
        """The field with the card of a part, by local name."""
        return self.fits.get(local)

    def card_of(self, view: View, field: str = "card") -> BipolarCard | FieldEffectCard:
        """The part card that a field names."""
        found = view.drawer.card(getattr(self, field), self.cards[field], view.path(field))
        assert isinstance(found, BipolarCard | FieldEffectCard)
        return found

    def heats(self, view: View) -> dict[str, float]:
        """The most watts in each resistor, by local name; nothing said means little."""
        return {}

    def parts(self, view: View) -> tuple[Part, ...]:
        found, heats = [], self.heats(view)
        for local in self.fitted():
            if local in self.resistors:
                title, field = self.resistors[local]
                found.append(
                    resistor_part(
                        view,
                        view.refs[local],
                        title,
                        getattr(self, field),
                        view.path(field),
                        heats.get(local, 0.0),
                    )
                )
            elif (field_name := self.card_field(local)) is not None:
                found.append(card_part(view, self, local, field_name))
        return tuple(found)

    def probes(self, view: View) -> tuple[Probe, ...]:
        out = view.nodes["out"]
        found = [
            Probe(
                id=n,
                title=f"{n.replace('_', ' ').capitalize()} to 0 V",
                red=f"{n.replace('_', ' ')} strip",
                black="0 V rail",
                quantity="voltage",
                node=n,
                states=("low", "high") if k else (view.on, "floating"),
            )
            for k, n in enumerate(self.controls)
        ]
        found.append(
            Probe(
                id=out,
                title=f"{out.capitalize()} to 0 V",
                red=f"{out} strip",
                black="0 V rail",
                quantity="voltage",
                node=out,
            )
        )
        return tuple(found)

    def watches(self, view: View) -> tuple[Watch, ...]:
        out = view.nodes["out"]
        return (
            Watch(id=out, title=out.capitalize(), unit="V", signal=out, place=3, peak=self.side == "low"),
            *(
                Watch(id=n, title=n.replace("_", " ").capitalize(), unit="V", signal=n, place=5, shown=False)
                for n in self.controls
            ),
        )


def draw_series(pen: Pen, view: View, local: str, value: float, field: str) -> Point:
    """A resistor in the signal's line; returns its far end."""
    x0, y = pen.output
    ref = view.refs[local]
    at = pen.place(
        ref,
        "resistor",
        x0 + 3.8,
        y,
        turn=270,
        label=ref,
        value=show_part(value),
        path=view.path(field),
        side="below",
    )
    pen.wire((x0, y), at["a"], part=ref)
    return at["b"]


def draw_pull(pen: Pen, view: View, local: str, value: float, field: str, node: Point, to: float) -> None:
    """A pull resistor between a node of the drawing and a rail at height `to`."""
    ref, (x, y) = view.refs[local], node
    middle = 23.0 if to > y else 3.5
    p = pen.place(ref, "resistor", x, middle, label=ref, value=show_part(value), path=view.path(field))
    near, far = (p["a"], p["b"]) if to > y else (p["b"], p["a"])
    if near != node:
        pen.wire(node, near, part=ref)
    pen.wire(far, (x, to), part=ref)


Resist = tuple[str, float, str]  # local name, value, field of a resistor to draw


def draw_low_side(
    pen: Pen,
    view: View,
    symbol: str,
    legs: tuple[str, str, str],
    control: str,
    series: Resist,
    pull: Resist | None,
    *,
    local: str = "switch",
    field: str = "card",
    output: bool = True,
) -> dict[str, Point]:
    """A low-side switch: series resistor, pull-down, transistor; with `output` its output goes up to
    `OUTPUT_Y`.
    """
    g, d, s = legs
    x0, y = pen.output
    far = draw_series(pen, view, *series)
    node = (x0 + 7.8, y)
    if output:
        pen.control = node
    q = view.refs[local]
    t = pen.place(q, symbol, x0 + 12.6, y, label=q, value="", path=view.path(field))
    pen.wire(far, t[g], part=view.refs[series[0]])
    if pull is not None:
        draw_pull(pen, view, *pull, node, HEIGHT)
    pen.wire(t[s], (t[s][0], HEIGHT), load=output, part=q)
    pen.tag(control, "V", node[0] - 0.6, SIGNAL_Y - 2.8)
    if output:
        draw_up(pen, view, t[d], q)
    return t


def draw_up(pen: Pen, view: View, begin: Point, part: str) -> None:
    """A low-side switch's output, from its transistor up to `OUTPUT_Y`."""
    end = (begin[0], OUTPUT_Y)
    pen.wire(begin, end, load=True, part=part)
    pen.tag(view.nodes["out"], "V", end[0] - 3.4, OUTPUT_Y)
    pen.output, pen.x = end, end[0]


def draw_high_side(
    pen: Pen, view: View, symbol: str, legs: tuple[str, str, str], begin: Point, pull: Resist | None
) -> None:
    """A high-side switch whose control is reached from `begin`, with its pull-up; its output goes down to
    `HIGH_Y`.
    """
    g, d, s = legs
    q = view.refs["switch"]
    t = pen.place(q, symbol, begin[0] + 9.4, CONTROL_Y, label=q, value="", path=view.path("card"))
    pen.wire(begin, t[g], part=q)
    pen.control = (begin[0] + 2.6, CONTROL_Y)
    if pull is not None:
        draw_pull(pen, view, *pull, (begin[0] + 2.6, CONTROL_Y), 0.0)
    pen.wire(t[s], (t[s][0], 0.0), load=True, part=q)
    out = (t[d][0], HIGH_Y)
    pen.wire(t[d], out, load=True, part=q)
    pen.tag(view.nodes["out"], "V", out[0] + 3.4, HIGH_Y - 5.0)
    pen.output, pen.x = out, out[0]
