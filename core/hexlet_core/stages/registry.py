"""The stage kinds there are. A new kind is one new file and one line here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Union

from pydantic import Field

from .ac_bridge import AcBridge
from .ac_load import AcLoad
from .buzzer import BuzzerLoad
from .chain_low_side import ChainLowSide
from .complementary import Complementary
from .contact_signal import PushButton, ToggleSwitch
from .contract import Stage
from .control_guards import BaseReverse, GateClamp
from .freewheel import Freewheel
from .given_signal import SensorModule, StageOutput
from .lamp import LampLoad
from .led import LedLoad
from .logic_input import LogicInput
from .logic_pin import LogicPin
from .module_load import ModuleLoad
from .motor import MotorLoad
from .nmos_low_side import NmosLowSide
from .npn_low_side import NpnLowSide
from .opto_signal import OptoSignal
from .opto_switch import OptoSwitch
from .output_guards import AcrossSwitch, BackFeed, Decoupling, SwitchSnubber
from .pair_low_side import PairLowSide
from .pmos_high_side import PmosHighSide
from .pnp_high_side import PnpHighSide
from .rail_guard import Fuse, ReverseGuard
from .relay_coil import RelayCoil
from .relay_contact import RelayContact
from .resistive import Resistive
from .series_pair import SeriesPair
from .signal_path import SignalPath
from .solenoid import SolenoidLoad

KINDS: tuple[type[Stage], ...] = (
    LogicPin,
    PushButton,
    ToggleSwitch,
    SensorModule,
    OptoSignal,
    StageOutput,
    NpnLowSide,
    NmosLowSide,
    PnpHighSide,
    PmosHighSide,
    PairLowSide,
    SeriesPair,
    ChainLowSide,
    Complementary,
    OptoSwitch,
    RelayContact,
    AcBridge,
    Freewheel,
    Fuse,
    ReverseGuard,
    SwitchSnubber,
    AcrossSwitch,
    GateClamp,
    BaseReverse,
    BackFeed,
    Decoupling,
    RelayCoil,
    LedLoad,
    Resistive,
    MotorLoad,
    SolenoidLoad,
    LampLoad,
    ModuleLoad,
    BuzzerLoad,
    SignalPath,
    LogicInput,
    AcLoad,
)
AnyStage = Annotated[
    Union[  # noqa: UP007
        LogicPin,
        PushButton,
        ToggleSwitch,
        SensorModule,
        OptoSignal,
        StageOutput,
        NpnLowSide,
        NmosLowSide,
        PnpHighSide,
        PmosHighSide,
        PairLowSide,
        SeriesPair,
        ChainLowSide,
        Complementary,
        OptoSwitch,
        RelayContact,
        AcBridge,
        Freewheel,
        Fuse,
        ReverseGuard,
        SwitchSnubber,
        AcrossSwitch,
        GateClamp,
        BaseReverse,
        BackFeed,
        Decoupling,
        RelayCoil,
        LedLoad,
        Resistive,
        MotorLoad,
        SolenoidLoad,
        LampLoad,
        ModuleLoad,
        BuzzerLoad,
        SignalPath,
        LogicInput,
        AcLoad,
    ],
    Field(discriminator="kind"),
]
PATH: tuple[str, ...] = ("signal", "drive", "guard", "load")  # order along the signal path


@dataclass(frozen=True)
class Refused:
    """A way that is not built here, why, and what to take instead."""

    title: str
    why: str
    instead: str


REFUSED: tuple[Refused, ...] = (
    Refused(
        "N-MOSFET, high side",
        (
            "Its source rises with the load to the supply, so its gate must be held some 10 V above the "
            "supply: that takes a charge pump or a supply of its own. Driven from the supply it stays half "
            "on, a source follower that drops three volts or more and cooks."
        ),
        "An N-MOSFET on the low side, a P-MOSFET on the high side, or a relay contact.",
    ),
)


def kind_name(kind: type[Stage]) -> str:
    """The name a document uses for a kind."""
    return str(kind.model_fields["kind"].default)


def of_role(role: str) -> list[type[Stage]]:
    """The kinds that can take a place on the path."""
    return [k for k in KINDS if k.role == role]
