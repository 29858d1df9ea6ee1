"""What every device has, and the small formulas that several share.

A device is one file: a frozen pydantic model (its form in a netlist, and how it packs into flat numbers) and
plain functions over flat arrays, which the engine compiles:

    load(ia, p, fa, sa, lim, x, J, C, F, Q) -> 1 if a junction voltage was limited, else 0
    next_time(ia, p, fa, sa, t) -> time of its next scheduled change, or inf          (optional)
    watch(ia, p, fa, sa, x) -> a value that is positive once its threshold is crossed (optional)
    fire(ia, p, fa, sa, x, t) -> change state                                         (optional)
    finish(ia, p, fa, sa, t) -> complete a change under way, for an operating point   (optional)
    moves(ia, p, fa, sa) -> whether its equations change with time just now           (optional)

A device whose behaviour is that of a few others overrides `parts` instead and has no equations.

`ia[p:]` is the device's record: code, then where its numbers (`fa`), state (`sa`) and limiter memory
(`lim`) begin, then its unknowns. Ground is the last row of each, and is ignored.
`load` adds currents leaving each node to `F` and charges to `Q`, and their slopes dF/dx to `J`, dQ/dx to `C`.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, ClassVar

import numpy as np
from pydantic import Field, StringConstraints, model_validator

from ...errors import EntryError
from ...fields import Document, Q, quantity_of, read_document

RECORD = 28  # integers a device takes in `ia`: 4 of header, 24 unknowns
HEAD = 4
BOLTZMANN_OVER_CHARGE = 8.617333e-5  # k/q [V/K]
ZERO_CELSIUS = 273.15
WAKES, FORGETS = 0.99, 0.97  # shares of its least supply at which a chip begins to remember, and forgets

# No brackets, comma or #: those make the names of currents, differences and voltages inside devices.
Node = Annotated[
    str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True, pattern=r"^[^#(),\x00-\x1f]+$")
]
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
    # Pairs whose voltage it keeps for a while, so that a run can begin with it.
    holds: ClassVar[tuple[tuple[str, str], ...]] = ()
    # The field that `tolerance` speaks of.
    main: ClassVar[str] = ""

    device: str  # which of the devices this is, in a netlist
    name: Name
    # How far single parameters may lie from what is given: field to (lowest, highest), in the field's unit.
    spread: Annotated[dict[str, tuple[float, float]], Field(max_length=12)] = {}
    lot: Annotated[str, StringConstraints(max_length=40)] = ""  # parts of one lot deviate together

    @model_validator(mode="after")
    def _spread_makes_sense(self) -> Device:
        for field, (low, high) in self.spread.items():
            if not isinstance(getattr(self, field, None), int | float):
                raise ValueError(
                    f"There is no number called {field} in this part to spread. Look at its fields."
                )
            if not low <= high:
                raise ValueError(
                    f"The spread of {field} runs from {low:g} to {high:g}: the lower number comes first, and "
                    "both are numbers."
                )
            for value in (low, high):
                try:
                    self.check_value(field, value)
                except EntryError as error:
                    raise ValueError(f"The spread of {field}: {error.problem.message}") from None
        return self

    @classmethod
    def check_value(cls, field: str, value: float, where: str = "") -> None:
        """Refuse a number outside a field's bounds.

        Raises:
            EntryError: it is outside; `where` names the field to the person who typed it.
        """
        for bounds in cls.model_fields[field].metadata:
            if isinstance(bounds, Q):
                bounds.check(value, value, where or field)

    def spreads(self) -> dict[str, tuple[float, float]]:
        """Every parameter that varies from part to part, with its extremes."""
        tolerance = getattr(self, "tolerance", None)
        value = getattr(self, self.main, None) if self.main else None
        given = (
            {self.main: (value * (1 - tolerance), value * (1 + tolerance))}
            if tolerance and value is not None
            else {}
        )
        return {**self.bounded(given), **self.spread}

    @classmethod
    def bounded(cls, spread: Mapping[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
        """A spread kept within its fields' bounds."""

        def kept(field: str, value: float) -> float:
            bounds = quantity_of(cls, field)
            return value if bounds is None else min(max(value, bounds.low), bounds.high)

        return {f: (kept(f, low), kept(f, high)) for f, (low, high) in spread.items()}

    def with_values(self, changes: Mapping[str, float]) -> Device:
        """The same device with some numbers changed; a path like "presses[1].hold" reaches into what it
        holds.
        """
        flat = {field: value for field, value in changes.items() if field.isidentifier()}
        found = self.model_copy(update=flat)
        if len(flat) == len(changes):
            return found
        data = found.model_dump()
        for path, value in changes.items():
            if path not in flat:
                put(data, path, value)
        return read_document(type(self), data)

    def parts(self) -> Sequence[Device]:
        """The devices it stands for: itself, or those of its equivalent circuit."""
        return (self,)

    def couples(self) -> list[tuple[int, ...]]:
        """Groups of its unknowns, by place in the record, that its equations join."""
        return [tuple(range(len(self.record_nodes()) + self.inner_nodes() + self.branches()))]

    def watched(self) -> list[int]:
        """Places of the unknowns that decide its events."""
        return []

    def start_charge(self) -> list[tuple[int, float]]:
        """Charge [C] it holds at an unknown (by place) when a run starts from rest."""
        return []

    def undecided(self) -> tuple[int, str] | None:
        """Where in its state it keeps when it woke without being told its state, or −1, and that in words."""
        return None

    def ratings(self) -> list[tuple[str, str, str, float]]:
        """Limits to keep: what, between which terminals, and the largest voltage either way [V]."""
        return []

    def nodes(self) -> dict[str, str]:
        """Terminal name to node, for those that are connected."""
        found = {t: getattr(self, t) for t in self.terminals}
        return {t: n for t, n in found.items() if n is not None}

    def stiff(self) -> bool:
        """Whether it fixes its voltage whatever the current."""
        return bool(self.fixes)

    def pairs(self) -> tuple[tuple[str, str], ...]:
        """`conducts`, with what depends on the values."""
        return self.conducts

    def record_nodes(self) -> list[str]:
        """Nodes in record order."""
        return list(self.nodes().values())

    def places(self) -> dict[str, int]:
        """Where each connected terminal stands in the record."""
        return {t: k for k, t in enumerate(self.nodes())}

    def inner_nodes(self) -> int:
        """How many unknown voltages the device adds inside itself."""
        return 0

    def branches(self) -> int:
        """How many unknown currents the device adds."""
        return 0

    def branch_names(self) -> list[str]:
        """What its branch unknowns are called in an answer."""
        return [f"i({self.name})", f"y({self.name})"][: self.branches()]

    def numbers(self) -> list[float]:
        """What goes into `fa`."""
        return []

    def state(self) -> list[float]:
        """Initial discrete state."""
        return []

    def junctions(self) -> list[float]:
        """Initial limiter memory."""
        return []


