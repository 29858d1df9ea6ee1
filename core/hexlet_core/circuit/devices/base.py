"""What every device has, and the small formulas that several share.

A device is one file: a frozen pydantic model (its form in a netlist, and how it packs into flat
numbers) and plain functions over flat arrays, which the engine compiles:

    load(ia, p, fa, sa, lim, x, alpha, J, F, Q) -> 1 if a junction voltage was limited, else 0
    next_time(ia, p, fa, sa, t) -> time of its next scheduled change, or inf          (optional)
    watch(ia, p, fa, sa, x) -> a value that is positive once its threshold is crossed (optional)
    fire(ia, p, fa, sa, t)  -> change state                                           (optional)

`ia[p:]` is the device's record: code, then where its numbers (`fa`), state (`sa`) and limiter memory
(`lim`) begin, then its unknowns. Ground is the last row of `x`, `F`, `Q` and `J`, and is ignored.
`load` adds currents leaving each node to `F` and charges to `Q`, and d(F + alpha·Q)/dx to `J`.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar

import numpy as np
from pydantic import StringConstraints

from ...fields import Document

RECORD = 12  # integers a device takes in `ia`: 4 of header, 8 unknowns
HEAD = 4
BOLTZMANN_OVER_CHARGE = 8.617333e-5  # k/q [V/K]
ZERO_CELSIUS = 273.15

Node = Annotated[str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True)]
Name = Annotated[str, StringConstraints(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_.+\-]+$")]
Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]


class Device(Document):
    """Base of the netlist's devices.

    `code` picks the equations; `terminals` names the fields that hold nodes, in record order.
    """

    code: ClassVar[int]
    terminals: ClassVar[tuple[str, ...]]
    # Pairs of terminals between which direct current can pass, for the check on floating nodes.
    conducts: ClassVar[tuple[tuple[str, str], ...]] = ()
    # Pairs that fix a voltage, for the check on loops of sources.
    fixes: ClassVar[tuple[tuple[str, str], ...]] = ()

    device: str  # which of the devices this is, in a netlist
    name: Name

    def nodes(self) -> dict[str, str]:
        """Terminal name to node, for those that are connected."""
        found = {t: getattr(self, t) for t in self.terminals}
        return {t: n for t, n in found.items() if n is not None}

    def record_nodes(self) -> list[str]:
        """Nodes in record order."""
        return list(self.nodes().values())

    def inner_nodes(self) -> int:
        """How many unknown voltages the device adds inside itself."""
        return 0

    def branches(self) -> int:
        """How many unknown currents the device adds."""
        return 0

    def numbers(self) -> list[float]:
        """What goes into `fa`."""
        return []

    def state(self) -> list[float]:
        """Initial discrete state."""
        return []

    def junctions(self) -> list[float]:
        """Initial limiter memory."""
        return []


def thermal_voltage(celsius: float) -> float:
    """kT/q [V] at a temperature [°C].

    >>> round(thermal_voltage(25.0), 5)
    0.02569
    """
    return BOLTZMANN_OVER_CHARGE * (celsius + ZERO_CELSIUS)


def soft_exp(u: float) -> float:
    """exp(u), continued as a straight line above 60 so that a wild iterate stays finite."""
    if u > 60.0:
        return math.exp(60.0) * (u - 59.0)
    return math.exp(u)


def soft_exp_slope(u: float) -> float:
    """The derivative of `soft_exp`."""
    return math.exp(min(u, 60.0))


def critical_voltage(v_t: float, i_s: float) -> float:
    """Where a junction's curve bends fastest [V]; above it the limiter acts."""
    return v_t * math.log(v_t / (math.sqrt(2.0) * i_s))


def limit_junction(v: float, v_old: float, v_t: float, v_crit: float) -> float:
    """A junction voltage moved no further in one iteration than its exponential allows.

    Source: the usual logarithmic damping of Newton's step on an exponential.
    """
    if v > v_crit and abs(v - v_old) > 2.0 * v_t:
        if v_old > 0.0:
            ratio = 1.0 + (v - v_old) / v_t
            return v_old + v_t * math.log(ratio) if ratio > 0.0 else v_crit
        return v_t * math.log(v / v_t)
    return v


def log1p_exp(u: float) -> float:
    """ln(1 + exp(u)) without overflow."""
    if u > 35.0:
        return u
    if u < -35.0:
        return math.exp(u)
    return math.log1p(math.exp(u))


def logistic(u: float) -> float:
    """1/(1 + exp(-u)) without overflow; the derivative of `log1p_exp`."""
    if u > 35.0:
        return 1.0
    if u < -35.0:
        return math.exp(u)
    return 1.0 / (1.0 + math.exp(-u))


def stamp_conductance(J: Floats, a: int, b: int, g: float) -> None:
    """A conductance between two unknowns, added to the matrix."""
    J[a, a] += g
    J[b, b] += g
    J[a, b] -= g
    J[b, a] -= g


def flow(F: Floats, a: int, b: int, i: float) -> None:
    """A current (or charge) from `a` through the device to `b`, added to the balance."""
    F[a] += i
    F[b] -= i


def stamp_control(J: Floats, a: int, b: int, c: int, d: int, g: float) -> None:
    """A current a→b of g·(v_c − v_d), added to the matrix."""
    J[a, c] += g
    J[a, d] -= g
    J[b, c] -= g
    J[b, d] += g


HELPERS = (
    soft_exp, soft_exp_slope, limit_junction, log1p_exp, logistic,
    stamp_conductance, flow, stamp_control,
)  # fmt: skip
