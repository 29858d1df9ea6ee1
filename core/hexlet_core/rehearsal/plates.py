"""A timing capacitor's two plates along a rehearsal: why one goes below 0 V, and what brings it back."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..circuit.measure import signal
from ..circuit.waves import Waves
from ..design.study import Study, ready
from ..fields import Document
from ..stages.contract.stage import Plated
from .lanes import Lane, hidden

BELOW = 0.1  # under 0 V a plate is thrown [V]
FLOWS = 0.02  # of the largest current, from where one flows
STILL, THROWN, FILLS = range(3)


class Plates(Document):
    """One capacitor: what its plates are joined to, their volts to 0 V, the current through it from the first
    to the second, and its row.
    """

    ref: str
    first: str
    second: str
    first_volts: Lane
    second_volts: Lane
    current: Lane
    row: Lane
    rows: tuple[str, ...]


def plates(here: Study, waves: Waves) -> Iterator[Plates]:
    """Every capacitor that throws something, along a trajectory."""
    for stage, site in here.pairs:
        if not isinstance(stage, Plated):
            continue
        for thrown in ready(stage.plates, site):
            time = waves.time
            part, ref = site.part(thrown.capacitor), site.ref(thrown.capacitor)
            first, second = (signal(waves, site.net(part.legs[leg])) for leg in ("a", "b"))
            amps = signal(waves, f"i({ref}.a)")
            least = FLOWS * max(float(np.abs(amps).max()), 1e-12)
            row = np.select([second < -BELOW, amps > least], [THROWN, FILLS], STILL).astype(float)
            yield Plates(
                ref=ref,
                first=thrown.first,
                second=thrown.second,
                first_volts=hidden("first", time, first),
                second_volts=hidden("second", time, second),
                current=hidden("current", time, amps, "A"),
                row=hidden("row", time, row, ""),
                rows=(
                    f"Nothing flows: {ref} keeps the volts it has.",
                    f"{thrown.first} fell, {ref} kept its volts: so {thrown.second} is as far below 0 V. "
                    f"{thrown.back} brings it up.",
                    f"{ref} fills: {thrown.second} conducts, {thrown.first} rises through {thrown.fills}.",
                ),
            )
