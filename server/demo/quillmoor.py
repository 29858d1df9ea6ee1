"""The Quillmoor shed: a made-up backyard observatory on a 12 V battery, its drawer and its designs."""

from __future__ import annotations

from hexlet_core.design.document import Design, Supply, in_line
from hexlet_core.design.insert import exchanged
from hexlet_core.design.starts import selector
from hexlet_core.stages.behaviours.counter_timer import CounterTimer
from hexlet_core.stages.behaviours.dimmer import Dimmer
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.behaviours.power_on_delay import PowerOnDelay
from hexlet_core.stages.contract import Stage
from hexlet_core.stages.drives.ac_bridge import AcBridge
from hexlet_core.stages.drives.cut_off import CutOff
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.relay_hold import RelayHold
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.guards.freewheel import Freewheel
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.loads.ac_load import AcLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.module import ModuleLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.loads.solenoid import SolenoidLoad
from hexlet_core.stages.say.wording import Origin
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton

RESISTORS = {
    22.0: 5,
    47.0: 6,
    100.0: 8,
    150.0: 3,
    180.0: 2,
    220.0: 11,
    270.0: 4,
    330.0: 6,
    390.0: 3,
    470.0: 9,
    560.0: 5,
    1e3: 14,
    1.5e3: 5,
    2.2e3: 12,
    3.3e3: 8,
    4.7e3: 10,
    5.1e3: 4,
    6.8e3: 7,
    10e3: 20,
    22e3: 6,
    33e3: 5,
    47e3: 9,
    100e3: 12,
    220e3: 4,
    470e3: 5,
    1e6: 6,
}
STOCK = {
    "npn-40v-200ma": 9,
    "npn-60v-1a": 4,
    "nmos-55v-5a-logic": 6,
    "nmos-60v-300ma": 14,
    "nmos-55v-30a": 2,
    "diode-1a-100v": 12,
    "diode-200ma-100v": 20,
    "schottky-1a-40v": 3,
    "zener-9v1": 2,
    "zener-15v": 5,
    "zener-24v": 0,
    "relay-12v-96r": 3,
    "relay-12v-400r": 1,
    "pnp-40v-200ma": 6,
    "pnp-60v-1a": 3,
    "pmos-30v-4a-logic": 4,
    "pmos-55v-12a": 2,
    "zener-12v": 4,
    "schottky-3a-40v": 2,
    "fuse-3a15-slow": 5,
    "fuse-1a-slow": 3,
    "bridge-50v-4a": 1,
    "optocoupler-35v": 3,
    "led-red-20ma": 25,
    "led-white-20ma": 8,
    "electrolytic-100u-25v": 6,
    "electrolytic-22u-25v": 4,
    "electrolytic-1000u-25v": 2,
    "ceramic-100n-50v": 40,
    "film-100n-100v": 5,
    "relay-12v-720r-signal": 1,
    "timer-bipolar": 4,
    "timer-cmos": 2,
    "counter-14": 1,
    "amplifier-single-supply": 2,
    "trimmer-10k": 3,
    "buzzer-12v": 1,
    "lamp-12v-5w": 4,
}
BATTERY = Supply(kind="lead-acid battery", low=10.8, typical=12.6, high=14.4)
PIN = LogicPin()


def fan_history() -> list[tuple[str, Design]]:
    """The roof-vent fan relay as it came to be, oldest first."""
    measured: dict[str, Origin] = {"blocks.b4.resistance": "measured"}
    base = in_line(
        PIN,
        NpnLowSide(r_base=220.0, r_pull=10e3),
        Freewheel(),
        RelayCoil(resistance=100.0),
        name="Roof-vent fan relay",
        supply=BATTERY,
    )
    coil = _with(base, b4=RelayCoil()).model_copy(update={"origins": measured})
    mosfet = exchanged(coil, "b2", NmosLowSide(r_pull=100e3))
    mended = _with(mosfet, b2=NmosLowSide(r_pull=6.8e3))
    return [
        ("Started from “Switch a coil”", base),
        ("Coil measured, 96 Ω", coil),
        ("Bipolar became MOSFET, R2 100k", mosfet),
        ("R2 6k8: it would have run at boot with 100k", mended),
    ]


