"""A block's parts table: each part once, from which netlist, parts list, references, heat, build steps, board
legs and possible faults follow.

A part says which device it is and how its numbers come about at a corner; it knows no corner and no schedule
itself.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING, Any, cast

from ...cards.card import AnyCard, Card
from ...cards.derive import RULES, Spread
from ...circuit.devices import Bounce, Button, Capacitor, Device, Pin, PinStep, Potentiometer, Resistor
from ...circuit.devices.heat import ROOM
from ...quantity import show, show_part

if TYPE_CHECKING:
    from .site import Site

# How far a capacitor known by its value alone is off it: an electrolytic from so many farads, else a film or
# ceramic one.
ELECTROLYTIC, ROLLED, STACKED = 1e-6, 0.2, 0.1
TRACK = 0.2  # how far a potentiometer's track is off its value, assumed
END_SHARE = 1e-3  # of a track that is left at its end, assumed
LABEL = 0.1  # how far what a load takes is off what its label says, either way, assumed


@dataclass(frozen=True)
class Corner:
    """One combination of extremes for the simulated circuit; applied to every part by the core."""

    supply: float
    celsius: float = ROOM
    spread: Spread = "typ"  # of the cards
    resistors: float = 0.0  # relative error of every resistor
    signal: Spread = "typ"  # of the levels that come from outside


Numbers = Callable[[Corner], Mapping[str, Any]]
Pose = tuple[float, float]  # a level [V] behind a resistance [Ω]
Poses = Callable[[Corner], Mapping[str, Pose]]


@dataclass(frozen=True)
class Placed:
    """One part.

    Attributes:
        local: its name within the block, for good.
        letter: of its reference, numbered over the whole design.
        kind: what it is to a person who sorts parts: resistor, npn, relay, load …
        numbers: the device's parameters at a corner.
        legs: its terminals to the block's own nets.
        mark: what stands beside its symbol.
        field: the block's field that holds its value or names its card.
        poses: of a pin, the states a hand or script can put it into.
        check: what the meter does to it once it is in, and what to expect.
        wiring: the build step's own words, where the usual ones do not do.
    """

    local: str
    letter: str
    title: str
    kind: str
    device: type[Device]
    numbers: Numbers
    legs: Mapping[str, str]
    field: str = ""
    value: str = ""
    mark: str = ""
    rating: str = ""
    card: AnyCard | None = None
    ohms: float | None = None
    poses: Poses | None = None
    active: str = ""  # of a button, the command's level while it is pressed: "high" or "low"
    on_board: bool = True
    count: int = 1  # of the same, in a row
    price: float = 0.0
    check: tuple[str, str] | None = None
    wiring: str = ""
    listed: bool = True  # whether it is bought and built in: a pin and a load on another board are not

    def at(self, **changes: Any) -> Placed:
        """The same with some of its description changed."""
        return replace(self, **changes)


# How a part is tried with a meter once it is in, and what it then reads.
CHECKS: dict[str, tuple[str, str]] = {
    "npn": (
        "Diode mode, red on the base: black on either other leg shows a junction, the emitter's a little "
        "higher. Reversed, OL.",
        "0.40 V to 0.75 V",
    ),
    "pnp": (
        "Diode mode, black on the base: red on either other leg shows a junction, the emitter's a little "
        "higher. Reversed, OL.",
        "0.40 V to 0.75 V",
    ),
    "n_mosfet": (
        "Diode mode, red on the source, black on the drain: the body diode conducts. Swapped, with gate and "
        "source joined first, OL.",
        "0.40 V to 0.75 V",
    ),
    "p_mosfet": (
        "Diode mode, red on the drain, black on the source: the body diode conducts. Swapped, with gate and "
        "source joined first, OL.",
        "0.40 V to 0.75 V",
    ),
    "diode": ("Diode mode, red on the unbanded end: a junction. Swapped: OL.", "0.50 V to 0.75 V"),
    "schottky": ("Diode mode, red on the unbanded end: a junction. Swapped: OL.", "0.15 V to 0.40 V"),
    "zener": ("Diode mode, red on the unbanded end: a junction. Swapped: OL.", "0.60 V to 0.85 V"),
    "led": ("Diode mode, red on the long leg: it glows faintly. Reversed, OL.", "1.6 V to 3.2 V"),
    "optocoupler": (
        "Diode mode, red on the LED's anode, black on its cathode: a junction. Swapped: OL.",
        "1.0 V to 1.3 V",
    ),
    "bridge": (
        "Diode mode, red on −, black on either ~: a junction. Then red on either ~, black on +: the same.",
        "0.40 V to 0.75 V",
    ),
}


@cache
def _wants(rule: Any) -> frozenset[str]:
    return frozenset(inspect.signature(rule).parameters)


def numbers_of(card: AnyCard) -> Numbers:
    """A card's parameters at a corner."""
    rule = RULES[card.kind][1]
    wants = _wants(rule)

    def numbers(corner: Corner) -> Mapping[str, Any]:
        known: dict[str, Any] = {"celsius": corner.celsius, "spread": corner.spread}
        found: Mapping[str, Any] = rule(card, **{k: v for k, v in known.items() if k in wants})
        return found

    return numbers


