"""What sets a time: a capacitor with its tolerance and leakage, charged or emptied through resistors and
junctions.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from ..contract.parts import Corner, Placed, capacitor
from ..contract.site import Site

LARGE = 1e-6  # from here on a capacitor is an electrolytic one [F]
LEAKS = 1e-2  # an electrolytic's worst leakage, as a share of its charge every second [1/s]
USUAL_LEAK = 0.1  # of that, what it mostly has
_PLACES, _WEIGHTS = np.polynomial.legendre.leggauss(12)


def tolerance_of(farads: float) -> float:
    """Of a capacitor of this size, relative."""
    return 0.2 if farads >= LARGE else 0.1


def leak_of(farads: float, share: float = USUAL_LEAK) -> float:
    """A capacitor's leakage as a resistance [Ω]: none of a film or ceramic one."""
    return 1 / (share * LEAKS * farads) if farads >= LARGE else math.inf


def symbol_of(farads: float) -> str:
    """The symbol of a capacitor of this size."""
    return "electrolytic" if farads >= LARGE else "capacitor"


def timing_capacitor(site: Site, local: str, title: str, field: str, a: str, b: str) -> Placed:
    """A capacitor that sets a time, with its usual leakage; `b` is its minus where it has one."""
    farads = float(getattr(site.stage, field))
    leak = leak_of(farads)
    numbers = {"capacitance": farads, "tolerance": tolerance_of(farads)}
    if math.isfinite(leak):
        numbers["leakage"] = leak

    def at(corner: Corner) -> Mapping[str, Any]:
        return numbers

    word = {"zero": "the 0 V rail"}.get(b, f"the {b.replace('_', ' ')} strip")
    polar = f"Its striped side is minus and goes to {word}." if farads >= LARGE else ""
    made = capacitor(site, local, title, field, a, b)
    return made.at(numbers=at, wiring=polar, rating=f"±{tolerance_of(farads):.0%}")


def takes(farads: float, begin: float, end: float, amps: Callable[[float], float]) -> float:
    """How long a capacitor takes from one voltage to another [s]: C·∫dv/i(v), by Gauss's rule.

    `amps` is what flows into it at a voltage [A], smooth between the two; no end where it gives out before.
    """
    middle, half = (begin + end) / 2, (end - begin) / 2
    flows = [amps(middle + half * float(x)) for x in _PLACES]
    edges = (amps(begin), amps(end), *flows)
    if any(i * half <= 0.0 for i in edges):
        return math.inf if half else 0.0
    return farads * half * sum(float(w) / i for w, i in zip(_WEIGHTS, flows, strict=True))