def steps_of(path: str) -> list[str | int]:
    """A path's steps.

    >>> steps_of("presses[1].hold")
    ['presses', 1, 'hold']
    """
    return [int(s) if s.isdigit() else s for s in re.findall(r"[^.\[\]]+", path)]


def look_up(data: Any, path: str) -> Any:
    """What stands at a path in plain data; None if nothing does."""
    for step in steps_of(path):
        try:
            data = data[step]
        except (KeyError, IndexError, TypeError):
            return None
    return data


def put(data: Any, path: str, value: float) -> None:
    """Put a number at a path in plain data, tuples included."""
    *way, last = steps_of(path)
    for step in way:
        if isinstance(data[step], tuple):
            data[step] = list(data[step])
        data = data[step]
    data[last] = value


def thermal_voltage(celsius: float) -> float:
    """kT/q [V] at a temperature [°C].

    >>> round(thermal_voltage(25.0), 5)
    0.02569
    """
    return BOLTZMANN_OVER_CHARGE * (celsius + ZERO_CELSIUS)


def soft_exp_slope(u: float) -> float:
    """exp(u), constant above 150: the derivative of an exponential continued as a straight line."""
    return math.exp(min(u, 150.0))


def beyond(u: float) -> float:
    """That exponential itself over its derivative, so that a wild iterate stays finite at the price of one
    exponential.
    """
    return 1.0 + max(u - 150.0, 0.0)


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


def limit_both(
    v: float, v_old: float, v_t: float, v_crit: float, v_z: float, v_b: float, z_crit: float
) -> float:
    """`limit_junction` forward, and its mirror image about a breakdown at −v_z."""
    if v < -0.5 * v_z:
        return -(limit_junction(-(v + v_z), -(v_old + v_z), v_b, z_crit) + v_z)
    return limit_junction(v, v_old, v_t, v_crit)


def limit_step(v: float, v_old: float, step: float) -> float:
    """A voltage moved no further than `step` in one iteration, where a curve flattens out."""
    return min(max(v, v_old - step), v_old + step)


def wakes_or_forgets(awake: bool, supply: float, least: float) -> float:
    """Positive when a supply wakes a chip with a memory, or makes it forget [V]."""
    return FORGETS * least - supply if awake else supply - WAKES * least


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
    soft_exp_slope,
    beyond,
    limit_junction,
    limit_both,
    limit_step,
    wakes_or_forgets,
    log1p_exp,
    logistic,
    stamp_conductance,
    flow,
    stamp_control,
)
