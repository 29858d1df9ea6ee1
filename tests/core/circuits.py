"""Small circuits and an independent way to solve them, for the oracles."""

import itertools
from collections.abc import Callable, Iterator, Sequence
from typing import Any

import numpy as np
from hexlet_core.cards import Drawer
from hexlet_core.circuit.devices import Device, Pin, PinStep, Relay, Resistor, VoltageSource
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.document import Design, Supply, changed, in_line
from hexlet_core.design.insert import by_itself, joined_beside
from hexlet_core.design.starts import chain_selector, selector
from hexlet_core.design.study import Study, study
from hexlet_core.rehearsal.script import who_of
from hexlet_core.stages.behaviours.amp_oscillator import AmpOscillator
from hexlet_core.stages.behaviours.astable import Astable
from hexlet_core.stages.behaviours.counter_timer import CounterTimer
from hexlet_core.stages.behaviours.dimmer import Dimmer
from hexlet_core.stages.behaviours.latch_555 import Latch555
from hexlet_core.stages.behaviours.one_shot import OneShot
from hexlet_core.stages.behaviours.power_on_delay import PowerOnDelay
from hexlet_core.stages.behaviours.set_reset import SetReset
from hexlet_core.stages.behaviours.toggle import Toggle
from hexlet_core.stages.behaviours.transistor_astable import TransistorAstable
from hexlet_core.stages.behaviours.transistor_one_shot import TransistorOneShot
from hexlet_core.stages.contract import Act, Command, Corner, Demand, Stage, Switch
from hexlet_core.stages.drives.ac_bridge import AcBridge
from hexlet_core.stages.drives.bypass_start import BypassStart
from hexlet_core.stages.drives.cut_off import CutOff
from hexlet_core.stages.drives.cut_off_latch import CutOffLatch
from hexlet_core.stages.drives.direct_contact import DirectContact
from hexlet_core.stages.drives.held_gate import HeldGate
from hexlet_core.stages.drives.held_latch import HeldLatch
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from hexlet_core.stages.drives.npn_latch import NpnLatch
from hexlet_core.stages.drives.npn_low_side import NpnLowSide
from hexlet_core.stages.drives.pmos_high_side import PmosHighSide
from hexlet_core.stages.drives.pnp_high_side import PnpHighSide
from hexlet_core.stages.drives.push_push import PushPush
from hexlet_core.stages.drives.relay_hold import RelayHold
from hexlet_core.stages.drives.relay_hold_npn import RelayHoldNpn
from hexlet_core.stages.drives.soft_latch import SoftLatch
from hexlet_core.stages.drives.soft_start import SoftStart
from hexlet_core.stages.drives.thyristor_latch import ThyristorLatch
from hexlet_core.stages.guards.freewheel import Freewheel, School
from hexlet_core.stages.guards.fuse import Fuse
from hexlet_core.stages.guards.reverse_guard import ReverseGuard
from hexlet_core.stages.loads.ac_load import AcLoad
from hexlet_core.stages.loads.led import LedLoad
from hexlet_core.stages.loads.motor import MotorLoad
from hexlet_core.stages.loads.relay_coil import RelayCoil
from hexlet_core.stages.loads.resistive import Resistive
from hexlet_core.stages.registry import of_role
from hexlet_core.stages.say.checks import Verdict
from hexlet_core.stages.signals.logic_pin import LogicPin
from hexlet_core.stages.signals.push_button import PushButton
from hexlet_core.stages.signals.sensor_module import SensorModule
from hexlet_core.stages.signals.toggle_switch import ToggleSwitch
from hexlet_core.stages.signals.wire import JumperWire
from scipy.integrate import solve_ivp

COIL_R, COIL_L = 96.0, 0.45
DRAWER = Drawer()
TRANSFORMER = Supply(kind="transformer", low=11.0, typical=12.0, high=13.0)


def fan(school: School = "diode", **drive: float | None) -> Design:
    """The roof-vent fan relay with its MOSFET."""
    mosfet = NmosLowSide.model_validate({"r_pull": 6800.0} | drive)
    return in_line(LogicPin(), mosfet, Freewheel(school=school), RelayCoil(), name="Fan")


