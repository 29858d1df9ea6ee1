"""Ordinary circuits show no failure, and a real fault is never missed: two lists of whole designs.

Oracle: what a practitioner says of each, written down beside it before the program was asked.
"""

import unittest
from collections.abc import Callable

from hexlet_core.design.document import Design, Supply, in_line
from hexlet_core.design.starts import selector, start, starts
from hexlet_core.design.study import study
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.contract import Stage
from hexlet_core.stages.drives.ac_bridge import AcBridge
from hexlet_core.stages.drives.chain_low_side import ChainLowSide
from hexlet_core.stages.drives.complementary import Complementary
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.opto_switch import OptoSwitch
from hexlet_core.stages.drives.pair_low_side import PairLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.pnp_high_side import PnpHighSide
from hexlet_core.stages.drives.relay_contact import RelayContact
from hexlet_core.stages.drives.series_pair import SeriesPair
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.guards.back_feed import BackFeed
from hexlet_core.stages.guards.decoupling import Decoupling
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.guards.gate_clamp import GateClamp
from hexlet_core.stages.guards.reverse_guard import ReverseGuard
from hexlet_core.stages.loads.ac_load import AcLoad
from hexlet_core.stages.loads.buzzer import BuzzerLoad
from hexlet_core.stages.loads.lamp import LampLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.logic_input import LogicInput
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.loads.signal_path import SignalPath
from hexlet_core.stages.loads.solenoid import SolenoidLoad
from hexlet_core.stages.say.checks import Verdict
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.opto_signal import OptoSignal
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule
from hexlet_core.stages.signals.stage_output import StageOutput
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch

from .circuits import DRAWER, TRANSFORMER, fan

BATTERY = Supply(kind="lead-acid battery", low=10.8, typical=12.6, high=14.4)
BIG, SMALL = "nmos-55v-30a", "nmos-60v-300ma"


def bench(volts: float, low: float | None = None, high: float | None = None, ohms: float = 0.05) -> Supply:
    """A bench supply within a twentieth, where nothing else is said."""
    ends = {"low": low or 0.95 * volts, "high": high or 1.05 * volts}
    return Supply(kind="bench supply", typical=volts, resistance=ohms, **ends)


def line(*stages: Stage, on: Supply | float = 12.0) -> Design:
    """Stages in a line on a supply."""
    supply = on if isinstance(on, Supply) else bench(on)
    return in_line(*stages, name="Judged", supply=supply)


def coil(ohms: float, rated: float, **more: float) -> RelayCoil:
    """A relay coil with an easy contact."""
    return RelayCoil.model_validate(
        {"resistance": ohms, "rated": rated, "contact_load": "resistive", "contact_current": 0.5} | more
    )


def pin(volts: float, **more: float | str) -> LogicPin:
    """A logic pin of a level."""
    return LogicPin.model_validate({"level": volts} | more)


def strong(volts: float) -> LogicPin:
    """A pin that gives 20 mA."""
    return pin(volts, steady=0.02, burst=0.04)


DIODE, BARE = Freewheel(), Freewheel(school="none")
PULLED = NmosLowSide(r_pull=10e3)

