"""Build steps of a design in order: place, link, check, each check possible with what is there by then."""

from __future__ import annotations

from ..cards import Drawer
from ..circuit.devices import CurrentSource, Resistor
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point
from ..design.circuit import views
from ..design.document import Design
from ..quantity import show
from ..stages.contract import Corner, Schedule, Stage, Step, View, strip

ORDER = ("signal", "drive", "guard", "load")  # the freewheel part goes in before the coil
METER_WAYS: dict[str, str] = {
    "npn": (
        "Diode mode. The base is the leg that conducts to both others with red on it; of those two the "
        "emitter reads slightly higher. Parts with built-in resistors defeat this test."
    ),
    "n_mosfet": (
        "Diode mode. Red on the source and black on the drain shows the body diode. Then touch the gate "
        "with red while black is on the source: drain to source now conducts, until gate and source are "
        "joined."
    ),
    "pnp": (
        "Diode mode. The base is the leg that conducts to both others with black on it; of those two the "
        "emitter reads slightly higher."
    ),
    "p_mosfet": (
        "Diode mode. Red on the drain and black on the source shows the body diode. Then touch the gate "
        "with black while red is on the source: source to drain now conducts, until gate and source are "
        "joined."
    ),
    "led": "Diode mode. Red on the long leg: it glows faintly.",
    "optocoupler": (
        "Diode mode. The LED pair reads about 1.1 V one way and OL the other; the transistor pair reads OL "
        "both ways in the dark."
    ),
    "bridge": "Diode mode. Red on −, black on either ~: a junction; the + leg the other way about.",
    "fuse": "Ohms: near 0.",
    "button": "Ohms. The pair that changes when pressed is the contact.",
    "capacitor": "Capacitance mode, or ohms: it climbs and ends at OL. An electrolytic's stripe is minus.",
    "diode": "Diode mode. It conducts with black on the banded end, and not the other way round.",
    "zener": (
        "Diode mode. It conducts with black on the banded end; in the circuit it works the other way "
        "round, band to the positive side."
    ),
    "relay": (
        "Ohms. The coil is the pair that reads tens to hundreds of ohms. COM and NC read 0 at rest; NO "
        "joins COM when the coil clicks."
    ),
    "resistor": "Ohms, before it goes in. Either way round.",
    "load": "Ohms, power off.",
}


def _through(drive: Stage, view: View, node: str) -> Step | None:
    """A check in ohms from the signal's strip to 0 V, by what resistors are there; None where nothing leads
    there.
    """
    resistors = [d for d in drive.devices(view, Corner(supply=0.0), Schedule()) if isinstance(d, Resistor)]
    probe = CurrentSource(name="OHMS", a=GROUND, b=node, value=1e-6)
    tie = [
        Resistor(name=f"LEAK{k}", a=n, b=GROUND, resistance=1e9)
        for k, n in enumerate({n for d in resistors for n in d.nodes().values()} - {GROUND})
    ]
    if not any(node in d.nodes().values() for d in resistors):
        return None
    ohms = operating_point(Netlist.of([*resistors, *tie, probe]))[node] / 1e-6
    reads = "OL" if ohms > 2e7 else f"{show(ohms * 0.98, 'Ω')} to {show(ohms * 1.02, 'Ω')}"
    return Step(
        id="pull_check",
        action="check",
        title=f"{strip(node)[4:].capitalize()} to 0 V",
        detail=f"Ohms from {strip(node)} to the 0 V rail, before any transistor is in: the resistors alone.",
        expect=reads,
    )


def _common(design: Design, out: str, on: str, side: str, noun: str) -> list[Step]:
    """Power comes on, and the load runs for the first time."""
    supply, amps = design.supply, max(0.5, 2 * design.supply.high / 100)
    off = f"{show(supply.low, 'V')} to {show(supply.high, 'V')}" if side == "low" else "under 0.5 V"
    rest = "low" if on == "high" else "high"
    return [
        Step(
            id="current_limit",
            action="link",
            title="Supply on, its current limit low",
            detail=(
                f"Limit at twice the load's current or a {show(amps, 'A', 1)} fuse; + to the + rail, − to "
                f"the 0 V rail. The signal's strip is held {rest} by a jumper for now."
            ),
        ),
        Step(
            id="power_low",
            action="check",
            title=f"Powered, signal {rest}: {out} to 0 V",
            detail=(
                f"Black on the 0 V rail, red on the {out}'s strip. "
                f"{'Near the supply' if side == 'low' else 'Near 0 V'}: the switch is off."
            ),
            expect=off,
        ),
        Step(
            id="jumper_high",
            action="check",
            title=f"Jumper to {on}",
            detail=(
                f"Move the jumper so that the signal is {on}. The load must come on, and go off with the "
                "jumper back."
            ),
            expect="on, then off",
        ),
        Step(
            id="pin",
            action="link",
            title=f"The {noun} in place of the jumper",
            detail=f"The {noun}'s output to the signal's strip, its 0 V to the 0 V rail.",
        ),
    ]


def steps(design: Design, drawer: Drawer | None = None) -> tuple[Step, ...]:
    """All steps; empty where the design lies above 30 V AC or 60 V DC, which rules a build plan out."""
    drawer = drawer or Drawer()
    if design.supply.walled:
        return ()
    pairs = list(zip(design.stages, views(design, drawer), strict=True))
    view = pairs[0][1]
    drive, driven = next(p for p in pairs if p[0].role == "drive")
    out = view.switch.output if view.switch else "output"
    found = [
        Step(
            id="rails",
            action="link",
            title="Bridge the rails",
            detail="Top 0 V rail to the bottom one, top + rail to the bottom one. Nothing is powered yet.",
        ),
        Step(
            id="rails_apart",
            action="check",
            title="Rails apart",
            detail="Ohms between + and 0 V: nothing may join them.",
            expect="OL",
        ),
    ]
    for role in ORDER:
        for stage, own in pairs:
            if stage.role == role:
                found += stage.steps(own)
        if role == "signal" and (check := _through(drive, driven, view.nodes["out"])) is not None:
            # The drive's resistors first, so that they can be measured before a transistor lies across them.
            resistors = {p.ref for p in drive.parts(driven) if p.kind == "resistor"}
            found += [s for s in drive.steps(driven) if s.part in resistors]
            found.append(check)
    seen: dict[str, Step] = {}
    for step in found:
        seen.setdefault(step.id, step)
    if design.supply.ac:
        return (
            *seen.values(),
            Step(
                id="ac_power",
                action="link",
                title="Transformer on, through a fuse",
                detail=(
                    "A transformer with its own isolated winding, never the line itself. The pin is held "
                    "low by a jumper to its own 0 V."
                ),
            ),
            Step(
                id="ac_check",
                action="check",
                title="Gate's supply to bridge −",
                detail="Meter on DC volts: black on the bridge's minus, red on the gate supply's strip.",
                expect="the zener's volts",
            ),
            Step(
                id="pin",
                action="link",
                title="The pin in place of the jumper",
                detail=(
                    "The controller's pin and its own 0 V to the optocoupler's LED side. Nothing else "
                    "joins the two sides."
                ),
            ),
        )
    return (
        *seen.values(),
        *_common(design, out, view.on, view.side, view.offer.name if view.offer else "pin"),
    )