def _with(design: Design, **blocks: Stage) -> Design:
    return design.model_copy(update={"blocks": {**design.blocks, **blocks}})


def others() -> list[Design]:
    """The shed's other designs that this version can hold."""
    beacon = RelayCoil(
        contact_name="Beacon",
        contact_load="lamp",
        contact_current=0.15,
        card="relay-12v-400r",
        resistance=400.0,
        time_constant=3e-3,
    )
    valve = SolenoidLoad(resistance=38.0, pull_in=0.75, inductance=0.12, name="Rain valve")
    path = Supply(kind="transformer", low=12.0, typical=12.6, high=13.2)
    hatch = RelayCoil(contact_name="Hatch", contact_load="motor", contact_current=1.6)
    return [
        in_line(
            Dimmer(),
            NmosLowSide(r_gate=220.0, r_pull=22e3),
            Freewheel(school="none"),
            Resistive(resistance=8.0, power=30.0, name="Dew strap"),
            name="Dew-heater dimmer",
            supply=BATTERY,
        ),
        in_line(
            PIN,
            NpnLowSide(r_base=560.0, r_pull=4.7e3),
            Freewheel(diode="diode-200ma-100v"),
            beacon,
            name="Beacon relay",
            supply=BATTERY,
            origins={"blocks.b4.resistance": "measured"},
        ),
        in_line(
            PushButton(),
            PmosHighSide(shift="npn"),
            Fuse(card="fuse-1a-slow"),
            Freewheel(),
            valve,
            name="Rain-barrel valve",
            supply=BATTERY,
        ),
        in_line(PIN, AcBridge(), AcLoad(watts=10.0), name="Path lamp", supply=path),
        in_line(
            PushButton(to="zero"),
            OneShot(),
            NmosLowSide(),
            LedLoad(count=3, r_series=510.0),
            name="Red map light",
            supply=BATTERY,
        ),
        in_line(
            PowerOnDelay(),
            NmosLowSide(),
            Freewheel(school="none"),
            ModuleLoad(current=0.35, capacitance=47e-6, esr=1.0, name="Camera"),
            name="Camera comes up last",
            supply=BATTERY,
        ),
        in_line(
            PushButton(),
            CounterTimer(card="timer-bipolar", tap="12", wanted=600.0, at_least=400.0, at_most=900.0),
            NmosLowSide(),
            LedLoad(count=3, r_series=510.0),
            name="Observer's watchdog",
            supply=BATTERY,
        ),
        in_line(
            PushButton(), SoftLatch(), LedLoad(count=3, r_series=510.0), name="Bench light", supply=BATTERY
        ),
        in_line(
            PushButton(),
            SoftLatch(),
            ModuleLoad(current=0.126, capacitance=100e-6, esr=0.5, name="Camera rail"),
            name="Camera rail push-on, push-off",
            supply=BATTERY,
        ),
        in_line(
            PushButton(most=0.1),
            PushButton(form="NC", most=0.1),
            RelayHold(),
            Freewheel(school="none"),
            Resistive(resistance=6.8, power=40.0, name="Mount rail"),
            name="Mount rail",
            supply=BATTERY,
        ),
        in_line(
            CutOff(),
            Resistive(resistance=24.0, power=15.0, name="Dew rail"),
            name="Battery guard",
            supply=BATTERY,
        ),
        selector(
            *(Resistive(resistance=22.0, power=10.0, name=f"Panel {k}") for k in (1, 2, 3)),
            name="Flat-panel selector",
            supply=BATTERY,
        ),
        in_line(
            PIN,
            NmosLowSide(card="nmos-55v-30a", r_pull=6.8e3),
            Freewheel(school="none"),
            hatch,
            name="Roof hatch relay",
            supply=BATTERY,
        ),
    ]


STEPS_DONE = 9  # of the fan relay, which is being built
