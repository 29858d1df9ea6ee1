"""The stage kinds there are. A new kind is one new file and one line here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .buzzer import BuzzerLoad
from .contract import Stage
from .freewheel import Freewheel
from .lamp import LampLoad
from .led import LedLoad
from .logic_pin import LogicPin
from .motor import MotorLoad
from .nmos_low_side import NmosLowSide
from .npn_low_side import NpnLowSide
from .relay_coil import RelayCoil
from .resistive import Resistive

KINDS: tuple[type[Stage], ...] = (
    LogicPin,
    NpnLowSide,
    NmosLowSide,
    Freewheel,
    RelayCoil,
    Resistive,
    LedLoad,
    LampLoad,
    MotorLoad,
    BuzzerLoad,
)
AnyStage = Annotated[
    LogicPin | NpnLowSide | NmosLowSide | Freewheel | RelayCoil | Resistive | LedLoad | LampLoad | MotorLoad | BuzzerLoad,
    Field(discriminator="kind"),
]
PATH: tuple[str, ...] = ("signal", "drive", "guard", "load")  # order along the signal path


def kind_name(kind: type[Stage]) -> str:
    """The name a document uses for a kind."""
    return str(kind.model_fields["kind"].default)


def of_role(role: str) -> list[type[Stage]]:
    """The kinds that can take a place on the path."""
    return [k for k in KINDS if k.role == role]