def every_design() -> list[Design]:
    """Each registered kind in each place it can take: drives with loads, with guards, with signals."""
    mosfet, coil = NmosLowSide(r_pull=6800.0), RelayCoil()
    drives: tuple[Stage, ...] = (
        mosfet,
        NmosLowSide(r_pull=None),
        NmosLowSide(r_gate=None),
        NpnLowSide(r_base=None),
        NpnLowSide(r_base=270.0),
        NpnLowSide(r_pull=None),
        PnpHighSide(shift="none"),
        PnpHighSide(shift="nmos"),
        PmosHighSide(shift="none", r_pull=None),
        *(kind() for kind in of_role("drive")),
    )
    loads: tuple[Stage, ...] = (
        coil,
        RelayCoil(contact_load="lamp"),
        RelayCoil(contact_supply="AC", contact_volts=230.0),
        LedLoad(count=3),
        *(kind() for kind in of_role("load")),
    )
    schools: tuple[School, ...] = ("none", "diode", "schottky", "diode_zener", "rc", "inside")
    guards: tuple[Stage, ...] = (
        *(Freewheel(school=s) for s in schools),
        ReverseGuard(way="pmos"),
        *(kind() for kind in of_role("guard")),
    )
    contacts = itertools.product(("NO", "NC", "changeover"), ("plus", "zero"), (None, 1e3), (None, 1e-6))
    signals: tuple[Stage, ...] = (
        *(kind() for kind in of_role("signal")),
        SensorModule(form="open collector"),
        PushButton(r_pull=None),
        PushButton(r_pull=None, to="zero"),
        JumperWire(to="zero"),
        *(
            PushButton.model_validate({"form": form, "to": to, "r_filter": r, "c_filter": c})
            for form, to, r, c in contacts
        ),
    )
    behaviours: tuple[Stage, ...] = (
        OneShot(trigger="direct", r_discharge=None, c_time=470e-9),
        OneShot(tuned="trimmer", r_time=330e3, turn=20.0),
        OneShot(clamp="diode", reset="open", control="open", decoupling="none"),
        CounterTimer(),
        *(kind() for kind in of_role("behaviour") if not by_itself(kind())),
    )
    sources = (
        Astable(),
        Astable(steer="diode", r_a=68e3, card="timer-bipolar"),
        Astable(c_time=10e-9),
        Astable(tuned="trimmer", r_b=47e3, r_trim=100e3, turn=20.0),
        Astable(tuned="trimmer", steer="diode", r_b=100e3, r_trim=100e3, turn=33.0),
        Dimmer(),
        PowerOnDelay(),
        PowerOnDelay(tuned="trimmer", r_time=560e3, r_trim=500e3, turn=25.0),
        TransistorAstable(),
        TransistorAstable(diodes="none"),
        AmpOscillator(),
        AmpOscillator(tuned="trimmer", r_time=100e3, r_trim=100e3),
        CounterTimer(tap="4"),
        CounterTimer(tap="4", tuned="trimmer", r_b=390e3, r_trim=200e3),
        CounterTimer(tap="5", second="4", control="open", decoupling="none"),
        Astable(reset="open", control="open", decoupling="none"),
    )
    paths: list[tuple[Stage, ...]] = [
        *((LogicPin(), drive, Freewheel(), load) for drive in drives for load in loads),
        *((LogicPin(), drive, guard, coil) for drive in drives for guard in guards),
        *(
            (signal, drive, Freewheel(), coil)
            for signal in signals
            for drive in (mosfet, PnpHighSide(shift="none"))
        ),
        *((signal, mosfet, Fuse(), ReverseGuard(), Freewheel(), coil) for signal in signals),
        (LogicPin(), mosfet, *(kind() for kind in of_role("guard")), coil),
        *((PushButton(), SoftLatch(), guard, load) for guard in guards for load in (coil, Resistive())),
        *((PushButton(), SoftLatch(), Freewheel(), load) for load in loads),
        *((PushButton(), SoftLatch(loop="load"), Freewheel(), load) for load in loads[::2]),
        *((PushButton(), PushPush(), Freewheel(), load) for load in loads[1::2]),
        *((PushButton(), HeldGate(), Freewheel(), load) for load in loads),
        (PushButton(), Latch555(), mosfet, Freewheel(), coil),
        (PushButton(), Toggle(), mosfet, Freewheel(), coil),
        (PushButton(), Toggle(c_steer=470e-9), NpnLowSide(r_base=47e3), LedLoad()),
        (PushButton(), PushButton(), SetReset(), mosfet, Freewheel(), coil),
        (PushButton(), PushButton(), SetReset(r_c=680.0), NpnLowSide(r_base=10e3), LedLoad()),
        (PushButton(), Latch555(card="timer-bipolar"), NpnLowSide(r_base=2.2e3), LedLoad()),
        *((PushButton(), PushButton(), HeldLatch(), Freewheel(), load) for load in loads),
        *((CutOff(), Freewheel(), load) for load in loads[::3]),
        *((LogicPin(), SoftStart(), Freewheel(), load) for load in loads[1::3]),
        *((LogicPin(), SoftStart(c_rate=None, c_gate=4.7e-6), Freewheel(), load) for load in loads[::3]),
        *((PushButton(), PushButton(form="NC"), RelayHold(), Freewheel(), load) for load in loads[::3]),
        *(
            (PushButton(), PushButton(form=form), ThyristorLatch.model_validate(how), Freewheel(), load)
            for form, how in (
                ("NO", {}),
                ("NO", {"made": "thyristor"}),
                ("NC", {"off": "interrupting"}),
                ("NC", {"off": "interrupting", "made": "thyristor"}),
            )
            for load in loads[::2]
        ),
        *((PushButton(), PushButton(), NpnLatch(), Freewheel(), load) for load in loads),
        *((PushButton(), PushButton(), NpnLatch(loop="anode"), Freewheel(), load) for load in loads[::2]),
        *((PushButton(), PushButton(), RelayHoldNpn(), Freewheel(), load) for load in loads[::3]),
        *((BypassStart(), Freewheel(), load) for load in loads[::2]),
        *((PushButton(), CutOffLatch(), Freewheel(), load) for load in loads[::3]),
        (PushButton(), CutOffLatch(reference="shunt", r_bottom=5.6e3), Freewheel(), coil),
        (PushButton(), CutOffLatch(reference="junctions", r_bottom=1e3), Freewheel(), coil),
        (ToggleSwitch(), PushButton(), Astable(), mosfet, LedLoad()),
        (ToggleSwitch(), Astable(steer="diode", tuned="trimmer", r_b=10e3, r_trim=100e3), mosfet, LedLoad()),
        (PushButton(), HeldGate(tuned="trimmer", r_hold=680e3, r_trim=1e6, turn=30.0), Freewheel(), coil),
        (PushButton(), TransistorOneShot(tuned="trimmer", r_time=22e3, r_trim=20e3), mosfet, LedLoad()),
        *(
            (PushButton(), TransistorOneShot.model_validate({"trigger": t, "diodes": d}), drive, LedLoad())
            for t in ("coupled", "direct")
            for d in ("fitted", "none")
            for drive in (mosfet, NmosLowSide(), NpnLowSide(r_base=10e3))
        ),
        *((PushButton(most=1.0), DirectContact(), Freewheel(), load) for load in loads),
        *(
            (signal, behaviour, drive, Freewheel(), coil)
            for signal in (PushButton(to="zero"), ToggleSwitch(to="zero"), LogicPin())
            for behaviour in behaviours
            for drive in (mosfet, NpnLowSide(), PmosHighSide())
        ),
        *(
            (source, drive, Freewheel(), load)
            for source in sources
            for drive in (mosfet, NpnLowSide(), PmosHighSide())
            for load in (coil, LedLoad(), MotorLoad())
        ),
    ]
    selectors = (selector(*(Resistive() for _ in range(n))) for n in (2, 3, 6))
    whole_paths = [whole(path) for path in paths if fits(path)]
    return [
        *whole_paths,
        *selectors,
        *(chain_selector(*(Resistive() for _ in range(n))) for n in (2, 3, 4)),
        *(d for kind in of_role("load") if kind is not AcLoad for d in beside(kind)),
    ]


