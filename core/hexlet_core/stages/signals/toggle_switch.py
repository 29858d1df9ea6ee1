"""Toggle or foot switch: it stays where it is put, often at the end of a long lead, so it comes with a
filter.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ...fields import Q
from .contact import ContactSignal


class ToggleSwitch(ContactSignal):
    title = "Toggle or foot switch"
    purpose = "A switch that stays where it is put, often at the end of a long lead."
    choose = "On and off by hand, where the switch sits away from the board."
    avoid = "The lead runs beside motor or mains leads without a filter."
    picture = "switch"
    noun = "switch"
    states = ("off", "on")
    at_rest = "while it is off"

    kind: Literal["toggle_switch"] = "toggle_switch"
    to: Literal["plus", "zero"] = "zero"
    r_pull: Annotated[float, Q("Ω", 10.0, 1e7)] | None = 4.7e3
    r_filter: Annotated[float, Q("Ω", 1.0, 1e6)] | None = 1e3
    c_filter: Annotated[float, Q("F", 1e-12, 1e-2)] | None = 2.2e-6
    lead: Annotated[float, Q("m", 0.0, 100.0)] = 3.0