def from_card(
    site: Site, local: str, letter: str, card_field: str, legs: Mapping[str, str], **more: Any
) -> Placed:
    """A part whose numbers are a card's."""
    card = cast(AnyCard, site.card(card_field, Card))
    tried = CHECKS.get("schottky" if getattr(card, "schottky", False) else card.kind)
    described: dict[str, Any] = {
        "local": local,
        "letter": letter,
        "title": card.title,
        "kind": card.kind,
        "device": RULES[card.kind][0],
        "numbers": numbers_of(card),
        "legs": legs,
        "field": card_field,
        "value": card.brief,
        "card": card,
        "price": card.price,
        "check": tried,
    }
    return Placed(**(described | more))


def resistor(
    site: Site,
    local: str,
    title: str,
    value_field: str,
    a: str,
    b: str,
    ohms: float | None = None,
    letter: str = "R",
) -> Placed:
    """A resistor: the block's field, or `ohms` where it is always the same."""
    value = float(getattr(site.stage, value_field)) if ohms is None else ohms
    tolerance = site.tolerance
    return Placed(
        local=local,
        letter=letter,
        title=title,
        kind="resistor",
        device=Resistor,
        numbers=lambda c: {"resistance": value * (1 + c.resistors), "tolerance": tolerance},
        legs={"a": a, "b": b},
        field=value_field,
        value=f"{show_part(value)} Ω",
        mark=show_part(value),
        ohms=value,
        price=0.02,
    )


def capacitor(site: Site, local: str, title: str, value_field: str, a: str, b: str) -> Placed:
    """A capacitor given by its value."""
    value = float(getattr(site.stage, value_field))
    tolerance = ROLLED if value >= ELECTROLYTIC else STACKED
    return Placed(
        local=local,
        letter="C",
        title=title,
        kind="capacitor",
        device=Capacitor,
        numbers=lambda c: {"capacitance": value, "tolerance": tolerance},
        legs={"a": a, "b": b},
        field=value_field,
        value=show(value, "F"),
        mark=show_part(value),
        price=0.05,
    )


def potentiometer(
    site: Site, local: str, title: str, fields: tuple[str, str], legs: Mapping[str, str]
) -> Placed:
    """A trimmer or potentiometer: the fields of its track [Ω] and of its place, from `a` on [%]."""
    ohms, turn = (float(getattr(site.stage, name)) for name in fields)
    return Placed(
        local=local,
        letter="RP",
        title=title,
        kind="potentiometer",
        device=Potentiometer,
        numbers=lambda c: {
            "resistance": ohms,
            "turn": turn / 100,
            "tolerance": TRACK,
            "end_resistance": max(END_SHARE * ohms, 1e-3),
        },
        legs=legs,
        field=fields[0],
        value=f"{show_part(ohms)} Ω",
        mark=show_part(ohms),
        rating=f"±{TRACK:.0%}",
        price=0.3,
    )


def button(local: str, title: str, legs: Mapping[str, str], ohms: float = 0.1, **more: Any) -> Placed:
    """A contact that a finger works: `com` with `no`, `nc` or both."""
    described: dict[str, Any] = {
        "local": local,
        "letter": "S",
        "title": title,
        "kind": "button",
        "device": Button,
        "numbers": lambda c: {"on_resistance": ohms},
        "legs": legs,
        "price": 0.15,
    }
    return Placed(**(described | more))


def bouncing(ohms: float, bounce: float, travel: float = 1e-4) -> Numbers:
    """A contact's numbers: ohms closed, how long it bounces and travels between its sides [s]."""
    return lambda c: {"on_resistance": ohms, "bounce": Bounce(duration=bounce), "travel": travel}


def pin(local: str, title: str, legs: Mapping[str, str], poses: Poses) -> Placed:
    """A level that comes from outside; it begins in its state "idle"."""

    def numbers(corner: Corner) -> Mapping[str, Any]:
        volts, ohms = poses(corner)["idle"]
        return {"steps": [PinStep(time=0.0, level=volts, resistance=ohms)]}

    return Placed(
        local=local,
        letter="P",
        title=title,
        kind="pin",
        device=Pin,
        numbers=numbers,
        legs=legs,
        poses=poses,
        listed=False,
    )


def labelled(**numbers: float) -> dict[str, tuple[float, float]]:
    """The spread of a load's numbers that were read off its label."""
    return {name: (value * (1 - LABEL), value * (1 + LABEL)) for name, value in numbers.items()}


def two_wire(
    local: str, letter: str, title: str, device: type[Device], numbers: Numbers, **more: Any
) -> Placed:
    """A load on two leads of its own, off the board, between the block's nets "top" and "bottom"."""
    described: dict[str, Any] = {
        "local": local,
        "letter": letter,
        "title": title,
        "kind": "load",
        "device": device,
        "numbers": numbers,
        "legs": {"a": "top", "b": "bottom"},
        "on_board": False,
    }
    return Placed(**(described | more))


__all__ = [
    "CHECKS",
    "Corner",
    "Numbers",
    "Placed",
    "Pose",
    "Poses",
    "bouncing",
    "button",
    "capacitor",
    "from_card",
    "labelled",
    "numbers_of",
    "pin",
    "potentiometer",
    "resistor",
    "two_wire",
]
