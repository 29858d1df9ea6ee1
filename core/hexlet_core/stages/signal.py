"""What every signal shares: its node, read and watched under one name."""

from __future__ import annotations

from typing import ClassVar

from .contract import Probe, Stage, View, Watch


class Signal(Stage):
    """A stage that gives the command at its node "signal". `noun` is what people call it."""

    role = "signal"
    output = "signal"
    noun: ClassVar[str] = "signal"

    def probes(self, view: View) -> tuple[Probe, ...]:
        return (
            Probe(
                id="signal",
                title="Signal to 0 V",
                red="signal strip",
                black="0 V rail",
                quantity="voltage",
                node=view.nodes["out"],
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        return (
            Watch(id="signal", title=self.noun.capitalize(), unit="V", signal=view.nodes["out"], place=0),
        )
