"""Devices that are small circuits of others: battery, meter, buzzer, thyristor, optocoupler, bridge.

Each states its equivalent circuit in `parts`; nodes inside are named after the device.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Node
from .bipolar import Bipolar
from .capacitor import Capacitor
from .diode import Diode
from .module import Module
from .resistor import Resistor
from .source import VoltageSource
from .transfer import Transfer


class Battery(Device):
    """A battery with plus `a` and minus `b`: source, series resistance, and a slow sag R_sag ∥ C.

    The sag settles with the time constant `sag_time`; `limit` is that of its protection [A]. Valid over
    minutes: the charge left does not change.
    """

    code = 0
    terminals = ("a", "b")
    conducts = (("a", "b"),)
    fixes = (("a", "b"),)

    device: Literal["battery"] = "battery"
    a: Node
    b: Node = "0"
    volts: Annotated[float, Q("V", 0.1, 500.0)]
    resistance: Annotated[float, Q("Ω", 1e-4, 1e4)] = 0.05
    sag_resistance: Annotated[float, Q("Ω", 0.0, 1e4)] = 0.0
    sag_time: Annotated[float, Q("s", 1e-4, 1e4)] = 1.0
    limit: Annotated[float, Q("A", 1e-6, 1e6)] | None = None

    def stiff(self) -> bool:
        return False

    def parts(self) -> Sequence[Device]:
        inner = f"{self.name}:cell" if self.sag_resistance > 0 else self.a
        found: list[Device] = [
            VoltageSource(
                name=f"{self.name}.v",
                a=inner,
                b=self.b,
                value=self.volts,
                resistance=self.resistance,
                limit=self.limit,
            )
        ]
        if self.sag_resistance > 0:
            found += [
                Resistor(name=f"{self.name}.r", a=inner, b=self.a, resistance=self.sag_resistance),
                Capacitor(
                    name=f"{self.name}.c", a=inner, b=self.a, capacitance=self.sag_time / self.sag_resistance
                ),
            ]
        return found


class Meter(Device):
    """A voltmeter's input: a resistance and a small capacitance, so that measuring loads the circuit."""

    code = 0
    terminals = ("red", "black")
    conducts = (("red", "black"),)

    device: Literal["meter"] = "meter"
    red: Node
    black: Node = "0"
    resistance: Annotated[float, Q("Ω", 1e3, 1e12)] = 1e7
    capacitance: Annotated[float, Q("F", 1e-14, 1e-6)] = 1e-11

    def parts(self) -> Sequence[Device]:
        return (
            Resistor(name=f"{self.name}.r", a=self.red, b=self.black, resistance=self.resistance),
            Capacitor(name=f"{self.name}.c", a=self.red, b=self.black, capacitance=self.capacitance),
        )


class Buzzer(Device):
    """A buzzer with its own oscillator: a resistance, and a state that says whether it sounds. Valid for its
    mean current.
    """

    code = 0
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["buzzer"] = "buzzer"
    a: Node
    b: Node
    volts: Annotated[float, Q("V", 1.0, 100.0)] = 12.0
    current: Annotated[float, Q("A", 1e-4, 1.0)] = 0.02
    sounds: Annotated[float, Q("V", 0.5, 100.0)] = 3.0

    def parts(self) -> Sequence[Device]:
        return (
            Module(
                name=f"{self.name}.m",
                a=self.a,
                b=self.b,
                current=0.0,
                idle=0.0,
                capacitance=1e-10,
                esr=0.5,
                starts=self.sounds,
                stops=0.9 * self.sounds,
            ),
            Resistor(name=f"{self.name}.r", a=self.a, b=self.b, resistance=self.volts / self.current),
        )


class Thyristor(Device):
    """Anode `a`, cathode `k`, gate `g`, and the anode gate `ag` of its two-gate relative.

    A PNP and an NPN, each one's collector on the other's base, with `r_gk` across the cathode junction:
    conduction holds while I ≥ β_n·V_BE/(R_gk·((1 + β_n)·α_p − 1)). Valid for switching direct current; the
    rate effect comes from the transistors' own capacitances.
    """

    code = 0
    terminals = ("a", "k", "g", "ag")
    conducts = (("a", "k"), ("g", "k"), ("ag", "a"))

    device: Literal["thyristor"] = "thyristor"
    a: Node
    k: Node
    g: Node
    ag: Node | None = None
    gain_n: Annotated[float, Q("", 1.0, 1e3)] = 20.0
    alpha_p: Annotated[float, Q("", 0.02, 0.95)] = 0.3
    r_gk: Annotated[float, Q("Ω", 1.0, 1e7)] = 1e3
    r_ag: Annotated[float, Q("Ω", 1.0, 1e9)] = 1e6
    r_on: Annotated[float, Q("Ω", 1e-6, 100.0)] = 0.05
    i_s: Annotated[float, Q("A", 1e-20, 1e-8)] = 1e-14
    breakdown: Annotated[float, Q("V", 10.0, 1e4)] = 400.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def parts(self) -> Sequence[Device]:
        inner, top = self.ag or f"{self.name}:ag", f"{self.name}:a"
        shared = {
            "i_s": self.i_s,
            "breakdown": self.breakdown,
            "temperature": self.temperature,
            "r_c": 0.01,
            "beta_r": 0.5,
            "transit": 1e-7,
            "reverse_breakdown": self.breakdown,
            "early": 1e6,
        }
        beta_p = self.alpha_p / (1.0 - self.alpha_p)
        return (
            Resistor(name=f"{self.name}.r", a=self.a, b=top, resistance=self.r_on),
            Bipolar(name=f"{self.name}.p", polarity="pnp", c=self.g, b=inner, e=top, beta_f=beta_p, **shared),
            Bipolar(
                name=f"{self.name}.n",
                polarity="npn",
                c=inner,
                b=self.g,
                e=self.k,
                beta_f=self.gain_n,
                **shared,
            ),
            Resistor(name=f"{self.name}.rgk", a=self.g, b=self.k, resistance=self.r_gk),
            Resistor(name=f"{self.name}.rag", a=top, b=inner, resistance=self.r_ag),
        )


