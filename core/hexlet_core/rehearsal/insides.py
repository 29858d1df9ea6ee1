"""Inside a timer along a rehearsal: its levels, what its comparators see, what its latch makes of it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..circuit.devices import Timer
from ..circuit.devices.base import Floats
from ..circuit.devices.timer import HIGH, RESET_LEVEL
from ..circuit.measure import signal
from ..circuit.netlist import GROUND
from ..circuit.waves import Waves
from ..fields import Document
from .lanes import Lane, hidden

# What the latch does, by row: nothing, set by the trigger, reset by the threshold, held by its reset pin.
ROWS = (
    "Between the levels: it keeps its state.",
    "Trigger under the lower level: set, the output is high.",
    "Threshold over the upper level: reset, the output is low and pin 7 conducts.",
    "Reset pin low: held, the output is low and pin 7 conducts.",
)
KEEPS, SETS, RESETS, HELD = range(4)


class Inside(Document):
    """One timer: its upper level (the lower is half of it), its two inputs, its latch, and its row."""

    ref: str
    upper: Lane
    trigger: Lane
    threshold: Lane
    latch: Lane
    row: Lane
    rows: tuple[str, ...] = ROWS


def insides(waves: Waves) -> Iterator[Inside]:
    """Every timer of a circuit, along a trajectory."""

    def volts(node: str | None) -> Floats:
        return np.zeros_like(waves.time) if node is None or node == GROUND else signal(waves, node)

    for device in waves.netlist.devices:
        if not isinstance(device, Timer):
            continue
        ground = volts(device.gnd)
        supply = volts(device.vcc) - ground
        upper = device.threshold_share * supply if device.ctrl is None else volts(device.ctrl) - ground
        trigger, threshold = volts(device.trig) - ground, volts(device.thr) - ground
        reset = volts(device.reset) - ground
        row = np.select(
            [reset < RESET_LEVEL, trigger < upper / 2, threshold > upper], [HELD, SETS, RESETS], KEEPS
        ).astype(float)
        own = f"{device.name}."
        yield Inside(
            ref=device.name,
            upper=hidden(own + "upper", waves.time, upper),
            trigger=hidden(own + "trigger", waves.time, trigger),
            threshold=hidden(own + "threshold", waves.time, threshold),
            latch=hidden(own + "latch", waves.time, waves.state(device.name, HIGH), ""),
            row=hidden(own + "row", waves.time, row, ""),
        )
