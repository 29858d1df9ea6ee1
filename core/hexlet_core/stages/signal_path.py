"""Signal path: a relay whose contacts switch an audio or sensor line.

Two poles moved together give a table of paths, relaxed and energised; whichever path rests is the one that
survives a dead
supply. A reference resistor after the contact keeps the following stage from floating while the contact
travels: no pop.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ..fields import Q
from ..quantity import show
from .contract import Path, Step, View
from .findings import Remedy, Verdict, Working, judge
from .relay_coil import RelayCoil
from .wording import Say, Sentence, Word

POLES = {"SPST-NO": 1, "SPST-NC": 1, "SPDT": 1, "DPDT": 2}
RESTS = (("A", "path A rests"), ("B", "path B rests"))
SPARES = (("none", "nothing"), ("indicator", "an indicator LED"))
TRAVEL = 1e-3  # how long a moving contact touches neither side [s], assumed


class SignalPath(RelayCoil):
    title = "Signal path"
    purpose = "A relay's two contacts choose between two signal paths."
    choose = "An audio, antenna or sensor line that no transistor may touch."
    avoid = "The contacts carry power: then it is a relay coil with a load."

    kind: Literal["signal_path"] = "signal_path"  # type: ignore[assignment]
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
    def _apart(self) -> bool:
        return True

    def paths(self, view: View) -> tuple[Path, ...]:
        """Which path each pole makes, relaxed and energised."""
        found = []
        for k in range(POLES[self._card(view).form]):
            if k < self.lines:
                other = "B" if self.rests == "A" else "A"
                found.append(
                    Path(
                        pole=f"line {k + 1}",
                        relaxed=f"COM–NC: {self.rests}{k + 1}",
                        energised=f"COM–NO: {other}{k + 1}",
                    )
                )
            else:
                found.append(
                    Path(
                        pole="spare pole",
                        relaxed="indicator dark" if self.spare == "indicator" else "free",
                        energised="indicator lit" if self.spare == "indicator" else "free",
                    )
                )
        return tuple(found)

    def givens(self, say: Say, view: View, fed: Sentence) -> dict[str, Sentence]:
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
                say.field("r_reference", note="after the contact")
                if self.r_reference is not None
                else Word(text="none"),
                Word(text="spare pole drives"),
                say.field("spare", note="spare pole", choices=SPARES),
                *fed,
            ),
            "guard": (
                Word(text="and the coil's time constant is"),
                say.field("time_constant", origin="assumed"),
            ),
        }

    def verdicts(self, view: View) -> tuple[Verdict, ...]:
        poles, wants = POLES[self._card(view).form], self.lines + (self.spare != "none")
        held = self.r_reference if self.r_reference is not None else 1e9
        pop = self.bias * held
        limit = 0.05 * self.contact_volts
        load = self.input_resistance / held
        return (
            *super().verdicts(view),
            judge(
                "poles",
                "load",
                "Poles for all of it",
                nominal=wants,
                worst=wants,
                limit=poles,
                unit="",
                sense="at most",
                corner="this relay",
                sentence=f"{wants} wanted, {poles} there.",
                working=Working(
                    formula="lines + spare ≤ poles",
                    substituted=f"{wants} ≤ {poles}",
                    reason="Each line and each indicator takes a pole of its own.",
                ),
                remedy=Remedy(text="Take a relay with more poles, or two relays."),
            ),
            judge(
                "pop",
                "load",
                "No pop while it travels",
                nominal=pop,
                worst=pop,
                limit=limit,
                unit="V",
                sense="at most",
                corner=f"contact between its sides for {show(TRAVEL, 's')}",
                sentence=(
                    f"The next input drifts {show(pop, 'V')}; a twentieth of the signal is "
                    f"{show(limit, 'V')}."
                ),
                working=Working(
                    formula="V = I_{bias} · R_{ref}",
                    substituted=f"= {show(self.bias, 'A')} · {show(held, 'Ω')}",
                    reason=(
                        "Between its two sides the contact leaves the next input hanging; a resistor to 0 "
                        "V tells it where to wait."
                    ),
                ),
                remedy=Remedy(text="Fit a reference resistor after the contact, or lower it."),
            ),
            judge(
                "reference_load",
                "load",
                "Reference does not load the line",
                nominal=load,
                worst=load,
                limit=1.0,
                unit="",
                sense="at most",
                corner="reference against the next input",
                sentence=f"{show(held, 'Ω')} beside an input of {show(self.input_resistance, 'Ω')}.",
                working=Working(
                    formula="R_{in} / R_{ref} ≤ 1",
                    substituted=f"= {load:.3g}",
                    reason="A reference lower than the input itself halves a high-impedance signal.",
                ),
                remedy=Remedy(text="Raise the reference resistor."),
            ),
        )

    def cautions(self, view: View) -> tuple[str, ...]:
        return (
            *super().cautions(view),
            (
                "Inside equipment with mains or high voltages a signal relay does not make it safe to work "
                "there: leave that to licensed practice."
            ),
        )

    def steps(self, view: View) -> tuple[Step, ...]:
        lines = tuple(
            Step(
                id=f"line_{k}",
                action="link",
                title=f"{p.pole.capitalize()}: {p.relaxed}, {p.energised}",
                detail="Screened lead, screen at one end. The reference resistor sits right at COM."
                if "line" in p.pole
                else "The spare pole is not joined to the lines.",
            )
            for k, p in enumerate(self.paths(view), 1)
        )
        return (*super().steps(view), *lines)