def beside(kind: type[Stage]) -> Iterator[Design]:
    """A load of a kind beside a coil, on either side's switch."""
    for drive in (NmosLowSide(r_pull=6800.0), PmosHighSide()):
        made = joined_beside(whole((LogicPin(), drive, Freewheel(), RelayCoil())), kind, "b4")
        if made is not None:
            yield made


def fits(path: tuple[Stage, ...]) -> bool:
    """Whether each of the path's blocks finds what its ports need."""
    return not study(whole(path), DRAWER).open


def whole(path: tuple[Stage, ...]) -> Design:
    """A path as a design, on the supply and in the line that its drive wants."""
    high = any(getattr(s, "side", "low") == "high" for s in path)
    placed = (
        s.model_copy(update={"line": "upper" if high else "lower"}) if "line" in type(s).model_fields else s
        for s in path
    )
    supply = TRANSFORMER if any(isinstance(s, AcBridge) for s in path) else Supply()
    return in_line(*placed, name="Any", supply=supply)


def step_into_coil(volts: float = 12.0, at: float = 1e-3, **relay: float) -> Netlist:
    """A source that steps onto a relay's coil."""
    return Netlist.of(
        [
            VoltageSource(name="V1", a="top", b="0", points=[(0.0, 0.0), (at, 0.0), (at, volts)]),
            Relay(
                name="K1",
                a="top",
                b="0",
                resistance=COIL_R,
                inductance=COIL_L,
                **({"pull_in": 9 / COIL_R, "drop_out": 1.2 / COIL_R} | relay),
            ),  # type: ignore[arg-type]
        ]
    )