class Optocoupler(Device):
    """LED anode `a`, cathode `k`; phototransistor collector `c`, emitter `e`, base `b` where it is brought
    out.

    The LED's current, with the transfer's lag, feeds the phototransistor's base. `transfer` is I_C/I_F for
    small LED currents with the transistor active; it falls by half at `knee`. Valid below the LED's maximum
    current.
    """

    code = 0
    terminals = ("a", "k", "c", "e", "b")
    conducts = (("a", "k"), ("c", "e"))

    device: Literal["optocoupler"] = "optocoupler"
    a: Node
    k: Node
    c: Node
    e: Node
    b: Node | None = None
    transfer: Annotated[float, Q("", 0.01, 100.0)] = 1.0
    knee: Annotated[float, Q("A", 1e-4, 1e6)] = 0.2
    lag: Annotated[float, Q("s", 1e-9, 1e-3)] = 4e-6
    led_i_s: Annotated[float, Q("A", 1e-60, 1e-9)] = 1e-16
    led_ideality: Annotated[float, Q("", 0.9, 6.0)] = 1.6
    led_series: Annotated[float, Q("Ω", 0.0, 100.0)] = 2.0
    led_reverse: Annotated[float, Q("V", 1.0, 100.0)] = 6.0
    gain: Annotated[float, Q("", 10.0, 2e4)] = 200.0
    saturation: Annotated[float, Q("Ω", 1e-3, 1e3)] = 20.0
    breakdown: Annotated[float, Q("V", 10.0, 1e3)] = 70.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def parts(self) -> Sequence[Device]:
        led, base = f"{self.name}:led", self.b or f"{self.name}:b"
        return (
            Diode(
                name=f"{self.name}.d",
                a=self.a,
                k=led,
                i_s=self.led_i_s,
                ideality=self.led_ideality,
                r_series=self.led_series,
                breakdown=self.led_reverse,
                temperature=self.temperature,
            ),
            Transfer(
                name=f"{self.name}.x",
                a=led,
                b=self.k,
                c=self.c,
                d=base,
                gain=self.transfer / (self.gain + 1.0),
                knee=self.knee,
                lag=self.lag,
            ),
            Bipolar(
                name=f"{self.name}.q",
                c=self.c,
                b=base,
                e=self.e,
                beta_f=self.gain,
                r_c=self.saturation,
                breakdown=self.breakdown,
                early=1e6,
                c_bc=2e-12,
                temperature=self.temperature,
            ),
        )


class Bridge(Device):
    """Four diodes: alternating current at `a` and `b`, plus at `p`, minus at `n`. Valid below `breakdown`."""

    code = 0
    terminals = ("p", "n", "a", "b")
    conducts = (("a", "p"), ("b", "p"), ("n", "a"), ("n", "b"))

    device: Literal["bridge"] = "bridge"
    p: Node
    n: Node
    a: Node
    b: Node
    i_s: Annotated[float, Q("A", 1e-60, 1e-2)] = 1e-12
    ideality: Annotated[float, Q("", 0.5, 8.0)] = 1.8
    r_series: Annotated[float, Q("Ω", 0.0, 100.0)] = 0.0
    breakdown: Annotated[float, Q("V", 0.5, 1e4)] = 100.0
    temperature: Annotated[float, Q("°C", -60.0, 250.0)] = 25.0

    def parts(self) -> Sequence[Device]:
        shared = {
            "i_s": self.i_s,
            "ideality": self.ideality,
            "r_series": self.r_series,
            "breakdown": self.breakdown,
            "temperature": self.temperature,
        }
        return tuple(
            Diode(name=f"{self.name}.d{k}", a=a, k=c, **shared)
            for k, (a, c) in enumerate(
                ((self.a, self.p), (self.b, self.p), (self.n, self.a), (self.n, self.b)), 1
            )
        )