ORDINARY: dict[str, Callable[[], Design]] = {
    "5 V pin, 1k, NPN, 400 Ω coil": lambda: line(pin(5), NpnLowSide(), DIODE, coil(400, 12)),
    "5 V pin, 1k, NPN, 70 Ω coil": lambda: line(strong(5), NpnLowSide(), DIODE, coil(70, 5), on=5),
    "3.3 V pin, 1k, NPN, 400 Ω coil": lambda: line(pin(3.3), NpnLowSide(), DIODE, coil(400, 12)),
    "3.3 V pin, 470, NPN, 125 Ω coil": lambda: line(
        pin(3.3), NpnLowSide(r_base=470), DIODE, coil(125, 5), on=5
    ),
    "1 A NPN, 96 Ω coil": lambda: line(
        strong(5), NpnLowSide(card="npn-60v-1a", r_base=470), DIODE, coil(96, 12)
    ),
    "24 V pin, 10k, NPN": lambda: line(
        pin(24, resistance=100, boot="pull-down"), NpnLowSide(r_base=10e3), DIODE, coil(1000, 24), on=24
    ),
    "2.5 V pin": lambda: line(
        pin(2.5, steady=5e-3, burst=0.01), NpnLowSide(r_base=470), DIODE, coil(400, 5), on=5
    ),
    "1.8 V pin": lambda: line(
        pin(1.8, steady=4e-3, burst=8e-3), NpnLowSide(r_base=470), DIODE, coil(500, 5), on=5
    ),
    "5 V coil on 5.25 V": lambda: line(
        strong(5), NpnLowSide(r_base=470), DIODE, coil(70, 5), on=bench(5, 4.75, 5.25)
    ),
    "Schottky across the coil": lambda: line(
        pin(5), NpnLowSide(), Freewheel(school="schottky"), coil(400, 12)
    ),
    "zener across the coil": lambda: line(
        pin(5), NpnLowSide(card="npn-60v-1a"), Freewheel(school="diode_zener"), coil(400, 12)
    ),
    "fan relay": fan,
    "logic MOSFET, 100k": lambda: line(pin(3.3, boot="floating"), NmosLowSide(), DIODE, coil(400, 12)),
    "logic MOSFET, 100 Ω, 24 V": lambda: line(
        pin(5), NmosLowSide(r_gate=100, r_pull=10e3), DIODE, coil(1600, 24), on=24
    ),
    "LED strip of 1 A": lambda: line(pin(5), PULLED, Resistive(resistance=12, power=15)),
    "heater of 2 A": lambda: line(pin(5), PULLED, Resistive(resistance=6, power=30)),
    "LED on 5 V": lambda: line(pin(5), NpnLowSide(r_base=4700), LedLoad(r_series=220), on=5),
    "three LEDs on 12 V": lambda: line(pin(3.3), NpnLowSide(r_base=2200), LedLoad(count=3, r_series=390)),
    "buzzer": lambda: line(pin(5), NpnLowSide(r_base=4700), BuzzerLoad()),
    "small buzzer on 5 V": lambda: line(
        pin(3.3), NpnLowSide(r_base=2200), BuzzerLoad(volts=5, current=0.03, sounds=3), on=5
    ),
    "motor": lambda: line(pin(5), PULLED, DIODE, MotorLoad()),
    "motor on a battery": lambda: line(pin(5), PULLED, DIODE, MotorLoad(), on=BATTERY),
    "lamp of 5 W": lambda: line(pin(5), PULLED, LampLoad()),
    "lamp on a battery": lambda: line(pin(5), PULLED, LampLoad(), on=BATTERY),
    "valve": lambda: line(pin(5), PULLED, DIODE, SolenoidLoad()),
    "PNP high side, LED": lambda: line(pin(5), PnpHighSide(), LedLoad(r_series=680)),
    "PNP high side, coil": lambda: line(pin(5), PnpHighSide(r_drive=1000), DIODE, coil(400, 12)),
    "P-MOSFET, module": lambda: line(pin(3.3), PmosHighSide(), ModuleLoad()),
    "P-MOSFET, module, back-feed guard": lambda: line(pin(3.3), PmosHighSide(), BackFeed(), ModuleLoad()),
    "P-MOSFET, heater": lambda: line(pin(5), PmosHighSide(r_drive=1000), Resistive(resistance=24, power=10)),
    "P-MOSFET, heater, battery": lambda: line(
        pin(3.3), PmosHighSide(), Resistive(resistance=24, power=15), on=BATTERY
    ),
    "high-gain pair, 50 Ω coil": lambda: line(
        pin(3.3), PairLowSide(r_base=4700), DIODE, coil(50, 12, hottest=40)
    ),
    "sensor, NPN": lambda: line(SensorModule(), NpnLowSide(), DIODE, coil(400, 12)),
    "sensor, MOSFET": lambda: line(SensorModule(), NmosLowSide(), DIODE, coil(400, 12)),
    "sensor, MOSFET, lamp": lambda: line(SensorModule(), NmosLowSide(), LampLoad()),
    "bipolar timer, NPN": lambda: line(StageOutput(), NpnLowSide(r_base=2200), DIODE, coil(400, 12)),
    "bipolar timer, 10 V MOSFET": lambda: line(StageOutput(), NmosLowSide(card=BIG), DIODE, coil(400, 12)),
    "button, MOSFET, LED": lambda: line(PushButton(), NmosLowSide(card=BIG), LedLoad()),
    "button, NPN, coil": lambda: line(PushButton(), NpnLowSide(r_base=4700), DIODE, coil(400, 12)),
    "button, MOSFET, motor": lambda: line(PushButton(), NmosLowSide(card=BIG), DIODE, MotorLoad()),
    "toggle, P-MOSFET": lambda: line(ToggleSwitch(), PmosHighSide(shift="none"), Resistive()),
    "optocoupler, NPN": lambda: line(OptoSignal(), NpnLowSide(r_base=2200), DIODE, coil(400, 12)),
    "optocoupler, MOSFET": lambda: line(OptoSignal(), NmosLowSide(card=BIG), DIODE, coil(400, 12)),
    "optocoupler, LED": lambda: line(pin(5), OptoSwitch(r_led=560), LedLoad(r_series=4700)),
    "relay contact, motor": lambda: line(pin(3.3), RelayContact(), DIODE, MotorLoad()),
    "relay contact, heater": lambda: line(pin(3.3), RelayContact(), Resistive(resistance=24, power=10)),
    "inverting chain, pulled up while it boots": lambda: line(
        pin(3.3, boot_resistance=1e3), ChainLowSide(), DIODE, coil(400, 12)
    ),
    "runs at rest through an inverting chain": lambda: line(
        pin(3.3, boot="pull-down"),
        ChainLowSide(r_pull=10e3),
        DIODE,
        RelayCoil(resistance=400, contact_load="resistive", contact_current=0.5, at_rest="on"),
    ),
    "stacked switches": lambda: line(strong(5), SeriesPair(r_base=680), DIODE, coil(400, 12)),
    "signal relay": lambda: line(pin(5), NpnLowSide(r_base=2200), DIODE, SignalPath()),
    "logic input": lambda: line(pin(3.3), NpnLowSide(r_base=10e3), LogicInput(), on=5),
    "fuse and reverse guard": lambda: line(pin(5), PULLED, Fuse(), ReverseGuard(), DIODE, coil(400, 12)),
    "soft latch, module": lambda: line(PushButton(to="zero"), SoftLatch(), ModuleLoad()),
    "soft latch, LED on 9 V": lambda: line(
        PushButton(to="zero"), SoftLatch(card="pmos-30v-4a-logic"), LedLoad(), on=9
    ),
    "one-shot, coil": lambda: line(PushButton(to="zero"), OneShot(), NmosLowSide(), DIODE, coil(400, 12)),
    "one of three": lambda: selector(*(Resistive() for _ in range(3)), supply=bench(12)),
    "LED on a 9 V battery": lambda: line(
        pin(3.3, boot="floating"), NmosLowSide(), LedLoad(r_series=470), on=bench(9, 7, 9.5, ohms=2)
    ),
    "low-voltage AC lamp": lambda: line(
        pin(3.3), AcBridge(), AcLoad(watts=10), on=TRANSFORMER.model_copy(update={"high": 12.6})
    ),
    "supply with a bulk capacitor": lambda: line(pin(5), PULLED, Decoupling(), DIODE, MotorLoad()),
}

