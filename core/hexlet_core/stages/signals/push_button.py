"""Push button: a finger gives the command for as long as it presses."""

from __future__ import annotations

from typing import Literal

from .contact import ContactSignal


class PushButton(ContactSignal):
    title = "Push button"
    purpose = "A finger gives the command for as long as it presses."
    choose = "The load runs while somebody holds it, or a latch behind it remembers the press."
    avoid = "Nobody stands there to press: take a sensor or a controller."

    kind: Literal["push_button"] = "push_button"
