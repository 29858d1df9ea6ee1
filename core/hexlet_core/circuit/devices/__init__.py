"""The devices a netlist may hold, and the dispatch from a record's code to its equations.

A new device is one new file, listed here: in `DEVICES`, in `load`, and in the event functions if it has
events. One that is a small circuit of others needs only its place in `DEVICES`.
"""

from __future__ import annotations

import math
from typing import Annotated, Union

from pydantic import Field

from . import (
    base,
    bipolar,
    button,
    capacitor,
    comparator,
    counter,
    diode,
    inductor,
    lamp,
    module,
    mosfet,
    motor,
    pin,
    potentiometer,
    relay,
    resistor,
    source,
    switch,
    timer,
    transfer,
)
from .base import HEAD, RECORD, Device, Floats, Ints
from .bipolar import Bipolar
from .button import Button, Press
from .capacitor import Capacitor
from .comparator import Comparator
from .composite import Battery, Bridge, Buzzer, Meter, Optocoupler, Thyristor
from .counter import Counter
from .diode import Diode
from .inductor import Inductor
from .lamp import Lamp
from .module import Module
from .mosfet import Mosfet
from .motor import Motor
from .pin import Pin, PinStep
from .potentiometer import Potentiometer
from .relay import Pole, Relay
from .resistor import Resistor
from .source import CurrentSource, Sine, VoltageSource
from .switch import Bounce, ContactSwitch
from .timer import Timer
from .transfer import Transfer

DEVICES = (
    Resistor,
    Capacitor,
    Inductor,
    VoltageSource,
    CurrentSource,
    ContactSwitch,
    Pin,
    Diode,
    Bipolar,
    Mosfet,
    Relay,
    Button,
    Potentiometer,
    Transfer,
    Lamp,
    Motor,
    Module,
    Timer,
    Counter,
    Comparator,
    Battery,
    Meter,
    Buzzer,
    Thyristor,
    Optocoupler,
    Bridge,
)
AnyDevice = Annotated[
    Union[  # noqa: UP007
        Resistor,
        Capacitor,
        Inductor,
        VoltageSource,
        CurrentSource,
        ContactSwitch,
        Pin,
        Diode,
        Bipolar,
        Mosfet,
        Relay,
        Button,
        Potentiometer,
        Transfer,
        Lamp,
        Motor,
        Module,
        Timer,
        Counter,
        Comparator,
        Battery,
        Meter,
        Buzzer,
        Thyristor,
        Optocoupler,
        Bridge,
    ],
    Field(discriminator="device"),
]


def load(
    ia: Ints,
    p: int,
    fa: Floats,
    sa: Floats,
    lim: Floats,
    x: Floats,
    J: Floats,
    C: Floats,
    F: Floats,
    Q: Floats,
    t: float,
    scale: float,
) -> int:
    """Add one device to the balance; `scale` multiplies sources while an operating point is sought."""
    code = ia[p]
    if code == 1:
        return resistor.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 2:
        return capacitor.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 3:
        return inductor.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 4:
        return source.load_voltage(ia, p, fa, sa, lim, x, J, C, F, Q, t, scale)
    if code == 5:
        return source.load_current(ia, p, fa, sa, lim, x, J, C, F, Q, t, scale)
    if code == 6:
        return switch.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 7:
        return pin.load(ia, p, fa, sa, lim, x, J, C, F, Q, t, scale)
    if code == 8:
        return diode.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 9:
        return bipolar.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 10:
        return mosfet.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 11:
        return relay.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 12:
        return button.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 13:
        return potentiometer.load(ia, p, fa, sa, lim, x, J, C, F, Q, t)
    if code == 14:
        return transfer.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 15:
        return lamp.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 16:
        return motor.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 17:
        return module.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 18:
        return timer.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    if code == 19:
        return counter.load(ia, p, fa, sa, lim, x, J, C, F, Q)
    return comparator.load(ia, p, fa, sa, lim, x, J, C, F, Q)