# What is wrong, beside the check that must say so: any of several where a practitioner would name either.
FAULTY: dict[str, tuple[Callable[[], Design], tuple[str, ...]]] = {
    "coil without a diode, NPN": (lambda: line(pin(5), NpnLowSide(), BARE, coil(400, 12)), ("peak",)),
    "coil without a diode, MOSFET": (
        lambda: line(pin(5), NmosLowSide(card=SMALL), BARE, coil(400, 12, time_constant=0.02)),
        ("peak",),
    ),
    "10 V MOSFET on 3.3 V": (
        lambda: line(pin(3.3), NmosLowSide(card=BIG), DIODE, coil(96, 12)),
        ("fully_on",),
    ),
    "10 V MOSFET on 5 V": (
        lambda: line(pin(5), NmosLowSide(card=BIG, r_pull=10e3), Resistive(resistance=6, power=60)),
        ("fully_on",),
    ),
    "1.8 V on a MOSFET promised from 2.5 V": (
        lambda: line(pin(1.8), PULLED, DIODE, coil(400, 12)),
        ("fully_on",),
    ),
    "10 V P-MOSFET on 5 V": (
        lambda: line(pin(5), PmosHighSide(), Resistive(resistance=50, power=5), on=5),
        ("fully_on",),
    ),
    "10k base for a heavy coil": (
        lambda: line(pin(3.3), NpnLowSide(r_base=10e3), DIODE, coil(96, 12)),
        ("fully_on",),
    ),
    "22k for a PNP": (lambda: line(pin(5), PnpHighSide(r_drive=22e3), DIODE, coil(96, 12)), ("fully_on",)),
    "shifter without drive": (
        lambda: line(pin(3.3), PmosHighSide(r_shift=1e6), Resistive()),
        ("fully_on", "shift_fully_on"),
    ),
    "no base resistor": (
        lambda: line(pin(5), NpnLowSide(r_base=1), DIODE, coil(400, 12)),
        ("pin_steady", "base_max"),
    ),
    "weak pin": (
        lambda: line(pin(5, steady=4e-3, burst=8e-3), NpnLowSide(r_base=330), DIODE, coil(400, 12)),
        ("pin_steady",),
    ),
    "0.3 A through 0.2 A": (
        lambda: line(pin(5), NpnLowSide(r_base=220), DIODE, coil(40, 12)),
        ("switch_current",),
    ),
    "motor on a small NPN": (
        lambda: line(pin(5), NpnLowSide(r_base=470), DIODE, MotorLoad()),
        ("switch_current", "surge"),
    ),
    "lamp on a small MOSFET": (
        lambda: line(pin(5), NmosLowSide(card=SMALL, r_pull=10e3), LampLoad()),
        ("switch_current", "surge"),
    ),
    "heater of 5 A": (
        lambda: line(pin(5), PULLED, Resistive(resistance=2.4, power=80)),
        ("switch_current", "heat", "junction"),
    ),
    "gate of 100 MΩ": (
        lambda: line(
            pin(3.3), NmosLowSide(r_gate=1e8, r_pull=None), Resistive(resistance=4.7, power=60), on=BATTERY
        ),
        ("junction",),
    ),
    "48 V on a 40 V NPN": (
        lambda: line(pin(5), NpnLowSide(), Resistive(resistance=4800, power=2), on=48),
        ("off_volts",),
    ),
    "58 V on a 55 V MOSFET": (
        lambda: line(pin(5), PULLED, Resistive(resistance=100, power=60), on=58),
        ("off_volts",),
    ),
    "36 V on a 30 V P-MOSFET": (
        lambda: line(
            pin(5), PmosHighSide(card="pmos-30v-4a-logic"), Resistive(resistance=100, power=30), on=36
        ),
        ("off_volts",),
    ),
    "48 V on a 35 V optocoupler": (
        lambda: line(pin(5), OptoSwitch(r_led=560), LedLoad(r_series=10e3), on=48),
        ("off_volts",),
    ),
    "48 V on a 40 V shifter": (
        lambda: line(pin(5), PnpHighSide(r_drive=4700), LedLoad(r_series=4700), on=48),
        ("shift_off_volts",),
    ),
    "24 V across a 20 V gate": (
        lambda: line(pin(5), PmosHighSide(), Resistive(resistance=100, power=30), on=24),
        ("gate_max",),
    ),
    "button puts 24 V on a gate": (
        lambda: line(PushButton(), NmosLowSide(), Resistive(resistance=100, power=20), on=24),
        ("gate_max",),
    ),
    "3.3 V on a P-MOSFET at 12 V": (
        lambda: line(pin(3.3), PmosHighSide(shift="none"), Resistive()),
        ("off_level",),
    ),
    "3.3 V on a PNP at 12 V": (
        lambda: line(pin(3.3), PnpHighSide(shift="none"), Resistive()),
        ("off_level",),
    ),
    "3.3 V on a complementary pair at 12 V": (
        lambda: line(pin(3.3), Complementary(), Resistive()),
        ("resting",),
    ),
    "gate floats while the pin boots": (
        lambda: line(pin(5, boot="floating"), NmosLowSide(r_pull=None), DIODE, coil(400, 12)),
        ("boot",),
    ),
    "1 MΩ against a boot pull-up": (
        lambda: line(pin(5), NmosLowSide(r_pull=1e6), DIODE, coil(400, 12)),
        ("boot",),
    ),
    "inverting chain runs while the pin boots": (
        lambda: line(pin(3.3), ChainLowSide(), DIODE, coil(400, 12)),
        ("boot",),
    ),
    "should run at rest, and does not": (
        lambda: line(pin(5), PULLED, Resistive(resistance=12, power=15, at_rest="on")),
        ("boot",),
    ),
    "runs at rest, robbed by a boot pull-up": (
        lambda: line(
            pin(3.3, boot_resistance=4.7e3), ChainLowSide(), DIODE, RelayCoil(resistance=400, at_rest="on")
        ),
        ("boot",),
    ),
    "gate clamp cooked": (
        lambda: line(
            PushButton(r_pull=1e5, most=1.0), NmosLowSide(r_gate=22), GateClamp(), Resistive(), on=24
        ),
        ("clamp_heat",),
    ),
    "contact carries its pull resistor": (
        lambda: line(PushButton(r_pull=150), NmosLowSide(card=BIG), LedLoad()),
        ("pull_carry",),
    ),
    "LED behind 10 Ω": (lambda: line(pin(5), PULLED, LedLoad(r_series=10)), ("led_max",)),
    "LED resistor of 0.4 W": (lambda: line(pin(5), PULLED, LedLoad(r_series=1200), on=24), ("led_heat",)),
    "six LEDs on 9 V": (lambda: line(pin(5), PULLED, LedLoad(count=6, r_series=100), on=9), ("led_lights",)),
    "pair starves a 5 V coil": (
        lambda: line(pin(5), PairLowSide(r_base=4700), DIODE, coil(70, 5), on=5),
        ("pull_in",),
    ),
    "12 V coil on 5 V": (lambda: line(pin(5), NpnLowSide(), DIODE, coil(400, 12), on=5), ("pull_in",)),
    "5 V coil on 12 V": (lambda: line(pin(5), PULLED, DIODE, coil(70, 5)), ("coil_max",)),
    "30 Ω of supply": (lambda: line(pin(5), PULLED, DIODE, coil(70, 5), on=bench(5, ohms=30)), ("pull_in",)),
    "rectifier starves a 5 V coil": (
        lambda: line(
            pin(5), PULLED, ReverseGuard(diode="diode-1a-100v"), DIODE, coil(70, 5), on=bench(5, 4.5)
        ),
        ("pull_in",),
    ),
    "contact too weak for a motor": (
        lambda: line(pin(5), PULLED, DIODE, RelayCoil(contact_current=8, contact_load="motor")),
        ("contact_run",),
    ),
    "power contact on a signal": (
        lambda: line(
            pin(5), PULLED, DIODE, RelayCoil(contact_current=1e-3, contact_load="signal", contact_volts=1)
        ),
        ("contact_clean",),
    ),
    "sensitive relay on a lamp": (lambda: line(pin(5), RelayContact(), LampLoad()), ("switch_contact_run",)),
    "diode the wrong way round": (
        lambda: line(pin(5), PULLED, Freewheel(turned=True), coil(400, 12)),
        ("freewheel_way",),
    ),
    "zener over the NPN's volts": (
        lambda: line(
            pin(5), NpnLowSide(), Freewheel(school="diode_zener", zener="zener-24v"), coil(1000, 24), on=24
        ),
        ("peak",),
    ),
    "small diode on a big valve": (
        lambda: line(pin(5), PULLED, Freewheel(diode="diode-200ma-100v"), SolenoidLoad(resistance=8)),
        ("freewheel_current",),
    ),
    "40 V Schottky on 48 V": (
        lambda: line(pin(5), PULLED, Freewheel(school="schottky"), coil(2000, 48), on=48),
        ("freewheel_reverse",),
    ),
    "fuse of half an amp": (
        lambda: line(pin(5), PULLED, Fuse(card="fuse-500ma"), Resistive(resistance=12, power=15)),
        ("fuse_carry",),
    ),
    "fuse over its wire": (
        lambda: line(pin(5), PULLED, Fuse(card="fuse-10a", wire=3), Resistive(resistance=12, power=15)),
        ("fuse_wire",),
    ),
    "button on a bare capacitor": (
        lambda: line(PushButton(c_filter=10e-6), NmosLowSide(card=BIG), LedLoad()),
        ("button_peak",),
    ),
    "coil on an optocoupler": (
        lambda: line(pin(5), OptoSwitch(r_led=560), DIODE, coil(400, 12)),
        ("switch_current", "transfer"),
    ),
    "motor that does not start": (lambda: line(pin(5), PULLED, DIODE, MotorLoad(), on=5), ("motor_starts",)),
    "silent buzzer": (lambda: line(pin(5), NpnLowSide(), BuzzerLoad(sounds=8), on=5), ("sounds",)),
    "module on too little": (
        lambda: line(pin(5), PmosHighSide(card="pmos-30v-4a-logic"), ModuleLoad(), on=8),
        ("module_low",),
    ),
    "module on too much": (lambda: line(pin(5), PmosHighSide(), ModuleLoad(), on=18), ("module_high",)),
    "5 V into a 3.3 V input": (
        lambda: line(pin(5), PmosHighSide(card="pmos-30v-4a-logic"), LogicInput(), on=5),
        ("input_over",),
    ),
    "25 V capacitor on 28 V": (
        lambda: line(pin(5), PULLED, Decoupling(), Resistive(resistance=100, power=20), on=28),
        ("bulk_volts",),
    ),
    "timer on 18 V": (
        lambda: line(PushButton(to="zero"), OneShot(), NmosLowSide(), LedLoad(r_series=2200), on=18),
        ("timer_most",),
    ),
}


