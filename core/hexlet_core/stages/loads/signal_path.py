"""Signal path: a relay whose contacts switch an audio or sensor line.

Two poles moved together give a table of paths, relaxed and energised; whichever path rests is the one that
survives a dead supply. A reference resistor after the contact keeps the following stage from floating while
the contact travels: no pop.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from ...cards.card import RelayCard
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Path, Step
from ..contract.parts import Placed
from ..contract.site import Site
from ..drawing.pen import HEIGHT, Link, Pen
from ..say.checks import Check, check, holds, when
from ..say.wording import Say, Sentence, Word
from .relay import RelayLoad

POLES = {"SPST-NO": 1, "SPST-NC": 1, "SPDT": 1, "DPDT": 2}
RESTS = (("A", "path A rests"), ("B", "path B rests"))
SPARES = (("none", "nothing"), ("indicator", "an indicator LED"))
TRAVEL = 1e-3  # how long a moving contact touches neither side [s], assumed
POP = 0.05  # share of the signal that the next input may drift meanwhile


class SignalPath(RelayLoad):
    title = "Signal path"
    purpose = "A relay's two contacts choose between two signal paths."
    choose = "An audio, antenna or sensor line that no transistor may touch."
    avoid = "The contacts carry power: then it is a relay coil with a load."

    kind: Literal["signal_path"] = "signal_path"
    card: str = "relay-12v-720r-signal"
    resistance: Annotated[float, Q("Ω", 1.0, 1e6)] = 720.0
    time_constant: Annotated[float, Q("s", 1e-5, 1.0)] = 2e-3
    contact_load: Literal["resistive", "motor", "lamp", "signal"] = "signal"
    contact_volts: Annotated[float, Q("V", 0.1, 500.0)] = 1.0
    contact_current: Annotated[float, Q("A", 1e-6, 100.0)] = 1e-4
    contact_name: str = "Line"
    rests: Literal["A", "B"] = "A"
    spare: Literal["none", "indicator"] = "none"
    lines: Literal[1, 2] = 2
    r_reference: Annotated[float, Q("Ω", 100.0, 1e8)] | None = 100e3
    input_resistance: Annotated[float, Q("Ω", 100.0, 1e9)] = 47e3
    bias: Annotated[float, Q("A", 0.0, 1e-3)] = 2e-7  # that charges the next stage's input while it floats

    @property
    def summary(self) -> str:
        return f"{self.lines} signal line{'s' if self.lines > 1 else ''}"

    @property
    def apart(self) -> bool:
        return True

    def make(self, site: Site) -> Iterable[Placed]:
        yield self.placed(site, {})

    def paths(self, site: Site) -> tuple[Path, ...]:
        """Which path each pole makes, relaxed and energised."""
        other, lit = "B" if self.rests == "A" else "A", self.spare == "indicator"
        found = []
        for k in range(1, POLES[site.card("card", RelayCard).form] + 1):
            if k <= self.lines:
                relaxed, energised = f"COM–NC: {self.rests}{k}", f"COM–NO: {other}{k}"
                found.append(Path(pole=f"line {k}", relaxed=relaxed, energised=energised))
            else:
                relaxed, energised = ("indicator dark", "indicator lit") if lit else ("free", "free")
                found.append(Path(pole="spare pole", relaxed=relaxed, energised=energised))
        return tuple(found)

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        fitted = self.r_reference is not None
        reference = say.field("r_reference", note="after the contact") if fitted else Word(text="none")
        return {
            "load": (
                Word(text="A coil of"),
                say.field("resistance"),
                Word(text="marked"),
                say.field("rated", note="on its case"),
                Word(text="switches lines of"),
                say.field("contact_volts", note="at most"),
                Word(text="and"),
                say.field("contact_current", note="through the contact"),
                Word(text=";"),
                say.field("rests", note="supply dead", choices=RESTS),
                Word(text="reference"),
                reference,
                Word(text="spare pole drives"),
                say.field("spare", note="spare pole", choices=SPARES),
                *fed,
            ),
            "guard": (
                Word(text="and the coil's time constant is"),
                say.field("time_constant", origin="assumed"),
            ),
        }

    def checks(self, site: Site) -> Iterator[Check]:
        yield from super().checks(site)
        poles, wants = POLES[site.card("card", RelayCard).form], self.lines + (self.spare != "none")
        yield holds(
            "poles",
            "Poles for all of it",
            "need",
            "contact",
            wants <= poles,
            at=when("this relay"),
            says=f"{wants} wanted, {poles} there.",
            formula="lines + spare ≤ poles",
            numbers=f"{wants} ≤ {poles}",
            because="Each line and each indicator takes a pole of its own.",
            cure="Take a relay with more poles, or two relays.",
        )
        held = self.r_reference if self.r_reference is not None else 1e9
        pop, limit = self.bias * held, POP * self.contact_volts
        yield check(
            "pop",
            "No pop while it travels",
            "need",
            "level",
            unit="V",
            nominal=pop,
            most=limit,
            at=when(f"contact between its sides for {show(TRAVEL, 's')}"),
            says=f"The next input drifts {show(pop, 'V')}; a twentieth of the signal is {show(limit, 'V')}.",
            formula="V = I_{bias} · R_{ref}",
            numbers=f"= {show(self.bias, 'A')} · {show(held, 'Ω')}",
            because=(
                "Between its two sides the contact leaves the next input hanging; a resistor to 0 V tells it "
                "where to wait."
            ),
            cure="Fit a reference resistor after the contact, or lower it.",
        )
        share = self.input_resistance / held
        yield check(
            "reference_load",
            "Reference does not load the line",
            "practice",
            "level",
            unit="",
            nominal=share,
            most=1.0,
            at=when("reference against the next input"),
            says=f"{show(held, 'Ω')} beside an input of {show(self.input_resistance, 'Ω')}.",
            formula="R_{in} / R_{ref} ≤ 1",
            numbers=f"= {share:.3g}",
            because="A reference lower than the input itself halves a high-impedance signal.",
            cure="Raise the reference resistor.",
        )

    def cautions(self, site: Site) -> tuple[str, ...]:
        return (
            *super().cautions(site),
            "Inside equipment with mains or high voltages a signal relay does not make it safe to work "
            "there: leave that to licensed practice.",
        )

    def steps(self, site: Site) -> tuple[Step, ...]:
        return tuple(
            Step(
                id=f"line_{k}",
                action="link",
                title=f"{p.pole.capitalize()}: {p.relaxed}, {p.energised}",
                detail=(
                    "Screened lead, screen at one end. The reference resistor sits right at COM."
                    if "line" in p.pole
                    else "The spare pole is not joined to the lines."
                ),
            )
            for k, p in enumerate(self.paths(site), 1)
        )

    def draw(self, pen: Pen, site: Site) -> None:
        x, low_side = pen.x, site.side == "low"
        pen.hang(site, "relay", "coil", x + 1.5, where="above")
        far = x + 9.0
        coil_y, contact_y = (4.5, 4.5) if low_side else (HEIGHT - 4.5, 12.0)
        label = f"{self.contact_name}: own circuit"
        pen.place(site.ref("relay"), "contact", far, contact_y, label=label, pins=())
        bend = () if low_side else ((x + 5.0, coil_y), (x + 5.0, contact_y))
        pen.links.append(Link(points=((x + 3.8, coil_y), *bend, (far - 0.7, contact_y))))
        pen.x = far + 6.0
