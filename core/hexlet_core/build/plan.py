"""Build steps of a design in order: place, link, check, each check possible with what is there by then."""

from __future__ import annotations

from ..cards import Drawer
from ..design.circuit import views
from ..design.document import Design
from ..quantity import show
from ..stages.contract import Step

ORDER = ("signal", "drive", "guard", "load")  # the freewheel part goes in before the coil
METER_WAYS: dict[str, str] = {
    "npn": "Diode mode. The base is the leg that conducts to both others with red on it; of those two the emitter reads slightly higher. Parts with built-in resistors defeat this test.",
    "n_mosfet": "Diode mode. Red on the source and black on the drain shows the body diode. Then touch the gate with red while black is on the source: drain to source now conducts, until gate and source are joined.",
    "diode": "Diode mode. It conducts with black on the banded end, and not the other way round.",
    "zener": "Diode mode. It conducts with black on the banded end; in the circuit it works the other way round, band to the positive side.",
    "relay": "Ohms. The coil is the pair that reads tens to hundreds of ohms. COM and NC read 0 at rest; NO joins COM when the coil clicks.",
    "resistor": "Ohms, before it goes in. Either way round.",
    "load": "Ohms, power off.",
}  # fmt: skip


def steps(design: Design, drawer: Drawer | None = None) -> tuple[Step, ...]:
    """All steps; empty where a supply above 60 V rules a build plan out."""
    drawer = drawer or Drawer()
    if design.supply.high > 60:
        return ()
    pairs = list(zip(design.stages, views(design, drawer), strict=True))
    found = [step for role in ORDER for stage, view in pairs if stage.role == role for step in stage.steps(view)]
    supply = design.supply
    signal = design.place("signal")
    ref = pairs[signal or 0][1].refs.get("pin", "P1")
    out = next((v.switch.output for _, v in pairs if v.switch), "output")
    found += [
        Step(id="current_limit", action="link", title="Supply on, its current limit low", detail=f"Limit at twice the load's current or a {show(max(0.5, 2 * supply.high / 100), 'A', 1)} fuse; + to the + rail, − to the 0 V rail. The pin's strip is linked to 0 V by a jumper for now."),
        Step(id="power_low", action="check", title=f"Powered, pin low: {out} to 0 V", detail=f"Black on the 0 V rail, red on the {out}'s strip. Near the supply: the switch is off.", expect=f"{show(supply.low, 'V')} to {show(supply.high, 'V')}"),
        Step(id="jumper_high", action="check", title="Jumper to the pin's level", detail=f"Move the jumper from 0 V to the controller's {show(getattr(design.stages[signal or 0], 'level', 3.3), 'V')}. The load must come on, and go off with the jumper back.", expect="on, then off"),
        Step(id="pin", action="link", title=f"{ref} in place of the jumper", detail="The controller's pin to the pin's strip, its ground to the 0 V rail."),
    ]  # fmt: skip
    return tuple(found)
