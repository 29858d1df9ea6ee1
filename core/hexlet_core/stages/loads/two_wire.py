"""What every load with two leads shares: how it is drawn, measured and watched."""

from __future__ import annotations

from abc import abstractmethod
from typing import ClassVar

from ..contract.descriptions import Measure
from ..contract.facts import Open
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Load
from ..drawing.pen import Pen


class TwoWire(Load):
    """A load between its rail and the switch, off the board on leads of its own; its one part is called
    "load".

    A kind states its `symbol`, and in `shown` what stands beside it: name, value and the field a click opens.
    """

    symbol: ClassVar[str] = "heater"

    @abstractmethod
    def shown(self) -> tuple[str, str, str]:
        """Name, value and field."""

    def described(self) -> dict[str, str]:
        """Its line in the parts list and beside its symbol."""
        name, value, field = self.shown()
        return {"title": name, "value": value, "mark": value, "field": field}

    def measures(self, site: Site) -> tuple[Measure, ...]:
        name, ac = self.shown()[0].lower(), alternates(site)
        return (
            Measure(
                title=f"Current of the {name}",
                mode="amps",
                red="~ line of the supply" if ac else "+ of the supply",
                black=f"one lead of the {name}, the other lead at {'~' if ac else '0 V'}",
                means=(
                    "Power on, read it once it has settled. Ohms tell little here: what it takes cold or at "
                    "rest is not what it takes at work."
                ),
                path=site.path(self.shown()[2]),
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (load_current(site, "load"),)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        return (Watch(id="current", title="Load current", unit="A", signal="i(load.a)", place=2),)

    def draw(self, pen: Pen, site: Site) -> None:
        name, value, _ = self.shown()
        x = pen.x + 2.0
        pen.hang(site, "load", self.symbol, x, label=name)
        pen.x = x + 2.6 + max(3.4, 0.82 * max(len(name), len(value)))


def alternates(site: Site) -> bool:
    """Whether the load is on alternating current; no while nothing switches it yet."""
    try:
        return site.switch.rail.ac
    except Open:
        return False


def load_current(site: Site, local: str, title: str = "Load current") -> Probe:
    """The current into a load's upper lead, read while it runs."""
    near = "~ line side" if alternates(site) else "+ side"
    return Probe(
        id="load_current",
        title=title,
        red=f"lead of {site.ref(local)} opened, {near}",
        black="other end of the opened lead",
        signal=f"i({local}.a)",
        scenes=(site.switch.runs,),
    )
