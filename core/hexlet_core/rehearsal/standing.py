"""What stands on every net at one moment of a rehearsal."""

from __future__ import annotations

import numpy as np

from ..circuit.netlist import GROUND
from ..design.script import Script
from ..design.study import Study
from .rehearse import probed, waves_of


def standing(here: Study, script: Script, at: float) -> dict[str, float]:
    """Each net's volts at a moment [V], to 0 V."""
    waves = waves_of(here, script)
    found = {net: float(np.interp(at, waves.time, waves[net])) for net in probed(waves)}
    return {GROUND: 0.0, **found}
