"""The registered circuits: each is run by the invariants, the work bounds and the bench."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

from hexlet_core.cards import catalogue, derive
from hexlet_core.circuit.devices import (
    Bipolar,
    Button,
    Capacitor,
    Comparator,
    ContactSwitch,
    Counter,
    Diode,
    Inductor,
    Lamp,
    Mosfet,
    Pin,
    PinStep,
    Press,
    Relay,
    Resistor,
    Sine,
    Timer,
    VoltageSource,
)
from hexlet_core.circuit.netlist import Netlist

NPN = derive.bipolar(catalogue()["npn-40v-200ma"])  # type: ignore[arg-type]
RECTIFIER = derive.diode(catalogue()["diode-1a-100v"])  # type: ignore[arg-type]
SIGNAL = derive.diode(catalogue()["diode-200ma-100v"])  # type: ignore[arg-type]
COIL = {"resistance": 96.0, "inductance": 0.45, "pull_in": 9 / 96, "drop_out": 1.2 / 96}
PMOS = {"polarity": "p", "beta": 5.0, "v_th": 2.0, "c_gs": 5e-10, "c_gd_low": 5e-11, "c_gd_high": 5e-10}


@dataclass(frozen=True)
class Circuit:
    """A netlist and how long it is run."""

    netlist: Netlist
    stop: float
    from_rest: bool = False


def r(name: str, a: str, b: str, resistance: float) -> Resistor:
    return Resistor(name=name, a=a, b=b, resistance=resistance)


def c(name: str, a: str, b: str, capacitance: float, **more: float) -> Capacitor:
    return Capacitor(name=name, a=a, b=b, capacitance=capacitance, **more)


def v(name: str, a: str, value: float) -> VoltageSource:
    return VoltageSource(name=name, a=a, b="0", value=value)


def npn(name: str, collector: str, base: str, emitter: str = "0", **more: object) -> Bipolar:
    return Bipolar(name=name, c=collector, b=base, e=emitter, **(NPN | more))  # type: ignore[arg-type]


def relay() -> Circuit:
    """A pin, a bipolar driver and a relay with its freewheel diode."""
    steps = [
        PinStep(time=t, level=level, resistance=25.0) for t, level in ((0.0, 0.0), (0.01, 3.3), (0.09, 0.0))
    ]
    net = Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=12.6, resistance=0.05),
            Pin(name="P", out="pin", steps=steps),
            r("RB", "pin", "b", 270.0),
            r("RPD", "b", "0", 10e3),
            npn("Q1", "c", "b"),
            Diode(name="D1", a="c", k="plus", **RECTIFIER),
            Relay(name="K1", a="plus", b="c", com="plus", no="load", **COIL),
            r("RL", "load", "0", 100.0),
        ]
    )
    return Circuit(net, 0.13)


def astable(stop: float = 10.0) -> Circuit:
    """Two transistors that switch each other about once a second."""
    net = Netlist.of(
        [
            v("V", "plus", 9.0),
            r("RC1", "plus", "c1", 1e3),
            r("RC2", "plus", "c2", 1e3),
            r("RB1", "plus", "b1", 33e3),
            r("RB2", "plus", "b2", 33.3e3),
            c("C1", "c1", "b2", 22e-6),
            c("C2", "c2", "b1", 22e-6),
            npn("Q1", "c1", "b1", reverse_breakdown=40.0),
            npn("Q2", "c2", "b2", reverse_breakdown=40.0),
        ]
    )
    return Circuit(net, stop, from_rest=True)


def one_shot(resistance: float = 100e3, capacitance: float = 1e-5) -> Circuit:
    """A button, a 555 one-shot, a driver and a relay."""
    net = Netlist.of(
        [
            v("V", "plus", 12.0),
            r("RT", "plus", "trig", 10e3),
            Button(name="S", com="trig", no="0", presses=[Press(at=0.05, hold=0.1)]),
            r("R", "plus", "cap", resistance),
            c("C", "cap", "0", capacitance),
            c("CC", "ctrl", "0", 1e-8),
            Timer(
                name="U",
                vcc="plus",
                trig="trig",
                thr="cap",
                dis="cap",
                ctrl="ctrl",
                reset="plus",
                out="out",
                r_discharge=10.0,
            ),
            r("RB", "out", "b", 4700.0),
            npn("Q1", "coil", "b"),
            Diode(name="D1", a="coil", k="plus", **RECTIFIER),
            Relay(name="K1", a="plus", b="coil", **COIL),
        ]
    )
    return Circuit(net, 2.0)


def latch() -> Circuit:
    """A P-MOSFET soft latch: one button, two transistors, a memory capacitor; three presses."""
    presses = [Press(at=0.5, hold=0.2), Press(at=2.5, hold=0.2), Press(at=4.5, hold=0.2)]
    net = Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=9.0, resistance=0.1),
            Mosfet(name="Q1", g="g", d="out", s="plus", **PMOS),
            r("RG", "plus", "g", 100e3),
            r("RD", "g", "c1", 1e3),
            npn("Q2", "c1", "b1"),
            r("RF", "out", "b1", 100e3),
            r("RB", "b1", "0", 100e3),
            r("RM", "plus", "mem0", 470e3),
            npn("Q3", "mem0", "b3"),
            r("RK", "out", "b3", 220e3),
            r("RE", "b3", "0", 470e3),
            r("RC", "mem0", "mem", 1e3),
            c("CM", "mem", "0", 1e-6),
            Button(name="S", com="mem", no="b1", presses=presses),
            r("RL", "out", "0", 100.0),
        ]
    )
    return Circuit(net, 6.0)


def pwm(stop: float = 0.1) -> Circuit:
    """A 555 at about 1.1 kHz with steering diodes into a MOSFET and a heater."""
    mosfet = derive.mosfet(catalogue()["nmos-55v-30a"])  # type: ignore[arg-type]
    net = Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=12.6, resistance=0.05),
            r("RA", "plus", "dis", 1e3),
            Diode(name="D1", a="dis", k="up", **SIGNAL),
            r("P1", "up", "cap", 40e3),
            Diode(name="D2", a="down", k="dis", **SIGNAL),
            r("P2", "cap", "down", 60e3),
            c("C", "cap", "0", 1e-8),
            c("CC", "ctrl", "0", 1e-8),
            Timer(
                name="U", vcc="plus", trig="cap", thr="cap", dis="dis", ctrl="ctrl", reset="plus", out="out"
            ),
            r("RG", "out", "g", 100.0),
            r("RP", "g", "0", 100e3),
            Mosfet(name="Q", g="g", d="d", s="0", **mosfet),
            r("RL", "plus", "d", 8.0),
        ]
    )
    return Circuit(net, stop, from_rest=True)


def gate_rc() -> Circuit:
    """A step through a resistor onto a capacitor."""
    steps = [PinStep(time=0.0, level=0.0, resistance=1.0), PinStep(time=1e-3, level=5.0, resistance=1.0)]
    return Circuit(
        Netlist.of(
            [Pin(name="P", out="in", steps=steps), r("R", "in", "out", 4699.0), c("C", "out", "0", 1e-7)]
        ),
        6e-3,
    )


def lamp() -> Circuit:
    """A cold filament lamp onto a battery."""
    net = Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=12.0, resistance=0.1),
            ContactSwitch(name="S", a="plus", b="x", times=[0.01], on_resistance=0.01),
            Lamp(name="L", a="x", b="0", volts=12.0, watts=5.0),
            r("R", "x", "0", 1e6),
        ]
    )
    return Circuit(net, 0.3)


def soft_start() -> Circuit:
    """A P-MOSFET with a Miller capacitor into 4700 µF."""
    net = Netlist.of(
        [
            VoltageSource(name="V", a="plus", b="0", value=12.0, resistance=0.05),
            Mosfet(name="Q", g="g", d="out", s="plus", **PMOS),
            r("RG", "plus", "g", 100e3),
            ContactSwitch(name="S", a="g0", b="0", times=[0.02]),
            r("RD", "g", "g0", 47e3),
            c("CM", "g", "out", 1e-6),
            c("CGS", "plus", "g", 4.7e-6),
            c("CL", "out", "0", 4.7e-3),
            r("RL", "out", "0", 100.0),
        ]
    )
    return Circuit(net, 1.5)


def counter() -> Circuit:
    """A 555 astable clocks a ripple counter."""
    net = Netlist.of(
        [
            v("V", "plus", 9.0),
            r("RA", "plus", "dis", 10e3),
            r("RB", "dis", "cap", 68e3),
            c("C", "cap", "0", 1e-8),
            Timer(
                name="U",
                vcc="plus",
                trig="cap",
                thr="cap",
                dis="dis",
                reset="plus",
                out="clk",
                drop_high=0.0,
                r_high=50.0,
                push_pull=True,
            ),
            Counter(name="N", vdd="plus", clk="clk", reset="0", taps={1: "q1", 3: "q3"}),
            r("R1", "q1", "0", 1e5),
            r("R3", "q3", "0", 1e5),
        ]
    )
    return Circuit(net, 0.02, from_rest=True)


def oscillator() -> Circuit:
    """An operational amplifier as Schmitt oscillator."""
    net = Netlist.of(
        [
            v("VP", "p", 6.0),
            VoltageSource(name="VN", a="n", b="0", value=-6.0),
            r("R", "out", "m", 10e3),
            c("C", "m", "0", 1e-7),
            r("R1", "out", "plus", 10e3),
            r("R2", "plus", "0", 10e3),
            r("RX", "m", "0", 1e9),
            Comparator(
                name="U",
                p="plus",
                m="m",
                out="out",
                vcc="p",
                vee="n",
                drop_high=1.0,
                drop_low=1.0,
                offset=1e-3,
            ),
        ]
    )
    return Circuit(net, 0.02, from_rest=True)


def rectifier() -> Circuit:
    """24 V AC through a bridge into an RC snubber, an inductive load and a smoothing capacitor."""
    diodes = [("a", "p"), ("b", "p"), ("n", "a"), ("n", "b")]
    net = Netlist.of(
        [
            VoltageSource(name="V", a="ac", b="b", value=0.0, sine=Sine(amplitude=33.9, frequency=50.0)),
            r("RS", "ac", "a", 0.5),
            *(Diode(name=f"D{k}", a=x, k=y, **RECTIFIER) for k, (x, y) in enumerate(diodes)),
            c("C", "p", "n", 4.7e-4),
            r("RL", "p", "n", 220.0),
            r("RN", "p", "sn", 100.0),
            c("CS", "sn", "n", 1e-7),
            r("R0", "n", "0", 1.0),
            Inductor(name="L", a="p", b="l", inductance=0.05),
            r("RI", "l", "n", 470.0),
            r("RX", "b", "0", 1e6),
        ]
    )
    return Circuit(net, 0.1)


def composite() -> Circuit:
    """The one-shot, the latch and the relay on one supply: about 36 unknowns."""
    found: list[object] = []
    for k, part in enumerate((one_shot(), latch(), relay())):
        for device in part.netlist.devices:
            nodes = {t: n if n in ("0", "plus") else f"{n}{k}" for t, n in device.nodes().items()}
            if device.name != "V":
                found.append(device.model_copy(update={"name": f"{device.name}{k}", **nodes}))
    source = VoltageSource(name="V", a="plus", b="0", value=12.0, resistance=0.05)
    return Circuit(Netlist.of([source, *found]), 2.0)  # type: ignore[list-item]


MAKERS: tuple[Callable[[], Circuit], ...] = (
    relay,
    astable,
    one_shot,
    latch,
    pwm,
    gate_rc,
    lamp,
    soft_start,
    counter,
    oscillator,
    rectifier,
    composite,
)


@cache
def registered() -> dict[str, Circuit]:
    """Every circuit by name."""
    return {make.__name__: make() for make in MAKERS}
