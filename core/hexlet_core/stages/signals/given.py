"""What signals with an output of their own share: they are drawn as a tag and read at their strip."""

from __future__ import annotations

from ..contract.scenes import Probe
from ..contract.site import Site
from ..contract.stage import Signal
from ..drawing.pen import SIGNAL_Y, Pen


class GivenSignal(Signal):
    """An output with levels of its own; its part is called "pin", its net "signal"."""

    def probes(self, site: Site) -> tuple[Probe, ...]:
        return (Probe(id="signal", title="Signal to 0 V", red="signal strip", signal="signal"),)

    def draw(self, pen: Pen, site: Site) -> None:
        at = pen.place(site.ref("pin"), "pin", pen.x + 1.0, SIGNAL_Y, label=self.noun)
        pen.output, pen.x = at["out"], at["out"][0]