def next_time(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> float:
    """When one device next changes by itself [s]."""
    code = ia[p]
    if code == 4 or code == 5:
        return source.next_time(ia, p, ia[p + 1] + 1, fa, sa)
    if code == 6:
        return switch.next_time(ia, p, fa, sa, t)
    if code == 7:
        return pin.next_time(ia, p, fa, sa, t)
    if code == 11:
        return relay.next_time(ia, p, fa, sa, t)
    if code == 12:
        return button.next_time(ia, p, fa, sa, t)
    if code == 13:
        return source.next_time(ia, p, ia[p + 1] + 2, fa, sa)
    if code == 18:
        return timer.next_time(ia, p, fa, sa, t)
    return math.inf


def moves(ia: Ints, p: int, fa: Floats, sa: Floats) -> bool:
    """Whether one device's equations change with time just now: a source, pin or potentiometer on its way."""
    code = ia[p]
    if code == 4 or code == 5:
        return source.moves(fa, ia[p + 1] + 1, sa, ia[p + 2])
    if code == 7:
        return pin.moves(ia, p, fa, sa)
    if code == 13:
        return source.moves(fa, ia[p + 1] + 2, sa, ia[p + 2])
    return False


def watch(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats) -> float:
    """Positive once one device's threshold is crossed."""
    code = ia[p]
    if code == 11:
        return relay.watch(ia, p, fa, sa, x)
    if code == 17:
        return module.watch(ia, p, fa, sa, x)
    if code == 18:
        return timer.watch(ia, p, fa, sa, x)
    if code == 19:
        return counter.watch(ia, p, fa, sa, x)
    return -math.inf


def fire(ia: Ints, p: int, fa: Floats, sa: Floats, x: Floats, t: float) -> None:
    """Let one device change state."""
    code = ia[p]
    if code == 4 or code == 5:
        source.fire(ia, p, ia[p + 1] + 1, fa, sa)
    elif code == 6:
        switch.fire(ia, p, fa, sa, x, t)
    elif code == 7:
        pin.fire(ia, p, fa, sa, x, t)
    elif code == 11:
        relay.fire(ia, p, fa, sa, x, t)
    elif code == 12:
        button.fire(ia, p, fa, sa, x, t)
    elif code == 13:
        source.fire(ia, p, ia[p + 1] + 2, fa, sa)
    elif code == 17:
        module.fire(ia, p, fa, sa, x, t)
    elif code == 18:
        timer.fire(ia, p, fa, sa, x, t)
    elif code == 19:
        counter.fire(ia, p, fa, sa, x, t)


def finish(ia: Ints, p: int, fa: Floats, sa: Floats, t: float) -> None:
    """Complete a change under way at once: an operating point has no time for travel."""
    code = ia[p]
    if code == 11:
        relay.finish(ia, p, fa, sa, t)
    elif code == 18:
        timer.finish(ia, p, fa, sa, t)
    elif code == 19:
        counter.finish(ia, p, fa, sa, t)


# Every plain function the engine compiles, helpers first.
PLAIN = (
    *base.HELPERS,
    source.value_at,
    resistor.load,
    capacitor.load,
    inductor.load,
    source.load_voltage,
    source.load_current,
    switch.load,
    pin.load,
    diode.load,
    bipolar.load,
    mosfet.load,
    relay.load,
    button.load,
    potentiometer.load,
    transfer.load,
    lamp.load,
    motor.load,
    module.load,
    timer.load,
    counter.load,
    comparator.load,
    source.next_time,
    switch.next_time,
    pin.next_time,
    relay.next_time,
    button.next_time,
    timer.next_time,
    source.moves,
    pin.moves,
    moves,
    timer.power,
    timer.wake,
    timer.wants_change,
    counter.power,
    relay.watch,
    module.watch,
    timer.watch,
    counter.watch,
    source.fire,
    switch.fire,
    pin.fire,
    relay.fire,
    button.fire,
    module.fire,
    timer.fire,
    counter.fire,
    relay.finish,
    timer.finish,
    counter.finish,
    load,
    next_time,
    watch,
    fire,
    finish,
)

__all__ = [
    "DEVICES",
    "HEAD",
    "PLAIN",
    "RECORD",
    "AnyDevice",
    "Battery",
    "Bipolar",
    "Bounce",
    "Bridge",
    "Button",
    "Buzzer",
    "Capacitor",
    "Comparator",
    "ContactSwitch",
    "Counter",
    "CurrentSource",
    "Device",
    "Diode",
    "Floats",
    "Inductor",
    "Ints",
    "Lamp",
    "Meter",
    "Module",
    "Mosfet",
    "Motor",
    "Optocoupler",
    "Pin",
    "PinStep",
    "Pole",
    "Potentiometer",
    "Press",
    "Relay",
    "Resistor",
    "Sine",
    "Thyristor",
    "Timer",
    "Transfer",
    "VoltageSource",
]
