"""Small circuits and an independent way to solve them, for the oracles."""

import itertools
from collections.abc import Callable
from typing import Any

import numpy as np
from hexlet_core.cards import Drawer
from hexlet_core.circuit.devices import Device, Pin, PinStep, Relay, Resistor, VoltageSource
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point
from hexlet_core.design.circuit import netlist
from hexlet_core.design.document import Design, Supply, changed
from hexlet_core.design.judge import verdicts_of
from hexlet_core.stages.contact_signal import PushButton
from hexlet_core.stages.contract import Corner, Schedule, State
from hexlet_core.stages.freewheel import Freewheel, School
from hexlet_core.stages.given_signal import SensorModule
from hexlet_core.stages.led import LedLoad
from hexlet_core.stages.logic_pin import LogicPin
from hexlet_core.stages.nmos_low_side import NmosLowSide
from hexlet_core.stages.npn_low_side import NpnLowSide
from hexlet_core.stages.pmos_high_side import PmosHighSide
from hexlet_core.stages.pnp_high_side import PnpHighSide
from hexlet_core.stages.rail_guard import Fuse, ReverseGuard
from hexlet_core.stages.registry import of_role
from hexlet_core.stages.relay_coil import RelayCoil
from scipy.integrate import solve_ivp

COIL_R, COIL_L = 96.0, 0.45
DRAWER = Drawer()
TRANSFORMER = Supply(kind="transformer", low=11.0, typical=12.0, high=13.0)


def fan(school: School = "diode", **drive: float | None) -> Design:
    """The roof-vent fan relay with its MOSFET."""
    return Design(
        name="Fan",
        stages=(
            LogicPin(),
            NmosLowSide(**({"r_pull": 6800.0} | drive)),
            Freewheel(school=school),
            RelayCoil(),
        ),  # type: ignore[arg-type]
    )


def every_design() -> list[Design]:
    """Each registered kind in each place it can take: drives with loads, with guards, with signals."""
    mosfet, coil = NmosLowSide(r_pull=6800.0), RelayCoil()
    drives = (
        mosfet,
        NmosLowSide(r_pull=None),
        NpnLowSide(r_base=270.0),
        NpnLowSide(r_pull=None),
        PnpHighSide(shift="none"),
        PnpHighSide(shift="nmos"),
        PmosHighSide(shift="none", r_pull=None),
        *(kind() for kind in of_role("drive")),
    )
    loads = (
        coil,
        RelayCoil(contact_load="lamp"),
        RelayCoil(contact_supply="AC", contact_volts=230.0),
        LedLoad(count=3),
        *(kind() for kind in of_role("load")),
    )
    schools: tuple[School, ...] = ("none", "diode", "schottky", "diode_zener", "rc")
    guards = (
        *(Freewheel(school=s) for s in schools),
        ReverseGuard(way="pmos"),
        *(kind() for kind in of_role("guard")),
    )
    contacts = itertools.product(("NO", "NC", "changeover"), ("plus", "zero"), (None, 1e3), (None, 1e-6))
    signals = (
        *(kind() for kind in of_role("signal")),
        SensorModule(form="open collector"),
        *(PushButton(form=form, to=to, r_filter=r, c_filter=c) for form, to, r, c in contacts),
    )
    paths = [
        *((LogicPin(), drive, Freewheel(), load) for drive in drives for load in loads),
        *((LogicPin(), drive, guard, coil) for drive in drives for guard in guards),
        *(
            (signal, drive, Freewheel(), coil)
            for signal in signals
            for drive in (mosfet, PnpHighSide(shift="none"))
        ),
        *((signal, mosfet, Fuse(), ReverseGuard(), Freewheel(), coil) for signal in signals),
        (LogicPin(), mosfet, *(kind() for kind in of_role("guard")), coil),
    ]
    return [
        Design(name="Any", supply=TRANSFORMER if path[1].isolates else Supply(), stages=path)
        for path in paths
    ]


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
    made = Design(name="Kind", supply=supply or Supply(), stages=tuple(found))
    return changed(made, [(f"supply.{k}", v) for k, v in volts.items()]) if volts else made


def verdict(made: Design, name: str) -> Any:
    return next(v for v in verdicts_of(made, DRAWER) if v.id == name)


def point(made: Design, state: State, supply: float | None = None, **corner: Any) -> Any:
    at = Corner(supply=supply if supply is not None else made.supply.typical, **corner)
    return operating_point(netlist(made, DRAWER, at, Schedule(signal=(state,))))
