"""Checks of a sub-circuit before the next is there: a resistor stands in for the signal, an LED for the load.

What they read is taken from the circuit of the parts that are on the board by then, never from a rule.
"""

from __future__ import annotations

from typing import NamedTuple

from ..cards import catalogue
from ..cards.card import LedCard
from ..cards.derive import led
from ..circuit.devices import Device, Diode, Resistor
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point
from ..design.circuit import device_of, supply_source
from ..design.document import SUPPLY
from ..design.study import Study
from ..errors import HexletError
from ..quantity import show
from ..stages.contract import Corner, Open, Site, Step, Switch
from ..stages.contract.stage import Behaving

LED = "led-red-20ma"
LIT, DARK = 1e-3, 1e-5  # currents at which an LED surely is so [A]
SERIES = (470.0, 1e3, 2.2e3, 4.7e3)  # in line with it [Ω]
LED_AMPS = 0.01  # what it is given [A]
SIGNAL = 10e3  # in place of the signal [Ω]
NEAR = 0.1  # what is told as nothing [V]
LIMIT = 0.1  # where the supply's current limit is set for this [A]


class _Seen(NamedTuple):
    volts: float  # at the output
    amps: float  # through the LED


def _series(volts: float) -> float:
    """The resistor that goes with an LED on a supply [Ω]."""
    return next((r for r in SERIES if (volts - 2.0) / r <= LED_AMPS), SERIES[-1])


def _seen(here: Study, site: Site, switch: Switch, out: str, command: str, level: str) -> _Seen:
    """What the drive's own parts make of a command, with stand-ins for what is not there yet."""
    flow, supply = here.flow, here.design.supply
    corner = Corner(supply=supply.typical)
    plus = flow.net(SUPPLY, "plus")
    devices: list[Device] = [supply_source(here.design, corner, plus, GROUND)]
    devices += [device_of(flow, site.id, p, corner) for p in flow.parts(site.id)]
    card = catalogue()[LED]
    assert isinstance(card, LedCard)
    top, bottom = (plus, "standin") if switch.side == "low" else (out, "standin")
    far = out if switch.side == "low" else GROUND
    ohms = _series(supply.typical)
    devices += [
        Diode.model_validate({"name": "LED", "a": top, "k": bottom, **led(card, corner.celsius)}),
        Resistor(name="STANDIN", a=bottom, b=far, resistance=ohms),
        Resistor(name="COMMAND", a=plus if level == "high" else GROUND, b=command, resistance=SIGNAL),
    ]
    point = operating_point(Netlist.of(devices))
    volts = {net: 0.0 if net == GROUND else point[net] for net in (bottom, far, out)}
    return _Seen(volts[out], abs(volts[bottom] - volts[far]) / ohms)


def _commanded(here: Study, site: Site) -> Switch | None:
    """The switch of a drive that a hand can command: by a level, from what is not on the board itself."""
    if here.design.supply.ac or not site.seen("command") or isinstance(here.flow.stage(site.id), Behaving):
        return None
    before = {b for b, _ in site.joined("command")}
    if any(p.listed for b in before for p in here.flow.parts(b)):
        return None
    try:
        switch = here.flow.leaving((site.id, "out"))
    except Open:
        return None
    if not isinstance(switch, Switch):
        return None
    legs = {here.flow.net(site.id, n) for p in here.flow.parts(site.id) for n in p.legs.values()}
    ends = {here.flow.net(site.id, switch.output), here.flow.net(site.id, "signal")}
    return switch if ends <= legs else None


def driven(here: Study, site: Site) -> Step | None:
    """A drive before its signal and its load: none where it has more of a circuit before it, or where the
    stand-ins would not tell on from off.
    """
    switch = _commanded(here, site)
    if switch is None:
        return None
    out, command = here.flow.net(site.id, switch.output), here.flow.net(site.id, "signal")
    rest = "low" if switch.on == "high" else "high"
    try:
        on, off = (_seen(here, site, switch, out, command, level) for level in (switch.on, rest))
    except HexletError:
        return None
    if on.amps < LIT or off.amps > DARK:
        return None
    ohms, name = show(_series(here.design.supply.typical), "Ω"), site.command.name
    ends = ("the + rail", here.called(out)) if switch.side == "low" else (here.called(out), "the 0 V rail")
    rails = {"high": "the + rail", "low": "the 0 V rail"}
    return Step(
        id=f"{site.id}.standin.check",
        action="check",
        title="An LED in place of the load",
        detail=(
            f"Supply on, its limit at {show(LIMIT, 'A')}. An LED with {ohms} in line, long leg towards +, "
            f"from {ends[0]} to {ends[1]}. {show(SIGNAL, 'Ω')} from {rails[switch.on]} to "
            f"{here.called(command)}, in place of the {name}: it lights. The same resistor to {rails[rest]}: "
            "dark. Then take them out, supply off."
        ),
        expect=f"lit: {switch.output} {_about(on.volts)}; dark: {_about(off.volts)}",
    )


def _about(volts: float) -> str:
    return "near 0 V" if abs(volts) < NEAR else show(round(volts, 1), "V")


def alone(here: Study, site: Site) -> Step | None:
    """A timer's stage before the drive that it commands: an LED at its output shows what it does."""
    stage = here.flow.stage(site.id)
    timer = next((p for p in here.flow.parts(site.id) if p.kind == "timer" and "out" in p.legs), None)
    if timer is None or not isinstance(stage, Behaving) or stage.role != "behaviour":
        return None
    out = here.flow.net(site.id, timer.legs["out"])
    follows = {here.flow.net(b, "signal") for b in here.behind(site.id) if here.flow.stage(b).role == "drive"}
    if out not in follows:
        return None
    detail, expect = stage.trial(site)
    ohms = show(_series(here.design.supply.typical), "Ω")
    return Step(
        id=f"{site.id}.alone.check",
        action="check",
        title=f"{stage.title} alone, an LED at its output"[:90],
        detail=(
            f"Supply on, its limit at {show(LIMIT, 'A')}. An LED with {ohms} in line, long leg at "
            f"{here.called(out)}, the other end to the 0 V rail. {detail.replace('load', 'LED')} Then take "
            "the LED out, supply off."
        ),
        expect=expect,
    )
