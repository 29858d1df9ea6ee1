"""What every load with two leads shares: how it is drawn, measured, watched and wired."""

from __future__ import annotations

from typing import ClassVar

from .contract import Measure, Part, Probe, Stage, Step, View, Watch
from .drawing import Pen


class TwoWire(Stage):
    """A load between its rail and the switch, off the board on leads of its own.

    A kind states its `symbol`, and in `shown` what stands beside it: name, value and the field a click opens.
    """

    role = "load"
    letters: ClassVar[dict[str, str]] = {"load": "M"}
    symbol: ClassVar[str] = "heater"

    def shown(self) -> tuple[str, str, str]:
        """Name, value and field."""
        raise NotImplementedError

    def rating(self) -> str:
        return ""

    def measures(self, view: View) -> tuple[Measure, ...]:
        name = self.shown()[0].lower()
        return (
            Measure(
                title=f"Current of the {name}",
                mode="amps",
                red="+ of the supply",
                black=f"one lead of the {name}, the other lead at 0 V",
                means=(
                    "Power on, read it once it has settled. Ohms tell little here: what it takes cold or "
                    "at rest is not what it takes at work."
                ),
                path=view.path(self.shown()[2]),
            ),
        )

    def draw(self, pen: Pen, view: View) -> None:
        name, value, field = self.shown()
        x, ref = pen.x + 2.0, view.refs["load"]
        pen.hang(ref, self.symbol, x, view.side, label=name, value=value, path=view.path(field))
        pen.x = x + 2.6 + max(3.4, 0.82 * max(len(name), len(value)))

    def parts(self, view: View) -> tuple[Part, ...]:
        name, value, field = self.shown()
        return (
            Part(
                ref=view.refs["load"],
                title=name,
                value=value,
                kind="load",
                rating=self.rating(),
                path=view.path(field),
                on_board=False,
            ),
        )

    def probes(self, view: View) -> tuple[Probe, ...]:
        ref = view.refs["load"]
        return (
            Probe(
                id="load_current",
                title="Load current",
                red=f"lead of {ref} opened, + side",
                black="other end of the opened lead",
                quantity="current",
                device=ref,
                terminal="a",
                states=(view.on,),
            ),
        )

    def watches(self, view: View) -> tuple[Watch, ...]:
        ref = view.refs["load"]
        return (Watch(id=f"i({ref})", title="Load current", unit="A", signal=f"i({ref}.a)", place=2),)

    def steps(self, view: View) -> tuple[Step, ...]:
        rail = "+ rail" if view.side == "low" else "0 V rail"
        ref, out, name = (
            view.refs["load"],
            view.switch.output if view.switch else "output",
            self.shown()[0].lower(),
        )
        return (
            Step(
                id="load_leads",
                action="link",
                title=f"Leads of the {name}: {rail} and {out}",
                part=ref,
                detail=f"{ref} stays off the board. One lead to the {rail}, the other to the {out}'s strip.",
            ),
        )
