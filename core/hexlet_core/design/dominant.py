"""dominant(study, proof): the part whose spread moves a check's number most towards its limit.

Each part's number goes to its extremes alone, in the cut-out at the check's own corner. What a person has
measured spreads no more than the meter reads, so measuring is what settles a doubt about a part.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from ..circuit import vary
from ..circuit.netlist import Netlist
from ..errors import HexletError
from ..fields import Document, quantity_of
from ..stages.say.checks import Verdict
from .proofs import Proof
from .study import Study

# What a person calls a device's number.
WORDS = {
    "beta": "on-resistance",
    "beta_f": "gain",
    "breakdown": "zener voltage",
    "i_s": "junction voltage",
    "offset": "offset",
    "running": "running current",
    "threshold_share": "thresholds",
    "transfer": "transfer ratio",
    "v_th": "threshold",
    "operate_travel": "operate time",
    "release_travel": "release time",
    "pull_in": "pull-in",
    "drop_out": "let-go current",
}
NOTHING = 1e-3  # of the limit: less is no spread worth a word


class Dominant(Document):
    """The part that a number hangs on most: `share` of what all spreads together move it.

    `path` is the field where its measured value would go, empty where there is none. `settles` says whether
    the other parts alone would leave the number on the right side of its limit.
    """

    part: str
    what: str
    share: float
    path: str
    settles: bool
    text: str


def dominant(here: Study, verdict: Verdict, proof: Proof) -> Dominant | None:
    """The part behind most of a number's spread; None where no part moves it towards its limit."""
    circuit = proof.circuit
    try:
        over = vary.factors(circuit)
    except HexletError:
        return None
    towards = -1.0 if verdict.sense == "at least" else 1.0
    moves: dict[tuple[str, str], float] = {}
    for factor in over:
        ends = [_read(proof, circuit, {factor.device: {factor.field: v}}) for v in (factor.low, factor.high)]
        found = [towards * (x - proof.found) for x in ends if not math.isnan(x)]
        moves[factor.device, factor.field] = max(found, default=0.0)
    total = sum(m for m in moves.values() if m > 0)
    if total < NOTHING * max(abs(verdict.limit), abs(proof.found)):
        return None
    (device, field), most = max(moves.items(), key=lambda pair: pair[1])
    block, local, own = owner(proof.cut, device)
    if block not in here.design.blocks:
        return None
    path = _path(here, block, own, field)
    beyond = towards * (proof.found + towards * total - verdict.limit) > 0
    settles = (
        bool(path) and beyond and towards * (proof.found + towards * (total - most) - verdict.limit) <= 0
    )
    part, what = here.flow.ref(block, local), WORDS.get(field, field.replace("_", " "))
    text = f"Mostly {part}'s {what}: {most / total:.0%} of what its parts' spread does here."
    if settles:
        text += " Measure it: the others alone stay inside."
    elif path:
        text += " Measuring it narrows this."
    return Dominant(part=part, what=what, share=most / total, path=path, settles=settles, text=text)


def _read(proof: Proof, circuit: Netlist, changes: Mapping[str, Mapping[str, float]]) -> float:
    try:
        return proof.reads(circuit.varied(changes))
    except HexletError:
        return math.nan


def owner(cut: Study, ref: str) -> tuple[str, str, str]:
    """The block, local name and field of the part with a reference in a cut-out."""
    for block in cut.flow.order:
        for part in cut.flow.parts(block):
            if cut.flow.ref(block, part.local) == ref:
                return block, part.local, part.field
    return "", "", ""


def _path(here: Study, block: str, own: str, field: str) -> str:
    """Where a part's measured number goes: the block's field of that name, or that of its value."""
    kind = type(here.design.blocks[block])
    for name in (field, own):
        if name in kind.model_fields and quantity_of(kind, name) is not None:
            return f"blocks.{block}.{name}"
    return ""
