"""The stage kinds there are. A new kind is one new file and one line here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from .behaviours.amp_oscillator import AmpOscillator
from .behaviours.astable import Astable
from .behaviours.counter_timer import CounterTimer
from .behaviours.dimmer import Dimmer
from .behaviours.latch_555 import Latch555
from .behaviours.one_shot import OneShot
from .behaviours.power_on_delay import PowerOnDelay
from .behaviours.set_reset import SetReset
from .behaviours.toggle import Toggle
from .behaviours.transistor_astable import TransistorAstable
from .behaviours.transistor_one_shot import TransistorOneShot
from .contract.stage import Role, Stage
from .drives.ac_bridge import AcBridge
from .drives.bypass_start import BypassStart
from .drives.chain_low_side import ChainLowSide
from .drives.complementary import Complementary
from .drives.cut_off import CutOff
from .drives.cut_off_latch import CutOffLatch
from .drives.direct_contact import DirectContact
from .drives.held_gate import HeldGate
from .drives.held_latch import HeldLatch
from .drives.nmos_low_side import NmosLowSide
from .drives.npn_latch import NpnLatch
from .drives.npn_low_side import NpnLowSide
from .drives.one_of_chain import OneOfChain
from .drives.one_of_n import OneOfN
from .drives.opto_switch import OptoSwitch
from .drives.pair_low_side import PairLowSide
from .drives.pmos_high_side import PmosHighSide
from .drives.pnp_high_side import PnpHighSide
from .drives.push_push import PushPush
from .drives.relay_contact import RelayContact
from .drives.relay_hold import RelayHold
from .drives.relay_hold_npn import RelayHoldNpn
from .drives.series_pair import SeriesPair
from .drives.soft_latch import SoftLatch
from .drives.soft_start import SoftStart
from .drives.straight import Straight
from .drives.thyristor_latch import ThyristorLatch
from .guards.across_switch import AcrossSwitch
from .guards.back_feed import BackFeed
from .guards.base_reverse import BaseReverse
from .guards.decoupling import Decoupling
from .guards.dropper import Dropper
from .guards.freewheel import Freewheel
from .guards.fuse import Fuse
from .guards.gate_clamp import GateClamp
from .guards.reverse_guard import ReverseGuard
from .guards.switch_snubber import SwitchSnubber
from .loads.ac_load import AcLoad
from .loads.buzzer import BuzzerLoad
from .loads.lamp import LampLoad
from .loads.led import LedLoad
from .loads.logic_input import LogicInput
from .loads.module import ModuleLoad
from .loads.motor import MotorLoad
from .loads.relay_coil import RelayCoil
from .loads.resistive import Resistive
from .loads.signal_path import SignalPath
from .loads.solenoid import SolenoidLoad
from .signals.logic_pin import LogicPin
from .signals.opto_signal import OptoSignal
from .signals.push_button import PushButton
from .signals.sensor_module import SensorModule
from .signals.stage_output import StageOutput
from .signals.toggle_switch import ToggleSwitch
from .signals.wire import JumperWire

KINDS: tuple[type[Stage], ...] = (
    LogicPin,
    PushButton,
    ToggleSwitch,
    JumperWire,
    SensorModule,
    OptoSignal,
    StageOutput,
    OneShot,
    TransistorOneShot,
    Astable,
    Dimmer,
    PowerOnDelay,
    TransistorAstable,
    AmpOscillator,
    CounterTimer,
    Latch555,
    SetReset,
    Toggle,
    NpnLowSide,
    NmosLowSide,
    PnpHighSide,
    PmosHighSide,
    PairLowSide,
    SeriesPair,
    ChainLowSide,
    Complementary,
    DirectContact,
    Straight,
    OptoSwitch,
    RelayContact,
    AcBridge,
    HeldGate,
    SoftLatch,
    PushPush,
    HeldLatch,
    NpnLatch,
    ThyristorLatch,
    RelayHold,
    RelayHoldNpn,
    CutOff,
    CutOffLatch,
    SoftStart,
    BypassStart,
    OneOfN,
    OneOfChain,
    Freewheel,
    Fuse,
    ReverseGuard,
    SwitchSnubber,
    AcrossSwitch,
    GateClamp,
    BaseReverse,
    BackFeed,
    Dropper,
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
if TYPE_CHECKING:
    AnyStage = Stage
else:
    AnyStage = Annotated[Union[KINDS], Field(discriminator="kind")]  # noqa: UP007


@dataclass(frozen=True)
class Refused:
    """A way that is not built here, why, and what to take instead."""

    title: str
    why: str
    instead: str


REFUSED: tuple[Refused, ...] = (
    Refused(
        "N-MOSFET, high side",
        "Its source rises with the load to the supply, so its gate must be held some 10 V above the supply: "
        "that takes a charge pump or a supply of its own. Driven from the supply it stays half on, a source "
        "follower that drops three volts or more and cooks.",
        "An N-MOSFET on the low side, a P-MOSFET on the high side, or a relay contact.",
    ),
)


def kind_name(kind: type[Stage]) -> str:
    """The name a document uses for a kind."""
    return str(kind.model_fields["kind"].default)


def kind_of(name: str) -> type[Stage] | None:
    """The kind of a name; None where there is none."""
    return next((k for k in KINDS if kind_name(k) == name), None)


def of_role(role: Role) -> list[type[Stage]]:
    """The kinds of a role."""
    return [k for k in KINDS if k.role == role]
