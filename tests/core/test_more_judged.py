"""Ways without a transistor, loads beside each other, resistors in line and left out: what is ordinary raises
no failure, and each real fault is seen by the check it belongs to.

Oracle: the practice of the bench, each fault with the number that makes it one.
"""

import unittest
from collections.abc import Callable

from hexlet_core.design.document import Design, Supply, in_line
from hexlet_core.design.insert import joined_beside
from hexlet_core.design.study import study
from hexlet_core.stages.contract import Stage
from hexlet_core.stages.drives.direct_contact import DirectContact
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.straight import Straight
from hexlet_core.stages.guards.dropper import Dropper
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.loads.buzzer import BuzzerLoad
from hexlet_core.stages.loads.lamp import LampLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.solenoid import SolenoidLoad
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch
from hexlet_core.stages.signals.wire import JumperWire

from .circuits import DRAWER

BENCH = Supply(kind="bench supply", low=11.8, typical=12.0, high=12.2)
FIVE = Supply(kind="adapter", low=4.75, typical=5.0, high=5.25)
PULLED, NO_DIODE = NmosLowSide(r_pull=10e3), Freewheel(school="none")


def line(*stages: Stage, supply: Supply = BENCH) -> Design:
    return in_line(*stages, name="Judged", supply=supply)


def toggle(amps: float) -> ToggleSwitch:
    return ToggleSwitch(most=amps, r_filter=None, c_filter=None)


def coil(ohms: float, volts: float = 12.0) -> RelayCoil:
    return RelayCoil(resistance=ohms, rated=volts)


def dropped(ohms: float, watts: float = 2.0) -> Design:
    """A 5 V relay on 12 V behind a resistor."""
    resistor = Dropper(r_line=ohms, watts=watts, line="lower")
    return line(LogicPin(), PULLED, resistor, Freewheel(), coil(70, 5))


def beside(kind: type[Stage], drive: Stage) -> Design:
    made = joined_beside(line(LogicPin(level=5.0), drive, Freewheel(), coil(160)), kind, "b4")
    assert made is not None
    return made


ORDINARY: dict[str, Callable[[], Design]] = {
    "10 W lamp on a 5 A toggle": lambda: line(toggle(5), DirectContact(), LampLoad(volts=12, watts=10)),
    "motor on a 5 A toggle": lambda: line(toggle(5), DirectContact(), Freewheel(), MotorLoad()),
    "LED on a small button": lambda: line(PushButton(), DirectContact(), LedLoad(count=1, r_series=680.0)),
    "coil on a 1 A button": lambda: line(PushButton(most=1.0), DirectContact(), Freewheel(), coil(400)),
    "LED on a pin": lambda: line(LogicPin(), Straight(), LedLoad(count=1, r_series=330.0), supply=FIVE),
    "buzzer on a 5 V pin": lambda: line(
        LogicPin(level=5.0, steady=0.02, burst=0.04),
        Straight(),
        BuzzerLoad(volts=5, current=0.01),
        supply=FIVE,
    ),
    "button held by the gate's pull-down": lambda: line(
        PushButton(r_pull=None), PULLED, Freewheel(), coil(96)
    ),
    "button held by the gate's pull-up": lambda: line(
        PushButton(r_pull=None, to="zero"), PmosHighSide(shift="none"), Freewheel(), coil(96)
    ),
    "a wire for the pin": lambda: line(JumperWire(), NpnLowSide(r_base=1500.0), Freewheel(), coil(400)),
    "5 V relay behind 100 Ω": lambda: dropped(100),
    "a relay's own diode": lambda: line(
        LogicPin(), NpnLowSide(r_base=470.0), Freewheel(school="inside"), coil(400)
    ),
    "coil and LED": lambda: beside(LedLoad, NmosLowSide(r_pull=6800.0)),
    "two coils": lambda: beside(RelayCoil, NmosLowSide(r_pull=6800.0)),
}
FAULTY: dict[str, tuple[Callable[[], Design], str]] = {
    "150 mA coil on a 50 mA button": (
        lambda: line(PushButton(), DirectContact(), Freewheel(), coil(96)),
        "contact_carries",
    ),
    "no diode across a coil on a toggle": (
        lambda: line(toggle(1), DirectContact(), NO_DIODE, coil(96)),
        "peak",
    ),
    "20 W lamp on a 1 A toggle": (
        lambda: line(toggle(1), DirectContact(), LampLoad(volts=12, watts=20)),
        "contact_makes",
    ),
    "70 Ω coil on a pin": (
        lambda: line(LogicPin(level=5.0), Straight(), Freewheel(), coil(70, 5), supply=FIVE),
        "pin_steady",
    ),
    "coil without diode on a pin": (
        lambda: line(
            LogicPin(level=5.0, steady=0.04, burst=0.08), Straight(), NO_DIODE, coil(250, 5), supply=FIVE
        ),
        "kick_in",
    ),
    "LED without a resistor on a pin": (
        lambda: line(LogicPin(), Straight(), LedLoad(count=1, r_series=10.0)),
        "led_max",
    ),
    "nothing holds the gate": (
        lambda: line(PushButton(r_pull=None), NmosLowSide(r_pull=None), Freewheel(), coil(96)),
        "boot",
    ),
    "a wire to the wrong rail": (
        lambda: line(JumperWire(to="zero"), NpnLowSide(), Freewheel(), coil(400)),
        "fully_on",
    ),
    "a resistor that leaves too little": (lambda: dropped(300), "pull_in"),
    "a resistor that burns": (lambda: dropped(100, watts=0.25), "dropper_heat"),
    "no base resistor": (
        lambda: line(LogicPin(), NpnLowSide(r_base=None), Freewheel(), coil(400)),
        "base_max",
    ),
    "a motor beside a coil on a small NPN": (
        lambda: beside(MotorLoad, NpnLowSide(r_base=330.0)),
        "switch_current",
    ),
    "a solenoid beside a coil on a small NPN": (
        lambda: beside(SolenoidLoad, NpnLowSide(r_base=330.0)),
        "junction",
    ),
}


def failing(design: Design) -> list[str]:
    return [v.check for v in study(design, DRAWER).verdicts if v.standing == "fails"]


class Judged(unittest.TestCase):
    def test_ordinary_circuits_raise_no_failure(self) -> None:
        for name, made in ORDINARY.items():
            with self.subTest(name):
                self.assertEqual(failing(made()), [])

    def test_every_fault_is_seen(self) -> None:
        for name, (made, check) in FAULTY.items():
            with self.subTest(name):
                self.assertIn(check, failing(made()))