def seen(made: Design, standing: str) -> list[Verdict]:
    """The verdicts of a standing that do not follow from another."""
    here = study(made, DRAWER)
    assert not here.open and not here.problems, here.problems
    return [v for v in here.verdicts if v.standing == standing and v.cause is None]


class Judgement(unittest.TestCase):
    def test_ordinary_circuits_show_no_failure(self) -> None:
        for name, make in ORDINARY.items():
            with self.subTest(name):
                made = make()
                self.assertEqual([v.sentence for v in seen(made, "fails")], [])
                self.assertLessEqual(len(seen(made, "tight")), 2, [v.sentence for v in seen(made, "tight")])

    def test_most_ordinary_circuits_are_clean(self) -> None:
        tight = [len(seen(make(), "tight")) for make in ORDINARY.values()]
        self.assertLess(sum(tight), len(tight))

    def test_a_real_fault_is_never_missed(self) -> None:
        for name, (make, wanted) in FAULTY.items():
            with self.subTest(name):
                failing = [v.check for v in seen(make(), "fails")]
                self.assertTrue(set(wanted) & set(failing), f"wanted {wanted}, fails {failing}")

    def test_a_fault_is_told_once(self) -> None:
        """One fault, its consequences folded: rarely more than two failures stand by themselves."""
        many = {name: n for name, (make, _) in FAULTY.items() if (n := len(seen(make(), "fails"))) > 3}
        self.assertEqual(many, {})

    def test_every_start_is_clean(self) -> None:
        for one in starts():
            made = start(one.id)
            with self.subTest(one.title):
                self.assertEqual(seen(made, "fails"), [])
                self.assertLessEqual(len(seen(made, "tight")), 1, [v.sentence for v in seen(made, "tight")])
