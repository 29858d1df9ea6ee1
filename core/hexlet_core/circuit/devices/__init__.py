"""The devices a netlist may hold, and the dispatch from a record's code to its equations.

A new device is one new file, listed here: in `DEVICES`, in `load`, and in the event functions if it
has events.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from . import base, bipolar, capacitor, diode, inductor, mosfet, pin, relay, resistor, source, switch
from .base import RECORD, Device, Floats, Ints
from .bipolar import Bipolar
from .capacitor import Capacitor
from .diode import Diode
from .inductor import Inductor
from .mosfet import Mosfet
from .pin import Pin, PinStep
from .relay import Relay
from .resistor import Resistor
from .source import CurrentSource, Sine, VoltageSource
from .switch import Bounce, Switch

DEVICES = (
    Resistor, Capacitor, Inductor, VoltageSource, CurrentSource, Switch, Pin, Diode, Bipolar, Mosfet, Relay,
)  # fmt: skip
AnyDevice = Annotated[
    Resistor | Capacitor | Inductor | VoltageSource | CurrentSource | Switch | Pin | Diode | Bipolar | Mosfet | Relay,
    Field(discriminator="device"),
]


def load(
    ia: Ints, p: int, fa: Floats, sa: Floats, lim: Floats, x: Floats, alpha: float, J: Floats, F: Floats, Q: Floats,
    t: float, scale: float,
) -> int:  # fmt: skip
    """Add one device to the balance; `scale` multiplies sources while an operating point is sought."""
    code = ia[p]
    if code == 1:
        return resistor.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 2:
        return capacitor.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 3:
        return inductor.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 4:
        return source.load_voltage(ia, p, fa, sa, lim, x, alpha, J, F, Q, t, scale)
    if code == 5:
        return source.load_current(ia, p, fa, sa, lim, x, alpha, J, F, Q, t, scale)
    if code == 6:
        return switch.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 7:
        return pin.load(ia, p, fa, sa, lim, x, alpha, J, F, Q, t, scale)
    if code == 8:
        return diode.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 9:
        return bipolar.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    if code == 10:
        return mosfet.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)
    return relay.load(ia, p, fa, sa, lim, x, alpha, J, F, Q)


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    """When one device next changes by itself [s]."""
    code = ia[p]
    if code == 4 or code == 5:
        return source.next_time(ia, p, fa, sa, t)
    if code == 6:
        return switch.next_time(ia, p, fa, sa, t)
    if code == 7:
        return pin.next_time(ia, p, fa, sa, t)
    if code == 11:
        return relay.next_time(ia, p, fa, sa, t)
    return math.inf


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    """Positive once one device's threshold is crossed."""
    if ia[p] == 11:
        return relay.watch(ia, p, fa, sa, x)
    return -1.0


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    """Let one device change state."""
    code = ia[p]
    if code == 4 or code == 5:
        source.fire(ia, p, fa, sa, t)
    elif code == 6:
        switch.fire(ia, p, fa, sa, t)
    elif code == 7:
        pin.fire(ia, p, fa, sa, t)
    elif code == 11:
        relay.fire(ia, p, fa, sa, t)


# Every plain function the engine compiles, helpers first.
PLAIN = (
    *base.HELPERS, source.value_at,
    resistor.load, capacitor.load, inductor.load, source.load_voltage, source.load_current, switch.load, pin.load,
    diode.load, bipolar.load, mosfet.load, relay.load,
    source.next_time, switch.next_time, pin.next_time, relay.next_time, relay.watch,
    source.fire, switch.fire, pin.fire, relay.fire,
    load, next_time, watch, fire,
)  # fmt: skip

__all__ = [
    "DEVICES", "PLAIN", "RECORD", "AnyDevice", "Bipolar", "Bounce", "Capacitor", "CurrentSource", "Device", "Diode",
    "Floats", "Inductor", "Ints", "Mosfet", "Pin", "PinStep", "Relay", "Resistor", "Sine", "Switch", "VoltageSource",
]  # fmt: skip
