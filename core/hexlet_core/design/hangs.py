"""What a time hangs on: each part's spread alone, the supply, the heat, and a meter laid to its capacitor.

The simulated circuit is asked each time, at its ordinary corner, for the first time that the design promises.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from ..circuit import vary
from ..circuit.devices import Resistor
from ..circuit.netlist import GROUND, Netlist
from ..errors import DocumentError, HexletError, Problem
from ..fields import Document
from ..stages.contract import Corner
from .dominant import WORDS, owner
from .proofs import Proof, proofs
from .study import Study

TIMES = ("not_long", "not_slow")  # the checks that promise a time or a pace
READ = ("cap", "gate", "base")  # the watched quantities that a meter would be laid to
SUPPLIES = 5  # over the supply's range
COLD = 0.0  # [°C]
LEAST = 1e-3  # of the time: a part that moves it less is not told
MOST = 8  # parts that are told


class Lever(Document):
    """One part's number: what the time is with it at either end, all others ordinary."""

    part: str
    what: str
    low: float
    high: float


class Point(Document):
    """What the time is at a supply [V] or a temperature [°C]."""

    at: float
    value: float


class Hangs(Document):
    """What a time or pace hangs on; `metered` is what it is with a meter at its capacitor, None where it
    runs no more then, or where nothing is to be read.
    """

    block: str
    title: str
    unit: str
    value: float
    levers: tuple[Lever, ...]
    rest: int  # parts that move it too little to be told
    supplies: tuple[Point, ...]
    warmth: tuple[Point, ...]
    metered: float | None
    meter: float  # its input resistance [Ω]


class HangsStep(Document):
    """How far the work is, and the answer at the end."""

    done: int
    of: int
    hangs: Hangs | None = None


def promised(here: Study) -> Proof | None:
    """The first time that a design promises and that its circuit shows."""
    for block in here.order:
        for proof in proofs(here, block):
            if proof.check.id in TIMES and math.isfinite(proof.found):
                return proof
    return None


def hangs(here: Study) -> Iterator[HangsStep]:
    """Every run in turn, then the answer. Closing the iterator ends the work.

    Raises:
        DocumentError: the design promises no time, or its circuit shows none.
    """
    proof = promised(here)
    if proof is None:
        raise DocumentError(Problem("blocks", "Nothing here keeps a time that the circuit shows."))
    over = vary.factors(proof.circuit)
    supply = here.design.supply
    volts = np.linspace(supply.low, supply.high, SUPPLIES) if supply.high > supply.low else [supply.typical]
    heats = (COLD, proof.corner.celsius, here.design.ambient.high)
    of = 2 * len(over) + len(volts) + len(heats) + 1
    done = 0
    levers: list[Lever] = []
    for factor in over:
        ends = [_varied(proof, {factor.device: {factor.field: v}}) for v in (factor.low, factor.high)]
        done += 2
        yield HangsStep(done=done, of=of)
        if all(map(math.isfinite, ends)) and max(abs(e / proof.found - 1) for e in ends) >= LEAST:
            block, local, _ = owner(proof.cut, factor.device)
            part = here.flow.ref(block, local) if block in here.design.blocks else factor.device
            what = WORDS.get(factor.field, factor.field.replace("_", " "))
            levers.append(Lever(part=part, what=what, low=min(ends), high=max(ends)))
    supplies, warmth = [], []
    for v in volts:
        supplies.append((float(v), _cornered(proof, replace(proof.corner, supply=float(v)))))
        done += 1
        yield HangsStep(done=done, of=of)
    for celsius in heats:
        warmth.append((celsius, _cornered(proof, replace(proof.corner, celsius=celsius))))
        done += 1
        yield HangsStep(done=done, of=of)
    levers.sort(key=lambda lever: lever.low - lever.high)
    metered = _metered(here, proof)
    answer = Hangs(
        block=proof.block,
        title=here.flow.stage(proof.block).title,
        unit=proof.check.unit,
        value=proof.found,
        levers=tuple(levers[:MOST]),
        rest=len(over) - len(levers[:MOST]),
        supplies=_points(supplies),
        warmth=_points(warmth),
        metered=metered if math.isfinite(metered) else None,
        meter=here.design.meter.resistance,
    )
    yield HangsStep(done=of, of=of, hangs=answer)


def _points(found: list[tuple[float, float]]) -> tuple[Point, ...]:
    return tuple(Point(at=at, value=value) for at, value in found if math.isfinite(value))


def _varied(proof: Proof, changes: dict[str, dict[str, float]]) -> float:
    try:
        return proof.reads(proof.circuit.varied(changes))
    except HexletError:
        return math.nan


def _cornered(proof: Proof, corner: Corner) -> float:
    try:
        return proof.reads(replace(proof, corner=corner).circuit)
    except HexletError:
        return math.nan


def _metered(here: Study, proof: Proof) -> float:
    """The time with the person's meter between the timing capacitor's end and 0 V."""
    watch = next((w for b, w in here.watches if b == proof.block and w.id in READ), None)
    if watch is None:
        return math.nan
    node = proof.cut.signal(proof.block, watch.signal)
    meter = Resistor(name="METER", a=node, b=GROUND, resistance=here.design.meter.resistance)
    try:
        return proof.reads(Netlist.of([*proof.circuit.devices, meter]))
    except HexletError:
        return math.nan
