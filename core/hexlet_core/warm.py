"""Compile the kernel, or load it when it is compiled already: `python -m hexlet_core.warm`."""

from __future__ import annotations

from .circuit.devices import Resistor, VoltageSource
from .circuit.netlist import Netlist
from .circuit.solve import operating_point, transient
from .circuit.states import growth


def warm() -> None:
    """Run every compiled entry point once on the smallest circuit."""
    circuit = Netlist.of(
        [VoltageSource(name="V1", a="a", b="0", value=1.0), Resistor(name="R1", a="a", b="0", resistance=1.0)]
    )
    growth(operating_point(circuit))
    transient(circuit, 1e-3).current("R1", "a")


if __name__ == "__main__":
    warm()