def rc_step(r: float, c_device: Device, volts: float = 5.0) -> Netlist:
    """A pin behind R into something capacitive at node "out"."""
    steps = [PinStep(time=0.0, level=0.0, resistance=1.0), PinStep(time=1e-3, level=volts, resistance=1.0)]
    return Netlist.of(
        [Pin(name="P1", out="in", steps=steps), Resistor(name="R1", a="in", b="out", resistance=r), c_device]
    )


def integrate(
    rhs: Callable[[float, np.ndarray], np.ndarray],
    y0: list[float],
    span: tuple[float, float],
    event: Callable[..., float],
) -> float:
    """When `event` first crosses zero, by a tight implicit Runge-Kutta solver of another package."""
    event.terminal = True  # type: ignore[attr-defined]
    found = solve_ivp(rhs, span, y0, method="Radau", rtol=1e-9, atol=1e-12, events=event)
    assert found.t_events is not None
    return float(found.t_events[0][0])


def design(*stages: Any, supply: Supply | None = None, **volts: float) -> Design:
    """A design of some stages; a signal and a freewheel part are added where none is given."""
    found = list(stages)
    if found[0].role != "signal":
        found.insert(0, LogicPin())
    if not any(s.role == "guard" for s in found) and not (supply and supply.ac):
        found.insert(-1, Freewheel())
    made = in_line(*found, name="Kind", supply=supply or Supply())
    return changed(made, [(f"supply.{k}", v) for k, v in volts.items()]) if volts else made


def verdicts(made: Design) -> dict[str, Verdict]:
    """Every verdict by the name of its check."""
    return {v.check: v for v in study(made, DRAWER).verdicts}


def verdict(made: Design, name: str) -> Verdict:
    return verdicts(made)[name]


def own(values: dict[str, float], name: str) -> str:
    """A node by its whole name, or by a block's own where that is unique."""
    if name in values:
        return name
    (found,) = [n for n in values if n.endswith(f".{name}")]
    return found


class Reading:
    """An operating point, read by the blocks' own names of their nets where these are unique."""

    def __init__(self, here: Study, acts: Sequence[Act], corner: Corner) -> None:
        self.point = operating_point(here.acted(corner, list(acts)))

    def __getitem__(self, name: str) -> float:
        return self.point[own(self.point.values, name)]

    def current(self, ref: str, terminal: str) -> float:
        return self.point.current(ref, terminal)

    def power(self, ref: str) -> float:
        return self.point.power(ref)


def acts(made: Design, state: str) -> list[Act]:
    """The first signal in a state: "high", "low", "active" …"""
    here = study(made, DRAWER)
    who = who_of(here, None)
    return [Act(who, state)] if who is not None else []


def point(made: Design, state: str, supply: float | None = None, **corner: Any) -> Reading:
    at = Corner(supply=supply if supply is not None else made.supply.typical, **corner)
    return Reading(study(made, DRAWER), acts(made, state), at)


def posed(made: Design, state: str, corner: Corner) -> Netlist:
    """A design's circuit with its first signal in a state."""
    return study(made, DRAWER).acted(corner, acts(made, state))


def refs(made: Design) -> dict[str, str]:
    """References by the parts' own names, where these are unique."""
    return {part.local: ref for _, ref, part in study(made, DRAWER).placed}


def switch(made: Design) -> Switch:
    """The drive as its load sees it."""
    here = study(made, DRAWER)
    (found,) = [here.flow.leaving((site.id, "out")) for _, site in here.of_role("drive")]
    assert isinstance(found, Switch)
    return found


def command(made: Design) -> Command:
    """What the signal gives."""
    found = study(made, DRAWER).flow.leaving(("b1", "out"))
    assert isinstance(found, Command)
    return found


def demand(made: Design) -> Demand:
    """What the last block takes."""
    found = study(made, DRAWER).flow.leaving((list(made.blocks)[-1], "load"))
    assert isinstance(found, Demand)
    return found
